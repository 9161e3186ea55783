"""A bilge well of 300 x 220 mm at 1.0 m, in a floor of 12 mm plywood 0.15 m up in a box 2 m wide whose
bottom's inside lies at 3 mm. Angles of 40 mm round it reach 20 mm into it; its walls are 1 mm off them."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, box_lines, build_data, derive, plan, skiff_plan
from tests.crossing import crossings, through_skin

FLOOR: dict[str, Any] = {
    "kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.5,
    "height": 0.15, "skin": "ply-12", "bearers": "ply-12",
}  # fmt: skip
WELL: dict[str, Any] = {
    "kind": "bilge_well", "id": "well", "name": "Well", "mark": "W1", "floor": "floor", "x": 1.0,
}  # fmt: skip
T, UNDER = 0.012, 0.15 - 0.012


def boat(floor: dict[str, Any] | None = None, **choices: Any) -> Derived:
    return derive(plan(fittings=[{**FLOOR, **(floor or {})}, {**WELL, **choices}]))


def made(derived: Derived, id_: str = "well") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "well")


def test_its_walls_by_hand() -> None:
    walls = {p.label: p for p in made(boat()).panels}
    # 150 - 21 mm to the outer faces along, 110 - 21 across; the middle of 12 mm stands 6 further in
    assert walls["W1-A"].frame.origin[0] == pytest.approx(1.0 - 0.129 + 0.006)
    assert walls["W1-F"].frame.origin[0] == pytest.approx(1.0 + 0.129 - 0.006)
    assert walls["W1-P"].frame.origin[1] == pytest.approx(0.089 - 0.006)
    y0, z0, y1, z1 = walls["W1-A"].polygon.bounds
    # from side to side, from 3 mm of bed over the bottom to the underside of the floor
    assert (y0, y1, z0, z1) == pytest.approx((-0.089, 0.089, 0.006, UNDER), abs=1e-6)
    x0, z0, x1, z1 = walls["W1-P"].polygon.bounds
    assert (x0, x1, z0, z1) == pytest.approx((1.0 - 0.129 + T, 1.0 + 0.129 - T, 0.006, UNDER), abs=1e-6)
    # a limber of 40 x 20 mm in each
    assert walls["W1-A"].polygon.area == pytest.approx(0.178 * (UNDER - 0.006) - 0.04 * 0.02, abs=1e-7)


def test_its_floor_is_open_and_framed() -> None:
    plain, derived = derive(plan(fittings=[FLOOR])), boat()

    def skin(d: Derived) -> float:
        return sum(p.polygon.area for p in made(d, "floor").panels if "/skin/" in p.key)

    # a joint of the skin, 1.5 mm wide, may run through it
    assert skin(plain) - skin(derived) == pytest.approx(0.30 * 0.22, abs=0.0015 * 0.30)
    angles = [m for m in made(derived, "floor").members if "/angle/well/" in m.key]
    assert len(angles) == 4
    assert told(derived, "HATCH-EDGE").level == "fine"


def test_its_cover() -> None:
    """25 mm past its edges on the floor; holes of 12 mm: 220 mm between the outer ones along take five at
    no more than 55, 140 across three."""
    (cover,) = [p for p in made(boat()).panels if p.key.endswith("/cover")]
    assert cover.frame.origin == pytest.approx((1.0, 0.0, 0.15 + T / 2))
    x0, y0, x1, y1 = cover.polygon.bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((0.35, 0.27))
    assert len(cover.holes) == 5 * 3
    # twelve corners on the circle
    hole = 12 / 2 * 0.006**2 * math.sin(2 * math.pi / 12)
    assert cover.polygon.area == pytest.approx(0.35 * 0.27 - 15 * hole)


def test_what_is_bought() -> None:
    parts = {b.item: b.quantity for b in made(boat()).bought}
    assert parts == {
        "turn-button": 2,
        "pump-bilge-1900": 1,
        "switch-float": 1,
        "hose-19": 2.0,
        "thru-19": 1,
    }
    assert {b.item for b in made(boat(pump="none")).bought} == {"turn-button"}


@pytest.mark.parametrize(
    ("choices", "floor", "level"),
    [
        # 2 x (129 - 12) = 234 by 154, and 150 - 3 = 147 up to the cover; a pump takes 160 x 110 x 120
        ({}, {}, "fine"),
        ({"length": 0.226}, {}, "fine"),  # 113 - 33 = 80
        ({"length": 0.224}, {}, "mend"),
        ({"width": 0.175}, {}, "mend"),
        ({"width": 0.177}, {}, "fine"),
        ({}, {"height": 0.1225}, "mend"),
        ({}, {"height": 0.1235}, "fine"),
        ({"length": 0.20, "walls": False}, {}, "mend"),  # 2 x 79
        ({"length": 0.204, "walls": False}, {}, "fine"),
    ],
)
def test_whether_a_pump_stands_in_it(choices: dict[str, Any], floor: dict[str, Any], level: str) -> None:
    assert told(boat(floor, **choices), "WELL-PUMP").level == level


def rising(slope: float) -> list[dict[str, Any]]:
    """The box with its bottom rising forward."""
    lines = box_lines()
    for line in lines[:2]:
        line["points"] = [[x, y, z + slope * x] for x, y, z in line["points"]]
    return lines


def test_whether_water_runs_to_it() -> None:
    """A bottom that rises by 50 mm in each metre: 1.0 m forward it lies 49 mm over where it is looked for
    first, 20 mm from the transom's inside."""
    floor = {**FLOOR, "aft": 0.1, "height": 0.3}
    sloped = derive(from_data(build_data(rising(0.05), fittings=[floor, WELL])))
    low = told(sloped, "WELL-LOW")
    assert low.level == "look" and low.values["stands"].value == pytest.approx(0.049, abs=0.001)
    # where it is lowest it would run off the floor's edge: no button
    assert low.fixes == ()
    assert told(boat(), "WELL-LOW").level == "fine"
    # 5 mm are let be
    for slope, level in ((0.005, "fine"), (0.0053, "look")):
        one = derive(from_data(build_data(rising(slope), fittings=[floor, WELL])))
        assert told(one, "WELL-LOW").level == level, slope


