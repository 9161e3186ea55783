"""Bends by hand, and flat patterns folded back onto what they were made for."""

import io
import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Polygon

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.cutting.notes import panel_notes
from stirrup.core.fit.already import as_cut, differs
from stirrup.core.kinds import console_box
from stirrup.core.kinds.console_box.profile import outline
from stirrup.core.parts.folding import (
    Strip,
    allowance_m,
    from_the_ends,
    k_factor,
    laid_flat,
    least_radius_m,
    setback_m,
)
from stirrup.core.parts.model import Panel
from stirrup.exchange.catalogue import starting
from stirrup.exchange.dxf import panel_dxf
from tests.boats import box_lines, derive, plan, surface
from tests.core.test_console_box import CONSOLE, DECK

CATALOGUE = starting()


def test_a_bend_of_ninety_degrees_by_hand() -> None:
    # R 2 mm, t 2 mm: K 0.4; (2 + 0.8) x pi / 2 = 4.398 mm
    assert allowance_m(90, 0.002, 0.002) == pytest.approx(0.0043982, abs=1e-7)
    assert setback_m(90, 0.004) == pytest.approx(0.004)
    # an angle of two legs of 40 mm outside: 40 + 40 - 2 x 4 + 4.398 = 76.398
    strip = laid_flat([0.04, 0.04], [90.0], 0.002, 0.002)
    assert strip.length == pytest.approx(0.0763982, abs=1e-7)
    assert strip.bends == (pytest.approx(0.036 + 0.0043982 / 2),)


@pytest.mark.parametrize(
    ("radius", "k"), [(0.0019, 0.33), (0.002, 0.4), (0.0059, 0.4), (0.006, 0.5), (0.02, 0.5)]
)
def test_k_goes_by_the_radius(radius: float, k: float) -> None:
    assert k_factor(radius, 0.002) == k


@pytest.mark.parametrize(
    ("sheet", "mm"),
    # 5052: 1 t up to 3 mm, 2 t above; 5086: 2 t; wood not at all
    [("al-2.0", 2.0), ("al-2.5", 2.5), ("al-3.2", 6.4), ("al-4.8", 9.6), ("ply-12", None)],
)
def test_least_radius(sheet: str, mm: float | None) -> None:
    found = least_radius_m(CATALOGUE.sheet(sheet))
    assert found is None if mm is None else found == pytest.approx(mm / 1000, rel=0.03)


def test_no_bend_takes_nothing() -> None:
    assert laid_flat([0.3, 0.2], [0.0], 0.002, 0.002).length == pytest.approx(0.5)


def test_bends_are_made_from_the_ends_inward() -> None:
    assert [from_the_ends(n) for n in (0, 1, 2, 3, 4)] == [(), (1,), (1, 2), (1, 3, 2), (1, 3, 4, 2)]


def neutral(strip: Strip, angles: list[float], radius: float, t: float) -> float:
    """What of a strip's bends lies along the arc that keeps its length [m]."""
    return sum(math.radians(a) * (radius + k_factor(radius, t) * t) for a in angles)


@given(
    st.lists(st.floats(0.06, 0.6), min_size=2, max_size=5), st.data(), st.floats(0.001, 0.005),
    st.floats(0.0, 4.0),
)  # fmt: skip
def test_a_strip_folds_back_onto_its_outside(
    outside: list[float], data: st.DataObject, t: float, times: float
) -> None:
    """Walked along its inside face: flats straight, bends arcs of the inside radius. Offset by t the
    planes of its outside meet at corners as far apart as was asked."""
    angles = data.draw(st.lists(st.floats(0, 100), min_size=len(outside) - 1, max_size=len(outside) - 1))
    radius = times * t
    strip = laid_flat(outside, angles, radius, t)
    at, heading, lines = np.zeros(2), 0.0, []
    for n, (start, end) in enumerate(strip.flats):
        way = np.array([math.cos(heading), math.sin(heading)])
        # inside lies to the left, the outside t to the right
        lines.append((at + t * np.array([way[1], -way[0]]), way))
        at = at + (end - start) * way
        if n < len(angles):
            turn = math.radians(angles[n])
            middle = at + radius * np.array([-way[1], way[0]])
            heading += turn
            at = middle + radius * np.array([math.sin(heading), -math.cos(heading)])
    first, last = lines[0][0], at + t * np.array([math.sin(heading), -math.cos(heading)])
    corners = [first]
    for (p, d), (q, e) in pairwise(lines):
        cross = d[0] * e[1] - d[1] * e[0]
        if abs(cross) < 1e-6:
            return  # planes that hardly turn meet nowhere that could be measured
        s = ((q - p)[0] * e[1] - (q - p)[1] * e[0]) / cross
        corners.append(p + s * d)
    corners.append(last)
    found = [float(np.linalg.norm(b - a)) for a, b in pairwise(corners)]
    assert found == pytest.approx(outside, abs=2e-4)
    flat = sum(b - a for a, b in strip.flats)
    assert strip.length == pytest.approx(flat + neutral(strip, angles, radius, t))


