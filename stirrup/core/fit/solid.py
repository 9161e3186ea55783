"""Something that takes up room, and its name as part of a sentence."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from stirrup.core.fit.shapes import TOUCH_M, Shape, exits


@dataclass(frozen=True)
class Solid:
    """Something that takes up room: whose, what kind, its shape, the group of an item.

    pieces: what it is made of where the shape is only the room around it; it is in the way of what
    meets one of them, and clear of what is clear of the shape.
    """

    id: str
    kind: str  # "item", "tank", "deck", "face", "lid", "structure"
    name: str
    shape: Shape
    group: str = ""
    pieces: tuple[Shape, ...] = ()

    @cached_property
    def _boxes(self) -> NDArray[np.float64]:
        """(n, 6) bounds of the pieces."""
        return np.array([p.bounds for p in self.pieces])

    def meets(self, other: Shape) -> bool:
        """Whether something stands in what this is made of, not only in the room around it."""
        if not self.pieces:
            return True
        box = np.array(other.bounds)
        shared = np.minimum(self._boxes[:, 3:], box[3:]) - np.maximum(self._boxes[:, :3], box[:3])
        near = np.flatnonzero((shared > TOUCH_M).all(axis=1))
        return any(exits(other, self.pieces[k]) is not None for k in near)
