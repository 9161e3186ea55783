"""Seats on pedestals by hand: on a floor of 12 mm in a box hull 4 x 2 x 1 m, its top 0.1 m up."""

import math
from typing import Any

import numpy as np
import pytest
from shapely.geometry import Point

from stirrup.core.arrange.helm import one_helm
from stirrup.core.arrange.move import moved
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.where import extent_of
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan
from tests.core.test_floor import FLOOR

SEAT: dict[str, Any] = {
    "kind": "pedestal_seat", "id": "seat", "name": "Seat", "mark": "S1", "on": "floor", "x": 1.5, "y": 0.3,
}  # fmt: skip


def boat(floor: dict[str, Any] | None = None, **choices: Any) -> Derived:
    return derive(plan(fittings=[{**FLOOR, **(floor or {})}, {**SEAT, **choices}]))


def made(derived: Derived) -> Built:
    built = derived.fitting("seat")
    assert built is not None
    return built


def floor_of(derived: Derived) -> Built:
    built = derived.fitting("floor")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "seat")


def test_how_high_one_sits_follows_from_pedestal_and_seat() -> None:
    # a seat 0.46 x 0.43 x 0.50 on 0.33: its cushion 0.10 over its underside
    built = made(boat())
    assert built.top_m == pytest.approx(0.1 + 0.33 + 0.50)
    assert built.seats[0].rise_m == pytest.approx(0.43) and built.seats[0].at[2] == pytest.approx(0.53)
    assert made(boat(slide=True)).seats[0].rise_m == pytest.approx(0.46)
    # one that goes up and down from 0.30 to 0.40: half way unless it is set
    lift = {"pedestal": "pedestal-power"}
    assert made(boat(**lift)).seats[0].rise_m == pytest.approx(0.45)
    assert made(boat(**lift, set_to=0.38)).seats[0].rise_m == pytest.approx(0.48)
    refused = next(f for f in boat(**lift, set_to=0.45).findings if f.code == "CANNOT-BUILD")
    assert "0.450 m; accepted: 0.300 to 0.400 m" in refused.text
    extent = extent_of(boat().plan, boat().surface, "seat")
    assert extent.x == pytest.approx((1.27, 1.73)) and extent.z == pytest.approx((0.1, 0.93))


def test_whoever_steers_sits_on_its_cushion() -> None:
    derived = boat(steers=True)
    helm = next(p for c in derived.load_cases for p in c.crew if p.name == "helm")
    assert helm.at == pytest.approx((1.5, 0.3, 0.1 + 0.43))
    higher = boat(steers=True, pedestal="pedestal-380")
    helm = next(p for c in higher.load_cases for p in c.crew if p.name == "helm")
    assert helm.at[2] == pytest.approx(0.1 + 0.48)


def test_what_it_weighs_and_is_bolted_with() -> None:
    built = made(boat(plate="al-4.8"))
    by = {p.key.split("/", 1)[1]: p for p in built.bought}
    assert by["seat"].mass_kg == 6.5 and by["pedestal"].mass_kg == 2.6
    # 6 of the base, 12 of the floor, 4.8 of the plate (0.19 in): 22.8, over 22.2 of M6 x 30
    assert by["bolts"].item == "bolt-m6x50" and by["bolts"].quantity == 6
    assert (by["nuts"].quantity, by["washers"].quantity) == (6, 12)
    (plate,) = built.panels
    # 230 and 10 on every side, less six holes of 6.6 drawn as sixteen-sided: 8 r² sin 22.5°
    hole = 8 * 0.0033**2 * math.sin(math.radians(22.5))
    assert plate.polygon.area == pytest.approx(0.25**2 - 6 * hole, abs=1e-8)
    assert plate.centre == pytest.approx((1.5, 0.3, 0.1 - 0.012 - 0.004826 / 2), abs=1e-9)
    for ring in plate.holes:
        x, y = Point(ring[0]).x, Point(ring[0]).y
        assert math.hypot(x, y) == pytest.approx(0.095, abs=0.0035)
    washers = made(boat(under="large washers"))
    # 18 mm without the plate
    assert not washers.panels and next(p for p in washers.bought if "/bolts" in p.key).item == "bolt-m6x30"


