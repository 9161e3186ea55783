"""A hatch built: lid, runners, hardware, cover, and what it gives."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from shapely.geometry import Point as ShapelyPoint
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built, Handle, Marked, Shape
from stirrup.core.contract.kind import (
    Site,
)
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.cover import covered, wrapped_m
from stirrup.core.fittings.in_deck import flange_m, leg_m, placing_findings, wall_m
from stirrup.core.fittings.latching import latch_catch, latch_offset_m, latch_place
from stirrup.core.fittings.lid_support import Supported, lid_about, supported
from stirrup.core.fittings.runners import Rectangle, runner_findings, runner_panels
from stirrup.core.kinds.hatch.choices import (
    SKIN_HOLD_M,
    Carrier,
    Hatch,
    Side,
    carrier,
    clear_between,
    cutout_of,
    gap_m,
    hole_of,
    landing_m,
    lid_of,
    lid_stock,
    opening,
    over_m,
    past_edge,
)
from stirrup.core.kinds.hatch.details import Lies, edges_shown
from stirrup.core.kinds.hatch.drains import drained
from stirrup.core.kinds.hatch.hardware import (
    TOWARDS,
    grip_finding,
    hardware,
    hinge_line,
    landing_is,
)
from stirrup.core.kinds.hatch.hinges import corner_findings, hinge_held
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Latch
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings
from stirrup.core.space.room import Room, lid_sweep
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"LANDING": "width of the landing", "LID-FLUSH": "whether the lid lies flush",
                   "HATCH-CLEAR": "what the members leave of an opening"})  # fmt: skip

TAKES_M = 0.001  # less than this of an opening is not worth a word
STUD_M = 0.01  # of a ball stud from the edges of the leg that it is screwed to; starting value
FLUSH_M = 1e-4  # thicknesses that differ less are the same
LID_WRAP_M = 0.03  # a wrapped cover is turned under a lid's edge by this much; starting value

_OPPOSITE: dict[Side, Side] = {
    "aft": "fore",
    "fore": "aft",
    "port": "starboard",
    "starboard": "port",
}


@lru_cache(maxsize=512)
def _drilled(lid: Polygon, x: float, y: float, radius: float) -> Polygon:
    return lid.difference(ShapelyPoint(x, y).buffer(radius, quad_segs=16))


def _landing(c: Hatch, host: object, catalogue: Catalogue) -> list[Finding]:
    """Whether the members are wide enough for the landing that was chosen."""
    built, flange = landing_m(c, host, catalogue), flange_m(catalogue, host)
    if built >= c.landing - 1e-9 or c.lies == "on the deck":
        return []
    return [
        Finding(
            "LANDING", "mend", c.id, "The landing is wider than the members allow",
            "{asked} was chosen; of the members' {flange} {hold} hold the skin beside the opening, so "
            "{built} is left.",
            {"asked": Quantity(c.landing, "m", True), "flange": Quantity(flange, "m", True),
             "hold": Quantity(SKIN_HOLD_M, "m", True), "built": Quantity(built, "m", True)},
            "Take wider members, or a narrower landing.",
            fixes=(Fix("Make the landing {built}", path=("fittings", c.id, "landing"), value=built),),
        )
    ]  # fmt: skip


def build(c: Hatch, site: Site) -> Built:
    """Lid, hinge, latch, gasket, gutter and their checks.

    A flush lid is the cut-out less the gap on each side. Raises CoreError without a deck to sit in.
    Source: docs/trade-rules.md, “Hatches”.
    """
    host = site.host_choices
    if site.host is None or host is None:
        raise CoreError(f"the deck “{c.deck}” is not in the plan", f"fittings.{c.id}.deck")
    between = clear_between(c, site.host, host, site.catalogue)
    deck = replace(carrier(host), leg=leg_m(site.catalogue, host),
                   landing=landing_m(c, host, site.catalogue))  # fmt: skip
    made = _made(c, deck, site.host.top_m, site.catalogue, between)
    # the same lid as before keeps what was found out about it; only its place is looked at anew
    placed = [*placing_findings(opening(c, host, site.catalogue), site), *_landing(c, host, site.catalogue),
              *_smaller(c, between), *_catch(c, host, site.catalogue)]  # fmt: skip
    bought, led = drained(c, site, site.host.top_m)
    return replace(made, bought=(*made.bought, *bought), findings=(*placed, *made.findings, *led))


def _catch(c: Hatch, host: object, catalogue: Catalogue) -> list[Finding]:
    """What its latch catches on: the flange of the members, with the deck's skin where the lid lies on
    that; a gutter has a bracket of its own."""
    if c.lies == "flush, over a gutter":
        return []
    skin = catalogue.sheet(carrier(host).skin).thickness if c.lies == "on the deck" else 0.0
    return [latch_catch(c.id, wall_m(catalogue, host) + skin, catalogue.latch(c.latch))]


@lru_cache(maxsize=512)
def _made(c: Hatch, deck: Carrier, top: float, catalogue: Catalogue, between: Rectangle) -> Built:
    """The hatch as made, wherever the edges of its deck lie; top: of the deck; between: what its
    members leave of the clear opening [m]."""
    stock_id = lid_stock(c, deck)
    stock, skin = catalogue.sheet(stock_id), catalogue.sheet(deck.skin)
    gap = gap_m(c, deck, catalogue)
    over = over_m(c, gap)
    length, width = c.clear_length + 2 * over, c.clear_width + 2 * over
    lid = lid_of(c, gap)
    latch = catalogue.latch(c.latch)
    dx, dy = TOWARDS[_OPPOSITE[c.hinge]]
    landing = over + gap + past_edge(c, between, _OPPOSITE[c.hinge])
    offset = latch_offset_m(landing, gap, latch)
    lx, ly = c.x + dx * (length / 2 - offset), c.y + dy * (width / 2 - offset)
    blank = _drilled(lid, lx, ly, latch.body / 2)
    outline, holes = panel_rings(blank)
    deck_top = top
    middle, top = _heights(c, top, skin.thickness, stock.thickness)
    metal = stock.stuff.kind == "metal"
    panel = Panel(f"{c.id}/lid", f"{c.code}-L", f"{c.name}, lid", c.id, stock, outline, holes,
                  Frame((0.0, 0.0, middle)), (0, 90, 180, 270) if metal else (0, 180))  # fmt: skip
    runners = runner_panels(catalogue, c, between, (lx, ly), latch, top=middle - stock.thickness / 2)
    findings = [
        grip_finding(c, catalogue, deck.cover, stock.thickness, latch),
        latch_place(c.id, "lid", (landing, landing_is(c, landing)), gap, latch, offset),
        *_flush(c, skin.thickness, stock.thickness),
    ]
    bought = hardware(c, catalogue, lid, length, width, (lx, ly, top), top, stock, latch)
    findings += [*hinge_held(c, catalogue, stock), *corner_findings(c, gap)]
    bought += _cover(c, deck.cover, panel, lid, top, catalogue)
    lift = _support(c, deck, (panel, *runners), bought, (length, width), top, catalogue)
    at = Handle("x", "x", ((c.x, c.y - width / 2, top), (c.x, c.y + width / 2, top)), "hatch")
    findings += runner_findings(catalogue, c)
    x0, y0, x1, y1 = cutout_of(c).bounds
    return Built(
        c.id, (panel, *runners), (), (*bought, *lift.bought),
        _shapes(c, panel, top, (length, width)), (at,),
        (*findings, *lift.findings), top, lid,
        solids=(_solid(c, lid, panel, runners),),
        rooms=(Room(c.id, "lid swings", lid_sweep(lid, c.hinge, top), name=plain_text(c.name),
                    lids=False, hosts=(c.deck,)),),
        holes=(hole_of(between, c.deck),),
        marked=(Marked(deck_top, corners=((x0, y0), (x1, y0), (x1, y1), (x0, y1)), what=", cut-out"),),
        charts=lift.charts,
        details=edges_shown(c, Lies(deck_top, gap, deck.landing), _OPPOSITE[c.hinge], (lx, ly)),
    )  # fmt: skip


def _shapes(c: Hatch, lid: Panel, top: float, size: tuple[float, float]) -> tuple[Shape, ...]:
    """How it is drawn from above: lid, latch, hinge."""
    return (
        Shape("lid", tuple((x, y, top) for x, y in lid.outline), lid.sheet.stuff.kind),
        Shape("latch", tuple((x, y, top) for h in lid.holes for x, y in h)),
        Shape("hinge", hinge_line(c, *size, top), closed=False),
    )


def _heights(c: Hatch, deck: float, skin: float, lid: float) -> tuple[float, float]:
    """Middle of the lid's thickness, and its face [m], of a deck at a height.

    One on the deck lies on it. A flush one lies on the members' flanges: a thicker one stands proud, a
    thinner one is packed to be flush.
    """
    if c.lies == "on the deck":
        return deck + lid / 2, deck + lid
    return max(deck, deck - skin + lid) - lid / 2, deck


def _cover(
    c: Hatch, cover: str, panel: Panel, lid: Polygon, top: float, catalogue: Catalogue
) -> tuple[Bought, ...]:
    """The deck's cover on the lid: one that wraps goes down its edge and a little way under it."""
    if cover == "none":
        return ()
    wraps = wrapped_m(catalogue, cover, c.edges) > 0
    turned = lid.length * (panel.sheet.thickness + LID_WRAP_M) if wraps else 0.0
    return tuple(covered(c, catalogue, cover, panel.polygon.area + turned, (c.x, c.y, top)))


