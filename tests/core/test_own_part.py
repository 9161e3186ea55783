"""Parts of one's own, and leftovers that are no rectangle: areas and places by hand."""

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from shapely.geometry import Polygon, box

from stirrup.core.contract.gives import Built
from stirrup.core.cutting.own_outline import as_it_was, check_outline, outline_value
from stirrup.core.cutting.sheets import (
    Blank,
    RestSheet,
    SheetJob,
    SheetLayout,
    faults,
    lay_out,
    placed,
    straight_cuts,
)
from stirrup.core.derive import Derived
from stirrup.core.fit.cut_up import outline_left, rest_of_sheet
from stirrup.core.kinds.own_part import OwnPart
from stirrup.core.plan.cutting import SheetRest
from stirrup.exchange.buildfile import dump, from_data, parse
from tests.boats import box_lines, build_data, derive, plan

PART = {"kind": "own_part", "id": "part", "name": "Bracket", "mark": "O1", "x": 2.0, "y": 0.3, "z": 0.5,
        "width": 0.4, "height": 0.3}  # fmt: skip
ELL = [[0.0, 0.0], [0.4, 0.0], [0.4, 0.1], [0.1, 0.1], [0.1, 0.3], [0.0, 0.3]]  # 0.04 + 0.02 m2


def boat(**choices: Any) -> Derived:
    return derive(from_data(build_data(box_lines(4.0, 2.0, 1.0), fittings=[{**PART, **choices}])))


def made(derived: Derived) -> Built:
    found = derived.fitting("part")
    assert found is not None
    return found


def test_an_ell_weighs_what_its_area_does_and_lies_where_it_is_put() -> None:
    """0.06 m2 of 12 mm plywood; its centroid 0.04 x (0.2, 0.05) + 0.02 x (0.05, 0.2) over 0.06."""
    derived = boat(outline=ELL)
    (panel,) = made(derived).panels
    assert panel.polygon.area == pytest.approx(0.06)
    assert panel.mass_kg == pytest.approx(0.06 * 0.012 * panel.sheet.stuff.density)
    (u, v) = (0.04 * 0.2 + 0.02 * 0.05) / 0.06 - 0.2, (0.04 * 0.05 + 0.02 * 0.2) / 0.06 - 0.15
    entry = next(e for e in derived.planned if e.id.startswith("part"))
    assert entry.centre == pytest.approx((2.0 + u, 0.3 + v, 0.5), abs=1e-6)


@pytest.mark.parametrize(
    ("faces", "size"),
    [("level", (0.4, 0.3, 0.012)), ("across her", (0.012, 0.4, 0.3)), ("along her", (0.4, 0.012, 0.3))],
)
def test_it_lies_or_stands(faces: str, size: tuple[float, float, float]) -> None:
    derived = boat(faces=faces)
    (solid,) = made(derived).solids
    points = solid.shape.points  # type: ignore[union-attr]
    for axis, (middle, side) in enumerate(zip((2.0, 0.3, 0.5), size, strict=True)):
        values = [p[axis] for p in points]
        assert (min(values), max(values)) == pytest.approx((middle - side / 2, middle + side / 2))


def test_several_lie_on_one_another() -> None:
    """Three of 12 mm: their middles at 0.488, 0.5 and 0.512, thrice the mass, each a mark of its own."""
    panels = made(boat(count=3)).panels
    assert [p.frame.origin[2] for p in panels] == pytest.approx([0.488, 0.5, 0.512])
    assert len({p.label for p in panels}) == 3
    assert sum(p.mass_kg for p in panels) == pytest.approx(3 * made(boat()).panels[0].mass_kg)


