"""Rings as lines and arcs: what was drawn with a compass comes back as an arc, corners stay."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from stirrup.core.cutting.fair import TOLERANCE_M, fair, flattened
from stirrup.core.fittings.edges import largest
from stirrup.core.hull import mesh
from stirrup.core.hull.slices import region, waterplane
from stirrup.demo.seed import demo_plan
from tests.boats import derive


def ring(shape: Polygon) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in shape.exterior.coords[:-1]]


def test_a_hole_drawn_with_64_chords_is_two_half_circles() -> None:
    pieces = fair(ring(Point(0.2, 0.1).buffer(0.025, quad_segs=16)))
    # half a circle: tan(180 / 4)
    assert [abs(p.bulge) for p in pieces] == pytest.approx([1.0, 1.0], abs=1e-6)


def test_a_lid_with_round_corners_is_four_lines_and_four_quarter_circles() -> None:
    lid = box(0, 0, 0.5, 0.4).buffer(-0.04, join_style="mitre").buffer(0.04, quad_segs=8)
    pieces = fair(ring(lid))
    # a quarter: tan(90 / 4) = 0.414214
    bulges = sorted(abs(p.bulge) for p in pieces)
    assert bulges == pytest.approx([0, 0, 0, 0, *[math.tan(math.pi / 8)] * 4], abs=1e-5)
    assert Polygon(flattened(pieces)).area == pytest.approx(0.5 * 0.4 - (4 - math.pi) * 0.04**2, rel=1e-5)


@pytest.mark.parametrize(
    "shape", [box(0, 0, 2, 1), Polygon([(0, 0), (3, 0), (3, 1), (1, 1), (1, 2), (0, 2)])]
)
def test_corners_stay_corners(shape: Polygon) -> None:
    pieces = fair(ring(shape))
    assert [p.bulge for p in pieces] == [0.0] * len(pieces)
    assert {(p.x, p.y) for p in pieces} == set(ring(shape))


def test_points_on_a_straight_edge_are_left_out() -> None:
    many = Polygon([(0, 0), (0.3, 0), (0.7, 0.00005), (1, 0), (1, 1), (0, 1)])
    assert len(fair(ring(many))) == 4


@given(st.lists(st.floats(0.3, 1.0), min_size=5, max_size=40), st.booleans())
@settings(max_examples=60, deadline=None)
def test_every_point_lies_on_what_is_drawn(radii: list[float], reverse: bool) -> None:
    angles = np.linspace(0, 2 * math.pi, len(radii), endpoint=False)
    points = [(r * math.cos(a), r * math.sin(a)) for r, a in zip(radii, angles, strict=True)]
    drawn = shapely.LinearRing(flattened(fair(points[::-1] if reverse else points)))
    assert max(drawn.distance(Point(p)) for p in points) <= TOLERANCE_M + 2e-5


@pytest.mark.parametrize("height", [0.30, 0.35, 0.45])
def test_an_edge_over_the_chine_is_within_three_tenths_of_the_true_curve(monkeypatch, height) -> None:
    """Second method: the same lines with twelve times as many columns. Chords of the patches'
    diagonals used to step by 3.3 to 6.4 mm here."""
    hull = demo_plan("sedge-hopper.stirrup.json").hull
    coarse = mesh.build_surface(hull)
    monkeypatch.setattr(mesh, "STEPS", 192)
    true = largest(region(waterplane(mesh.build_surface(hull).inside, height, True), 2)).exterior
    edge = largest(region(waterplane(coarse.inside, height, True), 2)).simplify(0.0001)
    drawn = shapely.LinearRing(flattened(fair(ring(edge)))).segmentize(0.01)
    off = [true.distance(Point(p)) for p in drawn.coords]
    # the last hand's breadth at the stem ends in a blunt tip of the skin's thickness
    fore = edge.bounds[2] - 0.10
    assert max(d for d, (x, _) in zip(off, drawn.coords, strict=True) if x < fore) < 0.0003
    raw = largest(region(waterplane(coarse.inside, height), 2)).exterior.segmentize(0.01)
    assert max(true.distance(Point(p)) for p in raw.coords) > 0.003


def test_the_dxf_of_a_deck_has_arcs_and_keeps_its_area() -> None:
    import io

    import ezdxf

    from stirrup.exchange.dxf import panel_dxf

    derived = derive(demo_plan("sedge-hopper.stirrup.json"))
    panel = next(p for b in derived.built for p in b.panels if "/skin/" in p.key and p.holes)
    document = ezdxf.read(io.StringIO(panel_dxf(panel)))
    rings = list(document.modelspace().query("LWPOLYLINE"))
    cut = next(r for r in rings if r.dxf.layer == "OUTLINE")
    assert any(abs(b) > 0.001 for *_, b in cut.get_points("xyb"))
    assert len(cut) < len(panel.outline) / 2
    areas = []
    for r in rings:
        points = [(p.x, p.y) for p in ezdxf.path.make_path(r).flattening(0.005)]
        areas.append(Polygon(points).area / 1e6)
    assert areas[0] - sum(areas[1:]) == pytest.approx(panel.polygon.area, rel=2e-4)
