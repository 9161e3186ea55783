"""One list of all kinds, as registered, and what every one of them has to be able to do.

The boat is a box 4 m long, 2 m wide, 1 m deep, with a deck from 2.5 m on, a console and a motor. Whoever
registers a new kind has it here.
"""

import sys
from collections.abc import Callable
from functools import cache, partial
from typing import Any

import pytest

from stirrup.core.arrange.move import moved
from stirrup.core.arrange.palette import ENTRIES, placed
from stirrup.core.arrange.size import edges_of, resized
from stirrup.core.contract.kind import Kind
from stirrup.core.derive import Derived, derive_live
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.kinds.registry import BY_KEY, KINDS, kind_of
from stirrup.core.memo import Scratch, forget, passing
from stirrup.core.plan.carried import carried
from stirrup.core.plan.changes import AddThing, apply, invert
from stirrup.core.plan.copies import several
from stirrup.core.plan.model import GROUPS, Plan
from stirrup.core.plan.where import extent_of
from stirrup.exchange.buildfile import dump, parse
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, plan

MASS = {"value": 10.0, "centre": [1.5, 0.4, 0.3]}
CONSOLE = {"id": "console", "form": "console", "stage": "added", "size": [0.4, 0.6, 0.9],
           "mass": {"value": 20.0, "centre": [1.8, -0.4, 0.46]}}  # fmt: skip
# what the palette does not offer: part of the boat, or told of something that is there
EXAMPLES: dict[str, dict[str, Any]] = {
    "tank": {"id": "it", "form": "tank", "mass": MASS, "size": [0.5, 0.4, 0.2], "stage": "added"},
    "motor": {"id": "it", "form": "motor", "mass": {"value": 30.0, "centre": [-0.1, 0.1, 0.7]}},
    "structure": {"id": "it", "kind": "thwart",
                  "box": {"size": [0.3, 1.9, 0.05], "floor_centre": [1.0, 0.0, 0.4]}},
    "volume": {"id": "it", "box": {"size": [0.4, 0.4, 0.3], "floor_centre": [-0.2, 0.6, 0.1]}},
}  # fmt: skip
CASES = [(k.key, entry.key) for k in KINDS for entry in k.entries] + [(key, "") for key in EXAMPLES]
# they reach from side to side, or are part of the boat: there is no second one beside them
ASHORE = ("mould", "wax")  # what is bought for a thing and is not aboard
NO_COPY = {"raised_deck", "floor", "battery_tray", "tank_cradle", "cable_run", "transom", "pods",
           "liner", "knees", "edge_run", "chocks", "well_box", "engine_bed"}  # fmt: skip


BATTERY = {"id": "battery", "form": "battery", "stage": "added", "size": [0.33, 0.18, 0.24],
           "mass": {"value": 24.0, "centre": [0.6, 0.5, 0.125]}}  # fmt: skip
WELL = {"id": "well", "size": [0.4, 0.6, 0.3], "floor_centre": [0.8, -0.4, 0.03], "liquid": "water"}


OUTBOARD = {"id": "engine", "form": "outboard", "mass": {"value": 60.0, "centre": [-0.2, 0.0, 0.9]}}


ICE = {"id": "ice", "form": "cooler", "stage": "added", "size": [0.38, 0.5, 0.3],
       "mass": {"value": 8.0, "centre": [1.2, 0.6, 0.153]}}  # fmt: skip


# what it needs besides
ENGINE = {"id": "inboard", "form": "motor", "size": [0.8, 0.5, 0.5],
          "mass": {"value": 150.0, "centre": [1.3, 0.0, 0.4]}}  # fmt: skip
BESIDES: dict[str, list[dict[str, Any]]] = {
    "bilge_well": [{"id": "floor", "kind": "floor", "name": "Floor", "mark": "F1", "aft": 0.2, "fore": 2.4,
                    "height": 0.15}]
}  # fmt: skip


def boat(key: str = "") -> Plan:
    there = [{**DECK, "aft": 2.5}, *BESIDES.get(key, [])]
    inside = [ENGINE] if key == "engine_bed" else []
    return plan(fittings=there, items=[CONSOLE, BATTERY, OUTBOARD, ICE, *inside], tanks=[WELL])


@cache
def specimen(key: str, entry: str) -> tuple[Plan, str]:
    """The boat with one thing of a kind, and its id."""
    before = boat(key)
    kind: Kind[Any] = BY_KEY[key]
    if entry:
        here = derive(before)
        thing, change = placed(before, here.surface, here.footing, entry)
        return apply(before, change), str(thing.value["id"])
    new = AddThing(path=(kind.group,), value=EXAMPLES[key])
    return apply(before, new), str(new.value["id"])


def made(key: str, entry: str) -> tuple[Derived, str]:
    after, id_ = specimen(key, entry)
    return derive(after), id_


