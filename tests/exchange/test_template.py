"""Templates measured back off the paper, and labels with their codes."""

import io
import math
import re
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader
from pypdf.generic import ContentStream
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

import stirrup.exchange.template as template_module
from stirrup.core.cutting.marking_out import marked_out
from stirrup.core.errors import CoreError
from stirrup.core.parts.model import Frame, Panel
from stirrup.exchange.catalogue import starting
from stirrup.exchange.part_labels import PartLabel, labels_pdf
from stirrup.exchange.template import OVERLAP, PAPERS, template_pdf, tiling

MM = 72 / 25.4  # points in a millimetre
PLY = starting().sheet("ply-12")


def panel(ring, holes=(), name: str = "deck, skin 1") -> Panel:
    return Panel("d/skin/1", "D1-S1", name, "d", PLY, ring, holes, Frame((0.0, 0.0, 0.0)))


def oblong(width: float, height: float, x: float = 0.0, y: float = 0.0):
    return ((x, y), (x + width, y), (x + width, y + height), (x, y + height))


def template(one: Panel, paper="a4") -> PdfReader:
    return PdfReader(io.BytesIO(template_pdf(one, marked_out(one), "Teal, revision 3", paper)))


def drawn(page, width_mm: float) -> list[list[tuple[float, float]]]:
    """Every path of one line width on a page, in millimetres of the paper: the content stream as the
    standard has it, q Q cm w m l."""
    out, path = [], []
    matrix, stack, pen = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), [], 1.0
    for operands, operator in ContentStream(page.get_contents(), page.pdf).operations:
        values = [float(v) for v in operands if isinstance(v, int | float)]
        if operator == b"q":
            stack.append((matrix, pen))
        elif operator == b"Q":
            matrix, pen = stack.pop()
        elif operator == b"cm":
            a, b, c, d, e, f = values
            m = matrix
            matrix = (a * m[0] + b * m[2], a * m[1] + b * m[3], c * m[0] + d * m[2], c * m[1] + d * m[3],
                      e * m[0] + f * m[2] + m[4], e * m[1] + f * m[3] + m[5])  # fmt: skip
        elif operator == b"w":
            pen = values[0]
        elif operator in (b"m", b"l"):
            x, y = values
            at = (
                (x * matrix[0] + y * matrix[2] + matrix[4]) / MM,
                (x * matrix[1] + y * matrix[3] + matrix[5]) / MM,
            )
            path = [at] if operator == b"m" else [*path, at]
        elif operator in (b"S", b"s"):
            if abs(pen - width_mm) < 1e-6 and len(path) > 1:
                out.append(path)
            path = []
    return out


def test_a_panel_of_a_metre_is_true_to_a_tenth_of_a_millimetre() -> None:
    one = panel(oblong(1.0, 0.45, 3.0, -0.2), (oblong(0.2, 0.1, 3.3, 0.0),))
    reader = template(one)
    for page in reader.pages[1:]:
        outline, hole = drawn(page, 0.4)
        x, y = zip(*outline, strict=True)
        sides = sorted((max(x) - min(x), max(y) - min(y)))
        assert sides == pytest.approx([450.0, 1000.0], abs=0.01)
        x, y = zip(*hole, strict=True)
        assert sorted((max(x) - min(x), max(y) - min(y))) == pytest.approx([100.0, 200.0], abs=0.01)
        # the bar to hold a rule to
        assert any(
            math.dist(path[0], path[-1]) == pytest.approx(100.0, abs=0.01) for path in drawn(page, 0.15)
        )


