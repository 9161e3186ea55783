"""Loops for whole arrays give what the compiled ones give; a command that asks once loads no compiler."""

from __future__ import annotations

import math
import subprocess
import sys
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.afloat.balance import up_vector
from stirrup.core.cutting import bevels
from stirrup.core.fit import way_in
from stirrup.core.fittings import bent, edges
from stirrup.core.hull import bottom, chains, plain_integrals
from stirrup.core.hull.integrals import clipped, whole
from stirrup.core.hull.mesh import build_surface
from stirrup.core.space import convex
from stirrup.demo.seed import FILES, FOLDER, demo_plan

SOLIDS = [build_surface(demo_plan(name).hull).outside for name in FILES]
ROOT = Path(__file__).parents[2]


@given(st.integers(0, len(SOLIDS) - 1), st.floats(-0.4, 0.4), st.floats(-1.5, 1.5), st.floats(-0.5, 1.5))
def test_a_clipped_hull_is_the_same_by_both(which: int, trim: float, heel: float, depth: float) -> None:
    solid, n = SOLIDS[which], up_vector(trim, heel)
    left = plain_integrals.clipped(solid.vertices, solid.triangles, n, depth)
    right = clipped(solid.vertices, solid.triangles, n, depth)
    for one, other in zip(left, right, strict=True):
        np.testing.assert_allclose(one, other, rtol=1e-9, atol=1e-10)


@given(st.integers(0, len(SOLIDS) - 1), st.floats(-0.5, 7.0), st.lists(st.floats(-1.4, 1.4), max_size=5))
def test_the_bottom_is_the_same_by_both(which: int, x: float, y: list[float]) -> None:
    solid, marks = SOLIDS[which], np.array(y, dtype=float)
    one, other = (
        find(solid.corners, solid.normals2, x, marks)
        for find in (bottom.lowest_m, bottom._lowest_by_arrays)
    )
    np.testing.assert_allclose(one, other, rtol=1e-12, atol=1e-12, equal_nan=True)


@given(
    st.integers(0, len(SOLIDS) - 1), st.floats(0.0, 5.0), st.floats(-1.2, 1.2), st.floats(-0.1, 0.7),
    st.floats(0, math.tau), st.floats(-1.5, 1.5),
)  # fmt: skip
def test_the_skin_that_an_edge_meets_is_the_same_by_both(which, x, y, z, turn, up) -> None:  # type: ignore[no-untyped-def]
    skin = bevels.skin_of(SOLIDS[which])
    at = np.array([[x, y, z], [x, -y, z]])
    way = [math.cos(up) * math.cos(turn), math.cos(up) * math.sin(turn), math.sin(up)]
    ways = np.array([way, [way[0], -way[1], way[2]]])
    one, other = (
        find(skin.corners, skin.normals, at, ways) for find in (bevels.met_going, bevels._met_by_arrays)
    )
    np.testing.assert_allclose(one[1], other[1], rtol=1e-9, atol=1e-12)
    assert ((one[0] >= 0) == (other[0] >= 0)).all()


@pytest.mark.parametrize("solid", SOLIDS)
def test_a_whole_hull_is_the_same_by_both(solid) -> None:  # type: ignore[no-untyped-def]
    for one, other in zip(
        plain_integrals.whole(solid.vertices, solid.triangles), whole(solid.vertices, solid.triangles),
        strict=True,
    ):  # fmt: skip
        np.testing.assert_allclose(one, other, rtol=1e-12, atol=1e-12)