@pytest.mark.parametrize("faces", ["level", "across her", "along her"])
def test_mirrored_it_is_its_own_mirror_image(faces: str) -> None:
    """Every corner at (x, y, z) has one at (x, -y, z)."""
    from stirrup.core.kinds.own_part import KIND

    value = {**OwnPart.model_validate({**PART, "faces": faces, "outline": ELL}).model_dump(mode="json")}
    KIND.mirror(value)
    there, here = made(boat(faces=faces, outline=ELL)), made(boat(**value))

    def corners(built: Built) -> set[tuple[float, ...]]:
        (panel,) = built.panels
        frame = panel.frame
        axes = list(zip(frame.origin, frame.along, frame.across, strict=True))
        return {tuple(round(o + u * a + v * b, 6) for o, a, b in axes) for u, v in panel.outline}

    assert {(x, -y, z) for x, y, z in corners(there)} == corners(here)


@pytest.mark.parametrize(
    ("outline", "said"),
    [
        ([[0, 0], [0.4, 0.3], [0.4, 0], [0, 0.3]], "does not cross itself"),
        ([[0, 0], [0.4, 0]], "three corners"),
        ([[0, 0], [0.5, 0], [0.5, 0.3]], "from (0, 0) to width and height"),
        ([[0.1, 0], [0.4, 0], [0.4, 0.3]], "from (0, 0) to width and height"),
    ],
)
def test_an_outline_that_is_none_is_refused_with_words(outline: Any, said: str) -> None:
    for model, more in (
        (OwnPart, PART),
        (SheetRest, {"id": "r", "stock": "ply-12", "width": 0.4, "height": 0.3}),
    ):
        with pytest.raises(ValidationError) as error:
            model.model_validate({**more, "outline": outline})
        assert said in str(error.value)
    with pytest.raises(ValidationError, match="accepted with an outline"):
        OwnPart.model_validate({**PART, "holes": [[[0, 0], [0.1, 0], [0.1, 0.1]]]})


@given(st.floats(0.02, 5), st.floats(0.02, 5), st.floats(-3, 3), st.floats(-3, 3))
def test_a_shape_becomes_one_from_its_corner_on(w: float, h: float, x: float, y: float) -> None:
    value = outline_value(box(x, y, x + w, y + h))
    check_outline(value["outline"], value["holes"], (value["width"], value["height"]))
    assert (value["width"], value["height"]) == pytest.approx((w, h), abs=1e-5)


def test_shapes_out_of_range_are_refused() -> None:
    with pytest.raises(ValueError, match=r"accepted: from 0\.01 to 20 m"):
        outline_value(box(0, 0, 0.005, 1))
    with pytest.raises(ValueError, match="accepted"):
        outline_value(box(0, 0, 21, 1))
    rough = Polygon([(0.001 * k, 0.0 if k % 2 else 0.001) for k in range(3000)] + [(3, 1), (0, 1)])
    with pytest.raises(ValueError, match="more than 1000 corners"):
        outline_value(rough)


# ---- leftovers that are no rectangle


def blank(name: str, w: float, h: float) -> Blank:
    return Blank(name, name, ((0, 0), (w, 0), (w, h), (0, h)))


REST = RestSheet("r", 0.4, 0.3, 1, tuple((x, y) for x, y in ELL))


def job(*blanks: Blank, **more: Any) -> SheetJob:
    return SheetJob("ply-12", 2.44, 1.22, blanks, rests=(REST,), kerf=0.0, margin=0.0, **more)


def test_a_part_goes_into_an_arm_of_an_ell_and_not_across_its_corner() -> None:
    for size, bought in (((0.38, 0.09), 0), ((0.09, 0.28), 0), ((0.2, 0.2), 1)):
        layout = lay_out(job(blank("a", *size)))
        assert layout.bought == bought and faults(layout) == []
        if not bought:
            (lay,) = layout.sheets[0]
            assert REST.polygon.buffer(1e-6).contains(placed(layout.job.blanks[0], lay))
            assert layout.utilisation == pytest.approx(size[0] * size[1] / 0.06)


def test_two_parts_in_the_two_arms() -> None:
    layout = lay_out(job(blank("a", 0.38, 0.09), blank("b", 0.09, 0.19)))
    assert (layout.bought, len(layout.sheets)) == (0, 1) and faults(layout) == []


