"""What was in the boat before: put in, measured, kept or taken out. A box hull 2 m wide and 1 m deep."""

from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.bodies.existing import Existing
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fit.taken_out import held_m, hours_out
from stirrup.core.kinds.structure import KIND
from stirrup.core.parts.catalogue import EMPTY
from stirrup.core.plan.changes import SetValue, apply, invert
from stirrup.core.plan.copies import halves
from stirrup.core.plan.model import Plan
from tests.boats import derive, plan

RIB = {"size": [0.04, 0.1, 0.5], "floor_centre": [2.0, 0.9, 0.3]}
DECK = {"kind": "raised_deck", "id": "deck", "name": "Deck", "mark": "D1", "aft": 1.5, "fore": 2.6,
        "height": 0.6}  # fmt: skip


def put(before: Plan, key: str, at: tuple[float, float] | None = None) -> Plan:
    here = derive(before)
    return apply(before, place(before, here.surface, here.footing, key, "", at))


def only(after: Plan) -> Existing:
    (thing,) = after.existing
    return thing


def test_a_rib_stands_against_the_side_that_it_is_put_on() -> None:
    """From 0.35 to 0.85 of her depth; her skin is 3 mm, so its middle is 50 mm inside of 0.997."""
    rib = only(put(plan(), "rib", (1.2, -0.6)))
    assert rib.box is not None
    assert rib.box.floor_centre == pytest.approx((1.2, -(0.997 - 0.05), 0.003 + 0.35 * 0.997), abs=0.002)
    assert rib.box.size == pytest.approx((0.04, 0.10, 0.5 * 0.997), abs=0.002)
    assert only(put(plan(), "rib")).box.floor_centre[1] > 0  # type: ignore[union-attr]


def test_a_thwart_reaches_from_side_to_side() -> None:
    thwart = only(put(plan(), "thwart", (1.5, 0.3)))
    assert thwart.box is not None and thwart.box.floor_centre[1] == 0.0
    assert thwart.box.size[1] == pytest.approx(2 * 0.997, abs=0.002)


def test_a_lip_follows_the_sheer_of_its_side() -> None:
    for y in (0.5, -0.5):
        lip = only(put(plan(), "lip", (1.5, y)))
        assert lip.outline is not None
        sides = [p[1] for p in lip.outline]
        assert (min(sides) > 0) == (y > 0)
        assert max(abs(s) for s in sides) - min(abs(s) for s in sides) == pytest.approx(0.045, abs=0.001)
        assert {round(p[2], 3) for p in lip.outline if len(p) == 3} == {1.0, 0.98}


@pytest.mark.parametrize("key", [e.key for e in KIND.entries])
@pytest.mark.parametrize("at", [None, (1.0, -0.4), (-5.0, 0.2), (90.0, 0.0)])
def test_wherever_it_is_put_it_is_in_the_boat_or_refused(key: str, at: Any) -> None:
    from stirrup.core.errors import CoreError

    try:
        thing = only(put(plan(), key, at))
    except CoreError as error:
        assert "place" in str(error)
        return
    surface = derive(plan()).surface
    e = thing.extent
    assert e.x[0] >= surface.outside.low[0] - 0.8 and e.x[1] <= surface.outside.high[0] + 0.8
    assert max(abs(v) for v in e.y) <= 1.0 + 1e-6


def told(derived: Derived, code: str = "TAKEN-OUT") -> list[Finding]:
    return [f for f in derived.findings if f.code == code]


def rib(**more: Any) -> dict[str, Any]:
    return {"id": "rib", "name": "rib", "kind": "rib", "box": RIB, **more}


def test_a_deck_notches_round_what_stays_and_not_round_what_goes() -> None:
    # 40 x 100 mm of rib, and clearance round it, are missing from the skin
    areas = []
    for stage in ("found", "removed"):
        derived = derive(plan(existing=[rib(stage=stage)], fittings=[DECK]))
        deck = derived.fitting("deck")
        assert deck is not None
        areas.append(sum(p.polygon.area for p in deck.panels if "/skin/" in p.key))
    whole = derive(plan(fittings=[DECK])).fitting("deck")
    assert whole is not None
    assert areas[1] == pytest.approx(sum(p.polygon.area for p in whole.panels if "/skin/" in p.key))
    assert areas[1] - areas[0] > 0.04 * 0.1 - 0.04 * 0.01


