"""A tray folded of one sheet: 300 x 200 x 100 mm outside of 2 mm, bent about 2 mm, flanges of 25 mm.

A bend of 90° takes (2 + 0.4 x 2) π / 2 = 4.398 mm and begins 4 mm from the outer edge.
"""

from dataclasses import replace
from itertools import combinations
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import unary_union
from shapely.geometry import LineString, Polygon

from stirrup.core.errors import CoreError
from stirrup.core.fittings.folded_tray import PLAY_M, TAB_M, Tray, folded, outer_size
from stirrup.core.kinds.face_door import FaceDoor
from stirrup.core.parts.model import Panel
from stirrup.exchange.catalogue import starting

OWNER: Any = FaceDoor.model_validate({"id": "box", "name": "Box", "mark": "G1", "deck": "deck", "z": 0.2})
TAKES = (2 + 0.4 * 2) * np.pi / 2 / 1000


def tray(size: tuple[float, float, float] = (0.3, 0.2, 0.1), flange: float = 0.025, sheet: str = "al-2.0",
         **more: Any) -> Tray:  # fmt: skip
    at = {"at": (1.0, 0.5, 0.3), "along": (0.0, 1.0, 0.0), "across": (0.0, 0.0, 1.0)} | more
    return Tray(OWNER, starting().sheet(sheet), size, flange, **at)


def panel(**more: Any) -> Panel:
    return folded(tray(**more), "box", "B", "box")


def test_its_flat_pattern_by_hand() -> None:
    u0, v0, u1, v1 = panel().polygon.bounds
    # base 292 x 192, wall 92, flange 21, two bends between them: 4.398 + 92 + 4.398 + 21 on each side
    reach = 2 * TAKES + 0.092 + 0.021
    assert (u1 - u0, v1 - v0) == pytest.approx((0.292 + 2 * reach, 0.192 + 2 * reach), abs=1e-6)
    # without flanges its walls are 96 flat
    u0, v0, u1, v1 = panel(flange=0.0).polygon.bounds
    assert (u1 - u0, v1 - v0) == pytest.approx((0.292 + 2 * (TAKES + 0.096), 0.192 + 2 * (TAKES + 0.096)),
                                               abs=1e-6)  # fmt: skip


def test_its_bends_and_their_order() -> None:
    bends = sorted(panel().bends, key=lambda b: b.turn)
    assert [b.turn for b in bends] == list(range(1, 13))
    # flanges away from whoever looks into it, all others towards him
    assert [b.up for b in bends] == [False] * 4 + [True] * 8
    # the short walls come last: the foot of one is 292 / 2 and half a bend from the middle
    assert [abs(b.start[0]) for b in bends[-2:]] == pytest.approx([0.146 + TAKES / 2] * 2)
    assert len(panel(flange=0.0).bends) == 8


def test_what_is_left_between_its_bends_is_what_stands() -> None:
    """Cut out the strips that go into the bends: the pieces that remain are its faces, one for one."""
    flat = panel()
    lines = (LineString([b.start, b.end]) for b in flat.bends)
    strips = [line.buffer(TAKES / 2 + 1e-7, cap_style="square") for line in lines]
    left = flat.polygon.buffer(1e-8).difference(unary_union(strips))
    pieces = sorted(p.area for p in getattr(left, "geoms", [left]) if p.area > 1e-5)
    faces = sorted(f.polygon.area for f in flat.flats)
    assert len(faces) == 1 + 4 + 4 + 4
    assert pieces == pytest.approx(faces, rel=2e-3)
    # mass: pattern x 2 mm x 2,680 kg/m³
    assert flat.mass_kg == pytest.approx(flat.polygon.area * 0.002 * 2680)


def corners(faces: list[Panel]) -> np.ndarray:
    return np.array([f.frame.at(u, v) for f in faces for u, v in f.outline])


