"""Something that takes up room, and its name as part of a sentence."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from stirrup.core.kept import kept_property
from stirrup.core.record import dataclass
from stirrup.core.space.many import Batch, Pieces
from stirrup.core.space.shapes import Shape, bounds_of, meet, meeting

# what a solid is to the others: a skin with its members, an upright panel, a lid in a skin, a body
# that stands there, what a tank holds, structure of the boat
Role = Literal["floor", "wall", "lid", "body", "tank", "structure"]


@dataclass(frozen=True)
class Solid:
    """Something that takes up room: whose, what it is to the others, its shape.

    pieces: what it is made of where the shape is only the room around it; it is in the way of what
    meets one of them, and clear of what is clear of the shape. company: bodies of the same company
    may reach into one another's room. lent: somebody may be where it is, as on a seat; clear: one
    looks through it.
    """

    id: str
    role: Role
    name: str
    shape: Shape
    company: str = ""
    pieces: Sequence[Shape] = ()
    lent: bool = False
    clear: bool = False

    @property
    def fixed(self) -> bool:
        """Whether it stays where it is when something else is in its way."""
        return self.role not in ("body", "tank")

    @property
    def carcass(self) -> bool:
        """Whether it is built into the boat and stays."""
        return self.role in ("floor", "wall")

    @property
    def stands(self) -> bool:
        """Whether it stands in the boat, rather than being a skin, panel or lid that is built in."""
        return self.role in ("body", "tank", "structure")

    @property
    def movable(self) -> bool:
        """Whether it can be moved as a whole."""
        return self.role in ("body", "tank", "lid")

    @kept_property
    def _boxes(self) -> NDArray[np.float64]:
        """(n, 6) bounds of what it is made of."""
        return bounds_of(self.pieces or (self.shape,))

    def _batches(self) -> Iterable[Batch]:
        """What it is made of, what is at hand first; where it is whole, that is itself."""
        if isinstance(self.pieces, Pieces):
            return self.pieces.batches()
        return ((self._boxes, self.pieces or (self.shape,)),)

    def meets(self, other: Shape) -> bool:
        """Whether something stands in what this is made of, not only in the room around it."""
        if not self.pieces:
            return True
        there = bounds_of((other,))
        return any(
            meet(other, mine[k]) for boxes, mine in self._batches() for k, _ in meeting(boxes, there)
        )

    def reaches_into(self, other: Solid) -> bool:
        """Whether something that this is made of stands in something that another is made of; where the
        other is whole, or this one, that is what it is made of."""
        return any(
            meet(mine[i], others[k])
            for boxes, mine in self._batches()
            for there, others in other._batches()
            for i, k in meeting(boxes, there)
        )

    def pieces_in(self, others: Sequence[Shape]) -> int:
        """How many of the bodies that this is made of stand in one of some shapes."""
        count, there = 0, bounds_of(others)
        for boxes, mine in self._batches():
            found: set[int] = set()
            for i, k in meeting(boxes, there):
                if i not in found and meet(mine[i], others[k]):
                    found.add(i)
            count += len(found)
        return count
