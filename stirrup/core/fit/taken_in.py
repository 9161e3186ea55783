"""Outlines out of a file become what they are meant as: leftovers, own parts, a panel as it fits."""

from __future__ import annotations

from collections.abc import Sequence

from shapely.geometry import Polygon

from stirrup.core.cutting.own_outline import outline_value
from stirrup.core.cutting.refit import gaps_of, laid_on, marks_of
from stirrup.core.errors import CoreError
from stirrup.core.parts.model import Panel
from stirrup.core.plan.changes import AddThing, AnyChange, Together
from stirrup.core.plan.fitted import MOST_GAP_M
from stirrup.core.plan.model import Plan
from stirrup.core.units import Units, write_length

MOST_TAKEN = 60


def _value(shape: Polygon, number: int) -> dict[str, object]:
    try:
        return outline_value(shape)
    except ValueError as error:
        raise CoreError(f"outline {number}: {error}", "file") from None


def as_rests(plan: Plan, shapes: Sequence[tuple[int, Polygon]], stock: str, place: str) -> AnyChange:
    """Each on the rack as a leftover of a sheet. Raises CoreError."""
    _some(shapes)
    taken = {r.id for r in plan.cutting.rests}
    changes = []
    for number, shape in shapes:
        id_ = next(n for k in range(1, len(taken) + 2) if (n := f"rest-{k}") not in taken)
        taken.add(id_)
        value = {"id": id_, "stock": stock, "place": place, **_value(shape, number)}
        changes.append(AddThing(path=("cutting", "sheets"), value=value))
    return Together(changes=tuple(changes), words=f"{len(changes)} leftovers from a file on the rack")


def as_parts(
    plan: Plan, shapes: Sequence[tuple[int, Polygon]], stock: str, name: str, first: AddThing
) -> AnyChange:
    """Each as a part of one's own, beside one another from a first place on. Raises CoreError."""
    _some(shapes)
    taken, marks = {f.id for f in plan.fittings}, {f.mark for f in plan.fittings}
    changes, x = [], float(str(first.value["x"]))
    for number, shape in shapes:
        id_ = next(n for k in range(1, len(taken) + 2) if (n := f"own-part-{k}") not in taken)
        mark = next(m for k in range(1, len(marks) + 2) if (m := f"O{k}") not in marks)
        taken.add(id_)
        marks.add(mark)
        size = _value(shape, number)
        called = f"{name} {number}" if len(shapes) > 1 else name
        value = {**first.value, **size, "id": id_, "mark": mark, "name": called[:80] or first.value["name"],
                 "skin": stock, "x": round(x, 3)}  # fmt: skip
        x += float(str(size["width"])) + 0.05
        changes.append(AddThing(path=first.path, value=value))
    return Together(changes=tuple(changes), words=f"{len(changes)} parts from a file")


def as_fitted(plan: Plan, panel: Panel, shape: Polygon, units: Units) -> AnyChange:
    """A panel takes an outline over, as gaps at marks that were read in the boat. Raises CoreError where it
    is another shape altogether."""
    if panel.bends:
        raise CoreError("it is folded: its flat pattern follows from its bends; change those", "panel")
    if any(f.id == panel.key for f in plan.fitted):
        raise CoreError(f"{panel.label} was tried before: forget its gaps on its page first", "panel")
    upright, _ = marks_of(panel)
    gaps = gaps_of(panel, laid_on(panel, shape), upright)
    worst = max((abs(g) for row in gaps for g in row[1:]), default=None)
    if worst is None or worst > MOST_GAP_M:
        off = "at all" if worst is None else f"by {write_length(worst, units)}"
        raise CoreError(
            f"this outline is not that of {panel.label} {off}; accepted: within "
            f"{write_length(MOST_GAP_M, units)} of it all along",
            "panel",
        )
    marks = [{"at": round(at, 5), "low": round(low, 5), "high": round(high, 5)} for at, low, high in gaps]
    words = f"{panel.label}: outline from a file"
    value = {"id": panel.key, "thing": panel.fitting, "upright": upright, "marks": marks}
    return Together(changes=(AddThing(path=("fitted",), value=value),), words=words)


def _some(shapes: Sequence[tuple[int, Polygon]]) -> None:
    if not shapes:
        raise CoreError("no outline is ticked; accepted: one and more", "pick")
    if len(shapes) > MOST_TAKEN:
        raise CoreError(f"{len(shapes)} outlines are ticked; accepted: up to {MOST_TAKEN} at once", "pick")
