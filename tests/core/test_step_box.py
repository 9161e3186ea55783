"""A step box worked by hand: 0.40 x 0.50 x 0.20 m of 2.5 mm sheet on a floor, loose and held."""

from typing import Any

import pytest

from stirrup.core.arrange.move import moved
from stirrup.core.arrange.palette import place
from stirrup.core.derive import Derived
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, wedge_lines

DECK = {"kind": "raised_deck", "id": "deck", "name": "Deck", "mark": "D1", "aft": 1.0, "fore": 3.0,
        "height": 0.3, "skin": "al-2.5"}  # fmt: skip
BOX = {"kind": "step_box", "id": "step", "name": "Step", "mark": "B1", "on": "deck", "x": 2.0, "y": 0.2,
       "length": 0.4, "width": 0.5, "height": 0.2, "skin": "al-2.5", "cover": "none"}  # fmt: skip
T = 0.0025


def boat(**choices: Any) -> Derived:
    return derive(plan(fittings=[DECK, {**BOX, **choices}]))


def panels(derived: Derived) -> dict[str, tuple[float, float]]:
    """Size of each panel by its label [m]."""
    built = derived.fitting("step")
    assert built is not None
    out = {}
    for p in built.panels:
        x0, y0, x1, y1 = p.polygon.bounds
        out[p.label] = (x1 - x0, y1 - y0)
    return out


def test_the_top_lies_on_walls_that_lap_one_another() -> None:
    # walls as high as the box less its top; those at the sides between the other two
    assert panels(boat()) == {
        "B1-T": pytest.approx((0.4, 0.5)),
        "B1-A": pytest.approx((0.5, 0.2 - T)),
        "B1-F": pytest.approx((0.5, 0.2 - T)),
        "B1-P": pytest.approx((0.4 - 2 * T, 0.2 - T)),
        "B1-S": pytest.approx((0.4 - 2 * T, 0.2 - T)),
    }


def test_a_lid_has_a_bottom_under_it_that_fits_between_the_walls() -> None:
    found = panels(boat(lid=True))
    assert "B1-T" not in found and found["B1-L"] == pytest.approx((0.4, 0.5))
    assert found["B1-B"] == pytest.approx((0.4 - 2 * T, 0.5 - 2 * T))


def test_it_fills_the_box_that_was_asked_for() -> None:
    built = boat().fitting("step")
    assert built is not None
    xs, ys, zs = zip(*(p.frame.at(u, v) for p in built.panels for u, v in p.outline), strict=True)
    # middles of the sheets: half a thickness inside of every face but the foot
    assert (min(xs), max(xs)) == pytest.approx((1.8, 2.2)) and (min(ys), max(ys)) == pytest.approx(
        (-0.05, 0.45)
    )
    assert (min(zs), max(zs)) == pytest.approx((0.3, 0.5 - T / 2))
    assert built.top_m == pytest.approx(0.5)


def test_posts_and_cleats() -> None:
    built = boat().fitting("step")
    assert built is not None
    lengths = sorted(m.length for m in built.members)
    # four posts as high as the walls; two cleats 5 mm clear of 25 mm posts at both ends
    assert lengths == pytest.approx([0.2 - T] * 4 + [0.5 - 2 * T - 0.06] * 2)
    posts = sorted(m.path[0][:2] for m in built.members if "/post/" in m.key)
    corners = sorted((2.0 + a * (0.2 - T), 0.2 + b * (0.25 - T)) for a in (-1, 1) for b in (-1, 1))
    for post, corner in zip(posts, corners, strict=True):
        assert post == pytest.approx(corner)


