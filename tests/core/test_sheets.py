import math
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import box

from stirrup.core.cutting.sheets import (
    Blank,
    Placement,
    SheetJob,
    SheetLayout,
    faults,
    lay_out,
    placed,
    turned,
)

pytestmark = pytest.mark.usefixtures("searched_long")


def rectangle(name: str, width: float, height: float, rotations=(0, 180)) -> Blank:
    return Blank(name, name, ((0, 0), (width, 0), (width, height), (0, height)), (), rotations)


def job(*blanks: Blank, kerf: float = 0.003, margin: float = 0.006) -> SheetJob:
    return SheetJob("ply-12", 2.44, 1.22, blanks, Decimal(84), kerf, margin)


def test_two_halves_that_just_fit_share_a_sheet() -> None:
    # 2 w + kerf = 2.44 - 2 margins: w = (2.428 - 0.003) / 2
    half = (2.44 - 0.012 - 0.003) / 2
    layout = lay_out(job(rectangle("a", half, 1.208), rectangle("b", half, 1.208)))
    assert len(layout.sheets) == 1
    assert faults(layout) == []
    assert layout.utilisation == pytest.approx(2 * half * 1.208 / (2.44 * 1.22))


def test_a_hair_more_needs_a_second_sheet() -> None:
    half = (2.44 - 0.012 - 0.003) / 2 + 0.0002
    layout = lay_out(job(rectangle("a", half, 1.208), rectangle("b", half, 1.208)))
    assert len(layout.sheets) == 2
    assert layout.cost == Decimal(168)


def test_a_blank_larger_than_the_sheet_is_listed() -> None:
    layout = lay_out(job(rectangle("long", 2.6, 0.3), rectangle("ok", 1.0, 0.3)))
    assert layout.unplaced == ("long",)
    assert len(layout.sheets) == 1


def test_grain_is_kept() -> None:
    # 1.3 x 0.5 may not be turned on end, though it would save room
    layout = lay_out(job(*(rectangle(f"p{k}", 0.5, 1.3) for k in range(2))))
    assert layout.unplaced == ("p0", "p1")
    free = lay_out(job(*(rectangle(f"p{k}", 0.5, 1.3, (0, 90)) for k in range(2))))
    assert free.unplaced == () and all(p.rotation == 90 for p in free.sheets[0])


def test_triangles_share_what_their_boxes_could_not() -> None:
    """Two right triangles 1.6 x 1.2 fit a 2.44 sheet head to tail; their boxes do not."""
    corner = ((0.0, 0.0), (1.6, 0.0), (0.0, 1.2))
    blanks = [Blank(f"t{k}", f"t{k}", corner, (), (0, 180)) for k in range(2)]
    layout = lay_out(job(*blanks))
    assert len(layout.sheets) == 1
    assert faults(layout) == []


def test_quick_and_full_layouts_are_both_valid() -> None:
    blanks = [rectangle(f"r{k}", 0.3 + 0.11 * k, 0.2 + 0.07 * k, (0, 90, 180, 270)) for k in range(8)]
    for quick in (True, False):
        assert faults(lay_out(job(*blanks), quick)) == []


def bent(k: int, size: float) -> Blank:
    """A bracket with a hole: no box, and others fit into its corner."""
    arm = 0.2 * size
    corner = ((0.0, 0.0), (size, 0.0), (size, arm), (arm, arm), (arm, size), (0.0, size))
    near, far = 0.05 * size, 0.15 * size
    hole = ((near, near), (far, near), (far, far), (near, far))
    return Blank(f"b{k}", f"b{k}", corner, (hole,), (0, 90, 180, 270))


def test_two_brackets_lie_in_one_another() -> None:
    # arms of 0.19 m: two in one another are 0.95 + 0.193 square, and one more beside them 2.10 m long;
    # as boxes three need 2.86 of the sheet's 2.44
    blanks = [bent(k, 0.95) for k in range(3)]
    assert len(lay_out(job(*blanks), True).sheets) == 2
    assert len(lay_out(job(*blanks)).sheets) == 1


@pytest.mark.slow
@given(
    st.lists(st.tuples(st.integers(50, 1200), st.integers(50, 1000)), min_size=1, max_size=9),
    st.integers(0, 8),
)
@settings(max_examples=25, deadline=None)
def test_every_layout_can_be_cut(sizes, kerf: int) -> None:
    blanks = [rectangle(f"r{k}", w / 1000, h / 1000, (0, 90, 180, 270)) for k, (w, h) in enumerate(sizes)]
    one = job(*blanks, kerf=kerf / 1000)
    for quick in (True, False):
        layout = lay_out(one, quick)
        assert faults(layout) == []
        area = sum(w * h for w, h in sizes) / 1e6
        assert len(layout.sheets) >= math.ceil(area / (2.44 * 1.22) - 1e-9)
        assert layout.utilisation == pytest.approx(area / (len(layout.sheets) * 2.44 * 1.22))


def test_the_check_sees_overlap_margin_turn_and_loss() -> None:
    a, b = rectangle("a", 1.0, 0.5), rectangle("b", 1.0, 0.5)
    one = job(a, b)

    def said(*spots: Placement) -> str:
        return "; ".join(faults(SheetLayout(one, (spots,))))

    assert said(Placement("a", 0, 0.006, 0.006), Placement("b", 0, 0.006, 0.51)) == ""
    assert "nearer than 3 mm" in said(Placement("a", 0, 0.006, 0.006), Placement("b", 0, 0.006, 0.508))
    assert "over the margin" in said(Placement("a", 0, 0.0, 0.006), Placement("b", 0, 0.006, 0.6))
    assert "turned by 90" in said(Placement("a", 90, 0.6, 0.1), Placement("b", 0, 1.2, 0.1))
    assert "lies once" in said(Placement("a", 0, 0.006, 0.006))


def test_placement_turns_counter_clockwise_about_zero_then_shifts() -> None:
    blank = rectangle("a", 2.0, 1.0)
    assert placed(blank, Placement("a", 90, 1.5, 0.25)).bounds == pytest.approx((0.5, 0.25, 1.5, 2.25))
    assert turned(blank, 0, flipped=True).bounds == pytest.approx((-2, 0, 0, 1))


def test_holes_reduce_the_area_used() -> None:
    blank = Blank(
        "a",
        "a",
        ((0, 0), (1, 0), (1, 1), (0, 1)),
        (((0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75)),),
    )
    layout = lay_out(job(blank))
    assert layout.utilisation == pytest.approx(0.75 / (2.44 * 1.22))
    assert placed(blank, layout.sheets[0][0]).area == pytest.approx(0.75)
    assert box(0, 0, 1, 1).area == 1