def test_what_is_left_standing_is_outside_of_the_line_to_trim_to() -> None:
    # a metre by 450, 10 mm left standing above; a roll, so that all of it is on one sheet
    one = panel(oblong(1.0, 0.45, 3.0, -0.2), (oblong(0.2, 0.1, 3.3, 0.0),))
    cut = oblong(1.0, 0.46, 3.0, -0.2)
    content = template_pdf(one, marked_out(one), "Teal, revision 3", "roll-610", cut)
    (page,) = PdfReader(io.BytesIO(content)).pages
    outline, hole = drawn(page, 0.4)
    x, y = zip(*outline, strict=True)
    assert sorted((max(x) - min(x), max(y) - min(y))) == pytest.approx([460.0, 1000.0], abs=0.01)
    # the broken lines are thin ones two points long that are no crosses, which are 4 mm
    sides = [p for p in drawn(page, 0.15) if len(p) == 2 and math.dist(*p) > 300]
    assert sorted(math.dist(*p) for p in sides) == pytest.approx([450.0, 450.0, 1000.0, 1000.0], abs=0.01)
    own = [v for p in sides for v in p]
    # its lower edge lies on that of what is cut, and the hole is where it was
    low = min(v[1] for v in own) if max(x) - min(x) > 500 else min(v[0] for v in own)
    assert low == pytest.approx(min(y) if max(x) - min(x) > 500 else min(x), abs=0.01)
    hx, hy = zip(*hole, strict=True)
    assert sorted((min(hx) - min(x), min(hy) - min(y))) == pytest.approx([200.0, 300.0], abs=0.01)


def test_corners_are_marked_on_the_line_to_trim_to(monkeypatch) -> None:
    one = panel(oblong(1.0, 0.45, 3.0, -0.2))
    told = []
    monkeypatch.setattr(template_module, "drawn_pdf", lambda drawn, *_: told.append(drawn) or b"")
    # 10 mm left standing below and at the left
    template_pdf(one, marked_out(one), "Teal", "a4", oblong(1.01, 0.46, 2.99, -0.21))
    (drawn_as,) = told
    places = sorted((round(x, 9), round(y, 9)) for x, y in drawn_as.marks)
    assert places == [(0.01, 0.01), (0.01, 0.46), (1.01, 0.01), (1.01, 0.46)]
    assert drawn_as.shape.bounds == pytest.approx((0.0, 0.0, 1.01, 0.46))


def test_tiles_laid_on_one_another_show_all_of_the_outline() -> None:
    ring = tuple(
        (0.7 + 0.7 * math.cos(k * math.pi / 60), 0.5 + 0.45 * math.sin(k * math.pi / 60))
        for k in range(120)
    )
    one = panel(ring)
    shape = Polygon([(x * 1000, y * 1000) for x, y in ring])
    for paper in PAPERS:
        tiles = tiling(shape, paper)
        outline = LineString(shape.exterior.coords)
        if tiles.turned:
            outline = LineString([(1000 - y, x) for x, y in outline.coords])
        x0, y0, _, _ = outline.bounds
        outline = LineString([(x - x0, y - y0) for x, y in outline.coords])
        shown = unary_union([
            Polygon(oblong(*tiles.shows, *t.corner)) for t in tiles.tiles
        ])  # fmt: skip
        assert outline.difference(shown).length < 1e-6
        # and each neighbour shows the overlap again
        columns = sorted({t.corner[0] for t in tiles.tiles})
        for a, b in pairwise(columns):
            assert a + tiles.shows[0] - b == pytest.approx(OVERLAP)
        pages = template(one, paper).pages
        assert len(pages) == len(tiles.tiles) + (len(tiles.tiles) > 1)


def test_a_tile_puts_the_outline_where_it_belongs() -> None:
    one = panel(oblong(0.5, 0.5))
    tiles = tiling(Polygon([(x * 1000, y * 1000) for x, y in one.outline]), "a4")
    pages = template(one).pages[1:]
    for tile, page in zip(tiles.tiles, pages, strict=True):
        (outline,) = drawn(page, 0.4)
        # 10 mm of margin, 16 of foot; less what lies on the tiles before
        left = 10 - tile.corner[0]
        assert min(x for x, _ in outline) == pytest.approx(left, abs=0.01)
        assert min(y for _, y in outline) == pytest.approx(26 - tile.corner[1], abs=0.01)


def test_what_goes_on_one_sheet_has_no_map() -> None:
    # 190 x 261 of A4 show something
    assert len(template(panel(oblong(0.189, 0.26))).pages) == 1
    assert len(template(panel(oblong(0.191, 0.26))).pages) == 3
    # lying on its side it goes on a sheet lying on its side: 277 x 174
    assert len(template(panel(oblong(0.27, 0.17))).pages) == 1


