"""Pods, collars or nothing; motor set back; area under the righting curve."""

import math
from decimal import Decimal

import pytest

from stirrup.core.afloat.compare import NOTHING, compare, with_setback
from stirrup.core.afloat.righting import righting_curve
from stirrup.core.plan.changes import apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.volumes import new_collars, new_pods
from tests.boats import box_lines, derive, load, plan, skiff_plan, surface


def run(built: Plan, setback: float = 0.0):
    derived = derive(built)
    return compare(built, derived.vessel, derived.built, derived.load_cases, setback)


def test_area_of_the_wall_sided_box() -> None:
    # GZ = sin φ (GM + BM tan²φ / 2): ∫ = GM (1 - cos φ) + BM/2 (1/cos φ + cos φ - 2).
    # Draft 0.2, GM 1.46667, BM 1.66667; the bilge comes out at tan φ = 0.2, so an opening at
    # (2, 1, 0.35) ends it before: flooding where n·r = d at the middle: tan φ = 0.15
    shape = surface(box_lines())
    flood = (("port", (2.0, 1.0, 0.35)),)
    curve = righting_curve("b", shape.outside, load(1600, (2, 0, 0.3)), 1000.0, shape.sheers, flood, ())
    phi = math.atan(0.15)
    assert curve.flooding_deg == pytest.approx(math.degrees(phi), abs=1e-3)
    area = 1.466667 * (1 - math.cos(phi)) + 1.666667 / 2 * (1 / math.cos(phi) + math.cos(phi) - 2)
    assert curve.area_m_rad == pytest.approx(area, rel=1e-4)


def test_considered_volumes_count_only_in_their_own_column() -> None:
    start = skiff_plan()
    both = apply(
        apply(start, new_pods(start, derive(start).surface)), new_collars(start, derive(start).surface)
    )
    assert derive(both).case("planned, empty").report == derive(start).case("planned, empty").report
    nothing, pods, collars = run(both)
    assert [c.name for c in (nothing, pods, collars)] == [NOTHING, "pods 1", "collars 1"]
    assert (nothing.added_kg, nothing.cost) == (0.0, None)
    # two pods of 0.45 m, 0.3 · 1.6 m across and 0.36 m high at 120 kg/m³
    assert pods.volume_m3 == pytest.approx(2 * 0.45 * 0.48 * 0.36)
    assert pods.added_kg == pytest.approx(120 * pods.volume_m3)
    assert pods.cost == Decimal(260) and collars.cost == Decimal(340)


def test_pods_lift_the_stern_and_collars_add_righting_area() -> None:
    start = skiff_plan()
    made = apply(
        apply(start, new_pods(start, derive(start).surface)), new_collars(start, derive(start).surface)
    )
    nothing, pods, collars = run(made)
    row, other, foam = (next(r for r in c.rows if r.case == "two aft") for c in (nothing, pods, collars))
    assert row.report and other.report and foam.report and row.area_m_rad and foam.area_m_rad
    assert other.report.trim_deg < row.report.trim_deg
    assert foam.area_m_rad > row.area_m_rad


def test_collars_lie_outside_of_the_hull() -> None:
    start = skiff_plan()
    made = apply(start, new_collars(start, derive(start).surface))
    vessel = derive(made).vessel
    assert len(vessel.volumes) == 8 and all(v.outside for v in vessel.volumes)


def test_setback_moves_motors_aft_and_up_one_in_eight() -> None:
    motor = {"id": "m", "group": "motor", "mass": {"value": 90.0, "centre": [-0.2, 0.0, 0.6]}}
    bow = {"id": "b", "group": "motor", "mass": {"value": 20.0, "centre": [4.5, 0.0, 0.7]}}
    moved = with_setback(skiff_plan(items=[motor, bow]), 0.16)
    assert moved.items[0].mass.centre == pytest.approx((-0.36, 0.0, 0.62))
    assert moved.items[1].mass.centre == (4.5, 0.0, 0.7)
    choices = run(skiff_plan(items=[motor, bow]), 0.16)
    assert choices[-1].name == "motor 160 mm further aft"
    assert choices[-1].rows[0].report.trim_deg > choices[0].rows[0].report.trim_deg


def test_a_case_that_does_not_float_says_so_in_its_cell() -> None:
    built = plan(cases=[{"name": "too much", "extra": [
        {"id": "x", "mass": {"value": 9000.0, "centre": [2, 0, 0.1]}}]}])  # fmt: skip
    row = next(r for r in run(built)[0].rows if r.case == "too much")
    assert row.report is None and "she sinks" in row.error


def test_pods_and_collars_of_a_box_stand_where_a_tape_finds_them() -> None:
    """A box of 4 x 2 x 1 m. Collars end 150 mm short of the stem: 3.85 m in four boxes a side, 2 mm
    off the side, their tops at the sheer. Pods 0.3 of 2 m across, flush with the sides, 5 mm aft."""
    box = plan(lines=box_lines())
    hull = derive(box).surface
    foam = apply(box, new_collars(box, hull)).buoyancy
    assert len(foam) == 8
    for k, volume in enumerate(foam):
        side, number = (1 if k < 4 else -1), k % 4
        assert volume.box is not None
        assert volume.box.size == pytest.approx((0.9625, 0.12, 0.20), abs=1e-4)
        where = (0.9625 * (number + 0.5), side * (1.0 + 0.06 + 0.002), 0.80)
        assert volume.box.floor_centre == pytest.approx(where, abs=1e-3)
    port, starboard = apply(box, new_pods(box, hull)).buoyancy
    for volume, side in ((port, 1), (starboard, -1)):
        assert volume.box is not None
        assert volume.box.size == pytest.approx((0.45, 0.60, 0.60), abs=1e-4)
        assert volume.box.floor_centre == pytest.approx((-0.23, side * 0.70, 0.0), abs=1e-3)
