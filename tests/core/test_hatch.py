import math
from importlib import import_module

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.fittings.latching import latch_offset_m
from stirrup.core.kinds.hatch import Hatch
from stirrup.core.kinds.registry import BY_KEY
from stirrup.core.parts.entries import Latch
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import box_lines, build_data, derive, wedge_lines

DECK = {
    "kind": "raised_deck",
    "id": "deck",
    "name": "Deck",
    "mark": "D1",
    "aft": 1.0,
    "fore": 2.1,
    "height": 0.5,
}
HATCH = {"kind": "hatch", "id": "hatch", "name": "Hatch", "mark": "H1", "deck": "deck", "x": 1.5, "y": 0.1,
         "clear_length": 0.4, "clear_width": 0.3, "landing": 0.025}  # fmt: skip


def built_with(deck=None, **choices) -> Derived:
    fittings = [{**DECK, **(deck or {})}, {**HATCH, **choices}]
    return derive(from_data(build_data(box_lines(), fittings=fittings)))


def hatch_of(derived: Derived) -> Built:
    return derived.built[1]


def finding(derived: Derived, code: str):
    return next(f for f in derived.findings if f.place == "hatch" and f.code == code)


def test_lid_and_cut_out_follow_clear_opening_landing_and_gap() -> None:
    derived = built_with()
    lid = hatch_of(derived).region
    # metal: gap 1.5 mm; lid = 400 + 2 (25 - 1.5) = 447 by 347; cut-out = 450 by 350
    assert lid.bounds == pytest.approx((1.5 - 0.2235, 0.1 - 0.1735, 1.5 + 0.2235, 0.1 + 0.1735))
    hole = next(h for p in derived.built[0].panels for h in p.holes)
    xs, ys = [p[0] for p in hole], [p[1] for p in hole]
    assert max(xs) - min(xs) == pytest.approx(0.450)
    assert max(ys) - min(ys) == pytest.approx(0.350)


def test_wood_and_a_wrapped_cover_widen_the_gap() -> None:
    lid = hatch_of(built_with({"skin": "ply-12", "cover": "carpet"})).region
    # 2.5 mm and 6 mm of carpet on each edge
    assert lid.bounds[2] - lid.bounds[0] == pytest.approx(0.4 + 2 * (0.025 - 0.0085))


def test_latch_stands_by_the_formula_from_the_edge() -> None:
    latch = starting().find("latch-50")
    assert isinstance(latch, Latch)
    # landing covered by the lid 23.5 + half of 62 + 11 = 65.5 mm
    assert latch_offset_m(0.025, 0.0015, latch) == pytest.approx(0.0655)
    panel = hatch_of(built_with()).panels[0]
    xs = [x for x, _ in panel.holes[0]]
    # hinge fore, so the latch lies aft
    assert (max(xs) + min(xs)) / 2 == pytest.approx(1.5 - 0.2235 + 0.0655)
    assert max(xs) - min(xs) == pytest.approx(0.050, rel=0.01)


@pytest.mark.parametrize(
    ("hinge", "dx", "dy"), [("fore", -1, 0), ("aft", 1, 0), ("port", 0, -1), ("starboard", 0, 1)]
)
def test_latch_lies_opposite_the_hinge(hinge: str, dx: int, dy: int) -> None:
    hole = hatch_of(built_with(hinge=hinge)).panels[0].holes[0]
    x = sum(p[0] for p in hole) / len(hole) - 1.5
    y = sum(p[1] for p in hole) / len(hole) - 0.1
    assert (round(x, 6) * dx > 0 or dx == 0) and (round(y, 6) * dy > 0 or dy == 0)


def test_thin_lid_is_in_the_latchs_grip() -> None:
    assert finding(built_with(), "LATCH-GRIP").level == "fine"  # 2.5 mm in 2 to 6


def test_runner_takes_the_latch_out_of_its_grip_and_the_cut_is_named() -> None:
    found = finding(built_with(runner=0.012), "LATCH-GRIP")
    assert found.level == "mend"
    assert found.values["grip"].value == pytest.approx(0.0145)
    # underside 62 mm / 2 + 6 mm
    assert found.values["cut"].value == pytest.approx(0.037)
    assert "Cut the runner back" in found.remedy
    assert finding(built_with(runner=0.012, runner_cut_back=True), "LATCH-GRIP").level == "fine"


def test_a_lid_too_thin_for_the_body_gets_a_pad() -> None:
    found = finding(built_with(latch="latch-57"), "LATCH-GRIP")
    assert found.values["pad"].value == pytest.approx(0.0035)  # 6 mm less 2.5
    assert "pad" in found.remedy


