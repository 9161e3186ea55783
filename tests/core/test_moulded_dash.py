"""A laminated dash: areas of its faces, laminate by plies against a hand sum, how firm it is."""

import math
from typing import Any

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.moulded_dash import MouldedDash, area_m2, faces_of, middle_of
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import derive, plan

DASH = {"kind": "moulded_dash", "id": "dash", "name": "Dash", "mark": "Q1", "x": 1.5, "y": 0.1, "z": 0.3,
        "length": 0.4, "width": 1.2, "aft_high": 0.22, "fore_high": 0.12, "flange": 0.05}  # fmt: skip
SLOPE = math.hypot(0.4, 0.1)
TOP, AFT, FORE, SIDE = SLOPE * 1.2, 0.22 * 1.2, 0.12 * 1.2, 0.4 * 0.17
FLANGE = (2 * 1.6 + 0.2) * 0.05
AREA = TOP + AFT + FORE + 2 * SIDE + FLANGE


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**DASH, **choices}]))


def made(derived: Derived) -> Built:
    found = derived.fitting("dash")
    assert found is not None
    return found


def told(code: str, **choices: Any) -> Finding:
    return next(f for f in boat(**choices).findings if f.code == code and f.place == "dash")


def test_its_faces_by_hand() -> None:
    """Top 0.4123 x 1.2; faces 0.22 and 0.12 x 1.2; sides 0.068 each; flange 50 mm round 3.4 m."""
    areas = {f.name: f.area for f in faces_of(MouldedDash.model_validate(DASH))}
    assert areas == pytest.approx({"top": TOP, "aft face": AFT, "fore face": FORE, "port side": SIDE,
                                   "starboard side": SIDE, "flange": FLANGE})  # fmt: skip
    assert area_m2(MouldedDash.model_validate(DASH)) == pytest.approx(AREA)


def test_its_laminate_weighs_what_its_plies_and_their_resin_do() -> None:
    """Three plies of 450 g/m2; resin by the share of glass; gel coat of 0.6 kg/m2; the mould ashore."""
    built = made(boat())
    parts = {b.label: b for b in built.bought}
    glass = parts["Q1-C"].entry.glass_share  # type: ignore[union-attr]
    cloth = AREA * 3 * 0.45
    assert parts["Q1-C"].mass_kg == pytest.approx(cloth, rel=1e-6)
    assert parts["Q1-C"].quantity == pytest.approx(AREA * 3 * 1.1, rel=1e-6)
    assert parts["Q1-R"].mass_kg == pytest.approx(cloth * (1 / glass - 1), rel=1e-6)
    assert parts["Q1-G"].mass_kg == pytest.approx(AREA * 0.6, rel=1e-6)
    assert parts["Q1-M"].quantity == pytest.approx(AREA * 1.15) and parts["Q1-M"].mass_kg == 0
    assert built.mass_kg == pytest.approx(cloth / glass + AREA * 0.6, rel=1e-6)
    assert "Q1-G" not in {b.label for b in made(boat(gel=False)).bought}


def test_its_centre_by_moments() -> None:
    """Along: top and flange in the middle, faces at their ends, sides at 0.4 (0.22 + 0.24) / (3 x 0.34)."""
    x, y, z = middle_of(MouldedDash.model_validate(DASH))
    side_x = 0.4 * (0.22 + 0.24) / (3 * 0.34)
    along = ((TOP + FLANGE) * 0.2 + FORE * 0.4 + 2 * SIDE * side_x) / AREA
    side_z = (0.22**2 + 0.22 * 0.12 + 0.12**2) / (3 * 0.34)
    up = (TOP * 0.17 + AFT * 0.11 + FORE * 0.06 + 2 * SIDE * side_z) / AREA
    assert (x, y, z) == pytest.approx((1.5 + along, 0.1, 0.3 + up))


def test_how_far_it_gives_under_a_hand() -> None:
    """D = 6.5 GPa t³ / 10.92; 0.0116 x 300 x 0.4123² / D, and 1/120 of 0.4123 feels firm."""
    found = told("DASH-SKIN")
    thick = found.values["thick"].value
    assert thick == pytest.approx(3 * 0.45 / made(boat()).bought[0].entry.glass_share / 1600)  # type: ignore[union-attr]
    bends = 0.0116 * 300 * SLOPE**2 / (6.5e9 * thick**3 / 10.92)
    assert found.values["bends"].value == pytest.approx(bends, rel=1e-6)
    assert found.level == ("fine" if bends <= SLOPE / 120 else "look")
    thin = told("DASH-SKIN", plies=1)
    assert thin.level == "look"
    (fix,) = thin.fixes
    after = apply(plan(fittings=[{**DASH, "plies": 1}]), SetValue(path=fix.path or (), value=fix.value))
    assert next(f for f in derive(after).findings if f.code == "DASH-SKIN").level == "fine"


@pytest.mark.parametrize(
    ("choices", "level"),
    [({"radius": 0.010, "draft": 2.0}, "fine"), ({"radius": 0.0099}, "look"), ({"draft": 1.9}, "look")],
)  # fmt: skip
def test_corners_and_draft(choices: dict[str, Any], level: str) -> None:
    found = told("DASH-CORNERS", **choices)
    assert found.level == level and len(found.fixes) == (level == "look")


def test_its_mould_is_told_board_by_board() -> None:
    found = told("DASH-MOULD")
    assert found.working is not None and len(found.working.inputs) == 2 * 6
    assert found.values["area"].value == pytest.approx(AREA * 1.15)


def test_the_other_side_is_the_same() -> None:
    port, starboard = made(boat(y=0.3)), made(boat(y=-0.3))
    assert port.mass_kg == pytest.approx(starboard.mass_kg)
    assert [b.centre[1] for b in port.bought] == pytest.approx([-b.centre[1] for b in starboard.bought])
