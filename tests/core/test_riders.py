"""Whoever sits on a seat goes along with it."""

from typing import Any

import pytest

from stirrup.core.afloat.slide import balance_by_sliding
from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.move import moved
from stirrup.core.arrange.riders import with_riders
from stirrup.core.plan.changes import RemoveThing, SetValue, Together, apply, invert
from stirrup.core.plan.model import Plan
from stirrup.core.plan.words import describe
from stirrup.core.studies import remedies_of, situation_of, sliders
from stirrup.core.units import SYSTEMS
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan
from tests.core.test_fit import FLOOR, found, thing

SEAT = thing("seat", "seat", (2.0, 0.2, FLOOR), (0.5, 0.5, 0.7))


def somebody(x: float, y: float, posture: str = "seated") -> dict[str, Any]:
    return {"posture": posture, "at": [x, y, 0.45], "name": "Ines"}


def boat(*crew: dict[str, Any]) -> Plan:
    return plan(items=[SEAT], cases=[{"name": "out", "crew": list(crew)}])


def test_who_sits_on_it_goes_along_and_nobody_else() -> None:
    before = boat(somebody(2.1, 0.2), somebody(2.1, 0.2, "standing"), somebody(1.0, 0.2))
    change = with_riders(before, moved(before, ["seat"], (-0.3, 0.05, 0.02), "seat: moved"))
    after = apply(before, change)
    assert [p.at for p in after.cases[0].crew] == [
        pytest.approx((1.8, 0.25, 0.47)), (2.1, 0.2, 0.45), (1.0, 0.2, 0.45),
    ]  # fmt: skip
    # one step: undone as a whole, and told as the seat's
    assert apply(after, invert(before, change)) == before
    assert describe(before, change, SYSTEMS["mm"]) == "seat: moved"


def test_a_typed_position_brings_him_along_too_and_says_the_seat_only() -> None:
    before = boat(somebody(2.1, 0.2))
    change = with_riders(before, SetValue(path=("items", "seat", "mass", "centre", "0"), value=2.5))
    assert apply(before, change).cases[0].crew[0].at == pytest.approx((2.6, 0.2, 0.45))
    assert "more" not in describe(before, change, SYSTEMS["mm"])


def test_what_moves_no_seat_stays_as_it_is() -> None:
    before = boat(somebody(2.1, 0.2))
    for change in (
        SetValue(path=("items", "seat", "name"), value="helm seat"),
        SetValue(path=("items", "seat", "turn"), value=20.0),
        RemoveThing(path=("items", "seat")),
    ):
        assert with_riders(before, change) is change


def test_who_is_put_elsewhere_in_the_same_step_goes_there() -> None:
    before = boat(somebody(2.1, 0.2))
    both = Together(changes=(
        SetValue(path=("items", "seat", "mass", "centre", "0"), value=2.5),
        SetValue(path=("cases", "out", "crew", "0", "at"), value=[1.0, 0.0, 0.4]),
    ))  # fmt: skip
    assert apply(before, with_riders(before, both)).cases[0].crew[0].at == (1.0, 0.0, 0.4)


def test_reach_and_feet_are_mended_by_moving_the_seat_with_who_is_on_it() -> None:
    # back at 2.0 - 0.11 x 1.75: the wheel at 2.65 is 0.8425 ahead, 0.1075 more than the reach
    console = thing("console", "console", (2.85, 0, FLOOR), (0.4, 0.6, 0.9))
    seat = thing("seat", "seat", (2.0, 0, FLOOR), (0.5, 0.5, 0.7))
    far = plan(items=[seat, console], cases=[{"name": "out", "crew": [somebody(2.0, 0.0)]}])

    def said(here: Plan, code: str):
        return next(f for f in found(derive(here), code) if f.text.startswith("Ines"))

    reach = said(far, "REACH")
    assert reach.level == "mend"
    assert reach.fixes[0].by == pytest.approx((0.1075, 0.0, 0.0))
    change = moved(far, ["seat"], reach.fixes[0].by, "seat: moved")
    assert said(apply(far, with_riders(far, change)), "REACH").level == "fine"
    assert said(apply(far, change), "REACH").level == "mend"  # without who sits on it nothing is won


@pytest.mark.parametrize("side", [1, -1])
def test_the_balance_solver_and_the_remedies_know_who_sits_there(side: int) -> None:
    """Their promise is what she does once the step is made: the rider's 85 kg go along."""
    slide = {"fore": 0.0, "aft": 0.0, "port": 0.5, "starboard": 0.5}
    seat = thing("seat", "seat", (2.0, 0.6 * side, FLOOR), (0.5, 0.5, 0.7), slide=slide)
    crew = [{"posture": "seated", "mass": 85.0, "at": [2.0, 0.6 * side, 0.45], "name": "Ines"}]
    before = plan(items=[seat], cases=[{"name": "out", "crew": crew}])
    derived = derive(before)
    (slider,) = sliders(derived, "out")
    assert slider.mass_kg == pytest.approx(5.0 + 85.0)
    assert [s.mass_kg for s in sliders(derived, "planned, empty")] == [pytest.approx(5.0)]
    # to 0.1 of the centreline at the most: 90 kg stay at 0.1 m in 1690 kg; box with
    # KB + BM - KG, nothing of it needed: the promise is held against the deed
    answer = balance_by_sliding(situation_of(derived, "out"), [slider])
    (move,) = answer.moves
    assert move.dy == pytest.approx(-0.5 * side)
    change = with_riders(before, moved(before, ["seat"], (0.0, move.dy, 0.0), "seat: moved"))
    done = derive(apply(before, change)).case("out").report
    assert done.list_deg == pytest.approx(answer.list_deg, abs=0.01)
    # and so with the remedy that is offered first for the list
    first = next(r for r in remedies_of(derived, "out") if r.axis == "y")
    change = with_riders(before, moved(before, ["seat"], (0.0, first.by_m, 0.0), "seat: moved"))
    done = derive(apply(before, change)).case("out").report
    assert done.list_deg == pytest.approx(first.after_deg, abs=0.05)


def test_there_is_one_place_to_steer_from() -> None:
    before = plan(items=[{**SEAT, "steers": True}, {**SEAT, "id": "other", "name": "other"}])
    asked = SetValue(path=("items", "other", "steers"), value=True)
    change = followed(before, Around(lambda: pytest.fail("no hull is needed"), starting()), asked)
    after = apply(before, change)
    assert [i.steers for i in after.items] == [False, True]
    assert describe(before, change, SYSTEMS["mm"]) == "other: steered from here no to yes"
    assert (
        followed(
            before,
            Around(lambda: pytest.fail(""), starting()),
            SetValue(path=("items", "seat", "turn"), value=5.0),
        ).do
        == "set"
    )
    assert apply(after, invert(before, change)) == before