def test_what_goes_makes_her_lighter_where_it_was() -> None:
    def sums(**more: Any) -> tuple[float, Any]:
        load = derive(plan(existing=[rib(**more)])).case("planned, empty").report
        assert load is not None
        return load.mass_kg, load.centre_m

    stays, at = sums(weighs=4.0)
    goes, now = sums(weighs=4.0, stage="removed")
    assert stays - goes == pytest.approx(4.0)
    # its middle at (2.0, 0.9, 0.55): moments of 4 kg leave
    for k, place_ in enumerate((2.0, 0.9, 0.55)):
        assert now[k] * goes == pytest.approx(at[k] * stays - 4.0 * place_, abs=1e-6)
    assert sums(stage="removed")[0] == pytest.approx(stays)
    # as found she has it still
    found = derive(plan(existing=[rib(weighs=4.0, stage="removed")])).case("as found").report
    assert found is not None and found.mass_kg == pytest.approx(stays)


def test_two_boats_that_differ_by_what_goes_are_weighed_apart() -> None:
    """What stands still is remembered by what it was made from."""
    before = plan(existing=[rib(weighs=4.0, stage="removed")])
    # hull and items stay the objects that they are: nothing else tells the two apart
    heavier = before.existing[0].model_copy(update={"weighs": 8.0})
    after = before.model_copy(update={"existing": (heavier,)})
    once = [derive(b).case("planned, empty").report.mass_kg for b in (before, after, before)]  # type: ignore[union-attr]
    assert once[0] == once[2] and once[0] - once[1] == pytest.approx(4.0)


def test_how_long_it_takes_by_hand() -> None:
    """A rib is held along both of its edges, 0.5 m high: 1 m. Riveted 25 min a metre and 10 to begin."""
    riveted = Existing.model_validate(rib())
    assert held_m(riveted) == pytest.approx(1.0)
    assert hours_out(riveted) == pytest.approx(35 / 60)
    assert hours_out(Existing.model_validate(rib(held="welded"))) == pytest.approx(55 / 60)
    thwart = {"id": "t", "kind": "thwart", "box": {"size": [0.3, 1.8, 0.05], "floor_centre": [1, 0, 0.5]}}
    # its two ends: 0.3 long, and 0.05 up
    assert held_m(Existing.model_validate(thwart)) == pytest.approx(0.7)
    stringer = {"id": "s", "kind": "stringer", "box": {"size": [3, 0.05, 0.1], "floor_centre": [2, 0.2, 0]}}
    assert held_m(Existing.model_validate(stringer)) == pytest.approx(6.0)


def test_what_goes_is_told_with_what_it_did() -> None:
    assert told(derive(plan(existing=[rib()]))) == []
    (found,) = told(derive(plan(existing=[rib(stage="removed", weighs=2.0)])))
    assert found.level == "look" and "panting" in found.remedy and "rivets" in found.text
    assert found.values["weighs"].value == 2.0
    (unweighed,) = told(derive(plan(existing=[rib(stage="removed")])))
    assert "weigh it" in unweighed.text


def test_ribs_come_in_pairs_and_rows() -> None:
    from stirrup.core.plan.copies import another

    before = plan(existing=[rib()])
    pair = apply(before, another(before, "rib", mirrored=True))
    port, starboard = pair.existing
    assert starboard.extent.y == pytest.approx((-port.extent.y[1], -port.extent.y[0]))
    row = apply(before, another(before, "rib"))
    # its own 40 mm and 350 on
    assert row.existing[1].extent.x[0] - row.existing[0].extent.x[0] == pytest.approx(0.39)
    ring = [[1.0, 0.9, 0.6], [2.0, 0.9, 0.62], [2.0, 0.85, 0.62], [1.0, 0.85, 0.6]]
    one = plan(existing=[{"id": "lip", "name": "lip, port", "kind": "lip", "outline": ring}])
    both = apply(one, another(one, "lip", mirrored=True))
    assert both.existing[1].extent.y == pytest.approx((-0.9, -0.85))
    assert both.existing[1].name == "lip, starboard"


