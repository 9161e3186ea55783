"""A new plan from the quick start."""

from __future__ import annotations

from typing import Literal

from stirrup.core.contract.schools import USUAL
from stirrup.core.hull.bare import bare_hull
from stirrup.core.hull.mesh import build_surface
from stirrup.core.hull.model import Hull, QuickStart, Skin
from stirrup.core.hull.quick import quick_lines
from stirrup.core.plan.model import Plan

Material = Literal["aluminium", "fiberglass"]
# name in the plan, skin's density [kg/m3], usual skins [m]: working values
MATERIALS: dict[Material, tuple[str, float, Skin]] = {
    "aluminium": ("5052-H32", 2680.0, Skin(bottom=0.0025, side=0.002)),
    "fiberglass": ("fiberglass laminate", 1600.0, Skin(bottom=0.006, side=0.004)),
}


def new_plan(
    name: str, quick: QuickStart, material: Material = "aluminium", hull_kg: float | None = None
) -> Plan:
    """A plan with the quick start's hull, every station estimated.

    hull_kg: what the bare hull weighs, if it was weighed. Raises CoreError, ValueError when
    the readings make no hull.
    """
    named, density, skin = MATERIALS[material]
    data = {
        "material": named,
        "skin": skin,
        "mass": {"value": 1.0, "centre": (0.0, 0.0, 0.0)},
        "lines": quick_lines(quick),
        "quick": quick,
    }
    hull = Hull.model_validate(data)
    mass = bare_hull(build_surface(hull), density)
    if hull_kg is not None:
        mass = mass.model_copy(update={"value": hull_kg, "status": "weighed"})
    hull = hull.model_copy(update={"mass": mass})
    return Plan(format="stirrup-build", version=2, name=name, hull=hull, schools=USUAL)