def test_as_it_stands_it_has_its_outer_size() -> None:
    """About (0.5, 0.3) across and up, from x = 1.0 on: outer faces 1 mm outside of the middle planes."""
    flat = panel()
    base, *rest = flat.flats
    assert base.frame.origin == pytest.approx((1.001, 0.5, 0.3))
    # what stands up along x and is longer than a tab
    upright = [f for f in rest if f.frame.across == (1.0, 0.0, 0.0)]
    walls, flanges = [f for f in upright if f.polygon.bounds[2] * 2 > 2 * TAB_M], corners(rest)
    assert (len(upright), len(walls)) == (8, 4)
    sides = corners(walls)
    assert (sides[:, 1].min(), sides[:, 1].max()) == pytest.approx((0.5 - 0.149, 0.5 + 0.149))
    assert (sides[:, 2].min(), sides[:, 2].max()) == pytest.approx((0.3 - 0.099, 0.3 + 0.099))
    # flanges: 25 from the inner faces, their middle 1 mm under the head
    assert flanges[:, 0].max() == pytest.approx(1.0 + 0.1 - 0.001)
    assert (flanges[:, 1].min(), flanges[:, 1].max()) == pytest.approx((0.5 - 0.173, 0.5 + 0.173))
    assert flanges[:, 2].max() == pytest.approx(0.3 + 0.1 - 0.002 + 0.025)


def solids(flat: Panel, t: float) -> list[tuple[np.ndarray, np.ndarray]]:
    """Each face as a box: all of them are square to the axes."""
    out = []
    for f in flat.flats:
        points, n = corners([f]), np.abs(np.cross(f.frame.along, f.frame.across))
        out.append((points.min(axis=0) - n * t / 2, points.max(axis=0) + n * t / 2))
    return out


@settings(max_examples=60, deadline=None)
@given(
    st.floats(0.06, 0.8), st.floats(0.06, 0.6), st.floats(0.04, 0.5), st.sampled_from([0.0, 0.02, 0.03]),
    st.sampled_from(["al-2.0", "al-2.5"]),
)  # fmt: skip
def test_no_face_stands_in_another(a: float, b: float, deep: float, flange: float, sheet: str) -> None:
    one = tray((a, b, deep), flange, sheet)
    try:
        flat = folded(one, "box", "B", "box")
    except CoreError as error:
        assert "bends" in str(error)
        return
    assert Polygon(flat.outline).is_valid and not flat.holes
    for (low, high), (lower, higher) in combinations(solids(flat, one.t), 2):
        assert (np.minimum(high, higher) - np.maximum(low, lower)).min() <= 1e-9


def test_its_tabs_lie_inside_of_the_short_walls() -> None:
    flat = panel()
    tabs = [f for f in flat.flats if f.polygon.bounds[2] * 2 == pytest.approx(TAB_M)
            and f.polygon.bounds[3] * 2 == pytest.approx(0.09)]  # fmt: skip
    assert len(tabs) == 4
    # wall from 148 to 150, tab under 148 less its play
    assert {round(abs(f.frame.origin[1] - 0.5), 6) for f in tabs} == {round(0.148 - PLAY_M - 0.001, 6)}


def test_inner_and_outer_size_undo_one_another() -> None:
    inner = (0.28, 0.14, 0.2)
    assert tray(outer_size(inner, 0.002)).inner == pytest.approx(inner)


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"sheet": "ply-12"}, "does not fold"),
        ({"size": (0.3, 0.2, 0.008)}, "shorter than the bends"),
        ({"size": (0.01, 0.2, 0.1)}, "shorter than the bends"),
        ({"flange": 0.004}, "shorter than the bends"),
    ],
)
def test_what_cannot_be_folded(more: dict[str, Any], words: str) -> None:
    with pytest.raises(CoreError, match=words):
        panel(**more)


def test_turned_about_it_is_the_same() -> None:
    other = panel(along=(1.0, 0.0, 0.0), across=(0.0, 1.0, 0.0))
    assert other.outline == panel().outline
    assert [f.polygon.area for f in other.flats] == pytest.approx([f.polygon.area for f in panel().flats])
    assert other.flats[0].frame.origin == pytest.approx((1.0, 0.5, 0.301))


@given(st.lists(st.floats(0.01, 2.0), min_size=4, max_size=4), st.floats(-1.0, 1.0), st.floats(-1.0, 1.0))
def test_the_middle_of_four_corners_is_that_of_its_polygon(reach: list[float], x: float, y: float) -> None:
    """A ring of four corners round a point, one on each half axis; shapely is the other method."""
    a, b, c, d = reach
    ring = ((x + a, y), (x, y + b), (x - c, y), (x, y - d))
    one = replace(panel(), outline=ring, flats=(), bends=())
    middle = Polygon(ring).centroid
    assert one.centre == pytest.approx(one.frame.at(middle.x, middle.y), abs=1e-7)
    assert one.area_m2 == pytest.approx(Polygon(ring).area, rel=1e-9)
