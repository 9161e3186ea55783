import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.hull.mesh import AFT, TOP, Solid, build_surface, group_of, refine
from stirrup.core.hull.model import KnuckleLine
from stirrup.core.hull.slices import (
    buttock,
    half_width_m,
    region,
    section,
    slice_axis,
    waterplane,
)
from tests.boats import box_lines, hull, surface, wedge_lines, wigley_lines


def edges_are_closed(solid: Solid) -> bool:
    """Every directed edge of a closed oriented mesh has its reverse equally often."""
    count: dict[tuple[int, int], int] = {}
    for a, b, c in solid.triangles.tolist():
        for edge in ((a, b), (b, c), (c, a)):
            count[edge] = count.get(edge, 0) + 1
    return all(count.get((b, a), 0) == n for (a, b), n in count.items())


def test_box_has_the_volume_and_areas_of_a_box() -> None:
    outside = surface(box_lines()).outside
    assert outside.volume_m3 == pytest.approx(8.0, rel=1e-12)
    assert outside.centroid_m == pytest.approx([2.0, 0.0, 0.5], abs=1e-12)
    assert region(section(outside, 2.0), 0).area == pytest.approx(2.0)
    assert half_width_m(outside, 2.0, 0.3) == pytest.approx(1.0)
    assert outside.area_m2(AFT) == pytest.approx(2.0)
    assert outside.area_m2(TOP) == pytest.approx(8.0)
    assert edges_are_closed(outside)


@pytest.mark.parametrize("deadrise", [5.0, 12.0, 24.0])
def test_wedge_section_up_to_the_chine_is_b_squared_tan(deadrise: float) -> None:
    rise = math.tan(math.radians(deadrise))
    outside = surface(wedge_lines(rise)).outside
    below = region(section(outside, 1.7), 0).intersection(
        region(section(outside, 1.7), 0).envelope.intersection(_strip(rise))
    )
    assert below.area == pytest.approx(rise, rel=1e-6)  # B² tan b with B = 1


def _strip(top: float):
    from shapely.geometry import box

    return box(-2, -1, 2, top)


def test_wigley_hull_is_within_three_per_mille() -> None:
    # exact: volume 4/9 L B T, water plane 2/3 L B
    outside = surface(wigley_lines(10.0, 2.0, 1.0)).outside
    assert outside.volume_m3 == pytest.approx(4 / 9 * 10 * 2 * 1, rel=0.003)
    assert region(waterplane(outside, 1.0), 2).area == pytest.approx(2 / 3 * 10 * 2, rel=0.003)


def test_a_bulged_strip_is_a_circular_arc() -> None:
    # a quarter cylinder each side: chord √2, sagitta 1 - √½; half disc of radius 1, below z = 1
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [3, 0, 0]]},
        {"name": "sheer", "along": "straight", "points": [[0, 1, 1], [3, 1, 1]],
         "bulge_below": 1 - math.sqrt(0.5)},
    ]  # fmt: skip
    outside = surface(lines).outside
    assert outside.volume_m3 == pytest.approx(3 * math.pi / 2, rel=0.001)
    # at half height the circle z = 1 - sqrt(1 - y²) is at y = sqrt(0.75)
    assert half_width_m(outside, 1.5, 0.5) == pytest.approx(math.sqrt(0.75), abs=0.001)


def test_bulge_is_limited_to_half_the_chord() -> None:
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [1, 0, 0]]},
        {"name": "sheer", "along": "straight", "points": [[0, 1, 0], [1, 1, 0]], "bulge_below": 5.0},
    ]
    # two half discs of diameter 1, one each side: area π/4
    assert surface(lines).outside.volume_m3 == pytest.approx(math.pi / 4, rel=0.002)


def test_inside_of_a_box_is_a_smaller_box() -> None:
    inner = surface(box_lines(), skin={"bottom": 0.1, "side": 0.2, "transom": 0.15}).inside
    assert inner.low == pytest.approx([0.15, -0.8, 0.1])
    assert inner.high == pytest.approx([3.8, 0.8, 1.0])
    assert inner.volume_m3 == pytest.approx(3.65 * 1.6 * 0.9)


@given(st.floats(0.02, 0.5), st.floats(0.001, 0.02))
@settings(max_examples=25, deadline=None)
def test_inside_of_a_wedge_bottom_lies_one_thickness_in(rise: float, skin: float) -> None:
    inner = surface(wedge_lines(rise), skin={"bottom": skin, "side": skin}).inside
    # the keel moves straight up by t / cos(deadrise)
    up = skin * math.hypot(1, rise)
    assert float(inner.low[2]) == pytest.approx(up, rel=1e-9)