def test_a_box_by_hand() -> None:
    # 2 x 1 x 1 m from the origin, cut at 0.25 m: 0.5 m³, its middle at (1, 0.5, 0.125), plane of 2 m²
    corners = np.array([[x, y, z] for x in (0.0, 2.0) for y in (0.0, 1.0) for z in (0.0, 1.0)])
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])
    up = np.array([0.0, 0.0, 1.0])
    volume, moment, area, first, second, *_ = plain_integrals.clipped(corners, triangles, up, 0.25)
    assert volume == pytest.approx(0.5) and area == pytest.approx(2.0)
    np.testing.assert_allclose(moment, [0.5, 0.25, 0.0625])
    np.testing.assert_allclose(first, [2.0, 1.0, 0.5])
    # ∫ x² = 1 * 2³ / 3, ∫ y² = 2 * 1 / 3, ∫ xy = 2²/2 * 1/2
    np.testing.assert_allclose(np.diag(second), [8 / 3, 2 / 3, 2 * 0.0625])
    assert second[0, 1] == pytest.approx(1.0)


@given(st.integers(0, len(SOLIDS) - 1), st.integers(0, 2), st.floats(0.0, 1.0))
def test_loops_of_a_cut_are_the_same_by_both(which: int, axis: int, share: float) -> None:
    solid = SOLIDS[which]
    height = solid.vertices[:, axis] - (solid.low[axis] * (1 - share) + solid.high[axis] * share)
    left, right = chains._by_dictionary(solid.triangles, height), chains.chained(solid.triangles, height)
    for one, other in zip(left, right, strict=True):
        np.testing.assert_array_equal(one, other)
    for begin, end in pairwise(left[1].tolist()):
        edges = left[0][begin:end]
        np.testing.assert_allclose(
            chains._by_array(solid.vertices, height, edges),
            chains.points_of(solid.vertices, height, edges), rtol=1e-12, atol=1e-12,
        )  # fmt: skip


def test_a_cut_that_meets_an_edge_of_four_triangles_is_the_same_by_both() -> None:
    # two boxes that share one upright edge: the cut comes in there twice, at one and the same edge
    corners = [(x, y, z) for z in (0.0, 1.0) for x, y in
               ((0, 0), (1, 0), (1, 1), (0, 1), (2, 1), (2, 2), (1, 2))]  # fmt: skip
    walls = [(0, 1), (1, 2), (2, 3), (3, 0), (2, 4), (4, 5), (5, 6), (6, 2)]
    triangles = np.array([t for a, b in walls for t in ((a, b, b + 7), (a, b + 7, a + 7))])
    height = np.array(corners)[:, 2] - 0.25
    left, right = chains._by_dictionary(triangles, height), chains.chained(triangles, height)
    for one, other in zip(left, right, strict=True):
        np.testing.assert_array_equal(one, other)
    # eight walls, two triangles each, are cut once each; every loop ends where it began
    assert np.diff(right[1]).sum() == 16 + len(right[1]) - 1
    assert all(right[0][a] == right[0][b - 1] for a, b in pairwise(right[1].tolist()))


@given(
    st.integers(0, len(SOLIDS) - 1),
    st.floats(0.05, 0.6),
    st.lists(st.floats(-1, 7), min_size=1, max_size=9),
)
def test_breadths_are_the_same_by_both(which: int, height: float, marks: list[float]) -> None:
    region = edges.inside_region(build_surface(demo_plan(FILES[which]).hull), round(height, 3))
    if region.is_empty:
        return
    points = shapely.get_coordinates(region.exterior)
    # corners and what lies along a line count too
    at = np.array([*marks, points[0, 0], points[:, 0].min(), points[:, 0].max(), math.nan])
    for one, other in zip(edges._breadths(points, at), edges._by_arrays(points, at), strict=True):
        np.testing.assert_allclose(one, other, rtol=1e-12, atol=1e-12)


@given(st.lists(st.tuples(*[st.floats(-1, 1)] * 3), min_size=1, max_size=12))
def test_directions_are_the_same_by_both(ways: list[tuple[float, float, float]]) -> None:
    there = [w for w in ways if max(map(abs, w)) > 1e-3]
    given = np.array([*there, *([-x, -y, -z] for x, y, z in there), (0.0, 0.0, 0.0)])
    one, other = convex._once(given), convex._once_by_arrays(given)
    # each of the one is one of the other
    assert len(one) == len(other)
    assert (np.abs(one[:, None] - other[None]).max(axis=2) < 1e-8).any(axis=1).all()


