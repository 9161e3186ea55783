"""Foam in a box 2 m wide with a bottom of 3 mm, and in a vee, worked by hand."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.foam_fill import FoamFill
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.studies import swamped_of
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines
from tests.crossing import crossings

FOAM = {"kind": "foam_fill", "id": "foam", "name": "Foam", "mark": "O1", "aft": 1.0, "fore": 2.0,
        "starboard": -0.5, "port": 0.5, "top": 0.203, "drain": 0.0}  # fmt: skip


def boat(lines: Any = None, more: Any = (), **choices: Any) -> Derived:
    return derive(from_data(build_data(lines, fittings=[{**FOAM, **choices}, *more])))


def made(derived: Derived) -> Built:
    found = derived.fitting("foam")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "foam")


def test_a_box_of_200_litres() -> None:
    """1 x 1 x 0.2 m: 6.4 kg of 32 kg/m3, a tenth more is mixed; it carries 200 - 6.4."""
    derived = boat()
    (foam,) = made(derived).bought
    assert foam.mass_kg == pytest.approx(6.4, rel=1e-3)
    assert foam.quantity == pytest.approx(7.04, rel=1e-3)
    assert foam.centre == pytest.approx((1.5, 0.0, 0.103), abs=1e-3)
    values = told(derived, "FOAM-LITRES").values
    assert values["carries"].value == pytest.approx(193.6, rel=1e-3)
    # 0.2 m in lifts of 0.15
    assert values["lifts"].value == 2
    assert made(boat(of="foam-64")).bought[0].mass_kg == pytest.approx(12.8, rel=1e-3)


def test_a_drain_is_kept_open() -> None:
    """60 x 40 mm over 1 m are 2.4 litres less."""
    with_drain = boat(drain=0.06)
    assert made(with_drain).bought[0].mass_kg == pytest.approx((0.2 - 0.0024) * 32, rel=1e-3)
    assert told(with_drain, "FOAM-DRAIN").level == "fine"
    start = from_data(build_data(fittings=[FOAM]))
    found = told(derive(start), "FOAM-DRAIN")
    assert found.level == "mend"
    (fix,) = found.fixes
    after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
    assert told(after, "FOAM-DRAIN").level == "fine"


def test_in_a_vee_it_is_a_prism() -> None:
    """A vee that rises 0.3 in 1 m, skin of 3 mm square to it: 0.00313 upright; filled to 0.2 from side to
    side: half breadth (0.2 - 0.00313) / 0.3 = 0.656, area half of 2 x 0.656 x 0.197."""
    high = 0.2 - 0.003 * (1 + 0.3**2) ** 0.5
    area = high * high / 0.3
    foam = made(boat(wedge_lines(0.3), top=0.2, starboard=-0.9, port=0.9)).bought[0]
    assert foam.mass_kg == pytest.approx(area * 32, rel=2e-3)
    # the centre of a triangle on its point is two thirds up
    assert foam.centre[2] == pytest.approx(0.2 - high / 3, abs=1e-3)


def test_a_stringer_takes_its_room() -> None:
    """36 mm wide and all through it, 3 mm over the bottom: 36 litres a metre of 1 m2 ... 0.2 x 0.036."""
    stringer = {"kind": "stringer", "id": "s", "name": "S", "mark": "J1", "aft": 0.5, "fore": 2.5, "y": 0.2,
                "top": 0.25, "taper": 0.0}  # fmt: skip
    derived = boat(more=[stringer])
    assert made(derived).bought[0].mass_kg == pytest.approx((0.2 - 0.2 * 0.036) * 32, rel=2e-3)
    # moved out of it, all of it is foam
    aside = boat(more=[{**stringer, "y": 0.8}])
    assert made(aside).bought[0].mass_kg == pytest.approx(6.4, rel=1e-3)


def test_in_sheets() -> None:
    """Four layers of 50 mm in 200: 1 m2 each, of polystyrene of 30 to 40 kg/m3."""
    derived = boat(way="sheets")
    panels = made(derived).panels
    thick = panels[0].sheet.thickness
    assert len(panels) == int(0.2 / thick + 1e-6)
    assert [p.polygon.area for p in panels] == pytest.approx([1.0] * len(panels), rel=1e-3)
    assert not made(derived).bought
    filled = len(panels) * thick
    kg = filled * panels[0].sheet.stuff.density
    carries = told(derived, "FOAM-LITRES").values["carries"].value
    assert carries == pytest.approx(filled * 1000 - kg, rel=1e-3)
    assert crossings(derived) == {}


@pytest.mark.parametrize("way", ["poured", "sheets"])
def test_it_carries_her_when_she_is_swamped(way: str) -> None:
    """What must float is less by the litres that it fills, less its own mass."""
    without = swamped_of(derive(from_data(build_data())))
    with_it = boat(way=way)
    carries = told(with_it, "FOAM-LITRES").values["carries"].value
    less = without.submerged_kg - swamped_of(with_it).submerged_kg
    assert less == pytest.approx(carries, rel=1e-3)


def test_a_tank_in_it_is_told() -> None:
    tank = {"id": "fuel", "size": [0.4, 0.4, 0.1], "floor_centre": [1.5, 0.0, 0.01], "liquid": "petrol"}
    derived = derive(from_data(build_data(fittings=[FOAM], tanks=[tank])))
    assert any(f.code == "CLASH" and {f.place, f.other} == {"foam", "fuel"} for f in derived.findings)


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match=r"accepted: at least 0\.05 m more"):
        FoamFill.model_validate({**FOAM, "port": -0.5})
    empty = next(f for f in boat(top=0.002).findings if f.code == "CANNOT-BUILD")
    assert "nothing to fill" in empty.text


def test_a_first_one_goes_under_the_floor() -> None:
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.5,
             "height": 0.25}  # fmt: skip
    start = from_data(build_data(fittings=[floor]))
    here = derive(start)
    new = apply(start, place(start, here.surface, here.footing, "foam_fill")).fittings[-1]
    assert new.top == pytest.approx(0.25 - 0.012 - 0.005, abs=1e-3)
    assert (new.aft, new.fore) == (pytest.approx(0.6, abs=0.01), pytest.approx(2.4, abs=0.01))


@settings(max_examples=30, deadline=None)
@given(
    rise=st.sampled_from([0.0, 0.1, 0.3]), aft=st.floats(0.1, 2.0), long=st.floats(0.06, 1.5),
    y=st.floats(-0.8, 0.4), wide=st.floats(0.06, 0.8), top=st.floats(0.05, 0.8), drain=st.floats(0.0, 0.3),
    way=st.sampled_from(["poured", "sheets"]),
)  # fmt: skip
def test_the_other_side_is_the_same(
    rise: float, aft: float, long: float, y: float, wide: float, top: float, drain: float, way: str
) -> None:
    lines = wedge_lines(rise) if rise else None
    both = [boat(lines, aft=aft, fore=aft + long, starboard=a, port=b, top=top, drain=drain, way=way)
            for a, b in ((y, y + wide), (-y - wide, -y))]  # fmt: skip
    one, other = (d.fitting("foam") for d in both)
    assert one is not None and other is not None
    assert one.mass_kg == pytest.approx(other.mass_kg, rel=1e-6, abs=1e-9)
    assert all(p.polygon.is_valid for p in one.panels)
