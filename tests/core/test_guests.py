"""Hosts and guests to any depth: order, rings, what goes along, what becomes of them."""

from typing import Any

import pytest

from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.move import moved
from stirrup.core.arrange.removal import GOES, STAYS, guests, removed
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, apply, invert
from stirrup.core.plan.copies import packed, pasted
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import with_guests
from stirrup.core.plan.where import extent_of
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS
from stirrup.exchange.buildfile import dump, parse
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan


def deck(id_: str, aft: float, fore: float, height: float = 0.3) -> dict[str, Any]:
    return {"kind": "raised_deck", "id": id_, "name": id_, "aft": aft, "fore": fore, "height": height}


def box(id_: str, on: str | None, height: float = 0.2, x: float = 1.5) -> dict[str, Any]:
    return {"kind": "step_box", "id": id_, "name": id_, "on": on, "x": x, "length": 0.4, "width": 0.4,
            "height": height}  # fmt: skip


HATCH = {"kind": "hatch", "id": "hatch", "name": "hatch", "deck": "low", "x": 2.2, "clear_length": 0.3,
         "clear_width": 0.3}  # fmt: skip


def tower() -> Plan:
    """A box on a box on a deck, given in the wrong order; and a second deck."""
    return plan(
        fittings=[box("top", "middle", 0.1), box("middle", "low"), HATCH, deck("low", 1.0, 2.6),
                  deck("high", 3.0, 3.9, 0.5)]
    )  # fmt: skip


def test_everything_is_built_on_what_carries_it_whatever_the_order() -> None:
    derived = derive(tower())
    assert not [f for f in derived.findings if f.code in ("CANNOT-BUILD", "RING")]
    tops = {t.id: t.built.top_m for t in derived.things}
    assert tops["middle"] == pytest.approx(0.3 + 0.2)
    assert tops["top"] == pytest.approx(0.3 + 0.2 + 0.1)


def test_a_host_that_moves_takes_its_guests_and_theirs_along() -> None:
    before = tower()
    assert set(with_guests(before, ["low"])) == {"low", "middle", "top", "hatch"}
    after = apply(before, moved(before, ["low"], (0.1, 0.0, 0.0)))
    assert [after.thing(i).x for i in ("middle", "top", "hatch")] == pytest.approx([1.6, 1.6, 2.3])
    # and rises with it, though nothing of theirs is changed
    up = apply(before, moved(before, ["low"], (0.0, 0.0, 0.02)))
    assert derive(up).placed("top").built.top_m == pytest.approx(0.62)  # type: ignore[union-attr]


def test_what_stands_on_one_another_in_a_ring_is_told_and_the_rest_is_built() -> None:
    ring = plan(fittings=[box("a", "b"), box("b", "a", x=2.5), deck("low", 3.0, 3.9)])
    derived = derive(ring)
    found = next(f for f in derived.findings if f.code == "RING")
    assert found.level == "stop" and {found.place, found.other} == {"a", "b"}
    assert "a" in found.text and "b" in found.text
    assert derived.placed("low").built.parts and not derived.placed("a").built.parts  # type: ignore[union-attr]
    alone = derive(plan(fittings=[box("a", "a")]))
    assert [f.place for f in alone.findings if f.code == "RING"] == ["a"]


def test_an_edge_of_the_hull_of_guests_only_what_is_needed_is_asked_for() -> None:
    with pytest.raises(CoreError, match=r"no deck “top”; decks: low"):
        plan(fittings=[{**HATCH, "deck": "top"}, box("top", "low"), deck("low", 1.0, 2.6)])
    with pytest.raises(CoreError, match=r"no floor “hatch”; floors: low"):
        plan(fittings=[HATCH, box("top", "hatch"), deck("low", 1.0, 2.6)])


def test_what_may_become_of_guests() -> None:
    found = {g.id: g.fates for g in guests(tower(), ["low"])}
    # a hatch needs a deck; a box may stand on the bottom, or on anything that is a floor
    assert found["hatch"] == (GOES, "high")
    assert found["middle"][:2] == (STAYS, GOES) and set(found["middle"][2:]) == {"top", "high"}


def test_taken_out_with_what_needs_it_the_rest_stays_where_it_is() -> None:
    before = tower()
    change = removed(before, ["low"])
    after = apply(before, change)
    assert {f.id for f in after.fittings} == {"top", "middle", "high"}
    assert after.thing("middle").on is None and after.thing("top").on == "middle"
    assert apply(after, invert(before, change)) == before


def test_taken_out_with_all_its_guests_and_theirs() -> None:
    before = tower()
    after = apply(before, removed(before, ["low"], {"middle": GOES, "top": GOES}))
    assert {f.id for f in after.fittings} == {"high"}


def test_guests_moved_to_another_host() -> None:
    before = tower()
    after = apply(before, removed(before, ["low"], {"hatch": "high", "middle": "high"}))
    assert after.thing("hatch").deck == "high" and after.thing("middle").on == "high"
    with pytest.raises(CoreError, match=r"read “low” for “hatch”; accepted: goes too, high"):
        removed(before, ["low"], {"hatch": "low"})
    with pytest.raises(CoreError, match="accepted: goes too"):
        removed(before, ["low"], {"hatch": STAYS})


