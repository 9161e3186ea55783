"""A sheet or a stick is cut: its parts are noted, it is no more on the rack, what is left of it is."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.gives import Built
from stirrup.core.cutting.nest.straight import largest_rectangle
from stirrup.core.cutting.own_outline import MOST_CORNERS, MOST_HOLES, outline_value
from stirrup.core.cutting.sheets import SheetLayout, placed
from stirrup.core.cutting.sticks import StickLayout, left_over_m
from stirrup.core.fit.already import as_cut, parts_of
from stirrup.core.fittings.edges import largest
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together
from stirrup.core.plan.model import Plan

LEAST_SIDE_M, LEAST_AREA_M2 = 0.1, 0.05  # of what is worth keeping of a sheet
LEAST_STICK_M = 0.3
NARROW_M = 0.06  # a tongue of an outline that is kept, at least
OUTLINE_SHARE = 1.25  # of the rectangle, from which on an outline is kept
SIMPLER_M = 0.002
GRID_M = 0.01  # in which what is left of a sheet is looked for


def sheet_cut(plan: Plan, built: Sequence[Built], layout: SheetLayout, number: int) -> AnyChange:
    """One sheet of a layout is cut; counted from 0. What is left in one piece goes on the rack."""
    keys = [p.blank for p in layout.sheets[number]]
    rest = rest_of_sheet(layout, number)
    off = layout.lengths[number] if layout.job.roll and not layout.rest(number) else None
    return _cut(plan, built, keys, layout.job.stock, "sheets", layout.rest(number), rest, off)


def stick_cut(plan: Plan, built: Sequence[Built], layout: StickLayout, number: int) -> AnyChange:
    """One stick of a layout is cut; counted from 0. What is left of it goes on the rack."""
    left = round(left_over_m(layout, number), 3)
    rest = {"length": left} if left >= LEAST_STICK_M else None
    keys = list(layout.bars[number])
    return _cut(plan, built, keys, layout.job.stock, "sticks", layout.rest(number), rest)


def rest_of_sheet(layout: SheetLayout, number: int) -> dict[str, Any] | None:
    """What is left of a sheet in one piece: its largest rectangle, or its outline where that is worth much
    more; None where neither is worth keeping."""
    around = outline_left(layout, number)
    found = left_of_sheet(layout, number)
    area = 0.0 if found is None else found[0] * found[1]
    least = OUTLINE_SHARE * max(area, LEAST_AREA_M2)
    if around is not None and not layout.job.straight and around.area > least:
        return outline_value(around)
    return None if found is None else {"width": found[0], "height": found[1]}


def _left(layout: SheetLayout, number: int) -> BaseGeometry:
    """All that is left of a sheet beside the saw's cuts."""
    blanks = {b.id: b for b in layout.job.blanks}
    taken = [
        placed(blanks[p.blank], p).buffer(layout.job.kerf, join_style="mitre")
        for p in layout.sheets[number]
    ]
    return layout.stock(number) - shapely.union_all(taken)


def outline_left(layout: SheetLayout, number: int) -> Polygon | None:
    """The largest piece that is left of a sheet, without what is narrower than NARROW_M; None for none."""
    opened = _left(layout, number).buffer(-NARROW_M / 2, join_style="mitre")
    if opened.is_empty:
        return None
    whole = largest(opened).buffer(NARROW_M / 2, join_style="mitre").intersection(_left(layout, number))
    piece = largest(whole).simplify(SIMPLER_M)
    if len(piece.exterior.coords) > MOST_CORNERS or len(piece.interiors) > MOST_HOLES or not piece.is_valid:
        return None
    return piece


def left_of_sheet(layout: SheetLayout, number: int) -> tuple[float, float] | None:
    """Width and height of the largest rectangle that is left of a sheet [m], to the centimetre; None where
    it is not worth keeping."""
    found = largest_rectangle(_left(layout, number), GRID_M)
    if found is None:
        return None
    wide, high = round(found[2] - found[0], 3), round(found[3] - found[1], 3)
    return (wide, high) if min(wide, high) >= LEAST_SIDE_M and wide * high >= LEAST_AREA_M2 else None


def _cut(
    plan: Plan, built: Sequence[Built], keys: Iterable[str], stock: str, group: str, own: str,
    rest: dict[str, Any] | None, off: float | None = None,
) -> AnyChange:  # fmt: skip
    """own: the leftover that it is, empty for one that was bought; off: how much was cut off a roll [m]."""
    cutting, known = plan.cutting, {c.id for c in plan.cut}
    parts = parts_of(built)
    changes: list[AnyChange] = [
        AddThing(path=("cut",), value=as_cut(parts[k]).model_dump(mode="json"))
        for k in keys
        if k not in known and k in parts
    ]
    there = next((r for r in cutting.rests if r.id == own), None)
    if there is not None and there.count > 1:
        changes.append(SetValue(path=("cutting", group, own, "count"), value=there.count - 1))
    elif there is not None:
        changes.append(RemoveThing(path=("cutting", group, own)))
    taken = {r.id for r in cutting.rests} | {d.id for d in cutting.done}
    if rest is not None:
        id_ = _free(taken, "rest")
        changes.append(AddThing(path=("cutting", group), value={"id": id_, "stock": stock, **rest}))
    done = {"id": _free(taken, "done"), "stock": stock, "own": bool(own), "parts": list(keys)}
    value: dict[str, Any] = done if off is None else {**done, "length": off}
    changes.append(AddThing(path=("cutting", "done"), value=value))
    word = "sheet" if group == "sheets" else "stick"
    return Together(changes=tuple(changes), words=f"a {word} is cut: {len(list(keys))} parts")


def _free(taken: set[str], stem: str) -> str:
    return next(name for k in range(1, len(taken) + 2) if (name := f"{stem}-{k}") not in taken)
