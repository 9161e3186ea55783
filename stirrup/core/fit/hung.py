"""What a motor set back does to its transom, and whether two of them clear one another.

Screening; by a sum of levers and the geometry of two bodies that turn together.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from stirrup.core.bodies.item import ItemBase
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import inside_region
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.things import is_gone

declare(
    "layout",
    {"MOTOR-SETBACK": "what a setback does to the transom", "MOTOR-TWIN": "room between two outboards"},
    acceptable=True,
    pace="behind",
)

G, SLAM_G = 9.81, 3.0
MORE = 1.5  # of the moment without a setback, from where on it is told: working value
LOCK_DEG = 35.0  # that an outboard turns to either side: working value
CLEAR_M = 0.03  # between two cowls at full lock: working value
APART_M = 0.66  # from middle to middle, as two are usually hung: 26 in


def _hung(things: Sequence[Placed]) -> list[tuple[Placed, ItemBase]]:
    out = []
    for thing in things:
        c = thing.choices
        if isinstance(c, ItemBase) and thing.kind.drives and not is_gone(c):
            out.append((thing, c))
    return out


def hung_findings(things: Sequence[Placed], surface: HullSurface) -> list[Finding]:
    """Of each outboard that is set back, and of each two beside one another. Source:
    docs/trade-rules.md, “Motors”."""
    there = _hung(things)
    out = [f for thing, c in there if c.setback > 0 for f in _set_back(thing, c, surface)]
    return out + _twins(there)


def _transom_m(surface: HullSurface, z: float) -> float | None:
    """x of the inside of the transom at a height, or where she is highest under it [m]."""
    top = min(z, float(surface.sheer_at(float(surface.outside.low[0]) + 0.05, 1.0)[2]) - 0.01)
    room = inside_region(surface, top)
    return None if room.is_empty else float(room.bounds[0])


def _set_back(thing: Placed, c: ItemBase, surface: HullSurface) -> list[Finding]:
    """Its weight's lever on the transom with its setback and without, at rest and in a slam."""
    x, _, z = c.mass.centre
    transom = _transom_m(surface, z)
    if transom is None:
        return []
    behind = transom - x
    before = max(behind - c.setback, 0.0)
    weight = c.mass.value * G
    values = {
        "back": Quantity(c.setback, "m", True), "now": Quantity(weight * behind, "N m"),
        "before": Quantity(weight * before, "N m"), "slam": Quantity(SLAM_G * weight * behind, "N m"),
    }  # fmt: skip
    work = Working(
        "moment = weight x how far its middle hangs behind the transom's inside",
        (Input("mass", Quantity(c.mass.value, "kg")), Input("behind", Quantity(behind, "m")),
         Input("without its setback", Quantity(before, "m"))),
        Quantity(weight * behind, "N m"), "rules of the trade, “Motors”",
    )  # fmt: skip
    text = ("Set back by {back} its weight pulls on the transom with {now} in place of {before}, and with "
            "{slam} in a slam of 3 g. What it does to her trim is on Float, with a row beside it on the "
            "sheet of pods and setbacks.")  # fmt: skip
    if behind <= MORE * before + 1e-9:
        return [Finding("MOTOR-SETBACK", "fine", thing.id, "What its setback adds", text, values,
                        working=work)]  # fmt: skip
    return [Finding("MOTOR-SETBACK", "look", thing.id, "Its setback loads the transom", text, values,
                    "Look at the transom's core, knees and bolts before it is hung there.",
                    work)]  # fmt: skip


def gap_m(apart: float, wide: float, turned_deg: float = LOCK_DEG) -> float:
    """Between two cowls side by side that turn together about their own pivots: what is across their axes,
    d cos a, less the breadth of one [m]. Less than nothing where they meet."""
    return apart * math.cos(math.radians(turned_deg)) - wide


def _twins(there: Sequence[tuple[Placed, ItemBase]]) -> list[Finding]:
    """Neighbours from starboard to port."""
    out = []
    row = sorted((p for p in there if p[1].size is not None), key=lambda p: p[1].mass.centre[1])
    for (_, a), (thing, b) in pairwise(row):
        apart = b.mass.centre[1] - a.mass.centre[1]
        wide = max(c.size[1] for c in (a, b) if c.size is not None)
        gap = gap_m(apart, wide)
        need = (wide + CLEAR_M) / math.cos(math.radians(LOCK_DEG))
        by = math.ceil(max(need - apart, 0.0) * 1000) / 1000  # whole millimetres, and enough
        values = {"apart": Quantity(apart, "m"), "wide": Quantity(wide, "m"),
                  "gap": Quantity(abs(gap), "m"), "lock": Quantity(LOCK_DEG, "deg"),
                  "need": Quantity(max(need, APART_M), "m"), "by": Quantity(by, "m")}  # fmt: skip
        who = f"{plain(a.title)} and {plain(b.title)} hang {{apart}} apart"
        if gap >= CLEAR_M - 1e-9:
            out.append(Finding("MOTOR-TWIN", "fine", thing.id, "Two outboards clear one another",
                               f"{who}; turned by {{lock}} {{gap}} are left between their cowls.",
                               values, other=a.id))  # fmt: skip
            continue
        state = "meet" if gap < 0 else "are {gap} apart"
        out.append(Finding("MOTOR-TWIN", "mend", thing.id, "Two outboards too near to one another",
                           f"{who}; turned by {{lock}} their cowls {state}.", values,
                           "Hang them {need} from middle to middle, or limit how far they turn.",
                           other=a.id,
                           fixes=(Fix(f"Move {plain(b.title)} {{by}} to port", thing.id,
                                      (0.0, by, 0.0)),)))  # fmt: skip
    return out
