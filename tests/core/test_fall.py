"""Floors that fall and decks that rise: in a box hull 4 x 2 x 1 m (3 mm bottom, 2.5 mm sides) by hand.

Everything is told by its plane: z = height at the aft edge + rise x distance forward of it.
"""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon, box

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.dam import Dam
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.contract.obstacle import obstacle_of
from stirrup.core.contract.schools import USUAL
from stirrup.core.derive import Derived
from stirrup.core.document import Box
from stirrup.core.findings import Finding
from stirrup.core.fit.water import flat_stretches
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds import raised_deck
from stirrup.core.marking import marking
from stirrup.core.parts.model import Bent, Frame, Member, Panel
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.where import extent_of
from stirrup.core.space.shapes import Prism, Swept, exits
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, box_lines, derive, plan, skiff_plan, surface
from tests.core.test_floor import FLOOR, LID
from tests.core.test_locker_box import LOCKER
from tests.crossing import crossings, through_skin

FALLING = {**FLOOR, "lies": "falls aft", "fall": 2.0}
SITE = Site(surface(box_lines(4.0, 2.0, 1.0)), catalogue=starting())
RISE = math.tan(math.radians(2.0))
T = 0.012


def boat(*fittings: dict[str, Any], **more: Any) -> Derived:
    return derive(plan(fittings=list(fittings), **more))


def made(derived: Derived, id_: str = "floor") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def top(x: float) -> float:
    """The falling floor's plane: 0.1 m at its aft edge at 0.5 m."""
    return 0.1 + RISE * (x - 0.5)


def test_its_skin_lies_in_the_plane_and_is_longer_than_from_above() -> None:
    built, level = made(boat(FALLING)), made(boat(FLOOR))
    skins = [p for p in built.panels if "/skin/" in p.key]
    for p in skins:
        for u, v in p.outline:
            x, _, z = p.frame.at(u, v)
            assert z == pytest.approx(top(x) - T / 2, abs=1e-9)
    # 2 m long from above less 1 mm of play at its joint, 1.995 - 2 x 3 mm wide; 1 / cos 2° longer along
    area = sum(p.polygon.area for p in skins)
    assert area == pytest.approx(1.999 * 1.989 / math.cos(math.radians(2.0)), abs=2e-5)
    flat = sum(p.mass_kg for p in level.panels if "/skin/" in p.key)
    assert sum(p.mass_kg for p in skins) == pytest.approx(flat / math.cos(math.radians(2.0)), rel=1e-6)