def test_fasteners_hinge_and_brackets() -> None:
    # at 75 mm: 197.5 mm take 4 (three spaces), 435 mm take 7 (six spaces); each on two legs
    rows = 2 * (4 * 4 + 2 * 7)
    loose = boat(held="loose").fitting("step")
    held = boat(lid=True).fitting("step")
    assert loose is not None and held is not None
    count = {b.label: b.quantity for b in loose.bought}
    assert count == {"B1-Rf": rows}
    more = {b.label: b.quantity for b in held.bought}
    assert more["B1-H"] == pytest.approx(0.48)  # 20 mm shorter than the lid
    assert more["B1-K"] == 4 and more["B1-Rb"] == 16


def test_one_steps_on_it_and_its_lid_swings_and_holds_gear() -> None:
    derived = boat(lid=True)
    ground = derived.footing.at(2.0, 0.2)
    assert ground is not None and ground.height_m == pytest.approx(0.5) and ground.name == "Step"
    assert derived.footing.at(2.3, 0.2).height_m == pytest.approx(0.3)
    assert [r.what for r in derived.fit.rooms if r.owner == "step"] == ["lid swings"]
    placed = derived.placed("step")
    assert placed is not None and placed.built.hold is not None
    assert not boat().placed("step").built.hold  # type: ignore[union-attr]


def test_half_a_high_step() -> None:
    # 0.2 m up from the deck; 0.3 m is the most for one step
    step = next(f for f in boat().findings if f.code == "STEP" and f.place == "step")
    assert step.level == "fine" and step.values["rise"].value == pytest.approx(0.2)
    high = next(f for f in boat(height=0.31).findings if f.code == "STEP" and f.place == "step")
    assert high.level == "look"


@pytest.mark.parametrize(("x", "level"), [(2.79, "fine"), (2.81, "mend")])
def test_its_foot_stays_on_its_floor(x: float, level: str) -> None:
    # the deck ends at 3.0, and half of the box is 0.2
    found = [f for f in boat(x=x).findings if f.code == "BOX-FOOT"]
    assert [f.level for f in found] == [level]


def test_on_a_vee_bottom_the_gap_under_it_is_told() -> None:
    # chine 0.2 m up at 1 m half-beam: at y = 0.45 it is 0.09 m up, at y = -0.05 only 0.01
    derived = derive(from_data(build_data(wedge_lines(0.2), fittings=[{**BOX, "on": None}])))
    foot = next(f for f in derived.findings if f.code == "BOX-FOOT")
    assert foot.level == "look" and foot.values["gap"].value == pytest.approx(0.08, abs=1e-3)


def test_it_goes_along_with_its_deck_and_rises_with_it() -> None:
    before = plan(fittings=[DECK, BOX])
    after = apply(before, moved(before, ["deck"], (0.1, 0.0, 0.05)))
    box = after.thing("step")
    assert (box.x, box.y) == pytest.approx((2.1, 0.2))
    placed = derive(after).placed("step")
    assert placed is not None and placed.built.top_m == pytest.approx(0.55)


def test_plywood_is_screwed() -> None:
    built = boat(skin="ply-12").fitting("step")
    assert built is not None
    assert all("screw" in b.item for b in built.bought if b.group == "fasteners" and b.label == "B1-Rf")


def test_a_first_one_stands_beside_what_is_before_the_deck() -> None:
    """A box 2 m wide, a deck from 2.5 m on: 350 by 450 mm go from 2.13 to 2.48 m. A battery of 300 mm
    across the middle leaves none of the middle; half a breadth (225 mm) to port is 0 to 450 mm, still
    on it; a whole one (450 mm) is 225 to 675 mm, clear of its 150."""
    battery = {"id": "battery", "form": "battery", "stage": "added", "size": [0.3, 0.3, 0.25],
               "mass": {"value": 25.0, "centre": [2.3, 0.0, 0.13]}}  # fmt: skip
    for items, y in (([], 0.0), ([battery], 0.45)):
        before = plan(fittings=[{**DECK, "aft": 2.5}], items=items)
        here = derive(before)
        value = place(before, here.surface, here.footing, "step_box").value
        assert (value["x"], value["y"]) == pytest.approx((2.305, y), abs=2e-3)