each = pytest.mark.parametrize(("key", "entry"), CASES, ids=[f"{k}-{e}" for k, e in CASES])


def test_every_kind_is_in_the_list_and_says_what_it_is() -> None:
    assert {key for key, _ in CASES} == set(BY_KEY) and len(BY_KEY) == len(KINDS)
    for kind in KINDS:
        assert kind.title and kind.about.endswith(".") and kind.group in GROUPS
    assert {e for _, e in CASES if e} == set(ENTRIES)


@each
def test_it_is_built_and_is_of_its_kind(key: str, entry: str) -> None:
    derived, id_ = made(key, entry)
    assert not [f for f in derived.findings if f.code in ("CANNOT-BUILD", "RING")]
    placed = derived.placed(id_)
    assert placed is not None and placed.kind is BY_KEY[key] is kind_of(placed.choices)
    assert placed.built.fitting == id_
    ids = {p.key for p in placed.built.parts}
    assert len(ids) == len(placed.built.parts) and all(k.startswith(f"{id_}/") for k in ids)
    ashore = {f"{id_}/{word}" for word in ASHORE}
    assert all((p.mass_kg > 0) != (p.key in ashore) for p in placed.built.parts)


@each
def test_what_it_makes_can_be_held_against_what_it_made(key: str, entry: str) -> None:
    """Whether it is the same, all of it: no field of it tells of single numbers only, as an array does."""
    derived, id_ = made(key, entry)
    forget()
    one, other = derived.placed(id_), made(key, entry)[0].placed(id_)
    assert one is not None and other is not None and one.built is not other.built
    assert isinstance(one.built == other.built, bool)


@each
def test_it_has_an_extent_around_all_that_it_is_made_of(key: str, entry: str) -> None:
    derived, id_ = made(key, entry)
    e = extent_of(derived.plan, derived.surface, id_)
    assert e.x[0] <= e.x[1] and e.y[0] <= e.y[1] and e.z[0] <= e.z[1]
    placed = derived.placed(id_)
    assert placed is not None
    for solid in placed.built.solids:
        b = solid.shape.bounds
        # a hatch is told by its clear opening, a deck's members hang under it
        assert b[0] >= e.x[0] - 0.05 and b[3] <= e.x[1] + 0.05
        assert b[1] >= e.y[0] - 0.05 and b[4] <= e.y[1] + 0.05


@each
def test_moved_there_and_back_it_is_as_before(key: str, entry: str) -> None:
    before, id_ = specimen(key, entry)
    there = moved(before, [id_], (-0.1, 0.05, 0.02))
    after = apply(before, there)
    assert after != before
    back = apply(after, moved(after, [id_], (0.1, -0.05, -0.02)))
    surface = derive(before).surface
    was, now = extent_of(before, surface, id_), extent_of(back, surface, id_)
    for axis in "xyz":
        assert getattr(now, axis) == pytest.approx(getattr(was, axis), abs=1e-4)
    assert apply(after, invert(before, there)) == before


@each
def test_drawn_to_another_size_the_other_edge_stays(key: str, entry: str) -> None:
    before, id_ = specimen(key, entry)
    surface = derive(before).surface
    for edge in edges_of(before, id_):
        was = extent_of(before, surface, id_)
        other = {"aft": "fore", "fore": "aft", "port": "starboard", "starboard": "port", "top": "bottom",
                 "bottom": "top"}[edge]  # fmt: skip
        outward = 0.03 if edge in ("fore", "port", "top") else -0.03
        after = apply(before, resized(before, surface, id_, edge, was.edge(edge) + outward))
        now = extent_of(after, surface, id_)
        assert now.edge(edge) == pytest.approx(was.edge(edge) + outward, abs=2e-4)
        assert now.edge(other) == pytest.approx(was.edge(other), abs=2e-4)


@each
def test_mirrored_twice_it_is_as_before(key: str, entry: str) -> None:
    before, id_ = specimen(key, entry)
    kind = BY_KEY[key]
    if key in NO_COPY:
        return
    value = before.thing(id_).model_dump(mode="json")
    e = extent_of(before, derive(before).surface, id_)
    once = dict(before.thing(id_).model_dump(mode="json"))
    if abs(sum(e.y)) < 1e-6:
        with pytest.raises(CoreError, match="centreline"):
            kind.mirror(once)
        return
    kind.mirror(once)
    assert once != value
    kind.mirror(once)
    assert once == value


