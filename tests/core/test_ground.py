"""What people stand on, and the standard cases that follow the plan."""

import pytest

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.standard import SEAT_TOP_M, case_by_name, load_cases, standard_cases
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import LoadCase
from stirrup.core.plan.suggest import moved_person
from stirrup.demo.seed import FILES, demo_plan
from tests.boats import DECK, derive, plan, skiff_plan, surface, wedge_lines

CREW = {"mass": 85.0, "at": [3.6, 0.0, 9.0], "settle": True}


def test_bottom_of_a_wedge_follows_the_vee() -> None:
    # deadrise 0.2 over a half-beam of 1: the inside lies 3 mm off the skin, square to it
    footing = Footing(surface(wedge_lines(0.2), skin={"bottom": 0.003, "side": 0.003}))
    lift = 0.003 * (1 + 0.2**2) ** 0.5
    for y in (0.0, 0.3, -0.7):
        assert footing.bottom_m(2.0, y) == pytest.approx(0.2 * abs(y) + lift, abs=1e-4)


def test_nobody_stands_outside_the_boat_or_on_a_steep_side() -> None:
    footing = derive(skiff_plan()).footing
    assert footing.at(2.0, 1.3) is None
    assert footing.at(-0.5, 0.0) is None
    # the skiff's side leans out by 0.2 m in 0.6 m of height: 18° off upright
    assert footing.at(2.0, 0.9) is None


def test_deck_carries_who_stands_over_it_and_moves_with_them() -> None:
    start = skiff_plan(fittings=[DECK], cases=[{"name": "bow", "crew": [CREW]}])
    assert derive(start).load_case("bow").crew[0].at == (3.6, 0.0, 0.4)
    higher = apply(start, SetValue(path=("fittings", "deck", "height"), value=0.35))
    assert derive(higher).load_case("bow").crew[0].at[2] == pytest.approx(0.35)
    away = apply(start, SetValue(path=("fittings", "deck", "aft"), value=3.9))
    assert derive(away).load_case("bow").crew[0].at[2] < 0.01


def test_what_lies_under_a_deck_is_under_it_and_what_stands_on_it_is_not() -> None:
    # a deck at 0.4 over the flat bottom of the skiff, forward of 3.0; its skin inside is 3 mm up at most
    footing = derive(skiff_plan(fittings=[DECK])).footing
    for z, under in ((0.2, True), (0.399, True), (0.4, False), (0.6, False)):
        assert footing.over(3.6, 0.0, z) is under
        assert footing.over(2.0, 0.0, z) is False  # aft of it nothing but the bottom
    assert footing.over(2.0, 0.0, -0.1) is True
    assert footing.over(3.6, 1.4, 0.2) is False  # beside the boat


def test_thwart_carries_a_rib_does_not() -> None:
    box = {"size": [0.3, 1.2, 0.3], "floor_centre": [1.5, 0.0, 0.0]}
    for kind, height in (("thwart", 0.3), ("rib", 0.003)):
        built = skiff_plan(existing=[{"id": "t", "kind": kind, "box": box}])
        ground = derive(built).footing.at(1.5, 0.1)
        assert ground is not None and ground.height_m == pytest.approx(height, abs=1e-4)


def test_who_is_not_to_settle_stays_where_he_was_put() -> None:
    fixed = {**CREW, "settle": False}
    derived = derive(skiff_plan(cases=[{"name": "mast", "crew": [fixed]}]))
    assert derived.load_case("mast").crew[0].at[2] == 9.0


