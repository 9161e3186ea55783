"""Several things brought in line, or spread with the same room between them."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.arrange.move import refuse_locked, shifted
from stirrup.core.contract.extent import AXIS_OF
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.changes import AnyChange, Together
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of


def _way(axis: int, by: float) -> tuple[float, float, float]:
    return (by if axis == 0 else 0.0, by if axis == 1 else 0.0, by if axis == 2 else 0.0)


def lined_up(plan: Plan, surface: HullSurface, ids: Sequence[str], edge: str) -> AnyChange:
    """Everything after the first brought to the first one's edge. Raises CoreError."""
    if edge not in AXIS_OF:
        raise CoreError(f"read “{edge}”; accepted: {', '.join(AXIS_OF)}", "edge")
    if len(ids) < 2:
        raise CoreError("choose at least two things to line up", "sel")
    refuse_locked(plan, ids[1:])
    at = extent_of(plan, surface, ids[0]).edge(edge)
    changes: list[AnyChange] = []
    for id_ in ids[1:]:
        by = at - extent_of(plan, surface, id_).edge(edge)
        changes += shifted(plan, id_, _way(AXIS_OF[edge], by))
    if not changes:
        raise CoreError(f"they are in line already: {edge}", "sel")
    return Together(
        changes=tuple(changes), words=f"{len(ids)} things in line with {title_of(plan, ids[0])}: {edge}"
    )


def spread(plan: Plan, surface: HullSurface, ids: Sequence[str], axis: int) -> AnyChange:
    """The same room between neighbours along an axis (0 along, 1 across); the outer two stay.

    Raises CoreError for fewer than three, and when they take more room than there is.
    """
    if len(ids) < 3:
        raise CoreError("choose at least three things to spread", "sel")
    spans = sorted(
        ((extent_of(plan, surface, i), i) for i in ids), key=lambda s: sum((s[0].x, s[0].y)[axis])
    )
    ranges = [(e.x, e.y)[axis] for e, _ in spans]
    inner = [i for _, i in spans[1:-1]]
    refuse_locked(plan, inner)
    room = ranges[-1][0] - ranges[0][1] - sum(b - a for a, b in ranges[1:-1])
    if room < 0:
        raise CoreError(
            f"there is no room between: {-room:.3f} m too little from the first to the last", "sel"
        )
    gap = room / (len(spans) - 1)
    changes: list[AnyChange] = []
    at = ranges[0][1] + gap
    for (low, high), id_ in zip(ranges[1:-1], inner, strict=True):
        changes += shifted(plan, id_, _way(axis, at - low))
        at += high - low + gap
    if not changes:
        raise CoreError("the room between them is the same already", "sel")
    way = "along" if axis == 0 else "across"
    return Together(changes=tuple(changes), words=f"{len(ids)} things spread {way}")
