"""Files that go to the shop, read back whole: labels, holes, notes, and lids in their openings."""

import csv
import io
import re

import ezdxf
import numpy as np
import pytest
from shapely.geometry import Point, Polygon

from stirrup.core.cutting.sheets import placed
from stirrup.core.units import Units
from stirrup.demo.seed import demo_plan
from stirrup.exchange.cutlist import cut_list
from stirrup.exchange.dxf import panel_dxf, sheet_dxf
from stirrup.exchange.offsets import read_offsets, write_offsets
from tests.boats import DECK, HATCH, derive, skiff_plan

BOATS = {
    "sedge": derive(demo_plan("sedge-hopper.stirrup.json")),
    "teal": derive(demo_plan("teal-mule.stirrup.json")),
    # to starboard, corners of their own
    "skiff": derive(skiff_plan(fittings=[DECK, {**HATCH, "y": -0.1, "corner": 0.05, "landing": 0.02}])),
}


def shapes(text: str, layer: str) -> list[Polygon]:
    space = ezdxf.read(io.StringIO(text)).modelspace()
    out = []
    for ring in space.query(f'LWPOLYLINE[layer=="{layer}"]'):
        points = np.array([(p.x, p.y) for p in ezdxf.path.make_path(ring).flattening(0.002)]) / 1000
        # an arc that ends where the ring began may miss that point by the last digit
        closed = np.hypot(*(points[1:] - points[0]).T) > 1e-7
        out.append(Polygon([points[0], *points[1:][closed]]))
    return out


def labels(text: str) -> dict[str, Point]:
    space = ezdxf.read(io.StringIO(text)).modelspace()
    return {t.dxf.text: Point(t.dxf.insert.x / 1000, t.dxf.insert.y / 1000) for t in space.query("TEXT")}


@pytest.mark.parametrize("boat", BOATS)
def test_every_panel_s_file_gives_it_back_with_its_label_inside(boat: str) -> None:
    for panel in (p for b in BOATS[boat].built for p in b.panels):
        text = panel_dxf(panel)
        (outline,) = shapes(text, "OUTLINE")
        read = Polygon(outline.exterior, [h.exterior for h in shapes(text, "HOLES")])
        # lines and arcs lie within 0.3 mm of the true curve
        assert read.symmetric_difference(panel.polygon).buffer(-0.00031).is_empty, panel.label
        assert len(read.interiors) == len(panel.holes)
        assert list(labels(text)) == [panel.label]
        assert panel.polygon.covers(labels(text)[panel.label]), panel.label


@pytest.mark.parametrize("boat", BOATS)
def test_every_sheet_s_file_holds_each_part_where_it_lies_with_its_label(boat: str) -> None:
    for layout in BOATS[boat].sheets:
        blanks = {b.id: b for b in layout.job.blanks}
        for number, sheet in enumerate(layout.sheets):
            text = sheet_dxf(layout, number)
            where, outlines = labels(text), shapes(text, "OUTLINE")
            assert len(outlines) == len(sheet)
            for place in sheet:
                blank = blanks[place.blank]
                shape = placed(blank, place)
                assert shape.covers(where[blank.label]), blank.label
                whole = Polygon(shape.exterior)
                assert any(o.symmetric_difference(whole).buffer(-0.00031).is_empty for o in outlines)


@pytest.mark.parametrize("boat", BOATS)
def test_the_cut_list_says_what_the_members_are(boat: str) -> None:
    rows = {r["label"]: r for r in csv.DictReader(io.StringIO(cut_list(BOATS[boat])))}
    members = [m for b in BOATS[boat].built for m in b.members]
    assert {m.label for m in members} | {p.label for b in BOATS[boat].built for p in b.panels} == set(rows)
    for m in members:
        notes, length = rows[m.label]["notes"], float(rows[m.label]["length_mm"])
        # rounded up to 0.1 mm
        assert -1e-6 < length - m.length * 1000 < 0.1 + 1e-6
        told = re.search(r"relief cuts at ([\d, ]+)", notes)
        cuts = [int(x) for x in told[1].split(",")] if told else []
        assert cuts == [round(s * 1000) for s in m.slots]
        assert all(0 < s < m.length for s in m.slots) and list(m.slots) == sorted(m.slots)
        opened = re.search(r"opened to (\d+) to (\d+) deg", notes)
        if max(abs(a - 90) for a in m.opening_deg) > 0.5:
            assert [int(x) for x in opened.groups()] == [round(a) for a in m.opening_deg]
        else:
            assert opened is None
        cope = re.findall(r"cope the flange (\d+)", notes)
        assert {int(c) for c in cope} == {round(c * 1000) for c in m.copes if round(c * 1000)}
        for cut in m.ends:
            if not cut.square:
                assert cut.words.replace("°", " deg") in notes


@pytest.mark.slow
@pytest.mark.parametrize("boat", ["sedge", "skiff"])
def test_a_lid_s_file_is_its_opening_less_the_gap_corners_too(boat: str) -> None:
    derived = BOATS[boat]
    panels = {p.key: p for b in derived.built for p in b.panels}
    for hatch in (f for f in derived.plan.fittings if f.kind == "hatch"):
        (lid,) = shapes(panel_dxf(panels[f"{hatch.id}/lid"]), "OUTLINE")
        skins = [s for k, p in panels.items() if "/skin/" in k for s in shapes(panel_dxf(p), "HOLES")]
        opening = next(h for h in skins if h.covers(lid))
        # metal, no wrapped cover: 1.5 mm of free play all round; a foam mat does not wrap
        assert lid.symmetric_difference(opening.buffer(-0.0015)).buffer(-0.00035).is_empty
        gaps = [opening.exterior.distance(Point(p)) for p in lid.exterior.coords]
        assert (min(gaps), max(gaps)) == pytest.approx((0.0015, 0.0015), abs=0.00035)


@pytest.mark.parametrize("boat", BOATS)
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_offsets_read_back_are_the_same_readings(boat: str, unit: str) -> None:
    hull = BOATS[boat].plan.hull
    table = read_offsets(write_offsets(hull, unit), Units())
    assert [line.name for line in table.lines] == [line.name for line in hull.lines]
    for a, b in zip(table.lines, hull.lines, strict=True):
        assert np.array(a.points) == pytest.approx(np.array(b.points), abs=6e-4)
        assert (a.along, len(a.points)) == (b.along, len(b.points))