def folded(**choices: Any) -> Built:
    found = derive(plan(fittings=[DECK, {**CONSOLE, "made": "folded sheet", **choices}])).fitting("console")
    assert found is not None
    return found


def part(built: Built, code: str) -> Panel:
    return next(p for p in built.panels if p.label == f"C1-{code}")


def test_the_wrap_of_a_console_by_hand() -> None:
    """Sides 0.7, 0.25, 0.35174, 0.865 outside; turns 36.870, 58.841, 84.289 degrees. R = t = 2.5 mm: each
    bend takes 3.5 mm x angle less 2 x 5 mm x tan of its half."""
    turns = [math.radians(a) for a in (36.8699, 58.8407, 84.2894)]
    whole = 0.7 + 0.25 + math.hypot(0.35, 0.035) + 0.865
    expected = whole + sum(0.0035 * a - 0.010 * math.tan(a / 2) for a in turns)
    wrap = part(folded(), "W")
    u0, v0, u1, v1 = wrap.polygon.bounds
    assert v1 - v0 == pytest.approx(expected, abs=1e-5)
    assert u1 - u0 == pytest.approx(0.6)
    assert [b.angle_deg for b in wrap.bends] == pytest.approx([36.8699, 58.8407, 84.2894], abs=1e-3)
    assert [b.turn for b in wrap.bends] == [1, 3, 2]
    # the first bend's middle: face less setback 5 mm x tan 18.43 degrees = 1.667 mm, and half of 2.252
    assert wrap.bends[0].start[1] == pytest.approx(0.7 - 0.0016667 + 0.0022522 / 2, abs=1e-6)


def test_its_mass_is_that_of_its_flat_pattern_and_lies_in_the_middle() -> None:
    wrap = part(folded(), "W")
    assert wrap.mass_kg == pytest.approx(wrap.polygon.area * 0.0025 * 2680, rel=0.02)
    assert wrap.centre[1] == pytest.approx(-0.2)
    # four flats by hand: middles at x 0, 0.075, 0.325, 0.5 of the profile, by their lengths
    long = (0.7, 0.25, math.hypot(0.35, 0.035), 0.865)
    x = sum(a * b for a, b in zip(long, (0.0, 0.075, 0.325, 0.5), strict=True)) / sum(long)
    assert wrap.centre[0] == pytest.approx(1.75 + x, abs=0.003)


def corners(flat: Panel) -> np.ndarray:
    """The outer face of a flat as it stands."""
    return np.array([flat.frame.at(u, v) for u, v in flat.outline])


def test_a_side_s_flanges_lie_under_the_wrap() -> None:
    built = folded()
    wrap = part(built, "W")
    for code, hand in (("P", 1), ("S", -1)):
        side = part(built, code)
        base, *flanges = side.flats
        assert len(flanges) == 4 and len(side.bends) == 4
        # its outside is flush with the wrap's edge: middle half a sheet inside of 0.3
        assert {round(p[1], 6) for p in corners(base)} == {round(-0.2 + hand * (0.3 - 0.00125), 6)}
        for flange, cover in zip(flanges, wrap.flats, strict=True):
            normal = np.cross(cover.frame.along, cover.frame.across)
            apart = abs((np.array(flange.centre) - np.array(cover.centre)) @ normal)
            assert apart == pytest.approx(0.0025, abs=1e-9)  # middle to middle of two sheets
            reach = (corners(flange)[:, 1] + 0.2) * hand
            # from 25 mm inside of the outer face to the end of the bend, R + t = 5 mm
            assert (reach.min(), reach.max()) == pytest.approx((0.275, 0.295))


