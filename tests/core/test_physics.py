"""What must hold for any boat: balance, mirror, monotone trim, scale."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.equilibrium import State, equilibrium
from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.hull.mesh import HullSurface, build_surface
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import Plan
from tests.boats import derive, hull, plan, skiff_plan

SKIFF = build_surface(skiff_plan().hull)


def afloat(mass: float, x: float, y: float, z: float = 0.25, shape: HullSurface = SKIFF,
           scale: float = 1.0) -> State:  # fmt: skip
    centre = (x * scale, y * scale, z * scale)
    load = sum_load([Entry("m", "m", "g", mass * scale**3, 0.0, "weighed", centre)])
    return equilibrium(shape.outside, load, 1000.0)


@settings(max_examples=40, deadline=None)
@given(mass=st.floats(150, 900), x=st.floats(1.7, 2.7), y=st.floats(-0.12, 0.12))
def test_weight_equals_buoyancy_and_the_residual_vanishes(mass: float, x: float, y: float) -> None:
    state = afloat(mass, x, y)
    assert 1000.0 * state.cut.volume_m3 == pytest.approx(mass, rel=1e-6)
    # every residual, by mass and metres
    assert np.abs(state.gradient).max() / mass < 1e-6
    # G stands over B along the water's up-vector
    g = np.array([x, y, 0.25]) - state.cut.moment / state.cut.volume_m3
    assert np.linalg.norm(np.cross(g, state.n)) < 1e-6


@settings(max_examples=25, deadline=None)
@given(mass=st.floats(200, 800), x=st.floats(1.8, 2.6), y=st.floats(0.0, 0.1))
def test_mirrored_boat_lists_to_the_other_side(mass: float, x: float, y: float) -> None:
    port, other = afloat(mass, x, y), afloat(mass, x, -y)
    assert other.heel == pytest.approx(-port.heel, abs=1e-8)
    assert other.trim == pytest.approx(port.trim, abs=1e-8)


def test_a_hull_that_is_not_symmetrical_lists_and_its_mirror_the_other_way() -> None:
    data = skiff_plan()
    full = [line.model_dump() for line in data.hull.lines]
    lean = [dict(line, points=[[x, y * 0.9, z] for x, y, z in line["points"]]) for line in full]
    for port, starboard, sign in ((full, lean, -1), (lean, full, 1)):
        shape = build_surface(hull(port, starboard=starboard))
        # the leaner side carries less and goes down
        assert sign * afloat(400, 2.2, 0.0, shape=shape).heel > math.radians(0.5)


@pytest.mark.slow
@settings(max_examples=20, deadline=None)
@given(st.lists(st.floats(0.3, 4.5), min_size=2, max_size=6, unique=True), st.floats(20, 120))
def test_moving_a_mass_forward_always_brings_the_bow_down(places: list[float], mass: float) -> None:
    trims = []
    for x in sorted(places):
        built = skiff_plan(items=[{"id": "a", "stage": "added",
                                   "mass": {"value": mass, "centre": [x, 0.0, 0.2]}}])  # fmt: skip
        report = derive(built).case("planned, empty").report
        assert report is not None
        trims.append((x, report.trim_deg))
    for (xa, ta), (xb, tb) in pairwise(trims):
        assert tb < ta or xb - xa < 1e-9


@settings(max_examples=20, deadline=None)
@given(k=st.floats(0.5, 3.0), mass=st.floats(200, 800), x=st.floats(1.8, 2.6), y=st.floats(-0.1, 0.1))
def test_boats_of_one_shape_float_alike(k: float, mass: float, x: float, y: float) -> None:
    lines = [
        {**line.model_dump(), "points": [[c * k for c in p] for p in line.points]}
        for line in skiff_plan().hull.lines
    ]
    large = afloat(mass, x, y, shape=build_surface(hull(lines)), scale=k)
    small = afloat(mass, x, y)
    assert large.trim == pytest.approx(small.trim, abs=1e-6)
    assert large.heel == pytest.approx(small.heel, abs=1e-6)
    assert large.d == pytest.approx(k * small.d, rel=1e-6)


def test_what_does_not_float_says_what_to_take_out() -> None:
    with pytest.raises(NoEquilibriumError, match=r"take at least 1000\.0 kg out"):
        afloat(9000.0, 2.0, 0.0, shape=build_surface(plan().hull))  # the box encloses 8 m³


def test_capsize_is_found_in_the_case_where_it_happens_only() -> None:
    tower = {"id": "tower", "mass": {"value": 300.0, "centre": [2.0, 0.1, 3.5]}}
    derived = derive(skiff_plan(cases=[{"name": "tower", "extra": [tower]}]))
    assert "capsizes" in derived.case("tower").error
    assert derived.case("planned, empty").report is not None
    assert any(f.code == "NO-FLOAT" and f.place == "tower" for f in derived.findings)


def test_bad_reading_is_refused_and_the_good_ones_stay() -> None:
    built: Plan = skiff_plan()
    path = ("hull", "lines", "sheer", "points", "2", "0")
    with pytest.raises(Exception, match="x must increase"):
        apply(built, SetValue(path=path, value=9.0))
    assert built.hull.lines[2].points[2] == (2.0, 1.0, 0.6)