def test_its_bolts_against_somebody_thrown_back() -> None:
    """540 N at 0.43 + 0.25 m: 367 Nm on six bolts on 190 mm: 4 x 367 / (6 x 0.19) = 1,287 N each."""
    force = 0.5 * 110 * 9.81
    expected = 4 * force * 0.68 / (6 * 0.19)
    assert expected == pytest.approx(1287, abs=1)
    for under, level in (("backing plate", "fine"), ("large washers", "fine"), ("screws", "mend")):
        found = told(boat(under=under), "SEAT-HOLDS")
        assert (found.level, found.values["pull"].value) == (level, pytest.approx(expected))
    # a butt post of 0.60 on a circle of 150: 540 x 0.95 x 4 / (6 x 0.15) = 2,280 N
    tall = boat(under="large washers", pedestal="pedestal-plug-600")
    found = told(tall, "SEAT-HOLDS")
    assert found.level == "mend" and found.values["pull"].value == pytest.approx(force * 0.95 * 4 / 0.9)
    (fix,) = found.fixes
    assert fix.value == "backing plate"
    mended = derive(apply(tall.plan, SetValue(path=fix.path, value=fix.value)))
    assert told(mended, "SEAT-HOLDS").level == "fine"
    # screws that would do with washers are offered these
    assert told(boat(under="screws"), "SEAT-HOLDS").fixes[0].value == "large washers"


def test_nothing_is_drilled_through_the_bottom() -> None:
    derived = derive(plan(fittings=[{**SEAT, "on": None}]))
    found = told(derived, "SEAT-HOLDS")
    assert found.level == "mend" and found.title == "Nothing to bolt it to"
    built = made(derived)
    assert built.bolts is None and not built.panels
    assert not [p for p in built.bought if p.group == "fasteners"]


def test_a_seat_with_its_own_pedestal_is_told() -> None:
    assert told(boat(seat="seat-sus"), "SEAT-ITSELF").level == "look"
    assert not [f for f in boat().findings if f.code == "SEAT-ITSELF"]


def test_turned_about_it_faces_aft() -> None:
    built, back = made(boat()), made(boat(turn=180))
    feet = [next(r for r in b.rooms if "feet" in r.what).shape.bounds for b in (built, back)]
    assert feet[0][0] > 1.5 > feet[1][0] and feet[0][3] > 1.5 >= feet[1][3] - 0.23
    assert built.mass_kg == pytest.approx(back.mass_kg)


def test_it_goes_with_a_floor_that_falls() -> None:
    built = made(boat({"lies": "falls aft", "fall": 2.0}))
    # the highest of its base of 230 mm at 1.615
    assert built.top_m == pytest.approx(0.1 + math.tan(math.radians(2.0)) * 1.115 + 0.83)


def test_one_place_to_steer_from_among_seats_of_all_sorts() -> None:
    item = {"id": "it", "name": "It", "form": "seat", "size": [0.5, 0.5, 0.8], "steers": True,
            "mass": {"value": 9, "centre": [2.5, -0.4, 0.5]}}  # fmt: skip
    before = plan(fittings=[FLOOR, SEAT], items=[item])
    change = one_helm(before, SetValue(path=("fittings", "seat", "steers"), value=True))
    after = apply(before, change)
    assert after.fitting("seat").steers and not after.items[0].steers  # type: ignore[union-attr]
    assert "more" not in describe(before, change, SYSTEMS["mm"])
    again = apply(after, one_helm(after, SetValue(path=("items", "it", "steers"), value=True)))
    assert again.items[0].steers and not again.fitting("seat").steers  # type: ignore[union-attr]


def test_every_pedestal_of_the_catalogue_can_be_bolted() -> None:
    for entry in starting().entries.values():
        if entry.group == "pedestal":
            for under in ("backing plate", "large washers"):
                derived = boat(pedestal=entry.id, under=under)
                assert not [f for f in derived.findings if f.code in ("CANNOT-BUILD", "GRIP")
                            and f.place == "seat" and f.level != "fine"], entry.id  # fmt: skip