def test_a_side_laid_flat_has_the_length_of_its_parts() -> None:
    """Across the foot: 0.5 less two wraps of 2.5 mm is the side's breadth of 0.495; each flange of 25 mm
    adds 25 - 2 x 5 + 3.5 x pi / 2 = 20.498 mm."""
    side = part(folded(), "P")
    x0, _, x1, _ = side.polygon.bounds
    assert x1 - x0 == pytest.approx(0.495 + 2 * 0.0204978, abs=1e-6)
    # flats and bends make up the whole
    bends = sum(math.dist(b.start, b.end) * allowance_m(90, 0.0025, 0.0025) for b in side.bends)
    assert sum(f.polygon.area for f in side.flats) + bends == pytest.approx(side.polygon.area, abs=2e-6)


def test_holes_sit_where_they_do_in_flat_sheets() -> None:
    choices = {"display": "180 mm", "gauges": 2, "panel": True, "width": 0.8, "access": "fore"}
    flat = derive(plan(fittings=[DECK, {**CONSOLE, **choices}])).fitting("console")
    assert flat is not None
    wrap = part(folded(**choices), "W")

    def places(panel: Panel) -> list[tuple[float, ...]]:
        found = [Polygon(h).centroid for h in panel.holes]
        return sorted(tuple(round(v, 6) for v in panel.frame.at(p.x, p.y)) for p in found)

    bent = dict(zip("AITF", wrap.flats, strict=True))
    for code in "IF":
        assert np.array(places(bent[code])) == pytest.approx(np.array(places(part(flat, code))), abs=2e-6)
    # on so short a dash the display's hole runs into that of the helm: they are one
    assert len(wrap.holes) == sum(len(f.holes) for f in wrap.flats) == 5


def test_there_is_nothing_of_a_frame_and_it_is_riveted_along_its_flanges() -> None:
    built = folded(shelf=True)
    assert {m.label for m in built.members} == {"C1-N1", "C1-N2"}
    assert not folded().members
    rivets = next(b for b in folded().bought if b.label == "C1-Rw")
    # flanges of some 0.69, 0.24, 0.34 and 0.86: at 60 mm 13, 5, 7, 16 and so, on both sides
    assert 70 <= rivets.quantity <= 100


def told(built: Built) -> Any:
    return next(f for f in built.findings if f.code == "FOLDS")


def test_what_does_not_fold_is_told_and_built_of_flat_sheets() -> None:
    built = folded(skin="ply-12")
    assert told(built).level == "mend" and told(built).fixes[0].value == "flat sheets on angles"
    assert part(built, "I").flats == ()
    assert told(folded()).level == "fine"
    assert not [f for f in folded(made="flat sheets on angles").findings if f.code == "FOLDS"]


def test_a_wrap_longer_than_its_sheet_is_told() -> None:
    # 2.44 m: 1.2 + 0.25 + .. + 1.3 is more
    assert told(folded(height=1.3, length=1.0)).level == "mend"