def test_tiles_without_a_line_are_left_out() -> None:
    # a ring of 1.5 m: nothing is drawn in its middle
    tiles = tiling(Polygon([(x * 1000, y * 1000) for x, y in oblong(1.5, 1.5)]), "a4")
    assert len(tiles.tiles) < tiles.columns * tiles.rows


def test_a_roll_is_one_sheet_where_it_is_wide_enough() -> None:
    # 914.4 less margins of 10 and a foot of 16: 878.4 across
    for height, sheets in ((0.878, 1), (0.8785, 3)):
        assert len(template(panel(oblong(2.4, height)), "roll-914").pages) == sheets


def test_a_panel_for_which_there_is_no_paper_is_refused() -> None:
    with pytest.raises(CoreError, match="more than 240 sheets; take a roll"):
        template(panel(oblong(6.0, 4.0)))


@settings(max_examples=25, deadline=None)
@given(st.floats(0.05, 3.0), st.floats(0.05, 1.5), st.sampled_from(["a4", "letter", "roll-610"]))
def test_never_more_sheets_than_area_asks_for_with_overlap(width: float, height: float, paper) -> None:
    tiles = tiling(Polygon([(x * 1000, y * 1000) for x, y in oblong(width, height)]), paper)
    assert 1 <= len(tiles.tiles) <= tiles.columns * tiles.rows
    long, high = (height, width) if tiles.turned else (width, height)
    assert (tiles.columns - 1) * (tiles.shows[0] - OVERLAP) < long * 1000 or tiles.columns == 1
    assert (tiles.rows - 1) * (tiles.shows[1] - OVERLAP) < high * 1000 or tiles.rows == 1


def test_a_name_of_any_letters_makes_a_file() -> None:
    for name in ("<b>&amp; {x}", "дека 甲板 🛶", "x" * 80):
        assert len(template(panel(oblong(0.1, 0.1), name=name)).pages) == 1


# ------------------------------------------------------------------ labels


def label(mark: str) -> PartLabel:
    return PartLabel(
        mark, "deck, skin 1", ("Bow deck", "610 x 400"), f"http://127.0.0.1:8470/b/1/cuts#{mark}"
    )


def test_twelve_labels_go_on_a_page() -> None:
    for count, pages in ((1, 1), (12, 1), (13, 2)):
        reader = PdfReader(io.BytesIO(labels_pdf("Teal", [label(f"D{k}") for k in range(count)])))
        assert len(reader.pages) == pages
        text = "".join(page.extract_text() for page in reader.pages)
        assert all(re.search(rf"\bD{k}\b", text) for k in range(count))


def test_labels_are_forty_millimetres_high_and_inside_the_page() -> None:
    (page,) = PdfReader(io.BytesIO(labels_pdf("Teal", [label("D1")]))).pages
    boxes = re.findall(rb"0 0 95 40 re", page.get_contents().get_data())
    assert len(boxes) == 1
    assert 2 * 95 + 4 + 8 <= 210 and 22 + 6 * 42 <= 297


def test_the_code_stands_upright_with_its_three_finders_and_a_white_margin() -> None:
    (page,) = PdfReader(io.BytesIO(labels_pdf("Teal", [label("D1")]))).pages
    bars = [tuple(map(float, m)) for m in re.findall(rb"([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) re f",
                                                     page.get_contents().get_data())]  # fmt: skip
    module = min(b[3] for b in bars)
    left, top = min(b[0] for b in bars), max(b[1] + b[3] for b in bars)
    dark = {
        (round((top - y) / module) - 1, round((x - left) / module) + k)
        for x, y, w, _ in bars for k in range(round(w / module))
    }  # fmt: skip
    count = max(row for row, _ in dark) + 1
    assert (count - 17) % 4 == 0 and module * (count + 8) == pytest.approx(34.0, abs=0.1)
    # ISO 18004: a square of 7, a white ring, a square of 3; at three corners and not at the fourth
    finder = ["1111111", "1000001", "1011101", "1011101", "1011101", "1000001", "1111111"]

    def seen(row: int, column: int) -> list[str]:
        return ["".join("1" if (row + r, column + c) in dark else "0" for c in range(7)) for r in range(7)]

    far = count - 7
    assert seen(0, 0) == seen(0, far) == seen(far, 0) == finder != seen(far, far)
