"""A part dragged on its sheet: it stays where it was put, or it is said why it cannot; let go again."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.cutting.pinned import Pin, lying, met, off_sheet
from stirrup.core.cutting.sheets import Blank, Placement, SheetLayout, turned
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together
from stirrup.core.plan.cutting import MOST_PINNED
from stirrup.core.plan.model import Plan
from stirrup.core.units import Units, write_length

LONGER, LONGEST = 1000, 5000  # units of work; some seconds, and ten to thirty
NUDGE_M = 0.03  # a part that is put so far over an edge is meant to lie at it


def pinned_sheets(layout: SheetLayout) -> tuple[int, ...]:
    """Of the first sheets of a layout, the number that their pins have."""
    return tuple(sorted({p.sheet for p in layout.job.stays}))


def pins_of(layout: SheetLayout, number: int) -> tuple[Pin, ...]:
    """What is pinned on a sheet of a layout; counted from 0."""
    known = pinned_sheets(layout)
    return tuple(p for p in layout.job.stays if number < len(known) and p.sheet == known[number])


def pinned(plan: Plan, layout: SheetLayout, number: int, put: Placement, units: Units) -> AnyChange:
    """The change that keeps a part on a sheet (counted from 0) where it was put; a little over an edge, it
    is moved to it. Raises CoreError with why it cannot lie there."""
    job = layout.job
    blank = next((b for b in job.blanks if b.id == put.blank), None)
    if job.straight:
        raise CoreError(
            "with straight cuts only, nothing is kept in its place: take that off first", "straight"
        )
    if blank is None or not 0 <= number < max(1, len(layout.sheets)):
        raise CoreError("this part or this sheet is not there any more: look again", "part")
    if put.rotation not in blank.rotations:
        ways = ", ".join(f"{r}°" for r in blank.rotations)
        raise CoreError(f"{blank.label}: read {put.rotation}°; accepted: {ways}, by its grain", "rotation")
    if put.flipped and not blank.flip:
        raise CoreError(f"{blank.label} may not be turned over: its good face would be below", "flipped")
    there = pins_of(layout, number)
    pin = Pin(blank.id, _number(plan, layout, number), put.rotation, put.x, put.y, put.flipped,
              layout.rest(number) if layout.sheets else "")  # fmt: skip
    pin = _nudged(layout, number, blank, pin)
    shape = lying(blank.polygon, pin)
    if off_sheet(layout.stock(number), shape, job.margin):
        inside = write_length(job.margin, units, True)
        raise CoreError(f"{blank.label} would lie over the edge; accepted: {inside} inside of it", "x")
    by = {b.id: b for b in job.blanks}
    others = [(by[p.part].label, lying(by[p.part].polygon, p)) for p in there if p.part != blank.id]
    near = met(shape, others, job.kerf)
    if near:
        gap, those = write_length(job.kerf, units, True), ", ".join(near)
        raise CoreError(f"{blank.label} would lie nearer than {gap} to {those}, which is kept there", "x")
    return _kept(plan, job.stock, [pin], f"{blank.label} kept where it was put")


def at_corner(
    layout: SheetLayout, key: str, rotation: int, flipped: bool, corner: tuple[float, float]
) -> Placement:
    """A part as it lies when its left and its lower edge are so far from those of its sheet [m]; one that
    is gone lies nowhere in particular."""
    blank = next((b for b in layout.job.blanks if b.id == key), None)
    if blank is None:
        return Placement(key, rotation, *corner, flipped)
    x0, y0, _, _ = turned(blank, rotation, flipped).bounds
    return Placement(key, rotation, corner[0] - x0, corner[1] - y0, flipped)


def _number(plan: Plan, layout: SheetLayout, number: int) -> int:
    known = pinned_sheets(layout)
    if number < len(known):
        return known[number]
    taken = {p.sheet for p in plan.cutting.pins if p.stock == layout.job.stock}
    return next(n for n in range(1, len(taken) + 2) if n not in taken)


def _nudged(layout: SheetLayout, number: int, blank: Blank, pin: Pin) -> Pin:
    """Moved inside of the box of its stock where it is a little over it."""
    margin = layout.job.margin
    x0, y0, x1, y1 = layout.stock(number).bounds
    a0, b0, a1, b1 = lying(blank.polygon, pin).bounds

    def by(low: float, high: float, least: float, most: float) -> float:
        over = max(least - low, 0.0) or min(most - high, 0.0)
        return over if abs(over) <= NUDGE_M else 0.0

    dx, dy = by(a0, a1, x0 + margin, x1 - margin), by(b0, b1, y0 + margin, y1 - margin)
    return Pin(pin.part, pin.sheet, pin.rotation, pin.x + dx, pin.y + dy, pin.flipped, pin.on)


def sheet_kept(plan: Plan, layout: SheetLayout, number: int) -> AnyChange:
    """The change that keeps all of a sheet as it is; counted from 0. Raises CoreError."""
    if layout.job.straight or not 0 <= number < len(layout.sheets):
        raise CoreError("this sheet cannot be kept as it is: look again", "number")
    sheet, on = _number(plan, layout, number), layout.rest(number)
    pins = [Pin(p.blank, sheet, p.rotation, p.x, p.y, p.flipped, on) for p in layout.sheets[number]]
    return _kept(plan, layout.job.stock, pins, "a sheet kept as it is")


def _kept(plan: Plan, stock: str, pins: Iterable[Pin], words: str) -> AnyChange:
    known = {p.id for p in plan.cutting.pins}
    changes: list[AnyChange] = []
    for pin in pins:
        # to the last digit: what lies a saw's cut apart must not come nearer
        value = {"id": pin.part, "stock": stock, "sheet": pin.sheet, "on": pin.on, "rotation": pin.rotation,
                 "x": pin.x, "y": pin.y, "flipped": pin.flipped}  # fmt: skip
        if pin.part in known:
            changes.append(SetValue(path=("cutting", "pins", pin.part), value=value))
        else:
            changes.append(AddThing(path=("cutting", "pins"), value=value))
    if len(known) + sum(isinstance(c, AddThing) for c in changes) > MOST_PINNED:
        raise CoreError(f"more parts would be kept than {MOST_PINNED}: let some go first", "part")
    return Together(changes=tuple(changes), words=words)


def let_go(plan: Plan, keys: Iterable[str]) -> AnyChange | None:
    """The change that lets parts be laid out anew; None where none of them is kept."""
    known = {p.id for p in plan.cutting.pins}
    gone = tuple(RemoveThing(path=("cutting", "pins", k)) for k in dict.fromkeys(keys) if k in known)
    return Together(changes=gone, words=f"{len(gone)} parts laid out anew") if gone else None


def stale(plan: Plan, layout: SheetLayout) -> list[str]:
    """Pins of a stock that hold nothing any more: of parts that are gone or cut, or that cannot lie there
    now."""
    held = {p.part for p in layout.job.stays}
    return [p.id for p in plan.cutting.pins if p.stock == layout.job.stock and p.id not in held]


def looked_closer(plan: Plan, layout: SheetLayout) -> AnyChange | None:
    """The change that has a closer layout of a stock looked for, longer each time; None where there is
    nothing more to find: a single sheet, or as long as it goes."""
    stock = layout.job.stock
    known = next((c for c in plan.cutting.closer if c.id == stock), None)
    if layout.bought < 2 or (known is not None and known.work == LONGEST):
        return None
    if known is not None:
        return SetValue(path=("cutting", "closer", stock, "work"), value=LONGEST)
    return AddThing(path=("cutting", "closer"), value={"id": stock, "work": LONGER})