def test_standard_cases_follow_deck_seat_tank_and_label() -> None:
    seat = {"id": "s", "name": "helm seat", "group": "seats", "stage": "added",
            "mass": {"value": 9.0, "centre": [1.8, -0.4, 0.3]}}  # fmt: skip
    tanks = [
        {"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1, 0, 0.05], "liquid": "petrol"},
        {"id": "well", "size": [0.4, 0.4, 0.3], "floor_centre": [0.5, 0, 0.05], "liquid": "fresh water"},
    ]
    derived = derive(skiff_plan(fittings=[DECK], items=[seat], tanks=tanks,
                                label={"persons_kg": 300.0, "total_kg": 420.0, "persons": 4}))  # fmt: skip
    helm = derived.load_case("one at the helm").crew[0]
    assert helm.at[:2] == (1.8, -0.4) and helm.at[2] == pytest.approx(0.003 + SEAT_TOP_M)
    bow = derived.load_case("two on the bow deck").crew
    assert [p.at[2] for p in bow] == [0.4, 0.4]
    assert derived.load_case("two aft, livewell full").fills == {"fuel": 1.0, "well": 0.95}
    rail = derived.load_case("everyone to one rail").crew
    assert len(rail) == 4
    # the seat is to starboard, and that is the side they go to
    assert all(p.at[1] < -0.3 for p in rail)
    full = derived.load_case("full to the maker's label")
    assert sum(p.mass for p in full.crew) == pytest.approx(300)
    assert full.extra[0].mass.value == pytest.approx(120)


def test_a_case_of_ones_own_never_takes_the_place_of_the_standard_one() -> None:
    own = skiff_plan(cases=[{"name": "one at the helm", "crew": []}])
    derived = derive(own)
    names = [c.name for c in derived.load_cases]
    assert len(names) == len(set(names))
    assert derived.load_case("one at the helm").crew == ()
    assert len(derived.load_case("one at the helm (standard)").crew) == 1


def test_changing_a_standard_case_leaves_it_and_its_figures_as_they_are() -> None:
    plan_ = skiff_plan()
    before = derive(plan_)
    rail = before.load_case("everyone to one rail")
    # somebody steps to the middle: a copy of the case gets better, the standard one does not
    change = moved_person(plan_, rail, 0, 2.0, 0.0, before.footing.at)
    after = derive(apply(plan_, change))
    assert after.load_case("everyone to one rail") == rail
    kept = after.case("everyone to one rail").report
    assert kept == before.case("everyone to one rail").report
    yours = after.load_case("everyone to one rail, yours")
    assert yours.crew[0].at[1] == 0.0 and yours.crew[1] == rail.crew[1]


@pytest.mark.parametrize("name", FILES)
def test_cases_that_are_asked_for_by_name_are_those_of_the_whole(name: str) -> None:
    boat = demo_plan(name)
    # one of the build's own under a standard name: the standard one stands beside it
    own = LoadCase(name="one at the helm", crew=boat.cases[0].crew if boat.cases else ())
    boat = boat.model_copy(update={"cases": (*(c for c in boat.cases if c.name != own.name), own)})
    footing = derive(boat, quick=True).footing
    whole = load_cases(boat, footing)
    assert {"one at the helm", "one at the helm (standard)", "planned, empty"} <= {c.name for c in whole}
    for case in whole:
        assert load_cases(boat, footing, {case.name}) == (case,)
    few = {whole[0].name, whole[-1].name}
    assert load_cases(boat, footing, few) == (whole[0], whole[-1])


def test_bare_box_has_the_cases_that_need_nothing() -> None:
    derived = derive(plan())
    names = [c.name for c in standard_cases(derived.plan, derived.footing)]
    assert names == [
        "on the trailer",
        "one at the helm",
        "two in the bow",
        "two aft",
        "everyone to one rail",
        "climbing in over the side",
        "one standing on the gunwale",
        "two hauling over one side",
        "beached, waves astern",
        "aground, one in the bow",
    ]


def test_unknown_case_names_those_there_are() -> None:
    derived = derive(plan())
    with pytest.raises(CoreError, match=r"no case “night”; cases: “planned, empty”.*“two aft”"):
        case_by_name(derived.plan, derived.footing, "night")


def test_beside_a_deck_that_narrows_there_is_nothing_to_stand_on() -> None:
    # within the box around the bow deck, outside of the boat: her sheer is 0.7 wide at 4.0
    derived = derive(skiff_plan(fittings=[DECK]))
    assert derived.footing.at(4.0, 0.0).height_m == pytest.approx(0.4)
    assert derived.footing.at(4.4, 0.75) is None
