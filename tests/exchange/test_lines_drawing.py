"""The lines drawing is measured as one would with a rule on the paper."""

import io
import re

import ezdxf
import pytest

from stirrup.core.hull.mesh import build_surface
from stirrup.core.units import SYSTEMS
from stirrup.exchange.lines_drawing import draw_lines
from stirrup.exchange.paper import PAPER, paper_dxf, paper_pdf, paper_svg
from tests.boats import box_lines, hull

MM = SYSTEMS["mm"]


def sheet(length: float = 4.0, beam: float = 2.0, depth: float = 1.0):
    boat = hull(box_lines(length, beam, depth))
    return draw_lines(boat, build_surface(boat), "Box & sons", MM)


def extent(points, axis: int) -> float:
    return max(p[axis] for p in points) - min(p[axis] for p in points)


def test_the_scale_is_the_largest_round_one_that_fits() -> None:
    # two depths and half the beam of a 4 x 2 x 1 m box: 3 m over some 190 mm of paper is 1:16
    assert sheet().scale == 20
    assert sheet(3.0, 1.2, 0.4).scale == 10
    for drawing in (sheet(), sheet(9.0, 2.4, 1.2), sheet(2.0, 1.0, 0.4)):
        for stroke in drawing.strokes:
            for x, y in stroke.points:
                assert 0 <= x <= PAPER[0]
                assert 0 <= y <= PAPER[1]
        for word in drawing.words:
            assert 0 <= word.at[0] <= PAPER[0]


def test_the_hull_is_as_long_on_paper_as_the_scale_says() -> None:
    drawing = sheet()
    outer = [s for s in drawing.strokes if s.layer == "HULL"]
    longest = max(outer, key=lambda s: extent(s.points, 0))
    assert extent(longest.points, 0) == pytest.approx(4000 / drawing.scale)
    upright = max(outer, key=lambda s: extent(s.points, 1))
    assert extent(upright.points, 1) == pytest.approx(1000 / drawing.scale)


def test_dimensions_say_what_they_span() -> None:
    drawing = sheet()
    texts = {w.text for w in drawing.words}
    assert "4 000 mm over all" in texts
    assert "1 000 mm" in texts  # depth, and half the beam
    assert any("this line is 2 000 mm long on the boat" in t for t in texts)
    rule = [
        s for s in drawing.strokes if s.layer == "DIMENSIONS" and extent(s.points, 0) == pytest.approx(100)
    ]
    assert rule


def test_the_svg_is_in_millimetres_of_paper_and_escapes_the_name() -> None:
    text = paper_svg(sheet())
    assert 'width="420mm" height="297mm" viewBox="0 0 420 297"' in text
    assert "Box &amp; sons: lines 1:20" in text
    assert "<script" not in text


def test_the_dxf_is_in_millimetres_of_the_boat() -> None:
    document = ezdxf.read(io.StringIO(paper_dxf(sheet())))
    assert document.units == 4  # millimetres
    layers = {layer.dxf.name for layer in document.layers}
    assert {"HULL", "LINES", "STATIONS", "DIMENSIONS", "TEXT"} <= layers
    lines = [
        [(p[0], p[1]) for p in e.get_points()]
        for e in document.modelspace().query("LWPOLYLINE[layer=='HULL']")
    ]
    assert max(extent(line, 0) for line in lines) == pytest.approx(4000)
    assert max(extent(line, 1) for line in lines) == pytest.approx(1000)


def test_the_pdf_is_a3_at_true_size_and_the_same_each_time() -> None:
    first, second = paper_pdf(sheet()), paper_pdf(sheet())
    assert first == second
    box = re.search(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", first)
    assert box
    assert float(box[1]) == pytest.approx(420 / 25.4 * 72, abs=0.01)
    assert float(box[2]) == pytest.approx(297 / 25.4 * 72, abs=0.01)
    assert b"/PrintScaling /None" in first
