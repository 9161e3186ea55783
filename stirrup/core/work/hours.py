"""Hands-on hours of what the fittings make, operation by operation; waiting is not among them.

Minutes for one of each are starting values: one person, hand-held tools, marking and deburring
included. They differ between shops by half as much again.
"""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.contract.gives import Built
from stirrup.core.parts.entries import Fastener, Latch
from stirrup.core.parts.model import Bought, Panel
from stirrup.core.record import dataclass

SPREAD = 0.3  # of the sum, either way


@dataclass(frozen=True)
class Operation:
    """Something done over and over: words, what it is counted in, minutes for one."""

    words: str
    unit: str
    minutes: float


CUT = {
    "metal": Operation("sheet metal sawn and deburred", "m", 5.0),
    "wood": Operation("plywood sawn and its edges broken", "m", 2.5),
    "plastic": Operation("plastic board sawn", "m", 2.0),
    "composite": Operation("composite board sawn", "m", 2.5),
    "foam": Operation("foam cut", "m", 1.0),
}
PANEL = Operation("panels offered up and trimmed", "piece", 20.0)
MEMBER = Operation("members cut to length and fitted", "piece", 12.0)
# fitted, cleaned, tacked and welded, for each metre of the joint
SEAM = {
    "stitched": Operation("seams stitched on both sides", "m", 14.0),
    "all round": Operation("seams welded tight", "m", 28.0),
}
BEND = Operation("bends set up and made", "piece", 6.0)
RELIEF = Operation("relief cuts sawn and deburred", "piece", 1.5)
RIVET = Operation("rivets drilled and set", "piece", 1.2)
SCREW = Operation("screws driven", "piece", 0.7)
LATCH = Operation("latches drilled for and fitted", "piece", 25.0)


@dataclass(frozen=True)
class Task:
    """All of one operation: how much of it, in its unit."""

    operation: Operation
    count: float

    @property
    def hours(self) -> float:
        return self.count * self.operation.minutes / 60


@dataclass(frozen=True)
class Effort:
    """Hands-on work of some fittings, the longest task first."""

    tasks: tuple[Task, ...]

    @property
    def hours(self) -> float:
        return sum(t.hours for t in self.tasks)

    @property
    def range_h(self) -> tuple[float, float]:
        """Least and most likely hours."""
        return self.hours * (1 - SPREAD), self.hours * (1 + SPREAD)


def edge_m(panel: Panel) -> float:
    """Length of saw cut round a panel and its holes [m]."""
    return float(panel.polygon.length)


def operation_of(part: Bought) -> Operation | None:
    """What is done with a bought part; None where no minutes are known."""
    item = part.entry
    if isinstance(item, Fastener):
        return RIVET if item.style == "rivet" else SCREW
    if isinstance(item, Latch):
        return LATCH
    return Operation(item.task, item.unit, item.minutes) if item.task else None


def effort(built: Iterable[Built]) -> Effort:
    """Hands-on work of what these fittings make: counts x minutes.

    Sources: counts from the parts themselves; minutes are starting values, see above.
    """
    counts: dict[Operation, float] = {}

    def add(operation: Operation | None, count: float) -> None:
        if operation is not None and count > 0:
            counts[operation] = counts.get(operation, 0.0) + count

    for fitting in built:
        for panel in fitting.panels:
            add(CUT[panel.sheet.stuff.kind], edge_m(panel))
            add(PANEL, 1)
            add(BEND, len(panel.bends))
        for member in fitting.members:
            add(MEMBER, 1)
            add(RELIEF, len(member.slots))
        for part in fitting.bought:
            add(operation_of(part), part.quantity)
        for seam in fitting.seams:
            add(SEAM[seam.how], seam.long)
    tasks = (Task(operation, count) for operation, count in counts.items())
    return Effort(tuple(sorted(tasks, key=lambda t: -t.hours)))
