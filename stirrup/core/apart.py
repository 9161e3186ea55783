"""Taking her apart: what comes out or off, in which order and why, and what goes back on, reversed.

Minutes are starting values. What stays in its place is not in the list.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

from stirrup.core.bodies.existing import Existing
from stirrup.core.bodies.fate import FATES
from stirrup.core.bodies.item import ItemBase
from stirrup.core.fit.taken_out import DID, HOW, hours_out
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import is_gone
from stirrup.core.record import dataclass

OFF_MIN, KG_MIN = 12.0, 0.5  # to undo and carry away a thing, and more for each kg of it
BACK = 1.3  # of that to put it back, bedded and aligned
# after things: what is over the rest first, what carries the bottom last, and one at a time
STRUCTURE = ("deck", "lip", "well", "thwart", "other", "foam", "knee", "bulkhead", "rib", "stringer")
OVER = "it lies over what comes next"
BRACE = ("thwart", "rib", "stringer", "lip", "bulkhead", "deck", "knee")


@dataclass(frozen=True)
class Release:
    """One thing that is released: its number in the order, what it is, why it comes there, how it is
    undone; back: it goes back on; bag: what is kept with it; hours; what it weighs [kg], 0 where nobody
    said; then: what becomes of what does not come back, and what it brings."""

    number: int
    id: str
    title: str
    why: str
    how: str
    back: bool
    bag: str
    hours: float
    weighs: float
    then: str = ""
    brings: Decimal | None = None


@dataclass(frozen=True)
class Apart:
    """Out in this order, and back on in that; brace: before the first piece of structure goes."""

    out: tuple[Release, ...]
    back: tuple[Release, ...]
    brace: bool

    @property
    def brings(self) -> Decimal:
        """What is sold of it."""
        return sum((r.brings for r in self.out if r.brings is not None), Decimal(0))

    @property
    def hours(self) -> float:
        """Of both [h]."""
        return sum(r.hours for r in (*self.out, *self.back))


def _then(thing: ItemBase | Existing) -> tuple[str, Decimal | None]:
    return FATES[thing.becomes], thing.brings if thing.becomes == "sold" else None


def _things(plan: Plan) -> Iterator[tuple[tuple[float, float, str], Release]]:
    """Items that go or come off, with what they are sorted by: their kind's turn, then the highest."""
    for item in plan.items:
        off = item.stage == "found" and (item.off or item.was is not None)
        if not isinstance(item, ItemBase) or not (off or is_gone(item)):
            continue
        kind, kg = kind_of(item), item.mass.value
        hours = (OFF_MIN + KG_MIN * kg) / 60
        how = "Undo it, and label wires, hoses and sides."
        if off and item.was is not None:
            how += " It goes back on elsewhere."
        how = how if off else "Undo it; it does not come back."
        yield ((kind.release, -item.mass.centre[2], item.id),
               Release(0, item.id, item.title, kind.released_because or OVER, how, off, item.bag, hours,
                       kg, *(("", None) if off else _then(item))))  # fmt: skip


def _structure(plan: Plan) -> Iterator[tuple[tuple[float, float, str], Release]]:
    for piece in plan.existing:
        if is_gone(piece):
            yield ((STRUCTURE.index(piece.kind), -piece.extent.z[1], piece.id),
                   Release(0, piece.id, piece.title, DID[piece.kind], HOW[piece.held], False, "",
                           hours_out(piece), piece.weighs, *_then(piece)))  # fmt: skip


def _braces(pieces: tuple[Existing, ...]) -> bool:
    """Whether what goes kept her shape."""
    return any(is_gone(p) and p.kind in BRACE for p in pieces)


def apart(plan: Plan) -> Apart:
    """What comes out of her, numbered: things first, then structure; and what goes back on, the last one
    off first, with the number of its bag."""
    rows = [
        *sorted(_things(plan), key=lambda row: row[0]),
        *sorted(_structure(plan), key=lambda row: row[0]),
    ]
    out = tuple(replace(release, number=k) for k, (_, release) in enumerate(rows, start=1))
    back = tuple(replace(r, hours=r.hours * BACK) for r in reversed(out) if r.back)
    return Apart(out, back, _braces(plan.existing))
