import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat.clip import contains, cut, join
from stirrup.core.hull.mesh import box_solid
from tests.boats import surface, wedge_lines, wigley_lines

# thousandths: slopes of 1e-309 overflow inside the library that is compared with
slopes = st.integers(-600, 600).map(lambda v: v / 1000)
UP = np.array([0.0, 0.0, 1.0])


def test_level_cut_of_a_box_matches_closed_forms() -> None:
    part = cut(box_solid((0, -1, 0), (4, 1, 1)), UP, 0.25)
    assert part.volume_m3 == pytest.approx(2.0)
    assert part.moment / part.volume_m3 == pytest.approx([2.0, 0.0, 0.125])
    assert part.area_m2 == pytest.approx(8.0)
    assert part.first == pytest.approx([16.0, 0.0, 2.0])
    # ∫x² = b l³/3, ∫y² = l b³/12, ∫z² = A z²
    assert np.diag(part.second) == pytest.approx([2 * 64 / 3, 4 * 8 / 12, 8 * 0.0625])


def test_tilted_cut_of_a_box_is_the_wedge() -> None:
    # plane z = 0.5 + 0.1 (x - 2): volume as level at its mean height
    n = np.array([-0.1, 0.0, 1.0])
    length = np.linalg.norm(n)
    part = cut(box_solid((0, -1, 0), (4, 1, 1)), n / length, (0.5 - 0.2) / length)
    assert part.volume_m3 == pytest.approx(4.0)
    # x of the centroid: ∫ x z dx / V = 2 + 0.1·l²/12/0.5
    assert (part.moment / part.volume_m3)[0] == pytest.approx(2 + 0.1 * 16 / 12 / 0.5)
    assert part.area_m2 == pytest.approx(8.0 * length)


@given(slopes, slopes, st.floats(0.05, 0.9), st.floats(0.05, 0.3))
@settings(max_examples=40, deadline=None)
def test_clipped_volume_and_centroid_equal_trimesh(
    nx: float, ny: float, height: float, rise: float
) -> None:
    solid = surface(wedge_lines(rise)).outside
    n = np.array([nx, ny, 1.0]) / np.sqrt(nx * nx + ny * ny + 1)
    d = height + 2 * n[0]
    mine = cut(solid, n, d)
    # in axes whose third is the plane's normal and whose origin lies on the plane, the missing
    # lid adds nothing to trimesh's surface integrals
    turn = np.linalg.svd(n[None, :])[2]
    turn = np.array([turn[1], np.cross(n, turn[1]), n])
    mesh = trimesh.Trimesh(solid.vertices @ turn.T - [0, 0, d], solid.triangles, process=False)
    open_mesh = trimesh.intersections.slice_mesh_plane(mesh, [0, 0, -1], [0, 0, 0], cap=False)
    properties = trimesh.triangles.mass_properties(open_mesh.triangles, skip_inertia=True)
    assert mine.volume_m3 == pytest.approx(float(properties["volume"]), rel=1e-9)
    centroid = turn @ (mine.moment / mine.volume_m3) - [0, 0, d]
    assert centroid == pytest.approx(np.asarray(properties["center_mass"]), rel=1e-9, abs=4e-9)


@given(st.floats(-0.4, 0.4), st.floats(-0.4, 0.4), st.floats(0.2, 0.8))
@settings(max_examples=20, deadline=None)
def test_two_sides_of_a_plane_make_the_whole(nx: float, ny: float, height: float) -> None:
    solid = surface(wedge_lines(0.3)).outside
    n = np.array([nx, ny, 1.0]) / np.sqrt(nx * nx + ny * ny + 1)
    below, above = cut(solid, n, height), cut(solid, -n, -height)
    assert below.volume_m3 + above.volume_m3 == pytest.approx(solid.volume_m3, rel=1e-12)
    assert below.moment + above.moment == pytest.approx(solid.centroid_m * solid.volume_m3, abs=1e-9)
    assert below.area_m2 == pytest.approx(above.area_m2, abs=1e-9)


def test_area_is_the_derivative_of_volume() -> None:
    solid = surface(wigley_lines(6.0, 1.5, 0.6)).outside
    n = np.array([0.05, -0.1, 1.0]) / np.sqrt(1.0125)
    step = 1e-5
    slope = (cut(solid, n, 0.4 + step).volume_m3 - cut(solid, n, 0.4 - step).volume_m3) / (2 * step)
    assert cut(solid, n, 0.4).area_m2 == pytest.approx(slope, rel=1e-5)


def test_nothing_below_and_everything_below() -> None:
    solid = box_solid((0, -1, 0), (4, 1, 1))
    assert cut(solid, UP, -0.1).volume_m3 == 0
    assert cut(solid, UP, 1.1).volume_m3 == pytest.approx(8.0)
    assert cut(solid, UP, 1.1).area_m2 == pytest.approx(0.0)


def test_separate_solids_add_up() -> None:
    two = join([box_solid((0, 0, 0), (1, 1, 1)), box_solid((3, 0, 0), (4, 1, 1))])
    part = cut(two, UP, 0.5)
    assert part.volume_m3 == pytest.approx(1.0)
    assert part.moment / part.volume_m3 == pytest.approx([2.0, 0.5, 0.25])


def test_inside_and_outside_points_are_told_apart() -> None:
    solid = surface(wedge_lines(0.25)).outside
    assert contains(solid, np.array([2.0, 0.0, 0.5]))
    assert not contains(solid, np.array([2.0, 0.9, 0.1]))  # under the vee
    assert not contains(solid, np.array([-0.1, 0.0, 0.5]))
