"""Engine beds in a vee that rises 0.2 m to its chine 1 m out, skins of 3 mm: an engine of 200 kg, 100 kW,
800 x 600 x 500 mm, standing 0.209 m up with its middle at 1.2 m; feet 560 mm apart across, 500 along."""

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.plan.changes import apply
from stirrup.core.plan.copies import several
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, wedge_lines
from tests.crossing import crossings

ENGINE: dict[str, Any] = {
    "id": "engine", "form": "motor", "name": "engine", "size": [0.8, 0.6, 0.5], "power": 100.0,
    "mass": {"value": 200.0, "centre": [1.2, 0.0, 0.459], "status": "maker"},
}  # fmt: skip
BED: dict[str, Any] = {
    "kind": "engine_bed", "id": "beds", "name": "Beds", "mark": "J1", "engine": "engine", "aft": 0.6,
    "fore": 1.8, "feet": 1.2, "top": 0.2, "limber": 0.0, "taper": 0.0, "shims": 0.004,
}  # fmt: skip
SKIN_Z = 0.003 * math.hypot(1.0, 0.2)


def boat(engine: dict[str, Any] | None = None, more: Any = (), **choices: Any) -> Derived:
    items = [{**ENGINE, **(engine or {})}]
    data = build_data(wedge_lines(0.2), fittings=[{**BED, **choices}, *more])
    return derive(from_data({**data, "items": items}))


def made(derived: Derived, id_: str = "beds") -> Built:
    built = derived.fitting(id_)
    assert built is not None
    return built


def told(code: str, derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "beds")


def test_their_layers_over_a_sloping_bottom() -> None:
    """Three of 18 mm about 0.28 out: 0.253 to 0.307; the outer face of each decides, on 6 mm of bed."""
    panels = {p.label: p for p in made(boat()).panels}
    assert sorted(panels) == ["J1-PL1", "J1-PL2", "J1-PL3", "J1-SL1", "J1-SL2", "J1-SL3"]
    for label, outer in (("J1-PL1", 0.271), ("J1-PL3", 0.307), ("J1-SL1", 0.271), ("J1-SL3", 0.307)):
        foot = 0.2 * outer + SKIN_Z + 0.006
        assert panels[label].polygon.bounds == pytest.approx((0.0, foot, 1.2, 0.2), abs=2e-4)
    assert panels["J1-PL1"].frame.origin[1] == pytest.approx(0.262)


def test_both_weigh_the_same() -> None:
    parts = made(boat(held="coach screws")).parts
    sides = [sum(p.mass_kg for p in parts if f"-{letter}" in p.label) for letter in "PS"]
    assert sides[0] == pytest.approx(sides[1], rel=1e-6)
    assert sum(p.mass_kg * p.centre[1] for p in parts) == pytest.approx(0.0, abs=1e-6)


def test_what_one_foot_bears() -> None:
    """3 x 200 x 9.81 / 4 = 1471.5 N; 100 kW at 4000 turns a minute are 238.73 N m, over 2 x 0.56 m
    213.15 N more. Two M10 through 54 mm of wood at 10 N/mm² hold 10.8 kN, two coach screws 3 kN."""
    bolts = told("BED-BOLTS", boat())
    assert bolts.values["need"].value == pytest.approx(1471.5 + 100e3 / (2 * math.pi * 4000 / 60) / 1.12)
    assert bolts.values["need"].value == pytest.approx(1684.65, abs=0.01)
    assert bolts.values["have"].value == pytest.approx(10_800)
    screwed = told("BED-BOLTS", boat(held="coach screws"))
    assert screwed.level == "fine" and screwed.values["have"].value == pytest.approx(3000)
    # half of what is over: (3000 - 213.15) x 4 / 3 / 9.81 = 378.77 kg
    for mass, level in ((378.0, "fine"), (379.5, "mend")):
        heavy = {"mass": {**ENGINE["mass"], "value": mass}}
        assert told("BED-BOLTS", boat(heavy, held="coach screws")).level == level
    slow = told("BED-BOLTS", boat(speed=1000))
    assert slow.values["need"].value == pytest.approx(1471.5 + 4 * 213.15, abs=0.1)
    assert told("BED-BOLTS", boat({"power": None})).values["need"].value == pytest.approx(1471.5)


