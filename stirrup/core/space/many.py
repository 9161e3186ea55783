"""Many small bodies at once: held as one array, each made an object only where something is near it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from typing import Generic, TypeVar, overload

import numpy as np
from numpy.typing import NDArray

from stirrup.core.document import Point
from stirrup.core.kept import kept_property
from stirrup.core.memo import ByIdentity
from stirrup.core.space.shapes import Shape, Swept, bounds_of

T = TypeVar("T")
Array = NDArray[np.float64]
Corners = tuple[Point, ...]
MIRRORED = np.array([1.0, -1.0, 1.0])
SWEPT = ByIdentity(4000)  # what stays where it is from one step to the next keeps its shapes


class _Each(Sequence[T], Generic[T]):
    """A sequence whose members are made when they are asked for, by their numbers from 0."""

    def _one(self, k: int) -> T:
        raise NotImplementedError

    @overload
    def __getitem__(self, k: int) -> T: ...

    @overload
    def __getitem__(self, k: slice) -> tuple[T, ...]: ...

    def __getitem__(self, k: int | slice) -> T | tuple[T, ...]:
        if isinstance(k, slice):
            return tuple(self._one(j) for j in range(*k.indices(len(self))))
        return self._one(k if k >= 0 else len(self) + k)


class Eights(_Each[Corners]):
    """Convex bodies of eight corners each, (n, 8, 3) [m], and a few of other numbers of corners."""

    def __init__(self, same: Array, odd: Sequence[Corners] = ()) -> None:
        self.same, self.odd = same, tuple(odd)

    def __len__(self) -> int:
        return len(self.same) + len(self.odd)

    def _one(self, k: int) -> Corners:
        if k >= len(self.same):
            return self.odd[k - len(self.same)]
        return tuple((x, y, z) for x, y, z in self.same[k].tolist())

    def mirrored(self) -> Eights:
        """The same on the other side of the middle."""
        return Eights(self.same * MIRRORED, [tuple((x, -y, z) for x, y, z in body) for body in self.odd])

    @kept_property
    def boxes(self) -> Array:
        """(n, 6) bounds of the bodies."""
        same = np.concatenate([self.same.min(axis=1), self.same.max(axis=1)], axis=1)
        return np.concatenate([same, bounds_of([Swept(body) for body in self.odd])])


def _swept(bodies: Sequence[Corners]) -> list[Swept]:
    return [Swept(tuple(body)) for body in bodies]


class _Bodies(_Each[Shape]):
    """Bodies that become shapes when somebody asks for one. boxes: (n, 6) bounds of all of them."""

    def __init__(self, bodies: Sequence[Sequence[Corners]]) -> None:
        many = [m for m in bodies if isinstance(m, Eights)]
        few = (m for m in bodies if not isinstance(m, Eights))
        alone = [one for m in few for one in SWEPT.get(m, None, partial(_swept, m))]
        self.boxes = np.concatenate([bounds_of(alone), *(m.boxes for m in many)])
        self._late = [(m, k) for m in many for k in range(len(m))]
        self._first = len(alone)
        self._made: list[Shape | None] = [*alone, *[None] * len(self._late)]

    def __len__(self) -> int:
        return len(self._made)

    def _one(self, k: int) -> Shape:
        shape = self._made[k]
        if shape is None:
            many, j = self._late[k - self._first]
            shape = self._made[k] = Swept(many[j])
        return shape


Batch = tuple[Array, Sequence[Shape]]  # (n, 6) bounds, and the shapes


class Pieces(_Each[Shape]):
    """What a thing is made of: shapes, and bodies that are worked out when the shapes alone do not tell."""

    def __init__(self, shapes: Sequence[Shape], bodies: Callable[[], Sequence[Sequence[Corners]]]) -> None:
        self._shapes, self._bodies = tuple(shapes), bodies

    @kept_property
    def _boxes(self) -> Array:
        return bounds_of(self._shapes)

    @kept_property
    def _rest(self) -> _Bodies:
        return _Bodies(self._bodies())

    def batches(self) -> Iterator[Batch]:
        """The shapes, then the bodies; who has seen enough does not ask for these."""
        yield self._boxes, self._shapes
        yield self._rest.boxes, self._rest

    def __bool__(self) -> bool:
        return bool(self._shapes) or bool(self._rest)

    def __len__(self) -> int:
        return len(self._shapes) + len(self._rest)

    def _one(self, k: int) -> Shape:
        first = len(self._shapes)
        return self._shapes[k] if k < first else self._rest[k - first]
