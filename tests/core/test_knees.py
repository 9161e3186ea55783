"""Knees in a box 2 m wide with skins of 2.5 and 3 mm, and in a vee: worked by hand."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds.knees import Knees
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines
from tests.crossing import crossings, through_skin

KNEES = {"kind": "knees", "id": "knees", "name": "Knees", "mark": "X1", "aft": 1.0, "fore": 2.0,
         "every": 0.5, "toe": 0.5, "top": 0.5, "gap": 0.0}  # fmt: skip
HALF, LOW = 0.9975, 0.003


def boat(lines: Any = None, more: Any = (), **choices: Any) -> Derived:
    return derive(from_data(build_data(lines, fittings=[{**KNEES, **choices}, *more])))


def made(derived: Derived) -> Built:
    found = derived.fitting("knees")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "knees")


def test_three_on_either_side() -> None:
    """A right angle of 0.4975 by 0.497, its slanting edge from 20 mm over the toe to 20 mm off the side:
    the triangle of 0.4775 by 0.477, and strips of 20 mm along bottom and side."""
    panels = made(boat()).panels
    assert [p.label for p in panels] == ["X1-P1", "X1-S1", "X1-P2", "X1-S2", "X1-P3", "X1-S3"]
    wide, high = HALF - 0.5, 0.5 - LOW
    area = wide * high - (wide - 0.02) * (high - 0.02) / 2
    assert [p.polygon.area for p in panels] == pytest.approx([area] * 6, rel=1e-3)
    assert panels[0].polygon.bounds == pytest.approx((0.5, LOW, HALF, 0.5), abs=1e-4)
    assert [round(p.frame.origin[0], 3) for p in panels[::2]] == [1.006, 1.506, 2.006]
    assert len(made(boat(reaches="port")).panels) == 3
    assert all(p.centre[1] < 0 for p in made(boat(reaches="starboard")).panels)


def test_their_foot_follows_a_vee() -> None:
    panel = made(boat(wedge_lines(0.3))).panels[0]
    inner = min(v for u, v in panel.outline if abs(u - 0.5) < 1e-3)
    # 3 mm of skin square to a slope of 0.3
    assert inner == pytest.approx(0.15 + 0.003 * (1 + 0.09) ** 0.5, abs=3e-4)


def test_tabs_and_welds() -> None:
    """Along bottom and side of each 0.4975 + 0.497 m; tabs of 75 and 125 mm on both sides."""
    long = 6 * (0.4975 + 0.497)
    parts = {b.label: b.quantity for b in made(boat()).bought}
    assert parts["X1-T"] == pytest.approx(2 * long * 0.200 * 1.1, rel=5e-3)
    welded = {b.label: b.quantity for b in made(boat(skin="al-3.2", joined="welded")).bought}
    assert welded["X1-W"] == pytest.approx(long * 0.06, rel=5e-3)


def test_a_stringer_on_their_way() -> None:
    stringer = {"kind": "stringer", "id": "s", "name": "S", "mark": "J1", "aft": 0.5, "fore": 2.5, "y": 0.7,
                "top": 0.1, "taper": 0.0, "limber": 0.0}  # fmt: skip
    derived = boat(more=[stringer])
    assert crossings(derived) == {}
    # 36 mm and 3 mm on either side, over it to 0.103
    cut = made(boat()).panels[0].polygon.area - made(derived).panels[0].polygon.area
    assert cut == pytest.approx(0.042 * 0.1, rel=0.02)


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        ({}, "fine"), ({"skin": "al-3.2"}, "mend"), ({"skin": "al-3.2", "joined": "welded"}, "fine"),
        ({"joined": "welded"}, "mend"),
    ],
)  # fmt: skip
def test_how_they_are_joined(choices: dict[str, Any], level: str) -> None:
    start = from_data(build_data(fittings=[{**KNEES, **choices}]))
    found = told(derive(start), "KNEES-JOINT")
    assert found.level == level
    for fix in found.fixes:
        after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
        assert told(after, "KNEES-JOINT").level == "fine"


def test_where_her_bottom_is_too_high_there_is_none() -> None:
    """Feet from 0.15 at the toe: a head at 0.185 leaves less than two noses. The bow narrows elsewhere."""
    found = next(f for f in boat(wedge_lines(0.3), top=0.185).findings if f.code == "CANNOT-BUILD")
    assert "no knee has room" in found.text
    lines = wedge_lines(0.2)
    lines[1]["points"][1] = [4, 0.4, 0.5]
    lines[2]["points"][1] = [4, 0.45, 1.0]
    some = boat(lines, fore=3.5, toe=0.6)
    assert told(some, "KNEES-JOINT").level == "look"
    assert told(some, "KNEES-JOINT").values["missing"].value > 0


def test_they_are_set_out() -> None:
    plan = framing_plan(made(boat()))
    assert plan is not None and len(plan.members) == 6


def test_nonsense_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match="accepted: at least aft, 1 m"):
        Knees.model_validate({**KNEES, "fore": 0.5})
    with pytest.raises(ValidationError, match=r"at least 0\.125 m, 40 to a side"):
        Knees.model_validate({**KNEES, "fore": 6.0, "every": 0.1})


def test_a_first_set() -> None:
    start = from_data(build_data(wedge_lines(0.2)))
    here = derive(start)
    after = derive(apply(start, place(start, here.surface, here.footing, "knees")))
    built = after.fitting("knees-1")
    assert built is not None and len(built.panels) > 4


@settings(max_examples=20, deadline=None)
@given(
    rise=st.sampled_from([0.0, 0.15, 0.3]), aft=st.floats(0.1, 2.0), toe=st.floats(0.0, 0.9),
    top=st.floats(0.1, 0.95), gap=st.floats(0.0, 0.02), every=st.floats(0.2, 1.0),
)  # fmt: skip
def test_they_never_stand_in_the_skin(
    rise: float, aft: float, toe: float, top: float, gap: float, every: float
) -> None:
    lines = wedge_lines(rise) if rise else None
    derived = boat(lines, aft=aft, fore=aft + 0.8, every=every, toe=toe, top=top, gap=gap)
    built = derived.fitting("knees")
    if built is None or not built.panels:
        assert any(f.code == "CANNOT-BUILD" for f in derived.findings)
        return
    assert through_skin(derived, 0.002) == {}
    port = sum(p.mass_kg for p in built.panels if p.centre[1] > 0)
    assert port == pytest.approx(built.mass_kg - sum(b.mass_kg for b in built.bought) - port, rel=1e-4)


def test_ribs_are_strips_along_bottom_and_side() -> None:
    """60 mm deep from 0.5 out to the side and up to 0.5: 0.4975 x 0.06 along the bottom, 0.437 x 0.06
    up."""
    panel = made(boat(shape="ribs", deep=0.06)).panels[0]
    assert panel.polygon.area == pytest.approx((HALF - 0.5) * 0.06 + (0.5 - LOW - 0.06) * 0.06, rel=2e-3)
    assert panel.polygon.bounds == pytest.approx((0.5, LOW, HALF, 0.5), abs=1e-4)
    assert panel.name == "Knees, rib 1 port"


def test_lateral_supports_have_a_level_top_and_a_foot_on_the_bottom() -> None:
    """From the toe to the side all under their head; over a vee its slope is cut off."""
    panel = made(boat(shape="lateral supports")).panels[0]
    assert panel.polygon.area == pytest.approx((HALF - 0.5) * (0.5 - LOW), rel=1e-3)
    vee = made(boat(wedge_lines(0.3), shape="lateral supports")).panels[0]
    skin = 0.003 * (1 + 0.09) ** 0.5
    wide = HALF - 0.5
    under = wide * (0.3 * (HALF + 0.5) / 2 + skin)
    assert vee.polygon.area == pytest.approx(wide * 0.5 - under, rel=5e-3)


def test_pairs_stand_fifty_millimetres_to_either_side() -> None:
    panels = made(boat(pairs=True)).panels
    assert len(panels) == 12
    assert [round(p.frame.origin[0], 3) for p in panels[::2]] == [0.956, 1.056, 1.456, 1.556, 1.956, 2.056]


def test_coats_before_they_go_in() -> None:
    """Six of plywood 12 mm: both faces and the edge all round; metal is not coated so."""
    panel = made(boat()).panels[0].polygon
    found = told(boat(), "KNEES-COAT")
    assert found.values["area"].value == pytest.approx(
        6 * (2 * panel.area + panel.length * 0.012), rel=1e-3
    )
    welded = boat(skin="al-3.2", joined="welded")
    assert not [f for f in welded.findings if f.code == "KNEES-COAT"]


@pytest.mark.parametrize("entry", ["ribs", "lateral_supports"])
@pytest.mark.parametrize("lines", [None, wedge_lines(0.3)])
def test_first_ones_stand_in_the_boat(entry: str, lines: Any) -> None:
    bare = from_data(build_data(lines))
    here = derive(bare)
    derived = derive(apply(bare, place(bare, here.surface, here.footing, entry)))
    (built,) = [b for b in derived.built if b.panels]
    assert through_skin(derived) == {} and crossings(derived) == {}
    assert all(f.level != "mend" for f in derived.findings if f.place == built.fitting)
