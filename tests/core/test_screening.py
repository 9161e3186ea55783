"""Capacity screening: each step by hand from the rule's own words."""

import pytest

from stirrup.core.afloat.screening import (
    float_plane,
    persons_number,
    power_factor,
    power_hp,
    power_words,
    remainders,
    screen,
)
from stirrup.core.studies import screening_of
from stirrup.core.units import FOOT_M, POUND_KG
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive, plan, skiff_plan


def test_number_of_persons() -> None:
    # (461.5 + 32) / 141 = 3.5, the half that rounds up; a pound less rounds down to three
    assert persons_number(461.5 * POUND_KG + 1e-6) == 4
    assert persons_number(460.5 * POUND_KG) == 3
    # (38.5 + 32) / 141 = 0.5
    assert persons_number(38 * POUND_KG) == 0
    assert persons_number(39 * POUND_KG) == 1


@pytest.mark.parametrize(
    ("factor", "flat", "remote", "horsepower"),
    [
        (35, False, False, 3), (36, False, False, 5), (40, False, False, 7.5), (45, False, False, 10),
        (52, False, False, 15), (52, True, False, 10), (36, True, False, 3), (35, True, False, 3),
        # 2 · 80 - 90 = 70; 0.5 · 80 - 15 = 25; 0.8 · 80 - 25 = 39, up to 40
        (80, False, True, 70), (80, True, False, 25), (80, False, False, 40),
        # 0.5 · 61 - 15 = 15.5, up to 20
        (61, True, False, 20),
    ],
)  # fmt: skip
def test_power_table(factor: float, flat: bool, remote: bool, horsepower: float) -> None:
    assert power_hp(factor, flat, remote) == horsepower


def test_factor_is_length_times_transom_in_feet_rounded() -> None:
    assert power_factor(14 * FOOT_M, 4.6 * FOOT_M) == 64  # 64.4


def test_float_plane_of_the_box_is_its_lowest_opening() -> None:
    vessel = derive(plan()).vessel
    level, mass, _ = float_plane(vessel)
    assert level == pytest.approx(1.0) and mass == pytest.approx(8000)
    data = plan()
    floods = [{"name": "well", "at": (0.0, 0.0, 0.6)}]
    hull = data.hull.model_validate({**data.hull.model_dump(), "floods": floods})
    level, mass, _ = float_plane(derive(data.model_copy(update={"hull": hull})).vessel)
    assert level == pytest.approx(0.6) and mass == pytest.approx(4800)


def test_capacity_of_the_box() -> None:
    motor = {"id": "m", "group": "motor", "mass": {"value": 90.0, "centre": [0, 0, 0.6]}}
    derived = derive(plan(mass=500.0, items=[motor], propulsion={"remote_steering": True}))
    found = screen(derived.plan, derived.vessel, derived.planned)
    # (8000 - 500) / 5 = 1500; less the motor 1410 kg; far above 550 lb, so no side test
    assert found.capacity_kg == pytest.approx(1500)
    assert found.persons_kg == pytest.approx(1410) and found.side_kg is None
    # 4 m x 2 m = 13.12 ft x 6.56 ft = 86.1 -> 86; flat, wheel, 1 m transom: 2 · 86 - 90 = 82 -> 85 hp
    assert found.flat and found.factor == 86
    assert found.power_kw == pytest.approx(85 * 0.7457, abs=0.01)


def test_small_boat_is_held_to_what_one_side_carries() -> None:
    # box 3 x 1 x 0.25 m of 300 kg: (750 - 300) / 5 = 90 kg, under 550 lb: the side decides.
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [3, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 0.5, 0), ("sheer", 0.5, 0.25))
    ]
    derived = derive(plan(lines=lines, mass=300.0, centre=(1.5, 0.0, 0.1)))
    found = screen(derived.plan, derived.vessel, derived.planned)
    assert found.capacity_kg == pytest.approx(90, abs=0.01)
    assert found.side_kg is not None

    # the mass w on one side (y = 0.375, z = 0.423) at which the wall-sided box just wets its
    # sheer (the bilge stays under): T = (300 + w)/3000, tan h = (0.25 - T)/0.5; G over B:
    # Σm (y + z tan) of the masses equals M (BM tan + (T/2 + BM tan²/2) tan), BM = 1/(12 T)
    def off(w: float) -> float:
        t = (300 + w) / 3000
        tan = (0.25 - t) / 0.5
        masses = w * (0.375 + 0.423 * tan) + 300 * 0.1 * tan
        return masses - (300 + w) * (1 / (12 * t) * (1 + tan * tan / 2) + t / 2) * tan

    low, high = 1.0, 200.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if off(middle) < 0 else (low, middle)
    assert found.side_kg == pytest.approx(low / 0.6, rel=2e-3)
    assert found.persons_kg == pytest.approx(min(90.0, low / 0.6), rel=2e-3)


def test_the_weaker_side_decides_whichever_it_is() -> None:
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [3, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 0.5, 0), ("sheer", 0.5, 0.25))
    ]

    def side(y: float) -> float:
        data = plan(lines=lines, mass=300.0, centre=(1.5, y, 0.1))
        derived = derive(data)
        return screen(data, derived.vessel, derived.planned).side_kg or 0.0

    # a weight to starboard leaves less for starboard, as one to port does for port
    assert side(-0.02) == pytest.approx(side(0.02), abs=0.2)
    assert side(0.02) < side(0.0) - 5


