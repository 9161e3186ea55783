"""Bought or made: another kind in a thing's place, with its sizes, and what comes of it."""

from decimal import Decimal

import pytest

from stirrup.core.bought_or_made import bought_or_made, offered, others
from stirrup.core.derive import derive as core_derive
from stirrup.core.kinds.registry import kind_of
from stirrup.core.parts.catalogue import EMPTY
from stirrup.core.parts.entries import Whole
from stirrup.core.plan.changes import SetValue, apply, invert
from stirrup.core.plan.where import extent_of
from stirrup.core.work.hours import effort
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, plan
from tests.core.test_locker_box import LOCKER

CAT = starting()
CONSOLE = {"id": "console", "name": "console", "form": "console", "stage": "added", "size": [0.5, 0.7, 0.9],
           "mass": {"value": 24.0, "centre": [1.8, -0.4, 0.46]}}  # fmt: skip
SCREEN = {"id": "screen", "form": "screen", "stage": "added", "size": [0.2, 0.5, 0.3],
          "mass": {"value": 3.0, "centre": [1.8, -0.4, 1.06]}}  # fmt: skip


def test_a_bought_console_beside_a_built_one() -> None:
    before = derive(plan(fittings=[{**DECK, "aft": 2.5}], items=[CONSOLE, SCREEN]))
    assert others(before.plan, "console") == {"console_box": "console_box"}
    now, built = bought_or_made(before, "console", CAT)[:2]
    # as it is: what it weighs by itself, no hands-on work
    assert (now.kg, now.hours, now.change) == (24.0, 0.0, None)
    assert built.change is not None and built.hours > 1
    after = core_derive(apply(before.plan, built.change), CAT, quick=True)
    box = after.fitting("console")
    assert box is not None and built.kg == pytest.approx(box.mass_kg)
    assert built.hours == pytest.approx(effort([box]).hours)
    assert built.cost == after.cost.total and not any(i.id == "console" for i in after.plan.items)
    # in its place and as large: 0.5 by 0.7 by 0.9 about (1.8, -0.4), on what is under it
    was = extent_of(before.plan, before.surface, "console")
    is_ = extent_of(after.plan, after.surface, "console")
    assert is_.x == pytest.approx(was.x, abs=1e-3) and is_.y == pytest.approx(was.y, abs=1e-3)
    assert is_.z[1] - is_.z[0] == pytest.approx(0.9)
    assert apply(after.plan, invert(before.plan, built.change)) == before.plan


def test_a_built_locker_beside_a_bought_one_costs_what_the_catalogue_has() -> None:
    before = derive(plan(fittings=[{**LOCKER, "on": None}]))
    rows = bought_or_made(before, "locker", CAT)
    bought = next(r for r in rows[1:] if r.title == "Box with a lid")
    assert bought.hours == 0.0 and rows[0].hours > 1
    # nothing else is in the boat: the whole build costs what the box does, 85 and its tax
    tax = Decimal(1) + before.plan.wishes.tax_percent / Decimal(100)
    assert bought.cost == pytest.approx(Decimal(85) * tax, abs=Decimal("0.01"))
    assert bought.kg == 8.0


def test_what_follows_a_thing_stays_with_it() -> None:
    bond = {
        "id": "b",
        "thing": "screen",
        "edge": "aft",
        "to": "console",
        "to_edge": "aft",
        "distance": 0.05,
    }
    before = derive(plan(items=[CONSOLE, SCREEN], arrangement={"bonds": [bond]}))
    built = bought_or_made(before, "console", CAT)[1]
    assert built.change is not None
    after = apply(before.plan, built.change)
    assert after.arrangement.bonds == before.plan.arrangement.bonds
    assert kind_of(after.thing("console")).key == "console_box"


def test_what_came_with_the_boat_is_locked_or_does_a_job_of_its_own_has_no_other() -> None:
    before = plan(items=[CONSOLE, SCREEN], fittings=[DECK])
    assert (
        others(before, "screen") == {} and others(before, DECK["id"]) == {} and others(before, "no") == {}
    )
    found = apply(before, SetValue(path=("items", "console", "stage"), value="found"))
    assert others(found, "console") == {}
    locked = plan(items=[CONSOLE], arrangement={"things": [{"id": "console", "locked": True}]})
    assert others(locked, "console") == {}


def test_nothing_is_stored() -> None:
    before = derive(plan(items=[CONSOLE]))
    text = before.plan.model_dump_json()
    bought_or_made(before, "console", CAT)
    assert before.plan.model_dump_json() == text
    assert bought_or_made(before, "nothing", CAT) == []


MOTOR = {"id": "motor", "name": "old one", "form": "outboard", "stage": "found", "power": 11.0,
         "mass": {"value": 60.0, "centre": [-0.2, 0.0, 0.9], "status": "weighed"}}  # fmt: skip


def test_motors_of_the_catalogue_take_the_place_of_the_one_that_came_with_her() -> None:
    before = derive(plan(items=[MOTOR]))
    rows = bought_or_made(before, "motor", CAT)
    # fourteen outboards from 18 kg on, the lightest first, after the one that is there
    assert len(rows) == 15 and rows[0].kg == 60.0
    assert [r.kg for r in rows[1:]] == sorted(r.kg for r in rows[1:])
    small = rows[1]
    assert (small.title, small.kg) == ("outboard 1.8 kW (2.5 hp), four-stroke", 18.0)
    assert small.change is not None
    after = apply(before.plan, small.change)
    old, new = after.items
    assert (old.stage, new.stage, new.power, new.mass.centre) == ("removed", "added", 1.8, (-0.2, 0.0, 0.9))
    # 900 and its tax is all that is bought, and she trims less by the stern
    tax = Decimal(1) + after.wishes.tax_percent / Decimal(100)
    assert small.cost == pytest.approx(Decimal(900) * tax, abs=Decimal("0.01"))
    assert rows[0].trim_deg is not None and small.trim_deg is not None
    assert small.trim_deg < rows[0].trim_deg
    assert apply(after, invert(before.plan, small.change)) == before.plan


def test_one_that_is_planned_is_exchanged_and_stands_on_the_same_foot() -> None:
    battery = {"id": "b", "form": "battery", "stage": "added", "size": [0.33, 0.18, 0.24],
               "mass": {"value": 24.0, "centre": [0.6, 0.5, 0.125]}}  # fmt: skip
    before = derive(plan(items=[battery]))
    for row in bought_or_made(before, "b", CAT)[1:]:
        assert row.change is not None
        (only,) = apply(before.plan, row.change).items
        entry = next(e for e in CAT.of(Whole) if e.name == only.name)
        assert (only.id, only.mass.value, only.size) == ("b", entry.mass, entry.size or (0.33, 0.18, 0.24))
        # its foot was at 0.125 - 0.12 = 5 mm
        assert only.size is not None
        assert only.mass.centre[2] - only.size[2] / 2 == pytest.approx(0.005)


def test_what_is_locked_taken_out_or_in_no_catalogue_has_no_other() -> None:
    assert offered(plan(items=[SCREEN, MOTOR]), "motor", EMPTY) == []
    anchor = {"id": "a", "form": "box", "mass": {"value": 9.0, "centre": [3.0, 0.0, 0.2]}}
    assert offered(plan(items=[anchor]), "a", CAT) == []  # a free thing is like no other
    locked = plan(items=[MOTOR], arrangement={"things": [{"id": "motor", "locked": True}]})
    assert offered(locked, "motor", CAT) == [] and offered(locked, "nobody", CAT) == []
    assert offered(plan(items=[{**MOTOR, "stage": "removed"}]), "motor", CAT) == []
