"""Every figure of a floating position with its spread and its working."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Input, Quantity, Working
from stirrup.core.hull.mesh import AFT, HullSurface

Array = NDArray[np.float64]

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


def figures(report: FloatReport, state: State, surface: HullSurface, density: float) -> tuple[Figure, ...]:
    """All figures of a case in the order they are read."""
    r, s, deep = report, report.spread, depths(state, surface)
    mass = Input("displacement m", _kg(r.mass_kg), "ledger")
    gx, gy, gz = r.centre_m
    bx, by, bz = r.buoyancy_centre_m
    area = state.cut.area_m2
    rise = math.tan(math.radians(r.trim_deg)) * r.waterline_length_m
    x, y, z = r.freeboard_least_at_m
    board = (
        Input("point: from transom", _m(x), "hull"),
        Input("to port", _m(y), "hull"),
        Input("above keel line", _m(z), "hull"),
        Input("trim", _deg(r.trim_deg)),
        Input("list", _deg(r.list_deg)),
        Input("water over the keel line's origin", _m(r.draft_at_origin_m)),
    )
    centre = (
        Input("weight (G), from transom", _m(gx), "ledger"),
        Input("push of the water (B), from transom", _m(bx)),
        Input("weight (G), to port", _m(gy), "ledger"),
        Input("push of the water (B), to port", _m(by)),
    )
    out = [
        Figure(
            "mass",
            "Displacement",
            _kg(r.mass_kg),
            _kg(s.mass_kg),
            Working(
                "m = Σ mᵢ = ρ V",
                (
                    Input("ρ, water", Quantity(density, "kg/m3"), "plan"),
                    Input("V under water", Quantity(r.volume_m3, "m3")),
                ),
                _kg(r.mass_kg),
                "sum of the weight ledger; two times in three she weighs within the spread. Errors that "
                "parts share (one stock, one item) are added up, all others by their squares; people "
                "count with 5 %, contents of tanks with 5 % of the tank.",
            ),
        ),
        Figure(
            "trim",
            "Trim",
            _deg(r.trim_deg),
            _deg(s.trim_deg),
            Working(
                "trim = slope of the keel line against the water",
                centre,
                _deg(r.trim_deg),
                EXACT,
                TRIM_WORDS,
            ),
            _way(r.trim_deg, "bow up", "bow down"),
        ),
        Figure(
            "trim_height",
            "Trim over the waterline",
            _m(abs(rise)),
            None,
            Working(
                "Lwl · tan(trim)",
                (Input("Lwl", _m(r.waterline_length_m)), Input("trim", _deg(r.trim_deg))),
                _m(rise),
                "geometry",
            ),
            _way(r.trim_deg, "deeper aft", "deeper forward"),
        ),
        Figure(
            "list",
            "List",
            _deg(r.list_deg),
            _deg(s.list_deg),
            Working(
                "list = slope across her against the water", centre[2:], _deg(r.list_deg), EXACT, LIST_WORDS
            ),
            _way(r.list_deg, "port down", "starboard down"),
        ),
        Figure(
            "freeboard",
            "Least freeboard",
            _m(r.freeboard_least_m),
            _m(s.freeboard_least_m),
            Working(
                "freeboard = height of the point over the water, least over both sheers",
                board,
                _m(r.freeboard_least_m),
                "screening, still water",
            ),
            "port side" if y > 0 else "starboard side",
        ),
        Figure(
            "bow",
            "Freeboard at the bow",
            _m(r.freeboard_bow_m),
            None,
            Working(
                "height over the water of the lower of the foremost sheer points",
                board[3:],
                _m(r.freeboard_bow_m),
                EXACT,
            ),
        ),
    ]
    for flood in r.floods:
        out.append(
            Figure(
                f"flood-{flood.name}",
                f"{flood.name.capitalize()} above water",
                _m(flood.height_m),
                None,
                Working(
                    "height over the water of the opening's edge", board[3:], _m(flood.height_m), EXACT
                ),
            )
        )
    out += [
        Figure(
            "draft",
            "Draft, deepest",
            _m(deep.deepest_m),
            None,
            Working(
                "depth under the water of the deepest point of the hull",
                board[3:],
                _m(deep.deepest_m),
                EXACT,
            ),
        ),
        Figure(
            "draft_fore",
            "Draft forward",
            _m(deep.forward_m),
            None,
            Working(
                "depth of the keel under the water, a quarter of the waterline from its fore end",
                board[3:],
                _m(deep.forward_m),
                EXACT,
            ),
        ),
        Figure(
            "draft_origin",
            "Draft at the transom foot",
            _m(r.draft_at_origin_m),
            None,
            Working(
                "depth of the keel line's origin under the water, square to it",
                board[3:5],
                _m(r.draft_at_origin_m),
                EXACT,
            ),
        ),
        Figure(
            "transom",
            "Transom in the water",
            _m(deep.transom_m),
            None,
            Working(
                "depth under the water of the lowest point of the transom",
                board[3:],
                _m(deep.transom_m),
                EXACT,
            ),
        ),
        Figure(
            "gm",
            "GM, across",
            _m(r.gm_transverse_m),
            None,
            Working(
                "GM = rotational stiffness / (m g) - ρ i / m",
                (
                    mass,
                    Input("G above keel line", _m(gz), "ledger"),
                    Input("B above keel line", _m(bz)),
                    Input("second moment's BM", _m(r.gm_transverse_m + r.free_surface_m + gz - bz)),
                    Input("free surface", _m(r.free_surface_m)),
                ),
                _m(r.gm_transverse_m),
                "exact stiffness of the tilted water plane; free surface l b³/12 of each loose tank",
                GM_WORDS,
            ),
        ),
        Figure(
            "gm_long",
            "GM, lengthwise",
            _m(r.gm_longitudinal_m),
            None,
            Working("as across, about the athwartships axis", (mass,), _m(r.gm_longitudinal_m), EXACT),
        ),
        Figure(
            "sink",
            "To sink 10 mm",
            _kg(r.sink_10mm_kg),
            None,
            Working(
                "ρ · A · 10 mm",
                (
                    Input("ρ", Quantity(density, "kg/m3"), "plan"),
                    Input("A of the water plane", Quantity(area, "m2")),
                ),
                _kg(r.sink_10mm_kg),
                "slice of water at the waterline",
            ),
        ),
        Figure(
            "trim10",
            "Moment to trim 10 mm",
            Quantity(r.trim_10mm_kgm, "kg·m"),
            None,
            Working(
                "m · GM lengthwise · 10 mm / Lwl",
                (
                    mass,
                    Input("GM lengthwise", _m(r.gm_longitudinal_m)),
                    Input("Lwl", _m(r.waterline_length_m)),
                ),
                Quantity(r.trim_10mm_kgm, "kg·m"),
                "small angles",
            ),
        ),
        Figure(
            "list1",
            "Moment to list 1°",
            Quantity(r.list_1deg_kgm, "kg·m"),
            None,
            Working(
                "m · GM · sin 1°",
                (mass, Input("GM across", _m(r.gm_transverse_m))),
                Quantity(r.list_1deg_kgm, "kg·m"),
                "small angles",
            ),
        ),
        Figure(
            "lwl",
            "Waterline length",
            _m(r.waterline_length_m),
            None,
            Working("extent of the cut water plane along her", (), _m(r.waterline_length_m), EXACT),
        ),
        Figure(
            "bwl",
            "Waterline beam",
            _m(r.waterline_beam_m),
            None,
            Working("extent of the cut water plane across", (), _m(r.waterline_beam_m), EXACT),
        ),
    ]
    return tuple(out)