def test_its_bearers_stand_upright_and_end_under_it() -> None:
    built = made(boat(FALLING))
    bearers = [p for p in built.panels if "/bearer/" in p.key]
    assert len(bearers) >= 4
    for p in bearers:
        assert (p.frame.along, p.frame.across) == ((0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        x = p.frame.origin[0]
        low, high = min(v for _, v in p.outline), max(v for _, v in p.outline)
        z0 = p.frame.origin[2]
        # a bed of 3 mm on a bottom of 3 mm; the underside of the skin. Its 12 mm stand on a slope as laid
        # out: 0.2 mm
        assert z0 + low == pytest.approx(0.006, abs=5e-4)
        assert z0 + high == pytest.approx(top(x) - T, abs=2e-4)


def test_what_is_walked_on_and_marked_is_told_where_it_is() -> None:
    derived = boat(FALLING)
    ground = derived.footing.at(2.0, 0.3)
    assert ground is not None and ground.height_m == pytest.approx(top(2.0))
    marks = marking(derived)[0]
    assert not marks.level
    assert {round(m.at[2], 6) for m in marks.marks} == {round(top(0.5), 6), round(top(2.5), 6)}
    for o in marks.ordinates:
        assert o.z == pytest.approx(top(o.x))
    extent = extent_of(derived.plan, derived.surface, "floor")
    assert extent.z == pytest.approx((top(0.5) - T, top(2.5)))
    assert extent.top_at(1.0) == pytest.approx(top(1.0))


def test_a_level_floor_is_as_it_was() -> None:
    assert made(boat({**FLOOR, "fall": 3.0})).rise == 0.0
    nearly = made(boat({**FALLING, "fall": 0.1}))
    level = made(boat(FLOOR))
    assert nearly.mass_kg == pytest.approx(level.mass_kg, rel=0.02)


def test_the_build_decides_unless_one_floor_does() -> None:
    assert USUAL.floors == "falls aft"
    assert made(boat(FLOOR, schools={"floors": "falls aft"})).rise == pytest.approx(
        math.tan(math.radians(0.6))
    )
    assert made(boat({**FLOOR, "lies": "level"}, schools={"floors": "falls aft"})).rise == 0.0
    # where it stands is told as the build has it too
    derived = boat(FLOOR, schools={"floors": "falls aft"})
    extent = extent_of(derived.plan, derived.surface, "floor")
    assert extent.z[1] == pytest.approx(0.1 + 2.0 * math.tan(math.radians(0.6)))


@settings(max_examples=25, deadline=None)
@given(
    aft=st.floats(0.3, 1.5), long=st.floats(0.5, 1.15), height=st.floats(0.3, 0.6),
    rises=st.floats(0.2, 5.0), skin=st.sampled_from(["al-2.5", "ply-12"]),
)  # fmt: skip
def test_a_rising_deck_is_the_falling_one_seen_from_the_bow(
    aft: float, long: float, height: float, rises: float, skin: str
) -> None:
    """A box is the same from either end: what rises forward from here falls forward from there. So short
    that its skin is in one piece: where one is parted, it begins aft."""
    fore = aft + long
    one = {**DECK, "aft": aft, "fore": fore, "height": height, "rises": rises, "skin": skin, "face": True,
           "face_fore": False}  # fmt: skip
    far = height + long * math.tan(math.radians(rises))
    other = {**one, "aft": 4 - fore, "fore": 4 - aft, "height": far, "rises": -rises, "face": False,
             "face_fore": True}  # fmt: skip
    a, b = (raised_deck.KIND.build(raised_deck.RaisedDeck.model_validate(c), SITE) for c in (one, other))
    assert a.mass_kg == pytest.approx(b.mass_kg, rel=1e-6)
    masses = [sorted((p.mass_kg, p.centre[2]) for p in built.panels) for built in (a, b)]
    assert np.array(masses[0]) == pytest.approx(np.array(masses[1]), abs=2e-6)
    lengths = [sorted(m.length for m in built.members) for built in (a, b)]
    assert lengths[0] == pytest.approx(lengths[1], abs=1e-6)


def test_a_lid_lies_in_the_plane_of_its_floor() -> None:
    derived = boat(FALLING, LID)
    lid, level = made(derived, "hatch"), made(boat(FLOOR, LID), "hatch")
    (panel,) = lid.panels
    for u, v in panel.outline:
        x, _, z = panel.frame.at(u, v)
        assert z == pytest.approx(top(x) - T / 2, abs=1e-9)
    assert panel.polygon.area * math.cos(math.radians(2.0)) == pytest.approx(
        level.panels[0].polygon.area, rel=1e-6
    )
    # its plan is its plan: what is cut out of the skin is where the lid is
    assert lid.region.equals_exact(level.region, 1e-9)
    # nothing is told of it that is not told of the level one
    codes = [sorted(f.code for f in d.findings if f.place == "hatch" and f.level != "fine")
             for d in (derived, boat(FLOOR, LID))]  # fmt: skip
    assert codes[0] == codes[1]
    assert crossings(derived) == {} and through_skin(derived) == {}


def test_moving_the_floor_takes_its_lid_along() -> None:
    before = boat(FALLING, LID)
    after = derive(apply(before.plan, SetValue(path=("fittings", "floor", "fall"), value=1.0)))
    (panel,) = made(after, "hatch").panels
    x, _, z = panel.frame.at(*panel.outline[0])
    assert z == pytest.approx(0.1 + math.tan(math.radians(1.0)) * (x - 0.5) - T / 2, abs=1e-9)


@pytest.mark.parametrize(("long", "level"), [(0.16, "fine"), (0.6, "look")])
def test_what_stands_on_it_stands_on_its_highest_edge(long: float, level: str) -> None:
    locker = {**LOCKER, "on": "floor", "x": 1.5, "y": 0.0, "length": long, "width": 0.4, "height": 0.3}
    derived = boat({**FALLING, "fall": 1.5}, locker)
    built, slope = made(derived, locker["id"]), math.tan(math.radians(1.5))
    foot_m = 0.1 + slope * (1.0 + long / 2)
    assert built.top_m == pytest.approx(foot_m + 0.3)
    # 1.5° are 26 mm a metre: 4.2 mm under 0.16 m are packed, 16 under 0.6 are told
    foot = next(f for f in derived.findings if f.code == "BOX-FOOT" and f.place == locker["id"])
    assert foot.level == level
    assert foot.values["gap"].value == pytest.approx(slope * long)
    assert not [f for f in derived.findings if f.code == "CLASH"]
    extent = extent_of(derived.plan, derived.surface, locker["id"])
    assert extent.z == pytest.approx((foot_m, foot_m + 0.3))


def test_what_is_sunk_into_it_meets_it() -> None:
    item = {"id": "it", "name": "It", "form": "box", "size": [0.3, 0.3, 0.3],
            "mass": {"value": 10, "centre": [1.5, 0.0, top(1.65) + 0.15]}}  # fmt: skip
    stands = boat(FALLING, items=[item])
    assert not [f for f in stands.findings if f.code == "CLASH"]
    item["mass"]["centre"][2] -= 0.02
    sunk = [f for f in boat(FALLING, items=[item]).findings if f.code == "CLASH"]
    assert sunk and sunk[0].values["amount"].value == pytest.approx(0.02, abs=0.003)


def test_a_stringer_that_it_lies_over_is_notched_only_where_it_reaches_it() -> None:
    # 80 mm high all along: the bearers' tops lie at 88 mm aft and 158 mm forward, each is cut out 83 mm up
    stringer = {"id": "s", "name": "stringer", "kind": "stringer",
                "box": {"size": [2.8, 0.04, 0.08], "floor_centre": [1.6, 0.32, 0.0]}}  # fmt: skip
    built = made(boat(FALLING, existing=[stringer]))
    for p in (p for p in built.panels if "/bearer/" in p.key):
        x, _, z0 = p.frame.origin
        column = p.polygon.intersection(box(0.305, -1, 0.335, 1))
        assert column.bounds[1] + z0 == pytest.approx(0.083, abs=3e-4)
        assert column.bounds[3] + z0 == pytest.approx(top(x) - T, abs=3e-4)


def test_structure_leans_with_what_is_built_over_it() -> None:
    stands = Box(size=(4.0, 0.04, 0.1), floor_centre=(2.0, 0.32, 0.0))
    thing = obstacle_of("s", "s", "stringer", stands, None)
    there = thing.lean(-0.05, (1.0, 3.0))
    assert there is not None
    # only what lies between the ends counts: -0.05 at 1 m, -0.15 at 3 m
    assert (there.low, there.high) == pytest.approx((-0.15, 0.05))
    assert there.over(1.0) == pytest.approx((-0.05, 0.05)) and there.over(3.0) == pytest.approx(
        (-0.15, -0.05)
    )
    assert thing.lean(-0.05, (5.0, 6.0)) is None


def test_no_deck_is_told_by_what_was_chosen() -> None:
    (told,) = [f for f in boat({**DECK, "height": 3.0, "rises": 2.0}).findings if f.code == "CANNOT-BUILD"]
    assert "3.000 m high at its aft edge and rising 2.0 degrees" in told.text


SQUARE = (((0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), ((1.0, 0.0, 0.0), (0.0, 0.0, 1.0)),
          ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), ((0.6, 0.8, 0.0), (-0.8, 0.6, 0.0)))  # fmt: skip
panels = st.builds(
    lambda u, v, x, y, z, upright: Panel(
        "k", "k", "k", "k", None, ((0, 0), (u, 0), (u, v), (0, v)), (),  # type: ignore[arg-type]
        Frame((x, y, z), *SQUARE[upright]),
    ),
    st.floats(0.1, 2), st.floats(0.1, 2), st.floats(0, 5), st.floats(-1, 1), st.floats(0, 1),
    st.integers(0, 3),
)  # fmt: skip


@given(panels, st.floats(-0.2, 0.2))
def test_every_corner_of_a_panel_goes_up_by_its_distance(panel: Panel, rise: float) -> None:
    leaned = panel.lean(rise)
    for (u, v), (p, q) in zip(panel.outline, leaned.outline, strict=True):
        x, y, z = panel.frame.at(u, v)
        assert leaned.frame.at(p, q) == pytest.approx((x, y, z + rise * x), abs=1e-9)
    along, across = np.array(leaned.frame.along), np.array(leaned.frame.across)
    # the panel's own axes stay square and true: its outline is what is cut
    assert (along @ along, across @ across, along @ across) == pytest.approx((1, 1, 0), abs=1e-9)


rings = st.lists(st.tuples(st.floats(0, 2), st.floats(-1, 1)), min_size=3, max_size=7).map(
    lambda points: Polygon(points).convex_hull
)


@settings(deadline=None)
@given(rings, st.floats(0, 1), st.floats(0.05, 0.5), st.floats(-0.2, 0.2), rings, st.floats(0, 1))
def test_a_leaning_prism_is_the_body_of_its_corners(
    one: Any, low: float, thick: float, rise: float, other: Any, foot: float
) -> None:
    """Its ways out of another are those of the convex body of its sixteen or so corners."""
    if not all(isinstance(p, Polygon) and p.area > 0.01 for p in (one, other)):
        return
    prism = Prism(one, low, low + thick).lean(rise)
    corners = [(x, y, z + rise * x) for x, y in one.exterior.coords[:-1] for z in (low, low + thick)]
    there = Prism(other, foot, foot + 0.2)
    found, expected = exits(prism, there), exits(Swept(tuple(corners)), there)
    assert (found is None) == (expected is None)
    if found and expected:
        assert found == pytest.approx(expected, abs=1e-9)
    assert prism.bounds[2] == pytest.approx(min(z for *_, z in corners), abs=1e-9)
    assert prism.bounds[5] == pytest.approx(max(z for *_, z in corners), abs=1e-9)
    x = one.centroid.x
    assert prism.over(x) == pytest.approx((low + rise * x, low + thick + rise * x), abs=1e-9)


def test_a_curved_slab_that_leans_is_met_where_it_is() -> None:
    """A ring of a deck, not convex: a body stands on its higher end and under its lower one."""
    ring = box(0, -1, 4, 1).difference(box(1, -0.5, 3, 0.5))
    slab = Prism(ring, 0.30, 0.31).lean(0.05)  # 0.30 at the transom, 0.50 at 4 m
    for x, clear in ((0.5, 0.336), (3.5, 0.486)):
        body = box(x - 0.1, -0.9, x + 0.1, -0.6)
        assert exits(Prism(body, clear + 0.003, 1.0), slab) is None
        assert exits(Prism(body, clear - 0.02, 1.0), slab) is not None


@pytest.mark.slow
@settings(max_examples=12, deadline=None)
@given(st.floats(-3, 3), st.floats(1.0, 3.0), st.floats(0.25, 0.45), st.booleans())
def test_nothing_of_it_stands_in_anything(rises: float, aft: float, height: float, face: bool) -> None:
    deck = {**DECK, "aft": aft, "fore": aft + 1.2, "height": height, "rises": rises, "face": face}
    derived = derive(skiff_plan(fittings=[deck, {**HATCH, "x": aft + 0.6, "y": 0.0}]))
    assert through_skin(derived) == {}
    assert crossings(derived) == {}


def test_people_stand_on_it() -> None:
    derived = boat(FALLING)
    there = Footing(derived.surface, derived.built)
    heights = [there.at(x, 0.0).height_m for x in (0.6, 1.5, 2.4)]  # type: ignore[union-attr]
    assert heights == pytest.approx([top(0.6), top(1.5), top(2.4)])


def water(fall: float | None, ballast_x: float) -> Finding:
    """What is told of a floor in the box, whose mass lies at a place along it."""
    floor = {**FLOOR, "lies": "level"} if fall is None else {**FALLING, "fall": fall}
    derived = boat(floor, centre=(ballast_x, 0.0, 0.3))
    (told,) = [f for f in derived.findings if f.code == "FLOOR-DRAINS"]
    return told


def test_water_runs_by_its_fall_and_her_trim_together() -> None:
    """A box 4 x 2 m of 1,600 kg floats 0.2 m deep with GM_L = 4²/(12 x 0.2) + 0.1 - 0.3 = 6.47 m: her
    mass d aft of the middle trims her atan(d / 6.47) by the stern, 0.5° for 56 mm (the floor's 60 kg
    a little less far off)."""
    level = water(None, 2.0)
    assert level.level == "look" and level.title == "Water stands on it"
    by_stern, just_not = water(None, 1.90), water(None, 1.97)
    assert (by_stern.level, just_not.level) == ("fine", "look")
    # its own fall does as much as the trim does
    trim = level.values["case"].value
    own = water(0.6, 2.0)
    assert own.level == "fine"
    signed = own.values["real"].value - 0.6
    assert abs(signed) == pytest.approx(trim, abs=0.03)
    forward = water(None, 2.2)
    assert (forward.level, forward.title) == ("look", "Water runs forward")
    # what is offered mends it
    more = water(0.6, 2.1)
    assert more.level == "look"
    wanted = more.fixes[0].value
    assert isinstance(wanted, float) and water(wanted, 2.1).level == "fine"
    assert level.fixes[0].value == "falls aft"


def test_rain_runs_off_a_raised_deck_all_round() -> None:
    assert not [f for f in boat(DECK).findings if f.code == "FLOOR-DRAINS"]


def test_its_members_are_set_out_along_a_string_between_two_marks() -> None:
    plan_of = framing_plan(made(boat(FALLING, LID)))
    assert plan_of is not None
    for s in plan_of.members:
        assert s.top == pytest.approx(top(s.middle) - T, abs=3e-4), s.label
    aft, fore = plan_of.heights
    ends = min(s.along[0].at for s in plan_of.members), max(s.along[1].at for s in plan_of.members)
    assert (aft.at, fore.at) == pytest.approx((top(ends[0]) - T, top(ends[1]) - T), abs=3e-4)
    assert plan_of.top_at(1.3) == pytest.approx(top(1.3) - T, abs=3e-4)


def test_side_angles_of_a_rising_deck_run_along_the_slope() -> None:
    """From 1 to 2 m, 10 mm less at the face: along the slope 1 / cos 3° longer, its ends 52 mm apart."""
    deck = {**DECK, "aft": 1.0, "fore": 2.0, "rises": 3.0, "face": False}
    (port, *_) = (m for m in made(boat(deck), "deck").members if m.role == "side")
    flat = next(m for m in made(boat({**deck, "rises": 0.0}), "deck").members if m.role == "side")
    assert port.length == pytest.approx(flat.length / math.cos(math.radians(3.0)), rel=1e-6)
    (x0, _, z0), (x1, _, z1) = port.path[0], port.path[-1]
    assert (z1 - z0) / (x1 - x0) == pytest.approx(math.tan(math.radians(3.0)))


def test_the_inside_leans_with_the_outside() -> None:
    """Its skin is as thick as it was: nothing is offset anew from a hull that leans."""
    hull = surface(box_lines(4.0, 2.0, 1.0))
    lean = hull.lean(0.1)
    for mine, theirs in ((lean.inside, hull.inside), (lean.outside, hull.outside)):
        moved = theirs.vertices + 0.1 * theirs.vertices[:, :1] * np.array([0.0, 0.0, 1.0])
        assert mine.vertices == pytest.approx(moved, abs=0)
    assert hull.lean(0.1) is lean and hull.lean(0.2) is not lean


def test_what_a_head_meets_and_what_goes_under_is_told_where_it_is_lowest() -> None:
    """A deck from 2.0 to 3.5 m that rises 3° from 0.4 m: under it 0.4 less skin at its aft edge; one that
    falls forward by as much is lowest at its fore edge, 1.5 x tan 3° = 79 mm lower."""
    slope = math.tan(math.radians(3.0))
    deck = {**DECK, "aft": 2.0, "fore": 3.5, "skin": "al-2.5"}
    level = made(boat(deck), "deck")
    for rises, low in ((3.0, 0.4), (-3.0, 0.4 - 1.5 * slope)):
        built = made(boat({**deck, "rises": rises}), "deck")
        assert built.overhead[0].under_m == pytest.approx(low - 0.0025)
        below, flat = built.floors[0].below, level.floors[0].below
        assert below is not None and flat is not None
        assert below.free_m == pytest.approx(flat.free_m + low - 0.4)
        assert below.drilled == pytest.approx(tuple(z + low - 0.4 for z in flat.drilled))


def test_an_edge_at_true_scale_is_drawn_where_it_is() -> None:
    deck = {**DECK, "aft": 2.0, "fore": 3.5, "skin": "al-2.5"}
    level, rising = (made(boat({**deck, "rises": r}), "deck").details[0] for r in (0.0, 4.0))
    up = math.tan(math.radians(4.0)) * (rising.at - 2.0)
    assert rising.middle == pytest.approx((level.middle[0], level.middle[1] + up))
    assert rising.measures[0].a[2] == pytest.approx(level.measures[0].a[2] + up)


def test_relief_cuts_lie_as_far_along_as_the_angle_is_longer() -> None:
    source = starting().section("angle-40x40x3")
    flat = Member("k", "k", "k", "k", source, 2.0, ((0.0, 1.0, 0.3), (2.0, 1.0, 0.3)),
                  late_bent=lambda: Bent((0.5, 1.0)))  # fmt: skip
    longer = math.hypot(1.0, 0.1)
    lean = flat.lean(0.1)
    assert (lean.length, *lean.slots) == pytest.approx((2.0 * longer, 0.5 * longer, 1.0 * longer))
    athwart = Member("k", "k", "k", "k", source, 2.0, ((1.0, 1.0, 0.3), (1.0, -1.0, 0.3)),
                     late_bent=lambda: Bent((0.5,)))  # fmt: skip
    assert (athwart.lean(0.1).length, *athwart.lean(0.1).slots) == pytest.approx((2.0, 0.5))


def dam(*heights: float, outlets: tuple[float, ...] = ()) -> Dam:
    return Dam(tuple((0.5 * k, 0.3, z) for k, z in enumerate(heights)), outlets)


def test_where_water_stands_on_the_bottom_beside_a_stringer() -> None:
    """0.5° are 4.36 mm to half a metre. The first metre lies level, the next half rises 5 mm (0.57°), the
    last one 3 mm (0.34°)."""
    bottom = dam(0.0, 0.0, 0.0, 0.005, 0.008)
    assert flat_stretches(bottom, 0.0, 0.5) == [(0.0, 1.0), (1.5, 2.0)]
    # trimmed by the stern by 0.2° the last one runs too; by 0.5° all do
    assert flat_stretches(bottom, 0.2, 0.5) == [(0.0, 1.0)]
    assert flat_stretches(bottom, 0.5, 0.5) == []
    # by the bow nothing runs aft
    assert flat_stretches(bottom, -0.2, 0.5) == [(0.0, 2.0)]
    # a hole in a stretch lets its water through, one elsewhere does not
    elsewhere = dam(0.0, 0.0, 0.0, 0.005, 0.008, outlets=(1.2,))
    assert flat_stretches(elsewhere, 0.0, 0.5) == [(0.0, 1.0), (1.5, 2.0)]
    holes = dam(0.0, 0.0, 0.0, 0.005, 0.008, outlets=(0.7, 1.2))
    assert flat_stretches(holes, 0.0, 0.5) == [(1.5, 2.0)]


def test_a_splayed_one_is_measured_along_itself() -> None:
    """Two metres long, one of them outboard: 0.5° need 19.5 mm over its 2.236 m in plan."""
    for rise, stands in ((0.0190, True), (0.0200, False)):
        one = Dam(((0.0, 0.2, 0.0), (2.0, 1.2, rise)))
        assert bool(flat_stretches(one, 0.0, 0.5)) is stands


@pytest.mark.parametrize(
    ("limber", "ballast_x", "level"),
    [(0.0, 2.0, "look"), (0.0, 1.85, "fine"), (0.04, 2.0, "fine"), (0.04, 2.3, "fine")],
)
def test_a_stringer_on_a_level_bottom(limber: float, ballast_x: float, level: str) -> None:
    """As the floor above: 150 mm aft of the middle trim her by some 1.3°."""
    stringer = {"kind": "stringer", "id": "s", "name": "Stringer", "mark": "J1", "aft": 0.3, "fore": 3.3,
                "y": 0.4, "top": 0.2, "limber": limber}  # fmt: skip
    derived = boat(stringer, centre=(ballast_x, 0.0, 0.3))
    (told,) = [f for f in derived.findings if f.code == "BESIDE-DRAINS"]
    assert told.level == level
    if level == "look":
        assert told.values["from"].value == pytest.approx(0.3)
        assert told.values["to"].value == pytest.approx(3.3)
        assert told.fixes[0].path == ("fittings", "s", "limber")
