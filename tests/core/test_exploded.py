"""A fitting taken apart: which way each part goes, and how it is seen."""

import math

import numpy as np
import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.exploded import APART, seen, taken_apart
from tests.boats import DECK, derive, plan
from tests.core.test_locker_box import LOCKER


def built(*fittings):
    return derive(plan(fittings=list(fittings))).built[0]


def gone(parts, label: str) -> np.ndarray:
    """How far a part is from home on the drawing."""
    part = next(p for p in parts if p.label == label)
    return np.subtract(part.at, part.home)


def test_the_view_is_isometric() -> None:
    # a metre along each axis is as long on the drawing: the root of two thirds
    for axis in ((1, 0, 0), (0, 1, 0), (0, 0, 1)):
        assert math.hypot(*seen(axis)) == pytest.approx(math.sqrt(2 / 3))
    # forward goes right and up, to port left and up, up goes up
    (fx, fy), (px, py), (ux, uy) = (seen(a) for a in ((1, 0, 0), (0, 1, 0), (0, 0, 1)))
    assert fx > 0 < fy and px < 0 < py and ux == 0 < uy


def test_the_walls_of_a_box_go_out_each_to_its_own_side() -> None:
    box = built({**LOCKER, "on": None})
    parts = taken_apart(box)
    assert sorted(p.label for p in parts) == sorted(
        p.label for p in (*box.panels, *(m for m in box.members if m.fills))
    )
    ways = {
        "K1-A": (-1, 0, 0),
        "K1-F": (1, 0, 0),
        "K1-P": (0, 1, 0),
        "K1-S": (0, -1, 0),
        "K1-B": (0, 0, -1),
    }
    corners = np.array([p.frame.at(u, v) for p in box.panels for u, v in p.outline])
    far = APART * (corners.max(axis=0) - corners.min(axis=0)).max()
    for label, way in ways.items():
        # a hair: posts and cleats may reach as far as the walls do
        assert gone(parts, label) == pytest.approx(np.array(seen(way)) * far, rel=1e-3), label
    lid = "K1-L"
    assert gone(parts, lid) == pytest.approx(np.array(seen((0, 0, 1))) * far, rel=1e-3)


def test_of_a_deck_the_skin_goes_up_the_face_aft_and_what_is_between_stays() -> None:
    deck = built({**DECK, "face": True})
    parts = taken_apart(deck)
    by_key = {p.key.split("/", 1)[1]: p.label for p in (*deck.panels, *deck.members)}
    up, aft = np.array(seen((0, 0, 1))), np.array(seen((-1, 0, 0)))
    skin, face = gone(parts, by_key["skin/1"]), gone(parts, by_key["face"])
    assert skin == pytest.approx(up * np.linalg.norm(skin) / np.linalg.norm(up))
    assert face == pytest.approx(aft * np.linalg.norm(face) / np.linalg.norm(aft))
    port, starboard = (gone(parts, by_key[f"side/{s}"]) for s in ("port", "starboard"))
    assert port[0] < 0 < starboard[0] and port == pytest.approx(-starboard, abs=1e-9)
    cross = [label for key, label in by_key.items() if key.startswith("cross")]
    assert cross and all(gone(parts, label) == pytest.approx((0, 0)) for label in cross)


def test_nearer_parts_are_drawn_over_farther_ones() -> None:
    order = [p.label for p in taken_apart(built({**LOCKER, "on": None}))]
    # from aft and starboard: the fore and the port wall are the far ones
    assert max(order.index("K1-F"), order.index("K1-P")) < min(order.index("K1-A"), order.index("K1-S"))
    assert taken_apart(Built("nothing")) == []


def test_a_panel_in_the_middle_goes_up_or_forward() -> None:
    box = built({**LOCKER, "on": None})
    for key, way in (("bottom", (0, 0, 1)), ("aft", (1, 0, 0))):
        alone = next(p for p in box.panels if p.key.endswith(key))
        (drawn,) = taken_apart(Built("x", (alone,)))
        step = np.subtract(drawn.at, drawn.home)
        far = np.linalg.norm(step)
        assert far > 0 and step == pytest.approx(np.array(seen(way)) * far / np.linalg.norm(seen(way)))
