"""A bought frame in a box, in a hull that flares 1 in 3 and in a vee, worked by hand."""

from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, flared_lines, wedge_lines


def boat(size: tuple[float, float, float], centre: tuple[float, float, float], lines: Any = None,
         **more: Any) -> Derived:  # fmt: skip
    frame = {"id": "frame", "name": "Frame", "form": "frame", "stage": "added", "size": list(size),
             "mass": {"value": 8.0, "centre": list(centre)}, **more}  # fmt: skip
    return derive(from_data(build_data(lines, items=[frame])))


def told(derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == "FRAME-TRIM")


def sizes(found: Finding) -> list[tuple[float, float]]:
    count = sum(name.startswith("wide") for name in found.values)
    return [
        (float(found.values[f"wide{n}"].value), float(found.values[f"high{n}"].value)) for n in range(count)
    ]


def test_in_a_box_it_goes_in_as_it_comes() -> None:
    assert told(boat((0.4, 1.9, 0.3), (2.0, 0.0, 0.2))).level == "fine"
    wide = told(boat((0.4, 2.1, 0.3), (2.0, 0.0, 0.2)))
    assert wide.level == "mend" and "too large" in wide.title


def test_sides_that_flare() -> None:
    """The hull is 0.8 wide to either side at its bottom, and 1 in 3 more; its skin takes 2.6 mm of that
    level: at 0.05 it is 0.814, at 0.308 0.9. A frame 1.8 wide from 0.05 up loses 86 mm at its foot, up to
    258 mm; 18.4° off upright."""
    found = told(boat((0.4, 1.8, 0.4), (2.0, 0.0, 0.25), flared_lines()))
    assert found.level == "look"
    assert sizes(found) == [(pytest.approx(0.0860, abs=0.001), pytest.approx(0.258, abs=0.002))] * 4
    assert found.values["lean0"].value == pytest.approx(18.43, abs=0.2)
    for words in ("port, aft end", "starboard, aft end", "port, fore end", "starboard, fore end"):
        assert words in found.text


def test_to_one_side_only_that_side_is_trimmed() -> None:
    found = told(boat((0.4, 0.8, 0.4), (2.0, 0.5, 0.25), flared_lines()))
    assert len(sizes(found)) == 2 and "port" in found.text and "starboard" not in found.text
    other = told(boat((0.4, 0.8, 0.4), (2.0, -0.5, 0.25), flared_lines()))
    for one, its in zip(sizes(found), sizes(other), strict=True):
        assert one == pytest.approx(its, abs=1e-6)
    assert "starboard" in other.text and "port" not in other.text.replace("starboard", "")


def test_a_vee_takes_its_foot() -> None:
    """A bottom that rises 0.3 in 1.0: at a foot 0.6 wide to either side, on 0.06 over the keel, it is met
    0.19 from the middle (its skin is 3.1 mm up) and 0.123 up at the edge."""
    found = told(boat((0.4, 1.2, 0.4), (2.0, 0.0, 0.26), wedge_lines(0.3)))
    assert sizes(found)[0] == (pytest.approx(0.4104, abs=0.001), pytest.approx(0.1231, abs=0.001))
    # raised clear of the bottom nothing is left to trim
    assert told(boat((0.4, 1.2, 0.4), (2.0, 0.0, 0.39), wedge_lines(0.3))).level == "fine"


def test_a_transom_that_rakes() -> None:
    """Its foot lies at 0 and its sheer 0.2 forward of that, 1 m up: upright against the foot, a frame loses
    51 mm at its top of 0.255 m, and the skin; stood 70 mm forward it clears."""
    raked = [
        {"name": n, "along": "straight", "points": [[x, y, z], [4, y, z]]}
        for n, x, y, z in (("keel", 0.0, 0.0, 0.0), ("chine", 0.0, 1.0, 0.0), ("sheer", 0.2, 1.0, 1.0))
    ]
    found = told(boat((0.4, 0.6, 0.25), (0.2, 0.0, 0.13), raked))
    assert "aft, in the middle" in found.text
    assert sizes(found)[-1][0] == pytest.approx(0.2 * 0.255 + 0.00255, abs=2e-4)
    assert told(boat((0.4, 0.6, 0.25), (0.27, 0.0, 0.13), raked)).level == "fine"


def test_a_foot_in_the_bottom_is_told_as_one() -> None:
    """Its foot 2 mm under the inside of a flat bottom of 3 mm."""
    found = told(boat((0.4, 1.2, 0.3), (2.0, 0.0, 0.151)))
    assert "all of its foot" in found.text
    assert sizes(found)[0] == (pytest.approx(1.2), pytest.approx(0.002, abs=1e-4))


def test_its_room_is_what_is_left_of_it() -> None:
    placed = boat((0.4, 1.8, 0.4), (2.0, 0.0, 0.25), flared_lines()).placed("frame")
    assert placed is not None
    (solid,) = placed.built.solids
    lowest = min(p.footprint.bounds[3] for p in solid.pieces)
    assert lowest == pytest.approx(0.8140, abs=0.001)


def test_turned_it_is_scribed_where_it_is() -> None:
    assert told(boat((0.4, 0.6, 0.3), (2.0, 0.0, 0.2), turn=30)).title == "It stands turned"
    assert told(boat((0.4, 0.6, 0.3), (2.0, 0.0, 0.2), turn=90)).level == "fine"


def test_forward_where_she_narrows_more_comes_off() -> None:
    """Sides that come in 0.1 for each metre: 1.7 wide, from 1.8 to 2.2 m it is 0.03 and 0.07 over, and
    the skin of 2.5 mm."""
    narrow = [
        {"name": n, "along": "straight", "points": [[0, y, z], [4, 0.6 * y, z]]}
        for n, y, z in (("keel", 0.0, 0.0), ("chine", 1.0, 0.0), ("sheer", 1.0, 1.0))
    ]
    found = told(boat((0.4, 1.7, 0.3), (2.0, 0.0, 0.2), narrow))
    skin = 0.0025 * 1.01**0.5
    aft, fore = 0.85 - (1 - 0.1 * 1.802) + skin, 0.85 - (1 - 0.1 * 2.198) + skin
    assert [wide for wide, _ in sizes(found)] == pytest.approx([aft, aft, fore, fore], abs=2e-4)
