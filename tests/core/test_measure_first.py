"""What to measure before a panel is cut: in a box whose one reading is guessed, by similar triangles."""

from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.measure_first import First, corrected, measure_first
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, box_lines, build_data, derive

SKIN = "deck/skin/1"


def boat(spread: float, **deck: Any) -> Derived:
    """A box of 4 x 2 x 1 m whose readings are measured; those of the chine are estimated."""
    lines = [
        {**line, "known": "estimated", "spread": spread} if line["name"] == "chine" else line
        for line in box_lines(4.0, 2.0, 1.0)
    ]
    fitting = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.3, **deck}
    return derive(from_data(build_data(lines, fittings=[fitting])))


def first(spread: float, **deck: Any) -> First:
    return measure_first(boat(spread, **deck), SKIN)


def test_the_guessed_chine_comes_first_and_by_how_much() -> None:
    """40 mm at the aft chine are 30 at x = 1, a quarter of the way; 0.3 m up of 1 m 0.7 of that: 21."""
    readings = first(0.040).readings
    assert readings[0].line == "chine" and readings[0].axis == "half-width"
    assert readings[0].known == "estimated" and readings[0].spread_m == 0.040
    assert readings[0].outline_m == pytest.approx(0.021, abs=0.0015)
    # both ends of the box are as far off
    assert {r.station for r in readings[:2]} == {0, 1}


def test_half_the_spread_half_the_error_and_none_is_none() -> None:
    assert first(0.020).readings[0].outline_m == pytest.approx(0.0105, abs=0.001)
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.3}
    data = build_data(box_lines(4.0, 2.0, 1.0), fittings=[deck])
    measured = measure_first(derive(from_data(data)), SKIN)
    assert all(r.outline_m < 0.003 for r in measured.readings)


def test_a_reading_far_from_it_matters_less() -> None:
    """The first skin of a deck from 2.5 on ends at 3.54 m: the fore chine moves that end by 3.54 / 4 x 0.7
    of its spread, the aft one its other end by 1.5 / 4 x 0.7."""
    told = first(0.040, aft=2.5, fore=3.9).readings
    moved = {r.station: r.outline_m for r in told if r.line == "chine" and r.axis == "half-width"}
    assert moved[1] == pytest.approx(0.040 * 0.885 * 0.7, abs=0.0005)
    assert moved[0] == pytest.approx(0.040 * 0.375 * 0.7, abs=0.0005)


def test_a_panel_that_is_gone_asks_for_nothing() -> None:
    assert measure_first(boat(0.04), "gone") == First((), ())


def test_what_it_is_measured_off_is_read_first() -> None:
    data = build_data(box_lines(4.0, 2.0, 1.0), fittings=[
        {**DECK, "aft": 2.0, "fore": 3.5, "height": 0.3},
        {"kind": "bulkhead", "id": "wall", "name": "Wall", "mark": "V1", "x": 1.5, "top": 0.3},
    ])  # fmt: skip
    bond = {"id": "b", "thing": "deck", "edge": "aft", "to": "wall", "to_edge": "fore", "distance": 0.488}
    data["arrangement"] = {"bonds": [bond]}
    derived = derive(from_data(data))
    assert measure_first(derived, SKIN).off == ("Wall",)
    read = {"id": "r", "thing": "wall", "what": "aft", "planned": 1.5, "stands": 1.5}
    assert measure_first(derive(from_data({**data, "stood": [read]})), SKIN).off == ()


def test_of_a_hull_measured_apart_it_is_the_side_that_the_panel_lies_on() -> None:
    """Starboard's own chine is estimated, port's is measured: only that one comes first."""
    data = build_data(box_lines(4.0, 2.0, 1.0), fittings=[{**DECK, "aft": 1.0, "fore": 3.0, "height": 0.3}])
    data["hull"]["starboard"] = [
        {**line, "known": "estimated", "spread": 0.04} if line["name"] == "chine" else line
        for line in box_lines(4.0, 2.0, 1.0)
    ]
    readings = measure_first(derive(from_data(data)), SKIN).readings
    assert readings[0].starboard and readings[0].line == "chine" and readings[0].axis == "half-width"
    assert readings[0].outline_m == pytest.approx(0.021, abs=0.0015)
    assert all(r.starboard or r.outline_m < 0.003 for r in readings)


def tried(gap: float) -> tuple[Any, First]:
    """A deck from side to side, tried: at x = 1 it is so much too narrow to port, nowhere else."""
    data = build_data(
        [{**line, "known": "estimated", "spread": 0.02} if line["name"] == "chine" else line
         for line in box_lines(4.0, 2.0, 1.0)],
        fittings=[{**DECK, "aft": 1.0, "fore": 1.8, "height": 0.3}],
    )  # fmt: skip
    marks = [{"at": 0.0, "high": gap}, {"at": 0.8, "high": 0.0}]
    data["fitted"] = [{"id": SKIN, "thing": "deck", "marks": marks}]
    derived = derive(from_data(data))
    return derived.plan, measure_first(derived, SKIN)


def aft_edge(derived: Derived) -> float:
    """How far to port the skin's aft edge reaches [m]."""
    panel = next(p for b in derived.built for p in b.panels if p.key == SKIN)
    aft = panel.polygon.bounds[0]
    return max(v for u, v in panel.outline if abs(u - aft) < 1e-3)


@pytest.mark.parametrize("gap", [0.0105, -0.0105])
def test_a_gap_is_taken_over_by_the_reading_that_it_may_come_from(gap: float) -> None:
    """At x = 1, 0.3 m up, the aft chine moves the side by 0.75 x 0.7 of what it moves: 10.5 mm are 20."""
    plan, told = tried(gap)
    chine = next(
        r for r in told.readings if r.line == "chine" and r.station == 0 and r.axis == "half-width"
    )
    assert chine.takes_m == pytest.approx(0.020 * (1 if gap > 0 else -1), abs=0.0006)
    after = apply(plan, corrected(plan, SKIN, chine))
    line = next(x for x in after.hull.lines if x.name == "chine")
    assert line.points[0][1] == pytest.approx(1.0 + (chine.takes_m or 0.0), abs=1e-4)
    assert after.fitted == ()
    # the hull gives now what was read in the boat
    assert aft_edge(derive(after)) == pytest.approx(aft_edge(derive(plan)), abs=0.001)


def test_without_a_gap_no_reading_takes_one_over() -> None:
    assert all(r.takes_m is None for r in first(0.04).readings)
