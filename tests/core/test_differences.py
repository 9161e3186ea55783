"""From one plan to another: the way there, and the way back."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.plan.changes import AddThing, RemoveThing, SetValue, apply, invert
from stirrup.core.plan.differences import changes_between, way_to
from stirrup.core.plan.model import Plan
from stirrup.core.units import SYSTEMS
from stirrup.demo.seed import FILES, demo_plan
from tests.boats import DECK, HATCH, skiff_plan

BASE = skiff_plan(
    fittings=[DECK, HATCH],
    items=[{"id": f"item-{k}", "name": f"thing {k}",
            "mass": {"value": 5.0 + k, "centre": [1.0 + k, 0.0, 0.2]}} for k in range(4)],
)  # fmt: skip


@st.composite
def edited(draw) -> Plan:
    """The plan after a few random edits: values, readings, things added and removed."""
    plan = BASE
    for number in range(draw(st.integers(0, 6))):
        ids = [i.id for i in plan.items]
        change: Any
        kind = draw(st.sampled_from(["mass", "deck", "reading", "add", "remove", "name"]))
        if kind == "mass" and ids:
            path = ("items", draw(st.sampled_from(ids)), "mass", "value")
            change = SetValue(path=path, value=draw(st.floats(1, 90)))
        elif kind == "deck":
            change = SetValue(path=("fittings", "deck", "height"), value=draw(st.floats(0.3, 0.5)))
        elif kind == "reading":
            station = draw(st.integers(0, 5))
            path = ("hull", "lines", "sheer", "points", str(station), "2")
            change = SetValue(path=path, value=draw(st.floats(0.5, 0.8)))
        elif kind == "add":
            value = {"id": f"new-{number}-{draw(st.integers(0, 99))}",
                     "mass": {"value": 3.0, "centre": [1.0, 0.0, 0.1]}}  # fmt: skip
            if value["id"] in ids:
                continue
            change = AddThing(path=("items",), value=value, index=draw(st.integers(0, len(ids))))
        elif kind == "remove" and ids:
            change = RemoveThing(path=("items", draw(st.sampled_from(ids))))
        else:
            change = SetValue(path=("name",), value=draw(st.sampled_from(["Wren", "Rail", "Teal"])))
        plan = apply(plan, change)
    return plan


@settings(max_examples=60, deadline=None)
@given(edited(), edited())
def test_the_way_leads_there_and_its_inverse_back(before: Plan, after: Plan) -> None:
    way = way_to(before, after, "there")
    if way is None:
        assert before == after
        return
    assert apply(before, way) == after
    assert apply(after, invert(before, way)) == before


@pytest.mark.parametrize(("a", "b"), [(0, 1), (1, 0)])
def test_two_different_boats(a: int, b: int) -> None:
    before, after = demo_plan(FILES[a]), demo_plan(FILES[b])
    way = way_to(before, after, "as the other is")
    assert way is not None
    assert apply(before, way) == after


def test_only_what_differs_is_named() -> None:
    after = apply(BASE, SetValue(path=("fittings", "deck", "aft"), value=2.8))
    after = apply(after, RemoveThing(path=("items", "item-2")))
    assert changes_between(BASE, after) == (
        RemoveThing(path=("items", "item-2")),
        SetValue(path=("fittings", "deck", "aft"), value=2.8),
    )
    assert changes_between(BASE, BASE) == ()


def test_differences_are_told_in_words() -> None:
    from stirrup.core.plan.words import describe

    after = apply(BASE, SetValue(path=("fittings", "deck", "aft"), value=2.8))
    [change] = changes_between(BASE, after)
    assert describe(BASE, change, SYSTEMS["mm"]) == "Deck: aft edge, from transom 3 000 mm to 2 800 mm"
