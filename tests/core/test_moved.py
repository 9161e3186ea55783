"""What moved it, remedies, and the balance solver, against closed forms of the box."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.moved import contributions, remedies
from stirrup.core.afloat.situation import Situation, situation
from stirrup.core.afloat.slide import Slider, balance_by_sliding
from stirrup.core.errors import CoreError
from tests.boats import DECK, derive, plan, skiff_plan


def item(id_: str, mass: float, centre: tuple[float, float, float], **more: object) -> dict[str, object]:
    return {"id": id_, "stage": "added", "mass": {"value": mass, "centre": list(centre)}, **more}


def here(*items: dict[str, object], case: str = "planned, empty", **more: object) -> Situation:
    derived = derive(plan(items=list(items), **more))
    return situation(derived.plan, derived.vessel, derived.base(case), derived.load_case(case))


def test_contribution_is_the_angle_with_less_the_angle_without() -> None:
    # box 4 x 2 m, 1600 kg at the middle, and 20 kg 1 m off to port. Wall-sided exact solution:
    # tan list = m y / (M (GM + BM tan²/2)): with M = 1620, T = 0.2025, BM = B²/12T = 1.646,
    # KG = 0.3: GM = 0.10125 + 1.646 - 0.3 = 1.44725; tan h = 20 / (1620 · 1.44725) = 0.00853
    rows = contributions(here(item("lead", 20.0, (2.0, 1.0, 0.3))))
    assert [r.id for r in rows] == ["lead"]
    assert rows[0].list_deg == pytest.approx(math.degrees(math.atan(0.00853)), abs=2e-3)
    assert rows[0].trim_deg == pytest.approx(0.0, abs=1e-9)
    assert rows[0].added


def test_contributions_of_two_things_are_ranked_and_found_ones_marked() -> None:
    state = here(item("near", 20.0, (2.1, 0.0, 0.3)), item("far", 20.0, (3.9, 0.0, 0.3), stage="found"))
    rows = contributions(state, found={"far"})
    assert [(r.id, r.added) for r in rows] == [("far", False), ("near", True)]
    # weight forward brings the bow down: negative
    assert rows[0].trim_deg < rows[1].trim_deg < 0


def test_parts_of_a_fitting_count_as_one_thing_by_its_name() -> None:
    derived = derive(skiff_plan(fittings=[DECK]))
    state = situation(derived.plan, derived.vessel, derived.planned, derived.load_case("planned, empty"))
    rows = contributions(state, {"deck": "Bow deck"})
    assert [(r.name, r.mass_kg) for r in rows] == [("Bow deck", pytest.approx(derived.built[0].mass_kg))]


def test_tank_content_is_a_line_of_its_own() -> None:
    tank = {"id": "t", "size": [0.4, 0.4, 0.5], "floor_centre": [0.5, 0.6, 0.0], "liquid": "fresh water"}
    state = here(tanks=[tank], cases=[{"name": "wet", "fills": {"t": 0.5}}], case="wet")
    rows = contributions(state)
    assert rows[0].name == "t, 50 % full" and rows[0].mass_kg == pytest.approx(40)
    assert rows[0].list_deg > 0 and rows[0].trim_deg > 0


def test_remedy_takes_the_list_away_by_moving_the_thing_that_makes_it() -> None:
    rows = [r for r in remedies(here(item("cooler", 30.0, (2.0, 0.5, 0.4)))) if r.axis == "y"]
    # it alone is off centre: half a metre to starboard and she is upright
    assert rows[0].id == "cooler" and rows[0].by_m == pytest.approx(-0.5, abs=2e-3)
    assert rows[0].after_deg == pytest.approx(0.0, abs=0.02)


def test_remedies_leave_hull_motor_and_people_alone() -> None:
    derived = derive(plan(items=[item("motor", 60.0, (0.3, 0.4, 0.5), group="motor")],
                          cases=[{"name": "c", "crew": [{"at": [1, 0.5, 0]}]}]))  # fmt: skip
    state = situation(derived.plan, derived.vessel, derived.planned, derived.load_case("c"))
    assert remedies(state) == ()


def test_solver_finds_the_move_of_the_closed_form() -> None:
    # 100 kg at x = 1 in a box whose other mass lies in the middle: level when it slides 1 m
    state = here(item("box", 100.0, (1.0, 0.3, 0.3)))
    answer = balance_by_sliding(
        state, [Slider("box", "box", 100.0, (1.0, 0.3, 0.3), fore=1.5, starboard=0.5)]
    )
    assert answer.reached
    assert answer.moves[0].dx == pytest.approx(1.0, abs=1e-6)
    assert answer.moves[0].dy == pytest.approx(-0.3, abs=1e-6)
    assert answer.travel_m == pytest.approx(1.3, abs=1e-6)


def test_solver_moves_the_heavy_thing_when_that_is_the_shorter_way() -> None:
    state = here(item("heavy", 100.0, (1.0, 0.0, 0.3)), item("light", 10.0, (1.0, 0.0, 0.3)))
    sliders = [Slider(n, n, m, (1.0, 0.0, 0.3), fore=3.0) for n, m in (("heavy", 100.0), ("light", 10.0))]
    answer = balance_by_sliding(state, sliders)
    # 110 kg·m to bring forward: 1.1 m of the heavy one
    assert [(m.id, round(m.dx, 6)) for m in answer.moves] == [("heavy", 1.1)]


def test_solver_comes_as_near_as_the_ranges_allow_and_says_so() -> None:
    state = here(item("box", 100.0, (1.0, 0.0, 0.3)))
    answer = balance_by_sliding(state, [Slider("box", "box", 100.0, (1.0, 0.0, 0.3), fore=0.4)])
    assert not answer.reached
    assert answer.moves[0].dx == pytest.approx(0.4, abs=1e-6)
    before = math.degrees(state.state.trim)
    assert 0 < answer.trim_deg < before


def test_solver_needs_something_that_may_slide() -> None:
    with pytest.raises(CoreError, match="nothing may slide"):
        balance_by_sliding(here(), [])
    with pytest.raises(CoreError, match="within 20 degrees"):
        balance_by_sliding(here(), [Slider("a", "a", 1.0, (0, 0, 0), fore=1)], trim_deg=30)


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(
    # 1° of trim takes 1600 · 6.5 m · sin 1° = 185 kg·m and the things' own 120: two of 25 kg
    # over 9 m give 450
    masses=st.lists(st.floats(25, 60), min_size=2, max_size=6),
    trim=st.floats(-1.0, 1.0),
    seed=st.integers(0, 99),
)
def test_solved_positions_float_at_the_target(masses: list[float], trim: float, seed: int) -> None:
    items = []
    sliders = []
    for k, mass in enumerate(masses):
        centre = (0.4 + (seed * 7 + k * 13) % 30 / 10, ((seed + k * 5) % 14 - 7) / 10, 0.3)
        items.append(item(f"i{k}", mass, centre))
        sliders.append(Slider(f"i{k}", f"i{k}", mass, centre, 9, 9, 3, 3))
    answer = balance_by_sliding(here(*items), sliders, trim)
    assert answer.reached
    assert answer.trim_deg == pytest.approx(trim, abs=1e-4)
    assert answer.list_deg == pytest.approx(0.0, abs=1e-4)
