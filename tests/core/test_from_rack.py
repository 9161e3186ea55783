"""What the rack is good for: rectangles and lengths by hand."""

from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.from_rack import from_rack, holding, same_sheet, same_stick
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, box_lines, build_data, derive

CAT = starting()
PART = {"kind": "own_part", "id": "part", "name": "Shelf", "mark": "O1", "x": 2.0, "y": 0.3, "z": 0.5,
        "width": 0.40, "height": 0.30, "count": 2}  # fmt: skip


def boat(*rests: dict[str, Any], sticks: Any = (), more: Any = (), **cutting: Any) -> Derived:
    sheets = [{"id": f"r{k}", "stock": "ply-12", **r} for k, r in enumerate(rests)]
    data = build_data(
        box_lines(4.0, 2.0, 1.0), fittings=[PART, *more],
        cutting={"sheets": sheets, "sticks": list(sticks), "kerf": 0.003, "margin": 0.006, **cutting},
    )  # fmt: skip
    return derive(from_data(data))


@pytest.mark.parametrize(
    ("rests", "missing"),
    [
        ([], 2),
        # one of 412 x 312 takes one, two of them two; 812 x 312 are 3 mm short of two and a saw's cut
        ([{"width": 0.412, "height": 0.312}], 1),
        ([{"width": 0.412, "height": 0.312, "count": 2}], 0),
        ([{"width": 0.812, "height": 0.312}], 1),
        ([{"width": 0.815, "height": 0.312}], 0),
        # its grain runs along it: across there is none
        ([{"width": 0.312, "height": 0.412, "count": 2}], 2),
        ([{"width": 0.412, "height": 0.312, "count": 2, "stock": "al-2.5"}], 2),
    ],
)
def test_what_the_rack_holds_of_a_thing(rests: list[dict[str, Any]], missing: int) -> None:
    (found,) = from_rack(boat(*rests))
    assert (found.title, found.parts, len(found.missing)) == ("Shelf", 2, missing)
    assert found.whole is (missing == 0)


def test_one_thing_does_not_take_it_from_another() -> None:
    """Each is asked as if all of the rack were there for it."""
    other = {**PART, "id": "other", "mark": "O2", "name": "Other", "x": 3.0}
    rows = from_rack(boat({"width": 0.815, "height": 0.312}, more=[other]))
    assert [r.whole for r in rows] == [True, True]


def test_sticks_count_as_well_and_whole_things_come_first() -> None:
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.3}
    derived = boat({"width": 0.815, "height": 0.312}, more=[deck])
    built = derived.fitting("deck")
    assert built is not None
    rows = from_rack(derived)
    assert [r.thing for r in rows] == ["part", "deck"]
    assert len(rows[1].missing) == len(built.panels) + len(built.members)
    stock = built.members[0].stock
    long = [{"id": "s", "stock": stock, "length": 6.0, "count": 5}]
    with_sticks = {r.thing: r for r in from_rack(boat(more=[deck], sticks=long))}
    assert len(with_sticks["deck"].missing) == len(built.panels)


def test_one_stick_holds_what_is_as_long_as_it_and_no_more() -> None:
    deck = {**DECK, "aft": 1.0, "fore": 3.0, "height": 0.3}
    bare = boat(more=[deck]).fitting("deck")
    assert bare is not None
    lengths = {m.label: m.length for m in bare.members}
    stick = [{"id": "s", "stock": bare.members[0].stock, "length": 3.0, "count": 1}]
    deck_row = next(r for r in from_rack(boat(more=[deck], sticks=stick)) if r.thing == "deck")
    held = [v for label, v in lengths.items() if label not in deck_row.missing]
    assert held and sum(held) <= 3.0 and any(label in deck_row.missing for label in lengths)


def test_what_is_cut_already_is_not_asked_for() -> None:
    data = build_data(box_lines(4.0, 2.0, 1.0), fittings=[PART])
    part = {"id": "part/piece/1", "thing": "part", "label": "O1-P1", "stock": "ply-12",
            "outline": [[0, 0], [0.4, 0], [0.4, 0.3], [0, 0.3]]}  # fmt: skip
    done = [{"id": "done-1", "stock": "ply-12", "parts": ["part/piece/1"]}]
    data |= {"cut": [part], "cutting": {"done": done}}
    (found,) = from_rack(derive(from_data(data)))
    assert (found.parts, found.missing) == (1, ("O1-P2",))


def test_which_leftovers_hold_a_part_the_smallest_first() -> None:
    derived = boat({"width": 1.0, "height": 1.0, "place": "wall"}, {"width": 0.412, "height": 0.312},
                   {"width": 0.411, "height": 0.312}, {"width": 2.0, "height": 0.2})  # fmt: skip
    panel = derived.built[0].panels[0]
    assert [r.id for r in holding(derived, panel)] == ["r1", "r0"]


def test_the_same_stuff_in_another_size_will_do() -> None:
    assert same_sheet(CAT, "al-2.5", "al-2.5-10ft") and same_sheet(CAT, "gone", "gone")
    assert not same_sheet(CAT, "al-2.5", "al-2.0") and not same_sheet(CAT, "ply-12", "pvc-12")
    assert not same_sheet(CAT, "al-2.5", "angle-40x40x3")
    assert same_stick(CAT, "angle-40x40x3", "angle-40x40x3")
    assert not same_stick(CAT, "angle-40x40x3", "angle-60x60x5")
