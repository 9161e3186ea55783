"""Welded seams, their order, and what their heat reaches: in a box and in a vee, by hand."""

from typing import Any

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.contract.seam import Seam
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.work.hours import effort
from stirrup.core.work.seams import in_order
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive

STRINGER: dict[str, Any] = {
    "kind": "stringer", "id": "stringer", "name": "Stringer", "mark": "J1", "aft": 0.5, "fore": 2.5,
    "y": 0.4, "top": 0.12, "core": "al-4.8", "layers": 1, "joined": "welded", "limber": 0.0,
}  # fmt: skip
TANK: dict[str, Any] = {"id": "fuel", "size": [0.5, 0.2, 0.2], "floor_centre": [1.2, 0.0, 0.01],
                        "liquid": "petrol"}  # fmt: skip


def boat(*fittings: dict[str, Any], **more: Any) -> Derived:
    data = build_data(box_lines(), fittings=list(fittings) or [STRINGER])
    return derive(from_data({**data, **more}))


def made(derived: Derived, id_: str = "stringer") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def heat(derived: Derived, id_: str = "stringer") -> Finding:
    return next(f for f in derived.findings if f.code == "SEAM-HEAT" and f.place == id_)


def test_a_stringers_seam_runs_along_the_bottom() -> None:
    (seam,) = made(boat()).seams
    assert (seam.how, seam.long) == ("stitched", pytest.approx(2.0))
    assert seam.path[0] == pytest.approx((0.5, 0.4, 0.003)) and seam.path[-1] == pytest.approx(
        (2.5, 0.4, 0.003)
    )
    assert made(boat({**STRINGER, "joined": "laminated over", "core": "ply-18"})).seams == ()


def test_what_is_laid_of_it_and_how_long_that_takes() -> None:
    """50 mm of each 150, on both sides: two thirds of 2 m. 14 minutes for each metre of joint."""
    built = made(boat())
    (one,) = in_order([built])
    assert one.welded_m == pytest.approx(2.0 * 2 / 3)
    task = next(t for t in effort([built]).tasks if "stitched" in t.operation.words)
    assert task.hours == pytest.approx(2.0 * 14 / 60)


def test_pods_are_welded_all_round() -> None:
    """A pod's twelve edges: what its wire is bought by."""
    pods = {"kind": "pods", "id": "pods", "name": "Pods", "mark": "P1", "long": 0.4, "inner": 0.3,
            "outer": 0.6, "top": 0.4}  # fmt: skip
    built = made(boat(pods), "pods")
    assert [s.how for s in built.seams] == ["all round"] * 2
    wire = next(b for b in built.bought if b.label == "P1-W")
    # 0.09 kg a metre
    assert sum(s.long for s in built.seams) == pytest.approx(wire.quantity / 0.09)
    # a box of 0.4 x 0.3 x 0.4: 4 (0.4 + 0.3 + 0.4)
    assert built.seams[0].long == pytest.approx(4.4, rel=0.01)


def test_from_the_middle_outward_port_and_starboard_in_turn() -> None:
    row = [(x, y) for x in (1.0, 1.5, 2.0) for y in (-0.5, 0.5)]
    seams = tuple(Seam(f"{x} {y}", "", ((x, y, 0.0), (x, y, 0.1)), 0.1) for x, y in row)
    order = [n.seam.label for n in in_order([Built("knees", seams=seams)])]
    assert order[:2] == ["1.5 0.5", "1.5 -0.5"]
    assert set(order[2:]) == {"1.0 0.5", "1.0 -0.5", "2.0 0.5", "2.0 -0.5"}
    two = [Built("a", seams=seams[:2]), Built("b", seams=seams[2:3])]
    assert [n.number for n in in_order(two)] == [1, 2, 3]


@pytest.mark.parametrize(
    ("y", "liquid", "level"),
    [
        # its side 0.1 off its middle, the seam at 0.4: fuel within 0.5 m, water within 0.15
        (0.0, "petrol", "look"), (-0.19, "petrol", "look"), (-0.21, "petrol", "fine"),
        (0.0, "water", "fine"), (0.16, "water", "look"), (0.14, "water", "fine"),
    ],
)  # fmt: skip
def test_what_its_heat_reaches(y: float, liquid: str, level: str) -> None:
    tank = {**TANK, "floor_centre": [1.2, y, 0.003], "liquid": liquid}
    found = heat(boat(tanks=[tank]))
    assert found.level == level
    if level == "look":
        assert found.other == "fuel"
        assert found.values["away0"].value == pytest.approx(abs(0.4 - 0.1 - y), abs=1e-6)


def test_what_does_not_mind_is_not_told() -> None:
    box = {"id": "box", "form": "box", "stage": "added", "size": [0.3, 0.3, 0.3],
           "mass": {"value": 5.0, "centre": [1.2, 0.4, 0.153]}}  # fmt: skip
    assert heat(boat(items=[box])).level == "fine"
    battery = {**box, "id": "battery", "form": "battery"}
    assert heat(boat(items=[battery])).level == "look"
    # nothing is welded: nothing is told
    laminated = boat({**STRINGER, "joined": "laminated over", "core": "ply-18"}, items=[battery])
    assert not [f for f in laminated.findings if f.code == "SEAM-HEAT"]


def test_foam_that_is_poured_round_it_is_told() -> None:
    foam = {"kind": "foam_fill", "id": "foam", "name": "Foam", "mark": "F2", "aft": 0.6, "fore": 1.4,
            "port": 0.9, "starboard": -0.9, "top": 0.2}  # fmt: skip
    found = heat(boat(STRINGER, foam))
    assert found.level == "look" and "smoke" in found.text


def test_to_port_and_to_starboard_alike() -> None:
    a = heat(boat(tanks=[TANK]))
    b = heat(boat({**STRINGER, "y": -0.4}, tanks=[TANK]))
    assert a.values["away0"].value == pytest.approx(b.values["away0"].value)


@pytest.mark.parametrize(
    ("sheet", "y", "level", "words"),
    [
        # a floor's edge at 0.3 or 0.2 to port, the seam at 0.4 and at its height: 0.1 or 0.2 m off
        ("ply-12", 0.3, "look", "chars"), ("ply-12", 0.2, "fine", ""), ("al-4.8", 0.3, "fine", ""),
    ],
)  # fmt: skip
def test_a_panel_of_wood_near_a_seam_is_told(sheet: str, y: float, level: str, words: str) -> None:
    box = {"kind": "step_box", "id": "step", "name": "Step", "mark": "K1", "x": 1.2, "y": y - 0.15,
           "length": 0.35, "width": 0.30, "height": 0.2, "skin": sheet}  # fmt: skip
    found = heat(boat(STRINGER, box))
    assert (found.level, words in found.text) == (level, True)
