"""Things that are moved: one identity, weighed once in each stage, moments and hours by hand."""

from typing import Any

import pytest

from stirrup.core.afloat.cases import ledger
from stirrup.core.afloat.ledger import sum_load
from stirrup.core.apart import apart
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fit.relocated import former_box
from stirrup.core.plan.model import AS_FOUND, PLANNED_EMPTY, Plan
from tests.boats import derive, plan

SEAT = {"id": "seat", "name": "Seat", "stage": "found", "size": [0.4, 0.5, 0.5],
        "mass": {"value": 20.0, "centre": [1.4, 0.2, 0.4]}}  # fmt: skip
WAS = {"at": [1.0, 0.0, 0.4], "holes": 6}


def boat(item: dict[str, Any] | None = None, **more: Any) -> Plan:
    return plan(items=[item] if item else [], **more)


def told(derived: Derived, place: str = "seat") -> Finding:
    return next(f for f in derived.findings if f.code == "MOVED" and f.place == place)


def moments(derived: Derived) -> dict[str, tuple[float, float]]:
    """Mass and moment along her of both stages [kg, kg m]."""
    told = [(c.name, c.report) for c in derived.cases if c.name in (AS_FOUND, PLANNED_EMPTY)]
    return {name: (r.mass_kg, r.mass_kg * r.centre_m[0]) for name, r in told if r is not None}


@pytest.mark.parametrize("in_hull", [False, True])
def test_it_is_weighed_once_in_each_stage(in_hull: bool) -> None:
    """20 kg moved 0.4 m forward: the same mass, 8 kg m more of moment, whether the hull was weighed with it
    or not."""
    found = moments(derive(boat({**SEAT, "was": WAS, "in_hull_mass": in_hull})))
    (kg0, m0), (kg1, m1) = found[AS_FOUND], found[PLANNED_EMPTY]
    assert kg1 == pytest.approx(kg0) == pytest.approx(1600 if in_hull else 1620)
    assert m1 - m0 == pytest.approx(20 * 0.4, abs=1e-6)
    assert m0 == pytest.approx(1600 * 2.0 + (0 if in_hull else 20 * 1.0))


def test_structure_that_is_moved_shifts_its_moment() -> None:
    """A thwart of 9 kg from 1.0 to 1.5: 4.5 kg m, and no mass."""
    thwart = {"id": "thwart", "kind": "thwart", "weighs": 9.0, "was": {"at": [1.0, 0, 0.5]},
              "box": {"size": [0.3, 1.9, 0.04], "floor_centre": [1.5, 0, 0.5]}}  # fmt: skip
    derived = derive(boat(existing=[thwart]))
    (kg0, m0), (kg1, m1) = moments(derived)[AS_FOUND], moments(derived)[PLANNED_EMPTY]
    assert kg0 == pytest.approx(kg1) and m1 - m0 == pytest.approx(4.5)
    assert told(derived, "thwart").values["moment"].value == pytest.approx(4.5)


def test_what_it_takes_and_leaves() -> None:
    """25 min, 1 min for each of 20 kg and 12 for each of 6 holes in metal: 117 min; in a moulded hull 20
    for each: 165 min."""
    found = told(derive(boat({**SEAT, "was": WAS})))
    assert found.values["hours"].value == pytest.approx(117 / 60) and "welded shut" in found.text
    assert "forward" in found.text and "to port" in found.text
    moulded = boat({**SEAT, "was": WAS})
    moulded = moulded.model_copy(
        update={"hull": moulded.hull.model_copy(update={"material": "fiberglass"})}
    )
    other = told(derive(moulded))
    assert other.values["hours"].value == pytest.approx(165 / 60) and "laminate" in other.text


def test_where_it_still_stands_nothing_shifts() -> None:
    found = told(derive(boat({**SEAT, "was": {"at": [1.4, 0.2, 0.4]}})))
    assert found.level == "fine" and found.title == "It still stands where it was found"
    assert not [f for f in derive(boat(SEAT)).findings if f.code == "MOVED"]


def test_it_comes_off_and_goes_back_on_elsewhere() -> None:
    out = apart(boat({**SEAT, "was": WAS}))
    assert [(r.id, r.back) for r in out.out] == [("seat", True)] and "elsewhere" in out.out[0].how
    assert [r.id for r in out.back] == ["seat"]


def test_only_what_was_found_can_have_stood_elsewhere() -> None:
    with pytest.raises(CoreError, match="was: read a former place of an item that is added"):
        boat({**SEAT, "stage": "added", "was": WAS})
    ring = [[0, 0.9, 0.9], [4, 0.9, 0.9], [4, 1.0, 0.95]]
    with pytest.raises(CoreError, match="given as a box"):
        boat(existing=[{"id": "lip", "kind": "lip", "outline": ring, "was": {"at": [0, 0, 0]}}])


def test_the_box_where_it_stood_turned_by_a_quarter() -> None:
    item = boat({**SEAT, "was": {**WAS, "turn": 90.0}}).items[0]
    box = former_box(item)
    assert box is not None
    assert [tuple(round(v, 6) for v in r) for r in box] == [(0.75, 1.25), (-0.2, 0.2), (0.15, 0.65)]
    assert former_box(boat(SEAT).items[0]) is None


def test_taken_out_it_goes_from_where_it_was() -> None:
    """Weighed with the hull and removed: 20 kg less at 1.0, wherever it was to go."""
    derived = derive(boat({**SEAT, "was": WAS, "in_hull_mass": True, "stage": "removed"}))
    (kg0, m0), (kg1, m1) = moments(derived)[AS_FOUND], moments(derived)[PLANNED_EMPTY]
    assert kg0 - kg1 == pytest.approx(20.0) and m0 - m1 == pytest.approx(20.0 * 1.0)
    assert not [f for f in derived.findings if f.code == "MOVED"]


def test_entries_add_up_to_what_is_aboard() -> None:
    derived = derive(boat({**SEAT, "was": WAS, "in_hull_mass": True}))
    rows = ledger(derived.plan, derived.vessel, derived.built, as_found=False)
    assert sum_load(rows).rigid_kg == pytest.approx(1600.0)
    assert len({r.id for r in rows}) == len(rows)
