"""Bulkheads in a box 2 m wide with skins of 2.5 and 3 mm, in a vee and in flared sides, worked by hand."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds.bulkhead import Bulkhead
from stirrup.core.plan.changes import apply
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, flared_lines, plan, skiff_plan, wedge_lines
from tests.crossing import crossings, through_skin

BULKHEAD = {"kind": "bulkhead", "id": "bulkhead", "name": "Bulkhead", "mark": "V1", "x": 2.0, "top": 0.8}
WAY = {"wide": 0.6, "high": 0.4}
# inside of the box less 5 mm of gap: 0.9925 to either side, from 0.008 up
HALF, LOW = 0.9925, 0.008


def boat(lines: Any = None, **choices: Any) -> Derived:
    return derive(from_data(build_data(lines, fittings=[{**BULKHEAD, **choices}])))


def made(derived: Derived) -> Built:
    found = derived.fitting("bulkhead")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "bulkhead")


def test_its_outline_in_a_box() -> None:
    """1.985 by 0.792, less a limber hole of 40 by 20 and a way through of 0.6 by 0.4 with corners of 60."""
    (panel,) = made(boat(**WAY)).panels
    assert panel.polygon.bounds == pytest.approx((-HALF, LOW, HALF, 0.8), abs=3e-4)
    way = 0.6 * 0.4 - (4 - math.pi) * 0.06**2
    assert panel.polygon.area == pytest.approx(1.985 * 0.792 - 0.04 * 0.02 - way, abs=5e-4)
    assert len(panel.holes) == 1 and panel.frame.origin[0] == pytest.approx(2.006)
    plain = made(boat(limber=0.0)).panels[0]
    assert plain.polygon.area == pytest.approx(1.985 * 0.792, abs=5e-4)


def test_tabs_bed_and_resin() -> None:
    """Along the hull 1.985 - 0.04 and twice 0.792: 3.529 m. Two plies of 150 and 200 mm on both sides, a
    tenth more; of tape 600 g/m2 at 48 % glass 0.65 kg of resin each m2; a bed of 5 by 12 mm."""
    parts = {b.label: b.quantity for b in made(boat()).bought}
    long = 1.985 - 0.04 + 2 * 0.792
    tape = 2 * long * (0.15 + 0.20) * 1.1
    assert parts["V1-T"] == pytest.approx(tape, rel=2e-3)
    assert parts["V1-R"] == pytest.approx(tape * 0.6 * (1 / 0.48 - 1), rel=2e-3)
    assert parts["V1-G"] == pytest.approx(long * 0.005 * 0.012 * 1250, rel=2e-3)
    assert parts.keys() == {"V1-T", "V1-R", "V1-G"}
    three = {b.label: b.quantity for b in made(boat(plies=3)).bought}
    assert three["V1-T"] == pytest.approx(tape * 0.60 / 0.35, rel=2e-3)


def test_what_it_weighs_and_where() -> None:
    """Plywood 12 mm of 1.571 m2, and its laminate about its own middle."""
    built = made(boat())
    (panel,) = built.panels
    assert panel.mass_kg == pytest.approx(
        (1.985 * 0.792 - 0.0008) * 0.012 * panel.sheet.stuff.density, rel=1e-3
    )
    assert panel.centre == pytest.approx((2.006, 0.0, 0.404), abs=2e-3)


def test_in_a_vee_it_follows_the_bottom() -> None:
    """Rising 0.3 in 1.0: its lower edge is as long as the slope, hypot(1, 0.3) a side."""
    built = made(boat(wedge_lines(0.3), limber=0.0, gap=0.003, top=0.6))
    (panel,) = built.panels
    # half breadth 0.9945, the bottom inside 0.003 / cos and a gap as well: 6.3 mm up at the keel
    up = 0.006 / math.cos(math.atan(0.3))
    area = 2 * (0.9945 * (0.6 - up) - 0.3 * 0.9945**2 / 2)
    assert panel.polygon.area == pytest.approx(area, rel=2e-3)


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        # over the limber hole's top at 0.028: 0.128 - 0.028 is 0.10
        (WAY, "fine"),
        ({**WAY, "sill": 0.109}, "mend"), ({**WAY, "sill": 0.111}, "fine"),
        # 0.9925 - 0.9 and 0.9025 to either side
        ({**WAY, "wide": 1.80}, "fine"), ({**WAY, "wide": 1.81}, "mend"),
        # corners
        ({**WAY, "corner": 0.049}, "look"), ({**WAY, "corner": 0.05}, "fine"),
    ],
)  # fmt: skip
def test_what_is_left_round_its_way_through(choices: dict[str, Any], level: str) -> None:
    assert told(boat(**choices), "BULKHEAD-RIM").level == level


def test_a_way_too_narrow_for_a_hand_is_refused() -> None:
    with pytest.raises(ValidationError, match=r"0 for none, or at least 0\.1 m"):
        Bulkhead.model_validate({**BULKHEAD, "wide": 0.05})
    Bulkhead.model_validate({**BULKHEAD, "wide": 0.12, "corner": 0.06})


def test_corners_larger_than_the_way_are_refused() -> None:
    with pytest.raises(ValidationError, match=r"at most half of the way through, 0\.2 m"):
        Bulkhead.model_validate({**BULKHEAD, **WAY, "corner": 0.21})


def test_two_halves_over_a_strap() -> None:
    """Butted with 1 mm between, each half of the whole; straps over and under the way through, 200 wide."""
    whole = made(boat(**WAY)).panels[0].polygon.area
    built = made(boat(**WAY, halves=True))
    halves = [p for p in built.panels if p.label in ("V1-P", "V1-S")]
    straps = [p for p in built.panels if p.label.startswith("V1-N")]
    assert sum(p.polygon.area for p in halves) == pytest.approx(
        whole - 0.001 * (0.792 - 0.4 - 0.02), abs=2e-5
    )
    assert halves[0].polygon.area == pytest.approx(halves[1].polygon.area, rel=1e-6)
    # 0.272 over it and 0.100 under it, less 5 mm at either end
    highs = sorted(np.ptp(np.array(p.outline)[:, 1]) for p in straps)
    assert highs == pytest.approx([0.090, 0.262], abs=1e-3)
    assert crossings(boat(**WAY, halves=True)) == {}


def test_it_comes_in_where_the_sides_flare_and_not_where_they_fall_in() -> None:
    assert told(boat(flared_lines(), top=0.4), "BULKHEAD-IN").level == "fine"
    home = [
        {"name": n, "along": "straight", "points": [[0, y, z], [4, y, z]]}
        for n, y, z in (("keel", 0.0, 0.0), ("chine", 1.0, 0.0), ("knuckle", 1.0, 0.5), ("sheer", 0.8, 1.0))
    ]
    found = told(boat(home, top=0.5), "BULKHEAD-IN")
    assert found.level == "mend"
    # inside at the sheer 0.8 to a side, less the skin across its slope
    assert found.values["least"].value == pytest.approx(1.6, abs=0.02)
    (fix,) = found.fixes
    assert fix.value is True
    assert told(boat(home, top=0.5, halves=True), "BULKHEAD-IN").level == "fine"


def test_notched_over_a_stringer() -> None:
    """A stringer of 50 by 80 mm on the bottom, 0.25 to port: 56 mm wide, 83 high over the skin is gone."""
    stringer = {
        "id": "s",
        "kind": "stringer",
        "box": {"size": [3.0, 0.05, 0.08], "floor_centre": [2.0, 0.25, 0.003]},
    }
    fittings = [{**BULKHEAD, "limber": 0.0}]
    derived = derive(plan(fittings=fittings, existing=[stringer]))
    (panel,) = made(derived).panels
    gone = 0.056 * (0.083 + 0.003 - LOW)
    assert panel.polygon.area == pytest.approx(1.985 * 0.792 - gone, abs=5e-4)
    assert any(f.title.startswith("Notched over") for f in derived.findings if f.place == "bulkhead")


def test_what_its_sheet_takes() -> None:
    """Plywood is tabbed, aluminium welded: 3.529 m at 60 g of wire."""
    assert told(boat(), "BULKHEAD-JOINT").level == "fine"
    assert told(boat(joined="welded"), "BULKHEAD-JOINT").level == "mend"
    assert told(boat(skin="al-3.2"), "BULKHEAD-JOINT").level == "mend"
    welded = boat(skin="al-3.2", joined="welded", gap=0.0)
    assert told(welded, "BULKHEAD-JOINT").level == "fine"
    (wire,) = made(welded).bought
    assert wire.quantity == pytest.approx((1.995 - 0.04 + 2 * 0.797) * 0.06, rel=3e-3)
    assert "qualified welder" in told(welded, "BULKHEAD-WORK").text
    assert "P3" in told(boat(), "BULKHEAD-WORK").text
    assert told(boat(gap=0.0), "BULKHEAD-JOINT").level == "look"


def test_it_is_set_out_by_both_of_its_faces() -> None:
    found = framing_plan(made(boat()))
    assert found is not None
    (member,) = found.members
    assert [line.at for line in member.along] == pytest.approx([2.0, 2.012])


def test_outside_of_her_it_is_refused_in_words() -> None:
    for choices, words in (({"x": 9.0}, "no inside"), ({"top": 0.01}, "nothing of it")):
        found = next(f for f in boat(**choices).findings if f.code == "CANNOT-BUILD")
        assert words in found.text


@given(
    st.floats(0.3, 4.2),
    st.floats(0.1, 0.55),
    st.floats(0, 0.02),
    st.one_of(st.just(0.0), st.floats(0.1, 1.0)),
)
@settings(max_examples=20, deadline=None)
def test_it_never_stands_in_the_skin(x: float, top: float, gap: float, wide: float) -> None:
    choices = {**BULKHEAD, "x": x, "top": top, "gap": gap, "wide": wide, "high": 0.2, "corner": 0.0}
    derived = derive(skiff_plan(fittings=[choices]))
    if derived.fitting("bulkhead") is None or not made(derived).panels:
        return
    assert through_skin(derived) == {} and crossings(derived) == {}
    # as much to port as to starboard
    assert abs(sum(p.mass_kg * p.centre[1] for p in made(derived).panels)) < 1e-3


def test_a_first_one_and_the_next_an_even_bay_on() -> None:
    before = plan()
    here = derive(before)
    change = place(before, here.surface, here.footing, "bulkhead")
    # 0.55 of 4 m; three quarters of her side over the inside of the bottom
    assert change.value["x"] == pytest.approx(2.2)
    assert change.value["top"] == pytest.approx(0.003 + 0.75 * 0.997, abs=2e-3)
    assert derive(apply(before, change)).fitting(change.value["id"]) is not None


def test_cable_holes_on_either_side() -> None:
    """Two on each side, 40 mm across, the lower one 0.2 m over the edge at 8 mm, the next 65 higher."""
    plain, holed = (made(boat(limber=0.0, **c)).panels[0] for c in ({}, {"cables": 2, "cable_out": 0.35}))
    # 32 corners on the circle
    hole = 32 / 2 * 0.02**2 * math.sin(2 * math.pi / 32)
    assert plain.polygon.area - holed.polygon.area == pytest.approx(4 * hole, rel=1e-3)
    middles = sorted((round(sum(u for u, _ in r) / len(r), 3), round(sum(v for _, v in r) / len(r), 3))
                     for r in holed.holes)  # fmt: skip
    assert middles == [(-0.35, 0.208), (-0.35, 0.273), (0.35, 0.208), (0.35, 0.273)]
    parts = {b.label: b.quantity for b in made(boat(cables=2)).bought}
    assert parts["V1-O"] == 4 and "V1-O" not in {b.label for b in made(boat()).bought}


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        # 45 mm from the middle of a hole to the lower edge leave 25 of sheet
        ({"cable_up": 0.0451}, "fine"), ({"cable_up": 0.0449}, "mend"),
        # to the side at 0.9925
        ({"cable_out": HALF - 0.0451}, "fine"), ({"cable_out": HALF - 0.0449}, "mend"),
        # beside a way through of 0.6: from 0.3
        ({**WAY, "cable_out": 0.3451}, "fine"), ({**WAY, "cable_out": 0.3449}, "mend"),
        # in it, and over the top at 0.8
        ({**WAY, "cable_out": 0.1}, "mend"), ({"cable_up": 0.9}, "mend"),
        # the second one counts as well: 0.792 - 0.065 - 0.045
        ({"cables": 2, "cable_up": 0.6819}, "fine"), ({"cables": 2, "cable_up": 0.6821}, "mend"),
    ],
)  # fmt: skip
def test_what_is_left_beside_a_cable_hole(choices: dict[str, Any], level: str) -> None:
    found = told(boat(**{"cables": 1, "limber": 0.0, **choices}), "BULKHEAD-HOLES")
    assert found.level == level


def test_without_cable_holes_nothing_is_said_of_them() -> None:
    assert not [f for f in boat().findings if f.code == "BULKHEAD-HOLES"]


def lips(y: float, low: float, high: float) -> list[dict[str, Any]]:
    """A lip along either side, from y outward, over all of her length."""
    out = []
    for name, hand in (("port", 1), ("starboard", -1)):
        ring = [
            [0.0, hand * y, low],
            [4.0, hand * y, low],
            [4.0, hand * 1.0, high],
            [0.0, hand * 1.0, high],
        ]
        out.append({"id": f"lip-{name}", "name": f"lip, {name}", "kind": "lip", "outline": ring})
    return out


@pytest.mark.parametrize(
    ("reach", "top", "title"),
    [
        # 1.985 wide: lips that leave 2 x 0.995 let it pass, 2 x 0.97 do not; low and flat it leans past,
        # as high as it is there it does not
        (0.995, 0.2, "It comes in between the sides"),
        (0.97, 0.2, "It comes in leaning"),
        (0.97, 0.7, "It does not come in past the sides"),
    ],
)  # fmt: skip
def test_past_lips_it_leans_where_it_is_low(reach: float, top: float, title: str) -> None:
    fittings = [{**BULKHEAD, "top": top}]
    found = told(derive(plan(fittings=fittings, existing=lips(reach, 0.74, 0.78))), "BULKHEAD-IN")
    assert found.title == title
    assert found.level == ("mend" if "not" in title else "fine")
    if title != "It comes in between the sides":
        assert found.values["least"].value == pytest.approx(2 * reach, abs=1e-3)
    halves = derive(plan(fittings=[{**fittings[0], "halves": True}], existing=lips(reach, 0.74, 0.78)))
    assert told(halves, "BULKHEAD-IN").level == "fine"


def test_under_a_deck_that_stays_it_comes_in_at_its_edge() -> None:
    """A foredeck from 2.5 m on over a bulkhead at 3.0: a box is as wide there, so it slides; in a hull that
    narrows forward what fits at 3.0 passes further aft too; one that narrows aft (the same turned round)
    holds it up."""
    deck = {"id": "cap", "name": "foredeck", "kind": "deck",
            "box": {"size": [1.5, 1.9, 0.02], "floor_centre": [3.25, 0, 0.7]}}  # fmt: skip
    fittings = [{**BULKHEAD, "x": 3.0, "top": 0.5}]
    assert told(derive(plan(fittings=fittings, existing=[deck])), "BULKHEAD-IN").level == "fine"

    def tapered(aft: float, fore: float) -> Finding:
        lines = [{"name": n, "along": "straight", "points": [[0, aft, z], [4, fore, z]]}
                 for n, z in (("chine", 0.0), ("sheer", 0.8))]  # fmt: skip
        lines = [{"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]}, *lines]
        boat_ = from_data(build_data(lines, fittings=fittings, existing=[deck]))
        return told(derive(boat_), "BULKHEAD-IN")

    assert tapered(1.0, 0.7).level == "fine"
    stuck = tapered(0.7, 1.0)
    assert stuck.level == "mend" and "slide in under the deck" in stuck.title
    # at 3.012 the half breadth is 0.926, at the deck's edge 0.887
    assert stuck.values["by"].value == pytest.approx(3.006 - 2.488, abs=2e-3)


def test_open_at_the_top_it_is_a_ring_and_without_a_sill_two_wings() -> None:
    """0.6 of 1.985 taken out from 0.12 over its foot at 0.008 up to 0.8; without a sill all the way."""
    ring = made(boat(**WAY, open_top=True, corner=0.05))
    (panel,) = ring.panels
    corners = (4 - math.pi) / 2 * 0.05**2
    gone = 0.6 * (0.8 - 0.128) - corners
    assert panel.polygon.area == pytest.approx(1.985 * 0.792 - 0.0008 - gone, abs=6e-4)
    # over the limber hole's 20 mm 0.10 are left under it
    rim = told(boat(**WAY, open_top=True), "BULKHEAD-RIM")
    assert rim.level == "fine" and rim.values["rim"].value == pytest.approx(0.10, abs=1e-3)
    derived = boat(**WAY, open_top=True, sill=0.0)
    port, starboard = made(derived).panels
    assert (port.label, starboard.label) == ("V1-P", "V1-S")
    assert port.polygon.area == pytest.approx((HALF - 0.3) * 0.792, abs=5e-4)
    assert port.centre[1] == pytest.approx((HALF + 0.3) / 2, abs=2e-3)
    assert starboard.centre[1] == pytest.approx(-port.centre[1])
    assert told(derived, "BULKHEAD-RIM").title.startswith("Two wings")
    # the bed is along both: 0.6925 and 0.792 each
    bed = {b.label: b.quantity for b in made(derived).bought}["V1-G"]
    assert bed == pytest.approx(2 * (HALF - 0.3 + 0.792) * 0.005 * 0.012 * 1250, rel=3e-3)
    assert told(boat(**WAY, open_top=True, sill=0.1), "BULKHEAD-RIM").level == "mend"


def test_wings_welded_have_a_seam_each() -> None:
    derived = boat(**WAY, open_top=True, sill=0.0, skin="al-3.2", joined="welded", gap=0.0)
    seams = made(derived).seams
    assert [s.words for s in seams] == ["along port wing", "along starboard wing"]
    assert seams[0].long == pytest.approx(0.9975 - 0.3 + 0.797, rel=2e-3)


@pytest.mark.parametrize(
    ("choices", "level", "left"),
    [
        # round, 120 across, 550 out and 250 up: to the side 0.9925 - 0.55 - 0.06
        ({}, "fine", 0.19),
        # to the hole of the cables 300 further in, less both radii
        ({"cables": 1, "cable_out": 0.44, "cable_up": 0.25}, "fine", 0.03),
        ({"cables": 1, "cable_out": 0.45, "cable_up": 0.25}, "mend", 0.02),
        ({"hand_out": 0.92}, "mend", 0.0125),
    ],
)  # fmt: skip
def test_hand_holes(choices: dict[str, Any], level: str, left: float) -> None:
    found = told(boat(hand=0.12, limber=0.0, **choices), "BULKHEAD-HOLES")
    assert found.level == level and found.values["left"].value == pytest.approx(left, abs=1e-3)


def test_a_hand_hole_too_small_for_a_hand_and_an_open_top_without_a_way_are_refused() -> None:
    with pytest.raises(ValidationError, match=r"hand: read 0\.05 m"):
        Bulkhead.model_validate({**BULKHEAD, "hand": 0.05})
    with pytest.raises(ValidationError, match="without a way through"):
        Bulkhead.model_validate({**BULKHEAD, "open_top": True})


@pytest.mark.parametrize("name", ["bulkhead-1", "bulkhead-2", "bulkhead-3"])
def test_in_a_hull_that_flares_all_come_in_straight_down(name: str) -> None:
    """Old Copper's sides lean out all the way up: nothing over a bulkhead is as narrow as it is."""
    found = next(f for f in derive(demo_plan("old-copper.stirrup.json")).findings
                 if f.code == "BULKHEAD-IN" and f.place == name)  # fmt: skip
    assert found.title == "It comes in between the sides"
    assert found.values["least"].value >= found.values["wide"].value > 1.0
