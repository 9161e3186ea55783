"""Parts on stock: every layout can be cut, and it is as good as what can be worked out by hand."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import get_parts
from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from stirrup.core.cutting.cut_job import Bin, CutJob, CutLayout, Lay, Part, Stock
from stirrup.core.cutting.nest.bound import bound_of
from stirrup.core.cutting.nest.check import faults_of
from stirrup.core.cutting.nest.kernel import strips
from stirrup.core.cutting.nest.misfit import misfits
from stirrup.core.cutting.nest.shapes import grown
from tests.cutting import inside, parts, rectangle, searched, sheet, wrong

pytestmark = pytest.mark.usefixtures("searched_long")

TURNS = (0.0, 90.0, 180.0, 270.0)


def triangle(a: float, b: float):
    return ((0.0, 0.0), (a, 0.0), (0.0, b))


def bracket(size: float, arm: float):
    return ((0.0, 0.0), (size, 0.0), (size, arm), (arm, arm), (arm, size), (0.0, size))


def job(*stocks: Stock, cut: tuple[Part, ...], **more) -> CutJob:
    return CutJob("a boat", stocks, cut, **more)


# ------------------------------------------------------------------ exact limits


@pytest.mark.parametrize("height", [0.6025, 0.6026])
def test_two_halves_that_just_fit_share_a_sheet(height: float) -> None:
    # 1.220 - 2 x 6 mm margin = 1.208 = 2 x 0.6025 + one kerf of 3 mm; a tenth more is a sheet more
    layout = searched(job(sheet(), cut=parts(rectangle(2.4, height), rectangle(2.4, height))))
    assert len(layout.bins) == (1 if height == 0.6025 else 2) and wrong(layout) == []


def test_a_part_as_large_as_what_the_margin_leaves_lies() -> None:
    layout = searched(job(sheet(), cut=parts(rectangle(2.428, 1.208))))
    (lay,) = layout.bins[0].lays
    assert (lay.x, lay.y) == (pytest.approx(0.006), pytest.approx(0.006)) and wrong(layout) == []


def test_no_kerf_and_no_margin_fill_a_sheet_to_the_last_digit() -> None:
    layout = searched(job(sheet(2.0, 1.0), cut=parts(*[rectangle(0.5, 0.25)] * 16), kerf=0.0, margin=0.0))
    assert (len(layout.bins), layout.utilisation, wrong(layout)) == (1, pytest.approx(1.0), [])


def test_spacing_counts_where_it_is_more_than_the_kerf() -> None:
    two = parts(rectangle(1.0, 0.595), rectangle(1.0, 0.595))
    narrow = sheet(1.02, 1.22)  # 1.208 = 2 x 0.595 + 18 mm
    assert len(searched(job(narrow, cut=two, spacing=0.018)).bins) == 1
    assert len(searched(job(narrow, cut=two, spacing=0.0181)).bins) == 2


# ------------------------------------------------------------------ outlines


def test_triangles_lie_in_pairs() -> None:
    # 2.4 x 0.6: two make a rectangle with a kerf along the slope; four pairs of boxes need two sheets
    cut = parts(*[triangle(2.3, 0.58)] * 4)
    layout = searched(job(sheet(), cut=cut), 100)
    assert len(layout.bins) == 1 and wrong(layout) == []


def test_two_brackets_lie_in_one_another() -> None:
    # arms of 0.19 m: three boxes of 0.95 need 2.86 m, two in one another 0.193 m more than one
    cut = parts(*[bracket(0.95, 0.19)] * 3, rotations=TURNS)
    layout = searched(job(sheet(), cut=cut), 200)
    assert len(layout.bins) == 1 and wrong(layout) == []


def test_a_part_lies_in_the_hole_of_another() -> None:
    frame = Part("frame", rectangle(2.42, 1.2), (inside(0.1, 0.1, 2.3, 1.1),))
    layout = searched(job(sheet(), cut=(frame, Part("lid", rectangle(2.19, 0.99)))))
    assert len(layout.bins) == 1 and wrong(layout) == []
    # 2.2 wide is the hole: with a kerf on both sides 2.194 is the most
    assert len(searched(job(sheet(), cut=(frame, Part("lid", rectangle(2.195, 0.99))))).bins) == 2


def test_only_what_may_be_turned_over_is() -> None:
    # two right triangles, one as in a mirror and half turned: their slopes only lie along one another when
    # it is turned over; then they are a rectangle 4 mm higher than one of them
    leg = triangle(2.3, 0.58)
    mirrored = tuple((-x, y) for x, y in leg)
    board = sheet(2.33, 0.6)
    for flip, needed in ((False, 2), (True, 1)):
        cut = (Part("a", leg, rotations=(0.0,)), Part("b", mirrored, rotations=(180.0,), flip=flip))
        layout = searched(job(board, cut=cut), 60)
        assert (len(layout.bins), wrong(layout)) == (needed, [])


def test_grain_is_kept_and_a_free_part_lies_along_its_edge() -> None:
    long = rectangle(0.3, 1.5)
    assert searched(job(sheet(), cut=parts(long, rotations=(0.0, 180.0)))).unplaced == ("p0",)
    assert searched(job(sheet(), cut=parts(long, rotations=(90.0,)))).unplaced == ()
    # a strip drawn at 30 degrees, 2.4 m long: it only goes in along the sheet
    c, s = math.cos(math.radians(30)), math.sin(math.radians(30))
    slanting = tuple((x * c - y * s, x * s + y * c) for x, y in rectangle(2.4, 0.5))
    layout = searched(job(sheet(), cut=parts(slanting, rotations=None)))
    assert layout.unplaced == () and wrong(layout) == []


# ------------------------------------------------------------------ stock


def test_an_offcut_is_used_first_and_only_as_often_as_it_is_there() -> None:
    rest = Stock("rack", rectangle(0.7, 0.5), cost=0.0, count=1)
    layout = searched(job(sheet(), rest, cut=parts(rectangle(0.6, 0.4))))
    assert ([b.stock for b in layout.bins], layout.cost) == (["rack"], 0.0)
    # two go on the sheet together: the second costs a sheet either way
    layout = searched(job(sheet(), rest, cut=parts(*[rectangle(0.6, 0.4)] * 2)))
    assert layout.cost == 84.0 and wrong(layout) == []


def test_an_offcut_that_is_no_rectangle_with_a_hole() -> None:
    rest = Stock("rack", bracket(1.0, 0.4), (inside(0.6, 0.1, 0.7, 0.3),), count=1)
    # right of the hole 0.3 less margins and left of it 0.6: 0.28 x 0.38 and 0.58 x 0.38 and 0.38 x 0.58
    cut = parts(rectangle(0.288, 0.388), rectangle(0.588, 0.388), rectangle(0.388, 0.588))
    layout = searched(job(rest, cut=cut, kerf=0.0), 60)
    assert layout.unplaced == () and wrong(layout) == []


@pytest.mark.parametrize("kerf", [0.003, 0.03])
def test_a_margin_less_than_half_the_kerf_keeps_its_distance_in_a_corner(kerf: float) -> None:
    rest = Stock("rack", bracket(1.0, 0.4), count=1, margin=0.0)
    layout = searched(job(rest, cut=parts(*[triangle(0.3, 0.3)] * 8, rotations=TURNS), kerf=kerf))
    assert wrong(layout) == []


def test_the_cheaper_of_two_sheets_is_bought() -> None:
    small = sheet(1.22, 1.22, 47.0, id="half")
    one = parts(rectangle(1.0, 1.0))
    assert searched(job(sheet(), small, cut=one)).cost == 47.0
    # two of them: one whole sheet (84) is cheaper than two halves (94)
    assert searched(job(sheet(), small, cut=parts(*[rectangle(1.0, 1.0)] * 2))).cost == 84.0
    # three: a whole and a half (131), not two whole (168) or three halves (141)
    assert searched(job(sheet(), small, cut=parts(*[rectangle(1.0, 1.0)] * 3))).cost == 131.0


def test_what_is_too_large_is_named_with_by_how_much() -> None:
    # 2.5 on 2.44 less 2 x 6 mm: 72 mm too long; 1.25 on 1.208: 42 mm too wide
    layout = searched(job(sheet(), cut=parts(rectangle(2.5, 1.25), rectangle(1.0, 1.0))))
    assert layout.unplaced == ("p0",) and len(layout.bins) == 1 and wrong(layout) == []
    # the other one needs a sheet; with it two would be the bound, and the search would never end
    assert layout.bound.pieces == 1
    (misfit,) = misfits(layout)
    assert (misfit.long_m, misfit.wide_m) == (pytest.approx(0.072), pytest.approx(0.042))
    assert misfit.text.startswith("p0: 72.0 mm too long and 42.0 mm too wide for “sheet”")


def test_what_finds_no_stock_left_says_so() -> None:
    layout = searched(job(sheet(count=1), cut=parts(*[rectangle(2.0, 1.0)] * 2)), 2)
    assert len(layout.unplaced) == 1 and "nothing is left that it goes on" in misfits(layout)[0].text


# ------------------------------------------------------------------ always


OUTLINES = st.one_of(
    st.builds(rectangle, st.floats(0.05, 1.4), st.floats(0.05, 1.1)),
    st.builds(triangle, st.floats(0.1, 1.4), st.floats(0.1, 1.0)),
    st.builds(lambda s, a: bracket(s, s * a), st.floats(0.2, 1.0), st.floats(0.1, 0.6)),
    st.builds(
        lambda r, n: tuple((r + r * math.cos(2 * math.pi * k / n), r + r * math.sin(2 * math.pi * k / n))
                           for k in range(n)),
        st.floats(0.05, 0.5), st.integers(5, 40),
    ),
)  # fmt: skip


@st.composite
def jobs(draw, straight: bool = False) -> CutJob:
    cut = tuple(
        Part(
            f"p{k}", outline, (), draw(st.integers(1, 2)),
            draw(st.sampled_from([(0.0,), (0.0, 180.0), TURNS, None, (37.0, 200.0)])), draw(st.booleans()),
        )
        for k, outline in enumerate(draw(st.lists(OUTLINES, min_size=1, max_size=7)))
    )  # fmt: skip
    rests = [
        Stock(f"r{k}", outline, (), 0.0, 1, draw(st.sampled_from([None, 0.0, 0.02])))
        for k, outline in enumerate(draw(st.lists(OUTLINES, max_size=2)))
    ]
    return job(
        sheet(), *rests, cut=cut, straight=straight, stages=draw(st.integers(2, 4)),
        kerf=draw(st.sampled_from([0.0, 0.0008, 0.003, 0.006])),
        margin=draw(st.sampled_from([0.0, 0.001, 0.006])),
    )  # fmt: skip


@pytest.mark.slow
@settings(max_examples=60, deadline=None)
@given(jobs(), st.integers(0, 3))
def test_every_layout_on_the_way_can_be_cut(task: CutJob, seed: int) -> None:
    said: list[CutLayout] = []
    last = searched(task, 3, seed, said.append)
    for layout in (*said, last):
        assert wrong(layout) == [] and faults_of(layout) == []
    costs = [(len(x.unplaced), x.cost) for x in said]
    assert costs == sorted(costs, reverse=True)
    assert last.bound.cost <= last.cost + 1e-9 or last.unplaced


@pytest.mark.slow
@settings(max_examples=40, deadline=None)
@given(jobs(straight=True))
def test_straight_cuts_take_no_more_stages_than_allowed(task: CutJob) -> None:
    layout = searched(task, 2)
    assert wrong(layout) == [] and faults_of(layout) == []


def test_the_same_seed_and_work_give_the_same_layout() -> None:
    cut = parts(*[triangle(0.7 + 0.05 * k, 1.1 - 0.03 * k) for k in range(19)])
    task = job(sheet(), cut=cut)
    found = [searched(task, 30, seed) for seed in (5, 5, 0, 1, 2)]
    assert found[0].cost > found[0].bound.cost  # it had to search to the end
    assert found[0].bins == found[1].bins and len({x.bins for x in found}) > 1


def test_without_any_work_there_is_a_whole_layout() -> None:
    cut = parts(*[triangle(1.2, 0.7)] * 9)
    layout = searched(job(sheet(), cut=cut), 0)
    assert layout.unplaced == () and wrong(layout) == []


# ------------------------------------------------------------------ what it is made of


def test_a_bound_counts_what_the_kerf_takes() -> None:
    # 1 x 1 with 1.5 mm round it: 1 + 4 x 0.0015 + corners of π x 0.0015²; the sheet gives 2.431 x 1.211
    task = job(sheet(), cut=parts(*[rectangle(1.0, 1.0)] * 2))
    assert (bound_of(task).pieces, bound_of(task).cost) == (1, 84.0)
    full = 2.431 * 1.211
    one = (full - 4e-9) / 4
    side = (-4 * 0.0015 + math.sqrt((4 * 0.0015) ** 2 - 4 * (math.pi * 0.0015**2 - one))) / 2
    for size, sheets in ((side * 0.9999, 1), (side * 1.0001, 2)):
        assert bound_of(job(sheet(), cut=parts(*[rectangle(size, size)] * 4))).pieces == sheets


@settings(max_examples=60, deadline=None)
@given(OUTLINES, st.floats(0.003, 0.2))
def test_strips_cover_the_shape_and_no_more(outline, height: float) -> None:
    shape = Polygon(outline)
    ring = np.asarray(shape.exterior.coords)
    edges = np.hstack((ring[:-1], ring[1:]))
    x0, y0, x1, y1 = shape.bounds
    count = math.ceil((y1 - y0) / height)
    start, low, high = strips(edges, y0, height, count)
    for s in range(count):
        foot = y0 + s * height
        met = shape.intersection(Polygon(inside(x0 - 1, foot, x1 + 1, foot + height)))
        # where an edge lies on the strip's own edge, it only touches it
        within = unary_union([p for p in get_parts(met) if p.area > 0])
        spans = list(zip(low[start[s] : start[s + 1]], high[start[s] : start[s + 1]], strict=True))
        if within.area < 1e-9:
            continue
        assert spans[0][0] == pytest.approx(within.bounds[0]) and spans[-1][1] == pytest.approx(
            within.bounds[2]
        )
        # where there is a gap, nothing of the shape is
        for (_, left), (right, _) in pairwise(spans):
            gap = Polygon(inside(left, foot, right, foot + height))
            assert within.intersection(gap).area < 1e-9


@settings(max_examples=40, deadline=None)
@given(OUTLINES, st.floats(0.0005, 0.02), st.floats(0, 2 * math.pi))
def test_what_is_grown_holds_all_that_is_near(outline, by: float, angle: float) -> None:
    shape, large = Polygon(outline), grown(Polygon(outline), by)
    for x, y in outline:
        near = Point(x + by * 0.999 * math.cos(angle), y + by * 0.999 * math.sin(angle))
        assert large.buffer(1e-9).covers(near)
    # and of a square nothing further than its own corner
    assert large.area <= shape.buffer(by * 1.5).area + 1e-9


def test_the_check_sees_what_is_wrong() -> None:
    task = job(sheet(count=1), cut=parts(rectangle(1.0, 0.5), rectangle(1.0, 0.5), rotations=(0.0,)))

    def said(*lays: Lay, times: int = 1) -> str:
        return "; ".join(faults_of(CutLayout(task, (Bin("sheet", lays),) * times)))

    a, b = Lay("p0", 0, 0.006, 0.006), Lay("p1", 0, 0.006, 0.51)
    assert said(a, b) == ""
    assert "nearer than 3 mm" in said(a, Lay("p1", 0, 0.006, 0.508))
    assert "nearer than 3 mm" in said(a, Lay("p1", 0, 0.006, 0.006))
    assert "over the margin" in said(Lay("p0", 0, 0.0, 0.006), b)
    assert "turned by 90" in said(Lay("p0", 90, 0.6, 0.1), Lay("p1", 0, 1.2, 0.1))
    assert "and over" in said(Lay("p0", 0, 1.1, 0.006, True), Lay("p1", 0, 1.2, 0.1))
    assert "lies once" in said(a)
    assert "2 used of 1" in said(a, b, times=2)
