"""Linings by hand: in a box hull 4 x 2 x 1 m with sides of 2.5 mm, and between sides that flare 1 in 3."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, flared_lines, plan, skiff_plan

LINING: dict[str, Any] = {
    "kind": "lining", "id": "lining", "name": "Lining", "mark": "W1", "side": "port", "aft": 1.0,
    "fore": 2.0, "low": 0.3, "high": 0.8,
}  # fmt: skip


def made(derived: Derived) -> Built:
    built = derived.fitting("lining")
    assert built is not None
    return built


def boat(**choices: Any) -> Built:
    return made(derive(plan(fittings=[{**LINING, **choices}])))


def bends(derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == "LINING-BENDS")


def test_a_flat_side_takes_a_rectangle() -> None:
    built = boat()
    (panel,) = built.panels
    u, v = zip(*panel.outline, strict=True)
    assert (max(u) - min(u), max(v) - min(v)) == pytest.approx((1.0, 0.5))
    # 6 mm of board on battens of 20 on the inside of the skin
    assert panel.centre == pytest.approx((1.5, 1.0 - 0.0025 - 0.020 - 0.003, 0.55))
    other = boat(side="starboard").panels[0]
    assert other.centre == pytest.approx((1.5, -panel.centre[1], 0.55))


def test_battens_stand_at_both_ends_and_between() -> None:
    built = boat(spacing=0.4)
    # 40 mm wide, their middles 20 from the ends: 0.96 m in three bays of 0.32
    assert [m.path[0][0] for m in built.members] == pytest.approx([1.02, 1.34, 1.66, 1.98])
    for m in built.members:
        assert m.length == pytest.approx(0.5)
        ys = [p[1] for body in m.fills for p in body]
        assert (min(ys), max(ys)) == pytest.approx((0.9775, 0.9975))
    screws = next(p for p in built.bought if p.group == "fasteners")
    # 0.5 m at 150 mm: one at each end and three between, or closer
    assert screws.quantity == 4 * 5
    bed = next(p for p in built.bought if p.key.endswith("/bed"))
    assert bed.quantity == pytest.approx(4 * 0.5 * 0.04 * 0.002 / 0.00029)


def test_a_long_one_is_in_pieces_that_sheets_give() -> None:
    built = boat(aft=0.2, fore=3.8)
    first, second = built.panels
    long = [max(u for u, _ in p.outline) - min(u for u, _ in p.outline) for p in (first, second)]
    # 3.6 m less 2 mm of play, in two
    assert long == pytest.approx([1.799, 1.799])


def test_a_cover_on_the_hull_has_no_battens() -> None:
    built = boat(way="cover on the hull", cover="vinyl")
    assert not built.panels and not built.members and not built.solids
    cover = next(p for p in built.bought if p.group == "cover")
    assert cover.quantity == pytest.approx(0.5)
    assert cover.centre[:2] == pytest.approx((1.5, 0.9975))


def test_a_flaring_side_is_higher_laid_flat() -> None:
    """Sides that go out 0.2 m in 0.6: 0.3 m of height are 0.3 x sqrt(1 + 1/9) along the side."""
    data = build_data(flared_lines(), fittings=[{**LINING, "low": 0.2, "high": 0.5}])
    derived = derive(from_data(data))
    (panel,) = made(derived).panels
    v = [q for _, q in panel.outline]
    assert max(v) - min(v) == pytest.approx(0.3 * math.sqrt(1 + 1 / 9))
    assert panel.frame.across == pytest.approx(tuple(np.array([0, 1, 3]) / math.sqrt(10)), abs=1e-9)
    assert bends(derived).level == "fine"


def test_what_bends_and_what_does_not() -> None:
    # over the chine of the box the side turns into the bottom: rulings leave it far behind
    derived = derive(plan(fittings=[LINING]))
    assert bends(derived).level == "fine" and bends(derived).values["sag"].value == pytest.approx(
        0.0, abs=1e-9
    )
    knuckled = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, 0.8, 0.1], [4, 0.8, 0.1]]},
        {"name": "knuckle", "along": "straight", "points": [[0, 1.0, 0.4], [4, 1.0, 0.4]]},
        {"name": "sheer", "along": "straight", "points": [[0, 1.0, 0.8], [4, 1.0, 0.8]]},
    ]  # fmt: skip
    over = {**LINING, "low": 0.2, "high": 0.6}
    told = bends(derive(from_data(build_data(knuckled, fittings=[over]))))
    # halfway up, at the knuckle, the side stands a third of 0.2 m out from the ruling
    assert told.level == "look" and told.values["sag"].value == pytest.approx(0.2 / 3, abs=0.003)
    below = {**over, "high": 0.39}
    assert bends(derive(from_data(build_data(knuckled, fittings=[below])))).level == "fine"


def test_beside_the_boat_there_is_nothing_to_line() -> None:
    for wrong, words in (
        ({"high": 3.0}, "no side at 1.000 m"),
        ({"aft": 8.0, "fore": 9.0}, "no side to line"),
    ):
        told = derive(plan(fittings=[{**LINING, **wrong}])).findings
        assert words in next(f for f in told if f.code == "CANNOT-BUILD").text


@settings(max_examples=25, deadline=None)
@given(
    aft=st.floats(0.2, 3.5), long=st.floats(0.3, 1.2), low=st.floats(0.15, 0.3), high=st.floats(0.05, 0.25),
    side=st.sampled_from(["port", "starboard"]),
)  # fmt: skip
def test_laid_flat_it_is_as_large_as_the_side(
    aft: float, long: float, low: float, high: float, side: str
) -> None:
    """Its area is that of the side by two triangles a cell; nothing of it stands outside of the boat."""
    value = {**LINING, "side": side, "aft": aft, "fore": aft + long, "low": low, "high": low + high}
    derived = derive(skiff_plan(fittings=[value]))
    built = made(derived)
    for panel in built.panels:
        ring = np.array(panel.outline)
        x, y = ring[:, 0], ring[:, 1]
        area = abs((x * np.roll(y, -1) - y * np.roll(x, -1)).sum()) / 2
        assert panel.polygon.area == pytest.approx(area)
        # no smaller than seen from the side
        assert panel.polygon.area >= long * high - 1e-6
    (solid,) = built.solids
    for piece in solid.pieces:
        for x_, y_, z_ in piece.corners:  # type: ignore[union-attr]
            outline = derived.surface
            assert (
                abs(y_) <= float(outline.outside.high[1]) + 1e-6 and z_ >= low - 0.03 and x_ >= aft - 0.03
            )


def test_a_cover_that_is_none_is_told_and_one_that_is_bends_every_way() -> None:
    none = derive(plan(fittings=[{**LINING, "way": "cover on the hull"}]))
    assert (bends(none).level, bends(none).title) == ("mend", "No cover is chosen")
    chosen = derive(plan(fittings=[{**LINING, "way": "cover on the hull", "cover": "vinyl"}]))
    assert not [f for f in chosen.findings if f.code == "LINING-BENDS"]
