"""A piece cut out of a floor, 0.6 by 0.4 m, put back: areas, rim and glass worked by hand."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.cutout import Cutout, outlines
from stirrup.core.plan.changes import SetValue, apply
from tests.boats import derive, plan

CUT = {"kind": "cutout", "id": "cut", "name": "Cut-out", "mark": "U1", "x": 2.0, "y": 0.1, "z": 0.3,
       "length": 0.6, "width": 0.4, "corner": 0.06, "gap": 0.003, "backing": 0.08}  # fmt: skip
ROUND = (4 - math.pi) * 0.06**2  # that four corners lack


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[{**CUT, **choices}]))


def made(derived: Derived) -> Built:
    found = derived.fitting("cut")
    assert found is not None
    return found


def told(code: str, **choices: Any) -> Finding:
    return next(f for f in boat(**choices).findings if f.code == code and f.place == "cut")


def test_the_old_piece_needs_a_rim_and_no_sheet() -> None:
    """Strips of 80: two of 0.68 along, two of 0.32 across between them, half under the old edge."""
    panels = made(boat()).panels
    assert [p.label for p in panels] == ["U1-M1", "U1-M2", "U1-M3", "U1-M4"]
    assert [round(p.polygon.area, 6) for p in panels] == [0.0544, 0.0544, 0.0256, 0.0256]
    assert panels[0].centre[:2] == pytest.approx((2.0, 0.3)) and panels[2].centre[0] == pytest.approx(1.7)
    # under 12 mm of piece and 3 mm of bed, half of its own 12
    assert panels[0].centre[2] == pytest.approx(0.3 - 0.012 - 0.003 - 0.006)


def test_a_new_piece_is_a_gap_smaller_all_round() -> None:
    """0.594 by 0.394 with corners of 57 mm; in two, a gap of 3 mm between them and a strip under it."""
    piece = next(p for p in made(boat(piece="a new one")).panels if p.label == "U1-P")
    assert piece.polygon.area == pytest.approx(0.594 * 0.394 - (4 - math.pi) * 0.057**2, rel=1e-3)
    two = {p.label: p.polygon.area for p in made(boat(piece="a new one", pieces=2)).panels}
    assert two["U1-P1"] == pytest.approx(two["U1-P2"])
    assert two["U1-P1"] + two["U1-P2"] == pytest.approx(piece.polygon.area - 0.003 * 0.394, rel=1e-4)
    assert two["U1-M5"] == pytest.approx(0.08 * 0.32)


def test_bed_and_glass_by_the_length_of_its_joint() -> None:
    """Round the hole 2 x (0.6 + 0.4) less 8 x 60 mm of corner, and its arcs; two plies of 150 and 200 mm, a
    tenth more; bed 80 x 3 mm and the gap 3 x 12, of putty of 1250 kg/m3."""
    long = 2.0 - 8 * 0.06 + 2 * math.pi * 0.06
    parts = {b.label: b.quantity for b in made(boat()).bought}
    assert parts["U1-T"] == pytest.approx(long * (0.15 + 0.20) * 1.1, rel=2e-3)
    assert parts["U1-B"] == pytest.approx(long * (0.08 * 0.003 + 0.003 * 0.012) * 1250, rel=2e-3)


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        # half of the rim less the gap: 25 mm
        ("CUTOUT-RIM", {"backing": 0.056}, "fine"), ("CUTOUT-RIM", {"backing": 0.055}, "mend"),
        ("CUTOUT-EDGE", {"corner": 0.05}, "fine"), ("CUTOUT-EDGE", {"corner": 0.049}, "look"),
        ("CUTOUT-EDGE", {"gap": 0.006}, "fine"), ("CUTOUT-EDGE", {"gap": 0.0061}, "look"),
    ],
)  # fmt: skip
def test_what_is_told(code: str, choices: dict[str, Any], level: str) -> None:
    found = told(code, **choices)
    assert found.level == level
    for fix in found.fixes:
        after = apply(plan(fittings=[{**CUT, **choices}]), SetValue(path=fix.path or (), value=fix.value))
        assert next(f for f in derive(after).findings if f.code == code).level == "fine"


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(ValidationError, match=r"at most half of its smaller side, 0\.2 m"):
        Cutout.model_validate({**CUT, "corner": 0.21})
    with pytest.raises(ValidationError, match=r"none shorter than 0\.1 m"):
        Cutout.model_validate({**CUT, "length": 0.3, "corner": 0.0, "pieces": 4})


@given(
    st.floats(0.2, 3.0), st.floats(0.2, 2.0), st.floats(0, 0.1), st.floats(0.0005, 0.02), st.integers(1, 2)
)
@settings(max_examples=40, deadline=None)
def test_pieces_lie_in_the_hole_a_gap_apart(long: float, wide: float, corner: float, gap: float,
                                            count: int) -> None:  # fmt: skip
    c = Cutout.model_validate({**CUT, "length": long, "width": wide, "corner": corner, "gap": gap,
                               "pieces": count})  # fmt: skip
    parts = outlines(c)
    assert len(parts) == count and all(c.hole.buffer(1e-9).contains(p) for p in parts)
    assert all(p.distance(c.hole.exterior) >= gap - 1e-6 for p in parts)
    if count == 2:
        assert parts[0].distance(parts[1]) == pytest.approx(gap, abs=1e-9)