def test_a_button_sets_it_where_the_bottom_is_lowest() -> None:
    """A bottom that falls forward: the well goes there, where the floor is."""
    lines, floor = rising(-0.02), {**FLOOR, "fore": None, "height": 0.2}
    aft = derive(from_data(build_data(lines, fittings=[floor, WELL])))
    low = told(aft, "WELL-LOW")
    assert low.level == "look"
    near = low.values["at"].value
    assert near == pytest.approx(4.0, abs=0.03)


def test_without_walls_an_arm_reaches_under_the_floor() -> None:
    assert made(boat()).holes == () and len(made(boat(walls=False)).holes) == 1
    assert len(made(boat(walls=False)).panels) == 1


def test_nothing_of_it_stands_in_anything() -> None:
    derived = boat()
    assert crossings(derived) == {} and through_skin(derived) == {}
    assert not [f for f in derived.findings if f.code in ("CLASH", "ROOM") and f.level != "fine"]


def test_in_a_floor_that_falls() -> None:
    """By 2° aft: its cover lies along the floor, its walls end under it."""
    derived = boat({"lies": "falls aft", "fall": 2.0})
    cover = next(p for p in made(derived).panels if p.key.endswith("/cover"))
    assert cover.frame.along[2] == pytest.approx(math.sin(math.radians(2.0)))
    assert crossings(derived) == {}


@pytest.mark.slow
@settings(max_examples=20, deadline=None)
@given(st.floats(0.7, 2.2), st.floats(-0.3, 0.3), st.floats(0.15, 0.5), st.floats(0.15, 0.4),
       st.floats(0.12, 0.22))  # fmt: skip
def test_wherever_it_is_its_walls_stand_in_nothing(
    x: float, y: float, long: float, wide: float, high: float
) -> None:
    floor = {**FLOOR, "height": high, "fore": 3.0}
    derived = derive(skiff_plan(fittings=[floor, {**WELL, "x": x, "y": y, "length": long, "width": wide}]))
    if any(f.code == "CANNOT-BUILD" or f.level == "stop" for f in derived.findings):
        return
    assert through_skin(derived) == {}
    met = [pair for pair in crossings(derived) if any(label.startswith("W1-") for label in pair)]
    assert met == []


def test_its_mirror_image() -> None:
    a, b = made(boat(y=0.2)), made(boat(y=-0.2))
    assert a.mass_kg == pytest.approx(b.mass_kg)
    ya, yb = (sum(p.mass_kg * p.centre[1] for p in x.parts) for x in (a, b))
    assert ya == pytest.approx(-yb)


def test_where_it_cannot_lie() -> None:
    """Water does not gather in a raised deck."""
    with pytest.raises(CoreError, match="no floor “deck”"):
        plan(fittings=[DECK, {**WELL, "floor": "deck", "x": 2.8}])
    here = derive(plan(fittings=[DECK]))
    with pytest.raises(CoreError, match="place one first"):
        place(here.plan, here.surface, here.footing, "bilge_well")


def test_a_first_one_lies_near_the_aft_edge() -> None:
    here = derive(plan(fittings=[FLOOR]))
    change = place(here.plan, here.surface, here.footing, "bilge_well")
    after = derive(apply(here.plan, change))
    well: Any = after.plan.thing("well-1")
    assert (well.x, well.y) == pytest.approx((0.85, 0.0))
    assert not [f for f in after.findings if f.place == "well-1" and f.level == "stop"]
