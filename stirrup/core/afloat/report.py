"""What is said about a floating position: the figures of `./run float`, with spreads."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import asdict

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.gauges import first_wet, heights, plane_size, righting_moment, spreads
from stirrup.core.afloat.ledger import Load
from stirrup.core.document import Point
from stirrup.core.record import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Spread:
    """1 sigma, to first order, of the figures of the same names."""

    mass_kg: float
    trim_deg: float
    list_deg: float
    freeboard_least_m: float


@dataclass(frozen=True)
class FloodHeight:
    name: str
    height_m: float


@dataclass(frozen=True)
class WaterIn:
    """How far she may heel from where she sits until water comes in, and where it does."""

    heel_deg: float
    name: str
    side: str


def water_in(sheers: Array, floods: Sequence[tuple[str, Point]], state: State) -> WaterIn | None:
    """The least heel that brings the sheer (n, 3) or an opening down to the water.

    Turned about the fore-and-aft axis through the middle of the waterplane, the volume under
    water stays the same to first order; a point at height h over the water and y to the side of
    that axis reaches it at atan(h / |y|). Screening: the righting curve has the exact figure.
    Source: geometry of a turn; equal volumes: Euler's theorem.
    """
    points = np.concatenate([sheers, [at for _, at in floods]]) if floods else sheers
    k, heel, aside = first_wet(points, state.n, state.d, state.cut.first / state.cut.area_m2)
    if k < 0:
        return None
    name = "the sheer" if k < len(sheers) else floods[k - len(sheers)][0]
    return WaterIn(math.degrees(heel), name, "port" if aside > 0 else "starboard")


@dataclass(frozen=True)
class FloatReport:
    """One load case afloat. Bow up and port down are positive; units in the names."""

    case: str
    mass_kg: float
    centre_m: Point
    volume_m3: float
    buoyancy_centre_m: Point
    waterplane_at_origin_m: float
    trim_deg: float
    list_deg: float
    draft_at_origin_m: float
    gm_transverse_m: float
    gm_longitudinal_m: float
    freeboard_least_m: float
    freeboard_least_at_m: Point
    freeboard_bow_m: float
    sink_10mm_kg: float
    trim_10mm_kgm: float
    list_1deg_kgm: float
    spread: Spread
    free_surface_m: float
    floods: tuple[FloodHeight, ...]
    waterline_length_m: float = 0.0
    waterline_beam_m: float = 0.0
    water_in: WaterIn | None = None

    def as_json(self) -> dict[str, object]:
        """The object that `./run float --json` prints (see the build file's documentation)."""
        record = asdict(self)
        for key in ("waterline_length_m", "waterline_beam_m", "water_in"):
            del record[key]
        return record


def _point(values: Array) -> Point:
    return (float(values[0]), float(values[1]), float(values[2]))


def _metacentric(state: State, mass: float, axis: int) -> float:
    """GM about the projection of a boat axis on the water plane, the other angle held [m]."""
    density_area, cut = float(state.rigid_stiffness[0, 0]), state.cut
    density = density_area / cut.area_m2
    return righting_moment(density, cut.area_m2, cut.first, cut.second, state.q, state.n, axis) / mass


def _gm(state: State, load: Load) -> tuple[float, float, float]:
    """GM across and lengthwise with the free surfaces taken off, and what these take off across [m]."""
    mass = load.mass_kg
    gm_t, gm_l = _metacentric(state, mass, 0), _metacentric(state, mass, 1)
    loose = [x for x in load.liquids if x.loose]
    rise = sum(x.density * x.transverse_i_m4 for x in loose) / mass
    gm_l -= sum(x.density * x.longitudinal_i_m4 for x in loose) / mass
    return gm_t - rise, gm_l, rise


def _spread(state: State, load: Load, lowest: Array) -> Spread:
    """1 sigma of mass, trim, list and of the freeboard at the lowest point of the sheers (3,)."""
    trim, heel, board = spreads(state.trim, state.heel, state.stiffness, load.covariance, lowest).tolist()
    mass = math.sqrt(max(float(load.covariance[0, 0]), 0.0))
    return Spread(mass, math.degrees(trim), math.degrees(heel), board)


def float_report(
    case: str,
    state: State,
    load: Load,
    sheers: Array,
    floods: tuple[tuple[str, Point], ...] = (),
) -> FloatReport:
    """All figures of one equilibrium.

    sheers: (2n, 3) points of the port sheer, then of the starboard sheer, aft to fore [m].
    """
    mass, n = load.mass_kg, state.n
    gm_t, gm_l, rise = _gm(state, load)
    boards = heights(sheers, n, state.d)
    low, half = int(np.argmin(boards)), len(sheers) // 2
    length, beam = plane_size(state.cut.edge_from, state.cut.edge_to, n)
    density = float(state.rigid_stiffness[0, 0]) / state.cut.area_m2
    return FloatReport(
        case=case,
        mass_kg=mass,
        centre_m=_point(state.moment / mass),
        volume_m3=state.cut.volume_m3,
        buoyancy_centre_m=_point(state.cut.moment / state.cut.volume_m3),
        waterplane_at_origin_m=state.d / float(n[2]),
        trim_deg=math.degrees(state.trim),
        list_deg=math.degrees(state.heel),
        draft_at_origin_m=state.d,
        gm_transverse_m=gm_t,
        gm_longitudinal_m=gm_l,
        freeboard_least_m=float(boards[low]),
        freeboard_least_at_m=_point(sheers[low]),
        freeboard_bow_m=min(float(boards[half - 1]), float(boards[-1])),
        sink_10mm_kg=density * state.cut.area_m2 * 0.01,
        trim_10mm_kgm=mass * gm_l * 0.01 / length,
        list_1deg_kgm=mass * gm_t * math.sin(math.radians(1)),
        spread=_spread(state, load, sheers[low]),
        free_surface_m=rise,
        floods=tuple(FloodHeight(name, float(np.array(at) @ n) - state.d) for name, at in floods),
        waterline_length_m=length,
        waterline_beam_m=beam,
        water_in=water_in(sheers, floods, state),
    )
