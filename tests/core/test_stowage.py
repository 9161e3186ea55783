"""Gear with a home: what it weighs where in which case, and what is told of its home.

A built locker 600 x 400 x 350 mm of 2.5 mm sheet on a deck at 0.3 m: inside 595 x 395; its floor lies on
25 mm of cleat and a sheet, 0.3275 m up, its lid's underside at 0.6475.
"""

from typing import Any

import pytest

from stirrup.core.afloat.cases import case_load
from stirrup.core.arrange.removal import removed
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import AS_FOUND, PLANNED_EMPTY
from stirrup.core.plan.stowing import brought
from stirrup.core.plan.suggest import own_case
from stirrup.exchange.buildfile import dump, parse
from tests.boats import derive, plan
from tests.core.test_locker_box import LOCKER
from tests.core.test_step_box import DECK

JACKETS = {"id": "jackets", "name": "jackets", "mass": 6.0, "length": 0.5, "width": 0.3, "height": 0.2,
           "home": "locker"}  # fmt: skip
ROPE = {"id": "rope", "name": "rope", "mass": 4.0, "length": 0.3, "width": 0.3, "height": 0.1,
        "home": None}  # fmt: skip
TWO = {"name": "two", "crew": [{"mass": 80, "posture": "seated", "at": [1.5, 0.0, 0.5]}]}


def boat(*gear: dict[str, Any], **more: Any) -> Derived:
    locker = {**LOCKER, **more.pop("locker", {})}
    return derive(plan(fittings=[DECK, locker], cases=[{**TWO, **more.pop("case", {})}],
                       wishes={"gear": list(gear)}, **more))  # fmt: skip


def mass_of(derived: Derived, case: str) -> tuple[float, float]:
    """What weighs in a case [kg], and its moment about the transom [kg m]."""
    load, _ = case_load(derived.plan, derived.vessel, derived.built, derived.load_case(case))
    return load.rigid_kg, float(load.moment[0])


def told(derived: Derived, code: str) -> list[Finding]:
    return [f for f in derived.findings if f.code == code]


def test_it_weighs_in_its_home_in_every_case_but_the_reserved_ones() -> None:
    before, after = boat({**JACKETS, "home": None}), boat(JACKETS)
    for case in after.load_cases:
        if case.lifted:
            continue  # the ground carries a share of it
        (kg0, m0), (kg1, m1) = mass_of(before, case.name), mass_of(after, case.name)
        more = 0.0 if case.name in (AS_FOUND, PLANNED_EMPTY) else 6.0
        assert kg1 - kg0 == pytest.approx(more), case.name
        # the locker's middle is 2 m from the transom
        assert m1 - m0 == pytest.approx(2.0 * more, abs=1e-6)
    assert before.case(PLANNED_EMPTY).report == after.case(PLANNED_EMPTY).report


def test_it_lies_on_the_floor_of_its_home() -> None:
    (item,) = boat(JACKETS).load_case("two").extra
    # 0.3275 and half of its least edge
    assert item.mass.centre == pytest.approx((2.0, 0.2, 0.3275 + 0.1))
    assert item.mass.value == 6.0


def test_up_to_the_label_means_with_it() -> None:
    label = {"persons_kg": 200, "total_kg": 300}
    before, after = boat({**JACKETS, "home": None}, label=label), boat(JACKETS, label=label)
    full = "full to the maker's label"
    assert mass_of(before, full) == pytest.approx(mass_of(after, full))


def test_what_a_case_leaves_out_takes_its_gear_along() -> None:
    derived = boat(JACKETS, case={"without": ["locker"]})
    assert not derived.load_case("two").extra


def test_moving_the_locker_moves_what_is_in_it() -> None:
    derived = boat(JACKETS, locker={"x": 1.6, "y": -0.3})
    assert derived.load_case("two").extra[0].mass.centre[:2] == pytest.approx((1.6, -0.3))


