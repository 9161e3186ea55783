"""What an upright plane cuts: rectangles by hand, a slanting panel by its angle, a hatch's edge."""

import math
from dataclasses import replace

import pytest
from shapely.geometry import Polygon

from stirrup.core import cut_through as cut_through_module
from stirrup.core.contract.gives import Built
from stirrup.core.contract.shown import DETAIL_WIDE_M, Detail
from stirrup.core.cut_through import Cut, cut_through
from stirrup.core.parts.model import Frame, Member, Panel
from stirrup.demo.seed import demo_plan
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan
from tests.core.test_hatch import DECK, HATCH, built_with, hatch_of

BOAT = derive(plan())  # a box 4 m by 2 m by 1 m, its bottom 3 mm thick, its sides 2.5 mm
PLY, ANGLE = starting().sheet("ply-12"), starting().section("angle-40x40x3")


def bounds(cut: Cut) -> tuple[float, ...]:
    return Polygon(cut.ring).bounds


def seen(axis, at, middle, *built: Built, high: float = 0.08) -> dict[str, Cut]:
    return {c.label: c for c in cut_through(BOAT.surface, built, Detail("d", axis, at, middle, high))}


def panel(frame: Frame, *holes) -> Panel:
    ring = ((-0.3, -0.03), (0.3, -0.03), (0.3, 0.03), (-0.3, 0.03))
    return Panel("t/p", "P", "panel", "t", PLY, ring, holes, frame)


def test_the_hulls_skin_is_as_thick_as_it_is() -> None:
    hull = seen("x", 2.0, (1.0, 0.5))["hull"]
    # the port side between 0.9975 and 1, all the way up the drawing
    assert bounds(hull) == pytest.approx((0.9975, 0.46, 1.0, 0.54), abs=1e-6)
    bottom = bounds(seen("y", 0.5, (2.0, 0.0))["hull"])
    half = DETAIL_WIDE_M / 2
    assert bottom == pytest.approx((2 - half, 0.0, 2 + half, 0.003), abs=1e-6)


def test_a_level_panel_is_a_bar_with_its_thickness() -> None:
    lies = panel(Frame((2.0, 0.0, 0.4)))
    across = seen("x", 2.1, (0.0, 0.4), Built("t", (lies,)))["P"]
    # 60 mm across the boat, 12 mm about 0.4
    assert bounds(across) == pytest.approx((-0.03, 0.394, 0.03, 0.406))
    # past its end there is nothing
    assert "P" not in seen("x", 2.31, (0.0, 0.4), Built("t", (lies,)))


def test_a_hole_parts_it() -> None:
    hole = ((-0.3, -0.01), (0.3, -0.01), (0.3, 0.01), (-0.3, 0.01))
    lies = panel(Frame((2.0, 0.0, 0.4)), hole[::-1])
    detail = Detail("d", "x", 2.1, (0.0, 0.4), 0.08)
    rings = [bounds(c) for c in cut_through(BOAT.surface, [Built("t", (lies,))], detail) if c.label == "P"]
    assert sorted(r[0] for r in rings) == pytest.approx([-0.03, 0.01])


def test_a_panel_that_stands_aslant_is_cut_thicker() -> None:
    turn = math.radians(30)
    upright = panel(Frame((2.0, 0.0, 0.4), (math.cos(turn), math.sin(turn), 0.0), (0.0, 0.0, 1.0)))
    x0, z0, x1, z1 = bounds(seen("x", 2.0, (0.0, 0.4), Built("t", (upright,)))["P"])
    # its face runs 30 degrees off the boat's length: 12 mm are 12 / cos 30 across
    assert x1 - x0 == pytest.approx(0.012 / math.cos(turn)) and z1 - z0 == pytest.approx(0.06)


def test_a_panel_in_the_plane_itself_is_not_cut() -> None:
    across = panel(Frame((2.0, 0.0, 0.4), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)))
    assert "P" not in seen("x", 2.0, (0.0, 0.4), Built("t", (across,)))


