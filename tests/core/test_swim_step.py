"""A swim step on the upright transom of a box 2 m wide: 500 x 400 mm of 4.8 mm plate 0.4 m up, 0.6 m to
port."""

import math
from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import derive, plan

STEP: dict[str, Any] = {
    "kind": "swim_step", "id": "step", "name": "Step", "mark": "B1", "y": 0.6, "z": 0.4,
}  # fmt: skip
T = 0.004826  # 0.190 in


def boat(*items: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[{**STEP, **choices}], items=list(items)))


def made(derived: Derived) -> Built:
    built = derived.fitting("step")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "step")


def test_its_plate() -> None:
    """10 mm off the transom at x = 0, its two aft corners rounded by 60 mm."""
    (plate,) = made(boat()).panels
    x0, y0, x1, y1 = made(boat()).region.bounds
    assert (x0, x1, y0, y1) == pytest.approx((-0.41, -0.01, 0.35, 0.85), abs=1e-6)
    assert plate.polygon.area == pytest.approx(0.5 * 0.4 - 2 * (1 - math.pi / 4) * 0.06**2, rel=1e-3)
    assert plate.frame.origin[2] == pytest.approx(0.4 - T / 2)


def test_its_brackets_are_even() -> None:
    """Two on 500 mm: a bay of 333, a sixth of the breadth past either."""
    parts = {b.label: b for b in made(boat()).bought}
    counts = {label: parts[label].quantity for label in ("B1-K", "B1-R", "B1-RN", "B1-Q", "B1-L")}
    assert counts == {"B1-K": 2, "B1-R": 8, "B1-RN": 8, "B1-Q": 6, "B1-L": 1}
    # 45 mm of transom, 4 of bracket, 3 of plate and bed; 4.8 and 4
    for label, grip in (("B1-R", 0.052), ("B1-Q", 0.0088)):
        bolt: Any = parts[label].entry
        assert bolt.grip_min <= grip <= bolt.grip_max
    assert "B1-L" not in {b.label for b in made(boat(ladder=False)).bought}


@pytest.mark.parametrize(("deep", "level"), [(0.4, "fine"), (0.864, "fine"), (0.866, "mend")])
def test_whether_it_holds(deep: float, level: str) -> None:
    """3 x 110 x 9.81 = 3237.3 N over a bracket of 0.2 m with two bolts at its head: 7 kN at 0.865 m."""
    found = told(boat(deep=deep), "STEP-HOLDS")
    assert found.level == level
    assert found.values["pull"].value == pytest.approx(3237.3 * deep / 0.2 / 2)


@pytest.mark.parametrize(
    ("width", "brackets", "level"),
    # a bay is the breadth over the brackets less a half
    [(0.674, 2, "fine"), (0.676, 2, "mend"), (1.124, 3, "fine"), (1.126, 3, "mend")],
)
def test_how_far_its_plate_hangs_free(width: float, brackets: int, level: str) -> None:
    found = told(boat(width=width, brackets=brackets), "STEP-BAYS")
    assert found.level == level
    assert found.values["free"].value == pytest.approx(width / (brackets - 0.5))
    if level == "mend":
        (fix,) = found.fixes
        after = derive(
            apply(boat(width=width, brackets=brackets).plan, SetValue(path=fix.path, value=fix.value))
        )
        assert told(after, "STEP-BAYS").level == "fine"


def test_it_must_stay_clear_of_the_motor() -> None:
    motor = {"id": "motor", "form": "outboard", "size": [0.5, 0.4, 0.8],
             "mass": {"value": 60.0, "centre": [-0.25, 0.0, 0.6]}}  # fmt: skip
    beside, under = boat(motor), boat(motor, y=0.1)
    for derived, met in ((beside, False), (under, True)):
        found = [f for f in derived.findings if f.code in ("CLASH", "ROOM") and "step" in (f.place, f.other)
                 and f.level != "fine"]  # fmt: skip
        assert bool(found) is met


def test_whoever_climbs_in_by_it_is_a_load_case() -> None:
    names = [c.name for c in boat().cases]
    assert any("climbing in" in name for name in names)
    assert made(boat()).climbs == (pytest.approx((-0.41, 0.6, 0.4)),)
    assert made(boat(ladder=False)).climbs == ()


def test_where_there_is_no_transom() -> None:
    high = [f for f in boat(z=1.5).findings if f.code == "CANNOT-BUILD"]
    assert len(high) == 1 and "no transom" in high[0].text


def test_its_mirror_image() -> None:
    a, b = made(boat()), made(boat(y=-0.6))
    assert a.mass_kg == pytest.approx(b.mass_kg)
    ya, yb = (sum(p.mass_kg * p.centre[1] for p in x.parts) for x in (a, b))
    assert ya == pytest.approx(-yb)


def test_a_first_one_lies_beside_the_middle() -> None:
    here = derive(plan())
    after = derive(apply(here.plan, place(here.plan, here.surface, here.footing, "swim_step")))
    assert not [f for f in after.findings if f.place == "swim-step" and f.level in ("mend", "stop")]
