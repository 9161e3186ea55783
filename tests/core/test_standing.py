"""People who are where a thing is, and comfort that is only judged on a seat."""

from stirrup.core.derive import derive
from tests.boats import skiff_plan


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
