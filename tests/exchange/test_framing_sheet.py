"""The framing plan on paper is measured as one would with a rule."""

import io
from itertools import pairwise

import ezdxf
import pytest

from stirrup.core.framing_plan import framing_plan
from stirrup.core.units import SYSTEMS
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.framing_sheet import framing_sheet
from stirrup.exchange.paper import PAPER, Drawing, paper_dxf, paper_svg
from tests.boats import build_data, derive
from tests.core.test_framing_plan import BOX_DECK


def sheet(units: str = "mm", title: str = "Box, D1", **more) -> Drawing:
    built = derive(from_data(build_data(fittings=[{**BOX_DECK, **more}]))).fitting("deck")
    plan = framing_plan(built)
    assert plan is not None
    return framing_sheet(plan, built, title, SYSTEMS[units])


def boxes(drawing: Drawing, layer: str) -> list[tuple[float, float, float, float]]:
    out = []
    for stroke in drawing.strokes:
        if stroke.layer == layer:
            xs, ys = zip(*stroke.points, strict=True)
            out.append((min(xs), min(ys), max(xs), max(ys)))
    return out


def test_flanges_are_as_wide_and_as_far_apart_as_the_scale_says() -> None:
    drawing = sheet()
    k = 1000 / drawing.scale
    athwart = sorted(b for b in boxes(drawing, "HULL") if b[2] - b[0] < 0.05 * k)
    # five cross members of 40 mm, 0.4895 m from middle to middle (see the test of the plan)
    assert len(athwart) == 5
    assert all(b[2] - b[0] == pytest.approx(0.040 * k) for b in athwart)
    steps = [b[0] - a[0] for a, b in pairwise(athwart)]
    assert steps == pytest.approx([0.4895 * k] * 4)


def test_every_word_and_line_is_on_the_paper() -> None:
    for drawing in (sheet(), sheet("ft-in", spacing=0.2), sheet(aft=0.2, fore=3.9), sheet(fore=1.4)):
        for stroke in drawing.strokes:
            assert all(0 <= x <= PAPER[0] and 0 <= y <= PAPER[1] for x, y in stroke.points)
        assert all(0 <= w.at[0] <= PAPER[0] and 0 <= w.at[1] <= PAPER[1] for w in drawing.words)


def test_running_dimensions_are_the_aft_edges_from_the_transom() -> None:
    texts = [w.text for w in sheet().words]
    # middles at 1.022 + 0.4895 k, less half of 40 mm
    for x in ("1 002 mm", "1 492 mm", "1 981 mm", "2 960 mm"):
        assert x in texts
    assert "2 470 mm" in texts or "2 471 mm" in texts  # 2470.5
    assert any(t.startswith("1. side angles: D1-AP, D1-AS") for t in texts)
    assert any("398 mm above the keel line" in t for t in texts)


def test_the_dxf_is_in_millimetres_of_the_boat_and_the_svg_escapes() -> None:
    document = ezdxf.read(io.StringIO(paper_dxf(sheet())))
    rings = [
        [(p[0], p[1]) for p in e.get_points()]
        for e in document.modelspace().query("LWPOLYLINE[layer=='HULL']")
    ]
    wide = [max(p[0] for p in r) - min(p[0] for p in r) for r in rings]
    assert sum(w == pytest.approx(40.0) for w in wide) == 5
    text = paper_svg(sheet(title="<b>Box</b> & sons"))
    assert "&lt;b&gt;Box&lt;/b&gt; &amp; sons" in text and "<b>" not in text