@pytest.mark.parametrize(
    ("choices", "pressed", "level"),
    [
        # an angle spreads it on 120 + 2 x 30 mm, as wide as the bed
        ({}, 1684.65 / (180 * 54), "fine"),
        ({"held": "coach screws"}, 1684.65 / (120 * 54), "fine"),
        # one layer of 6 mm
        ({"core": "ply-6", "layers": 1}, 1684.65 / (180 * 6), "fine"),
        ({"core": "ply-6", "layers": 1, "held": "coach screws"}, 1684.65 / (120 * 6), "mend"),
        # the foot is 80 mm wide
        ({"layers": 6, "held": "coach screws"}, 1684.65 / (120 * 80), "fine"),
    ],
)
def test_what_the_core_bears(choices: dict[str, Any], pressed: float, level: str) -> None:
    found = told("BED-CRUSH", boat(**choices))
    assert found.level == level and found.values["pressed"].value == pytest.approx(pressed, rel=1e-4)


def test_whether_they_come_up_to_its_feet() -> None:
    """0.2 and 5 mm of angle and 4 of shims: 0.209. Without an angle 5 mm are missing."""
    assert told("BED-HIGH", boat()).level == "fine"
    low = told("BED-HIGH", boat(held="coach screws"))
    assert low.level == "mend" and low.values["off"].value == pytest.approx(0.005)
    assert [f.value for f in low.fixes] == [pytest.approx(0.205)]
    assert told("BED-HIGH", boat(held="coach screws", top=0.205)).level == "fine"
    over = told("BED-HIGH", boat(top=0.21))
    assert over.level == "mend" and "over" in over.title
    for off, level in ((0.0019, "fine"), (0.0021, "mend")):
        assert told("BED-HIGH", boat(top=0.2 + off)).level == level
    # 0.2 at its aft end and 3 degrees: at 0.6 m from there 31.4 mm more
    rising = told("BED-HIGH", boat(rises=3.0))
    assert rising.values["off"].value == pytest.approx(0.6 * math.tan(math.radians(3.0)), abs=1e-5)


def test_where_its_feet_stand() -> None:
    """At 0.95 and 1.45 m, 90 mm of bed on either side of each: 0.86 to 1.54."""
    for choices, level in (
        ({"aft": 0.86}, "fine"), ({"aft": 0.87}, "mend"), ({"fore": 1.54}, "fine"),
        ({"fore": 1.53}, "mend"),
        ({"taper": 0.26}, "fine"), ({"taper": 0.27}, "mend"),
        # a relief of 150 mm between them, and at one of them
        ({"relief": 1.2}, "fine"), ({"relief": 1.116}, "fine"), ({"relief": 1.114}, "mend"),
    ):  # fmt: skip
        assert told("BED-FEET", boat(**choices)).level == level, choices


def test_the_gap_at_the_coupling_says_what_goes_under_its_feet() -> None:
    """0.2 mm wider at the top over a coupling of 100 mm: the engine's fore end, 500 mm from foot to foot,
    has to come up by a millimetre. 0.1 mm is allowed."""
    assert told("BED-ALIGN", boat()).level == "look"
    gaps = {"gap_top": 0.0006, "gap_bottom": 0.0004, "gap_port": 0.0005, "gap_starboard": 0.0005}
    low = told("BED-ALIGN", boat(**gaps))
    assert low.level == "mend" and low.values["up"].value == pytest.approx(0.001)
    assert low.remedy.startswith("Put {up} under both fore feet") and "push" not in low.remedy
    aside = told("BED-ALIGN", boat(**{**gaps, "gap_top": 0.0004, "gap_starboard": 0.0008}))
    assert aside.remedy.startswith("Push its fore end {aside} to starboard")
    assert aside.values["aside"].value == pytest.approx(0.0015)
    over = told("BED-ALIGN", boat(**{**gaps, "gap_top": 0.0001}))
    assert over.remedy.startswith("Take {up} from under")
    for top, level in ((0.0005, "fine"), (0.000501, "mend")):
        assert told("BED-ALIGN", boat(**{**gaps, "gap_top": top})).level == level
    # one of the four is not read yet
    assert told("BED-ALIGN", boat(gap_top=0.0005, gap_bottom=0.0004)).level == "look"


