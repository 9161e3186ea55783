"""A deck from 1.0 to 2.1 m at 0.5 m of 2.5 mm sheet in a box 2 m wide, its face's foot on the bottom at
3 mm; room for toes under it 80 mm deep and 100 high."""

from typing import Any

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.framing_plan import framing_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive, skiff_plan
from tests.core.test_hatch import DECK
from tests.crossing import crossings, through_skin

T = 0.0025


def boat(**choices: Any) -> Derived:
    data = {**DECK, "skin": "al-2.5", "toe": 0.08, "toe_high": 0.1, **choices}
    return derive(from_data(build_data(box_lines(), fittings=[data])))


def deck(**choices: Any) -> Built:
    found = boat(**choices).fitting("deck")
    assert found is not None
    return found


def corners(built: Built, code: str) -> np.ndarray:
    panel = next(p for p in built.panels if p.label == f"D1-{code}")
    return np.array([panel.frame.at(u, v) for u, v in panel.outline])


def test_the_face_ends_over_the_toes_and_its_foot_stands_back() -> None:
    built = deck()
    face, kick, soffit = (corners(built, code) for code in ("F", "K", "U"))
    # the face begins 100 mm over the bottom, on the soffit
    assert (face[:, 2].min(), face[:, 2].max()) == pytest.approx((0.103, 0.5 - T), abs=1e-6)
    # the kick from the bottom less its gap of 5 mm to the soffit's underside, 80 mm further in
    assert (kick[:, 2].min(), kick[:, 2].max()) == pytest.approx((0.008, 0.103 - T), abs=1e-4)
    assert set(np.round(kick[:, 0], 6)) == {round(1.0 + T / 2 + 0.08, 6)}
    # the soffit from the face's front to 30 mm behind the kick
    assert soffit[:, 0].min() == pytest.approx(1.0, abs=1e-6)
    assert soffit[:, 0].max() == pytest.approx(1.0 + T / 2 + 0.08 + T / 2 + 0.03, abs=1e-6)
    assert set(np.round(soffit[:, 2], 6)) == {round(0.103 - T / 2, 6)}
    assert soffit[:, 1].max() == pytest.approx(0.997 - 0.005, abs=1e-3)


def test_two_angles_hold_them_from_behind() -> None:
    built = deck()
    first, second = (m for m in built.members if "toe-angle" in m.key)
    assert first.path[0][0] == pytest.approx(1.0 + T) and first.path[0][2] == pytest.approx(0.103)
    assert second.path[0][0] == pytest.approx(1.0 + T + 0.08)
    assert second.path[0][2] == pytest.approx(0.103 - T)
    # her side is 2.5 mm thick; gap and play of 5 mm each at either end
    assert first.length == pytest.approx(2 * (0.9975 - 0.005 - 0.005), abs=1e-4)
    parts = {b.label: b.quantity for b in built.bought}
    # every 75 mm along both legs of both, 1.975 m: 28 each
    assert parts["D1-Rk"] == 4 * 28


def test_nothing_of_it_without_and_the_rest_of_the_deck_is_as_it_was() -> None:
    plain, with_toe = deck(toe=0.0), deck()
    assert not [p for p in plain.panels if p.label in ("D1-K", "D1-U")]
    skins = [[p.outline for p in b.panels if "/skin/" in p.key] for b in (plain, with_toe)]
    assert skins[0] == skins[1]


def told(derived: Derived) -> list[Any]:
    return [f for f in derived.findings if f.code == "TOES"]


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        ({"toe": 0.06}, "fine"),
        ({"toe": 0.059}, "look"),
        # 80 mm and the soffit of 2.5
        ({"toe_high": 0.0825}, "fine"),
        ({"toe_high": 0.082}, "look"),
        # a deck at 0.2: 94.5 of face over 103 of toe kick
        ({"height": 0.2}, "mend"),
        ({"height": 0.21}, "fine"),
    ],
)
def test_whether_toes_go_under(choices: dict[str, Any], level: str) -> None:
    (found,) = told(boat(**choices))
    assert found.level == level
    assert told(boat(toe=0.0)) == [] and told(boat(face=False)) == []


def test_a_fore_face_stands_back_the_other_way() -> None:
    built = deck(face_fore=True)
    assert set(np.round(corners(built, "KF")[:, 0], 6)) == {round(2.1 - T / 2 - 0.08, 6)}
    assert corners(built, "UF")[:, 0].max() == pytest.approx(2.1, abs=1e-6)


SIDE = {"reaches": "along port", "inner": 0.4}


