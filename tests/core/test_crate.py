"""Crates: laid out a quarter turn for hinges at the sides, and one of two kinds of sheet."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.kinds import locker_box, seat_box
from stirrup.exchange.catalogue import starting
from tests.boats import box_lines, surface

# 8 m long and wide: room for every box either way
SITE = Site(surface(box_lines(8.0, 8.0, 1.0)), catalogue=starting())


def locker(**choices: Any) -> Built:
    value = {"kind": "locker_box", "id": "it", "name": "It", "mark": "K1", "x": 4.0, "y": 0.0}
    c = locker_box.LockerBox.model_validate({**value, **choices})
    return locker_box.build(c, SITE)


SPIN = {"fore": "port", "aft": "starboard", "port": "aft", "starboard": "fore"}


@settings(max_examples=40, deadline=None)
@given(
    long=st.floats(0.3, 2.0), wide=st.floats(0.3, 2.0), lids=st.integers(1, 4),
    hinge=st.sampled_from(["fore", "aft"]), door=st.sampled_from(["none", "aft", "port"]),
)  # fmt: skip
def test_turned_a_quarter_it_is_the_same_box(
    long: float, wide: float, lids: int, hinge: str, door: str
) -> None:
    """Every part of the one, turned to port about its middle, lies where the other has one as heavy."""
    straight = locker(length=long, width=wide, lids=lids, hinge=hinge, door=door)
    side = SPIN.get(door, door)
    turned = locker(length=wide, width=long, lids=lids, hinge=SPIN[hinge], door=side)

    def told(built: Built, spin: bool) -> list[tuple[float, ...]]:
        out = []
        for p in built.parts:
            x, y, z = p.centre
            at = (-y, x - 4.0) if spin else (x - 4.0, y)
            out.append((round(p.mass_kg, 6), *(round(v, 6) + 0.0 for v in at), round(z, 6)))
        return sorted(out)

    for a, b in zip(told(straight, True), told(turned, False), strict=True):
        assert a == pytest.approx(b, abs=2e-6)


@settings(max_examples=40, deadline=None)
@given(
    long=st.floats(0.3, 2.0), wide=st.floats(0.3, 2.0), high=st.floats(0.15, 1.0), lids=st.integers(0, 4),
    hinge=st.sampled_from(["fore", "aft", "port", "starboard"]),
    skin=st.sampled_from(["al-2.5", "ply-12", "pvc-12"]),
)  # fmt: skip
def test_its_sheets_fill_its_outline_and_do_not_stand_in_one_another(
    long: float, wide: float, high: float, lids: int, hinge: str, skin: str
) -> None:
    built = locker(length=long, width=wide, height=high, lids=lids, hinge=hinge, skin=skin,
                   door="aft" if lids == 0 else "none")  # fmt: skip
    boxes = []
    for p in built.panels:
        if p.key.endswith("/door"):
            continue  # it lies outside on its wall
        t = p.sheet.thickness / 2
        points = [p.frame.at(u, v) for u, v in p.outline]
        flat = [i for i in range(3) if len({round(q[i], 9) for q in points}) == 1]
        assert len(flat) == 1
        low = [min(q[i] for q in points) - t * (i in flat) for i in range(3)]
        box_high = [max(q[i] for q in points) + t * (i in flat) for i in range(3)]
        boxes.append((low, box_high))
    assert [min(b[0][i] for b in boxes) for i in (0, 1)] == pytest.approx([4.0 - long / 2, -wide / 2])
    assert [max(b[1][i] for b in boxes) for i in (0, 1)] == pytest.approx([4.0 + long / 2, wide / 2])
    assert max(b[1][2] for b in boxes) - min(b[0][2] for b in boxes) == pytest.approx(high)
    for k, a in enumerate(boxes):
        for b in boxes[k + 1 :]:
            assert any(a[1][i] <= b[0][i] + 1e-9 or b[1][i] <= a[0][i] + 1e-9 for i in range(3))


@pytest.mark.parametrize(
    ("hinge", "expected"),
    [("fore", (4.3, 0.0)), ("aft", (3.7, 0.0)), ("port", (4.0, 0.2)), ("starboard", (4.0, -0.2))],
)
def test_where_it_is_hinged(hinge: str, expected: tuple[float, float]) -> None:
    built = locker(length=0.6, width=0.4, hinge=hinge)
    at = next(p.centre for p in built.bought if p.label == "K1-H")
    assert at[:2] == pytest.approx(expected)
    # the lid leans over that edge once it is open, and nowhere else past the box
    b = next(r for r in built.rooms if r.what == "lid swings").shape.bounds
    out = (b[0] < 3.69, b[3] > 4.31, b[1] < -0.21, b[4] > 0.21)
    assert out == tuple(hinge == side for side in ("aft", "fore", "starboard", "port"))


def bench(**choices: Any) -> Built:
    value = {"kind": "seat_box", "id": "it", "name": "It", "mark": "E1", "x": 4.0, "y": 0.0,
             "length": 0.42, "width": 0.95, "height": 0.36, "cover": "none"}  # fmt: skip
    return seat_box.build(seat_box.SeatBox.model_validate({**value, **choices}), SITE)


def test_a_hinge_between_two_kinds_of_sheet_has_two_kinds_of_fasteners() -> None:
    """930 mm of hinge: as many holes in either leaf. Plywood lids are screwed, metal walls riveted."""
    same = {b.key: b for b in bench(top="as its walls").bought}
    mixed = {b.key: b for b in bench(top="ply-12").bought}
    both = same["it/fasteners/hinge"].quantity
    assert mixed["it/fasteners/hinge"].quantity == both / 2
    assert "it/fasteners/lid" not in same
    assert "rivet" in mixed["it/fasteners/hinge"].item
    # 12 mm and 1.2 mm of hinge: a 12 mm screw ends 1.2 mm before it is through, one of 16 would be
    lid = mixed["it/fasteners/lid"]
    assert (lid.item, lid.quantity) == ("wood-4x12", both / 2)


def test_a_closed_top_of_another_sheet_is_screwed_to_its_cleats() -> None:
    """Two cleats of 945 - 60 mm at 75 mm: 13 each, once to the walls and once to the top."""
    same = {b.key: b.quantity for b in bench(top="al-2.5", lids=0).bought}
    mixed = {b.key: b.quantity for b in bench(top="ply-12", lids=0).bought}
    assert mixed["it/fasteners/top"] == 26
    # posts are shorter under the thicker top: 348 mm and 357.5 take 6 each on both legs
    assert same["it/fasteners/frame"] - mixed["it/fasteners/frame"] == 26
