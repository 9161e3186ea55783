"""Single facts that nothing else would notice: each worked by hand."""

import json
import math
from typing import Any

import numpy as np
import pytest

from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.arrange.palette import place
from stirrup.core.cutting.sheets import Blank, SheetJob, faults, lay_out
from stirrup.core.errors import CoreError
from stirrup.core.fit.body import pose
from stirrup.core.fittings.edges import relief_slots
from stirrup.core.hull.checks import hull_findings
from stirrup.core.hull.model import Hull, QuickStart
from stirrup.core.hull.quick import quick_lines
from stirrup.core.marking import marking
from stirrup.core.plan.entry import FieldKind, limits_text
from stirrup.core.plan.model import LIQUIDS, Person
from stirrup.core.units import SYSTEMS
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.lines_drawing import draw_lines
from tests.boats import build_data, derive, plan

MM = SYSTEMS["mm"]


def test_liquids_weigh_what_tables_say_at_fifteen_degrees() -> None:
    # kg/m3: petrol 720 to 775, diesel 820 to 845; fresh water 999, sea water 1025
    assert LIQUIDS == {
        "petrol": 745.0, "diesel": 840.0, "fresh water": 1000.0, "water": 1000.0, "salt water": 1025.0,
    }  # fmt: skip


def test_a_gauge_errs_by_a_twentieth_of_the_full_tank() -> None:
    # 0.5 x 0.4 x 0.25 m of water, full 50 kg: level known to ± 5 % of its height, ± 2.5 kg
    tank = Liquid("t", "tank", (0.5, 0.4, 0.25), (1.0, 0.0, 0.1), 0.5, 1000.0, 1)
    assert sum_load([], (tank,)).covariance[0, 0] ** 0.5 == pytest.approx(2.5)
    alone = sum_load([Entry("a", "a", "g", 10.0, 1.0, "weighed", (0.0, 0.0, 0.0))])
    assert alone.covariance[0, 0] == pytest.approx(1.0)


def turned_box(turn: float) -> Any:
    box = {"id": "b", "form": "battery", "stage": "added", "turn": turn, "size": [0.4, 0.2, 0.2],
           "mass": {"value": 20.0, "centre": [2.0, 0.1, 0.3]}}  # fmt: skip
    return next(m for m in marking(derive(plan(items=[box])), 0.2, 0.1) if m.id == "b")


def test_offset_marks_of_a_turned_thing_lie_ahead_of_and_behind_it() -> None:
    # turned 90° to port its fore end looks to port: marks 0.1 m beyond y = 0.3 and y = -0.1
    marks = {m.name: m for m in turned_box(90.0).marks}
    assert marks["fore corner, port"].at == pytest.approx((1.9, 0.3, 0.2))
    assert marks["fore corner, port"].offset == pytest.approx((1.9, 0.4, 0.2))
    assert marks["aft corner, starboard"].at == pytest.approx((2.1, -0.1, 0.2))
    assert marks["aft corner, starboard"].offset == pytest.approx((2.1, -0.2, 0.2))
    # at 30° 0.1 m ahead is 0.0866 m forward and 0.05 m to port
    slant = turned_box(30.0).marks[0]
    assert np.subtract(slant.offset, slant.at) == pytest.approx((-0.1 * math.cos(math.pi / 6), -0.05, 0.0))


def test_boxes_are_laid_by_where_their_outlines_begin() -> None:
    # outlines far from their own origin, as a deck's skins are
    ring = ((3.0, -0.4), (4.0, -0.4), (4.0, 0.4), (3.0, 0.4))
    job = SheetJob("ply-12", 2.44, 1.22, (Blank("a", "A", ring), Blank("b", "B", ring)))
    layout = lay_out(job)
    assert len(layout.sheets) == 1 and faults(layout) == []


def test_what_stands_higher_than_the_sheer_is_met_by_the_side_all_the_same() -> None:
    # a box hull 1 m deep and 2 m wide: 1.6 m high, its side 50 mm through the inside at 0.9975
    mast = {"id": "m", "size": [0.2, 0.2, 1.6], "stage": "added",
            "mass": {"value": 5.0, "centre": [2.0, 0.9475, 0.81]}}  # fmt: skip
    found = [f for f in derive(plan(items=[mast])).findings if f.code == "HULL"]
    assert [f.title for f in found] == ["Outside of the boat"]
    assert found[0].values["amount"].value == pytest.approx(0.05, abs=1e-3)


def test_further_mistakes_in_a_file_are_counted() -> None:
    data = build_data()
    data["hull"]["mass"]["value"] = -1
    with pytest.raises(CoreError) as one:
        from_data(data)
    assert "(and" not in one.value.message
    data["water"]["density"] = 5
    with pytest.raises(CoreError, match=r"\(and 1 more\)"):
        from_data(data)


def test_a_keel_that_is_a_pad_is_not_said_to_dip() -> None:
    def dips(half: float) -> bool:
        x = [0.0, 1.0, 2.0, 3.0, 4.0]
        z = [0.0, 0.012, 0.0, 0.0, 0.0]  # 12 mm up in its straight run
        keel = [[a, half if a < 4 else 0.0, b] for a, b in zip(x, z, strict=True)]
        lines = [
            {"name": "keel", "points": keel},
            {"name": "chine", "points": [[a, 0.9, 0.1] for a in x]},
            {"name": "sheer", "points": [[a, 1.0, 0.7] for a in x]},
        ]
        hull = Hull.model_validate_json(json.dumps(build_data(lines)["hull"]))
        surface = derive(from_data(build_data(lines))).surface
        return any(f.code == "KEEL-DIPS" for f in hull_findings(hull, surface))

    assert dips(0.0) and not dips(0.2)


