"""What runs along the edges of a box 4 m long, 2 m wide and 1 m deep, and of a vee: worked by hand."""

import math
from typing import Any

import pytest
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.edge_run import EdgeRun, fixings
from stirrup.core.plan.changes import apply
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, flared_lines, wedge_lines

RUN = {"kind": "edge_run", "id": "run", "name": "Rub rail", "mark": "I1", "aft": 0.5, "fore": 3.5}


def boat(lines: Any = None, **choices: Any) -> Derived:
    return derive(from_data(build_data(lines, fittings=[{**RUN, **choices}])))


def made(derived: Derived) -> Built:
    found = derived.fitting("run")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "run")


def test_along_both_sides() -> None:
    """3 m on each side, 3 % cut off; 0.42 kg a metre."""
    parts = {b.label: b for b in made(boat()).bought}
    assert parts["I1-L"].quantity == pytest.approx(6.0 * 1.03)
    assert parts["I1-L"].mass_kg == pytest.approx(6.0 * 0.42)
    assert parts["I1-L"].centre == pytest.approx((2.0, 0.0, 1.0))
    # 2.85 m in steps of 0.3: ten, and the foremost; on either side
    assert parts["I1-F"].quantity == 22 == 2 * fixings(3.0, 0.3)
    one = {b.label: b for b in made(boat(reaches="starboard")).bought}["I1-L"]
    assert one.quantity == pytest.approx(3.0 * 1.03) and one.centre[1] == pytest.approx(-1.0)


def test_along_an_edge_that_rises() -> None:
    """The chine of a bow that closes by 0.5 m over 4 m and rises by 0.6: 3 m of it along x."""
    lines = wedge_lines(0.2)
    lines[1]["points"][1] = [4, 0.5, 0.8]
    found = told(boat(lines, along="chine"), "EDGE-LENGTH")
    assert found.values["each"].value == pytest.approx(3 * math.sqrt(1 + 0.125**2 + 0.15**2), rel=1e-6)


def test_a_collar_carries() -> None:
    """0.15 by 0.2 m over 3 m on both sides: 180 litres. Her sides are deep in the water here, so that she
    floats higher by it."""
    derived = boat(wide=0.15, high=0.2, carries=True, part="collar-foam", held="glued", along="sheer")
    assert told(derived, "EDGE-LENGTH").values["litres"].value == pytest.approx(180.0)
    assert sum(v.solid.volume_m3 for v in derived.vessel.volumes) == pytest.approx(0.18)
    assert not boat().vessel.volumes
    assert told(derived, "EDGE-HELD").level == "look"
    glue = {b.label: b.quantity for b in made(derived).bought}["I1-G"]
    assert glue == pytest.approx(6.0 * 5e-5 / 0.00029)


def test_a_collar_low_down_lifts_her() -> None:
    """Along the chine, all of it under water: she carries its volume less, over her waterplane of 8 m2."""
    lines = flared_lines()
    low = [boat(lines, along="chine", wide=0.1, high=0.1, carries=c) for c in (False, True)]
    drafts = []
    for derived in low:
        report = next(c.report for c in derived.cases if c.name == PLANNED_EMPTY)
        assert report is not None
        drafts.append(report.draft_at_origin_m)
    assert drafts[1] < drafts[0]


@pytest.mark.parametrize(
    ("choices", "level"),
    [({}, "fine"), ({"along": "keel"}, "mend"), ({"along": "keel", "held": "glued"}, "look")],
)
def test_how_it_is_held(choices: dict[str, Any], level: str) -> None:
    assert told(boat(**choices), "EDGE-HELD").level == level


def test_the_foremost_fixing_stands_off_the_end() -> None:
    # 3.1 m: 2.95 from the foremost on, in ten steps of 0.3
    assert fixings(3.1, 0.3) == 11
    assert fixings(0.2, 0.3) == 2


def test_along_a_flat_bottom_it_runs_down_its_middle() -> None:
    lines = wedge_lines(0.2)
    lines[0]["points"] = [[0, 0.3, 0.0], [4, 0.3, 0.0]]
    run = {b.label: b for b in made(boat(lines, along="keel", held="glued")).bought}["I1-L"]
    assert run.centre[1] == pytest.approx(0.0)


def test_along_the_keel_it_runs_once() -> None:
    parts = {b.label: b for b in made(boat(along="keel", held="glued")).bought}
    assert parts["I1-L"].quantity == pytest.approx(3.0 * 1.03)
    assert parts["I1-L"].centre == pytest.approx((2.0, 0.0, 0.0))


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match=r"at least 0\.2 m further forward"):
        EdgeRun.model_validate({**RUN, "fore": 0.6})
    found = next(f for f in boat(aft=8.0, fore=9.0).findings if f.code == "CANNOT-BUILD")
    assert "no such edge" in found.text


@pytest.mark.parametrize("entry", ["rub rail", "collar", "keel guard"])
def test_first_ones(entry: str) -> None:
    start = from_data(build_data(wedge_lines(0.2)))
    here = derive(start)
    after = derive(apply(start, place(start, here.surface, here.footing, entry)))
    assert after.built[0].bought and not [f for f in after.findings if f.code == "CANNOT-BUILD"]
    assert bool(after.vessel.volumes) == (entry == "collar")
