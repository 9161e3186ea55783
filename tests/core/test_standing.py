"""People who are where a thing is, and comfort that is only judged on a seat."""

import pytest

from tests.boats import derive, skiff_plan


def test_somebody_in_a_tank_is_found_and_beside_it_is_not() -> None:
    tank = {"id": "t", "name": "fuel tank", "size": [0.6, 0.5, 0.4], "floor_centre": [2.0, 0.0, 0.0],
            "liquid": "petrol"}  # fmt: skip

    def told(x: float, z: float = 0.003) -> list[str]:
        case = {"name": "try", "crew": [{"at": [x, 0.0, z], "name": "Ines"}]}
        found = derive(skiff_plan(tanks=[tank], cases=[case])).findings
        return [f.title for f in found if f.code == "IN-A-THING" and "Ines" in f.title]

    assert told(2.0) == ["Ines stands in fuel tank"]
    assert told(2.3 + 0.11) == ["Ines stands in fuel tank"]  # his heels are in it
    assert told(2.3 + 0.13) == []
    assert told(2.0, 0.401) == []  # on top of it


def test_comfort_is_not_judged_where_nobody_sits_on_a_seat() -> None:
    case = {"name": "try", "crew": [{"at": [2.0, 0.0, 1.3], "posture": "seated", "name": "Ines"}]}
    found = derive(skiff_plan(cases=[case])).findings
    assert not [f for f in found if f.code == "SEAT-HEIGHT" and "Ines" in f.text]


def test_the_shorter_way_out_of_a_thing_is_told_with_room_for_the_body() -> None:
    """A tank from 1.7 to 2.3 m. From 1.85 aft it is 0.15 to its edge and 0.24 for the body; from 2.2
    forward 0.10 and 0.24."""
    tank = {"id": "t", "name": "fuel tank", "size": [0.6, 0.5, 0.4], "floor_centre": [2.0, 0.0, 0.0],
            "liquid": "petrol"}  # fmt: skip
    for x, way, by in ((1.85, "aft", 0.39), (2.20, "forward", 0.34)):
        case = {"name": "try", "crew": [{"at": [x, 0.0, 0.003], "name": "Ines"}]}
        found = derive(skiff_plan(tanks=[tank], cases=[case])).findings
        told = next(f for f in found if f.code == "IN-A-THING" and "Ines" in f.title)
        assert told.values["move"].value == pytest.approx(by, abs=2e-3)
        assert f"{{move}} {way}" in told.remedy
