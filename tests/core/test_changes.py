import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import (
    AddThing,
    RemoveThing,
    SetValue,
    Together,
    apply,
    conflicts,
    invert,
    read_change,
    touches,
)
from stirrup.core.plan.model import Plan
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS
from stirrup.exchange.buildfile import dump
from tests.boats import DECK, HATCH, skiff_plan

ITEM = {
    "id": "cooler", "name": "cooler", "group": "gear", "stage": "added",
    "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]},
}  # fmt: skip


def start() -> Plan:
    return skiff_plan(
        fittings=[DECK, HATCH],
        items=[ITEM],
        tanks=[{"id": "fuel", "name": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1, 0, 0.1],
                "liquid": "petrol"}],
        cases=[{"name": "one up", "crew": [{"at": [2, 0, 0.1]}], "fills": {"fuel": 0.5}}],
    )  # fmt: skip


lengths = st.floats(0.2, 0.5).map(lambda v: round(v, 4))
one_change = st.one_of(
    st.builds(lambda v: SetValue(path=("fittings", "deck", "height"), value=v), lengths),
    st.builds(lambda v: SetValue(path=("fittings", "deck", "aft"), value=2.5 + v), lengths),
    st.builds(
        lambda v: SetValue(path=("hull", "lines", "sheer", "points", "2", "1"), value=0.7 + v), lengths
    ),
    st.builds(lambda v: SetValue(path=("items", "cooler", "mass", "value"), value=v), lengths),
    st.builds(lambda v: SetValue(path=("items", "cooler", "name"), value=f"box {v}"), lengths),
    st.builds(lambda v: SetValue(path=("cases", "one up", "fills", "fuel"), value=v), lengths),
    st.builds(lambda v: SetValue(path=("cases", "one up", "crew", "0", "at"), value=[v, v, v]), lengths),
    st.just(SetValue(path=("fittings", "deck", "fore"), value=None)),
    st.just(AddThing(path=("items",), value={**ITEM, "id": "anchor"}, index=0)),
    st.just(AddThing(path=("cases", "one up", "crew"), value={"at": [1.0, 0.0, 0.1]})),
    st.just(AddThing(path=("cases", "one up", "crew"), value={"at": [1.0, 0.0, 0.1], "name": "0"})),
    st.just(RemoveThing(path=("fittings", "hatch"))),
    st.just(RemoveThing(path=("cases", "one up", "crew", "0"))),
    st.just(RemoveThing(path=("cases", "one up"))),
    st.just(SetValue(path=("hull", "starboard"), value=None)),
    st.just(SetValue(path=("wishes", "budget"), value="1850.50")),
    st.just(SetValue(path=("fittings", "hatch", "id"), value="lid-2")),
)


@given(one_change)
@settings(max_examples=80, deadline=None)
def test_a_change_and_its_inverse_are_identity(change) -> None:
    plan = start()
    back = invert(plan, change)
    assert dump(apply(apply(plan, change), back)) == dump(plan)


@given(st.lists(one_change, min_size=1, max_size=5))
@settings(max_examples=60, deadline=None)
def test_several_changes_together_are_undone_together(changes) -> None:
    plan = start()
    together = Together(changes=tuple(changes))
    try:
        after = apply(plan, together)
    except CoreError:
        return  # a thing was removed twice or used after its removal
    assert dump(apply(after, invert(plan, together))) == dump(plan)


@given(st.lists(one_change, min_size=1, max_size=6))
@settings(max_examples=40, deadline=None)
def test_a_row_of_changes_undone_backwards_ends_where_it_began(changes) -> None:
    plan = begin = start()
    undo = []
    for change in changes:
        try:
            after = apply(plan, change)
        except CoreError:
            continue
        undo.append(invert(plan, change))
        plan = after
    for change in reversed(undo):
        plan = apply(plan, change)
    assert dump(plan) == dump(begin)


def test_people_may_share_a_name_and_are_told_apart_by_place() -> None:
    plan = start()
    add = AddThing(path=("cases", "one up", "crew"), value={"at": [1, 0, 0.1], "name": "Ines"})
    for _ in range(2):
        plan = apply(plan, add)
    back = apply(apply(plan, add), invert(plan, add))
    assert back == plan
    moved = apply(plan, SetValue(path=("cases", "one up", "crew", "2", "mass"), value=70.0))
    assert [p.mass for p in moved.cases[0].crew] == [85.0, 85.0, 70.0]


def test_an_invalid_change_names_the_place_and_leaves_the_plan() -> None:
    plan = start()
    with pytest.raises(CoreError, match=r"fittings\[0\].height: read -1; accepted: more than 0"):
        apply(plan, SetValue(path=("fittings", "deck", "height"), value=-1))


def test_removing_a_deck_that_still_carries_a_hatch_is_refused() -> None:
    with pytest.raises(CoreError, match="no deck “deck”"):
        apply(start(), RemoveThing(path=("fittings", "deck")))


@pytest.mark.parametrize(
    "path",
    [("nothing",), ("fittings", "sofa", "x"), ("items", "7"), ("hull", "lines", "keel", "points", "99")],
)
def test_places_that_do_not_exist_are_named(path) -> None:
    with pytest.raises(CoreError):
        apply(start(), SetValue(path=path, value={"a": 1}))