def test_in_two_a_part_of_it_may_go() -> None:
    """A stringer of 2 m and 8 kg at 1.5 m: halves of 1 m about 1.0 and 2.0, 4 kg each."""
    box = {"size": [2.0, 0.06, 0.1], "floor_centre": [1.5, 0.3, 0.01]}
    whole = plan(
        existing=[{"id": "keelson", "name": "Keelson", "kind": "stringer", "box": box, "weighs": 8.0}]
    )
    change, ids = halves(whole, "keelson")
    after = apply(whole, change)
    assert ids == ("keelson", "keelson-1")
    a, b = after.existing
    assert (a.box.size, b.box.size) == ((1.0, 0.06, 0.1),) * 2
    assert (a.box.floor_centre[0], b.box.floor_centre[0]) == (1.0, 2.0)
    assert (a.weighs, b.weighs) == (4.0, 4.0) and b.name == "Keelson 2"
    # nothing is heavier or lighter by it, until a part goes
    empty = [next(c for c in derive(p).cases if c.name == "planned, empty") for p in (whole, after)]
    assert empty[0].report.mass_kg == pytest.approx(empty[1].report.mass_kg)
    gone = apply(after, SetValue(path=("existing", "keelson-1", "stage"), value="removed"))
    lighter = next(c for c in derive(gone).cases if c.name == "planned, empty")
    assert lighter.report.mass_kg == pytest.approx(empty[0].report.mass_kg - 4.0)
    assert apply(after, invert(whole, change)) == whole


def test_across_its_longest_side() -> None:
    box = {"size": [0.3, 1.6, 0.03], "floor_centre": [1.5, 0.0, 0.3]}
    whole = plan(existing=[{"id": "t", "kind": "thwart", "box": box}])
    after = apply(whole, halves(whole, "t")[0])
    assert [e.box.floor_centre[1] for e in after.existing] == [-0.4, 0.4]
    assert [e.box.size[1] for e in after.existing] == [0.8, 0.8]


@pytest.mark.parametrize("id_", ["tiny", "ring", "none", "deck"])
def test_what_cannot_be_parted(id_: str) -> None:
    tiny = {
        "id": "tiny",
        "kind": "rib",
        "box": {"size": [0.03, 0.03, 0.3], "floor_centre": [1.0, 0.5, 0.1]},
    }
    ring = {"id": "ring", "kind": "lip", "outline": [[0.5, 0.9, 0.5], [1.5, 0.9, 0.5], [1.5, 0.8, 0.5]]}
    there = plan(existing=[tiny, ring], fittings=[DECK])
    with pytest.raises(CoreError, match="cannot be parted"):
        halves(there, id_)


def test_an_old_bulkhead_ties_her_across_and_is_held_along_bottom_and_sides() -> None:
    """In the box three quarters of 0.997 high over 0.003, as wide as she is inside: 1.994 + 2 x 0.748."""
    bulkhead = only(put(plan(), "old bulkhead", (2.0, 0.1)))
    assert bulkhead.kind == "bulkhead" and bulkhead.box is not None
    assert bulkhead.box.size == pytest.approx((0.012, 1.994, 0.748), abs=0.002)
    assert KIND.ties_across(bulkhead) == pytest.approx(2.0)
    assert held_m(bulkhead) == pytest.approx(1.994 + 2 * 0.748, abs=0.01)
    assert KIND.ties_across(Existing.model_validate(rib())) is None


def test_a_foredeck_covers_her_fore_end_and_a_head_meets_it() -> None:
    deck = only(put(plan(), "old deck"))
    low, high = deck.extent.z
    assert deck.kind == "deck" and (low, high) == (
        pytest.approx(0.958, abs=2e-3),
        pytest.approx(0.97, abs=2e-3),
    )
    # the last quarter of four metres
    assert deck.extent.x == (pytest.approx(3.0, abs=0.01), pytest.approx(4.0, abs=0.01))
    built = derive(plan(existing=[deck.model_dump(mode="json")])).built
    assert all(b.overhead for b in built if b.fitting == deck.id)


@pytest.mark.parametrize(
    ("stage", "becomes", "idle"),
    [
        ("found", "waste", {"becomes", "brings"}), ("removed", "waste", {"brings"}),
        ("removed", "sold", set()),
    ],
)  # fmt: skip
def test_what_becomes_of_it_is_asked_of_what_goes(stage: str, becomes: str, idle: set[str]) -> None:
    thing = Existing.model_validate(rib(stage=stage, becomes=becomes))
    assert KIND.idle(thing, EMPTY) == idle