def test_what_is_left_of_a_sheet_is_kept_with_its_outline_where_that_is_worth_it() -> None:
    """2.44 x 1.22 less 1.6 x 0.9 in a corner: an ell of 2.977 - 1.44 m2. Its largest rectangle is the arm
    beside it, 0.84 x 1.22 = 1.02 m2: the ell is half as much again."""
    whole = SheetJob("ply-12", 2.44, 1.22, (blank("a", 1.6, 0.9),), kerf=0.0, margin=0.0)
    layout = lay_out(whole)
    piece = outline_left(layout, 0)
    assert piece is not None and piece.area == pytest.approx(2.44 * 1.22 - 1.44, rel=1e-3)
    rest = rest_of_sheet(layout, 0)
    assert rest is not None
    kept = SheetRest.model_validate({"id": "r", "stock": "ply-12", **rest})
    assert Polygon(kept.outline).area == pytest.approx(piece.area, rel=1e-3)
    # a saw that goes from edge to edge leaves a rectangle
    straight = SheetLayout(replace(whole, straight=True), layout.sheets, on=layout.on)
    plain = rest_of_sheet(straight, 0)
    assert plain is not None and "outline" not in plain
    # and so does one where the rectangle is nearly all there is
    tall = lay_out(SheetJob("ply-12", 2.44, 1.22, (blank("a", 1.6, 1.22),), kerf=0.0, margin=0.0))
    assert "outline" not in (rest_of_sheet(tall, 0) or {})


def test_it_goes_into_the_file_and_comes_back_and_into_a_layout() -> None:
    rest = {"id": "r", "stock": "ply-12", "width": 0.4, "height": 0.3, "outline": ELL}
    written = dump(plan(cutting={"sheets": [rest]}))
    (back,) = parse(written).cutting.sheets
    assert back.outline == tuple(map(tuple, ELL))
    derived = derive(from_data(build_data(
        box_lines(4.0, 2.0, 1.0), fittings=[{**PART, "width": 0.35, "height": 0.08}],
        cutting={"sheets": [rest], "kerf": 0.003, "margin": 0.006},
    )))  # fmt: skip
    (layout,) = derived.sheets
    assert layout.bought == 0 and layout.on == ("r",)


def test_a_traced_piece_is_as_it_was() -> None:
    """400 x 300 with a hole of 100: a pencil 3 mm outside of its edge, 5 mm gone all round: 2 mm more to
    every side, its hole 2 mm less."""
    drawn = box(0, 0, 0.4, 0.3).difference(box(0.1, 0.1, 0.2, 0.2))
    was = as_it_was(drawn, "outside of it", 0.003, 0.005)
    assert was.bounds == pytest.approx((-0.002, -0.002, 0.402, 0.302))
    assert was.area == pytest.approx(0.404 * 0.304 - 0.096 * 0.096)
    inside = as_it_was(drawn, "inside of it", 0.003, 0.0)
    assert inside.area == pytest.approx(0.406 * 0.306 - 0.094 * 0.094)
    assert as_it_was(drawn, "on its edge", 0.02, 0.0) is drawn
    with pytest.raises(ValueError, match="nothing in one piece"):
        as_it_was(box(0, 0, 0.1, 0.1), "outside of it", 0.06, 0.0)
    for pen, gone in ((0.2, 0.0), (-0.001, 0.0), (0.0, float("nan"))):
        with pytest.raises(ValueError, match="accepted"):
            as_it_was(drawn, "inside of it", pen, gone)


def test_from_a_leftover_that_is_no_rectangle_no_order_of_straight_cuts_is_told() -> None:
    """It is cut to a rectangle first, wherever that lies in it."""
    layout = lay_out(replace(job(blank("a", 0.3, 0.08)), straight=True))
    assert layout.on == ("r",) and faults(layout) == []
    assert straight_cuts(layout, 0) == ()
    square = replace(layout.job, rests=(RestSheet("r", 0.4, 0.3),))
    assert straight_cuts(lay_out(square), 0) != ()
