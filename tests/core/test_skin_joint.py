"""A skin that its sheet is too narrow for is parted along the boat, over battens."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.fittings.framing import frame
from stirrup.core.fittings.skin import (
    SHEET_MARGIN_M,
    Ground,
    Joints,
    _longest_gap,
    _tried,
    joints,
    piece,
)
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, box_lines, build_data, derive
from tests.crossing import crossings, through_skin

# a box of 2 m less skins of 2.5 mm and, for wood, gaps of 3 mm: 1.989 m of deck; a sheet has 1.208
WOOD = {**DECK, "skin": "ply-9", "grain": "along the boat", "aft": 1.0, "fore": 2.0, "height": 0.3}


def boat(*fittings, beam: float = 2.0, length: float = 4.0) -> Derived:
    return derive(
        from_data(build_data(box_lines(beam=beam, length=length), mass=900.0, fittings=list(fittings)))
    )


def told(derived: Derived) -> list[str]:
    return [f.level for f in derived.findings if f.code == "SKIN-JOINT"]


def skins(derived: Derived) -> list:
    return [p for b in derived.built for p in b.panels if "/skin/" in p.key]


def parts(derived: Derived, word: str) -> list:
    return [m for b in derived.built for m in b.members if f"/{word}/" in m.key]


def test_two_strips_meet_on_the_centreline_over_a_batten_in_every_bay() -> None:
    derived = boat(WOOD)
    port, starboard = skins(derived)
    assert (port.label, starboard.label) == ("D1-S1.1", "D1-S1.2")
    # half of 1.989 less half a millimetre of play, on both sides
    for panel, sign in ((port, 1), (starboard, -1)):
        x0, y0, x1, y1 = panel.polygon.bounds
        assert sorted((abs(y0), abs(y1))) == [pytest.approx(0.0005), pytest.approx(0.9945)]
        assert (y0 + y1) * sign > 0 and (x0, x1) == (1.0, 2.0)
        assert panel.rotations == (0, 180)
    # 1 m less face and half flanges: 991 - 40 mm in bays of at most 350: three, of 317 mm each
    battens = parts(derived, "batten")
    # from leg to leg: 317 mm, of which 1.5 + 3 + 1.5 are the other leg's and play at both ends;
    # at the fore edge the leg is on the far side of its member (see the cross members' tests)
    assert len(battens) == 3
    assert all(0.317 - 0.04 - 0.003 < m.length < 0.317 for m in battens)
    assert all(m.path[0][1] == m.path[1][1] == 0.0 for m in battens)
    assert crossings(derived) == {} and through_skin(derived) == {}
    assert told(derived) == ["fine"]


def test_both_edges_of_a_joint_are_fastened() -> None:
    def screws(grain: str) -> int:
        derived = boat({**WOOD, "grain": grain})
        return next(
            b.quantity for built in derived.built for b in built.bought if b.key == "deck/fasteners/skin"
        )

    # battens of 305 mm at 75 mm: 6 screws in a row, two rows, three battens
    assert screws("along the boat") - screws("as it fits") == 3 * 2 * 6


def test_a_joint_athwart_has_a_row_on_each_edge() -> None:
    # 3.5 m of deck out of sheets of 2.428 m: one joint, on one cross member; bays differ in number
    # only, so rows beyond one for each member are those of the joint
    derived = boat({**DECK, "aft": 0.2, "fore": 3.7, "height": 0.3}, beam=1.2)
    assert len(skins(derived)) == 2
    bought = next(
        b.quantity for built in derived.built for b in built.bought if b.key == "deck/fasteners/skin"
    )
    members = [m for b in derived.built for m in b.members]
    rows = [max(2, -int(-(m.length / 0.075 - 1e-9) // 1) + 1) for m in members]
    joint = skins(derived)[0].polygon.bounds[2] + 0.0005
    extra = [n for m, n in zip(members, rows, strict=True) if m.path[0][0] == m.path[1][0]
             and m.path[0][0] == pytest.approx(joint)]  # fmt: skip
    assert len(extra) == 1
    assert bought == sum(rows) + extra[0]


@pytest.mark.parametrize(("beam", "strips"), [(1.218, 1), (1.220, 2), (2.42, 2), (2.43, 3)])
def test_strips_are_as_few_as_the_sheet_allows(beam: float, strips: int) -> None:
    # deck = beam - 5 mm of skins - 6 mm of gaps; a sheet has 1.208 m, so 1.219 and 2.427 m of beam
    assert len(skins(boat(WOOD, beam=beam))) == strips


def test_a_metal_deck_wider_than_a_sheet_is_long_is_parted_too() -> None:
    # al: 2.428 m fits across; 2.43 m of deck does not. No grain: the halves lie either way
    assert len(skins(boat({**WOOD, "skin": "al-2.5"}, beam=2.44))) == 1
    derived = boat({**WOOD, "skin": "al-2.5"}, beam=2.445)
    assert len(skins(derived)) == 2
    assert all(90 in p.rotations for p in skins(derived))
    assert told(derived) == ["fine"]


def test_a_joint_keeps_clear_of_a_hatch_track_and_runs_through_a_hatch() -> None:
    # over the middle: the joint is in the opening, no batten in its bays
    middle = boat(WOOD, {**HATCH, "x": 1.5, "y": 0.0, "clear_length": 0.3, "clear_width": 0.5})
    assert told(middle) == ["fine"]
    assert all(not (1.34 < sum(p[0] for p in m.path) / 2 < 1.66) for m in parts(middle, "batten"))
    # a track at the centreline: the joint goes aside, by a flange and 2 mm at least
    aside = boat(WOOD, {**HATCH, "x": 1.5, "y": 0.26, "clear_length": 0.3, "clear_width": 0.5})
    track = min(abs(m.path[0][1]) for m in parts(aside, "track"))
    assert track < 0.04
    y = parts(aside, "batten")[0].path[0][1]
    assert all(abs(y - m.path[0][1]) >= 0.042 for m in parts(aside, "track"))
    assert told(aside) == ["fine"]
    assert crossings(aside) == {}


def test_a_joint_that_hangs_free_is_told() -> None:
    # 2.41 m of beam leave the joint 8 mm either way: tracks on the centreline are in its way
    hatch = {**HATCH, "x": 1.5, "clear_length": 0.3, "clear_width": 0.5}
    assert told(boat(WOOD, {**hatch, "y": 0.40}, beam=2.41)) == ["fine"]
    free = boat(WOOD, {**hatch, "y": 0.28}, beam=2.41)
    finding = next(f for f in free.findings if f.code == "SKIN-JOINT")
    assert finding.level == "mend" and finding.values["bare"].value > 0.2
    assert finding.remedy


@pytest.mark.slow
@given(
    st.floats(1.3, 3.4), st.floats(0.6, 2.8), st.sampled_from(["ply-9", "ply-12", "al-2.5"]),
    st.floats(-0.4, 0.4), st.floats(0.2, 0.5),
)  # fmt: skip
def test_pieces_cover_the_deck_and_nothing_stands_in_another(beam, long, skin, y, wide) -> None:
    deck = {**WOOD, "skin": skin, "aft": 0.6, "fore": 0.6 + long}
    hatch = {**HATCH, "x": 0.6 + long / 2, "y": y, "clear_length": 0.3, "clear_width": wide}
    derived = boat(deck, hatch, beam=beam)
    there = skins(derived)
    gaps = len({p.polygon.bounds[0] for p in there}) - 1, len({p.polygon.bounds[1] for p in there}) - 1
    across = beam - 0.005 - 2 * (0.005 if skin == "al-2.5" else 0.003)
    hole = next(o.polygon.area for b in derived.built for o in b.panels if o.key.startswith("hatch/"))
    area = sum(p.polygon.area for p in there)
    # joints take a millimetre each; the cut-out is a little larger than the lid
    lost = across * long - area
    assert hole - 1e-6 < lost < hole + 0.03 + 0.001 * (gaps[0] * across + gaps[1] * long)
    told = {f.code for f in derived.findings if f.level != "fine"}
    if not told & {"DECK-SUPPORT", "HATCH-EDGE"}:
        assert crossings(derived) == {}
    assert not [f for f in derived.findings if f.code == "OVERSIZE" and "skin" in f.text]


def by_trying_all(ground: Ground, source, keep: bool) -> Joints | None:
    """The same search without any of its shortcuts: every piece is cut out and measured."""
    usable = source.width - 2 * SHEET_MARGIN_M + 1e-9, source.height - 2 * SHEET_MARGIN_M + 1e-9

    def has_room(shape) -> bool:
        x0, y0, x1, y1 = shape.bounds if not shape.is_empty else (0.0, 0.0, 0.0, 0.0)
        ways = [(x1 - x0, y1 - y0)] if keep else [(x1 - x0, y1 - y0), (y1 - y0, x1 - x0)]
        return any(a <= usable[0] and b <= usable[1] for a, b in ways)

    for count in range(1, 5):
        for along in _tried(ground, count):
            start, end = ground.span
            marks, found = ground.framing.stations[1:-1], []

            def fits(a: float, b: float, along=along) -> bool:
                return all(has_room(piece(ground.outline, a, b, s)) for s in ground.strips(along))

            while not fits(start, end):
                ahead = [x for x in reversed(marks) if x > start + 0.1 and fits(start, x)]
                if not ahead:
                    break
                start = ahead[0]
                found.append(start)
            else:
                return Joints(tuple(found), along)
    return None


@settings(max_examples=25, deadline=None)
@given(st.floats(0.4, 2.6), st.floats(0.3, 1.0), st.floats(0.6, 6.0), st.booleans(),
       st.sampled_from(["ply-12", "al-2.5"]))  # fmt: skip
def test_shortcuts_find_what_trying_all_finds(
    half: float, narrows: float, long: float, keep: bool, sheet: str
) -> None:
    tip = half * narrows
    port = [(long, tip), (long * 0.6, half), (0, half)]
    outline = Polygon([(x, -y) for x, y in reversed(port)] + port)
    ground = Ground(outline, (), frame(0.02, long - 0.02, 0.35, 0.04, ()), outline, 0.04)
    source = starting().sheet(sheet)
    expected = by_trying_all(ground, source, keep)
    if expected is None:
        with pytest.raises(CoreError, match="cannot be split"):
            joints(ground, source, keep, "skin")
    else:
        assert joints(ground, source, keep, "skin") == expected


corners = st.lists(st.tuples(st.floats(0, 4), st.floats(0.1, 1)), min_size=3, max_size=9)


def ground_of(outline: Polygon) -> Ground:
    return Ground(outline, (), frame(0.02, 3.0, 0.35, 0.04, ()), outline, 0.04)


@given(corners, st.floats(0, 0.9), st.floats(0.05, 1), st.sampled_from([20.0, 0.3]))
def test_a_piece_is_as_large_as_the_one_that_is_cut_out(there, begins, long, port) -> None:
    edge = sorted({round(x, 2): (round(x, 2), y) for x, y in there}.values())
    if len(edge) < 2:
        return
    outline = Polygon([*((x, -0.8 * y) for x, y in reversed(edge)), *edge])
    x0, _, x1, _ = outline.bounds
    a, b = x0 + begins * (x1 - x0), x0 + min(1.0, begins + long) * (x1 - x0)
    u0, v0, u1, v1 = piece(outline, a, b, (-20.0, port)).bounds
    assert ground_of(outline).size(a, b, (-20.0, port)) == pytest.approx((u1 - u0, v1 - v0), abs=1e-9)


def test_where_a_cut_leaves_many_pieces_the_largest_counts() -> None:
    """A deck open forward of 2 m from 0.3 m to starboard to 0.5 to port: arms 0.7 and 0.5 m broad."""
    open_ahead = ((0, -1), (4, -1), (4, -0.3), (2, -0.3), (2, 0.5), (4, 0.5), (4, 1), (0, 1))
    ground = ground_of(Polygon(open_ahead))
    assert ground.size(2.5, 3.5, (-20.0, 20.0)) == pytest.approx((1.0, 0.7))
    assert ground.size(1.5, 3.5, (-20.0, 20.0)) == pytest.approx((2.0, 2.0))


@pytest.mark.parametrize(
    ("carried", "longest"),
    [
        ([], 1.0),
        ([(0.2, 0.3), (0.9, 1.2)], 0.6),  # from 0.3 to 0.9
        ([(0.9, 1.2), (0.25, 0.5), (0.2, 0.3)], 0.4),  # two that overlap, in any order: from 0.5 on
        ([(-0.5, 0.1), (0.1, 0.45), (0.3, 0.35)], 0.55),  # from before the start; one within another
        ([(-1.0, 2.0)], 0.0),
        ([(1.5, 2.0)], 1.0),  # all of it beyond
    ],
)
def test_the_longest_stretch_that_nothing_carries_by_hand(carried, longest) -> None:
    assert _longest_gap(0.0, 1.0, carried) == pytest.approx(longest)
