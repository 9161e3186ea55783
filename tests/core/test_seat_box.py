"""A bench worked by hand: 0.42 x 0.95 x 0.36 m of 2.5 mm sheet under 12 mm plywood, on a deck at 0.3."""

from typing import Any

import pytest

from stirrup.core.arrange.riders import riding_kg
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.plan.model import Person
from tests.boats import derive, plan
from tests.core.test_step_box import DECK

BENCH = {"kind": "seat_box", "id": "bench", "name": "Bench", "mark": "E1", "on": "deck", "x": 2.0,
         "y": 0.1, "length": 0.42, "width": 0.95, "height": 0.36, "skin": "al-2.5", "top": "ply-12",
         "lids": 1, "cover": "none"}  # fmt: skip
T, CAP = 0.0025, 0.012


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**BENCH, **choices}]))


def bench(**choices: Any) -> Built:
    built = boat(**choices).fitting("bench")
    assert built is not None
    return built


def sizes(built: Built) -> dict[str, tuple[float, float]]:
    return {p.label: (p.polygon.bounds[2] * 2, p.polygon.bounds[3] * 2) for p in built.panels}


def test_walls_end_under_the_thicker_top() -> None:
    assert sizes(bench()) == {
        "E1-L": pytest.approx((0.42, 0.95)),
        "E1-A": pytest.approx((0.95, 0.36 - CAP)),
        "E1-F": pytest.approx((0.95, 0.36 - CAP)),
        "E1-P": pytest.approx((0.42 - 2 * T, 0.36 - CAP)),
        "E1-S": pytest.approx((0.42 - 2 * T, 0.36 - CAP)),
        "E1-B": pytest.approx((0.42 - 2 * T, 0.95 - 2 * T)),
    }


def test_mass_and_centre_of_its_sheets() -> None:
    # 2680 kg/m³ of metal, 460 of the light plywood of the catalogue's
    built, wall = bench(), 0.36 - CAP
    alu = built.panels[1].sheet.stuff.density * T
    ply = built.panels[0].sheet.stuff.density * CAP
    inner = (0.42 - 2 * T, 0.95 - 2 * T)
    parts = [  # mass, height of its middle over the deck
        (0.42 * 0.95 * ply, 0.36 - CAP / 2),
        (2 * 0.95 * wall * alu + 2 * inner[0] * wall * alu, wall / 2),
        (inner[0] * inner[1] * alu, 0.025 + T / 2),
    ]
    mass = sum(m for m, _ in parts)
    assert sum(p.mass_kg for p in built.panels) == pytest.approx(mass)
    z = sum(p.mass_kg * p.centre[2] for p in built.panels) / mass
    assert z - 0.3 == pytest.approx(sum(m * h for m, h in parts) / mass)


def test_three_lids_with_a_bearer_under_each_joint() -> None:
    # two plays of 3 mm: (950 - 6) / 3 = 314.67 mm each
    built = bench(lids=3)
    lids = {p.label: p for p in built.panels if "/lid/" in p.key}
    assert {label: p.polygon.bounds[3] * 2 for label, p in lids.items()} == {
        f"E1-L{k}": pytest.approx(0.944 / 3) for k in (1, 2, 3)
    }
    middles = sorted((p.centre[1] for p in lids.values()), reverse=True)
    assert middles == pytest.approx([0.1 + 0.475 - 0.944 / 6, 0.1, 0.1 - 0.475 + 0.944 / 6])
    bearers = [m for m in built.members if "/bearer/" in m.key]
    # their middles lie under the middles of the plays
    assert [m.path[0][1] for m in bearers] == pytest.approx(
        [0.1 + 0.944 / 6 + 0.0015, 0.1 - 0.944 / 6 - 0.0015]
    )
    assert [m.length for m in bearers] == pytest.approx([0.415] * 2)
    count = {b.label: b.quantity for b in built.bought}
    assert count["E1-K"] == 4 + 2 * 2 and count["E1-H"] == pytest.approx(3 * (0.944 / 3 - 0.02))


def test_a_closed_top_lies_on_cleats_and_has_no_bottom() -> None:
    built = bench(lids=0)
    assert "E1-T" in sizes(built) and "E1-B" not in sizes(built)
    cleats = [m for m in built.members if "/cleat/" in m.key]
    assert [m.path[0][2] for m in cleats] == pytest.approx([0.3 + 0.36 - CAP] * 2)
    assert built.hold is None and not any("lid" in r.what for r in built.rooms)