def _support(
    c: Hatch, deck: Carrier, panels: Sequence[Panel], bought: Sequence[Bought],
    size: tuple[float, float], top: float, catalogue: Catalogue,
) -> Supported:  # fmt: skip
    """What holds the lid open: studs under it and on the legs of the members beside it."""
    dx, dy = TOWARDS[c.hinge]
    hinge = (c.x + dx * size[0] / 2, c.y + dy * size[1] / 2, top)
    # what turns with the lid: not the hinge, nor its gasket
    on_it = [p for p in bought if isinstance(p.entry, Latch) or p.group == "cover"]
    # from the hinge down to the members: a lid on the deck has its own thickness in between
    over = panels[0].sheet.thickness if c.lies == "on the deck" else 0.0
    skin = catalogue.sheet(deck.skin).thickness + over
    studs = (skin + STUD_M, max(skin + deck.leg - STUD_M, skin + STUD_M))
    lid = lid_about([*panels, *on_it], hinge, (-dx, -dy), size[0] if dx else size[1],
                    panels[0].sheet.thickness, studs, c.opens)  # fmt: skip
    return supported(c, c.support, lid, (c.x, c.y, top), catalogue)


def _smaller(c: Hatch, between: Rectangle) -> list[Finding]:
    """What a member that is shared with a neighbour takes of the opening."""
    x0, y0, x1, y1 = between
    length, width = x1 - x0, y1 - y0
    if length > c.clear_length - TAKES_M and width > c.clear_width - TAKES_M:
        return []
    return [
        Finding(
            "HATCH-CLEAR", "look", c.id, "The opening is smaller than asked",
            "A member that is shared with the hatch beside it, or the deck's last, stands in it: {length} "
            "by {width} are left of {along} by {across}. Runners and latch keep clear of it.",
            {"length": Quantity(length, "m", True), "width": Quantity(width, "m", True),
             "along": Quantity(c.clear_length, "m", True), "across": Quantity(c.clear_width, "m", True)},
            "Bring the edges of neighbours into line, or move them apart by a member's width.",
        )
    ]  # fmt: skip


