"""Boats with known answers: boxes, wedges, a parabolic hull."""

from __future__ import annotations

from typing import Any

from stirrup.core.afloat.ledger import Entry, Load, sum_load
from stirrup.core.derive import Derived
from stirrup.core.derive import derive as core_derive
from stirrup.core.hull.mesh import HullSurface, build_surface
from stirrup.core.hull.model import Hull
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import Plan
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting


def derive(plan: Plan, catalogue: Catalogue | None = None, quick: bool = False) -> Derived:
    """Everything that follows from a plan, with the catalogue that ships unless another is given."""
    return core_derive(plan, catalogue or starting(), quick)


def box_lines(length: float = 4.0, beam: float = 2.0, depth: float = 1.0) -> list[dict[str, Any]]:
    """Keel, chine and sheer of a box."""
    half = beam / 2
    return [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [length, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, half, 0], [length, half, 0]]},
        {"name": "sheer", "along": "straight", "points": [[0, half, depth], [length, half, depth]]},
    ]


def wedge_lines(
    rise: float, half: float = 1.0, length: float = 4.0, depth: float = 1.0
) -> list[dict[str, Any]]:
    """A prism with a vee bottom, 1 m deep: chine at height `rise`, half-beam `half`."""
    depth = 1.0
    return [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [length, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, half, rise], [length, half, rise]]},
        {"name": "sheer", "along": "straight", "points": [[0, half, depth], [length, half, depth]]},
    ]


def flared_lines() -> list[dict[str, Any]]:
    """A prism 4 m long, flat bottom 1.6 m wide, sides flaring out 1 in 3, 0.6 m high."""
    return [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, 0.8, 0], [4, 0.8, 0]]},
        {"name": "sheer", "along": "straight", "points": [[0, 1.0, 0.6], [4, 1.0, 0.6]]},
    ]


def wigley_lines(length: float, beam: float, draft: float) -> list[dict[str, Any]]:
    """y = B/2 (1 - (2x/L)²)(1 - (z/T)²), keel at z = 0: 41 stations, 21 lines."""
    lines = []
    for row in range(21):
        z = draft * row / 20
        depth = (z - draft) / draft
        points = []
        for k in range(41):
            s = 2 * k / 40 - 1
            points.append([length * k / 40, beam / 2 * (1 - s * s) * (1 - depth * depth), z])
        lines.append({"name": f"level {row}", "along": "smooth", "points": points})
    return lines


def hull(lines: list[dict[str, Any]], **more: Any) -> Hull:
    """A hull document from lines."""
    return Hull.model_validate(
        {"mass": {"value": 100.0, "centre": (0.0, 0.0, 0.0)}, "lines": lines, **more}
    )


def surface(lines: list[dict[str, Any]], **more: Any) -> HullSurface:
    """Surface of a hull from lines."""
    return build_surface(hull(lines, **more))


def load(mass: float, centre: tuple[float, float, float], spread: float = 0.0) -> Load:
    """One mass at one place."""
    return sum_load([Entry("m", "mass", "test", mass, spread, "weighed", centre)])


def build_data(
    lines: list[dict[str, Any]] | None = None,
    mass: float = 1600.0,
    centre: tuple[float, float, float] = (2.0, 0.0, 0.3),
    **more: Any,
) -> dict[str, Any]:
    """A build file as plain data: a box unless lines are given."""
    return {
        "format": "stirrup-build",
        "version": 1,
        "name": "Box",
        "water": {"density": 1000.0},
        "hull": {
            "material": "5052-H32",
            "skin": {"bottom": 0.003, "side": 0.0025},
            "mass": {"value": mass, "status": "weighed", "centre": list(centre)},
            "lines": lines or box_lines(),
        },
        **more,
    }


def plan(**more: Any) -> Plan:
    """A plan on a box hull."""
    return from_data(build_data(**more))


def skiff_plan(**more: Any) -> Plan:
    """A pointed flat-bottomed skiff, 5 m long, with flared sides, for fittings."""
    x = [0.0, 1.0, 2.0, 3.0, 4.0, 5.0]
    chine, sheer = [0.8, 0.8, 0.8, 0.75, 0.5, 0.02], [1, 1, 1, 0.95, 0.7, 0.03]
    lines = [
        {"name": "keel", "points": [[a, 0, 0] for a in x]},
        {"name": "chine", "points": [[a, y, 0] for a, y in zip(x, chine, strict=True)]},
        {"name": "sheer", "points": [[a, y, 0.6] for a, y in zip(x, sheer, strict=True)]},
    ]  # fmt: skip
    return from_data(build_data(lines, mass=150.0, centre=(2.0, 0.0, 0.2), **more))


DECK: dict[str, Any] = {
    "kind": "raised_deck", "id": "deck", "name": "Deck", "mark": "D1", "aft": 3.0, "fore": 4.5,
    "height": 0.4,
}  # fmt: skip
HATCH: dict[str, Any] = {
    "kind": "hatch", "id": "hatch", "name": "Hatch", "mark": "H1", "deck": "deck", "x": 3.6, "y": 0.0,
    "clear_length": 0.4, "clear_width": 0.3,
}  # fmt: skip