def test_under_a_deck_it_lies_on_the_bottom() -> None:
    derived = boat({**JACKETS, "home": "deck"})
    (item,) = derived.load_case("two").extra
    # the deck reaches from 1 to 3 m; 3 mm of bottom
    assert item.mass.centre == pytest.approx((2.0, 0.0, 0.003 + 0.1), abs=1e-2)


@pytest.mark.parametrize(("long", "level"), [(0.595, "fine"), (0.72, "mend")])
def test_whether_it_goes_in(long: float, level: str) -> None:
    derived = boat({**JACKETS, "length": long})
    fits = told(derived, "HOME-FITS")
    assert [f.level for f in fits] == ([] if level == "fine" else ["mend"])


@pytest.mark.parametrize(("high", "level"), [(0.18, "fine"), (0.20, "look")])
def test_three_quarters_of_the_litres_are_full(high: float, level: str) -> None:
    """595 x 395 x 320 mm are 75.2 litres, 56.4 of them for gear. Two boxes of 590 x 250 mm: at 180 mm
    26.6 litres each, 53.1 in all; at 200 mm 59.0."""
    boxes = [{**JACKETS, "id": f"box-{k}", "length": 0.59, "width": 0.25, "height": high} for k in (1, 2)]
    (found,) = told(boat(*boxes), "HOME-FULL")
    assert found.level == level
    left = 0.75 * 0.595 * 0.395 * 0.320 * 1000 - 2 * 0.59 * 0.25 * high * 1000
    assert found.values["left"].value == pytest.approx(abs(left), abs=0.06)


def test_what_has_no_home_is_named() -> None:
    (found,) = told(boat(JACKETS, ROPE), "HOMES")
    assert found.level == "look" and "rope" in found.text and "jackets" not in found.text
    (fine,) = told(boat(JACKETS, {**ROPE, "home": "locker"}), "HOMES")
    assert fine.level == "fine" and fine.values["kg"].value == pytest.approx(10.0)
    # nothing is said to who does not use it
    assert not told(boat({**JACKETS, "home": None}, ROPE), "HOMES")


def test_a_home_without_lid_or_gone_is_told_and_counts_nothing() -> None:
    step = {"kind": "step_box", "id": "step", "name": "Step", "x": 1.3, "y": -0.5, "on": "deck"}
    before = plan(fittings=[DECK, step], cases=[TWO], wishes={"gear": [{**JACKETS, "home": "step"}]})
    derived = derive(before)
    assert [f.level for f in told(derived, "HOME-FITS")] == ["mend"]
    assert not derived.load_case("two").extra
    gone = derive(plan(fittings=[DECK], cases=[TWO], wishes={"gear": [JACKETS]}))
    assert [f.level for f in told(gone, "HOME-FITS")] == ["mend"]


def test_taking_the_locker_out_leaves_its_gear_without_a_home() -> None:
    before = boat(JACKETS).plan
    after = apply(before, removed(before, ["locker"]))
    assert after.wishes.gear[0].home is None
    assert not told(derive(after), "HOME-FITS")


def test_a_home_is_written_and_read_back() -> None:
    before = boat(JACKETS).plan
    assert parse(dump(before)).wishes == before.wishes
    moved = apply(before, SetValue(path=("wishes", "gear", "jackets", "home"), value="deck"))
    assert moved.wishes.gear[0].home == "deck"


def test_a_case_that_is_copied_does_not_take_the_stowed_gear_along_twice() -> None:
    before = boat(JACKETS)
    standard = next(c for c in before.load_cases if c.name == "one at the helm")
    after = apply(before.plan, own_case(before.plan, standard))
    mine = after.cases[-1]
    assert mine.extra == () and mine.crew == standard.crew
    derived = derive(after)
    assert mass_of(derived, mine.name) == pytest.approx(mass_of(derived, "one at the helm"))
    # what somebody put into the case himself stays in it
    sack = {"id": "sack", "name": "sack", "mass": {"value": 20.0, "centre": [1.0, 0.0, 0.2]}}
    own = boat(JACKETS, case={"extra": [sack]})
    assert [e.id for e in brought(own.plan, own.load_case("two")).extra] == ["sack"]
