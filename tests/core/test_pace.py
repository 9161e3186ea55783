"""While something is dragged: what keeps up with the hand says the same as what is worked out whole."""

import threading
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core import derive as pipeline
from stirrup.core.afloat.every_case import NEARBY
from stirrup.core.derive import derive, derive_live, followed_by
from stirrup.core.errors import GivenUpError
from stirrup.core.findings import CHECKS
from stirrup.core.fit.standing import standing_findings
from stirrup.core.memo import forget
from stirrup.core.plan.changes import RemoveThing, SetValue, apply
from stirrup.core.plan.model import AS_FOUND, PLANNED_EMPTY, Plan
from stirrup.core.plan.things import path_of
from stirrup.demo.seed import demo_plan
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, skiff_plan

CASE = "two fishing forward"


def demo() -> Plan:
    return demo_plan("sedge-hopper.stirrup.json")


def moved(plan: Plan, aft: float) -> Plan:
    return apply(plan, SetValue(path=("fittings", "bow-deck", "aft"), value=aft))


@pytest.mark.slow
@settings(max_examples=6, deadline=None)
@given(st.lists(st.floats(2.4, 3.2), min_size=1, max_size=4))
def test_the_live_part_is_a_part_of_the_whole(edges: list[float]) -> None:
    plan = demo()
    for edge in edges:
        plan = moved(plan, round(edge, 3))
        live = derive_live(plan, starting(), [CASE])
    whole = derive(plan, starting(), quick=True)
    shown = {PLANNED_EMPTY, AS_FOUND, CASE}
    assert {c.name for c in live.cases} == shown
    assert [c.report for c in live.cases] == [whole.case(c.name).report for c in live.cases]
    assert (live.added_kg, live.cost, live.sheets) == (whole.added_kg, whole.cost, whole.sheets)
    told = [f for f in whole.findings if f.check.pace == "live" or f.place in shown]
    assert sorted(live.findings, key=repr) == sorted(told, key=repr)
    # and after any number of steps it is what comes out of nothing
    forget()
    NEARBY.clear()  # nor from where she floated last
    fresh = derive_live(plan, starting(), [CASE])
    still, again = ([f for f in d.findings if f.place not in shown] for d in (live, fresh))
    assert sorted(again, key=repr) == sorted(still, key=repr)
    afloat, anew = ({(f.code, f.place): f for f in d.findings if f.place in shown} for d in (live, fresh))
    assert {k: (f.level, f.title) for k, f in afloat.items()} == {
        k: (f.level, f.title) for k, f in anew.items()
    }
    for key, finding in afloat.items():
        for name, quantity in finding.values.items():
            assert anew[key].values[name].value == pytest.approx(quantity.value, abs=0.01), (key, name)
    for name in shown:
        a, b = fresh.case(name).report, live.case(name).report
        assert a is not None and b is not None
        # both stop within the tolerance of a drag: a hundredth of a degree, a tenth of a millimetre
        assert a.trim_deg == pytest.approx(b.trim_deg, abs=0.01)
        assert a.freeboard_least_m == pytest.approx(b.freeboard_least_m, abs=1e-4)


def test_what_it_costs_may_be_as_it_was_and_all_else_is_as_it_is() -> None:
    """A hand's figures are renewed at every step, what it costs a few times a second."""
    first = derive_live(moved(demo(), 3.0), starting(), [CASE])
    whole = derive_live(moved(demo(), 2.5), starting(), [CASE])
    short = derive_live(moved(demo(), 2.5), starting(), [CASE], first.spent)
    assert short.spent is first.spent and short.cost != whole.cost
    assert (short.added_kg, short.cases, short.fit) == (whole.added_kg, whole.cases, whole.fit)
    assert short.added_kg > first.added_kg + 3  # half a metre of deck
    assert derive_live(moved(demo(), 2.5), starting(), [CASE], whole.spent).findings == whole.findings


def test_what_comes_behind_is_shown_as_it_was_and_says_so() -> None:
    plan = demo()
    before = derive(plan, starting())
    live = derive_live(moved(plan, 2.9), starting(), [CASE])
    both = followed_by(live, before)
    old = [f for f in both.findings if f.old]
    assert {f.code for f in old} >= {"WAY-OUT", "WALKWAY", "EYE-LINE"}
    assert all(CHECKS[f.code].pace == "behind" for f in old)
    assert [f for f in both.findings if not f.old] == list(live.findings)
    # of the case that is shown nothing is old
    assert not any(f.place in (CASE, PLANNED_EMPTY) for f in old)
    assert live.fit.passage is None and both.fit.passage == before.fit.passage


def test_nothing_is_said_of_what_is_not_there_any_more() -> None:
    plan = demo()
    before = derive(plan, starting())
    seat = next(f.place for f in before.findings if f.code == "SEAT-HEIGHT")
    without = apply(plan, RemoveThing(path=path_of(plan, seat)))
    both = followed_by(derive_live(without, starting(), [CASE]), before)
    assert not any(seat in (f.place, f.other) for f in both.findings)


def test_nobody_works_on_for_a_hand_that_has_gone_on(monkeypatch) -> None:
    asked = []

    def ask() -> None:
        asked.append(1)
        if len(asked) == 3:
            raise GivenUpError

    def never(*_: object) -> None:
        raise AssertionError("worked on")

    monkeypatch.setattr(pipeline, "check_fit", never)
    plan = skiff_plan(fittings=[{**DECK, "aft": 2.9137}])
    with pytest.raises(GivenUpError):
        derive(plan, starting(), quick=True, ask=ask)
    assert len(asked) == 3


def test_people_in_the_way_are_not_looked_for_at_every_step(monkeypatch) -> None:
    def never(*_: object) -> None:
        raise AssertionError("looked for")

    assert standing_findings.__module__ == "stirrup.core.fit.standing"
    monkeypatch.setattr("stirrup.core.fit.check.standing_findings", never)
    monkeypatch.setattr("stirrup.core.fit.check.passage", never)
    derive_live(moved(demo(), 2.8113), starting(), [CASE])


def test_two_who_ask_for_the_same_at_once_have_it_worked_out_once(monkeypatch) -> None:
    real, made, go = pipeline.check_fit, [], threading.Barrier(4)

    def slow(*args: object, **more: object):
        made.append(1)
        time.sleep(0.05)
        return real(*args, **more)

    monkeypatch.setattr(pipeline, "check_fit", slow)
    plan = skiff_plan(fittings=[{**DECK, "aft": 2.7719}])
    got: list[object] = []

    def ask() -> None:
        go.wait()
        got.append(derive(plan, starting()))

    threads = [threading.Thread(target=ask) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(made) == 1 and all(d is got[0] for d in got)
