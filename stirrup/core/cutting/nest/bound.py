"""What no layout can be under: the area that is needed, from the cheapest stock that has it."""

from __future__ import annotations

import numpy as np
import scipy

from stirrup.core.cutting.cut_job import Bound, CutJob
from stirrup.core.cutting.nest.shapes import usable

SLACK = 1e-9
MANY = 1e9  # pieces of one stock: as many as are wanted


def bound_of(job: CutJob) -> Bound:
    """Fewest pieces of stock and least cost by area: an integer programme over how many of each.

    Each part takes its own area and all that is within half the gap of it, which no other part may have;
    each piece of stock gives what its margin leaves and half a gap round it. Where there is not enough of
    everything, all that there is counts as needed.
    """
    needed = sum(p.polygon.buffer(job.gap / 2).area * p.qty for p in job.parts)
    gives = np.array([usable(job, s).area for s in job.stocks])
    most = np.array([np.inf if s.count is None else s.count for s in job.stocks])
    if not len(gives) or needed <= 0:
        return Bound(0, 0.0)
    there = float(np.sum(np.minimum(most, MANY)[gives > 0] * gives[gives > 0]))
    needed = min(needed, there)
    enough = scipy.optimize.LinearConstraint(gives[None, :], lb=needed * (1 - SLACK))

    def least(weights: list[float]) -> float:
        found = scipy.optimize.milp(
            np.array(weights), constraints=enough, integrality=np.ones(len(weights), dtype=np.int64),
            bounds=scipy.optimize.Bounds(0, most),
        )  # fmt: skip
        return float(found.fun) if found.success else 0.0

    return Bound(round(least([1.0] * len(gives))), round(least([s.cost for s in job.stocks]), 9))
