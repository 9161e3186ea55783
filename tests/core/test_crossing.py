"""No part stands in another one or in the hull's skin, whatever is planned."""

import numpy as np
import pytest
from hypothesis import Phase, example, given, settings
from hypothesis import strategies as st

from stirrup.demo.seed import demo_plan
from tests.boats import derive, skiff_plan
from tests.crossing import crossings, depth, through_skin

TOLD = {"HATCH-EDGE", "HATCH-NEAR", "DECK-SUPPORT", "CANNOT-BUILD"}


def box_at(x: float, y: float, z: float, size: float = 1.0) -> np.ndarray:
    return np.array([(x + a * size, y + b * size, z + c * size)
                     for a in (0, 1) for b in (0, 1) for c in (0, 1)])  # fmt: skip


def test_how_deep_two_bodies_stand_in_one_another() -> None:
    assert depth(box_at(0, 0, 0), box_at(0.9, 0.2, 0.3)) == pytest.approx(0.1)
    assert depth(box_at(0, 0, 0), box_at(1.0, 0.2, 0.3)) == 0.0
    # a corner cut off at 45 degrees, 0.2 from it along each axis: its plane is 0.2 / sqrt(2) in
    wedge = np.array([(x, y, z) for z in (0, 1) for x, y in ((0, 0), (0.8, 0), (1, 0.2), (1, 1), (0, 1))])
    assert depth(wedge, box_at(0.9, -0.9, 0)) == pytest.approx(0.0, abs=1e-9)
    assert depth(wedge, box_at(0.8, -0.8, 0)) == pytest.approx(0.2 / np.sqrt(2), rel=1e-6)


@pytest.mark.parametrize("name", ["sedge-hopper", "teal-mule", "old-copper", "grey-riffle"])
def test_the_demo_boats_go_together(name: str) -> None:
    derived = derive(demo_plan(f"{name}.stirrup.json"))
    assert crossings(derived) == {}
    if name != "old-copper":  # her bench rises over the sheer, where no skin is to be met
        pods = {p.label for b in derived.built if b.fitting == "pods-1" for p in b.panels}
        assert set(through_skin(derived)) <= pods  # they hang outside


hatches = st.fixed_dictionaries(
    {
        "x": st.floats(0.1, 0.9), "y": st.floats(-0.6, 0.6),
        "clear_length": st.floats(0.15, 0.6), "clear_width": st.floats(0.15, 0.6),
        "landing": st.floats(0.008, 0.05), "lid": st.sampled_from(["as the deck", "al-3.2", "ply-12"]),
        "corner": st.floats(0.0, 0.1), "runner": st.sampled_from([0.0, 0.012, 0.019]),
        "runner_cut_back": st.booleans(),
    },
    optional={
        "lies": st.sampled_from(["flush, over a gutter", "on the deck"]), "gutter": st.floats(0.015, 0.06),
    },
)  # fmt: skip
decks = st.fixed_dictionaries(
    {
        "aft": st.floats(0.2, 3.4), "length": st.floats(0.4, 3.0), "height": st.floats(0.15, 0.5),
        "spacing": st.floats(0.12, 0.7), "face": st.booleans(), "face_fore": st.booleans(),
        "members": st.sampled_from(["angle-25x25x3", "angle-40x40x3", "angle-50x50x5"]),
        "skin": st.sampled_from(["al-2.0", "al-3.2", "ply-12"]),
        "grain": st.sampled_from(["as it fits", "along the boat"]),
    },
    optional={"rises": st.sampled_from([2.0, -3.0])},
)  # fmt: skip


# three side by side: the shared frame stood in the runners of two
SIDE_BY_SIDE = (
    {"spacing": 0.4836312, "length": 2.1436928778944457, "face_fore": False, "face": False,
     "skin": "al-2.0", "aft": 1.7364745296186337, "height": 0.34407, "members": "angle-50x50x5",
     "grain": "as it fits"},
    [{"runner_cut_back": False, "x": 0.7343102138799104, "landing": 0.026038717, "y": 0.012,
      "lid": "al-3.2", "corner": 0.0625, "clear_width": 0.1879028, "clear_length": 1 / 3, "runner": 0.019},
     {"runner_cut_back": False, "clear_length": 0.4713000431210814, "y": 0.0, "clear_width": 0.23424672,
      "x": 0.3400027926630314, "runner": 0.012, "corner": 0.018, "landing": 0.022288003498483623,
      "lid": "as the deck"},
     {"clear_width": 0.33, "runner_cut_back": False, "lid": "as the deck", "corner": 0.045,
      "x": 0.14883774877695652, "y": 0.4187352607616778, "clear_length": 0.27422712180851205,
      "runner": 0.012, "landing": 0.008322703016285092}],
)  # fmt: skip


@pytest.mark.slow
@given(decks, st.lists(hatches, max_size=3))
@example(*SIDE_BY_SIDE)
# a failing plan is small enough to read as it is; making it smaller takes minutes
@settings(max_examples=40, deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
def test_no_part_crosses_another_unless_it_is_told(deck: dict, lids: list[dict]) -> None:
    deck = dict(deck)
    length = deck.pop("length")
    host = {"id": "deck", "kind": "raised_deck", "name": "Deck", "mark": "D1", "fore": deck["aft"] + length,
            **deck}  # fmt: skip
    guests = [
        {"id": f"h{k}", "kind": "hatch", "name": f"Hatch {k}", "mark": f"H{k}", "deck": "deck",
         **lid, "x": deck["aft"] + lid["x"] * length}
        for k, lid in enumerate(lids, 1)
    ]  # fmt: skip
    derived = derive(skiff_plan(fittings=[host, *guests]))
    told = [f for f in derived.findings if f.code in TOLD and f.level != "fine"]
    # the members round a hatch that runs off its deck are where it asks for them, and that is told
    if not told:
        assert (through_skin(derived), crossings(derived)) == ({}, {})


FACED = {"face": True, "length": 0.9037, "skin": "ply-12", "face_fore": False, "spacing": 0.3866,
         "height": 0.37, "aft": 3.4, "members": "angle-40x40x3"}  # fmt: skip


# of 12 mm ply, where the bow narrows by more than its gap within the face's thickness
NARROWING = {"skin": "ply-12", "height": 0.4739751739740883, "grain": "along the boat", "face_fore": True,
             "length": 1.4, "spacing": 1 / 3, "aft": 3.171754903297796, "members": "angle-25x25x3",
             "face": False}  # fmt: skip


@pytest.mark.slow
@given(decks)
@example(NARROWING)
@example(FACED)  # the foot of a leaning leg stood in the face
@settings(max_examples=20, deadline=None, phases=[Phase.explicit, Phase.reuse, Phase.generate])
def test_a_deck_without_hatches_goes_together_and_in(deck: dict) -> None:
    deck = dict(deck)
    length = deck.pop("length")
    host = {"id": "deck", "kind": "raised_deck", "name": "Deck", "mark": "D1", "fore": deck["aft"] + length,
            **deck}  # fmt: skip
    derived = derive(skiff_plan(fittings=[host]))
    assert (through_skin(derived), crossings(derived)) == ({}, {})
