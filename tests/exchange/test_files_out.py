import csv
import io
import math
from dataclasses import replace

import ezdxf
import pytest
from shapely.geometry import Polygon

from stirrup.core.cutting.member_marking import mark_member, row
from stirrup.core.fit.already import as_cut
from stirrup.core.parts.model import Bent, EndCut, Member
from stirrup.exchange.catalogue import starting
from stirrup.exchange.cutlist import cut_list, safe, shopping_list
from stirrup.exchange.dxf import member_dxf, panel_dxf, sheet_dxf
from stirrup.exchange.summary import summary
from tests.boats import DECK, HATCH, derive, skiff_plan

DERIVED = derive(skiff_plan(fittings=[{**DECK, "name": "=Deck"}, HATCH]))


def rings(text: str, layer: str) -> list[Polygon]:
    document = ezdxf.read(io.StringIO(text))
    assert document.units == 4  # millimetres
    return [
        Polygon([(p.x, p.y) for p in ezdxf.path.make_path(e).flattening(0.002)])
        for e in document.modelspace().query(f'LWPOLYLINE[layer=="{layer}"]')
        if e.closed
    ]


def test_a_panel_in_dxf_is_true_size_in_millimetres() -> None:
    panel = next(p for p in DERIVED.built[0].panels if p.holes)
    text = panel_dxf(panel)
    outline, holes = rings(text, "OUTLINE"), rings(text, "HOLES")
    assert len(outline) == 1 and len(holes) == len(panel.holes)
    assert outline[0].area - sum(h.area for h in holes) == pytest.approx(panel.polygon.area * 1e6, rel=3e-4)


def test_a_sheet_in_dxf_holds_its_panels_inside_its_edge() -> None:
    layout = DERIVED.sheets[0]
    text = sheet_dxf(layout, 0)
    edge = rings(text, "SHEET")[0]
    assert edge.area == pytest.approx(2440 * 1220)
    outlines = rings(text, "OUTLINE")
    assert len(outlines) == len(layout.sheets[0])
    assert all(edge.covers(o) for o in outlines)


def test_cut_list_has_a_line_for_every_part() -> None:
    rows = list(csv.DictReader(io.StringIO(cut_list(DERIVED))))
    parts = [p for b in DERIVED.built for p in (*b.panels, *b.members)]
    assert len(rows) == len(parts)
    assert sum(float(r["mass_kg"]) for r in rows) == pytest.approx(sum(p.mass_kg for p in parts), abs=0.02)
    lid = next(r for r in rows if r["label"] == "H1-L")
    # 400 + 2 (25 - 1.5) by 300 + 2 (25 - 1.5)
    assert (float(lid["length_mm"]), float(lid["width_mm"])) == (447.0, 347.0)


def test_the_cut_list_says_what_is_cut_already() -> None:
    first = DERIVED.built[0].panels[0]
    with_it = DERIVED.plan.model_copy(update={"cut": (as_cut(first),)})
    rows = list(csv.DictReader(io.StringIO(cut_list(replace(DERIVED, plan=with_it)))))
    assert [r["label"] for r in rows if r["cut"] == "yes"] == [first.label]


def test_names_cannot_run_as_formulas_in_a_spreadsheet() -> None:
    assert safe("=1+1") == "'=1+1"
    assert safe("bow deck") == "bow deck"
    assert "\n=Deck" not in cut_list(DERIVED) and ",=Deck" not in cut_list(DERIVED)


def test_shopping_list_ends_with_the_total() -> None:
    rows = list(csv.reader(io.StringIO(shopping_list(DERIVED))))
    assert rows[-1] == ["total", "", "", "", "", str(DERIVED.cost.total)]
    assert len(rows) == 1 + len(DERIVED.cost.lines) + 3


def test_summary_holds_the_same_figures() -> None:
    data = summary(DERIVED)
    assert data["added_kg"] == pytest.approx(DERIVED.added_kg)
    assert len(data["parts"]["panels"]) == sum(len(b.panels) for b in DERIVED.built)
    assert data["cost"]["total"] == str(DERIVED.cost.total)
    assert [c["case"] for c in data["cases"]][:2] == ["planned, empty", "as found"]


def test_a_member_in_dxf_has_its_faces_holes_and_marks() -> None:
    """1 m of 40 x 40, its flange mitred by 30° and cut back by 35 mm; three holes of 4.9; a relief cut at
    0.4 m. The leg lies below, 60 mm apart."""
    section = starting().section("angle-40x40x3")
    path = ((0.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    ends = (EndCut(30.0, 0.0, "aft"), EndCut(0.0, 0.0))
    member = Member(
        "m", "D1-X1", "cross", "deck", section, 1.0, path, ends=ends, copes=(0.035, 0.0),
        late_bent=lambda: Bent((0.4,)),
    )  # fmt: skip
    rows = (row("flange", "skin", 0.0049, 1.0, 3, 0.02, member.copes),)
    text = member_dxf(member, mark_member(member, rows))
    leg, flange = sorted(rings(text, "OUTLINE"), key=lambda r: r.bounds[1])
    assert leg.bounds == pytest.approx((0, 0, 1000, 40))
    assert flange.bounds == pytest.approx((0, 100, 1000, 140))
    assert flange.area == pytest.approx(40_000 - 40 * 40 * math.tan(math.radians(30)) / 2)
    document = ezdxf.read(io.StringIO(text))
    holes = [e for e in document.modelspace() if e.dxf.layer == "HOLES"]
    assert sorted(round(h.dxf.center.x, 6) for h in holes) == pytest.approx([55.0, 517.5, 980.0])
    assert {(round(h.dxf.center.y, 6), round(h.dxf.radius, 6)) for h in holes} == {(120.0, 2.45)}
    marks = sorted(e.dxf.start.x for e in document.modelspace() if e.dxf.layer == "MARK")
    assert marks == pytest.approx([35.0, 400.0])