def test_cover_counts_at_40_percent_under_the_flange() -> None:
    found = finding(built_with({"cover": "carpet"}), "LATCH-GRIP")
    assert found.values["grip"].value == pytest.approx(0.0025 + 0.4 * 0.006)


def test_a_cut_out_over_the_edge_stops() -> None:
    assert finding(built_with(x=1.1), "HATCH-EDGE").level == "stop"


def test_a_cut_out_near_the_edge_wants_mending() -> None:
    found = finding(built_with(x=1.255), "HATCH-EDGE")
    assert found.level == "mend"
    assert found.values["left"].value == pytest.approx(0.03)


def test_two_hatches_need_room_for_two_members() -> None:
    second = {**HATCH, "id": "other", "mark": "H2", "y": -0.3}
    data = build_data(box_lines(), fittings=[DECK, HATCH, second])
    found = [f for f in derive(from_data(data)).findings if f.code == "HATCH-NEAR"]
    # 0.4 m between middles less 0.35 m of cut-out: 50 mm, and 80 are needed
    assert found and found[0].values["space"].value == pytest.approx(0.05)


def test_frame_members_stand_at_the_cut_out_and_others_are_interrupted() -> None:
    deck = built_with({"spacing": 0.3}).built[0]
    keys = {m.key: m for m in deck.members}
    # of a 40 mm flange 25 reach into the opening: its middle stands 5 mm inside of the edge
    assert keys["deck/cross/H1-aft"].path[0][0] == pytest.approx(1.5 - 0.225 + 0.005)
    assert keys["deck/cross/H1-fore"].path[0][0] == pytest.approx(1.5 + 0.225 - 0.005)
    tracks = [m for m in deck.members if "/track/" in m.key]
    # the frame members' middles stand 0.44 apart, their legs 17 to 20 mm aft of them: from 17 mm aft
    # of the one to 20 mm aft of the other, less bracket and play of 4.5 mm at both ends
    assert [m.length for m in tracks] == pytest.approx([0.44 + 0.017 - 0.020 - 2 * 0.0045] * 2)
    # aft the flange starts 1.5 mm before the other's, 37 + 1.5 - 4.5 mm from the leg; fore it ends
    # with its own leg, 3 mm short of the other's flange
    assert [m.copes for m in tracks] == [(pytest.approx(0.034), 0.0)] * 2
    parts = [m for m in deck.members if m.key.startswith("deck/cross/X") and "." in m.key.rsplit("/", 1)[1]]
    assert len(parts) == 2
    whole = 1.995 - 2 * 0.0075
    assert sum(m.length for m in parts) == pytest.approx(whole - (0.35 - 2 * 0.005) - 2 * 0.0245, abs=1e-3)


def test_hardware_is_counted() -> None:
    bought = {b.key: b for b in hatch_of(built_with()).bought}
    assert bought["hatch/hinge"].quantity == pytest.approx(0.347 - 0.02)
    # 0.327 m at 50 mm: 8 screws on each leaf, and 4 in the latch
    assert bought["hatch/fasteners"].quantity == 2 * 8 + 4
    assert bought["hatch/latch"].item == "latch-50"


def test_a_thicker_lid_asks_for_packing_or_a_lower_landing() -> None:
    found = finding(built_with(lid="al-3.2"), "LID-FLUSH")
    assert found.values["step"].value == pytest.approx(0.0007)


def test_choices_know_their_limits() -> None:
    with pytest.raises(ValueError, match="clear_length"):
        Hatch.model_validate({**HATCH, "clear_length": -1})


@pytest.mark.parametrize(
    ("members", "landing", "built", "inward"),
    [
        ("angle-50x50x5", 0.012, 0.012, -0.013),  # 12 of 50 reach in: the middle 13 mm outside
        ("angle-40x40x3", 0.020, 0.020, 0.0),  # half of the flange
        ("angle-40x40x3", 0.028, 0.028, 0.008),  # the most: 12 are left for the skin
        ("angle-25x25x3", 0.050, 0.013, 0.0005),  # 50 cannot be had of 25
    ],
)
def test_the_landing_chosen_is_the_one_that_is_built(members, landing, built, inward) -> None:
    hatch = {**HATCH, "landing": landing}
    data = build_data(box_lines(), fittings=[{**DECK, "members": members}, hatch])
    derived = derive(from_data(data))
    aft = next(m for m in derived.built[0].members if m.key.endswith("/H1-aft"))
    # the cut-out is clear length and both landings
    edge = HATCH["x"] - (HATCH["clear_length"] / 2 + landing)
    assert aft.path[0][0] == pytest.approx(edge + inward, abs=1e-6)
    told = [f for f in derived.findings if f.code == "LANDING"]
    assert bool(told) == (built < landing)
    if told:
        assert told[0].values["built"].value == pytest.approx(built)


