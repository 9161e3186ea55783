"""Every figure of a floating position with its spread and its working."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Input, Quantity, Working
from stirrup.core.hull.mesh import AFT, HullSurface
from stirrup.core.kept import kept_property
from stirrup.core.record import dataclass
from stirrup.core.units import INCH_M

Array = NDArray[np.float64]

SPREAD_OF_MASS = (
    "sum of the weight ledger; two times in three she weighs within the spread. Errors that "
    "parts share (one stock, one item) are added up, all others by their squares; people "
    "count with 5 %, contents of tanks with 5 % of the tank."
)
EXACT = "equilibrium of weight and buoyancy, exact for the hull's mesh"


@dataclass(frozen=True)
class Figure:
    """One figure: key, name, value, 1 sigma where it is carried, how it comes about."""

    key: str
    name: str
    value: Quantity
    spread: Quantity | None
    working: Working
    words: str = ""  # which way: "by the stern", "to port"


@dataclass(frozen=True)
class Depths:
    """Drafts square to the water [m]: deepest point, keel at the fore quarter of the
    waterline, and how deep the transom stands in the water."""

    deepest_m: float
    forward_m: float
    transom_m: float


def depths(state: State, surface: HullSurface) -> Depths:
    """Drafts of a position, from the outside mesh and the keel line."""
    outside = surface.outside
    under = state.d - outside.vertices @ state.n
    edge = np.concatenate([state.cut.edge_from, state.cut.edge_to])
    x = float(edge[:, 0].min() + 0.75 * np.ptp(edge[:, 0]))
    keel = surface.lines[0][0]
    point = np.array([x, 0.0, np.interp(x, keel[:, 0], keel[:, 2])])
    aft = outside.triangles[outside.groups == AFT].ravel()
    transom = float(under[aft].max()) if len(aft) else 0.0
    return Depths(float(under.max()), state.d - float(point @ state.n), max(0.0, transom))


TRIM_WORDS = (
    "She settles until the water pushes up straight under her weight; how far the keel line then slopes "
    "is the trim. Weight aft of where the water would hold her level lifts the bow."
)
LIST_WORDS = (
    "She leans until the water pushes up straight under her weight: weight to port puts the port side down."
)
GM_WORDS = (
    "How hard she comes back when she is leaned a little: the push of the water moves out faster than the "
    "weight does. Twice the GM, twice the effort to lean her."
)


def _kg(value: float) -> Quantity:
    return Quantity(value, "kg")


def _m(value: float) -> Quantity:
    return Quantity(value, "m")


def _deg(value: float) -> Quantity:
    return Quantity(value, "deg")


def _way(value: float, positive: str, negative: str) -> str:
    return "" if abs(value) < 0.05 else positive if value > 0 else negative


@dataclass(frozen=True)
class _Afloat:
    """A position and what its figures are worked out from."""

    report: FloatReport
    state: State
    surface: HullSurface
    density: float

    @kept_property
    def deep(self) -> Depths:
        return depths(self.state, self.surface)

    @property
    def mass(self) -> Input:
        return Input("displacement m", _kg(self.report.mass_kg), "ledger")

    @property
    def water(self) -> Quantity:
        return Quantity(self.density, "kg/m3")

    @property
    def centres(self) -> tuple[Input, ...]:
        """Where weight and buoyancy act: along her, then across."""
        (gx, gy, _), (bx, by, _) = self.report.centre_m, self.report.buoyancy_centre_m
        return (
            Input("weight (G), from transom", _m(gx), "ledger"),
            Input("push of the water (B), from transom", _m(bx)),
            Input("weight (G), to port", _m(gy), "ledger"),
            Input("push of the water (B), to port", _m(by)),
        )

    @property
    def board(self) -> tuple[Input, ...]:
        """The lowest point of the sheers, then the attitude."""
        r = self.report
        x, y, z = r.freeboard_least_at_m
        return (
            Input("point: from transom", _m(x), "hull"),
            Input("to port", _m(y), "hull"),
            Input("above keel line", _m(z), "hull"),
            *self.attitude,
        )

    @property
    def attitude(self) -> tuple[Input, ...]:
        r = self.report
        return (
            Input("trim", _deg(r.trim_deg)),
            Input("list", _deg(r.list_deg)),
            Input("water over the keel line's origin", _m(r.draft_at_origin_m)),
        )


def _figure(
    key: str, name: str, value: Quantity, formula: str, inputs: tuple[Input, ...], source: str, *,
    spread: Quantity | None = None, words: str = "", explained: str = "", result: Quantity | None = None,
) -> Figure:  # fmt: skip
    """A figure whose working comes to it, or to `result` where it is shown without its sign."""
    working = Working(formula, inputs, result or value, source, explained)
    return Figure(key, name, value, spread, working, words)


def _attitude(at: _Afloat) -> list[Figure]:
    """Displacement, trim and list."""
    r, s = at.report, at.report.spread
    rise = math.tan(math.radians(r.trim_deg)) * r.waterline_length_m
    return [
        _figure("mass", "Displacement", _kg(r.mass_kg), "m = Σ mᵢ = ρ V",
                (Input("ρ, water", at.water, "plan"), Input("V under water", Quantity(r.volume_m3, "m3"))),
                SPREAD_OF_MASS, spread=_kg(s.mass_kg)),
        _figure("trim", "Trim", _deg(r.trim_deg), "trim = slope of the keel line against the water",
                at.centres, EXACT, spread=_deg(s.trim_deg), explained=TRIM_WORDS,
                words=_way(r.trim_deg, "bow up", "bow down")),
        _figure("trim_height", "Trim over the waterline", _m(abs(rise)), "Lwl · tan(trim)",
                (Input("Lwl", _m(r.waterline_length_m)), Input("trim", _deg(r.trim_deg))), "geometry",
                words=_way(r.trim_deg, "deeper aft", "deeper forward"), result=_m(rise)),
        _figure("list", "List", _deg(r.list_deg), "list = slope across her against the water",
                at.centres[2:], EXACT, spread=_deg(s.list_deg), explained=LIST_WORDS,
                words=_way(r.list_deg, "port down", "starboard down")),
    ]  # fmt: skip


def _freeboards(at: _Afloat) -> list[Figure]:
    """Freeboards and heights of openings above the water."""
    r = at.report
    side = "port side" if r.freeboard_least_at_m[1] > 0 else "starboard side"
    return [
        _figure("freeboard", "Least freeboard", _m(r.freeboard_least_m),
                "freeboard = height of the point over the water, least over both sheers",
                at.board, "screening, still water", spread=_m(r.spread.freeboard_least_m), words=side),
        _figure("bow", "Freeboard at the bow", _m(r.freeboard_bow_m),
                "height over the water of the lower of the foremost sheer points", at.attitude, EXACT),
        *(_figure(f"flood-{flood.name}", f"{flood.name.capitalize()} above water", _m(flood.height_m),
                  "height over the water of the opening's edge", at.attitude, EXACT)
          for flood in r.floods),
    ]  # fmt: skip


def _drafts(at: _Afloat) -> list[Figure]:
    """Depths under the water, square to it."""
    deep = at.deep
    return [
        _figure("draft", "Draft, deepest", _m(deep.deepest_m),
                "depth under the water of the deepest point of the hull", at.attitude, EXACT),
        _figure("draft_fore", "Draft forward", _m(deep.forward_m),
                "depth of the keel under the water, a quarter of the waterline from its fore end",
                at.attitude, EXACT),
        _figure("draft_origin", "Draft at the transom foot", _m(at.report.draft_at_origin_m),
                "depth of the keel line's origin under the water, square to it", at.attitude[:2], EXACT),
        _figure("transom", "Transom in the water", _m(deep.transom_m),
                "depth under the water of the lowest point of the transom", at.attitude, EXACT),
    ]  # fmt: skip


def _stiffness(at: _Afloat, small_m: float) -> list[Figure]:
    """GM and what it takes to sink and trim her by `small_m`, and to list her a degree."""
    r, mass = at.report, at.mass
    gz, bz = r.centre_m[2], r.buoyancy_centre_m[2]
    times, small = small_m / 0.01, "1 in" if small_m == INCH_M else f"{small_m * 1000:g} mm"
    return [
        _figure("gm", "GM, across", _m(r.gm_transverse_m), "GM = rotational stiffness / (m g) - ρ i / m",
                (mass, Input("G above keel line", _m(gz), "ledger"), Input("B above keel line", _m(bz)),
                 Input("second moment's BM", _m(r.gm_transverse_m + r.free_surface_m + gz - bz)),
                 Input("free surface", _m(r.free_surface_m))),
                "exact stiffness of the tilted water plane; free surface l b³/12 of each loose tank",
                explained=GM_WORDS),
        _figure("gm_long", "GM, lengthwise", _m(r.gm_longitudinal_m),
                "as across, about the athwartships axis", (mass,), EXACT),
        _figure("sink", f"To sink {small}", _kg(r.sink_10mm_kg * times), f"ρ · A · {small}",
                (Input("ρ", at.water, "plan"),
                 Input("A of the water plane", Quantity(at.state.cut.area_m2, "m2"))),
                "slice of water at the waterline"),
        _figure("trim10", f"Moment to trim {small}", Quantity(r.trim_10mm_kgm * times, "kg·m"),
                f"m · GM lengthwise · {small} / Lwl",
                (mass, Input("GM lengthwise", _m(r.gm_longitudinal_m)),
                 Input("Lwl", _m(r.waterline_length_m))), "small angles"),
        _figure("list1", "Moment to list 1°", Quantity(r.list_1deg_kgm, "kg·m"), "m · GM · sin 1°",
                (mass, Input("GM across", _m(r.gm_transverse_m))), "small angles"),
    ]  # fmt: skip


def _waterline(at: _Afloat) -> list[Figure]:
    r = at.report
    return [
        _figure("lwl", "Waterline length", _m(r.waterline_length_m),
                "extent of the cut water plane along her", (), EXACT),
        _figure("bwl", "Waterline beam", _m(r.waterline_beam_m),
                "extent of the cut water plane across", (), EXACT),
    ]  # fmt: skip


def figures(
    report: FloatReport, state: State, surface: HullSurface, density: float, small_m: float = 0.01
) -> tuple[Figure, ...]:
    """All figures of a case in the order they are read. small_m: what she is sunk and trimmed by [m]."""
    at = _Afloat(report, state, surface, density)
    return (*_attitude(at), *_freeboards(at), *_drafts(at), *_stiffness(at, small_m), *_waterline(at))
