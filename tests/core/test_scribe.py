"""What is left standing along a moulded hull: outside of the edges at the skin, and of no others."""

from __future__ import annotations

import csv
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from stirrup.core.buying import cut_outline, scribe_m
from stirrup.core.cutting.scribe import left_standing
from stirrup.core.derive import derive
from stirrup.core.parts.model import Ring
from stirrup.exchange.catalogue import starting
from stirrup.exchange.cutlist import cut_list
from tests.boats import DECK, HATCH, skiff_plan
from tests.core.test_bevels import deck, flared

MOULDED = "fiberglass laminate"


def of_glass(**more: object):
    plan = skiff_plan(fittings=[DECK, HATCH], **more)
    return plan.model_copy(update={"hull": plan.hull.model_copy(update={"material": MOULDED})})


def test_a_box_grows_at_the_sides_and_not_at_its_ends() -> None:
    panel = deck(0.797, 0.3)
    ring = left_standing(panel, 0.010, flared(0.8, 0.8))
    # 1 m long, 2 x 0.797 wide: 10 mm more on either side
    assert Polygon(ring).bounds == pytest.approx((1.0, -0.807, 2.0, 0.807))
    assert Polygon(ring).area == pytest.approx(1.0 * 2 * 0.807)


def test_what_does_not_reach_the_skin_is_cut_as_it_is() -> None:
    panel = deck(0.7, 0.3)
    assert left_standing(panel, 0.010, flared(0.8, 0.8)) == panel.outline
    assert left_standing(deck(0.797, 0.3), 0.0, flared(0.8, 0.8)) == deck(0.797, 0.3).outline


def test_the_lines_of_the_edges_beside_go_straight_on() -> None:
    # a tapered panel between tapered sides: its ends are square to the middle, not to the sides
    sides = 0.8, 0.6
    inside = _tapered(*sides)
    ring = ((1.0, -0.747), (2.0, -0.697), (2.0, 0.697), (1.0, 0.747))
    panel = replace(deck(0.7, 0.3), outline=ring)
    grown = Polygon(left_standing(panel, 0.010, inside))
    x0, _, x1, _ = grown.bounds
    assert (x0, x1) == pytest.approx((1.0, 2.0))
    # 10 mm square to a side that goes in by 0.05 each metre
    wide = 0.010 * math.hypot(1.0, 0.05)
    assert grown.area == pytest.approx(Polygon(ring).area + 2 * wide * 1.0, rel=1e-6)


def _tapered(aft: float, fore: float):
    from stirrup.core.hull.mesh import build_surface
    from stirrup.core.hull.model import Hull

    x = [0.0, 1.0, 2.0, 3.0, 4.0]
    half = [aft + (fore - aft) * a / 4 for a in x]
    rows = (("keel", [0.0] * 5, 0.0), ("chine", half, 0.0), ("sheer", half, 0.6))
    lines = [{"name": n, "points": [(a, y, z) for a, y in zip(x, ys, strict=True)]} for n, ys, z in rows]
    hull = {"mass": {"value": 100.0, "centre": (2.0, 0.0, 0.3)}, "lines": lines,
            "skin": {"side": 0.0, "bottom": 0.0, "transom": 0.0}}  # fmt: skip
    return build_surface(Hull.model_validate(hull)).inside


def test_by_how_she_is_built_and_by_what_somebody_says() -> None:
    assert scribe_m(skiff_plan()) == 0.0 and scribe_m(of_glass()) == 0.010
    said = of_glass()
    said = said.model_copy(update={"cutting": said.cutting.model_copy(update={"scribe": 0.0})})
    assert scribe_m(said) == 0.0


def test_layouts_hold_what_is_left_standing_and_what_was_tried_does_not() -> None:
    plan = of_glass()
    found = derive(plan, starting())
    skin = next(p for b in found.built for p in b.panels if "/skin/" in p.key)
    cut = cut_outline(skin, plan, found.surface)
    assert Polygon(cut).area > skin.polygon.area + 0.005
    assert Polygon(cut).buffer(1e-6).contains(Polygon(skin.outline))
    blanks = {b.id: b for s in found.sheets for b in s.job.blanks}
    assert blanks[skin.key].outline == cut and blanks[skin.key].holes == skin.holes
    # lists of sizes, which are those of where it ends, say so
    rows = {r["label"]: r["notes"] for r in csv.DictReader(cut_list(found).splitlines())}
    assert "cut 10 mm outside along the hull" in rows[skin.label]
    metal = derive(skiff_plan(fittings=[DECK, HATCH]), starting())
    assert all(
        b.outline == p.outline for s in metal.sheets for b in s.job.blanks
        for f in metal.built for p in f.panels if p.key == b.id
    )  # fmt: skip
    marks = [{"at": 0.1}, {"at": 0.9}]
    fitted = {"id": skin.key, "thing": "deck", "marks": marks}
    tried = type(plan).model_validate({**plan.model_dump(mode="json"), "fitted": [fitted]})
    assert cut_outline(skin, tried, found.surface) == skin.outline


def mirrored(ring: Ring) -> Polygon:
    return Polygon([(x, -y) for x, y in ring])


@given(st.floats(0.002, 0.03), st.floats(0.0, 25.0), st.floats(0.15, 0.45))
@settings(max_examples=25, deadline=None)
def test_the_other_side_is_its_mirror_image(wide: float, flare: float, z: float) -> None:
    tan = math.tan(math.radians(flare))
    inside = flared(0.6, 0.6 + 0.6 * tan)
    panel = deck(0.6 + (z - 0.006) * tan - 0.001, z)
    ring = left_standing(panel, wide, inside)
    assert mirrored(ring).symmetric_difference(Polygon(ring)).area < 1e-9
    grown = Polygon(ring)
    assert grown.area == pytest.approx(panel.polygon.area + 2 * wide * 1.0, rel=1e-6)
    # nowhere further out than asked
    assert np.max([panel.polygon.distance(p) for p in _points(ring)]) <= wide + 1e-9


def _points(ring: Ring):
    from shapely import Point

    return [Point(p) for p in ring]
