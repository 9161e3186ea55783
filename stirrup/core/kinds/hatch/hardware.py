"""Hinge, latch, gasket of a hatch: where they go, whether the latch grips, what is bought."""

from __future__ import annotations

from shapely.geometry import Polygon

from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.joints import leaf_style
from stirrup.core.fittings.runners import RUNNER_CUT_M
from stirrup.core.kinds.hatch.choices import Hatch, Side, over_m
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Latch, Sheet
from stirrup.core.parts.model import Bought

declare("layout", {"LATCH-GRIP": "grip of the latch", "LATCH-PLACE": "where the latch goes"})

WRENCH_ROOM_M = 0.011  # between a latch body and the frame: 10 to 12 mm
COVER_CRUSHED = 0.4  # what carpet keeps of its thickness under a flange
HINGE_SHORTER_M = 0.02
SCREWS_IN_LATCH = 4

TOWARDS: dict[Side, tuple[int, int]] = {
    "aft": (-1, 0),
    "fore": (1, 0),
    "port": (0, 1),
    "starboard": (0, -1),
}


def latch_offset_m(landing: float, gap: float, latch: Latch) -> float:
    """Centre of the latch body from the lid's edge [m].

    Landing covered by the lid + half the body below it + room for the wrench.
    Source: docs/trade-rules.md, “Hatches”.
    """
    return (landing - gap) + latch.underside / 2 + WRENCH_ROOM_M


def grip_finding(c: Hatch, catalogue: Catalogue, cover: str, lid_m: float, latch: Latch) -> Finding:
    """Whether the latch holds lid, runner and crushed cover; lid: thickness [m]."""
    layers = [("lid", lid_m)]
    if c.runner and not c.runner_cut_back:
        layers.append(("runner", c.runner))
    if cover != "none":
        layers.append(("cover under the flange", catalogue.plain(cover).thickness * COVER_CRUSHED))
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
    fixes = []
    if grip < latch.grip_min:
        remedy = "Put a pad of {pad} under the lid, or take a thinner body."
    else:
        remedy = "Take a longer body."
        if c.runner and not c.runner_cut_back and bare <= latch.grip_max:
            remedy = "Cut the runner back {cut} from the middle of the latch."
            cut = ("fittings", c.id, "runner_cut_back")
            fixes.append(Fix("Cut the runner back {cut} round it", path=cut, value=True))
    others = [i for i in catalogue.of(Latch) if i.grip_min - 1e-9 <= grip <= i.grip_max + 1e-9]
    if others:
        remedy += f" Of the latches in stock, {others[0].name} holds it."
        fixes.append(Fix(f"Take {others[0].name}", path=("fittings", c.id, "latch"), value=others[0].id))
    return Finding("LATCH-GRIP", "mend", c.id, "Latch sits outside its grip", text, values, remedy, working,
                   fixes=tuple(fixes))  # fmt: skip


def hinge_line(c: Hatch, length: float, width: float, z: float) -> tuple[Point, ...]:
    """The hinge's line along its side of the lid, at height z [m]."""
    dx, dy = TOWARDS[c.hinge]
    x, y = c.x + dx * length / 2, c.y + dy * width / 2
    hx, hy = abs(dy) * length / 2, abs(dx) * width / 2
    return ((x - hx, y - hy, z), (x + hx, y + hy, z))


def _landing_is(c: Hatch, landing: float) -> str:
    if abs(landing - over_m(c, 0.0)) >= 1e-9:
        return "with the shared member"
    return "with the gutter" if c.lies == "flush, over a gutter" else "chosen"


def latch_place(c: Hatch, landing: float, gap: float, latch: Latch, offset: float) -> Finding:
    """Where to drill for the latch; landing: as the members there make it; offset: from the lid's
    edge [m]."""
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
                Input("landing", Quantity(landing, "m", True), _landing_is(c, landing)),
                Input("gap", Quantity(gap, "m", True)),
                Input("underside of the body", Quantity(latch.underside, "m", True), "maker"),
                Input("wrench room", Quantity(WRENCH_ROOM_M, "m", True), "starting value"),
            ),
            Quantity(offset, "m", True),
            "rules of the trade, “Hatches”",
        ),
    )


def hardware(
    c: Hatch,
    catalogue: Catalogue,
    lid: Polygon,
    length: float,
    width: float,
    latch_at: Point,
    top: float,
    stock: Sheet,
    latch: Latch,
) -> tuple[Bought, ...]:
    """Latch, hinge, gasket and their fasteners, with what they weigh and where."""
    hinge = catalogue.plain("hinge-piano")
    run = (width if c.hinge in ("aft", "fore") else length) - HINGE_SHORTER_M
    line = hinge_line(c, length, width, top)
    hinge_at: Point = ((line[0][0] + line[1][0]) / 2, (line[0][1] + line[1][1]) / 2, top)
    screws = 2 * count_at_pitch(run, hinge.pitch)
    fastener = catalogue.fastener_for(leaf_style(stock), stock.thickness + hinge.thickness)
    gasket = catalogue.plain("gasket-12")
    out = [
        Bought(f"{c.id}/latch", f"{c.code}-K", f"{c.name}, latch", c.id, latch, 1, latch.mass,
               latch_at),
        Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, hinge", c.id, hinge, run,
               run * hinge.mass, hinge_at),
        Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket", c.id, gasket, lid.length,
               lid.length * gasket.mass, (c.x, c.y, top - stock.thickness)),
    ]  # fmt: skip
    if fastener is not None:
        count = screws + SCREWS_IN_LATCH
        out.append(
            Bought(f"{c.id}/fasteners", f"{c.code}-R", f"{c.name}, hinge and latch fasteners", c.id,
                   fastener, count, count * fastener.mass, hinge_at, "fasteners")
        )  # fmt: skip
    return tuple(out)