def test_a_member_shows_leg_and_flange() -> None:
    def body(y0, y1, z0, z1):
        return tuple((x, y, z) for x in (1.5, 2.5) for y in (y0, y1) for z in (z0, z1))

    angle = Member("t/m", "M", "member", "t", ANGLE, 1.0, ((1.5, 0.0, 0.4), (2.5, 0.0, 0.4)),
                   bodies=(body(-0.02, 0.02, 0.397, 0.4), body(0.017, 0.02, 0.36, 0.397)))  # fmt: skip
    cuts = cut_through(BOAT.surface, [Built("t", (), (angle,))], Detail("d", "x", 2.0, (0.0, 0.4), 0.09))
    leg, flange = sorted((bounds(c) for c in cuts if c.label == "M"), key=lambda b: b[1])
    assert leg == pytest.approx((0.017, 0.36, 0.02, 0.397))
    assert flange == pytest.approx((-0.02, 0.397, 0.02, 0.4))


def test_a_hatchs_edge_shows_skin_lid_and_the_flange_that_carries_it() -> None:
    derived = built_with({"members": "angle-40x40x3"})
    at_latch = hatch_of(derived).details[0]
    cuts = cut_through(derived.surface, derived.built, at_latch)
    skin = next(c for c in cuts if c.label.startswith("D1-S"))
    lid = next(c for c in cuts if c.label == "H1-L")
    # hinge fore, so the latch is aft: cut-out edge at 1.5 - 0.2 - 0.025, the lid 1.5 mm further in
    assert bounds(skin)[2] == pytest.approx(1.275) and bounds(lid)[0] == pytest.approx(1.2765)
    flange = max((c for c in cuts if "H1-aft" in c.label), key=lambda c: bounds(c)[2] - bounds(c)[0])
    # 25 of its 40 mm are landing
    assert bounds(flange)[0::2] == pytest.approx((1.26, 1.3))
    # and the dimensions are those: gap, landing, the latch's middle 65.5 from the lid's edge
    told = {m.words: abs(m.a[0] - m.b[0]) for m in at_latch.measures}
    assert told == pytest.approx({"gap": 0.0015, "landing": 0.025, "latch from the lid's edge": 0.0655})


def test_a_detail_turns_with_the_boat() -> None:
    fittings = [{**DECK}, {**HATCH, "hinge": "port"}]
    other = [{**DECK}, {**HATCH, "hinge": "starboard", "y": -HATCH["y"]}]
    a, b = (hatch_of(derive(plan(fittings=f))).details[0] for f in (fittings, other))
    assert (a.axis, a.at, a.middle[0]) == (b.axis, b.at, pytest.approx(-b.middle[0]))
    for one, two in zip(a.measures, b.measures, strict=True):
        assert one.a[1] == pytest.approx(-two.a[1]) and one.b[1] == pytest.approx(-two.b[1])


@pytest.mark.slow
@pytest.mark.parametrize("boat", ["sedge-hopper", "old-copper"])
def test_what_is_passed_over_would_not_be_on_the_drawing(boat: str, monkeypatch) -> None:
    derived = derive(demo_plan(f"{boat}.stirrup.json"))
    shown = [d for b in derived.built for d in b.details]
    # also beside and over what there is to see, where parts begin and end
    shown += [replace(d, at=d.at + by, middle=(d.middle[0] - by, d.middle[1] + by)) for d in shown
              for by in (0.03, 0.11)]  # fmt: skip
    assert len(shown) >= 6
    looked = [cut_through(derived.surface, derived.built, d) for d in shown]
    monkeypatch.setattr(cut_through_module, "_near", lambda *_: True)
    assert [cut_through(derived.surface, derived.built, d) for d in shown] == looked
    assert any(len(cuts) > 3 for cuts in looked)
