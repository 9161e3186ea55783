"""Stringers of sections in a box (a straight bottom) and in a hull whose bottom is an arc: by hand."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fittings.beam import stiffness_of
from stirrup.core.kinds.section_stringer import SectionStringer
from stirrup.core.kinds.section_stringer.build import members_of
from stirrup.core.kinds.section_stringer.laid import lay, strips_of
from stirrup.core.parts.entries import Section
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, skiff_plan, wedge_lines
from tests.core.test_bulkhead import BULKHEAD
from tests.crossing import crossings

STRINGER = {"kind": "section_stringer", "id": "stringer", "name": "Stringer", "mark": "J1", "aft": 0.5,
            "fore": 2.5, "y": 0.4}  # fmt: skip
LOW = 0.003


def boat(lines: Any = None, more: Any = (), **choices: Any) -> Derived:
    return derive(from_data(build_data(lines, fittings=[{**STRINGER, **choices}, *more])))


def made(derived: Derived) -> Built:
    found = derived.fitting("stringer")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "stringer")


def arc_lines(sag: float) -> list[dict[str, Any]]:
    """4 m long, flat across, its bottom a parabola that is `sag` lower in the middle than at the ends."""

    def z(x: float) -> float:
        return sag * (2 * x / 4 - 1) ** 2

    xs = [0.1 * k for k in range(41)]
    return [
        {"name": "keel", "along": "straight", "points": [[x, 0, z(x)] for x in xs]},
        {"name": "chine", "along": "straight", "points": [[x, 1.0, z(x)] for x in xs]},
        {"name": "sheer", "along": "straight", "points": [[x, 1.0, 1.0] for x in xs]},
    ]  # fmt: skip


def test_on_a_straight_bottom() -> None:
    """Two metres of channel 40 x 20 x 3: (40 + 40 - 6) x 3 = 222 mm2."""
    (member,) = made(boat()).members
    assert member.length == pytest.approx(2.0) and member.label == "J1-S"
    assert member.mass_kg == pytest.approx(2.0 * 222e-6 * member.section.stuff.density, rel=1e-6)
    assert member.path[0] == pytest.approx((0.5, 0.4, LOW + 0.02), abs=1e-4)
    assert told(boat(), "SECTION-BENDS").level == "fine"


def test_splayed_it_is_as_long_as_the_slant() -> None:
    (member,) = made(boat(y_fore=0.8)).members
    assert member.length == pytest.approx(math.hypot(2.0, 0.4))


def test_longer_than_a_stick_it_is_in_even_lengths() -> None:
    """3.0 m of a section sold in lengths of 1.4: three of 1.0, a gap of 2 mm off all but the first."""
    derived = boat(aft=0.4, fore=3.4)
    assert len(made(derived).members) == 1
    short = made(derived).members[0].section.model_copy(update={"length": 1.4})
    choices = SectionStringer.model_validate({**STRINGER, "aft": 0.4, "fore": 3.4})
    members = members_of(lay(choices, derived.surface, short))
    assert [m.length for m in members] == pytest.approx([1.0, 0.998, 0.998])
    assert [m.label for m in members] == ["J1-S1", "J1-S2", "J1-S3"]
    assert members[1].path[0][0] == pytest.approx(1.4) and members[1].path[-1][0] == pytest.approx(2.4)
    # five of 0.6, whose ends lie between the places where the bottom is looked at
    five = members_of(lay(choices, derived.surface, short.model_copy(update={"length": 0.7})))
    assert [m.path[-1][0] for m in five] == pytest.approx([1.0, 1.6, 2.2, 2.8, 3.4])


@pytest.mark.parametrize(
    ("shape", "a", "b", "t", "inertia"),
    [
        # b h^3 / 12 of the outside less the inside
        ("square tube", 0.040, 0.040, 0.003, (0.040 * 0.040**3 - 0.034 * 0.034**3) / 12),
        ("channel", 0.040, 0.020, 0.003, (0.020 * 0.040**3 - 0.017 * 0.034**3) / 12),
        ("flat", 0.050, 0.050, 0.006, 0.006 * 0.050**3 / 12),
    ],
)  # fmt: skip
def test_stiffness_by_outside_less_inside(shape: str, a: float, b: float, t: float, inertia: float) -> None:
    section = Section.model_validate({
        "id": "s", "name": "s", "group": "section", "shape": shape, "a": a, "b": b, "t": t, "material": "m",
        "unit": "stick", "packs": [],
    })  # fmt: skip
    found = stiffness_of(strips_of(section, 70e9), None).ei
    assert found == pytest.approx(70e9 * inertia, rel=1e-9)


def test_an_angle_and_a_hat_by_steiner() -> None:
    """Angle 40 x 40 x 3: foot 120 mm2 at 1.5, leg 111 mm2 at 21.5: neutral at 11.11 mm."""
    angle = Section.model_validate({"id": "s", "name": "s", "group": "section", "shape": "angle", "a": 0.04,
                                    "b": 0.04, "t": 0.003, "material": "m", "unit": "stick",
                                    "packs": []})  # fmt: skip
    foot, leg = 120.0, 111.0
    middle = (foot * 1.5 + leg * 21.5) / (foot + leg)
    inertia = 40 * 3**3 / 12 + foot * (middle - 1.5) ** 2 + 3 * 37**3 / 12 + leg * (21.5 - middle) ** 2
    assert stiffness_of(strips_of(angle, 1.0), None).ei == pytest.approx(inertia * 1e-12, rel=1e-9)
    hat = angle.model_copy(update={"shape": "hat", "a": 0.05, "b": 0.06})
    areas = [(40 * 3, 1.5, 40, 3), (6 * 44, 25.0, 6, 44), (60 * 3, 48.5, 60, 3)]
    middle = sum(a * z for a, z, _, _ in areas) / sum(a for a, *_ in areas)
    inertia = sum(w * h**3 / 12 + a * (z - middle) ** 2 for a, z, w, h in areas)
    assert stiffness_of(strips_of(hat, 1.0), None).ei == pytest.approx(inertia * 1e-12, rel=1e-9)


def test_how_it_follows_a_bottom_with_rocker() -> None:
    """Sag 20 mm over 4 m: over its 2 m in the middle a quarter, 5 mm; radius 4^2 / (8 x 0.02) = 100 m, and
    a channel 40 high springs to E h / 2 yield."""
    flat = told(boat(arc_lines(0.02), aft=1.0, fore=3.0), "SECTION-BENDS")
    assert flat.level == "fine" and flat.values["sag"].value == pytest.approx(0.005, abs=5e-4)
    assert flat.values["radius"].value == pytest.approx(100.0, rel=0.1)
    section = made(boat()).members[0].section
    e, y = section.stuff.e_gpa, section.stuff.yield_mpa
    assert e is not None and y is not None
    springs = e * 1e9 * 0.04 / (2 * y * 1e6)
    assert flat.values["springs"].value == pytest.approx(springs)
    # 70 GPa and 280 MPa: 5 m. A rocker of 0.5 m is a radius of 4 m in the middle, which is less
    assert springs == pytest.approx(5.0, rel=0.05)
    steep = told(boat(arc_lines(0.5), aft=1.0, fore=3.0), "SECTION-BENDS")
    assert steep.values["radius"].value == pytest.approx(4.0, rel=0.1) and steep.level == "look"


def test_welded_or_riveted() -> None:
    """2 m at 60 g of wire; or rivets every 75 mm: 27 steps and one more, solid ones."""
    (wire,) = made(boat()).bought
    assert wire.quantity == pytest.approx(2.0 * 0.06, rel=1e-3)
    assert [s.long for s in made(boat()).seams] == [pytest.approx(2.0)]
    riveted = boat(joined="riveted, wet-set")
    (rivets,) = made(riveted).bought
    assert rivets.quantity == 28 and rivets.item.startswith("solid-")
    assert made(riveted).seams == ()
    tube = boat(joined="riveted, wet-set", section="square-40x3")
    assert told(tube, "SECTION-JOINT").level == "mend" and made(tube).bought == ()


def test_a_bulkhead_is_notched_over_it() -> None:
    """3 mm round it: 26 mm wide, down to its foot."""
    whole, cut = (
        derive(plan(fittings=[BULKHEAD, *more])).fitting("bulkhead")
        for more in ((), ({**STRINGER, "fore": 3.0},))
    )
    assert whole is not None and cut is not None
    gone = whole.panels[0].polygon.area - cut.panels[0].polygon.area
    # from its bed at 8 mm to 3 mm over the top at 43
    assert gone == pytest.approx(0.026 * (LOW + 0.04 + 0.003 - 0.008), rel=0.02)


def test_no_bottom_under_it_is_refused_in_words() -> None:
    found = next(f for f in boat(fore=5.0).findings if f.code == "CANNOT-BUILD")
    assert "no bottom under it" in found.text
    with pytest.raises(ValidationError, match=r"at least 0\.3 m further forward"):
        SectionStringer.model_validate({**STRINGER, "fore": 0.6})


def test_a_first_one_stands_in_the_boat_and_the_other_side_is_the_same() -> None:
    bare = skiff_plan()
    here = derive(bare)
    after = apply(bare, place(bare, here.surface, here.footing, "section_stringer"))
    derived = derive(after)
    assert crossings(derived) == {} and all(
        f.level != "mend" for f in derived.findings if f.code.startswith("SECTION")
    )
    port, starboard = (made(boat(wedge_lines(0.2), y=y)).members[0] for y in (0.4, -0.4))
    assert port.mass_kg == pytest.approx(starboard.mass_kg)
    assert port.centre[1] == pytest.approx(-starboard.centre[1])


@given(st.floats(0.0, 0.8), st.floats(0.2, 0.8), st.sampled_from(["angle-40x40x3", "square-40x3"]))
@settings(max_examples=15, deadline=None)
def test_it_lies_on_the_bottom(y: float, fore: float, section: str) -> None:
    """Wherever it runs, each point of its path is half its height over the bottom."""
    derived = boat(wedge_lines(0.2), y=y, y_fore=fore, section=section)
    for x, side, z in made(derived).members[0].path:
        skin = 0.003 * math.hypot(1.0, 0.2)
        assert z - 0.02 == pytest.approx(0.2 * abs(side) + skin, abs=2e-3) and 0.5 <= x <= 2.5


def test_what_is_told_of_its_stiffness() -> None:
    """Channel 40 x 20 x 3 on its flange: (20 x 40^3 - 17 x 34^3) / 12 mm4, times its modulus."""
    found = told(boat(), "SECTION-STIFF")
    e = made(boat()).members[0].section.stuff.e_gpa
    assert e is not None
    inertia = (20 * 40**3 - 17 * 34**3) / 12 * 1e-12
    assert found.values["ei"].value == pytest.approx(e * 1e9 * inertia, abs=1)
