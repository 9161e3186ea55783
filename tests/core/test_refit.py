"""A panel tried in the boat: its edges drawn out by gaps at marks; areas by triangles and trapezoids."""

from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.removal import removed
from stirrup.core.cutting.refit import marks_of, refitted
from stirrup.core.derive import Derived
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Frame, Panel
from stirrup.core.plan.changes import apply
from stirrup.core.plan.fitted import Fitted
from stirrup.core.plan.model import Plan
from tests.boats import derive, plan
from tests.core.test_bulkhead import BULKHEAD


def panel(*ring: tuple[float, float], holes: tuple[Any, ...] = ()) -> Panel:
    sheet = Sheet.model_validate({
        "id": "s", "name": "s", "group": "sheet", "unit": "sheet", "material": "m", "thickness": 0.01,
        "packs": [],
    })  # fmt: skip
    return Panel("p/1", "P1", "Panel", "p", sheet, ring, holes, Frame((0, 0, 0)), (0,))


PLATE = panel((0.0, 0.0), (1.0, 0.0), (1.0, 0.4), (0.0, 0.4))
QUARTERS = (0.0, 0.25, 0.5, 0.75, 1.0)


def gaps(low: Any, high: Any) -> list[tuple[float, float, float]]:
    return list(zip(QUARTERS, low, high, strict=True))


def test_a_plate_without_curves_is_read_at_quarters_of_its_longer_side() -> None:
    assert marks_of(PLATE) == (False, QUARTERS)
    upright, places = marks_of(panel((0.0, 0.0), (0.4, 0.0), (0.4, 1.0), (0.0, 1.0)))
    assert upright and places == pytest.approx(QUARTERS)


def test_of_many_ordinates_every_third_is_read_and_the_last() -> None:
    """A curved edge has an ordinate every 50 mm of a metre: 21; of them 0, 150 ... 900, and 1000."""
    xs = [k / 40 for k in range(41)]
    upright, places = marks_of(
        panel((0.0, 0.0), (1.0, 0.0), *((x, 0.4 + 0.2 * x * x) for x in reversed(xs)))
    )
    assert not upright and len(places) <= 9 and places[0] == 0.0 and places[-1] == pytest.approx(1.0)
    assert places[1] - places[0] == pytest.approx(places[2] - places[1])


def test_a_gap_at_one_mark_is_a_triangle_of_sheet() -> None:
    """6 mm at the upper edge in the middle: out to both neighbours, 0.5 x 6 mm / 2. At an end: half."""
    middle = refitted(PLATE, False, gaps([0] * 5, [0, 0, 0.006, 0, 0]))
    assert middle.polygon.area == pytest.approx(0.4 + 0.5 * 0.006 / 2)
    assert middle.polygon.bounds == pytest.approx((0, 0, 1, 0.406))
    end = refitted(PLATE, False, gaps([0] * 5, [0, 0, 0, 0, 0.006]))
    assert end.polygon.area == pytest.approx(0.4 + 0.25 * 0.006 / 2)


def test_where_it_was_too_large_it_is_cut_back_on_the_side_that_was_read() -> None:
    low = refitted(PLATE, False, gaps([-0.01] * 5, [0] * 5))
    assert low.polygon.bounds == pytest.approx((0, 0.01, 1, 0.4))
    assert low.polygon.area == pytest.approx(0.39)


def test_an_upright_panel_is_read_from_its_left_and_right_edge() -> None:
    tall = panel((0.0, 0.0), (0.4, 0.0), (0.4, 1.0), (0.0, 1.0))
    found = refitted(tall, True, gaps([0] * 5, [0, 0, 0.006, 0, 0]))
    assert found.polygon.bounds == pytest.approx((0, 0, 0.406, 1))
    assert refitted(tall, True, gaps([0.002] * 5, [0] * 5)).polygon.bounds == pytest.approx(
        (-0.002, 0, 0.4, 1)
    )


def test_holes_stay_where_they_are() -> None:
    hole = ((0.4, 0.1), (0.6, 0.1), (0.6, 0.3), (0.4, 0.3))
    found = refitted(panel(*PLATE.outline, holes=(hole,)), False, gaps([0.005] * 5, [0.005] * 5))
    assert found.holes == (hole,) and found.polygon.area == pytest.approx(0.41 - 0.04)