def test_a_boat_that_hardly_heels_is_held_to_what_she_carries() -> None:
    # 50 kg a kilometre down: 400 kg on one side wet nothing yet, and (750 - 50) / 5 = 140 kg decide
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [3, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 0.5, 0), ("sheer", 0.5, 0.25))
    ]
    derived = derive(plan(lines=lines, mass=50.0, centre=(1.5, 0.0, -1000.0)))
    found = screen(derived.plan, derived.vessel, derived.planned)
    assert found.persons_kg == pytest.approx(140, abs=0.01) and (found.side_kg or 0.0) > 140


def test_without_room_for_anybody_nobody_is_allowed() -> None:
    # the box carries 750 kg at its sheer: with 749 kg in her the first on one side floods her
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [3, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 0.5, 0), ("sheer", 0.5, 0.25))
    ]
    derived = derive(plan(lines=lines, mass=749.9, centre=(1.5, 0.0, 0.05)))
    found = screen(derived.plan, derived.vessel, derived.planned)
    assert (found.persons_kg, found.persons) == (pytest.approx(0.0, abs=0.2), 0)


@pytest.mark.parametrize(
    ("kind", "length", "why"),
    [
        ("inboard", 4.0, "inboards"),
        ("none", 4.0, "rowed or paddled"),
        ("outboard", 20 * FOOT_M, "under 20 ft"),
        ("outboard", 20 * FOOT_M - 1e-3, ""),
    ],
)
def test_where_the_rule_does_not_apply_nothing_of_it_is_computed(kind, length, why) -> None:
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [length, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 1, 0), ("sheer", 1, 0.5))
    ]
    derived = derive(plan(lines=lines, propulsion={"kind": kind}))
    found = screen(derived.plan, derived.vessel, derived.planned)
    figures = (found.capacity_kg, found.persons_kg, found.persons, found.power_kw, found.power_hp)
    assert why in found.why_not and bool(found.why_not) == bool(why)
    assert all(f is None for f in figures) if why else all(f is not None for f in figures)


def test_a_console_aboard_means_a_wheel() -> None:
    console = {"id": "c", "form": "console", "size": [0.5, 0.5, 0.9],
               "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.5]}}  # fmt: skip

    def power(**more) -> float:
        derived = derive(plan(mass=500.0, **more))
        return screen(derived.plan, derived.vessel, derived.planned).power_hp or 0.0

    # factor 86, 1 m transom: 2 · 86 - 90 = 82, up to 85 hp; by tiller, flat: 0.5 · 86 - 15 = 28, 30 hp
    assert power(items=[console]) == pytest.approx(85)
    assert power() == pytest.approx(30)
    assert power(items=[{**console, "stage": "removed"}]) == pytest.approx(30)


def test_label_less_crew_gear_motor_and_what_was_added() -> None:
    motor = {"id": "m", "group": "motor", "mass": {"value": 60.0, "centre": [0, 0, 0.6]}}
    built = skiff_plan(items=[motor], label={"persons_kg": 300.0, "total_kg": 450.0})
    (row,) = remainders(built, added_kg=40.0, cases=[("two", 170.0, 20.0)])
    assert row.left_persons_kg == pytest.approx(130)
    # 450 - 170 - 20 - 60 - 40
    assert row.left_total_kg == pytest.approx(160)
    (bare,) = remainders(skiff_plan(), 40.0, [("two", 170.0, 20.0)])
    assert bare.left_persons_kg is None and bare.left_total_kg is None


def test_the_rule_for_power_is_told_as_it_is_applied() -> None:
    # 0.8 x 100 - 25 = 55; 0.5 x 100 - 15 = 35; 2 x 100 - 90 = 110
    assert power_words(100, False, False) == "0.8 × factor − 25 (other boats), up to the next 5 hp"
    assert power_words(100, True, False).startswith("0.5 × factor − 15")
    assert power_words(100, False, True).startswith("2 × factor − 90 (wheel and high transom)")
    assert (
        power_words(44, True, False)
        == "from the table for factors up to 52, one step lower for a flat bottom"
    )


def test_more_persons_than_she_has_room_for_are_not_told_as_a_number() -> None:
    """A box of 5 x 2 m: 10 m² hold 20. Sides of 1 m carry (10,000 - 600) / 5 = 1,880 kg, 4,145 lb:
    (4,145 + 32) / 141 = 29.6. Sides of 0.5 m (5,000 - 600) / 5 = 880 kg, 1,940 lb: 13.99."""

    def of(depth: float):
        data = build_data(box_lines(length=5.0, depth=depth), mass=600.0, centre=(2.5, 0.0, 0.2))
        return screening_of(derive(from_data(data)))

    deep = of(1.0)
    assert deep.persons is None and "gives 30" in deep.persons_why and "room for 20" in deep.persons_why
    assert deep.persons_kg == pytest.approx(1880.0)
    low = of(0.5)
    assert (low.persons, low.persons_why) == (14, "")
