import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing, RemoveThing, SetValue
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import dump
from stirrup.exchange.catalogue import starting
from stirrup.store import builds, uploads
from stirrup.store.models import Revision
from stirrup.store.shop import catalogue, set_price, set_units, the_shop
from tests.boats import DECK, HATCH, skiff_plan


def words(plan, change) -> str:
    return describe(plan, change, SYSTEMS["mm"])


@pytest.fixture
def shop(store) -> int:
    return the_shop().id


@pytest.fixture
def build(shop) -> builds.Stored:
    return builds.create(shop, skiff_plan(fittings=[DECK, HATCH]), "made")


def move(value: float) -> SetValue:
    return SetValue(path=("fittings", "deck", "aft"), value=value)


def commit(shop: int, build: builds.Stored, base: int, change, token=None) -> builds.Stored:
    return builds.commit(shop, build.id, base, change, words, token)


def test_a_build_comes_back_as_it_was_stored(shop, build) -> None:
    assert builds.load(shop, build.id).plan == build.plan
    assert dump(builds.load(shop, build.id).plan) == dump(build.plan)
    assert build.number == 1


def test_the_demo_comes_back_byte_identical(shop) -> None:
    plan = demo_plan("sedge-hopper.stirrup.json")
    stored = builds.create(shop, plan, "made")
    assert dump(builds.load(shop, stored.id).plan) == dump(plan)


def test_a_change_is_the_next_revision_with_its_words(shop, build) -> None:
    after = commit(shop, build, 1, move(2.9))
    assert after.number == 2
    assert after.can_undo == "Deck: aft edge, from transom 3 000 mm to 2 900 mm"
    steps = builds.history(shop, build.id)
    assert [(s.number, s.kind) for s in steps] == [(2, "change"), (1, "import")]


def test_an_invalid_change_stores_nothing(shop, build) -> None:
    with pytest.raises(CoreError):
        commit(shop, build, 1, move(-30.0))
    assert builds.load(shop, build.id).number == 1


def test_a_stale_change_to_the_same_thing_is_refused_with_theirs(shop, build) -> None:
    commit(shop, build, 1, move(2.9))
    with pytest.raises(builds.StaleEditError) as caught:
        commit(shop, build, 1, SetValue(path=("fittings", "deck", "height"), value=0.35))
    assert "3 000 mm to 2 900 mm" in caught.value.theirs
    assert builds.load(shop, build.id).number == 2


def test_a_stale_change_to_another_thing_is_merged(shop, build) -> None:
    commit(shop, build, 1, move(2.9))
    merged = commit(shop, build, 1, SetValue(path=("fittings", "hatch", "x"), value=3.5))
    assert merged.number == 3
    assert len(merged.merged) == 1
    assert merged.plan.fittings[0].aft == 2.9  # type: ignore[union-attr]
    assert merged.plan.fittings[1].x == 3.5  # type: ignore[union-attr]


def test_a_merge_that_no_longer_makes_sense_is_refused(shop, build) -> None:
    commit(shop, build, 1, RemoveThing(path=("fittings", "hatch")))
    with pytest.raises(builds.StaleEditError):
        commit(shop, build, 1, SetValue(path=("fittings", "hatch", "x"), value=3.5))


def test_a_repeated_request_is_applied_once(shop, build) -> None:
    add = AddThing(path=("fittings",), value={**HATCH, "id": "second", "mark": "H2", "y": 0.3})
    first = commit(shop, build, 1, add, "token-1")
    again = commit(shop, build, 1, add, "token-1")
    assert (first.number, again.number) == (2, 2)
    assert len(again.plan.fittings) == 3


def test_undo_and_redo_walk_without_limit(shop, build) -> None:
    begin = dump(build.plan)
    last = build
    for k in range(12):
        last = commit(shop, build, last.number, move(2.9 - k / 100))
    end = dump(last.plan)
    for _ in range(12):
        last = builds.undo(shop, build.id)
    assert dump(last.plan) == begin and last.can_undo is None
    with pytest.raises(builds.NothingLeftError):
        builds.undo(shop, build.id)
    for _ in range(12):
        last = builds.redo(shop, build.id)
    assert dump(last.plan) == end and last.can_redo is None
    with pytest.raises(builds.NothingLeftError):
        builds.redo(shop, build.id)


def test_a_new_change_after_undo_drops_what_was_undone(shop, build) -> None:
    commit(shop, build, 1, move(2.9))
    builds.undo(shop, build.id)
    after = commit(shop, build, 3, move(2.8))
    assert after.can_redo is None
    assert builds.undo(shop, build.id).plan == build.plan