def test_changes_to_different_things_do_not_conflict() -> None:
    deck = SetValue(path=("fittings", "deck", "aft"), value=2.9)
    other = SetValue(path=("fittings", "hatch", "x"), value=3.5)
    assert not conflicts(deck, other)
    assert conflicts(deck, SetValue(path=("fittings", "deck", "height"), value=0.3))


def test_readings_conflict_reading_by_reading() -> None:
    a = SetValue(path=("hull", "lines", "keel", "points", "1", "2"), value=0.0)
    b = SetValue(path=("hull", "lines", "keel", "points", "2", "2"), value=0.0)
    assert not conflicts(a, b)
    assert conflicts(a, SetValue(path=("hull", "lines", "keel", "points", "1"), value=[1, 0, 0]))
    assert conflicts(a, SetValue(path=("hull",), value={}))


def test_adding_and_changing_the_same_thing_conflict() -> None:
    add = AddThing(path=("items",), value={**ITEM, "id": "anchor"})
    assert touches(add) == {("items", "anchor")}
    assert conflicts(add, SetValue(path=("items", "anchor", "name"), value="x"))
    assert not conflicts(add, SetValue(path=("items", "cooler", "name"), value="x"))


def test_changes_are_read_from_json_and_bad_ones_explained() -> None:
    assert read_change({"do": "remove", "path": ["items", "cooler"]}) == RemoveThing(
        path=("items", "cooler")
    )
    with pytest.raises(CoreError, match="accepted kinds"):
        read_change({"do": "paint", "path": ["items"]})


def test_changes_are_told_in_words() -> None:
    plan, units = start(), SYSTEMS["mm"]
    move = SetValue(path=("fittings", "deck", "aft"), value=2.9)
    assert describe(plan, move, units) == "Deck: aft edge, from transom 3 000 mm to 2 900 mm"
    assert describe(plan, RemoveThing(path=("items", "cooler")), units) == "cooler: removed"
    assert describe(plan, AddThing(path=("items",), value=ITEM), units) == "cooler: added"
    reading = SetValue(path=("hull", "lines", "sheer", "points", "2", "1"), value=0.98)
    assert describe(plan, reading, units) == "sheer, station 3: to port 1 000 mm to 980 mm"
    both = Together(changes=(move, RemoveThing(path=("items", "cooler"))))
    assert describe(plan, both, units) == "Deck: aft edge, from transom 3 000 mm to 2 900 mm, and 1 more"


WAYS_TO_SET = st.one_of(
    *(
        st.tuples(st.just(path), st.one_of(*values))
        for path, *values in [
            (("fittings", "deck", "aft"), st.floats(-1, 5)),
            (("fittings", "deck", "kind"), st.just("hatch")),
            (("fittings", "hatch", "deck"), st.just("deck"), st.just("gone")),
            (("fittings", "hatch", "clear_width"), st.floats(0, 3), st.just("wide"), st.none()),
            (("items", "cooler", "mass", "centre", "0"), st.floats(-9, 9), st.booleans()),
            (("items", "cooler", "mass", "value"), st.floats(-1, 9)),
            (("items", "cooler", "stage"), st.just("added"), st.just("sold")),
            (("items", "cooler", "nothing"), st.just(1)),
            (("items", "gone", "name"), st.just("x")),
            (("tanks", "fuel", "size", "2"), st.floats(0, 1)),
        ]
    )
)


@settings(deadline=None)
@given(st.lists(WAYS_TO_SET, min_size=1, max_size=3))
def test_the_quick_way_of_setting_gives_what_the_whole_document_gives(wanted) -> None:
    """Setting values inside of things looks at these things only; the answer must be the same."""
    item = {"id": "cooler", "name": "c", "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]}}
    tank = {"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1, 0, 0.1], "liquid": "petrol"}
    plan = skiff_plan(fittings=[DECK, HATCH], items=[item], tanks=[tank])
    change = Together(changes=tuple(SetValue(path=path, value=value) for path, value in wanted))
    document = json.loads(plan.model_dump_json())

    def whole() -> str:
        for path, value in wanted:
            here: Any = document
            for step in path[:-1]:
                if isinstance(here, dict):
                    here = here[step]
                else:
                    named = (x for x in here if isinstance(x, dict) and x["id"] == step)
                    here = here[int(step)] if step.isdigit() else next(named, None)
                if here is None:
                    return "refused"
            here[int(path[-1]) if isinstance(here, list) else path[-1]] = value
        try:
            return Plan.model_validate_json(json.dumps(document), strict=True).model_dump_json()
        except ValueError:
            return "refused"

    try:
        got = apply(plan, change).model_dump_json()
    except CoreError:
        got = "refused"
    assert got == whole()


def test_what_is_not_set_stays_the_same_object() -> None:
    plan = skiff_plan(fittings=[DECK, HATCH])
    after = apply(plan, SetValue(path=("fittings", "deck", "aft"), value=2.5))
    assert after.fittings[1] is plan.fittings[1]
    assert after.fittings[0].aft == 2.5