def test_smooth_lines_pass_through_their_readings_without_overshoot() -> None:
    line = KnuckleLine(name="sheer", points=((0, 1, 0.5), (1, 1, 0.5), (2, 0.8, 0.6), (3, 0.2, 0.9)))
    fine = refine(line)
    assert len(fine) == 3 * 16 + 1
    assert fine[::16] == pytest.approx(np.array(line.points))
    assert fine[:17, 1] == pytest.approx(1.0)  # level between two equal readings
    assert fine[:, 1].min() >= 0.2
    assert np.all(np.diff(fine[:, 1]) <= 1e-12)


def test_pchip_value_between_readings_matches_hand_calculation() -> None:
    # three readings y = 0, 1, 1 at x = 0, 1, 2: the slope at the middle is 0, at the start the
    # three-point formula (3·1 - 0)/2 = 1.5; Hermite at x = 0.5: (1·0 + ...) = 0.5 + 1.5/8 = 0.6875
    line = KnuckleLine(name="sheer", points=((0, 0, 0), (1, 1, 0), (2, 1, 0)))
    assert refine(line)[8, 1] == pytest.approx(0.6875)


def test_a_pointed_boat_is_watertight() -> None:
    lines = box_lines()
    for line in lines:
        line["points"].append([5.0, 0.0, 1.0])
        line["along"] = "smooth"
    outside = surface(lines).outside
    assert edges_are_closed(outside)


def test_lines_that_start_off_the_centreline_are_closed_by_a_pad() -> None:
    lines = box_lines()
    lines[0]["points"] = [[0, 0.3, 0], [4, 0.3, 0]]
    outside = surface(lines).outside
    assert outside.volume_m3 == pytest.approx(8.0)
    assert edges_are_closed(outside)


def test_starboard_lines_make_an_unsymmetrical_boat() -> None:
    other = box_lines(beam=1.0)
    outside = surface(box_lines(), starboard=other).outside
    assert outside.volume_m3 == pytest.approx(4 * (1.0 + 0.5))
    assert float(outside.low[1]) == pytest.approx(-0.5)


def test_starboard_may_be_given_in_true_coordinates() -> None:
    true = box_lines(beam=1.0)
    for line in true:
        line["points"] = [[x, -y, z] for x, y, z in line["points"]]
    outside = surface(box_lines(), starboard=true).outside
    assert outside.volume_m3 == pytest.approx(4 * (1.0 + 0.5))


def test_slices_touching_an_end_give_that_end() -> None:
    outside = surface(box_lines()).outside
    for at in (0.0, 2.0, 4.0):
        assert region(section(outside, at), 0).area == pytest.approx(2.0)
    for at in (0.0, 0.5, 1.0):
        assert region(waterplane(outside, at), 2).area == pytest.approx(8.0)
    for at in (-1.0, 0.0, 1.0):
        assert region(buttock(outside, at), 1).area == pytest.approx(4.0)


def test_slices_beside_the_boat_are_empty() -> None:
    outside = surface(box_lines()).outside
    assert section(outside, 4.1) == []
    assert waterplane(outside, -0.1) == []


def test_a_slice_at_nan_is_refused() -> None:
    with pytest.raises(ValueError, match="finite"):
        slice_axis(surface(box_lines()).outside, 0, float("nan"))


@given(st.floats(0.1, 3.0), st.floats(0.2, 2.5), st.floats(0.2, 2.0))
@settings(max_examples=30, deadline=None)
def test_scaling_a_hull_by_k_gives_k_cubed_volume(k: float, beam: float, depth: float) -> None:
    small = surface(box_lines(2.0, beam, depth)).outside.volume_m3
    large = surface(box_lines(2.0 * k, beam * k, depth * k)).outside.volume_m3
    assert large == pytest.approx(small * k**3, rel=1e-9)


def test_skin_regions_follow_the_chine() -> None:
    built = build_surface(hull(box_lines(), skin={"bottom": 0.004, "side": 0.002}))
    assert built.thickness[group_of(0, 0)] == 0.004
    assert built.thickness[group_of(1, 1)] == 0.002


def _broken(change) -> list:
    lines = box_lines()
    change(lines)
    return lines


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda x: x[0]["points"].reverse(), "x must increase from aft to fore"),
        (lambda x: x[1]["points"].append([5, 1, 0]), "same number of points"),
        (lambda x: x[2].update(points=[[0, 1, -0.5], [4, 1, 1]]), "below the lowest chine point"),
        (lambda x: x[1].update(points=[[0, -1, 0], [4, 1, 0]]), "half-widths are 0 or more"),
        (lambda x: x[1].update(bulge_below=[0.1, 0.1, 0.1]), "one number or one for each station"),
        (lambda x: x[1].update(points=[[0, float("nan"), 0], [4, 1, 0]]), "finite number"),
    ],
)
def test_readings_that_cannot_be_a_hull_are_refused(change, words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        hull(_broken(change))
