"""A step before a deck: a lower deck under the foot of its face, which goes along with its edge."""

from typing import Any

import pytest

from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.palette import palette, placed
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, Together, apply
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive, starting
from tests.crossing import crossings

# a deck over 0.5 m of a box whose bottom's inside lies at 3 mm
BOW = {"id": "bow", "kind": "raised_deck", "name": "Bow deck", "mark": "D1", "aft": 2.0, "fore": 3.2,
       "height": 0.503, "skin": "al-2.5", "face": True, "face_fore": False}  # fmt: skip
STERN = {**BOW, "id": "stern", "name": "Stern deck", "mark": "D2", "aft": None, "fore": 0.8, "face": False,
         "face_fore": True}  # fmt: skip


def boat(*fittings: dict[str, Any]) -> Derived:
    return derive(from_data(build_data(box_lines(), fittings=list(fittings))))


def stepped(derived: Derived, host: str = "", at: tuple[float, float] | None = None) -> Derived:
    thing, change = placed(derived.plan, derived.surface, derived.footing, "deck step", host, at)
    assert thing.value["id"] == "step-1"
    return derive(apply(derived.plan, change))


def test_it_is_half_as_high_and_reaches_under_the_face() -> None:
    after = stepped(boat(BOW))
    step: Any = after.plan.thing("step-1")
    # (0.503 + 0.003) / 2; a tread of 350 before the edge and 40 under the face
    assert (step.height, step.aft, step.fore) == pytest.approx((0.253, 1.65, 2.04))
    assert step.face and not step.face_fore and step.face_foot is None
    bow: Any = after.plan.thing("bow")
    assert bow.face_foot == pytest.approx(0.253)
    face = next(p for b in after.built for p in b.panels if p.key == "bow/face")
    assert min(face.frame.at(u, v)[2] for u, v in face.outline) == pytest.approx(0.253, abs=1e-6)


def test_nothing_stands_in_anything_and_its_findings_are_those_of_a_deck() -> None:
    after = stepped(boat(BOW))
    told = {(f.code, f.place) for f in after.findings if f.level == "mend"}
    # 2 m wide on angles of 40 without posts both bend
    assert told == {("MEMBER-GIVES", "bow"), ("MEMBER-GIVES", "step-1")}
    assert not crossings(after)


def test_it_goes_along_with_the_deck() -> None:
    after = stepped(boat(BOW))
    moved = SetValue(path=("fittings", "bow", "aft"), value=2.3)
    plan = apply(after.plan, followed(after.plan, Around(lambda: after.surface, starting()), moved))
    step: Any = plan.thing("step-1")
    assert step.fore == pytest.approx(2.34)


def test_before_a_stern_deck_it_lies_forward() -> None:
    after = stepped(boat(STERN))
    step: Any = after.plan.thing("step-1")
    assert (step.aft, step.fore) == pytest.approx((0.76, 1.15))
    assert step.face_fore and not step.face


def test_before_a_stern_deck_it_goes_along_too() -> None:
    after = stepped(boat(STERN))
    moved = SetValue(path=("fittings", "stern", "fore"), value=1.0)
    plan = apply(after.plan, followed(after.plan, Around(lambda: after.surface, starting()), moved))
    step: Any = plan.thing("step-1")
    assert step.aft == pytest.approx(0.96)


def test_on_a_floor_it_is_half_way_from_that() -> None:
    floor = {"id": "floor", "kind": "floor", "name": "Floor", "mark": "F1", "aft": 0.3, "fore": 3.0,
             "height": 0.103, "skin": "al-2.5"}  # fmt: skip
    after = stepped(boat(floor, BOW))
    step: Any = after.plan.thing("step-1")
    assert step.height == pytest.approx(0.303) and step.face_foot == pytest.approx(0.103)


def test_which_deck_gets_it() -> None:
    both = boat(BOW, {**STERN, "height": 0.403})
    # the higher one; the one that is chosen; the one near to where it was put
    chosen: tuple[Any, ...] = ((), ("stern",), ("", (0.9, 0.0)))
    steps: list[Any] = [stepped(both, *more).plan.thing("step-1") for more in chosen]
    assert [s.aft for s in steps] == pytest.approx([1.65, 0.76, 0.76])


@pytest.mark.parametrize(
    ("deck", "words"),
    [
        ({**BOW, "height": 0.162}, "0.159 m over what one stands on"),
        ({**BOW, "aft": None, "fore": None}, "free edge"),
        ({**BOW, "reaches": "along port", "inner": 0.3}, "free edge"),
    ],
)
def test_where_there_is_none(deck: dict[str, Any], words: str) -> None:
    with pytest.raises(CoreError, match=words):
        stepped(boat(deck))


def test_the_palette_says_what_is_missing() -> None:
    missing = {p.key: p.missing for p in palette(boat().plan)}
    assert "place one first" in missing["deck step"]


def test_placing_it_is_one_step_and_twice_takes_two_bonds() -> None:
    once = stepped(boat(BOW))
    _, change = placed(once.plan, once.surface, once.footing, "deck step", "bow")
    assert isinstance(change, Together)
    twice = apply(once.plan, change)
    assert [b.id for b in twice.arrangement.bonds] == ["bond-1", "bond-2"]