def test_what_carries_the_floor_is_in_the_way_of_its_plate() -> None:
    """Bearers of 12 mm from 0.54 to 2.46 in six bays of 0.32: at 0.86, 1.18, 1.50 and so on."""
    at = sorted({p.frame.origin[0] for p in floor_of(boat()).panels if p.role == "bearer"})
    assert 0.3 < at[1] - at[0] < 0.36
    middle = (at[1] + at[2]) / 2
    # midway 154 mm to either bearer's face, and the plate reaches 125
    assert not [f for f in boat(x=middle, y=0.5).findings if f.code == "SEAT-PLATE"]
    met = boat(x=at[2] - 0.05, y=0.5)
    found = told(met, "SEAT-PLATE")
    # its fore edge is 75 mm ahead of the bearer's middle, and 6 of that are the bearer's
    assert found.level == "look" and found.values["by"].value == pytest.approx(0.125 - 0.05 + 0.006)
    (fix,) = found.fixes
    assert fix.by[0] == pytest.approx(-0.081)
    after = derive(apply(met.plan, moved(met.plan, ["seat"], fix.by)))
    assert not [f for f in after.findings if f.code == "SEAT-PLATE"]
    # washers need no room there
    assert not [f for f in boat(x=at[2], y=0.5, under="large washers").findings if f.code == "SEAT-PLATE"]


def test_the_plate_lies_against_a_floor_that_falls() -> None:
    built = made(boat({"lies": "falls aft", "fall": 3.0}, turn=30.0, plate="al-4.8"))
    (plate,) = built.panels
    slope = math.tan(math.radians(3.0))
    for u, v in plate.outline:
        x, _, z = plate.frame.at(u, v)
        # upper face of the plate on the underside of the floor, square to the slope
        top = 0.1 + slope * (x - 0.5) - 0.012
        assert z + 0.004826 / 2 == pytest.approx(top, abs=2e-5)
    along, across = np.array(plate.frame.along), np.array(plate.frame.across)
    assert (along @ along, across @ across, along @ across) == pytest.approx((1, 1, 0))


def test_who_settles_on_a_seat_sits_on_its_cushion_whatever_it_stands_on() -> None:
    sits = {"mass": 80, "posture": "seated", "settle": True, "at": [1.5, 0.3, 0.0]}
    # beside it and over it: on his feet he stands on the floor
    stands = {**sits, "posture": "standing", "at": [1.5, 0.3, 0.0]}
    case = {"name": "two", "crew": [sits, stands]}
    for pedestal, rise in (("pedestal-330", 0.43), ("pedestal-180", 0.28)):
        derived = derive(plan(fittings=[FLOOR, {**SEAT, "pedestal": pedestal}], cases=[case]))
        crew = next(c for c in derived.load_cases if c.name == "two").crew
        assert crew[0].at[2] == pytest.approx(0.1 + rise)
        assert crew[1].at[2] == pytest.approx(0.1)


def test_whoever_steers_from_a_bench_sits_on_it() -> None:
    """A box of 0.36 with a cushion of 50 mm on the bottom of 3 mm: not 0.42 over its top."""
    bench = {"kind": "seat_box", "id": "bench", "name": "Bench", "mark": "E1", "x": 1.5, "y": 0.0,
             "height": 0.36}  # fmt: skip
    derived = derive(plan(fittings=[bench]))
    helm = next(p for c in derived.load_cases for p in c.crew if p.name == "helm")
    assert helm.at[2] == pytest.approx(0.003 + 0.36 + 0.05)


def test_a_base_past_the_edge_of_its_floor_is_told() -> None:
    # the floor ends at 2.5, the base reaches 0.115 forward
    for x, past in ((2.38, False), (2.39, True), (5.0, True)):
        edge = [f for f in boat(x=x).findings if f.title == "Stands past the edge of its floor"]
        assert bool(edge) is past, x
