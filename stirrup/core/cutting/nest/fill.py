"""Stock filled one piece after the other with parts in a given order: each as far to one end as it goes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import field

from stirrup.core.cutting.cut_job import CutJob, Lay
from stirrup.core.cutting.nest.kernel import FAR_M, first_free, take
from stirrup.core.cutting.nest.shapes import Ground, Shape, World, ground_of, shape_of
from stirrup.core.record import dataclass

UNIT = 100_000  # strips compared that count as one unit of work: about 2 ms
CALL = 700  # strips that take as long as asking at all does


class OutOfWorkError(Exception):
    """The work allowed is done, or nobody waits any more."""


@dataclass
class Budget:
    """How much may still be done: units of work, or until `stop` says so; patient: for now all that it
    takes, since there is no answer yet."""

    units: float = float("inf")
    stop: Callable[[], bool] = lambda: False
    patient: bool = True
    done: int = 0

    def spend(self, strips: int) -> None:
        """Count work. Raises OutOfWorkError when there is none left."""
        self.done += strips + CALL
        if not self.patient and (self.done >= self.units * UNIT or self.stop()):
            raise OutOfWorkError

    @property
    def share(self) -> float:
        """How much of it is done, from 0 to 1."""
        return min(1.0, self.done / max(self.units * UNIT, 1.0))


@dataclass(frozen=True)
class Filled:
    """One piece of stock as it was filled: which items (by their place in the job), how far along."""

    stock: int
    items: tuple[int, ...]
    lays: tuple[Lay, ...]
    area: float
    reach: float


@dataclass
class Table:
    """A job as it is looked at: every piece to be cut on its own, the stock as rows."""

    job: CutJob
    world: World
    shapes: list[Shape] = field(default_factory=list)  # one for each piece to cut
    grounds: list[Ground | None] = field(default_factory=list)  # one for each stock

    @classmethod
    def of(cls, job: CutJob, world: World) -> Table:
        """Everything of the job."""
        table, known = cls(job, world), dict[object, Shape]()
        for part in job.parts:
            key = (part.outline, part.holes, part.rotations, part.flip)
            shape = known.get(key)
            if shape is None:
                shape = known[key] = shape_of(job, part, world, len(known))
            table.shapes += [Shape(part, shape.area, shape.turns, shape.same)] * part.qty
        table.grounds = [ground_of(job, stock, world) for stock in job.stocks]
        return table

    def fill(self, stock: int, order: Sequence[int], tilt: float, budget: Budget) -> Filled | None:
        """What of the items goes on one piece of this stock, in their order; None where nothing does."""
        ground = self.grounds[stock]
        if ground is None:
            return None
        count, low, high = ground.count.copy(), ground.low.copy(), ground.high.copy()
        items, lays, area, reach = list[int](), list[Lay](), 0.0, 0.0
        refused = set[int]()
        budget.spend(0)
        for item in order:
            shape = self.shapes[item]
            if shape.same in refused or area + shape.area > ground.area:
                continue
            best, limit = None, FAR_M / 2
            for turn in shape.turns:
                x, row, value, work = first_free(
                    count,
                    low,
                    high,
                    turn.start,
                    turn.lefts,
                    turn.rights,
                    turn.width,
                    ground.corner[0],
                    tilt,
                    limit,
                )
                budget.spend(work)
                if row >= 0:
                    best, limit = (turn, x, row), value
            if best is None:
                refused.add(shape.same)
                continue
            turn, x, row = best
            take(count, low, high, turn.start, turn.lefts, turn.rights, x, row)
            items.append(item)
            lays.append(self.world.lay(shape.part, turn, ground, x, row))
            area += shape.area
            reach = max(reach, x + turn.width - ground.corner[0])
        return Filled(stock, tuple(items), tuple(lays), area, reach) if items else None