@given(
    st.lists(st.lists(st.booleans(), min_size=7, max_size=7), min_size=1, max_size=6),
    st.lists(st.tuples(st.integers(-9, 9), st.integers(-9, 9)), min_size=1, max_size=9),
)
def test_what_grows_is_the_same_by_both_and_by_hand(grid, shape) -> None:  # type: ignore[no-untyped-def]
    blocked, shape = np.array(grid), shape if len(shape) % 2 else shape[1:] or [(0, 0)]
    shape = shape if len(shape) % 2 else [*shape, (0, 0)]
    first, last = (np.array([s[k] for s in shape]) for k in (0, 1))
    one, other = way_in.spread(blocked, first, last), way_in._spread_by_arrays(blocked, first, last)
    rows, columns = blocked.shape

    def met(i: int, j: int) -> bool:
        return any(
            blocked[y, x]
            for k, (a, b) in enumerate(shape)
            for x in range(max(0, j + a), min(columns - 1, j + b) + 1)
            if 0 <= (y := i + k - len(shape) // 2) < rows
        )

    assert one.tolist() == other.tolist() == [[met(i, j) for j in range(columns)] for i in range(rows)]


corners = st.lists(st.tuples(*[st.floats(-1, 1).map(lambda v: round(v, 2))] * 3), min_size=4, max_size=9)


@given(
    st.integers(2, 12), st.floats(0.2, 3.0), st.floats(-0.6, 0.6), st.sampled_from([1.0, -1.0]),
    st.floats(-0.05, 0.05),
)  # fmt: skip
def test_a_bent_angle_is_the_same_by_both(count: int, long: float, turn: float, side: float, flare) -> None:  # type: ignore[no-untyped-def]
    x = np.linspace(0.3, 0.3 + long, count)
    path = np.column_stack([x, side * (0.9 - turn * (x - 0.3) ** 2)])
    foot = path + np.array([0.001, -side * flare])
    given = (path, foot, side, 0.4, (0.04, 0.03, 0.003))
    np.testing.assert_allclose(
        bent.stretches(*given), bent._stretches_by_arrays(*given), rtol=1e-12, atol=1e-12
    )


@given(corners, corners, st.floats(0, math.tau), st.booleans())
def test_ways_clear_are_the_same_by_both(one, other, turn: float, prisms: bool) -> None:  # type: ignore[no-untyped-def]
    """Of bodies of any corners, flat and straight ones too, and of prisms, whose edges part nothing."""
    c, s = math.cos(turn), math.sin(turn)
    a, b = (convex.body(np.unique(np.array(points), axis=0)) for points in (one, other))
    if prisms:
        ring = np.array([(c, s), (-s, c), (-c, -s), (s, -c)])
        a, b = convex.upright(ring, -0.3, 0.4), convex.upright(0.5 * ring[:3] + 0.3, 0.1, 1.0)
    given = (a.points, b.points, a.faces, b.faces, *((convex.NONE,) * 2 if prisms else (a.edges, b.edges)))
    left, right = convex._ways(*given, 0.001), convex._ways_by_arrays(*given, 0.001)
    if len(left) != len(right):  # by a rounding of the touch
        left, right = (w if len(w) else np.zeros((2, 3)) for w in (left, right))
        assert min(left.min() + right.min(), 1.0) == pytest.approx(0.001, abs=1e-9)
        return
    np.testing.assert_allclose(left, right, rtol=1e-9)


@pytest.mark.parametrize(("command", "compiler"), [("float", False), ("righting", False), ("derive", True)])
def test_commands_that_ask_once_load_no_compiler(command: str, compiler: bool) -> None:
    words = ["x", command, str(FOLDER / FILES[1])]
    code = f"import sys; sys.argv = {words!r}; from stirrup.command import main; code = main(); " \
        "print('numba' in sys.modules, code)"  # fmt: skip
    done = subprocess.run(
        [sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True
    )
    assert done.stdout.strip().endswith(f"{compiler} 0")
