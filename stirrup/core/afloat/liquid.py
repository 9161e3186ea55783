"""Liquid in a box tank: its surface stays parallel to the water outside."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.clip import cut
from stirrup.core.hull.mesh import Solid, box_solid
from stirrup.core.kept import kept_property
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

# between these fills the virtual rise of G is counted; docs/trade-rules.md, “Liquids”
FREE_SURFACE_FILLS = (0.03, 0.97)


@dataclass(frozen=True)
class Liquid:
    """Contents of one tank.

    size: along, across, up [m]; floor_centre [m]; fill above 0 to 1; density [kg/m3];
    cells: tight compartments across the breadth.
    """

    id: str
    name: str
    size: tuple[float, float, float]
    floor_centre: tuple[float, float, float]
    fill: float
    density: float
    cells: int = 1

    @property
    def mass_kg(self) -> float:
        length, breadth, height = self.size
        return self.fill * length * breadth * height * self.density

    @property
    def loose(self) -> bool:
        """Whether the surface counts in GM."""
        return FREE_SURFACE_FILLS[0] <= self.fill <= FREE_SURFACE_FILLS[1]

    @property
    def transverse_i_m4(self) -> float:
        """Second moment of the level surface about its own fore-and-aft axis: l b³/12 / cells²."""
        length, breadth, _ = self.size
        return length * breadth**3 / 12 / self.cells**2

    @property
    def longitudinal_i_m4(self) -> float:
        """The same about the athwartships axis: b l³/12, which partitions do not change."""
        length, breadth, _ = self.size
        return breadth * length**3 / 12

    @kept_property
    def _cell(self) -> Solid:
        length, breadth, height = self.size
        half = breadth / self.cells / 2
        return box_solid((-length / 2, -half, 0.0), (length / 2, half, height))

    def settle(self, n: Array) -> tuple[Array, Array]:
        """Centre of the liquid (3,) [m] and ρ-free surface second moment (3, 3) [m4].

        The second moment is ∫ (r - rc)(r - rc)ᵀ dA over the liquid's surface about its
        centroid; zero when full. n: unit up-vector of the water in boat axes.
        """
        length, whole, height = self.size
        breadth = whole / self.cells
        floor = np.array(self.floor_centre)
        if self.fill >= 1 or self.fill <= 0:
            return floor + np.array([0.0, 0.0, self.fill * height / 2]), np.zeros((3, 3))
        depth = self.fill * height
        if n[2] > 0:
            sx, sy = -n[0] / n[2], -n[1] / n[2]
            swing = (abs(sx) * length + abs(sy) * breadth) / 2
            if depth - swing >= 0 and depth + swing <= height:
                # the surface meets only the four walls: exact wedge integrals
                kx, ky = length**2 / 12, breadth**2 / 12
                centre = np.array([sx * kx, sy * ky, (depth**2 + sx**2 * kx + sy**2 * ky) / 2]) / [
                    depth,
                    depth,
                    depth,
                ]
                spread = np.array([[1.0, 0.0, sx], [0.0, 1.0, sy]])
                surface = length * breadth / n[2] * (spread.T @ np.diag([kx, ky]) @ spread)
                return floor + centre, surface * self.cells
        return self._settle_cut(n, floor)

    def _settle_cut(self, n: Array, floor: Array) -> tuple[Array, Array]:
        """Any attitude: find the plane that holds the volume, by bracketed Newton."""
        box = self._cell
        wanted = self.fill * box.volume_m3
        reach = box.vertices @ n
        low, high = float(reach.min()), float(reach.max())
        # where the surface would be if it met the four walls only: close by in small angles
        level = float(n[2]) * self.fill * self.size[2]
        if not low < level < high:
            level = low + self.fill * (high - low)
        part = cut(box, n, level)
        for _ in range(60):
            error = part.volume_m3 - wanted
            if abs(error) <= 1e-13 * box.volume_m3:
                break
            low, high = (level, high) if error < 0 else (low, level)
            step = level - error / part.area_m2 if part.area_m2 > 0 else low
            level = step if low < step < high else (low + high) / 2
            part = cut(box, n, level)
        middle = part.first / part.area_m2
        surface = part.second - part.area_m2 * np.outer(middle, middle)
        return floor + part.moment / part.volume_m3, surface * self.cells