def test_a_pack_takes_guests_along_and_gives_them_their_host_back() -> None:
    before = tower()
    pack = packed(before, ["low"])
    assert {f["id"] for f in pack["fittings"]} == {"low", "middle", "top", "hatch"}
    other = plan(fittings=[deck("low", 0.5, 0.9)])
    change, ids = pasted(other, pack)
    after = apply(other, change)
    assert "low-1" in ids and after.thing("hatch").deck == "low-1"
    assert after.thing("middle").on == "low-1" and after.thing("top").on == "middle"


def test_a_hatch_that_cuts_its_deck_in_two_is_told_and_breaks_nothing() -> None:
    # 1.9 m clear and 25 mm of landing on each side across a deck 1.99 m wide: nothing is left beside it
    wide = {**HATCH, "clear_width": 1.95, "x": 1.8}
    derived = derive(plan(fittings=[deck("low", 1.0, 2.6), wide]))
    assert any(f.code == "HATCH-EDGE" and f.level != "fine" for f in derived.findings)
    slab = next(s for s in derived.fit.solids if s.role == "floor")
    assert sum(1 for p in slab.pieces if p.bounds[5] == pytest.approx(0.3)) == 2


def test_an_id_that_no_catalogue_has_is_a_finding_and_all_else_is_built() -> None:
    odd = plan(
        fittings=[{**deck("low", 1.0, 2.6), "skin": "unobtainium-4"}, deck("high", 3.0, 3.9, 0.5), HATCH]
    )
    derived = derive(odd)
    found = {f.place: f for f in derived.findings if f.code == "CANNOT-BUILD"}
    assert found["low"].level == "stop" and "the catalogue has no “unobtainium-4”" in found["low"].text
    assert derived.placed("high").built.parts  # type: ignore[union-attr]
    # it is placed, moved and drawn all the same
    assert extent_of(odd, derived.surface, "low").z == pytest.approx((0.3, 0.3))
    assert apply(odd, moved(odd, ["low"], (0.1, 0.0, 0.0))).thing("low").aft == pytest.approx(1.1)


def test_a_plan_carries_what_it_names_and_means_the_same_elsewhere() -> None:
    own = starting().sheet("al-2.5").model_copy(update={"id": "own-2.6", "thickness": 0.0026})
    shop, before = starting().over([own]), plan(fittings=[deck("low", 1.0, 2.6)])
    change = followed(
        before, Around(lambda: pytest.fail("no hull is needed"), shop),
        SetValue(path=("fittings", "low", "skin"), value="own-2.6"),
    )  # fmt: skip
    after = apply(before, change)
    assert "own-2.6" in {e.id for e in after.catalogue.entries}
    assert describe(before, change, SYSTEMS["mm"]) == "low: skin al-2.5 to own-2.6"
    # another shop has never heard of it
    elsewhere = parse(dump(after))
    skin = next(p for p in derive(elsewhere).fitting("low").panels)  # type: ignore[union-attr]
    assert skin.sheet.thickness == 0.0026 and skin.sheet.stuff.density == 2680
    # and what it calls by the same name weighs what the plan says, at its own price
    thick = starting().sheet("al-2.5").model_copy(update={"thickness": 0.003})
    other = starting().over([thick])
    panel = next(p for p in derive(before, other).fitting("low").panels)  # type: ignore[union-attr]
    assert panel.sheet.thickness == 0.0025


@pytest.mark.slow
def test_what_stands_on_a_floor_is_moved_and_all_else_stays_what_it_was() -> None:
    """So that a drag among many things works out one of them: the floor has no opening for a box."""
    floor = {"kind": "floor", "id": "floor", "name": "Floor", "height": 0.12, "fore": 3.5}
    box = {"kind": "step_box", "on": "floor", "y": 0.2}
    boxes = [{**box, "id": f"box-{k}", "name": f"Box {k}", "x": 0.6 + k} for k in range(2)]
    before = plan(fittings=[floor, *boxes])
    after = apply(before, SetValue(path=("fittings", "box-1", "x"), value=1.7))
    here, there = derive(before), derive(after)
    assert here.fitting("floor") is there.fitting("floor")
    assert here.fitting("box-0") is there.fitting("box-0")
    assert here.fitting("box-1") is not there.fitting("box-1")
    # its own edge moves: a box that stays whole on it is as it was, one that hangs over is told
    shorter = derive(apply(before, SetValue(path=("fittings", "floor", "fore"), value=1.7)))
    assert shorter.fitting("floor") is not here.fitting("floor")
    assert shorter.fitting("box-0") is here.fitting("box-0")
    told = {f.place: f.level for f in shorter.findings if f.code == "BOX-FOOT"}
    assert told == {"box-0": "fine", "box-1": "mend"}
    # raised, both rise with it
    higher = derive(apply(before, SetValue(path=("fittings", "floor", "height"), value=0.15)))
    tops = [d.fitting("box-0").top_m for d in (here, higher)]  # type: ignore[union-attr]
    assert tops[1] - tops[0] == pytest.approx(0.03)
    # a hatch opens it: then the floor is another one
    lid = {**HATCH, "deck": "floor", "x": 2.8}
    opened = plan(fittings=[floor, *boxes, lid])
    moved_on = apply(opened, SetValue(path=("fittings", "hatch", "x"), value=2.7))
    assert derive(opened).fitting("floor") is not derive(moved_on).fitting("floor")