def test_three_long_hinges_need_three_bars_and_three_short_ones_one() -> None:
    # lid 1.0 + 2 (25 - 1.5 mm) = 1.047 m, its hinge 20 mm shorter, 1.027 m: one out of a bar of
    # 1.8 m leaves 0.77 m, too short for the next. By the metre 3.08 m would look like two bars.
    deck = {**DECK, "aft": 0.2, "fore": 3.8}
    lids = [
        {**HATCH, "id": f"h{k}", "mark": f"H{k}", "x": x, "y": 0.0}
        for k, x in ((1, 0.8), (2, 1.9), (3, 3.0))
    ]

    def bars(width: float) -> tuple[float, int]:
        fittings = [deck, *({**lid, "clear_width": width} for lid in lids)]
        cost = derive(from_data(build_data(box_lines(), fittings=fittings))).cost
        line = next(line for line in cost.lines if line.item.id == "hinge-piano")
        return line.bought, sum(n for _, n in line.packs)

    assert bars(1.0) == (pytest.approx(5.4), 3)
    # 0.5 m clear: 0.527 m each, 3 · 0.527 + two kerfs = 1.587 m of 1.79
    assert bars(0.5) == (pytest.approx(1.8), 1)


def test_a_lid_is_covered_as_its_deck_is_and_the_hole_is_not() -> None:
    # foam mat lies flush: lid 447 x 347 with corners of 30 + 23.5 mm, less the latch's hole of 50 mm
    lid = 0.447 * 0.347 - (4 - math.pi) * 0.0535**2 - math.pi * 0.025**2
    flush = {b.key: b for b in hatch_of(built_with({"cover": "foam-mat"})).bought}
    assert flush["hatch/cover"].quantity == pytest.approx(lid, rel=2e-3)
    assert "hatch/glue" not in flush
    # carpet is glued and turned round the edge and 30 mm under: the gap is wider by its thickness
    wool = starting().find("carpet")
    half = 0.025 - 0.0015 - wool.thickness
    a, b, r = 0.4 + 2 * half, 0.3 + 2 * half, 0.03 + half
    face = a * b - (4 - math.pi) * r**2 - math.pi * 0.025**2
    rim = 2 * (a + b) - (8 - 2 * math.pi) * r
    wrapped = {b.key: b for b in hatch_of(built_with({"cover": "carpet"})).bought}
    thick = starting().find("al-2.5").thickness
    assert wrapped["hatch/cover"].quantity == pytest.approx(face + rim * (thick + 0.03), rel=2e-3)
    assert wrapped["hatch/glue"].quantity == pytest.approx(0.30 * wrapped["hatch/cover"].quantity)
    assert wrapped["hatch/cover"].mass_kg == pytest.approx(wrapped["hatch/cover"].quantity * wool.mass)
    assert not any("cover" in key for b in (hatch_of(built_with()),) for key in (p.key for p in b.bought))


def test_a_hinge_that_nothing_holds_is_told_and_not_bought() -> None:
    # the shortest wood screw, 8 mm, would come through 4 mm of wood and 1.2 of the leaf
    thin = built_with(lid="ply-4")
    told = [f for f in thin.findings if f.place == "hatch" and f.title.startswith("Hinge to lid")]
    assert [f.level for f in told] == ["mend"] and told[0].values["grip"].value == pytest.approx(0.0052)
    assert not any(b.key == "hatch/fasteners" for b in hatch_of(thin).bought)
    # 12 mm and the leaf: a screw of 12 mm stays in the wood
    wood = built_with(lid="ply-12")
    assert not any(f.title.startswith("Hinge to lid") for f in wood.findings)
    assert next(b.item for b in hatch_of(wood).bought if b.key == "hatch/fasteners") == "wood-4x12"
    metal = built_with()
    assert not any(f.title.startswith("Hinge to lid") for f in metal.findings)


def bought_of(derived: Derived) -> dict[str, float]:
    """Amounts by the last part of their key."""
    return {p.key.split("/", 1)[1]: p.quantity for p in hatch_of(derived).bought}