@pytest.mark.parametrize(("radius", "cut"), [(5.9, True), (6.1, False)])
def test_a_curve_flatter_than_six_metres_needs_no_relief_cuts(radius: float, cut: bool) -> None:
    angles = np.linspace(0.0, 1.2 / radius, 200)
    path = np.column_stack([radius * np.sin(angles), radius * (1 - np.cos(angles))])
    assert bool(relief_slots(path, 0.04).slots) is cut


def test_a_first_deck_reaches_to_where_the_bow_is_under_its_skin() -> None:
    # stem from (4, 0) up to (5, 1), skin of no thickness, sheer 1 m: the deck's top is at 0.72 and
    # its underside, 3 mm lower, meets the stem at 4.717; aft edge at 0.62 of that, 2.92
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, 1, 0], [4, 1, 0]]},
        {"name": "sheer", "along": "straight", "points": [[0, 1, 1], [5, 1, 1]]},
    ]
    data = build_data(lines)
    data["hull"]["skin"] = {"bottom": 0.0, "side": 0.0}
    boat = derive(from_data(data))
    deck = place(boat.plan, boat.surface, boat.footing, "raised_deck").value
    assert (deck["aft"], deck["fore"], deck["height"]) == (2.92, 4.47, 0.72)


def test_limits_are_told_from_one_side_and_from_both() -> None:
    assert limits_text(FieldKind("length", "x", least=0.1, most=2.0), MM) == "100 mm to 2 000 mm"
    assert limits_text(FieldKind("number", "x", least=3.0), MM) == "3 or more"
    assert limits_text(FieldKind("number", "x", most=3.0), MM) == ""


def test_the_forefoot_of_each_family_rises_by_its_share_of_the_bow() -> None:
    shares = {"flat bottom, square bow": 0.42, "flat bottom, pointed": 0.10, "vee": 0.46,
              "jet, centre pad": 0.42, "round bilge": 0.40}  # fmt: skip
    for shape, share in shares.items():
        quick = QuickStart.model_validate({"shape": shape, "side_bow": 0.8})
        keel = quick_lines(quick)[0]
        assert keel.points[-1][2] == pytest.approx(share * 0.8, abs=2e-3), shape


def test_elbows_of_somebody_who_sits() -> None:
    # at the middle of the seat; the back 0.11 of stature abaft it, the elbow 0.10 ahead of that
    sitting = pose(Person(stature=1.8, posture="seated", at=(2.0, 0.0, 0.5)), 0.1)
    assert sitting.elbow == pytest.approx((2.0 - 0.11 * 1.8 + 0.10 * 1.8, 0.5 + 0.14 * 1.8))


def test_station_numbers_stand_over_the_ends_of_their_stations() -> None:
    boat = derive(plan())
    sheet = draw_lines(boat.plan.hull, boat.surface, "box", MM)
    # both stations are 1 m half-broad: the after one's number stands as far to the left of the body
    # plan's middle as the forward one's to the right, the breadth of the boat apart: 2 m at 1 : scale
    one, two = (w for w in sheet.words if w.text in ("1", "2") and w.height == 2.2)
    assert two.at[0] - one.at[0] == pytest.approx(2000 / sheet.scale, rel=1e-6)


def test_two_at_the_rail_sit_at_a_fifth_and_at_seven_tenths_of_her() -> None:
    case = derive(plan()).load_case("everyone to one rail")
    assert [p.at[0] for p in case.crew] == pytest.approx([0.2 * 4.0, 0.7 * 4.0])


def test_a_seat_says_between_which_heights_it_suits() -> None:
    # back of the knee 0.245 x 1.75 = 0.42875; 0.9 of it 0.3859, 1.05 of it 0.4502
    seat = {"id": "s", "form": "bench", "size": [0.5, 1.0, 0.3], "stage": "added",
            "mass": {"value": 10.0, "centre": [2.0, 0.0, 0.153]}}  # fmt: skip
    crew = [{"at": [2.0, 0.0, 0.303], "posture": "seated", "stature": 1.75}]
    boat = derive(plan(items=[seat], cases=[{"name": "out", "crew": crew}]))
    found = next(f for f in boat.findings if f.code == "SEAT-HEIGHT")
    assert found.values["low"].value == pytest.approx(0.9 * 0.245 * 1.75)
    assert found.values["high"].value == pytest.approx(1.05 * 0.245 * 1.75)


def test_a_hatch_to_one_side_lets_out_what_stands_under_it() -> None:
    deck = {"kind": "raised_deck", "id": "deck", "name": "Deck", "aft": 1.0, "fore": 3.0, "height": 0.5,
            "face_fore": True}  # fmt: skip
    hatch = {"kind": "hatch", "id": "h", "name": "H", "deck": "deck", "x": 2.0, "y": 0.5,
             "clear_length": 0.4, "clear_width": 0.4}  # fmt: skip
    box = {"id": "b", "form": "battery", "size": [0.3, 0.2, 0.2], "stage": "added",
           "mass": {"value": 20.0, "centre": [2.0, 0.5, 0.11]}}  # fmt: skip
    boat = derive(plan(fittings=[deck, hatch], items=[box]))
    assert not [f for f in boat.findings if f.code == "WAY-OUT" and f.level != "fine"]
    other = {**box, "mass": {"value": 20.0, "centre": [2.0, -0.5, 0.11]}}
    slid = derive(plan(fittings=[deck, hatch], items=[other]))
    way = next(f for f in slid.findings if f.code == "WAY-OUT")
    # from y = -0.5 to the hatch's middle, less what it has to spare
    assert way.values["slide"].value == pytest.approx(1.0, abs=0.12)
