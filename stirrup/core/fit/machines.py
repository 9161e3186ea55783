"""What the shop's own machines can do, against each panel: the longest bend, the thickest shear cut, how
deep the saw cuts, how wide the saw table rips. What is not said of the shop is not asked.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence

from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.parts.model import Panel
from stirrup.core.plan.cutting import Cutting
from stirrup.core.plan.model import Plan
from stirrup.core.plan.placed import Placed

declare("layout", {"MACHINES": "what the shop's machines can do"}, acceptable=True, pace="behind")


def bend_m(panel: Panel) -> float:
    """Its longest bend [m]."""
    return max((math.dist(b.start, b.end) for b in panel.bends), default=0.0)


def rip_m(panel: Panel) -> float:
    """Its smaller side: what has to lie between fence and blade [m]."""
    u0, v0, u1, v1 = panel.polygon.bounds
    return float(min(u1 - u0, v1 - v0))


def _thick(panel: Panel) -> float:
    return panel.sheet.thickness


def _bent(panel: Panel) -> float:
    return panel.sheet.thickness if panel.bends else 0.0


def _sheared(panel: Panel) -> float:
    return panel.sheet.thickness if panel.sheet.stuff.kind == "metal" and not panel.holes else 0.0


# a choice of the shop, what of a panel it limits, what is said, what one does
LIMITS: tuple[tuple[str, Callable[[Panel], float], str, str], ...] = (
    ("brake_long", bend_m, "a bend of {is} is longer than the brake's {most}",
     "Have it bent, bend it in lengths that are welded, or fold it over a clamped angle."),
    ("brake_thick", _bent, "{is} is thicker than the brake bends, {most}",
     "Have it bent, or join flat sheets by angles."),
    ("shear_thick", _sheared, "{is} is thicker than the shears cut, {most}",
     "Saw it: put the saw's cut in, so that the layout leaves room for it."),
    ("saw_deep", _thick, "{is} is thicker than the saw cuts, {most}",
     "Cut it from both faces, or with a jigsaw, and plane it."),
    ("table_wide", rip_m, "{is} is wider than the saw table rips, {most}",
     "Cut it with a saw along a clamped straight edge."),
)  # fmt: skip


def machines(plan: Plan, things: Iterable[Placed]) -> list[Finding]:
    """Of each thing, which of its panels the shop cannot make, machine by machine."""
    cutting = plan.cutting
    out: list[Finding] = []
    said = [row for row in LIMITS if getattr(cutting, row[0]) is not None]
    if not said:
        return out
    for thing in things:
        panels = thing.built.panels
        if not panels:
            continue
        found = [f for row in said if (f := _limit(thing.id, panels, cutting, row)) is not None]
        values = {"count": Quantity(len(panels), "count")}
        out += found or [Finding("MACHINES", "fine", thing.id, "The shop can make it",
                                 "All {count} of its panels are within what was said of its machines.",
                                 values)]  # fmt: skip
    return out


def _limit(thing: str, panels: Sequence[Panel], cutting: Cutting,
           row: tuple[str, Callable[[Panel], float], str, str]) -> Finding | None:  # fmt: skip
    name, measure, words, remedy = row
    most = float(getattr(cutting, name))
    over = [p for p in panels if measure(p) > most + 1e-6]
    if not over:
        return None
    worst = max(over, key=measure)
    values = {"is": Quantity(measure(worst), "m", True), "most": Quantity(most, "m", True),
              "count": Quantity(len(over), "count")}  # fmt: skip
    others = "" if len(over) == 1 else " {count} of its panels are over it."
    return Finding("MACHINES", "look", thing, "The shop's machines do not make it",
                   f"{plain(worst.label)}: {words}.{others}", values, remedy, other=name)  # fmt: skip