def test_room_for_gear_is_between_bottom_and_lid() -> None:
    hold = bench().hold
    assert hold is not None
    # over 25 mm of cleat and the bottom's sheet, under the lid
    high = 0.36 - CAP - 0.025 - T
    assert hold.clear == pytest.approx((0.415, 0.945, high))
    assert hold.at[2] == pytest.approx(0.3 + 0.025 + T + high / 2)


@pytest.mark.parametrize(("hinge", "x"), [("aft", 1.79), ("fore", 2.21)])
def test_the_lid_swings_about_the_side_where_it_is_hinged(hinge: str, x: float) -> None:
    built = bench(hinge=hinge)
    room = next(r for r in built.rooms if r.what == "lid swings")
    b = room.shape.bounds
    # past upright it leans over its hinge by 420 x sin 15° = 109 mm
    assert (b[0], b[3])[hinge == "fore"] == pytest.approx(
        x + (0.109 if hinge == "fore" else -0.109), abs=2e-3
    )
    assert next(p.centre for p in built.bought if p.label == "E1-H") == pytest.approx((x, 0.1, 0.66))


def test_a_cushion_counts_towards_the_seat() -> None:
    hard, soft = bench(), bench(cover="cushion-50")
    assert hard.top_m == pytest.approx(0.66) and soft.top_m == pytest.approx(0.71)
    assert soft.seats[0].at == pytest.approx((2.0, 0.1, 0.71))
    assert soft.floors[0].top_m == pytest.approx(0.71)


def test_whoever_sits_on_it_goes_along() -> None:
    here = boat()
    sitting = Person(mass=80.0, posture="seated", at=(2.0, 0.3, 0.66))
    beside = Person(mass=90.0, posture="seated", at=(2.5, 0.3, 0.66))
    assert riding_kg(here.plan.fittings, [sitting, beside]) == {"bench": 80.0}


@pytest.mark.parametrize(
    ("top", "level"), [("ply-12", "fine"), ("ply-9", "look"), ("ply-6", "mend"), ("alcomb-19", "look")]
)
def test_what_gives_under_somebody_is_told(top: str, level: str) -> None:
    """Over 415 mm: firm up to 5.19 mm, springy up to 6.92. A point load on 12 mm plywood of 7.5 GPa
    (D 1187 N m) would give 0.0165 x 1295 x 0.415² / 1187 = 3.1 mm; spread over a patch some tenth less.
    9 mm gives (12 / 9)³ of that: 6.6; 6 mm gives 22. Of the faced board no modulus is known."""
    found = next(f for f in boat(top=top).findings if f.code == "LID-GIVES")
    assert found.level == level
    by_hand = {"ply-12": 1.0, "ply-9": (12 / 9) ** 3, "ply-6": 8.0}
    if top in by_hand:
        point = 0.0165 * 110 * 1.2 * 9.81 * 0.415**2 / (7.5e9 * CAP**3 / 10.92) * by_hand[top]
        assert 0.85 * point < found.values["gives"].value < 0.95 * point


def test_more_lids_make_it_firmer() -> None:
    """Three of 9 mm plywood span 945 / 3 = 315 mm: 0.0145 x 1295 x 0.315² / 501 = 3.7 mm of 3.9."""
    found = next(f for f in boat(top="ply-9", lids=3).findings if f.code == "LID-GIVES")
    assert found.level == "fine"
    assert found.values["short"].value == pytest.approx(0.315)


def test_what_is_sat_on_is_no_step() -> None:
    """0.36 up from the deck, over the 0.30 of one step: the deck is told (0.297 over the bottom), the
    bench, which people sit down on, is not; a locker as high, which people climb, is."""
    told = {f.place for f in boat().findings if f.code == "STEP"}
    assert "deck" in told and "bench" not in told
    locker = {"kind": "locker_box", "id": "locker", "name": "Locker", "mark": "K1", "on": "deck", "x": 2.0,
              "y": 0.1, "length": 0.42, "width": 0.95, "height": 0.36, "skin": "al-2.5"}  # fmt: skip
    found = {f.place: f.level for f in derive(plan(fittings=[DECK, locker])).findings if f.code == "STEP"}
    assert found["locker"] == "look"
