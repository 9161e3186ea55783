"""Righting arm: held at a heel, free to sink and to trim."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

from stirrup.core.afloat.equilibrium import (
    State,
    equilibrium,
    held_at_heel,
    up_derivatives,
)
from stirrup.core.afloat.ledger import Load
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import Solid
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

Side = Literal["port", "starboard"]
DEFAULT_HEELS = tuple(float(h) for h in range(0, 95, 5))
SEARCH_TO_DEG = 90.0
SEARCH_STEP_DEG = 5.0
AREA_STEP_DEG = 5.0
HOP_DEG = 7.5  # longest change of heel between two held positions


@dataclass(frozen=True)
class RightingCurve:
    """heel_deg and gz_m of equal length; angles null where there is none up to 90 degrees.

    area_m_rad: under the curve from upright to flooding, or to the range when that comes
    first, or to 90 degrees; null when the angles were not asked for.
    """

    case: str
    heel_deg: tuple[float, ...]
    gz_m: tuple[float, ...]
    flooding_deg: float | None
    range_deg: float | None
    area_m_rad: float | None = None
    side: Side = "port"  # to which she is heeled; the heels count positive to it


@dataclass(frozen=True)
class BothSides:
    """Heeled to port and to starboard: boats, openings and loads are rarely alike."""

    port: RightingCurve
    starboard: RightingCurve

    @property
    def worse(self) -> RightingCurve:
        """The side on which less holds her up: the smaller area, then the earlier flooding."""

        def held(curve: RightingCurve) -> tuple[float, float]:
            area = math.inf if curve.area_m_rad is None else curve.area_m_rad
            return round(area, 9), 180.0 if curve.flooding_deg is None else curve.flooding_deg

        return min((self.port, self.starboard), key=held)

    @property
    def alike(self) -> bool:
        """Whether both sides give the same to what anybody could tell apart."""
        a, b = self.port, self.starboard
        areas = (a.area_m_rad or 0.0) - (b.area_m_rad or 0.0)
        return abs(areas) < 5e-4 and max(abs(p - q) for p, q in zip(a.gz_m, b.gz_m, strict=True)) < 5e-4


def mirrored_load(load: Load) -> Load:
    """The load with port and starboard exchanged."""
    turn = np.array([1.0, 1.0, -1.0, 1.0])  # of (Σm, Σm x, Σm y, Σm z)
    liquids = tuple(
        replace(x, floor_centre=(x.floor_centre[0], -x.floor_centre[1], x.floor_centre[2]))
        for x in load.liquids
    )
    return Load(load.rigid_kg, load.moment * turn[1:], load.covariance * np.outer(turn, turn), liquids)


def mirrored_solid(solid: Solid) -> Solid:
    """The solid with port and starboard exchanged, still outward oriented."""
    across = np.array([1.0, -1.0, 1.0])
    return Solid(solid.vertices * across, solid.triangles[:, ::-1].copy(), solid.groups, solid.diagonals)


def both_sides(
    case: str,
    solid: Solid,
    load: Load,
    density: float,
    sheers: Array,
    floods: tuple[tuple[str, Point], ...] = (),
    heels_deg: Sequence[float] = DEFAULT_HEELS,
) -> BothSides:
    """The curve to port, and that of the mirrored boat, which is hers to starboard.

    Raises NoEquilibriumError, CoreError as `righting_curve` does.
    """
    port = righting_curve(case, solid, load, density, sheers, floods, heels_deg)
    other = righting_curve(
        case, mirrored_solid(solid), mirrored_load(load), density, sheers * np.array([1.0, -1.0, 1.0]),
        tuple((name, (x, -y, z)) for name, (x, y, z) in floods), heels_deg,
    )  # fmt: skip
    return BothSides(port, replace(other, side="starboard"))


def righting_arm_m(state: State, mass_kg: float) -> float:
    """GZ [m], positive when it reduces a positive heel: q·n_h / (m cos t).

    n_h has length cos t; with the trim in balance q·n_h is all of the horizontal couple.
    """
    first, _ = up_derivatives(state.trim, state.heel)
    return float(first[1] @ state.q) / (mass_kg * math.cos(state.trim))


class _Walk:
    """Held positions by heel, each found from the nearest one known."""

    def __init__(self, solid: Solid, load: Load, density: float) -> None:
        self.solid, self.load, self.density = solid, load, density
        self.stable = equilibrium(solid, load, density)
        self.known = {math.degrees(self.stable.heel): self.stable}

    def at(self, heel_deg: float) -> State:
        """The boat held at this heel [deg]."""
        if heel_deg in self.known:
            return self.known[heel_deg]
        near = min(self.known, key=lambda h: abs(h - heel_deg))
        hops = max(1, math.ceil(abs(heel_deg - near) / HOP_DEG))
        state = self.known[near]
        for k in range(1, hops + 1):
            heel = near + (heel_deg - near) * k / hops if k < hops else heel_deg
            state = held_at_heel(self.solid, self.load, self.density, state, math.radians(heel))
            self.known[heel] = state
        return state

    def gz(self, heel_deg: float) -> float:
        """Righting arm at this heel [m]."""
        return righting_arm_m(self.at(heel_deg), self.load.mass_kg)


def _first_fall(f: Callable[[float], float], start: float, end: float) -> float | None:
    """First root of f from above zero to below, by a scan in steps and Brent's method."""
    for low, high in pairwise(_marks(start, end, SEARCH_STEP_DEG)):
        if f(low) > 0 >= f(high):
            return float(scipy.optimize.brentq(f, low, high, xtol=1e-7))
    return None


