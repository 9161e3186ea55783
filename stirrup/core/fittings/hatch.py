"""Drop-in hatch: a flush lid on landings, with hinge, latch and gasket, set in a deck."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from pydantic import Field
from shapely.geometry import Point as ShapelyPoint
from shapely.geometry import Polygon, box

from stirrup.core.document import Id, Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Input, Mend, Quantity, Working
from stirrup.core.fittings.contract import (
    Built,
    FittingBase,
    FittingKind,
    Handle,
    Opening,
    Shape,
    Site,
)
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.in_deck import placing_findings
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.runners import RUNNER_CUT_M, runner_findings, runner_panels
from stirrup.core.parts.catalogue import (
    CATALOGUE,
    MATERIALS,
    Latch,
    count_at_pitch,
    fastener_for,
    find,
    plain,
    sheet,
    stick,
)
from stirrup.core.parts.model import Bought, Frame, Panel, panel_rings

Side = Literal["aft", "fore", "port", "starboard"]

SKIN_HOLD_M = 0.012  # of a flange that the skin beside an opening is fastened to; starting value
FREE_PLAY_M = {"metal": 0.0015, "plastic": 0.0015, "wood": 0.0025}
WRENCH_ROOM_M = 0.011  # between a latch body and the frame: 10 to 12 mm
COVER_CRUSHED = 0.4  # what carpet keeps of its thickness under a flange
HINGE_SHORTER_M = 0.02
LID_WRAP_M = 0.03  # a wrapped cover is turned under a lid's edge by this much; starting value
SCREWS_IN_LATCH = 4


class Hatch(FittingBase):
    """Choices for a drop-in hatch; `deck` is the raised deck that carries it."""

    kind: Literal["hatch"] = "hatch"
    deck: Id = Field(title="In deck")
    x: float = Field(ge=-2, le=40, title="Middle, from transom", description="[m]")
    y: float = Field(0.0, ge=-5, le=5, title="Middle, to port", description="[m]")
    clear_length: float = Field(ge=0.1, le=2, title="Clear opening, along", description="[m]")
    clear_width: float = Field(ge=0.1, le=2, title="Clear opening, across", description="[m]")
    corner: float = Field(0.03, ge=0, le=0.3, title="Corner radius", description="[m]")
    landing: float = Field(0.025, ge=0.008, le=0.1, title="Landing", description="[m] each side")
    lid: Literal["as the deck", "al-3.2", "al-2.5", "ply-12", "pvc-12"] = Field("as the deck", title="Lid")
    runner: float = Field(
        0.0, ge=0, le=0.05, title="Runner under the lid", description="[m] thick at the latch"
    )
    runner_cut_back: bool = Field(False, title="Runner cut back round the latch")
    hinge: Side = Field("fore", title="Hinge side")
    latch: Literal["latch-50", "latch-57", "latch-65"] = Field("latch-50", title="Latch")

    @property
    def idle(self) -> frozenset[str]:
        """How a runner is cut that is not there."""
        return frozenset() if self.runner else frozenset(["runner_cut_back"])


@dataclass(frozen=True)
class Carrier:
    """What a hatch itself depends on of the deck that carries it; its edges are not among it."""

    skin: str
    cover: str


def _carrier(host: object) -> Carrier:
    return Carrier(str(getattr(host, "skin", "al-2.5")), str(getattr(host, "cover", "none")))


def _lid_stock(c: Hatch, deck: Carrier) -> str:
    return deck.skin if c.lid == "as the deck" else c.lid


def gap_m(c: Hatch, host: object) -> float:
    """Edge gap: free play of the material plus a cover that wraps the lid's edge [m].

    Source: handbook of the trade, chapter 6.
    """
    deck = _carrier(host)
    play = FREE_PLAY_M[MATERIALS[sheet(_lid_stock(c, deck)).material].kind]
    wrap = plain(deck.cover) if deck.cover != "none" else None
    return play + (wrap.thickness if wrap and wrap.wraps else 0.0)


@lru_cache(maxsize=512)
def _rounded(x: float, y: float, length: float, width: float, radius: float) -> Polygon:
    radius = min(radius, length / 2 - 1e-4, width / 2 - 1e-4)
    core = box(x - length / 2, y - width / 2, x + length / 2, y + width / 2)
    if radius <= 1e-4:
        return core
    return core.buffer(-radius, join_style="mitre").buffer(radius, quad_segs=8)


@lru_cache(maxsize=512)
def _drilled(lid: Polygon, x: float, y: float, radius: float) -> Polygon:
    return lid.difference(ShapelyPoint(x, y).buffer(radius, quad_segs=16))


def _cutout(c: Hatch) -> Polygon:
    length, width = c.clear_length + 2 * c.landing, c.clear_width + 2 * c.landing
    return _rounded(c.x, c.y, length, width, c.corner + c.landing)


def landing_m(c: Hatch, host: object) -> float:
    """The landing that gets built: as chosen, as long as the flange still holds the skin beside it [m]."""
    return min(c.landing, _flange_m(host) - SKIN_HOLD_M)


def _flange_m(host: object) -> float:
    return stick(str(getattr(host, "members", "angle-40x40x3"))).b


def opening(c: Hatch, host: object) -> Opening:
    """Cut-out = clear opening + a landing on each side. The members' flanges reach as far into it
    as the landing is wide, the rest holds the skin: so their middles stand a little beside its edge."""
    cutout = _cutout(c)
    inward = landing_m(c, host) - _flange_m(host) / 2
    x0, y0, x1, y1 = cutout.bounds
    return Opening(c.id, c.code, cutout, (x0 + inward, y0 + inward, x1 - inward, y1 - inward))


def _landing(c: Hatch, host: object) -> list[Finding]:
    """Whether the members are wide enough for the landing that was chosen."""
    built, flange = landing_m(c, host), _flange_m(host)
    if built >= c.landing - 1e-9:
        return []
    return [
        Finding(
            "LANDING", "mend", c.id, "The landing is wider than the members allow",
            "{asked} was chosen; of the members' {flange} {hold} hold the skin beside the opening, so "
            "{built} is left.",
            {"asked": Quantity(c.landing, "m", True), "flange": Quantity(flange, "m", True),
             "hold": Quantity(SKIN_HOLD_M, "m", True), "built": Quantity(built, "m", True)},
            "Take wider members, or a narrower landing.",
            mends=(Mend("Make the landing {built}", path=("fittings", c.id, "landing"), value=built),),
        )
    ]  # fmt: skip


def latch_offset_m(landing: float, gap: float, latch: Latch) -> float:
    """Centre of the latch body from the lid's edge [m].

    Landing covered by the lid + half the body below it + room for the wrench.
    Source: handbook of the trade, chapter 6.
    """
    return (landing - gap) + latch.underside / 2 + WRENCH_ROOM_M


_TOWARDS: dict[Side, tuple[int, int]] = {
    "aft": (-1, 0),
    "fore": (1, 0),
    "port": (0, 1),
    "starboard": (0, -1),
}
_OPPOSITE: dict[Side, Side] = {
    "aft": "fore",
    "fore": "aft",
    "port": "starboard",
    "starboard": "port",
}


def _grip(c: Hatch, cover: str, lid_m: float, latch: Latch) -> Finding:
    layers = [("lid", lid_m)]
    if c.runner and not c.runner_cut_back:
        layers.append(("runner", c.runner))
    if cover != "none":
        layers.append(("cover under the flange", plain(cover).thickness * COVER_CRUSHED))
    grip = sum(t for _, t in layers)
    bare = grip - (c.runner if not c.runner_cut_back else 0.0)
    working = Working(
        "grip = lid + runner + cover x 0.4",
        tuple(Input(name, Quantity(t, "m", True), "stock") for name, t in layers),
        Quantity(grip, "m", True),
        "grip range: starting value, the maker's data sheet decides",
    )
    values = {
        "grip": Quantity(grip, "m", True),
        "low": Quantity(latch.grip_min, "m", True),
        "high": Quantity(latch.grip_max, "m", True),
        "cut": Quantity(latch.underside / 2 + RUNNER_CUT_M, "m"),
        "pad": Quantity(max(latch.grip_min - grip, 0.0), "m", True),
    }
    text = "Lid and what is under it make {grip}; the body takes {low} to {high}."
    if latch.grip_min - 1e-9 <= grip <= latch.grip_max + 1e-9:
        return Finding("LATCH-GRIP", "fine", c.id, "Latch grips", text, values, working=working)
    mends = []
    if grip < latch.grip_min:
        remedy = "Put a pad of {pad} under the lid, or take a thinner body."
    else:
        remedy = "Take a longer body."
        if c.runner and not c.runner_cut_back and bare <= latch.grip_max:
            remedy = "Cut the runner back {cut} from the middle of the latch."
            cut = ("fittings", c.id, "runner_cut_back")
            mends.append(Mend("Cut the runner back {cut} round it", path=cut, value=True))
    others = [
        i
        for i in CATALOGUE.values()
        if isinstance(i, Latch) and i.grip_min - 1e-9 <= grip <= i.grip_max + 1e-9
    ]
    if others:
        remedy += f" Of the latches in stock, {others[0].name} holds it."
        mends.append(Mend(f"Take {others[0].name}", path=("fittings", c.id, "latch"), value=others[0].id))
    return Finding("LATCH-GRIP", "mend", c.id, "Latch sits outside its grip", text, values, remedy, working,
                   mends=tuple(mends))  # fmt: skip


def build(c: Hatch, site: Site) -> Built:
    """Lid, hinge, latch, gasket and their checks.

    Lid = cut-out less the gap on each side. Raises CoreError without a deck to sit in.
    Source: handbook of the trade, chapter 6.
    """
    host = site.host_choices
    if site.host is None or host is None:
        raise CoreError(f"the deck “{c.deck}” is not in the plan", f"fittings.{c.id}.deck")
    made = _made(c, _carrier(host), site.host.top_m)
    # the same lid as before keeps what was found out about it; only its place is looked at anew
    placed = [*placing_findings(c.id, site, _cutout(c)), *_landing(c, host)]
    return replace(made, findings=(*placed, *made.findings))


@lru_cache(maxsize=512)
def _made(c: Hatch, deck: Carrier, top: float) -> Built:
    """The hatch as made, wherever the edges of its deck lie; top: of the deck [m]."""
    stock_id = _lid_stock(c, deck)
    stock = sheet(stock_id)
    gap = gap_m(c, deck)
    length, width = c.clear_length + 2 * (c.landing - gap), c.clear_width + 2 * (c.landing - gap)
    lid = _rounded(c.x, c.y, length, width, c.corner + c.landing - gap)
    latch = find(c.latch)
    if not isinstance(latch, Latch):
        raise CoreError(f"“{c.latch}” is not a latch", f"fittings.{c.id}.latch")
    offset = latch_offset_m(c.landing, gap, latch)
    dx, dy = _TOWARDS[_OPPOSITE[c.hinge]]
    lx, ly = c.x + dx * (length / 2 - offset), c.y + dy * (width / 2 - offset)
    blank = _drilled(lid, lx, ly, latch.body / 2)
    outline, holes = panel_rings(blank)
    # it lies on the members' flanges: a thicker one stands proud, a thinner one is packed to be flush
    middle = max(top, top - sheet(deck.skin).thickness + stock.thickness) - stock.thickness / 2
    metal = MATERIALS[stock.material].kind == "metal"
    panel = Panel(f"{c.id}/lid", f"{c.code}-L", f"{c.name}, lid", c.id, stock_id, outline, holes,
                  Frame((0.0, 0.0, middle)), (0, 90, 180, 270) if metal else (0, 180))  # fmt: skip
    runners = runner_panels(c, (lx, ly), latch, top=middle - stock.thickness / 2)
    findings = [_grip(c, deck.cover, stock.thickness, latch), _latch_place(c, gap, latch, offset)]
    step = sheet(deck.skin).thickness - stock.thickness
    if abs(step) > 1e-4:
        findings.append(
            Finding("LID-FLUSH", "look", c.id, "Lid is not as thick as the deck",
                    "Pack the landing by {step} so that it lies flush."
                    if step > 0 else "It stands {step} proud: let the landing down by that much.",
                    {"step": Quantity(abs(step), "m", True)})
        )  # fmt: skip
    shapes = (
        Shape("lid", tuple((x, y, top) for x, y in outline), MATERIALS[stock.material].kind),
        Shape("latch", tuple((x, y, top) for h in holes for x, y in h)),
        Shape("hinge", _hinge_line(c, length, width, top)),
    )
    bought = _hardware(c, lid, length, width, (lx, ly, top), top, stock.thickness, latch)
    grip = stock.thickness + plain("hinge-piano").thickness
    if fastener_for("rivet", grip) is None:
        findings.append(no_fastener(c.id, "Hinge to lid", grip))
    if deck.cover != "none":
        # a cover that wraps goes down the lid's edge and a little way under it
        turned = lid.length * (stock.thickness + LID_WRAP_M) if plain(deck.cover).wraps else 0.0
        bought += tuple(covered(c, deck.cover, panel.polygon.area + turned, (c.x, c.y, top)))
    at = Handle("x", "x", ((c.x, c.y - width / 2, top), (c.x, c.y + width / 2, top)), "hatch")
    findings += runner_findings(c)
    return Built(c.id, (panel, *runners), (), bought, shapes, (at,), tuple(findings), top, lid)


def _hinge_line(c: Hatch, length: float, width: float, z: float) -> tuple[Point, ...]:
    dx, dy = _TOWARDS[c.hinge]
    x, y = c.x + dx * length / 2, c.y + dy * width / 2
    hx, hy = abs(dy) * length / 2, abs(dx) * width / 2
    return ((x - hx, y - hy, z), (x + hx, y + hy, z))


def _latch_place(c: Hatch, gap: float, latch: Latch, offset: float) -> Finding:
    return Finding(
        "LATCH-PLACE",
        "fine",
        c.id,
        "Where to drill for the latch",
        "Middle of the {body} hole {offset} from the lid's edge.",
        {"body": Quantity(latch.body, "m"), "offset": Quantity(offset, "m", True)},
        working=Working(
            "offset = (landing - gap) + underside / 2 + wrench room",
            (
                Input("landing", Quantity(c.landing, "m", True), "chosen"),
                Input("gap", Quantity(gap, "m", True)),
                Input("underside of the body", Quantity(latch.underside, "m", True), "maker"),
                Input("wrench room", Quantity(WRENCH_ROOM_M, "m", True), "starting value"),
            ),
            Quantity(offset, "m", True),
            "handbook of the trade, chapter 6",
        ),
    )


def _hardware(
    c: Hatch,
    lid: Polygon,
    length: float,
    width: float,
    latch_at: Point,
    top: float,
    thickness: float,
    latch: Latch,
) -> tuple[Bought, ...]:
    hinge = plain("hinge-piano")
    run = (width if c.hinge in ("aft", "fore") else length) - HINGE_SHORTER_M
    line = _hinge_line(c, length, width, top)
    hinge_at: Point = ((line[0][0] + line[1][0]) / 2, (line[0][1] + line[1][1]) / 2, top)
    screws = 2 * count_at_pitch(run, hinge.pitch)
    rivet = fastener_for("rivet", thickness + hinge.thickness)
    gasket = plain("gasket-12")
    out = [
        Bought(f"{c.id}/latch", f"{c.code}-K", f"{c.name}, latch", c.id, latch.id, 1, latch.mass,
               latch_at),
        Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, hinge", c.id, "hinge-piano", run,
               run * hinge.mass, hinge_at),
        Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket", c.id, "gasket-12", lid.length,
               lid.length * gasket.mass, (c.x, c.y, top - thickness)),
    ]  # fmt: skip
    if rivet is not None:
        count = screws + SCREWS_IN_LATCH
        out.append(
            Bought(f"{c.id}/fasteners", f"{c.code}-R", f"{c.name}, hinge and latch fasteners", c.id,
                   rivet.id, count, count * rivet.mass, hinge_at, "fasteners")
        )  # fmt: skip
    return tuple(out)


KIND = FittingKind(Hatch, "Drop-in hatch", build, opening)
