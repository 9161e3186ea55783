"""The search for a floating position as one compiled loop.

The same damped Newton as in equilibrium.py, evaluation for evaluation; it hands back only where it came
to rest. What it cannot do (a tank whose liquid meets floor or lid, a saddle to fall off) it leaves to
that one: it says so, and nothing is lost but its own few microseconds.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.balance import balance, downhill, up_vector
from stirrup.core.hull.integrals import clipped
from stirrup.core.loops import compiled

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

MOST_STEPS, LEAST_SCALE = 200, 1e-6


@compiled()
def settled(tanks: Array, n: Array) -> tuple[bool, Array, Array]:
    """Σ m r of the tanks' liquids (3,) [kg·m] and Σ ρ J of their surfaces (3, 3) [kg·m]; False when a
    surface meets more than the four walls. tanks: (k, 9) of length, breadth of a cell, height, fill,
    density, cells, floor's middle (3,). Source: wedge integrals, see liquid.py."""
    moment, slosh = np.zeros(3), np.zeros((3, 3))
    for k in range(tanks.shape[0]):
        length, breadth, height, fill, density, cells = tanks[k, :6]
        depth = fill * height
        mass = density * length * breadth * cells * depth
        cx, cy, cz = 0.0, 0.0, depth / 2
        if 0 < fill < 1:
            if n[2] <= 0:
                return False, moment, slosh
            sx, sy = -n[0] / n[2], -n[1] / n[2]
            swing = (abs(sx) * length + abs(sy) * breadth) / 2
            if depth - swing < 0 or depth + swing > height:
                return False, moment, slosh
            kx, ky = length**2 / 12, breadth**2 / 12
            cx, cy = sx * kx / depth, sy * ky / depth
            cz = (depth**2 + sx**2 * kx + sy**2 * ky) / 2 / depth
            share = density * cells * length * breadth / n[2]
            slosh[0, 0] += share * kx
            slosh[1, 1] += share * ky
            slosh[0, 2] += share * kx * sx
            slosh[2, 0] += share * kx * sx
            slosh[1, 2] += share * ky * sy
            slosh[2, 1] += share * ky * sy
            slosh[2, 2] += share * (kx * sx**2 + ky * sy**2)
        moment[0] += mass * (tanks[k, 6] + cx)
        moment[1] += mass * (tanks[k, 7] + cy)
        moment[2] += mass * (tanks[k, 8] + cz)
    return True, moment, slosh


@compiled()
def _held(
    vertices: Array, triangles: Ints, tanks: Array, density: float, mass: float, rigid: Array, at: Array
) -> tuple[bool, float, Array, Array]:
    """Energy, gradient and stiffness at (d, trim, heel)."""
    n = up_vector(at[1], at[2])
    done, liquids, slosh = settled(tanks, n)
    volume, moment, area, first, second, _, _ = clipped(vertices, triangles, n, at[0])
    energy, gradient, full, _, _ = balance(
        density, mass, rigid + liquids, slosh, at, volume, moment, area, first, second
    )
    return done, energy, gradient, full


@compiled()
def descended(
    vertices: Array,
    triangles: Ints,
    tanks: Array,
    density: float,
    mass: float,
    rigid: Array,
    start: Array,
    limits: Array,
    tolerance: float,
) -> tuple[bool, Array]:
    """Where a damped Newton from `start` comes to rest, and whether it did by itself.

    start: d, trim, heel [m, rad]; limits: longest step of each; the first len(limits) are free; rigid:
    Σ m r of all but the liquids (3,) [kg·m]; tolerance: of the gradient, as a share of the mass.
    """
    free = len(limits)
    at = start.copy()
    done, energy, gradient, stiffness = _held(vertices, triangles, tanks, density, mass, rigid, at)
    for _ in range(MOST_STEPS):
        if not done:
            return False, at
        size = np.abs(gradient[:free]).max()
        if size <= tolerance * mass:
            return True, at
        definite, step = downhill(stiffness[:free, :free].copy(), gradient[:free].copy())
        if not definite:
            return False, at
        step /= max(1.0, (np.abs(step) / limits).max())
        slope = 0.0
        for i in range(free):
            slope += step[i] * gradient[i]
        scale = 1.0
        while True:
            trial = at.copy()
            for i in range(free):
                trial[i] += scale * step[i]
            done, now, new, stiff = _held(vertices, triangles, tanks, density, mass, rigid, trial)
            if not done:
                return False, at
            # near the minimum the energy is flat to rounding: then the gradient decides
            better = now <= energy + 1e-4 * scale * slope
            calmer = np.abs(new[:free]).max() <= 0.5 * size
            if better or (calmer and abs(slope) < 1e-9 * mass) or scale < LEAST_SCALE:
                break
            scale /= 2
        at, energy, gradient, stiffness = trial, now, new, stiff
    return False, at
