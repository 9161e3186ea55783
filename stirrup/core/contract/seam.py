"""A welded seam: where it runs, how long and large it is, how it is laid."""

from __future__ import annotations

from typing import Literal

from stirrup.core.document import Point
from stirrup.core.record import dataclass

LEG_M = 0.004  # of a fillet in the sheets that boats are rebuilt of: working value

How = Literal["stitched", "all round"]


@dataclass(frozen=True)
class Seam:
    """One seam of a thing. label: of the part that it holds; path: along it, for what its heat reaches;
    long: all of it, both sides counted once [m]; stitched: in steps on both sides in turn, all round:
    tight, from outside; leg: of its fillet [m]."""

    label: str
    words: str
    path: tuple[Point, ...]
    long: float
    how: How = "stitched"
    leg: float = LEG_M

    @property
    def middle(self) -> Point:
        """Mean of its path's points."""
        n = len(self.path)
        x, y, z = (sum(p[k] for p in self.path) / n for k in range(3))
        return (x, y, z)
