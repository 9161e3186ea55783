"""How far a flat panel gives under somebody: a plate that lies on its four edges, by Navier's series."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from stirrup.core.parts.entries import Sheet

Array = NDArray[np.float64]
PERSON_N = 110.0 * 1.2 * 9.81  # for feel: a heavy person with a share for moving
PATCH_M = (0.10, 0.20)  # a foot or a seat bone on it
POISSON = 0.3
TERMS = 25  # odd ones each way; the sum is good to a tenth of a percent by then
SOLID, FINE, SPRINGY = 120.0, 80.0, 60.0  # of the short span


def stiffness_nm(sheet: Sheet) -> float | None:
    """Bending stiffness of a plate D = E t³ / 12 (1 - ν²) [N m]; None where E is not known."""
    e = sheet.stuff.e_gpa
    return None if e is None else e * 1e9 * sheet.thickness**3 / (12 * (1 - POISSON**2))


@lru_cache(maxsize=400)
def given_m(a: float, b: float, stiffness: float, force: float = PERSON_N,
            patch: tuple[float, float] = PATCH_M, held: float = 0.0) -> float:  # fmt: skip
    """Deflection in the middle of a plate a x b on its four edges under a patch there [m].

    held: how far the two edges of length b are kept from turning, 0 laid on, 1 clamped; a skin that runs
    on over a member is between, 0.5. A lid on landings gets no help from its edges as a membrane.
    Source: Navier's double series for a simply supported plate, and moments along two edges that turn
    them back, Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, sections 34 and 41.
    """
    u, v = min(patch[0], a), min(patch[1], b)
    odd = np.arange(1, 2 * TERMS, 2)
    m, n = odd[:, None], odd[None, :]
    load = np.sin(m * math.pi * u / (2 * a)) * np.sin(n * math.pi * v / (2 * b)) / (m * n)
    part = 16 * force / (math.pi**6 * stiffness * u * v) * load / (m * m / a**2 + n * n / b**2) ** 2
    free = float(part.sum())
    return free - held * _turned_back_m(part, a, b) if held else free


def _turned_back_m(part: Array, a: float, b: float) -> float:
    """What moments along both edges of length b take off the middle, that turn them level again [m].

    part: Navier's terms (m, n). For each wave along b: w = C (βx sinh βx - βh tanh βh cosh βx), x from the
    middle, h = a / 2; its slope at the edge is that of the plate laid on.
    """
    odd = np.arange(1, 2 * TERMS, 2)
    sign = np.where(odd % 4 == 1, 1.0, -1.0)
    slope = (part * (sign * odd)[:, None]).sum(axis=0) * math.pi / a
    # a wave so short that it does not reach the middle takes nothing off there
    bh = np.minimum(odd * math.pi * a / (2 * b), 300.0)
    c = slope / (odd * math.pi / b * (np.sinh(bh) + bh / np.cosh(bh)))
    return float((c * bh * np.tanh(bh)).sum())


def stretched_m(linear: float, thickness: float) -> float:
    """Deflection of a plate whose edges cannot draw in, riveted or screwed all round [m].

    linear: that of the same plate by bending alone. It pulls tight: w (1 + 1.5 (w / t)²) = w linear, by
    Berger's approximation with one half wave each way (H. M. Berger, J. Appl. Mech. 22, 1955).
    """
    # Cardano: one real root, as both terms grow
    p, q = thickness**2 / 1.5, linear * thickness**2 / 1.5
    root = math.sqrt((q / 2) ** 2 + (p / 3) ** 3)
    return math.cbrt(q / 2 + root) - math.cbrt(root - q / 2)
