"""How far a flat panel gives under somebody: a plate that lies on its four edges, by Navier's series."""

from __future__ import annotations

import math
from functools import lru_cache

from stirrup.core.parts.entries import Sheet

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
            patch: tuple[float, float] = PATCH_M) -> float:  # fmt: skip
    """Deflection in the middle of a plate a x b on its four edges under a patch there [m].

    A lid on landings gets no help from its edges as a membrane. Source: Navier's double series for a
    simply supported plate, Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, section 34.
    """
    u, v = min(patch[0], a), min(patch[1], b)
    total = 0.0
    for m in range(1, 2 * TERMS, 2):
        for n in range(1, 2 * TERMS, 2):
            load = math.sin(m * math.pi * u / (2 * a)) * math.sin(n * math.pi * v / (2 * b)) / (m * n)
            total += load / (m * m / (a * a) + n * n / (b * b)) ** 2
    return 16 * force / (math.pi**6 * stiffness * u * v) * total


def stretched_m(linear: float, thickness: float) -> float:
    """Deflection of a plate whose edges cannot draw in, riveted or screwed all round [m].

    linear: that of the same plate by bending alone. It pulls tight: w (1 + 1.5 (w / t)²) = w linear, by
    Berger's approximation with one half wave each way (H. M. Berger, J. Appl. Mech. 22, 1955).
    """
    # Cardano: one real root, as both terms grow
    p, q = thickness**2 / 1.5, linear * thickness**2 / 1.5
    root = math.sqrt((q / 2) ** 2 + (p / 3) ** 3)
    return math.cbrt(q / 2 + root) - math.cbrt(root - q / 2)