@settings(max_examples=60, deadline=None)
@given(
    deep=st.floats(0.3, 1.0), high=st.floats(0.7, 1.4), dash=st.floats(0.12, 0.3), lean=st.floats(0, 60),
    fall=st.floats(0, 8), skin=st.sampled_from(["al-1.6", "al-2.5", "al-4.8"]),
)  # fmt: skip
def test_whatever_its_profile_flats_keep_apart_and_inside(
    deep: float, high: float, dash: float, lean: float, fall: float, skin: str
) -> None:
    value = {**CONSOLE, "on": None, "length": deep, "height": high, "dash": dash, "lean": lean,
             "fall": fall, "skin": skin, "y": 0.0, "made": "folded sheet"}  # fmt: skip
    try:
        c = console_box.ConsoleBox.model_validate(value)
    except ValueError:
        return
    built = console_box.KIND.build(c, SITE)
    profile = Polygon([(c.x - deep / 2 + x, z + built.top_m - high) for x, z in outline(c)]).buffer(1e-7)
    wrap, port, starboard = built.panels
    for flat in (*wrap.flats, *port.flats, *starboard.flats):
        for sign in (-1, 1):
            normal = np.cross(flat.frame.along, flat.frame.across) * sign * flat.sheet.thickness / 2
            points = corners(flat) + normal
            assert profile.covers(MultiPoint(points[:, [0, 2]]))
            assert np.abs(points[:, 1]).max() <= c.width / 2 + 1e-9
    # one side is the other seen in the mirror, and each lies flat in one piece
    assert port.outline == starboard.outline and Polygon(port.outline).is_valid
    for a, b in zip(port.flats, starboard.flats, strict=True):
        assert np.array(a.centre) * (1, -1, 1) == pytest.approx(np.array(b.centre))
    for flange in port.flats[1:]:
        assert flange.polygon.area > 0


SITE = Site(surface(box_lines(8.0, 8.0, 1.0)), catalogue=starting())


def test_a_pattern_folds_the_way_it_is_drawn() -> None:
    """Up is towards whoever looks at it: along u x v. The wrap's aft face is seen from inside, to where
    its dash goes; of the handed sides only one is."""
    built = folded()
    middle = np.array([2.0, -0.2, 0.5])
    for panel in built.panels:
        (up,) = {b.up for b in panel.bends}
        first = panel.flats[0]
        towards = np.cross(panel.frame.along, panel.frame.across) @ (middle - np.array(first.centre))
        assert (towards > 0) == up
    assert {p.label: p.bends[0].up for p in built.panels} == {"C1-W": True, "C1-P": True, "C1-S": False}


def test_what_the_cut_list_says_of_bends() -> None:
    built = folded()

    def mm(value: float) -> str:
        return f"{value * 1000:.0f} mm"

    # 700 - 1.67 + 1.13, and on to the others; the middle one last
    first, *rest = panel_notes(part(built, "W"), mm)
    assert first == "flat pattern, inside radius 2 mm, as drawn all bent up"
    assert rest[0] == "bend 1: 37°, 699 mm from the foot of its aft face"
    assert [line.split(":")[0] for line in rest] == ["bend 1", "bend 2", "bend 3"]
    # the flange along the face: 700 - 2.5 / 3, less 1 mm at its foot and 5 / 3 + 1 mm at its head: 695.5
    port = panel_notes(part(built, "P"), mm)
    assert port[1] == "bend 1: 90°, a flange 696 mm long" and "bent up" in port[0]
    assert "bent down" in panel_notes(part(built, "S"), mm)[0]
    assert panel_notes(part(folded(access="fore"), "D"), mm) == []


def test_bends_are_in_the_files() -> None:
    import ezdxf

    wrap = part(folded(), "W")
    lines = ezdxf.read(io.StringIO(panel_dxf(wrap))).modelspace().query("LINE")
    there = [(e.dxf.layer, e.dxf.start.y, e.dxf.end.x - e.dxf.start.x) for e in lines]
    assert [(layer, y / 1000, x) for layer, y, x in there] == [
        ("BEND", pytest.approx(b.start[1]), pytest.approx(600.0)) for b in wrap.bends
    ]


def test_what_is_cut_and_folded_knows_its_bends() -> None:
    """The dash 40 mm longer and the face as much shorter: the flat pattern is all but the same, its bends
    are not."""
    wrap = part(folded(), "W")
    known = as_cut(wrap)
    assert differs(wrap, known).same
    longer = part(folded(dash=0.29, lean=math.degrees(math.asin(0.15 / 0.29))), "W")
    assert differs(longer, known).words == "it is folded otherwise"
    # a flat panel has none, and is known as before
    cover = part(folded(access="fore"), "D")
    assert as_cut(cover).ends == "" and differs(cover, as_cut(cover)).same
