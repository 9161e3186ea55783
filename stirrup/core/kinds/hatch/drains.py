"""The gutter of a dry hatch: a track inside of the landing, and where its water goes."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding, Quantity, declare
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.kinds.hatch.choices import Hatch
from stirrup.core.parts.model import Bought

declare("layout", {"GUTTER": "where a gutter's water goes"})

TRACK, CATCH = "drain-gutter", "bracket-40"
FITTING, HOSE, CLAMP = "drain-25", "hose-19", "clamp-ss"
DEEP_M = 0.03  # of the track under the deck's top: starting value
FREE_M = 0.05  # between the hose's end and the bottom, so that it drips and does not siphon: working value
LEAST_FALL_M = 0.05  # a shorter hose has hardly any fall
CLAMPS = 2  # on each hose


def drained(c: Hatch, site: Site, top: float) -> tuple[list[Bought], list[Finding]]:
    """Track, drains at both aft corners and their hoses, with where they lead; nothing for a hatch that
    has no gutter. top: of the deck [m]. Source: docs/trade-rules.md, “Hatches”."""
    if c.lies != "flush, over a gutter":
        return [], []
    along, across = c.clear_length + 2 * c.gutter, c.clear_width + 2 * c.gutter
    low = top - DEEP_M
    corners = [(c.x - along / 2, c.y + side * across / 2) for side in (1, -1)]
    bottoms = [bottom_m(site.surface, x, y) for x, y in corners]
    falls = [max(low - b - FREE_M, 0.0) for b in bottoms if b is not None]
    sides = (("aft", across), ("fore", across), ("port", along), ("starboard", along))
    return [*_track(c, site, sides, top), *_led(c, site, corners, low, falls)], [_where(c, falls)]


def _track(c: Hatch, site: Site, sides: Iterable[tuple[str, float]], top: float) -> list[Bought]:
    """The track all round, mitred at its corners, and the bracket that bridges it for the catch."""
    track, catch = site.catalogue.plain(TRACK), site.catalogue.plain(CATCH)
    at = (c.x, c.y, top - DEEP_M / 2)
    out = [
        Bought(f"{c.id}/gutter/{side}", f"{c.code}-G{side[0].upper()}", f"{c.name}, gutter {side}", c.id,
               track, long, long * track.mass, at)
        for side, long in sides
    ]  # fmt: skip
    name = f"{c.name}, bracket for the catch"
    return [*out, Bought(f"{c.id}/catch", f"{c.code}-B", name, c.id, catch, 1, catch.mass, at)]


def _led(
    c: Hatch, site: Site, corners: list[tuple[float, float]], low: float, falls: list[float]
) -> list[Bought]:
    """Fittings in the corners, hoses and their clamps."""
    fitting, hose, clamp = (site.catalogue.plain(i) for i in (FITTING, HOSE, CLAMP))
    x, y = corners[0][0], sum(p[1] for p in corners) / 2
    drop = sum(falls)
    rows = [("drain", "W", "drains", fitting, float(len(corners)), low)]
    if falls:
        rows += [("hose", "O", "hoses", hose, drop, low - max(falls) / 2),
                 ("clamps", "C", "hose clamps", clamp, float(CLAMPS * len(falls)), low)]  # fmt: skip
    return [
        Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {name}", c.id, entry, count,
               count * entry.mass, (x, y, z))
        for key, code, name, entry, count, z in rows
        if count > 0
    ]  # fmt: skip


def _where(c: Hatch, falls: list[float]) -> Finding:
    """Whether the water finds its way."""
    if len(falls) < 2 or min(falls) < LEAST_FALL_M:
        remedy = "Move it inward, raise the deck, or lead the hoses overboard by fittings in the side."
        return Finding("GUTTER", "mend", c.id, "The gutter's water has nowhere to go",
                       "There is no fall from its aft corners to the bilge.", remedy=remedy)  # fmt: skip
    text = (
        "Drains in both aft corners, where water goes in a boat that lies level or by the stern, each with "
        "a hose that falls {fall} and ends {free} over the bottom. Lead them where nothing kinks them. A "
        "bracket bridges the gutter for the catch."
    )
    values = {"fall": Quantity(min(falls), "m"), "free": Quantity(FREE_M, "m")}
    return Finding("GUTTER", "fine", c.id, "The gutter drains to the bilge", text, values)