@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=14))
@settings(max_examples=20, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_undo_and_redo_behave_as_two_stacks(shop, steps) -> None:
    stored = builds.create(shop, skiff_plan(fittings=[DECK]), "made")
    plans, ahead, count = [dump(stored.plan)], [], 0
    for step in steps:
        try:
            if step == "edit":
                count += 1
                stored = commit(shop, stored, stored.number, move(2.9 - count / 50))
                plans.append(dump(stored.plan))
                ahead = []
            elif step == "undo":
                stored = builds.undo(shop, stored.id)
                ahead.append(plans.pop())
            else:
                stored = builds.redo(shop, stored.id)
                plans.append(ahead.pop())
        except builds.NothingLeftError:
            assert (len(plans) == 1) if step == "undo" else not ahead
        assert dump(stored.plan) == plans[-1]
        assert (stored.can_undo is not None) == (len(plans) > 1)
        assert (stored.can_redo is not None) == bool(ahead)


def test_every_revision_keeps_its_change_inverse_and_plan(shop, build) -> None:
    commit(shop, build, 1, move(2.9))
    row = Revision.get((Revision.build == build.id) & (Revision.number == 2))
    assert row.change["value"] == 2.9 and row.inverse["value"] == 3.0
    assert row.plan["fittings"][0]["aft"] == 2.9
    assert row.shop_id == shop


def test_another_shops_build_is_not_there(shop, build) -> None:
    with pytest.raises(builds.NotThereError):
        builds.load(shop + 1, build.id)
    with pytest.raises(builds.NotThereError):
        builds.undo(shop, 10**8)


def test_copies_get_a_name_of_their_own(shop, build) -> None:
    renamed = builds.rename_to_new(shop, build.plan)
    assert re.fullmatch(rf"{build.plan.name} \(\d+\)", renamed.name)


def test_a_price_scales_all_packs_of_the_item(shop) -> None:
    from decimal import Decimal

    least = min(p.price for p in starting().find("rivet-4.8x10").packs)
    set_price(shop, "rivet-4.8x10", least * 2)
    set_price(shop, "rivet-4.8x10", least * 3)  # the newer one counts
    packs = catalogue(shop).find("rivet-4.8x10").packs
    assert [p.price for p in packs] == [
        (p.price * 3).quantize(Decimal("0.01")) for p in starting().find("rivet-4.8x10").packs
    ]
    assert catalogue(shop).find("latch-50").packs == starting().find("latch-50").packs


def test_the_shop_keeps_its_units(shop) -> None:
    set_units(shop, "in")
    assert the_shop().units == "in"


@pytest.mark.slow
def test_two_hundred_changes_undone_and_redone_end_byte_identical(shop, build) -> None:
    first = dump(builds.load(shop, build.id).plan)
    now = build
    for k in range(200):
        change = (
            move(2.5 + 0.002 * k),
            AddThing(path=("items",), value={"id": f"item-{k}", "mass": {"value": 1, "centre": [1, 0, 0]}}),
            SetValue(path=("hull", "lines", "sheer", "points", "2", "2"), value=0.6 + 0.0005 * k),
            RemoveThing(path=("items", f"item-{k - 2}")),
        )[k % 4]  # fmt: skip
        now = commit(shop, build, now.number, change)
    last = dump(now.plan)
    for _ in range(200):
        now = builds.undo(shop, build.id)
    assert dump(now.plan) == first
    for _ in range(200):
        now = builds.redo(shop, build.id)
    assert dump(now.plan) == last
    assert now.number == 1 + 600


def test_a_revision_is_found_by_number_and_carries_a_name(shop, build) -> None:
    commit(shop, build, 1, move(2.8))
    assert builds.plan_at(shop, build.id, 1) == build.plan
    builds.name_revision(shop, build.id, 1, "  before the deck grew  ")
    assert [s.name for s in builds.history(shop, build.id)] == ["", "before the deck grew"]
    assert builds.latest(shop, build.id)[0] == 2
    for call in (lambda: builds.plan_at(shop, build.id, 9),
                 lambda: builds.name_revision(shop, build.id, 9, "x"),
                 lambda: builds.latest(shop, 99999)):  # fmt: skip
        with pytest.raises(builds.NotThereError):
            call()


def test_scans_of_a_build_are_few_and_photos_stay(shop, build) -> None:
    photo = uploads.keep(shop, build.id, "photo", "bilge.jpg", "image/jpeg", b"jpeg")
    ids = [uploads.keep(shop, build.id, "scan", f"{k}.stl", "model/mesh", bytes([k])) for k in range(7)]
    assert [i for i, _ in uploads.latest(shop, build.id, "scan")] == ids[:1:-1]
    assert uploads.fetch(shop, build.id, "scan", ids[-1]).content == bytes([6])
    assert uploads.fetch(shop, build.id, "photo", photo).media == "image/jpeg"
    for call in (lambda: uploads.fetch(shop, build.id, "scan", ids[0]),
                 lambda: uploads.fetch(shop, build.id, "scan", photo),
                 lambda: uploads.fetch(shop + 1, build.id, "photo", photo),
                 lambda: uploads.keep(shop + 1, build.id, "scan", "x", "y", b"")):  # fmt: skip
        with pytest.raises(builds.NotThereError):
            call()


def test_a_change_that_changes_nothing_is_no_revision(shop) -> None:
    build = builds.create(shop, skiff_plan(fittings=[DECK]), "made for a test")
    same = SetValue(path=("fittings", "deck", "aft"), value=DECK["aft"])
    stored = builds.commit(shop, build.id, 1, same, lambda *_: "nothing", None)
    assert (stored.number, stored.can_undo) == (1, None)
    assert len(builds.history(shop, build.id)) == 1