def test_what_would_turn_it_inside_out_leaves_it() -> None:
    thin = panel((0.0, 0.0), (1.0, 0.0), (1.0, 0.05), (0.0, 0.05))
    assert refitted(thin, False, gaps([-0.04] * 5, [-0.04] * 5)) == thin


@given(
    st.lists(st.floats(-0.08, 0.08), min_size=5, max_size=5),
    st.lists(st.floats(-0.08, 0.08), min_size=5, max_size=5),
)
def test_its_area_changes_by_trapezoids(low: list[float], high: list[float]) -> None:
    """Sum over the bays of their breadth times the mean of the gaps at both ends."""
    found = refitted(PLATE, False, gaps(low, high))
    both = [a + b for a, b in zip(low, high, strict=True)]
    want = 0.4 + sum(0.25 * (a + b) / 2 for a, b in pairwise(both))
    assert found.polygon.area == pytest.approx(want, abs=1e-9)


# in the boat: a bulkhead 1.985 wide, 0.792 high, whose marks run along it


def fitted(high: float, key: str = "bulkhead/b") -> dict[str, Any]:
    marks = [{"at": 0.0, "high": 0.0}, {"at": 1.985, "high": high}]
    return {"id": key, "thing": "bulkhead", "marks": marks}


def boat(*fits: dict[str, Any]) -> Plan:
    return plan(fittings=[{**BULKHEAD, "limber": 0.0}], fitted=list(fits))


def area(derived: Derived) -> float:
    built = derived.fitting("bulkhead")
    assert built is not None
    return float(built.panels[0].polygon.area)


def test_the_boat_takes_it_over_with_its_mass_and_says_so() -> None:
    bare, tried = derive(boat()), derive(boat(fitted(0.004)))
    assert area(tried) - area(bare) == pytest.approx(1.985 * 0.004 / 2, rel=1e-3)
    one, other = (d.fitting("bulkhead") for d in (bare, tried))
    assert one is not None and other is not None
    (was,), (now,) = one.panels, other.panels
    grown = 1.985 * 0.004 / 2 * 0.012 * was.sheet.stuff.density
    assert now.mass_kg - was.mass_kg == pytest.approx(grown, rel=1e-3)
    (found,) = [f for f in tried.findings if f.code == "TRIED"]
    assert found.level == "fine" and found.values["off"].value == 0.004


@pytest.mark.parametrize(("off", "level"), [(0.005, "fine"), (0.0051, "look"), (-0.02, "look")])
def test_from_five_millimetres_on_the_hull_is_doubted(off: float, level: str) -> None:
    (found,) = [f for f in derive(boat(fitted(off))).findings if f.code == "TRIED"]
    assert found.level == level and ("larger" in found.text) == (off > 0)


def test_a_panel_that_is_gone_is_told_and_its_gaps_leave_with_its_thing() -> None:
    (found,) = [f for f in derive(boat(fitted(0.004, "bulkhead/gone"))).findings if f.code == "TRIED"]
    assert found.title.startswith("Tried in the boat, and not wanted")
    there = boat(fitted(0.004))
    assert apply(there, removed(there, ["bulkhead"])).fitted == ()


def test_marks_lie_one_after_another() -> None:
    with pytest.raises(ValidationError, match="further along"):
        Fitted.model_validate({"id": "p", "thing": "t", "marks": [{"at": 0.5}, {"at": 0.5}]})


def test_what_was_known_of_it_before_is_not_what_it_is_after() -> None:
    """Ledger and layouts keep what they made of a thing; tried in the boat it is another one."""
    before = derive(boat())
    kg = sum(e.mass_kg for e in before.planned)
    blank = next(b for s in before.sheets for b in s.job.blanks if b.id == "bulkhead/b")
    after = derive(boat(fitted(0.02)))
    grown = next(b for s in after.sheets for b in s.job.blanks if b.id == "bulkhead/b")
    panel_of = next(p for b in after.built for p in b.panels if p.key == "bulkhead/b")
    assert grown.outline == panel_of.outline != blank.outline
    more = sum(e.mass_kg for e in after.planned) - kg
    was = next(p for b in before.built for p in b.panels if p.key == "bulkhead/b")
    assert more == pytest.approx(panel_of.mass_kg - was.mass_kg, abs=1e-6) and more > 0
