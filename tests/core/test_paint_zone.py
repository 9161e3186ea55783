"""Painted zones of a box 4 x 2 x 1 m, of a vee and of flared sides, worked by hand."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.hull.zones import zone
from stirrup.core.work.hours import effort
from tests.boats import derive, flared_lines, plan, surface, wedge_lines

PAINT = {"kind": "paint_zone", "id": "paint", "name": "Paint", "mark": "Z1", "aft": 0, "fore": 2}
FAR = (-10.0, 10.0)


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**PAINT, **choices}], schools={"paint": "keyed"}))


def paint(**choices: Any) -> Built:
    found = boat(**choices).fitting("paint")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "paint")


def amounts(**choices: Any) -> dict[str, float]:
    return {b.item: b.quantity for b in paint(**choices).bought}


@pytest.mark.parametrize(
    ("choices", "area", "around"),
    [
        ({}, 2 * 2 * 1, 2 * 6),  # both sides of two metres
        ({"side": "port"}, 2 * 1, 6),
        ({"part": "bottom"}, 2 * 2, 8),
        ({"part": "bottom", "side": "starboard"}, 2 * 1, 6),
        ({"part": "transom"}, 2 * 1, 6),
        ({"low": 0.25, "high": 0.5}, 2 * 2 * 0.25, 2 * 4.5),
        ({"aft": 0.3, "fore": 1.1, "low": 0.1}, 2 * 0.8 * 0.9, 2 * 3.4),
        ({"fore": 9}, 2 * 4 * 1, 2 * 10),
    ],
)
def test_zones_of_a_box(choices: dict[str, Any], area: float, around: float) -> None:
    found = told(boat(**choices), "PAINT-AREA")
    assert found.values["area"].value == pytest.approx(area, abs=1e-6)
    assert found.values["edges"].value == pytest.approx(around, abs=1e-5)


def test_a_vee_and_flared_sides() -> None:
    """Each half of a vee is as wide as its slope; sides that flare 1 in 3 sqrt(10) / 3 times as high."""
    vee = surface(wedge_lines(0.3))
    assert zone(vee, vee.outside, "bottom", (0, 1), (0, 4), FAR).area_m2 == pytest.approx(
        2 * 4 * math.hypot(1.0, 0.3)
    )
    flared = surface(flared_lines())
    side = zone(flared, flared.outside, "sides", (0,), (0, 4), FAR)
    assert side.area_m2 == pytest.approx(4 * math.hypot(0.2, 0.6))
    assert side.middle == pytest.approx((2.0, 0.9, 0.3))
    assert side.around_m == pytest.approx(2 * (4 + math.hypot(0.2, 0.6)))


@given(st.floats(0.05, 3.9), st.floats(0.02, 0.95), st.floats(0.05, 0.6))
@settings(max_examples=30, deadline=None)
def test_what_is_cut_in_two_is_the_whole(x: float, z: float, rise: float) -> None:
    hull = surface(wedge_lines(rise))
    for part in ("bottom", "sides"):
        whole = zone(hull, hull.outside, part, (0, 1), FAR, FAR)
        ways = [((-9.0, x), FAR), ((x, 9.0), FAR)]
        assert sum(zone(hull, hull.outside, part, (0, 1), *w).area_m2 for w in ways) == pytest.approx(
            whole.area_m2
        )
        ways = [(FAR, (-9.0, z)), (FAR, (z, 9.0))]
        assert sum(zone(hull, hull.outside, part, (0, 1), *w).area_m2 for w in ways) == pytest.approx(
            whole.area_m2
        )
        port, starboard = (zone(hull, hull.outside, part, (s,), (-9.0, x), FAR) for s in (0, 1))
        assert port.area_m2 == pytest.approx(starboard.area_m2)
        assert np.array(port.middle) == pytest.approx(np.array(starboard.middle) * [1, -1, 1])


def test_what_is_bought_for_it() -> None:
    """4 m2 of sides, 12 m round: keyed, taped with a tenth more, one coat of primer, two of paint; of three
    coats half as much again, as an entry of paint counts two."""
    assert amounts() == {
        "strip-keyed": pytest.approx(4.0), "tape-mask": pytest.approx(13.2),
        "primer-etch": pytest.approx(4.0), "paint-topside": pytest.approx(4.0),
    }  # fmt: skip
    assert amounts(coats=3)["paint-topside"] == pytest.approx(6.0)
    assert amounts(primed=2)["primer-etch"] == pytest.approx(8.0)
    assert "primer-etch" not in amounts(primed=0) and "paint-topside" not in amounts(paint="none")


def test_what_stays_aboard_is_the_dry_paint() -> None:
    """4 m2 of 0.12 kg of primer and 0.25 of paint; on both sides it lies on the centreline, half way up."""
    built = paint()
    assert built.mass_kg == pytest.approx(4 * (0.12 + 0.25), abs=1e-4)
    assert next(b for b in built.bought if b.group == "cover").centre == pytest.approx((1.0, 0.0, 0.5))


@pytest.mark.parametrize(
    ("old", "item", "minutes"),
    [("all off", "strip-all", 55), ("only what is loose", "strip-loose", 22), ("keyed", "strip-keyed", 9)],
)
def test_how_the_old_paint_is_dealt_with(old: str, item: str, minutes: float) -> None:
    derived = boat(old=old)
    hours = [t.hours for t in effort(derived.built).tasks]
    assert any(h == pytest.approx(minutes * 4.0 / 60) for h in hours)
    assert item in {b.item for b in paint(old=old).bought}
    caution = told(derived, "PAINT-OLD")
    assert caution.level == "look" and "lead" in caution.text
    assert ("sparks" in caution.text) == (old == "all off")


def test_as_the_build_does_it() -> None:
    fittings = [PAINT]
    for school, item in (("all off", "strip-all"), ("keyed", "strip-keyed")):
        built = derive(plan(fittings=fittings, schools={"paint": school})).fitting("paint")
        assert built is not None and item in {b.item for b in built.bought}
    built = derive(plan(fittings=fittings)).fitting("paint")
    assert built is not None and "strip-loose" in {b.item for b in built.bought}


def test_inside_it_is_smaller_by_the_skin() -> None:
    """The box's skin is 2.5 mm at the transom and 3 at the bottom."""
    inner = told(boat(face="inside", part="bottom"), "PAINT-AREA").values["area"].value
    assert 3.97 < float(inner) < 4.0


def test_where_there_is_none_of_it() -> None:
    found = next(f for f in boat(aft=8, fore=9).findings if f.code == "CANNOT-BUILD")
    assert "none of it" in found.text