def _marks(start: float, end: float, step: float) -> list[float]:
    """start, the multiples of step between, end: whoever asks meets positions known already."""
    first, last = math.floor(start / step + 1e-9) + 1, math.ceil(end / step - 1e-9)
    return [start, *(step * k for k in range(first, last)), end]


def _area_m_rad(walk: _Walk, end_deg: float) -> float:
    """Area under the curve from upright to `end_deg` by Simpson's rule [m·rad]."""
    if end_deg <= 0.01:
        return 0.0
    heels = _marks(0.0, end_deg, AREA_STEP_DEG if end_deg > 2 * AREA_STEP_DEG else end_deg / 4)
    return float(scipy.integrate.simpson([walk.gz(h) for h in heels], x=np.radians(heels)))


def righting_curve(
    case: str,
    solid: Solid,
    load: Load,
    density: float,
    sheers: Array,
    floods: tuple[tuple[str, Point], ...] = (),
    heels_deg: Sequence[float] = DEFAULT_HEELS,
    with_angles: bool = True,
) -> RightingCurve:
    """GZ at the given heels (absolute, port down), flooding angle and range.

    Flooding: first immersion of a sheer or flood point when heeled from upright to port.
    Range: first fall of GZ through zero after the stable position, flooding ignored.
    Raises NoEquilibriumError when she does not float, CoreError for a bad heel.
    """
    for heel in heels_deg:
        if not -180 <= heel <= 180:
            raise CoreError(f"read {heel}; accepted: degrees from -180 to 180", "heels")
    walk = _Walk(solid, load, density)
    gz = {h: walk.gz(h) for h in sorted(heels_deg, key=abs)}
    flooding = vanishing = area = None
    if with_angles:
        points = np.concatenate([sheers, np.array([p for _, p in floods]).reshape(-1, 3)])

        def dry(heel_deg: float) -> float:
            state = walk.at(heel_deg)
            return float((points @ state.n).min()) - state.d

        end = max(SEARCH_TO_DEG, *heels_deg) if heels_deg else SEARCH_TO_DEG
        flooding = 0.0 if dry(0.0) <= 0 else _first_fall(dry, 0.0, end)
        balance = math.degrees(walk.stable.heel)
        vanishing = _first_fall(walk.gz, max(balance + 0.01, 0.0) + 1e-6, end)
        area = _area_m_rad(walk, min(x for x in (flooding, vanishing, 90.0) if x is not None))
    return RightingCurve(
        case,
        tuple(float(h) for h in heels_deg),
        tuple(gz[h] for h in heels_deg),
        flooding,
        vanishing,
        area,
    )