def size_of(region) -> tuple[float, float]:
    x0, y0, x1, y1 = region.bounds
    return x1 - x0, y1 - y0


def cutout_in(derived: Derived) -> tuple[float, float]:
    hole = next(h for p in derived.built[0].panels for h in p.holes)
    xs, ys = [p[0] for p in hole], [p[1] for p in hole]
    return max(xs) - min(xs), max(ys) - min(ys)


def test_a_gutter_lies_between_the_landing_and_the_opening() -> None:
    derived = built_with(lies="flush, over a gutter", gutter=0.03)
    # beside the opening of 400 by 300: gutter 30 and landing 25; cut-out 510 by 410, lid 3 mm less
    assert cutout_in(derived) == pytest.approx((0.510, 0.410))
    assert size_of(hatch_of(derived).region) == pytest.approx((0.507, 0.407))
    hole = hatch_of(derived).holes[0]
    assert (hole.length, hole.width) == pytest.approx((0.4, 0.3))  # all of it is left to get things through
    # the latch stands inside of the gutter: 25 + 30 - 1.5 of lid over these, 31 of its body and 11
    xs = [x for x, _ in hatch_of(derived).panels[0].holes[0]]
    assert (max(xs) + min(xs)) / 2 == pytest.approx(1.5 - 0.2535 + 0.0955)


def test_a_gutter_is_cut_all_round_and_drains_to_the_bilge() -> None:
    derived = built_with(lies="flush, over a gutter", gutter=0.03)
    amounts = bought_of(derived)
    assert [amounts[f"gutter/{s}"] for s in ("aft", "fore", "port", "starboard")] == pytest.approx(
        [0.36, 0.36, 0.46, 0.46]
    )
    # the deck's top at 500; the track is 30 deep, the hose ends 50 over the bottom, whose inside is at 3
    assert (amounts["drain"], amounts["clamps"], amounts["hose"]) == (2, 4, pytest.approx(2 * 0.417))
    told = finding(derived, "GUTTER")
    assert told.level == "fine" and told.values["fall"].value == pytest.approx(0.417)
    # 1.64 m come out of one track of 5 m
    line = next(line for line in derived.cost.lines if line.item.id == "drain-gutter")
    assert (line.bought, sum(n for _, n in line.packs)) == (pytest.approx(5.0), 1)


def test_a_gutter_without_fall_says_so() -> None:
    # on a deck at 110 mm: 110 - 30 - 50 - 3 = 27 mm of fall, and 50 is the least
    low = finding(built_with({"height": 0.11}, lies="flush, over a gutter"), "GUTTER")
    assert low.level == "mend"
    assert finding(built_with({"height": 0.14}, lies="flush, over a gutter"), "GUTTER").level == "fine"


def test_a_lid_on_the_deck_laps_it() -> None:
    derived = built_with(lies="on the deck")
    # cut-out as the opening, 400 by 300; the lid laps by 25: 450 by 350, no gap
    assert cutout_in(derived) == pytest.approx((0.4, 0.3))
    assert size_of(hatch_of(derived).region) == pytest.approx((0.45, 0.35))
    lid = hatch_of(derived).panels[0]
    # it lies on the deck's top at 500: the middle of 2.5 mm is at 501.25
    assert lid.frame.origin[2] == pytest.approx(0.50125)
    told = finding(derived, "LID-FLUSH")
    assert told.level == "look" and told.values["step"].value == pytest.approx(0.0025)
    # 25 of lap, 31 of the body and 11
    xs = [x for x, _ in lid.holes[0]]
    assert (max(xs) + min(xs)) / 2 == pytest.approx(1.5 - 0.225 + 0.067)


def test_members_under_a_lid_on_the_deck_end_at_the_opening() -> None:
    members = {m.key.split("/", 1)[1]: m for m in built_with(lies="on the deck").built[0].members}
    at = sorted(m.centre[0] for key, m in members.items() if key.startswith("cross/H1"))
    # flanges of 40, their edges in line with the opening's: middles 20 beside 1.3 and 1.7
    assert at == pytest.approx([1.28, 1.72], abs=1e-3)


@pytest.mark.parametrize("lies", ["flush", "flush, over a gutter", "on the deck"])
def test_only_a_gutter_has_a_width_to_choose(lies: str) -> None:
    kind, choices = BY_KEY["hatch"], Hatch.model_validate({**HATCH, "lies": lies})
    assert ("gutter" in kind.idle(choices, starting())) == (lies != "flush, over a gutter")


