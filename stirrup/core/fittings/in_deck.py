"""Where a cut-out lies in its deck: on it, with room for the members beside it, clear of others."""

from __future__ import annotations

import shapely
from shapely.affinity import translate
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Opening
from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding, Fix, Quantity, declare
from stirrup.core.parts.catalogue import Catalogue

declare(
    "layout", {"HATCH-EDGE": "deck left beside a cut-out", "HATCH-NEAR": "deck left between two cut-outs"}
)


def flange_m(catalogue: Catalogue, host: object) -> float:
    """Width of the flange of a host's members [m]. Raises CoreError."""
    return catalogue.section(str(getattr(host, "members", "angle-40x40x3"))).b


def leg_m(catalogue: Catalogue, host: object) -> float:
    """How far a host's members hang under its skin [m]. Raises CoreError."""
    return catalogue.section(str(getattr(host, "members", "angle-40x40x3"))).a


def wall_m(catalogue: Catalogue, host: object) -> float:
    """How thick the flange of a host's members is [m]. Raises CoreError."""
    return catalogue.section(str(getattr(host, "members", "angle-40x40x3"))).t


def _way_onto(cutout: Polygon, deck: Polygon, leg_m: float) -> tuple[float, float] | None:
    """Least move (x, y) [m] along the axes that brings a cut-out onto the deck with a leg's
    breadth beside it: first within the deck's extent, then towards the centreline; None if none."""
    room = deck.buffer(-leg_m, join_style="mitre")
    if room.is_empty:
        return None
    (x0, y0, x1, y1), (a0, b0, a1, b1) = cutout.bounds, room.bounds

    def back(low: float, high: float, least: float, most: float) -> float:
        return max(least - low, 0.0) - max(high - most, 0.0)

    along = back(x0, x1, a0, a1)
    middle = -(y0 + y1) / 2
    for inward in (along, along - 0.1, along + 0.1, along - 0.2, along + 0.2):
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            across = back(y0, y1, b0, b1) * (1 - share) + middle * share
            if room.covers(translate(cutout, inward, across)):
                return (round(inward, 4), round(across, 4))
    return None


def _lid_past_edge(opening: Opening, lid: Polygon, deck: Polygon) -> list[Finding]:
    """Whether what lies on the deck round an opening reaches past the deck's edge."""
    if lid.difference(deck).area <= 1e-6:
        return []
    corners = shapely.points(shapely.get_coordinates(lid.exterior))
    over = float(shapely.distance(deck, corners).max())
    way = _way_onto(lid, deck, 0.0)
    fixes = (Fix("Move its lid onto the deck", thing=opening.guest, by=(*way, 0.0)),) if way else ()
    return [
        Finding("HATCH-EDGE", "mend", opening.guest, "Its lid hangs past the deck's edge",
                "It reaches {over} past the edge: it catches there, or meets the side.",
                {"over": Quantity(over, "m")}, "Move it inward, or let it lap less.", fixes=fixes)
    ]  # fmt: skip


def _near(opening: Opening, other: Opening, leg: float) -> list[Finding]:
    """Whether two openings keep clear of one another; leg: breadth of the members between them [m]."""
    space = opening.cutout.distance(other.cutout)
    shared = opening.taken.intersection(other.taken)
    if space > 0 and not shared.is_empty:
        # the way out is the least of the two along which they overlap
        x0, y0, x1, y1 = shared.bounds
        return [
            Finding("HATCH-NEAR", "stop", opening.guest, "Its lid lies over another hatch",
                    "They overlap by {by} on the deck: neither opens.",
                    {"by": Quantity(min(x1 - x0, y1 - y0), "m")},
                    "Move one of them, or let its lid lie flush.")
        ]  # fmt: skip
    if space >= 2 * leg:
        return []
    return [
        Finding("HATCH-NEAR", "stop" if space <= 0 else "mend", opening.guest,
                "Two hatches overlap" if space <= 0 else "Two hatches are close",
                "{space} of deck is left between them; two members need {need}.",
                {"space": Quantity(space, "m"), "need": Quantity(2 * leg, "m")},
                "Move one of them.")
    ]  # fmt: skip


def placing_findings(opening: Opening, site: Site) -> list[Finding]:
    """Whether a cut-out lies in its deck with enough of it left round, and clear of other ones."""
    host, guest, cutout = site.host, opening.guest, opening.cutout
    if host is None or host.region.is_empty:
        return []  # the deck itself says why there is none
    leg = flange_m(site.catalogue, site.host_choices)
    beyond = cutout.difference(host.region).area
    if beyond > 1e-6:
        corners = shapely.points(shapely.get_coordinates(cutout.exterior))
        over = float(shapely.distance(host.region, corners).max())
        outside = not cutout.intersects(host.region)
        title = "Lies beside its deck" if outside else "Cut-out runs off the deck"
        way = _way_onto(cutout, host.region, leg)
        fixes = (Fix("Move it onto the deck", thing=guest, by=(*way, 0.0)),) if way else ()
        return [
            Finding("HATCH-EDGE", "stop", guest, title, "It reaches {over} past the deck's edge.",
                    {"over": Quantity(over, "m")}, "Move it inward or make it smaller.", fixes=fixes)
        ]  # fmt: skip
    left = cutout.distance(host.region.exterior)
    out = [
        Finding("HATCH-EDGE", "mend" if left < leg else "fine", guest,
                "Too little deck beside the cut-out" if left < leg else "Enough deck beside it",
                "{left} of deck is left at the narrowest place; the member under it needs {leg}.",
                {"left": Quantity(left, "m"), "leg": Quantity(leg, "m")},
                "Move it inward or make it smaller." if left < leg else "")
    ]  # fmt: skip
    if opening.over is not None:
        out += _lid_past_edge(opening, opening.over, host.region)
    return [*out, *(f for other in site.beside if other.guest != guest for f in _near(opening, other, leg))]
