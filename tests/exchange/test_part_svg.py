"""Parts as SVG: read back by what reads other people's files, they are what they were."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import pytest
from shapely import affinity

from stirrup.core.cutting.member_marking import HoleRow, mark_member
from stirrup.core.parts.model import Bent, EndCut, Frame, Member, Panel
from stirrup.exchange.catalogue import starting
from stirrup.exchange.outline_files import read_outlines
from stirrup.exchange.part_lines import member_lines, panel_lines
from stirrup.exchange.part_svg import part_svg
from tests.boats import DECK, derive, skiff_plan
from tests.core.test_one_cut import section

PLY = starting().sheet("ply-12")
BOX = ((3.0, -0.2), (4.0, -0.2), (4.0, 0.25), (3.0, 0.25))
HOLE = ((3.3, 0.0), (3.5, 0.0), (3.5, 0.1), (3.3, 0.1))


def board(outline=BOX, holes=(HOLE,)) -> Panel:
    return Panel("d/skin/1", "D1 <&>", "deck", "d", PLY, outline, holes, Frame((0.0, 0.0, 0.0)))


def test_a_box_is_as_large_as_it_is_and_the_right_way_up() -> None:
    text = part_svg(panel_lines(board()), "a deck")
    # 1 m by 450 mm, and 10 mm about it
    assert 'width="1020.000000mm" height="470.000000mm"' in text and "D1 &lt;&amp;&gt;" in text
    (found,) = read_outlines(text.encode(), "p.svg").outlines
    assert found.bounds[2] - found.bounds[0] == pytest.approx(1.0, abs=1e-9)
    assert found.area == pytest.approx(0.45 - 0.02, abs=1e-9)
    # the hole lies 200 to 300 mm over the lower edge
    (hole,) = found.interiors
    heights = sorted({round(y - found.bounds[1], 6) for _, y in hole.coords})
    assert heights == [0.2, 0.3]


def test_a_deck_with_curved_sides_comes_back() -> None:
    panel = derive(skiff_plan(fittings=[DECK])).built[0].panels[0]
    text = part_svg(panel_lines(panel), "deck")
    assert re.search(r"A\d", text)  # arcs as arcs
    (found,) = read_outlines(text.encode(), "p.svg").outlines
    # the words' foot and the corners set where the paper begins: brought together by their middles
    to, at = panel.polygon.centroid, found.centroid
    moved = affinity.translate(found, to.x - at.x, to.y - at.y)
    # arcs are fitted within 0.3 mm and read by chords; a file that is mirrored would be far off
    assert moved.hausdorff_distance(panel.polygon) < 0.0006


@pytest.mark.parametrize("clockwise", [False, True])
def test_an_arc_bulges_to_its_own_side(clockwise: bool) -> None:
    """Half a disc of 200 mm across: its round side is the upper one."""
    ring = tuple(
        (0.1 + 0.1 * math.cos(math.radians(a)), 0.1 * math.sin(math.radians(a))) for a in range(0, 181, 3)
    )
    panel = board(ring[::-1] if clockwise else ring, ())
    text = part_svg(panel_lines(panel), "half a disc")
    (found,) = read_outlines(text.encode(), "p.svg").outlines
    assert found.area == pytest.approx(math.pi * 0.1**2 / 2, rel=1e-3)


def test_what_is_left_standing_is_the_outline_and_the_line_to_trim_to_a_mark() -> None:
    cut = ((3.0, -0.21), (4.0, -0.21), (4.0, 0.26), (3.0, 0.26))
    text = part_svg(panel_lines(board(), cut), "x")
    layers = dict(re.findall(r'<g id="(\w+)"(.*?)</g>', text))
    assert layers["OUTLINE"].count("<path") == 1 and layers["MARK"].count("<path") == 1
    assert 'height="490.000000mm"' in text


def test_a_member_has_its_faces_holes_and_cuts() -> None:
    ends = (EndCut(30.0, 0.0, "aft"), EndCut(0.0, 0.0))
    one = Member(
        "m",
        "M1",
        "m",
        "f",
        section("angle"),
        0.5,
        ((0, 0, 0), (0.5, 0, 0)),
        ends=ends,
        late_bent=lambda: Bent((0.2,)),
    )
    marked = replace(mark_member(one), rows=(HoleRow("flange", "skin", 0.005, (0.05, 0.25, 0.45)),))
    text = part_svg(member_lines(one, marked), "member")
    assert text.count("<circle") == 3 and 'r="2.500000"' in text and "M1 flange" in text
    faces = sorted(o.area for o in read_outlines(text.encode(), "m.svg").outlines)
    # the leg, 40 mm, square; the flange, 30 mm, less the corner that the mitre takes
    flange = 0.5 * 0.03 - 0.03**2 * math.tan(math.radians(30)) / 2
    rounds = 3 * math.pi * 0.0025**2
    assert faces[-1] == pytest.approx(0.5 * 0.04, rel=1e-6)
    assert faces[-2] == pytest.approx(flange - rounds, rel=1e-3)
