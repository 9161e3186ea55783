"""What angles and strips of boxes fill: as much as their sections say, inside of the walls."""

from itertools import product
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from stirrup.core.contract.gives import Built
from stirrup.core.fittings.angles import angle_bodies, bent_flat
from stirrup.core.kinds import console_box
from stirrup.core.parts.entries import Section
from tests.core.test_crate import SITE, locker

ANGLE = Section(id="it", name="It", material="6061-T6", a=0.04, b=0.03, t=0.003)
FLAT = ANGLE.model_copy(update={"shape": "flat", "a": 0.04, "b": 0.04})


def corners(body: Any) -> list[tuple[float, ...]]:
    return sorted(tuple(round(v, 9) + 0.0 for v in p) for p in body)


def block(x: Any, y: Any, z: Any) -> list[tuple[float, ...]]:
    return sorted(product(x, y, z))


def test_an_angle_by_hand() -> None:
    # heel along x at y = 1, z = 0.5: its leg of 40 hangs down, its flange of 30 goes to port
    leg, flange = angle_bodies(ANGLE, ((2.0, 1.0, 0.5), (2.6, 1.0, 0.5)), (0, 0, -1), (0, 1, 0))
    assert corners(leg) == sorted(
        (x, y, z) for x in (2.0, 2.6) for y in (1.0, 1.003) for z in (0.46, 0.497)
    )
    assert corners(flange) == sorted(
        (x, y, z) for x in (2.0, 2.6) for y in (1.0, 1.03) for z in (0.497, 0.5)
    )


def test_a_flat_bent_square_over_an_edge_by_hand() -> None:
    # over an edge along y: 20 mm down the face aft of it, 20 forward under a level top, 3 thick inside
    face, top = bent_flat(FLAT, ((0.0, 0.2, 0.9), (0.0, -0.2, 0.9)), ((0, 0, -1), (1, 0, 0)),
                          ((1, 0, 0), (0, 0, -1)))  # fmt: skip
    assert corners(face) == sorted(
        (x, y, z) for x in (0.0, 0.003) for y in (0.2, -0.2) for z in (0.88, 0.9)
    )
    assert corners(top) == sorted((x, y, z) for x in (0.0, 0.02) for y in (0.2, -0.2) for z in (0.897, 0.9))


def filled_m3(built: Built) -> list[tuple[float, float]]:
    """Of each member: what its bodies fill, and section by length."""
    return [
        (sum(ConvexHull(body).volume for body in m.fills), m.section.area_m2 * m.length)
        for m in built.members
    ]


@settings(max_examples=40, deadline=None)
@given(
    long=st.floats(0.3, 2.0), wide=st.floats(0.3, 2.0), high=st.floats(0.15, 1.0), lids=st.integers(0, 4),
    hinge=st.sampled_from(["fore", "aft", "port", "starboard"]),
    skin=st.sampled_from(["al-2.5", "ply-12"]),
)  # fmt: skip
def test_members_of_a_box_fill_their_section_inside_of_its_walls(
    long: float, wide: float, high: float, lids: int, hinge: str, skin: str
) -> None:
    built = locker(length=long, width=wide, height=high, lids=lids, hinge=hinge, skin=skin, door="aft")
    for filled, told in filled_m3(built):
        assert filled == pytest.approx(told, rel=1e-6)
    t = built.panels[-1].sheet.thickness
    low = min(p[2] for b in built.members for body in b.fills for p in body)
    for m in built.members:
        for x, y, z in (p for body in m.fills for p in body):
            assert abs(x - 4.0) <= long / 2 - t + 1e-9 and abs(y) <= wide / 2 - t + 1e-9
            assert low - 1e-9 <= z <= low + high - t + 1e-9
    # posts and cleats stand clear of one another: no box round the one reaches into that of the other
    boxes = [
        (m.key, [(min(c), max(c)) for c in zip(*(p for b in m.fills for p in b), strict=True)])
        for m in built.members
        if "/bearer/" not in m.key
    ]
    for i, (one, a) in enumerate(boxes):
        for other, b in boxes[:i]:
            shared = [min(p[1], q[1]) - max(p[0], q[0]) for p, q in zip(a, b, strict=True)]
            assert min(shared) < 1e-9, (one, other)


@settings(max_examples=30, deadline=None)
@given(
    height=st.floats(0.6, 1.1), length=st.floats(0.35, 0.8), width=st.floats(0.4, 0.9),
    fall=st.floats(0.0, 5.0), hand=st.sampled_from([1, -1]),
)  # fmt: skip
def test_members_of_a_console_fill_their_section(
    height: float, length: float, width: float, fall: float, hand: int
) -> None:
    value = {"kind": "console_box", "id": "it", "name": "It", "mark": "K1", "x": 4.0, "y": 0.5 * hand,
             "height": height, "length": length, "width": width, "fall": fall, "shelf": True}  # fmt: skip
    built = console_box.KIND.build(console_box.ConsoleBox.model_validate(value), SITE)
    assert built.members and all(m.fills for m in built.members)
    for m, (filled, told) in zip(built.members, filled_m3(built), strict=True):
        # the foremost angle is opened or closed by the fall of the top, a strip bent at its middle
        off = 0.05 if "/bend/" in m.key else 1e-6
        assert filled == pytest.approx(told, rel=off), m.key
    for m in built.members:
        for _, y, z in (p for body in m.fills for p in body):
            assert abs(y - 0.5 * hand) <= width / 2 + 1e-9 and z - 0.003 >= -1e-9
