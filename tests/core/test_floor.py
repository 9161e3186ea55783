"""Floors worked by hand: in a box hull 4 x 2 x 1 m (3 mm bottom, 2.5 mm sides) and in a wedge."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds import floor
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import HATCH, box_lines, build_data, derive, plan, surface, wedge_lines

FLOOR: dict[str, Any] = {
    "kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.5,
    "height": 0.1, "skin": "ply-12", "bearers": "ply-12",
}  # fmt: skip
T = 0.012
LID = {**HATCH, "deck": "floor", "x": 1.5, "y": 0.3, "latch": "latch-57"}
UNDER = 0.1 - T


def boat(fittings: tuple[dict[str, Any], ...] = (), **choices: Any) -> Derived:
    return derive(plan(fittings=[{**FLOOR, **choices}, *fittings]))


def made(derived: Derived) -> Built:
    built = derived.fitting("floor")
    assert built is not None
    return built


def bearers(built: Built) -> dict[str, Polygon]:
    return {p.label: p.polygon for p in built.panels if "/bearer/" in p.key}


def stations(built: Built) -> list[float]:
    return sorted({round(p.frame.origin[0], 6) for p in built.panels if "/bearer/" in p.key})


def test_outline_stands_off_the_sides() -> None:
    built = made(boat())
    assert built.region.bounds == pytest.approx((0.5, -0.9945, 2.5, 0.9945))
    assert built.top_m == pytest.approx(0.1)


def test_bearers_every_350_mm_at_most() -> None:
    # from 0.54 to 2.46: 1.92 m in 6 bays of 320 mm
    assert stations(made(boat())) == pytest.approx([0.54 + 0.32 * k for k in range(7)])


def test_a_bearer_fills_the_section_less_its_bed_and_its_limber_hole() -> None:
    shape = bearers(made(boat()))["F1-X1"]
    # 3 mm off the sides at 0.9975 and off the bottom at 0.003, up to the underside
    assert shape.bounds == pytest.approx((-0.9945, 0.006, 0.9945, UNDER))
    assert shape.area == pytest.approx(1.989 * (UNDER - 0.006) - 0.04 * 0.02, rel=1e-4)
    # the hole lies in the middle of the bottom
    assert not shape.contains(box(-0.01, 0.007, 0.01, 0.02))
    assert bearers(made(boat(limber=0.0)))["F1-X1"].area == pytest.approx(1.989 * (UNDER - 0.006), rel=1e-4)


def test_in_a_wedge_a_bearer_is_a_triangle() -> None:
    """The bottom rises 0.2 on 1 m to either side, 3 mm thick: its inside lies 3 / cos a = 3.06 mm up at the
    keel, and 3 mm of bed make it 6.12. At 0.188 under the skin it is (0.188 - 0.00612) / 0.2 = 0.909 m
    wide to a side."""
    data = build_data(wedge_lines(0.2), fittings=[{**FLOOR, "height": 0.2, "limber": 0.0}])
    shape = bearers(made(derive(from_data(data))))["F1-X1"]
    rise = 0.006 / np.cos(np.arctan(0.2))
    half = (0.2 - T - rise) / 0.2
    assert shape.bounds == pytest.approx((-half, rise, half, 0.2 - T), abs=2e-4)
    assert shape.area == pytest.approx(half * (0.2 - T - rise), rel=2e-3)


def test_a_joint_athwart_lies_between_two_bearers() -> None:
    """3.4 m by 1.989: sheets of 2.44 x 1.22 take neither. Parted along the middle over strips, and athwart
    at a bearer no farther than 2.428 from the aft end; there two stand, 50 mm on either side."""
    built = made(boat(aft=0.3, fore=3.7))
    # from 0.34 to 3.66: 3.32 in 10 bays of 332; the last within 0.3 + 2.428 is the 7th, at 2.664
    pair = [p for p in built.panels if p.label in ("F1-X8A", "F1-X8F")]
    assert [p.frame.origin[0] for p in pair] == pytest.approx([2.664 - 0.05, 2.664 + 0.05])
    skins = [p.polygon for p in built.panels if "/skin/" in p.key]
    assert len(skins) == 4
    edges = sorted({round(b, 4) for s in skins for b in (s.bounds[0], s.bounds[2])})
    assert edges == pytest.approx([0.3, 2.6635, 2.6645, 3.7])


def test_strips_under_the_joint_along_the_boat() -> None:
    built = made(boat())
    strips = [p for p in built.panels if "/strip/" in p.key]
    # one in each of the six bays, from bearer to bearer, 100 mm wide, under the skin
    assert len(strips) == 6
    for p in strips:
        assert (p.polygon.bounds[2] * 2, p.polygon.bounds[3] * 2) == pytest.approx((0.32 - T, 0.1))
        assert p.frame.origin[1:] == pytest.approx((0.0, UNDER - T / 2))
    joint = next(f for f in boat().findings if f.code == "SKIN-JOINT" and f.place == "floor")
    assert joint.level == "fine"


def test_where_bearers_are_set_and_in_which_order() -> None:
    found = framing_plan(made(boat((LID,))))
    assert found is not None
    first = found.of("bearer")[0]
    assert [line.at for line in first.along] == pytest.approx([0.54 - T / 2, 0.54 + T / 2])
    assert [(line.what, line.at) for line in first.across] == [
        ("port end, to port", pytest.approx(0.9945)),
        ("starboard end, to starboard", pytest.approx(0.9945)),
    ]  # fmt: skip
    assert [s.what for s in found.steps] == [
        "bearers", "members beside the hatches", "cross members between these", "strips under the joints",
        "skin",
    ]  # fmt: skip
    # the underside of the skin is where all of it ends
    assert found.heights[0].at == pytest.approx(UNDER)
    legs = {s.label: s.leg for s in found.members if s.role != "bearer"}
    assert legs == {"F1-H1A": "aft edge", "F1-H1F": "fore edge", "F1-H1P": "port edge",
                    "F1-H1S": "starboard edge"}  # fmt: skip


def test_screws_and_adhesive() -> None:
    count = {b.label: b.quantity for b in made(boat()).bought}
    # 1.989 m at 150 mm: 15 on each of seven bearers
    assert count["F1-Rs"] == 7 * 15
    # feet and sides are bedded: all of the outline but the top, two fillets of 7.7 mm² in 290 ml
    foot = 1.989 + 2 * (UNDER - 0.006) + 2 * 0.02
    assert count["F1-G"] == pytest.approx(7 * foot * 2 * 7.7e-6 / 290e-6, rel=1e-3)
    loose = {b.label: b.quantity for b in made(boat(fixed="lifts out")).bought}
    assert "F1-Rs" not in loose and loose["F1-Q"] == 4 * 2


def test_stringers_are_notched_over() -> None:
    stringer = {"id": "s", "kind": "stringer",
                "box": {"size": [3.0, 0.05, 0.04], "floor_centre": [1.5, 0.4, 0.003]}}  # fmt: skip
    built = made(derive(plan(fittings=[{**FLOOR, "limber": 0.0}], existing=[stringer])))
    whole = 1.989 * (UNDER - 0.006)
    # 50 mm wide and 43 high, with 3 mm on its sides and over it, from the foot at 6 mm up
    assert bearers(built)["F1-X1"].area == pytest.approx(whole - 0.056 * (0.046 - 0.006), rel=1e-4)


def test_a_hatch_lands_on_angles_between_bearers() -> None:
    derived = boat((LID,))
    built = made(derived)
    assert not [
        f for f in derived.findings if f.level in ("stop", "mend") and f.place in ("floor", "hatch")
    ]
    angles = {m.key.rsplit("/", 1)[1]: m for m in built.members}
    assert set(angles) == {"aft", "fore", "port", "starboard"}
    # clear 400 x 300, 25 mm of landing: the cut-out is 450 x 350. Of the 40 mm flange 25 lie inside of its
    # edge: middles 5 mm inside
    assert angles["aft"].path[0][0] == pytest.approx(1.5 - 0.225 + 0.005)
    assert angles["port"].path[0][1] == pytest.approx(0.3 + 0.175 - 0.005)
    assert angles["aft"].length == pytest.approx(0.35 - 0.01 - 0.04)
    assert angles["port"].length == pytest.approx(0.45 - 0.01 + 0.04)
    # the bearers at its ends stand behind the angles' legs: half a flange and half a bearer on
    assert any(abs(x - (1.28 - 0.026)) < 1e-6 for x in stations(built))
    assert any(abs(x - (1.72 + 0.026)) < 1e-6 for x in stations(built))
    # nothing stands in the opening
    hole = box(1.3, 0.15, 1.7, 0.45)
    for p in built.panels:
        if "/bearer/" in p.key:
            y0, _, y1, _ = p.polygon.bounds
            assert not box(p.frame.origin[0] - T / 2, y0, p.frame.origin[0] + T / 2, y1).intersects(hole)


def test_a_tank_under_it_is_in_the_way_of_its_bearers() -> None:
    tank = {"id": "fuel", "size": [0.5, 0.4, 0.06], "floor_centre": [1.5, 0.0, 0.01], "liquid": "petrol"}
    clash = [f for f in derive(plan(fittings=[FLOOR], tanks=[tank])).findings if f.code == "CLASH"]
    assert any({f.place, f.other} == {"floor", "fuel"} for f in clash)
    # between two bearers, at 1.18 and 1.5, it is clear
    tank |= {"size": [0.28, 0.4, 0.06], "floor_centre": [1.34, 0.0, 0.01]}
    assert not [f for f in derive(plan(fittings=[FLOOR], tanks=[tank])).findings if f.code == "CLASH"]


@pytest.mark.parametrize(
    ("choices", "level"),
    [
        ({}, "fine"),
        # 320 mm: 6 mm gives 0.0165 x 1295 x 0.32² / 148 = 14.7 mm laid on, 6.5 clamped; 12.6 in the bays at
        # the ends: more than 320 / 60 = 5.3
        ({"skin": "ply-6"}, "mend"),
        ({"skin": "alcomb-19"}, "look"),
        # 1.92 m in four bays of 480: 9 mm (D 501) gives 0.0165 x 1295 x 0.48² / 501 = 9.8 laid on and 4.3
        # clamped, some tenth less for the patch. Held by a quarter in the end bays: 0.9 x 8.4 = 7.6;
        # firm is up to 6.0, springy up to 8.0. Screws in wood do not make it tight
        ({"skin": "ply-9", "spacing": 0.5, "fixed": "lifts out"}, "look"),
        ({"skin": "ply-9", "spacing": 0.5}, "look"),
        # 320 mm: 0.44 of that, and 4.0 is firm
        ({"skin": "ply-9", "spacing": 0.32}, "fine"),
        # 2.5 mm sheet (D 100) laid on gives 22 mm and more over 320; fastened all round it pulls tight
        ({"skin": "al-2.5"}, "fine"),
        ({"skin": "al-2.5", "fixed": "lifts out"}, "mend"),
    ],
)
def test_how_far_it_gives(choices: dict[str, Any], level: str) -> None:
    found = next(f for f in boat(**choices).findings if f.code == "FLOOR-GIVES")
    assert found.level == level


def test_where_the_bottom_is_too_near_there_is_no_bearer() -> None:
    assert [f.level for f in boat().findings if f.code == "FLOOR-BEARS"] == ["fine"]
    # the underside 2 mm over the bottom's bed
    low = boat(height=0.008 + T, limber=0.0)
    found = next(f for f in low.findings if f.code == "FLOOR-BEARS")
    assert found.level == ("look" if not bearers(made(low)) else "fine")
    lower = boat(height=0.0055 + T, limber=0.0)
    assert next(f for f in lower.findings if f.code == "FLOOR-BEARS").level == "look"
    assert not bearers(made(lower))


def test_people_and_things_stand_on_it() -> None:
    derived = boat()
    ground = derived.footing.at(1.5, 0.2)
    assert ground is not None and ground.height_m == pytest.approx(0.1) and ground.name == "Floor"


def test_above_the_hull_it_says_so() -> None:
    found = next(f for f in boat(height=2.0).findings if f.code == "CANNOT-BUILD")
    assert "meets no hull" in found.text


SITES = {
    rise: Site(surface(wedge_lines(rise) if rise else box_lines()), catalogue=starting())
    for rise in (0.0, 0.1, 0.3)
}


@settings(max_examples=40, deadline=None)
@given(
    rise=st.sampled_from([0.0, 0.1, 0.3]), aft=st.floats(0.2, 1.5), long=st.floats(0.6, 2.2),
    over=st.floats(0.05, 0.2), spacing=st.floats(0.2, 0.6), skin=st.sampled_from(["ply-12", "al-2.5"]),
)  # fmt: skip
def test_nothing_crosses_the_skin_and_the_pieces_make_the_whole(
    rise: float, aft: float, long: float, over: float, spacing: float, skin: str
) -> None:
    site = SITES[rise]
    c = floor.FloorChoices.model_validate(
        {**FLOOR, "aft": aft, "fore": aft + long, "height": round(0.6 * rise + over + 0.02, 4),
         "spacing": spacing, "skin": skin}
    )  # fmt: skip
    try:
        built = floor.KIND.build(c, site)
    except CoreError:
        return
    skins = [p.polygon for p in built.panels if "/skin/" in p.key]
    # each joint takes a millimetre
    lost = built.region.area - sum(s.area for s in skins)
    assert -1e-6 <= lost <= 0.0011 * (3 * 2.2 + 3 * 2.0)
    for p in built.panels:
        if "/bearer/" not in p.key:
            continue
        for y, z in p.outline:
            bottom = rise * abs(y) + (0.003 if rise == 0 else 0.003 * np.sqrt(1 + rise * rise))
            assert (
                z >= bottom - 1e-4
                and abs(y) <= 1.0
                and z <= c.height - site.catalogue.sheet(skin).thickness + 1e-9
            )
    mass = sum(p.mass_kg for p in built.panels)
    assert sum(p.mass_kg * p.centre[1] for p in built.panels) / mass == pytest.approx(0.0, abs=1e-3)