def _flush(c: Hatch, skin: float, lid: float) -> list[Finding]:
    """How a lid comes flush that is thinner than its deck, or thicker; how far one on the deck stands
    over it [m]."""
    step = skin - lid
    if c.lies == "on the deck":
        how = "It stands {step} over the deck all round, where a toe finds it: round its edge."
        return [Finding("LID-FLUSH", "look", c.id, "Lid stands over the deck", how,
                        {"step": Quantity(lid, "m", True)})]  # fmt: skip
    if abs(step) <= FLUSH_M:
        return []
    how = (
        "Pack the landing by {step} so that it lies flush."
        if step > 0
        else "It stands {step} proud: let the landing down by that much."
    )
    values = {"step": Quantity(abs(step), "m", True)}
    return [Finding("LID-FLUSH", "look", c.id, "Lid is not as thick as the deck", how, values)]


def _solid(c: Hatch, lid: Polygon, panel: Panel, runners: Sequence[Panel]) -> Solid:
    """The lid as thick as it is, and its runner's strips under it."""
    layers = [(lid, panel, panel.sheet.thickness / 2)]
    layers += [(strip.polygon, strip, c.runner / 2) for strip in runners]
    pieces = tuple(
        Prism(flat, p.frame.origin[2] - half, p.frame.origin[2] + half) for flat, p, half in layers
    )
    around = Prism(lid, min(p.low for p in pieces), max(p.high for p in pieces))
    return Solid(c.id, "lid", plain_text(c.name), around, pieces=pieces)
