"""Posts under a deck at 0.3 m of 2.5 mm sheet on angles of 40 x 40 x 3, over a bottom at 3 mm."""

import math
from typing import Any

import numpy as np
import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.framing_plan import framing_plan
from stirrup.core.parts.model import Member
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, wedge_lines
from tests.core.test_step_box import DECK
from tests.crossing import crossings

# the skin's underside at 0.2975, the flange's 3 mm under that
UNDER = 0.3 - 0.0025 - 0.003


def boat(*more: dict[str, Any], **choices: Any) -> Derived:
    return derive(plan(fittings=[{**DECK, "posts": 1, **choices}, *more]))


def deck(derived: Derived) -> Built:
    built = derived.fitting("deck")
    assert built is not None
    return built


def posts(derived: Derived) -> list[Member]:
    return [m for m in deck(derived).members if m.role == "post"]


def told(derived: Derived) -> Finding:
    return next(f for f in derived.findings if f.code == "POSTS")


def test_one_under_the_middle_of_each_cross_member() -> None:
    derived = boat()
    crosses = [m for m in deck(derived).members if m.role == "cross"]
    made = posts(derived)
    assert len(made) == len(crosses)
    assert [m.length for m in made] == pytest.approx([UNDER - 0.003] * len(made), abs=1e-4)
    for post, cross in zip(made, sorted(crosses, key=lambda m: m.path[0][0]), strict=True):
        leg = np.array(cross.fills[0])
        # beside the leg, under the flange
        assert min(p[0] for body in post.fills for p in body) == pytest.approx(leg[:, 0].max())
        assert post.centre[1] == pytest.approx(0.0, abs=1e-9)
    assert crossings(derived) == {}


def test_they_are_seen_from_the_side() -> None:
    """Seven more lines than the deck without them, each from the bottom to the flange."""
    lines = [s.ring for s in deck(boat()).shapes if s.view == "side"]
    without = [s.ring for s in deck(boat(posts=0)).shapes if s.view == "side"]
    more = [r for r in lines if r not in without]
    assert len(more) == 7
    assert {(round(a[2], 3), round(b[2], 3)) for a, b in more} == {(0.003, round(UNDER, 3))}


def test_two_under_every_second() -> None:
    """Seven cross members: the first, third, fifth and seventh; at thirds of 1.98 m."""
    made = posts(boat(posts=2, post_every=2))
    assert len(made) == 8
    assert {round(m.centre[1], 3) for m in made} == {0.33, -0.33}


def test_on_a_vee_each_is_as_long_as_there_is_room() -> None:
    """Bottom rising 0.2 in 1.0: at 0.33 the foot stands on what is higher of it, 0.3425 from the middle."""
    data = build_data(wedge_lines(0.2), fittings=[{**DECK, "height": 0.4, "posts": 2}])
    made = posts(derive(from_data(data)))
    skin = 0.003 / math.cos(math.atan(0.2))
    for m in made:
        high = 0.2 * (abs(m.centre[1]) + 0.0125) + skin
        assert m.length == pytest.approx(0.4 - 0.0025 - 0.003 - high, abs=6e-4)


def test_on_a_floor_they_stand_on_that() -> None:
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.9, "fore": 3.1,
             "height": 0.1, "skin": "ply-12", "bearers": "ply-12"}  # fmt: skip
    derived = boat(floor, posts_on="floor", face_foot=0.1)
    assert [m.length for m in posts(derived)] == pytest.approx(
        [UNDER - 0.1] * len(posts(derived)), abs=1e-4
    )
    assert crossings(derived) == {}


def test_none_stands_in_the_opening_of_a_hatch() -> None:
    hatch = {"kind": "hatch", "id": "hatch", "name": "Hatch", "deck": "deck", "x": 2.0, "y": 0.0,
             "clear_length": 0.5, "clear_width": 0.5}  # fmt: skip
    for m in posts(boat(hatch)):
        x, y, _ = m.centre
        assert not (abs(x - 2.0) < 0.25 and abs(y) < 0.25)


def test_what_it_takes() -> None:
    """A bracket to each, two rivets through the leg and two of the bracket, 4 ml of bed under each."""
    parts = {b.key.split("/", 1)[1]: b.quantity for b in deck(boat()).bought}
    assert parts["post-feet"] == 7 and parts["fasteners/posts"] == 28
    assert parts["post-beds"] == pytest.approx(7 * 4e-6 / 0.00029)
    without = {b.key for b in deck(boat(posts=0)).bought}
    assert not [k for k in without if "post" in k]


def test_whether_they_buckle() -> None:
    """A tube of 25 x 2: (25⁴ - 21⁴) / 12 mm⁴, 69 GPa, 0.2915 m: 131 kN, of 6.5 that are wanted."""
    found = told(boat())
    i = (0.025**4 - 0.021**4) / 12
    assert found.values["holds"].value == pytest.approx(math.pi**2 * 69e9 * i / 0.2915**2, rel=1e-3)
    assert found.level == "fine" and found.values["need"].value == pytest.approx(3 * 2 * 110 * 9.81)
    # cedar of 20 x 20: in a deep boat on long posts
    tall = build_data(fittings=[{**DECK, "height": 0.95, "posts": 1, "post_of": "cedar-20x20"}])
    thin = told(derive(from_data(tall)))
    assert thin.working is not None
    e = 1e9 * float(thin.working.inputs[0].quantity.value)
    holds = math.pi**2 * e * 0.02**4 / 12 / (0.9445 - 0.003) ** 2
    assert thin.values["holds"].value == pytest.approx(holds, rel=1e-3)
    assert holds < 6474.6 and thin.level == "mend"


def test_they_are_set_out_and_come_before_the_skin() -> None:
    found = framing_plan(deck(boat()))
    assert found is not None
    post = next(s for s in found.members if s.role == "post")
    assert post.along[1].at - post.along[0].at == pytest.approx(0.025)
    order = [s.what for s in found.steps]
    assert order.index("cross members") < order.index("posts") < order.index("skin")


def test_gear_does_not_lie_where_a_post_stands() -> None:
    crate = {"id": "crate", "stage": "added", "size": [0.2, 0.3, 0.2],
             "mass": {"value": 1.0, "centre": [2.0, 0.0, 0.11]}}  # fmt: skip
    for count, clash in ((1, True), (0, False)):
        derived = derive(plan(fittings=[{**DECK, "posts": count}], items=[crate]))
        met = [f for f in derived.findings if f.code == "CLASH" and {f.place, f.other} == {"deck", "crate"}]
        assert bool(met) is clash


def test_under_a_deck_that_rises_they_stand_on_a_level_floor() -> None:
    """The deck rises 4°, the floor does not: every foot is at 0.1 m in the boat."""
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 0.9, "fore": 3.1,
             "height": 0.1, "skin": "ply-12", "bearers": "ply-12"}  # fmt: skip
    made = posts(boat(floor, posts_on="floor", face_foot=0.1, rises=4.0))
    # at the middle of each; its own slope is that of the deck
    assert made and [m.path[0][2] for m in made] == pytest.approx([0.1] * len(made), abs=1e-3)