@each
def test_it_is_copied_with_a_name_of_its_own(key: str, entry: str) -> None:
    before, id_ = specimen(key, entry)
    if key in NO_COPY:
        with pytest.raises(CoreError):
            several(before, [id_])
        return
    change, new = several(before, [id_])
    after = apply(before, change)
    assert len(new) == 1 and new[0] != id_
    old, copy = after.thing(id_), after.thing(new[0])
    assert old.title != copy.title and kind_of(copy) is BY_KEY[key]
    surface = derive(after).surface
    there, first = extent_of(after, surface, new[0]), extent_of(after, surface, id_)
    # forward of it; what lies in a face goes along that, clear of the other
    assert there.x[0] > first.x[0] or there.y[1] < first.y[0]


@each
def test_it_is_written_and_read_back(key: str, entry: str) -> None:
    before, _ = specimen(key, entry)
    # what it names of the catalogue goes along
    assert parse(dump(before)) == carried(before, starting())


def crate(at: tuple[float, float, float], size: float) -> dict[str, Any]:
    return {"id": "crate", "stage": "added", "size": [size] * 3, "mass": {"value": 1.0, "centre": list(at)}}


def between(found: tuple[Finding, ...], id_: str) -> list[Finding]:
    return [f for f in found if {f.place, f.other} == {"crate", id_}]


@each
def test_a_box_in_it_is_in_its_way_and_one_beside_it_is_not(key: str, entry: str) -> None:
    derived, id_ = made(key, entry)
    placed = derived.placed(id_)
    assert placed is not None
    solids = [s for s in placed.built.solids if s.role != "wall"] or placed.built.solids
    if not solids:
        assert key in (
            "volume", "motor", "outboard", "cable_run", "paint_zone", "liner", "edge_run", "patch"
        )  # fmt: skip
        return
    piece = solids[0].pieces[0] if solids[0].pieces else solids[0].shape
    b = piece.bounds
    # off its middle: a hatch may be there
    inside = (b[0] + 0.3 * (b[3] - b[0]), b[1] + 0.3 * (b[4] - b[1]), (b[2] + b[5]) / 2)
    if entry == "lip":  # it follows the sheer: not every place of its box is in it
        at = piece.footprint.representative_point()
        inside = (at.x, at.y, inside[2])
    with_box = apply(derived.plan, AddThing(path=("items",), value=crate(inside, 0.1)))
    assert any(f.code in ("CLASH", "ROOM") for f in between(derive(with_box).findings, id_))
    far = (b[3] + 1.0 if b[0] < 0 else -1.0, 0.0, b[5] + 1.5)
    beside = apply(derived.plan, AddThing(path=("items",), value=crate(far, 0.1)))
    assert not [f for f in between(derive(beside).findings, id_) if f.level != "fine"]


@each
def test_what_looks_like_something_is_drawn_where_it_stands(key: str, entry: str) -> None:
    derived, id_ = made(key, entry)
    placed = derived.placed(id_)
    assert placed is not None
    e = extent_of(derived.plan, derived.surface, id_)
    if key not in ("structure", "volume"):
        assert {s.view for s in placed.built.shapes} >= {"plan"}
    for shape in placed.built.shapes:
        if shape.view == "plan":
            xs, ys = [p[0] for p in shape.ring], [p[1] for p in shape.ring]
            slack = 0.3 if key.startswith("console") else 0.1  # its wheel stands off it
            assert min(xs) >= e.x[0] - slack and max(xs) <= e.x[1] + slack
            aside = 2.0 if key == "tank_cradle" else 0.1  # its hoses lead to the side
            assert min(ys) >= e.y[0] - aside and max(ys) <= e.y[1] + aside


# calls of functions in one step of a hand that moves a thing: some 12 000 take 10 ms of a calm core.
# A count is the same on every machine; seconds are measured by the bench
MOST_CALLS = 13_000
# bearers are cut to the hull, all anew where the whole floor or an opening in it moves
MORE_CALLS = {"floor": 21_000, "bilge_well": 21_000}


def calls_of(action: Callable[[], object]) -> int:
    """How many functions are called by something, built-in ones too."""
    count = 0

    def note(frame: object, event: str, arg: object) -> None:
        nonlocal count
        count += event in ("call", "c_call")

    before = sys.getprofile()
    sys.setprofile(note)
    try:
        action()
    finally:
        sys.setprofile(before)
    return count


@each
def test_a_step_of_the_hand_stays_within_its_budget(key: str, entry: str) -> None:
    there, id_ = specimen(key, entry)
    if key == "structure":
        return  # part of the boat: no hand moves it
    derive(there)
    scratch = Scratch()
    for k in (1, 2):  # the second step is one of many
        by = (
            0.001 * k,
            0.001 * k * (key == "face_door"),
            0.001 * k * (key in ("cable_run", "transom", "pods", "swim_step", "splash_well")),
        )
        step = apply(there, moved(there, [id_], by))
        scratch.step()
        with passing(scratch):
            calls = calls_of(partial(derive_live, step, starting(), ()))
    assert 500 < calls < MORE_CALLS.get(key, MOST_CALLS)