def test_along_a_side_its_inner_face_stands_back() -> None:
    """From 0.4 to port: the face at 0.40125, what stands back 80 mm further, under a soffit at 0.103."""
    built = deck(**SIDE)
    face, kick, soffit = (corners(built, code) for code in ("FI", "KI", "UI"))
    assert (face[:, 2].min(), face[:, 2].max()) == pytest.approx((0.103, 0.5 - T), abs=1e-6)
    assert (kick[:, 2].min(), kick[:, 2].max()) == pytest.approx((0.008, 0.103 - T), abs=1e-4)
    assert set(np.round(kick[:, 1], 6)) == {round(0.4 + T / 2 + 0.08, 6)}
    # behind the face under its aft edge, to its fore edge
    assert (kick[:, 0].min(), kick[:, 0].max()) == pytest.approx((1.0 + T, 2.1), abs=1e-6)
    assert (soffit[:, 1].min(), soffit[:, 1].max()) == pytest.approx((0.4, 0.4 + T + 0.08 + 0.03), abs=1e-6)
    # the face under its aft edge goes down to its foot: one does not stand there
    assert corners(built, "F")[:, 2].min() == pytest.approx(0.008, abs=1e-4)


def test_angles_along_it() -> None:
    first, second = (m for m in deck(**SIDE).members if "toe-angle" in m.key)
    assert first.path[0] == pytest.approx((1.0 + T + 0.005, 0.4 + T, 0.103), abs=1e-6)
    assert second.path[0] == pytest.approx((1.0 + T + 0.005, 0.4 + T + 0.08, 0.103 - T), abs=1e-6)
    assert first.length == pytest.approx(1.1 - T - 0.01, abs=1e-6)


def test_along_starboard_is_its_mirror() -> None:
    port, starboard = deck(**SIDE), deck(**{**SIDE, "reaches": "along starboard"})
    for code in ("FI", "KI", "UI"):
        a, b = corners(port, code), corners(starboard, code)
        assert sorted(np.round(a[:, 1], 6)) == sorted(np.round(-b[:, 1], 6))
        assert (a[:, 0].min(), a[:, 2].max()) == pytest.approx((b[:, 0].min(), b[:, 2].max()), abs=1e-6)
    assert port.mass_kg == pytest.approx(starboard.mass_kg, rel=1e-6)


def test_along_a_side_over_a_bottom_that_rises_toes_have_their_height_everywhere() -> None:
    """Down to the bottom of a skiff: the soffit is level, as high as asked for over the highest place."""
    value = {"id": "deck", "kind": "raised_deck", "name": "Deck", "mark": "D1", "aft": 1.0, "fore": 2.2,
             "height": 0.45, "skin": "al-2.5", "toe": 0.08, "toe_high": 0.1, **SIDE}  # fmt: skip
    built = derive(skiff_plan(fittings=[value])).fitting("deck")
    assert built is not None
    face, kick = (corners(built, code) for code in ("FI", "KI"))
    heads = face[:, 2].min() - T
    foot = [z for x, _, z in kick if z < heads - 0.02]
    # its foot keeps 5 mm off the bottom
    assert heads - (max(foot) - 0.005) == pytest.approx(0.1 - T, abs=0.002)


def test_along_a_side_without_an_inner_face_there_is_none() -> None:
    assert told(boat(**SIDE, face_inner=False)) == []
    (found,) = told(boat(**SIDE))
    assert found.level == "fine"
    (low,) = told(boat(**SIDE, height=0.2))
    assert low.level == "mend"


@pytest.mark.slow
@settings(max_examples=25, deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
@given(
    st.floats(0.02, 0.2), st.floats(0.05, 0.25), st.floats(0.5, 3.0), st.floats(0.25, 0.5),
    st.sampled_from(["al-2.5", "ply-12"]), st.sampled_from([0.0, 2.0, -3.0]),
    st.booleans(), st.sampled_from(["from side to side", "along port", "along starboard"]),
)  # fmt: skip
def test_wherever_it_is_nothing_stands_in_the_skin_or_another_part(
    deep: float,
    high: float,
    aft: float,
    height: float,
    skin: str,
    rises: float,
    fore: bool,
    reaches: str,
) -> None:
    value = {"id": "deck", "kind": "raised_deck", "name": "Deck", "mark": "D1", "aft": aft,
             "fore": aft + 1.2, "height": height, "skin": skin, "toe": deep, "toe_high": high,
             "rises": rises, "face_fore": fore, "reaches": reaches, "inner": 0.25}  # fmt: skip
    derived = derive(skiff_plan(fittings=[value]))
    if any(f.code in ("CANNOT-BUILD", "DECK-SUPPORT") and f.level != "fine" for f in derived.findings):
        return
    assert (through_skin(derived), crossings(derived)) == ({}, {})


def test_soffit_and_angles_are_fixed_with_the_faces() -> None:
    plan = framing_plan(deck())
    assert plan is not None
    steps = {s.what: set(s.labels) for s in plan.steps}
    assert {"D1-F", "D1-K", "D1-U", "D1-A1", "D1-A2"} <= steps["faces"]
    assert not steps["skin"] & {"D1-U"}