def test_each_hose_falls_as_far_as_the_bottom_is_under_its_corner() -> None:
    # a bottom that rises by 0.2 over the half-breadth of 1 m, its skin 3 mm square to it
    lines = wedge_lines(0.2)
    fittings = [{**DECK, "height": 0.6}, {**HATCH, "lies": "flush, over a gutter", "gutter": 0.03}]
    derived = derive(from_data(build_data(lines, fittings=fittings)))
    # corners at y 0.1 - 0.18 and 0.1 + 0.18: the bottom is at 0.2 x 0.08 and at 0.2 x 0.28
    skin = 0.003 * math.hypot(1.0, 0.2)
    falls = [0.6 - 0.03 - 0.05 - 0.2 * y - skin for y in (0.08, 0.28)]
    assert bought_of(derived)["hose"] == pytest.approx(sum(falls), abs=1e-4)
    assert finding(derived, "GUTTER").values["fall"].value == pytest.approx(min(falls), abs=1e-4)


@pytest.mark.parametrize(
    ("lies", "least", "most"), [("flush", 0.0125, 0.0325), ("on the deck", 0.015, 0.035)]
)
def test_a_strut_s_studs_go_on_the_leg_of_the_members(lies, least, most, monkeypatch) -> None:
    """Under the hinge: skin of 2.5 mm, for a lid on the deck its own 2.5 mm too; then the leg of 40, less
    10 from either of its edges."""
    seen = []

    def lid_about(*args):
        seen.append(args[5])
        return real(*args)

    build_module = import_module("stirrup.core.kinds.hatch.build")
    real = build_module.lid_about
    monkeypatch.setattr(build_module, "lid_about", lid_about)
    built_with({"members": "angle-40x40x3"}, lies=lies, x=1.5071)  # such a one nobody has made yet
    assert seen == [pytest.approx((least, most))]


def lap_hatch(**changes: object) -> dict:
    # clear 0.30 wide, its lid 40 mm wider on every side
    return {**HATCH, "lies": "on the deck", "landing": 0.04, "clear_width": 0.30, **changes}


def near(*hatches: dict) -> list:
    derived = derive(from_data(build_data(box_lines(), fittings=[DECK, *hatches])))
    return [f for f in derived.findings if f.code in ("HATCH-NEAR", "HATCH-EDGE") and f.level != "fine"]


def test_a_lid_on_the_deck_needs_the_place_that_it_lies_on() -> None:
    # between the openings 0.4 - 0.3 = 100 mm: enough for two flanges of 40; both lids lap 40: 20 apart
    second = lap_hatch(id="other", mark="H2", y=-0.3, x=HATCH["x"])
    first = lap_hatch(y=0.1)
    assert near(first, second) == []
    # with 60 mm of landing each (the widest there is) they overlap by 20
    wide = {"landing": 0.06}
    found = near({**first, **wide}, {**second, **wide})
    assert {f.place for f in found} == {first["id"], "other"} and {f.level for f in found} == {"stop"}
    assert found[0].values["by"].value == pytest.approx(0.02)


def test_a_lid_over_the_cut_out_of_a_flush_neighbour_is_told() -> None:
    # the flush one's cut-out reaches 25 mm past its opening, 75 from the lap one's: its lid laps 80
    flush = {**HATCH, "id": "other", "mark": "H2", "y": -0.3, "clear_width": 0.30, "landing": 0.025}
    lap = lap_hatch(y=0.11, landing=0.06)
    assert near(lap, flush) == []  # 0.41 - 0.30 - 0.025 = 85 mm; less 60: 25 mm left
    found = near({**lap, "y": 0.10, "clear_width": 0.33}, {**flush, "clear_width": 0.35})
    # 0.40 - 0.165 - 0.175 - 0.025 = 35 mm of deck: too little for two flanges too; the lid wins
    assert {f.title for f in found} == {"Its lid lies over another hatch"}
    assert found[0].values["by"].value == pytest.approx(0.025)


def test_a_lid_that_hangs_past_the_deck_s_edge_is_told_with_the_way_back() -> None:
    edge = near(lap_hatch(x=DECK["aft"] + 0.045 + HATCH["clear_length"] / 2, landing=0.06))
    # the cut-out is 45 mm from the edge, more than a flange; the lid laps 60
    assert [f.code for f in edge] == ["HATCH-EDGE"] and edge[0].level == "mend"
    assert edge[0].values["over"].value == pytest.approx(0.015, abs=0.002)
    assert edge[0].fixes and edge[0].fixes[0].by[0] == pytest.approx(0.015, abs=0.002)
