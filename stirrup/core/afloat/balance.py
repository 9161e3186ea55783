"""Energy, gradient and stiffness of a floating position, compiled like the integrals.

The formulas are those of equilibrium.py; here they are written out in components, because
a search evaluates them a dozen times for each load case.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.loops import compiled

Array = NDArray[np.float64]


@compiled()
def up_vector(trim: float, heel: float) -> Array:
    """n = (sin t, -cos t sin h, cos t cos h) for trim and heel [rad], shape (3,)."""
    ct = math.cos(trim)
    return np.array([math.sin(trim), -ct * math.sin(heel), ct * math.cos(heel)])


@compiled()
def up_derivatives(trim: float, heel: float) -> tuple[Array, Array]:
    """First (2, 3) and second (2, 2, 3) derivatives of n by (trim, heel)."""
    st, ct, sh, ch = math.sin(trim), math.cos(trim), math.sin(heel), math.cos(heel)
    first = np.array([[ct, st * sh, -st * ch], [0.0, -ct * ch, -ct * sh]])
    second = np.empty((2, 2, 3))
    second[0, 0] = np.array([-st, ct * sh, -ct * ch])
    second[0, 1] = second[1, 0] = np.array([0.0, st * ch, st * sh])
    second[1, 1] = np.array([0.0, ct * sh, -ct * ch])
    return first, second


@compiled()
def balance(
    density: float,
    mass: float,
    moment: Array,
    slosh: Array,
    position: Array,
    volume: float,
    volume_moment: Array,
    area: float,
    plane_first: Array,
    plane_second: Array,
) -> tuple[float, Array, Array, Array, Array]:
    """Energy over g, gradient (3,), stiffness (3, 3), the same without the tanks' free
    surfaces, and q = Σ m r - ρ ∫ r dV (3,), at position (d, trim, heel).

    moment: Σ m r of everything, liquids included (3,) [kg·m]; slosh: Σ ρt J of the free
    surfaces (3, 3) [kg·m]; the rest are the integrals of the clipped hull.
    """
    d, trim, heel = position[0], position[1], position[2]
    n = up_vector(trim, heel)
    one, two = up_derivatives(trim, heel)
    q = moment - density * volume_moment
    buoyancy = density * volume
    gradient = np.empty(3)
    rigid = np.empty((3, 3))
    full = np.empty((3, 3))
    gradient[0] = buoyancy - mass
    rigid[0, 0] = full[0, 0] = density * area
    for i in range(2):
        gradient[i + 1] = one[i, 0] * q[0] + one[i, 1] * q[1] + one[i, 2] * q[2]
        side = 0.0
        for a in range(3):
            side += one[i, a] * plane_first[a]
        rigid[0, i + 1] = rigid[i + 1, 0] = -density * side
        full[0, i + 1] = full[i + 1, 0] = -density * side
        for j in range(2):
            stiff, loose = 0.0, 0.0
            for a in range(3):
                stiff += q[a] * two[i, j, a]
                for b in range(3):
                    stiff += density * one[i, a] * plane_second[a, b] * one[j, b]
                    loose += one[i, a] * slosh[a, b] * one[j, b]
            rigid[i + 1, j + 1] = stiff
            full[i + 1, j + 1] = stiff - loose
    energy = n[0] * q[0] + n[1] * q[1] + n[2] * q[2] + d * (buoyancy - mass)
    return energy, gradient, full, rigid, q


@compiled()
def downhill(stiffness: Array, gradient: Array) -> tuple[bool, Array]:
    """-K⁻¹ g by Cholesky's factors; False when K (n, n) is not positive definite."""
    n = len(gradient)
    low = np.zeros((n, n))
    step = np.zeros(n)
    for i in range(n):
        for j in range(i + 1):
            rest = stiffness[i, j]
            for k in range(j):
                rest -= low[i, k] * low[j, k]
            if i == j:
                if rest <= 0.0:
                    return False, step
                low[i, i] = math.sqrt(rest)
            else:
                low[i, j] = rest / low[j, j]
    for i in range(n):
        rest = -gradient[i]
        for k in range(i):
            rest -= low[i, k] * step[k]
        step[i] = rest / low[i, i]
    for i in range(n - 1, -1, -1):
        rest = step[i]
        for k in range(i + 1, n):
            rest -= low[k, i] * step[k]
        step[i] = rest / low[i, i]
    return True, step
