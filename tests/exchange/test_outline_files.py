"""Outlines of DXF and SVG files: sizes by hand, what does not close is named, hostile files are refused."""

import io
import math
import time
from itertools import pairwise
from typing import Any

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from stirrup.core.cutting.loops import join
from stirrup.core.errors import CoreError
from stirrup.exchange.outline_files import read_outlines


def dxf(*draw: Any, units: int = 4) -> bytes:
    document = ezdxf.new("R2010")
    document.units = units
    for one in draw:
        one(document)
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def lines(*points: tuple[float, float]) -> Any:
    def draw(document: Any) -> None:
        space = document.modelspace()
        for a, b in pairwise(points):
            space.add_line(a, b)

    return draw


def svg(inside: str, head: str = 'width="400mm" height="300mm" viewBox="0 0 400 300"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{inside}</svg>'.encode()


def area_mm2(content: bytes, name: str, **more: Any) -> float:
    return sum(p.area for p in read_outlines(content, name, **more).outlines) * 1e6


def test_loose_lines_and_an_arc_close_an_outline() -> None:
    """200 x 100 with its right end a half round of 50: 20,000 + pi 50² / 2 = 23,927 mm2."""

    def arc(document: Any) -> None:
        document.modelspace().add_arc((200, 50), 50, -90, 90)

    found = read_outlines(dxf(lines((200, 0), (0, 0), (0, 100), (200, 100)), arc), "tab.dxf")
    (outline,) = found.outlines
    assert outline.area * 1e6 == pytest.approx(20_000 + math.pi * 1250, abs=15)
    assert outline.bounds == pytest.approx((0, 0, 0.25, 0.1), abs=1e-4)
    assert (found.unit, found.told, found.problems) == ("mm", True, ())


@pytest.mark.parametrize(("code", "side_m"), [(1, 0.0254), (4, 0.001), (5, 0.01), (6, 1.0), (2, 0.3048)])
def test_a_file_says_its_unit_and_who_reads_it_may_say_another(code: int, side_m: float) -> None:
    square = dxf(lines((0, 0), (1, 0), (1, 1), (0, 1), (0, 0)), units=code)
    (outline,) = read_outlines(square, "s.dxf").outlines
    assert outline.area == pytest.approx(side_m**2)
    (other,) = read_outlines(square, "s.dxf", "in").outlines
    assert other.area == pytest.approx(0.0254**2)


def test_circles_splines_polylines_with_bulges_and_blocks() -> None:
    def draw(document: Any) -> None:
        space = document.modelspace()
        space.add_circle((500, 0), 40)
        # a full round as two bulges of 1
        space.add_lwpolyline([(0, 0, 1), (100, 0, 1)], format="xyb", close=True)
        space.add_ellipse((0, 300), major_axis=(60, 0), ratio=0.5)
        block = document.blocks.new("part")
        block.add_lwpolyline([(0, 0), (10, 0), (10, 20), (0, 20)], close=True)
        space.add_blockref("part", (1000, 0), dxfattribs={"xscale": 2, "yscale": 3, "rotation": 90})

    found = sorted(p.area * 1e6 for p in read_outlines(dxf(draw), "r.dxf").outlines)
    expected = sorted([math.pi * 1600, math.pi * 2500, math.pi * 60 * 30, 10 * 20 * 6])
    assert found == pytest.approx(expected, rel=2e-3)


def test_holes_are_what_lies_within_and_an_island_is_a_part_again() -> None:
    def draw(document: Any) -> None:
        space = document.modelspace()
        for r in (100, 60, 20, 5):
            space.add_circle((0, 0), r)

    ring, island = read_outlines(dxf(draw), "r.dxf").outlines
    assert len(ring.interiors) == 1 and len(island.interiors) == 1
    assert ring.area * 1e6 == pytest.approx(math.pi * (100**2 - 60**2), rel=2e-3)
    assert island.area * 1e6 == pytest.approx(math.pi * (400 - 25), rel=2e-3)


def test_ends_that_nearly_meet_are_joined_and_a_wider_gap_is_named() -> None:
    open_ = lines((0, 0), (100, 0), (100, 50), (0, 50), (0, 0.3))
    with pytest.raises(CoreError, match=r"closes no outline; the next end is 0\.30 mm off"):
        read_outlines(dxf(open_), "o.dxf", tolerance_mm=0.1)
    (outline,) = read_outlines(dxf(open_), "o.dxf", tolerance_mm=0.5).outlines
    assert outline.area * 1e6 == pytest.approx(5000, abs=20)


def test_what_cannot_be_taken_is_said_beside_what_can() -> None:
    def text(document: Any) -> None:
        space = document.modelspace()
        space.add_text("deck", height=5)
        space.add_line((500, 0), (600, 0))
        space.add_lwpolyline([(800, 0), (900, 100), (900, 0), (800, 100)], close=True)

    found = read_outlines(dxf(lines((0, 0), (9, 0), (9, 9), (0, 0)), text), "t.dxf")
    assert len(found.outlines) == 1
    told = " | ".join(found.problems)
    assert "(500.0, 0.0) to (600.0, 0.0) closes no outline" in told
    assert "crosses or touches itself at (850.0, 50.0)" in told
    assert "1 of text left out" in told


def test_two_outlines_across_one_another_are_neither() -> None:
    rings = [list(b.exterior.coords) for b in (box(0, 0, 0.2, 0.1), box(0.1, 0.05, 0.3, 0.2))]
    joined = join(rings, 1e-4)
    assert joined.outlines == () and "lie across one another" in joined.problems[0]
    # drawn twice it is one
    twice = join([list(box(0, 0, 0.2, 0.1).exterior.coords)] * 2, 1e-4)
    assert len(twice.outlines) == 1 and twice.problems == ()


@given(st.lists(st.tuples(st.floats(0.1, 1), st.floats(0.1, 1)), min_size=1, max_size=5), st.randoms())
def test_pieces_in_any_order_and_direction_close_the_same(sizes: Any, chance: Any) -> None:
    """Rectangles side by side, each as four lines, shuffled and turned round."""
    runs, area, x = [], 0.0, 0.0
    for w, h in sizes:
        corners = list(box(x, 0, x + w, h).exterior.coords)
        runs += [[corners[k], corners[k + 1]] for k in range(4)]
        x, area = x + w + 0.05, area + w * h
    chance.shuffle(runs)
    turned = [r[::-1] if chance.random() < 0.5 else r for r in runs]
    joined = join(turned, 1e-5)
    assert len(joined.outlines) == len(sizes) and joined.problems == ()
    assert sum(p.area for p in joined.outlines) == pytest.approx(area)


# ---- SVG


def test_shapes_of_an_svg_in_the_millimetres_that_it_says() -> None:
    """A rounded rectangle 100 x 50 with corners of 10: 5000 - (4 - pi) 100; a round of 20; a triangle; what
    is down on a page is down."""
    drawn = ('<rect x="10" y="10" width="100" height="50" rx="10"/><circle cx="200" cy="100" r="20"/>'
             '<polygon points="300,0 350,0 350,40"/>')  # fmt: skip
    found = read_outlines(svg(drawn), "s.svg")
    areas = sorted(p.area * 1e6 for p in found.outlines)
    assert areas == pytest.approx(sorted([5000 - (4 - math.pi) * 100, math.pi * 400, 1000.0]), rel=2e-3)
    assert found.told and found.unit == "mm"
    triangle = next(p for p in found.outlines if len(p.exterior.coords) == 4)
    assert triangle.bounds == pytest.approx((0.3, -0.04, 0.35, 0.0))


def test_view_box_pixels_and_inches() -> None:
    square = '<path d="M0 0h96v96h-96z"/>'
    # 96 pixels are an inch
    assert area_mm2(svg(square, 'width="960" height="960"'), "a.svg") == pytest.approx(25.4**2)
    assert area_mm2(svg(square, ""), "a.svg") == pytest.approx(25.4**2)
    # ten inches over 960 steps: the same
    assert area_mm2(svg(square, 'width="10in" viewBox="0 0 960 960"'), "a.svg") == pytest.approx(25.4**2)
    # whoever says so, reads its steps as something else
    assert area_mm2(svg(square, 'width="960"'), "a.svg", unit="mm") == pytest.approx(96**2)


def test_groups_turn_scale_and_shift_what_is_in_them() -> None:
    """10 x 20, twice as wide, three times as high, turned by a right angle, 100 to the right."""
    drawn = ('<g transform="translate(100 0)"><g transform="rotate(90)">'
             '<rect width="10" height="20" transform="scale(2,3)"/></g></g>')  # fmt: skip
    (found,) = read_outlines(svg(drawn), "g.svg").outlines
    assert found.area * 1e6 == pytest.approx(1200)
    # turned clockwise on the page: to the left of 100 and down
    assert found.bounds == pytest.approx((0.04, -0.02, 0.1, 0.0), abs=1e-9)


def test_curves_are_followed_and_a_hole_in_one_path_is_one() -> None:
    """A quarter round by a cubic with k = 0.5523, within 0.03 % of its radius; a square hole."""
    k = 0.5522847
    quarter = f"M0 0V100C{100 * k} 100 100 {100 * k} 100 0Z M10 10h20v20h-20z"
    (found,) = read_outlines(svg(f'<path d="{quarter}"/>'), "q.svg").outlines
    assert found.area * 1e6 == pytest.approx(math.pi * 2500 - 400, rel=1e-3)
    assert len(found.interiors) == 1
    # quadratic: a parabola of 100 wide and 50 high at its control, area 2/3 of 100 x 25
    (bow,) = read_outlines(svg('<path d="M0 0Q50 50 100 0Z"/>'), "b.svg").outlines
    assert bow.area * 1e6 == pytest.approx(2 / 3 * 100 * 25, rel=2e-3)
    arc = '<path d="M0 0A50 50 0 0 1 100 0Z"/>'
    assert area_mm2(svg(arc), "a.svg") == pytest.approx(math.pi * 1250, rel=2e-3)


def test_what_is_not_drawn_is_not_read() -> None:
    drawn = ('<defs><rect width="10" height="10"/></defs><rect style="display: none" width="5" height="5"/>'
             '<text>deck</text><rect width="7" height="7"/>')  # fmt: skip
    found = read_outlines(svg(drawn), "h.svg")
    assert [p.area * 1e6 for p in found.outlines] == pytest.approx([49])
    assert found.problems == ("1 of text left out",)


def test_what_our_own_files_draw_comes_back() -> None:
    """A panel as it is written for a cutter: by arcs that are fitted within 0.3 mm."""
    from stirrup.exchange.dxf import panel_dxf
    from tests.boats import DECK, derive, plan

    panel = derive(plan(fittings=[DECK])).built[0].panels[0]
    found = read_outlines(panel_dxf(panel).encode(), "panel.dxf")
    (outline,) = found.outlines
    # arcs are read by chords that lie 0.02 mm off them at most, after being fitted within 0.3 mm
    assert outline.hausdorff_distance(panel.polygon) < 0.0004
    assert outline.area == pytest.approx(panel.polygon.area, rel=1e-4)


# ---- hostile


def nested(levels: int, each: int) -> bytes:
    def draw(document: Any) -> None:
        below = document.blocks.new("b0")
        for n in range(1, levels):
            block = document.blocks.new(f"b{n}")
            for _ in range(each):
                block.add_blockref(below.name, (0, 0))
            below = block
        document.modelspace().add_blockref(below.name, (0, 0))

    return dxf(draw)


def themselves(document: Any) -> None:
    block = document.blocks.new("a")
    block.add_blockref("a", (1, 1))
    document.modelspace().add_blockref("a", (0, 0))


@pytest.mark.parametrize(
    ("content", "name", "said"),
    [
        (b"", "x.dxf", "cannot be read|no closed outline"),
        (b"\x00\x01\x02", "x.bin", "neither DXF nor SVG"),
        (b"0\nSECTION\n2\nENTITIES\n0\nLINE\n", "x.dxf", "cannot be read|no closed outline"),
        (b"PK\x03\x04", "x.svg", "neither DXF nor SVG"),
        (b"<svg", "x.svg", "cannot be read"),
        (b"<html><body/></html>", "x.html", "neither DXF nor SVG"),
        (b"<?xml version='1.0'?><html/>", "x.svg", "no SVG: it begins with html"),
        (b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg>&b;</svg>', "x.svg", "ENTITY"),
        (svg('<path d="M0 0 nonsense"/>'), "x.svg", "no closed outline"),
        (svg('<rect width="1e999" height="1"/>'), "x.svg", "no closed outline"),
        (svg('<polygon points="nan,nan 1,1 2,0"/>'), "x.svg", "no closed outline"),
        (svg("<g>" * 3000 + "</g>" * 3000), "x.svg", "no closed outline|cannot be read"),
        (svg('<rect width="9" height="9"/>' * 20_001), "x.svg", "more than 20000 things"),
        (svg('<rect width="90000000" height="9"/>'), "x.svg", "Which unit"),
        (nested(9, 10), "x.dxf", "more than 20000 things"),
        (dxf(themselves), "x.dxf", "within themselves|cannot be read|no closed"),
        (b" " * 8_000_001, "x.dxf", "larger than 8 MB"),
    ],
    ids=range(17),
)  # fmt: skip
def test_hostile_files_are_refused_with_words(content: bytes, name: str, said: str) -> None:
    with pytest.raises(CoreError, match=said):
        read_outlines(content, name)


@pytest.mark.parametrize(
    ("unit", "gap"), [("parsec", 0.1), ("mm", 0.0), ("mm", float("nan")), ("mm", 99.0)]
)
def test_wishes_out_of_range_are_named(unit: str, gap: float) -> None:
    with pytest.raises(CoreError, match="accepted"):
        read_outlines(svg('<rect width="9" height="9"/>'), "x.svg", unit, gap)


def test_an_outline_of_many_corners_is_quick_enough() -> None:
    ring = Point(0, 0).buffer(1000, quad_segs=20_000).exterior.coords
    path = "M" + "L".join(f"{x} {y}" for x, y in ring)
    (found,) = read_outlines(svg(f'<path d="{path}z"/>'), "r.svg").outlines
    assert isinstance(found, Polygon) and found.area == pytest.approx(math.pi, rel=1e-3)


@pytest.mark.slow
@pytest.mark.parametrize(
    ("content", "name", "said"),
    [
        # as many as are read at all: beside one another, in one another, all ends in one place
        (svg("".join(f'<rect x="{20 * (k % 140)}" y="{20 * (k // 140)}" width="9" height="9"/>'
                     for k in range(19_000))), "x.svg", "19000 closed lines"),
        (svg("".join(f'<rect x="{-k / 10}" y="{-k / 10}" width="{9 + k / 5}" height="{9 + k / 5}"/>'
                     for k in range(4_000))), "x.svg", "4000 closed lines"),
        (svg("".join(f'<rect x="{-k / 10}" y="{-k / 10}" width="{9 + k / 5}" height="{9 + k / 5}"/>'
                     for k in range(1_400))), "x.svg", "accepted: up to 200"),
        (svg("".join(f'<line x1="0" y1="0" x2="{100 + k}" y2="50"/>' for k in range(19_000))), "x.svg",
         "so many lines end on one another"),
        (svg('<rect width="90" height="90"/>' * 19_000), "x.svg", ""),
    ],
    ids=("beside", "within", "deep", "star", "same"),
)  # fmt: skip
def test_what_is_drawn_on_purpose_to_take_long_does_not(content: bytes, name: str, said: str) -> None:
    begun = time.monotonic()
    if said:
        with pytest.raises(CoreError, match=said):
            read_outlines(content, name)
    else:
        assert len(read_outlines(content, name).outlines) == 1
    assert time.monotonic() - begun < 20
