"""A scan made from a known hull, turned and shifted: its readings are the hull's again."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.hull.scan import Section, cuts, guess_picks, scan_readings, upright
from stirrup.core.hull.symmetry import onto_middle

LENGTH = 4.0


def vee_section(x: float) -> Section:
    """Keel rising forward of 2 m, chine at 0.8 to 0.2 m, sheer at 1.0 to 0.3 m: all straight."""
    u = max(0.0, (x - 2.0) / 2.0)
    keel, chine, sheer = (0.0, 0.2 * u), (0.8 - 0.6 * u, 0.15 + 0.25 * u), (1.0 - 0.7 * u, 0.6 + 0.1 * u)
    port = [keel, chine, sheer]
    rings = []
    for sign in (1, -1):
        side = [(sign * y, z) for y, z in port]
        rings += [[side[0], side[1]], [side[1], side[2]]]
    return Section(x, np.array(rings, dtype=float))


def test_lines_are_read_where_the_sections_have_them() -> None:
    sections = [vee_section(float(x)) for x in cuts(0.0, LENGTH)]
    found = scan_readings(sections, "keel, chine, sheer", 9)
    keel, chine, sheer = found.averaged()
    for k in range(9):
        x = 0.004 + (LENGTH - 0.008) * k / 8
        u = max(0.0, (x - 2.0) / 2.0)
        assert keel.points[k] == pytest.approx((x, 0.0, 0.2 * u), abs=2e-3)
        assert chine.points[k] == pytest.approx((x, 0.8 - 0.6 * u, 0.15 + 0.25 * u), abs=2e-3)
        assert sheer.points[k] == pytest.approx((x, 1.0 - 0.7 * u, 0.6 + 0.1 * u), abs=2e-3)
    assert found.apart_m == pytest.approx(0.0, abs=1e-9)
    assert {line.known for line in (keel, chine, sheer)} == {"scanned"}
    assert keel.spread == 0.005


def test_a_dented_side_is_told_and_widens_the_spread() -> None:
    sections = []
    for x in cuts(0.0, LENGTH):
        section = vee_section(float(x))
        dent = section.segments.copy()
        dent[2:, :, 0] *= 0.95  # starboard is a twentieth narrower
        sections.append(Section(section.x, dent))
    found = scan_readings(sections, "keel, chine, sheer", 9)
    assert found.apart_m == pytest.approx(0.05, abs=1e-4)  # of 1 m at the sheer
    assert found.apart_at.startswith("sheer, station")
    assert found.averaged()[2].spread == pytest.approx(0.025, abs=1e-4)
    assert found.averaged()[2].points[0][1] == pytest.approx(0.975, abs=1e-4)
    assert found.starboard[2].points[0][1] == pytest.approx(0.95, abs=1e-4)


@pytest.mark.parametrize(
    ("lines", "stations", "place"),
    [
        ("keel, mast", 9, "lines"),
        ("keel, chine, sheer", 3, "stations"),
        ("keel, chine, sheer", 40, "stations"),
    ],
)
def test_wishes_that_cannot_be_are_named(lines, stations, place) -> None:
    sections = [vee_section(float(x)) for x in cuts(0.0, LENGTH)]
    with pytest.raises(CoreError) as error:
        scan_readings(sections, lines, stations)
    assert error.value.place == place


def test_sections_without_a_chine_say_so() -> None:
    sections = []
    for x in cuts(0.0, LENGTH):
        ring = [[(0.0, 0.0), (0.9, 0.6)], [(0.0, 0.0), (-0.9, 0.6)]]
        sections.append(Section(float(x), np.array(ring)))
    with pytest.raises(CoreError, match="no chine"):
        scan_readings(sections, "keel, chine, sheer", 9)


def test_no_sections_at_all_point_at_the_picks() -> None:
    with pytest.raises(CoreError, match="do not meet the scan"):
        scan_readings([Section(0.0, np.empty((0, 2, 2)))], "keel, chine, sheer", 9)


@pytest.mark.parametrize("high", [0.9, 40.0])
def test_a_length_that_is_no_boat_asks_for_the_unit(high) -> None:
    with pytest.raises(CoreError, match="is its unit right") as error:
        cuts(0.0, high)
    assert error.value.place == "unit"


angles = st.floats(-math.pi, math.pi)


@given(angles, angles, angles, st.tuples(*[st.floats(-5, 5)] * 3))
def test_three_picks_undo_any_turn(a: float, b: float, c: float, shift) -> None:
    def about(axis: int, angle: float) -> np.ndarray:
        i, j = [k for k in range(3) if k != axis]
        out = np.eye(3)
        out[i, i] = out[j, j] = math.cos(angle)
        out[i, j], out[j, i] = -math.sin(angle), math.sin(angle)
        return out

    turn = about(0, a) @ about(1, b) @ about(2, c)
    true = np.array([[0.0, 0.0, 0.0], [1.5, 0.0, 0.0], [4.2, 0.0, 0.7], [1.0, 0.8, 0.3]])
    lying = true @ turn.T + np.array(shift)
    rows, origin = upright(*lying[:3])
    assert (lying - origin) @ rows.T == pytest.approx(true, abs=1e-9)
    assert np.linalg.det(rows) == pytest.approx(1.0)  # not mirrored: port stays port


def test_picks_on_one_line_are_refused() -> None:
    with pytest.raises(CoreError, match="one line"):
        # the third pick must stand off the line of the others by a fiftieth of their distance
        upright((0, 0, 0), (1, 0, 0), (2, 0, 0.0199))
    rows, _ = upright((0, 0, 0), (1, 0, 0), (2, 0, 0.0201))
    assert rows == pytest.approx(np.eye(3), abs=1e-9)
    with pytest.raises(CoreError, match="same point"):
        upright((1, 2, 3), (1, 2, 3), (2, 0, 1))


def shell(count: int = 2500) -> tuple[np.ndarray, np.ndarray]:
    """Points and normals of the skin of a vee boat, evenly, both sides."""
    rng = np.random.default_rng(7)
    points, normals = [], []
    for side in (1.0, -1.0):
        for share, low, high in ((0.5, (0.0, 0.0), (0.8, 0.15)), (0.5, (0.8, 0.15), (1.0, 0.6))):
            n = int(count * share / 2)
            x, t = rng.uniform(0, LENGTH, n), rng.uniform(0, 1, n)
            taper = 1 - 0.18 * x / LENGTH
            y = (low[0] + t * (high[0] - low[0])) * taper
            z = low[1] + t * (high[1] - low[1]) + 0.05 * x
            points.append(np.column_stack([x, side * y, z]))
            tilt = np.array([0.0, side * (high[1] - low[1]), -(high[0] - low[0])])
            normals.append(np.tile(tilt / np.linalg.norm(tilt), (n, 1)))
    return np.concatenate(points), np.concatenate(normals)


@settings(max_examples=15, deadline=None)
@given(st.floats(-10, 10), st.floats(-6, 6), st.floats(-0.1, 0.1))
def test_the_plane_of_symmetry_is_found_again(roll: float, yaw: float, aside: float) -> None:
    points, normals = shell()
    r, w = math.radians(roll), math.radians(yaw)
    turn = np.array([[math.cos(w), -math.sin(w), 0], [math.sin(w), math.cos(w), 0], [0, 0, 1]]) @ np.array(
        [[1, 0, 0], [0, math.cos(r), -math.sin(r)], [0, math.sin(r), math.cos(r)]]
    )
    small, shift = onto_middle(points @ turn.T + [0, aside, 0], normals @ turn.T)
    back = (points @ turn.T + [0, aside, 0] - shift) @ small.T
    # points that were on the middle are on it again, to a few millimetres
    middle = np.array([[0.2, 0.0, 0.1], [3.8, 0.0, 0.2], [2.0, 0.0, 0.6]])
    again = (middle @ turn.T + [0, aside, 0] - shift) @ small.T
    assert np.abs(again[:, 1]).max() < 0.012
    assert back.shape == points.shape


def test_the_guess_knows_bow_from_stern_and_top_from_bottom() -> None:
    points, normals = shell(6000)
    upside = np.diag([-1.0, 1.0, -1.0])
    for turn in (np.eye(3), upside):
        aft, fore, top = (turn.T @ np.array(p) for p in guess_picks(points @ turn.T, normals @ turn.T))
        assert aft[0] < fore[0] < top[0]
        assert top[2] > fore[2]
        assert abs(aft[1]) < 0.03