def test_what_is_bought() -> None:
    """Two bolts in each of four feet, 12 + 4 + 5 mm of grip; two through each angle, 54 + 5."""
    parts = {b.label: b for b in made(boat()).bought}
    assert {label: parts[label].quantity for label in ("J1-R", "J1-RN", "J1-RW", "J1-Q", "J1-Z")} == {
        "J1-R": 8, "J1-RN": 8, "J1-RW": 16, "J1-Q": 8, "J1-Z": 4
    }  # fmt: skip
    for label, grip in (("J1-R", 0.021), ("J1-Q", 0.059)):
        bolt: Any = parts[label].entry
        assert bolt.grip_min <= grip <= bolt.grip_max and bolt.diameter == 0.010
    angles = [m for m in made(boat()).members if "/angle/" in m.key]
    assert [m.length for m in angles] == pytest.approx([0.18] * 4)
    screws = {b.item: b.quantity for b in made(boat(held="coach screws", shims=0.0)).bought}
    assert screws["coach-m10x80"] == 8 and "shim-set" not in screws


def test_a_relief_is_cut_out_of_their_tops() -> None:
    plain, cut = (sum(p.polygon.area for p in made(boat(**c)).panels) for c in ({}, {"relief": 1.2}))
    # 150 x 30 mm out of each of six layers
    assert plain - cut == pytest.approx(6 * 0.150 * 0.030, rel=1e-3)


def test_what_is_built_round_them_is_cut_out() -> None:
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.5, "fore": 2.2,
             "height": 0.26, "skin": "ply-12"}  # fmt: skip
    alone = derive(from_data(build_data(wedge_lines(0.2), fittings=[floor])))
    both = boat(more=[floor])

    def bearers(d: Derived) -> float:
        return sum(p.polygon.area for p in made(d, "floor").panels if "/bearer/" in p.key)

    assert bearers(both) < bearers(alone) - 1e-3
    assert crossings(both) == {}


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(
    st.floats(0.3, 1.0), st.floats(0.3, 0.9), st.floats(0.15, 0.35), st.floats(-3.0, 6.0),
    st.integers(1, 4), st.sampled_from(["bolts through an angle", "coach screws"]),
)  # fmt: skip
def test_however_they_stand_nothing_stands_in_anything(
    aft: float, across: float, top: float, rises: float, layers: int, held: str
) -> None:
    derived = boat(aft=aft, across=across, top=top, rises=rises, layers=layers, held=held)
    if any(f.code == "CANNOT-BUILD" for f in derived.findings):
        return
    assert crossings(derived) == {}
    a, b = (sum(p.mass_kg for p in made(derived).panels if f"-{s}L" in p.label) for s in "PS")
    assert a == pytest.approx(b, rel=1e-6)


@pytest.mark.parametrize(
    ("engine", "choices", "words"),
    [
        ({"form": "outboard"}, {}, "hangs outside"),
        ({}, {"across": 0.1}, "0.054 m thick each"),
        ({}, {"top": 0.08}, "left over the bottom"),
        ({}, {"aft": -1.0}, "no bottom under it"),
    ],
)
def test_what_cannot_be(engine: dict[str, Any], choices: dict[str, Any], words: str) -> None:
    found = [f for f in boat(engine, **choices).findings if f.code == "CANNOT-BUILD"]
    assert len(found) == 1 and words in found[0].text


def test_refused_in_words() -> None:
    with pytest.raises(CoreError, match=r"at least 0\.3 m further forward"):
        boat(fore=0.8)
    here = derive(plan())
    with pytest.raises(CoreError, match="note it as found first"):
        place(here.plan, here.surface, here.footing, "engine_bed")
    derived = boat()
    with pytest.raises(CoreError, match="one pair"):
        several(derived.plan, ["beds"], False)


def test_first_ones_stand_under_the_engine() -> None:
    """60 % of 800 mm apart along, 90 % of 600 across; as high as the engine's foot less angle and shims."""
    data = build_data(wedge_lines(0.2))
    here = derive(from_data({**data, "items": [ENGINE]}))
    change = place(here.plan, here.surface, here.footing, "engine_bed")
    beds: Any = apply(here.plan, change).fittings[0]
    assert (beds.feet, beds.apart, beds.across, beds.top) == pytest.approx((1.2, 0.48, 0.54, 0.2))
    after = derive(apply(here.plan, change))
    levels = {f.code: f.level for f in after.findings if f.place == beds.id}
    assert levels["BED-HIGH"] == levels["BED-FEET"] == levels["BED-BOLTS"] == "fine"


def test_a_bracket_behind_the_transom_is_no_engine() -> None:
    plate = {"id": "plate", "form": "motor", "mass": {"value": 8.0, "centre": [-0.1, 0.0, 0.5]}}
    data = build_data(wedge_lines(0.2))
    here = derive(from_data({**data, "items": [plate, ENGINE]}))
    value = place(here.plan, here.surface, here.footing, "engine_bed").value
    assert value["engine"] == "engine"
