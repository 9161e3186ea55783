import math
from decimal import Decimal

import pytest

from stirrup.core import memo
from stirrup.core.afloat.checks import float_findings
from stirrup.core.arrange.palette import place
from stirrup.core.arrange.removal import removal
from stirrup.core.parts.entries import Pack
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.suggest import new_case, new_person
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, box_lines, build_data, derive, plan, skiff_plan

ITEM = {"id": "box", "name": "tackle", "mass": {"value": 80.0, "centre": [2.0, 0.0, 0.3]}}


def masses(**item) -> tuple[float, float]:
    """Planned and as-found mass of the box boat with one item."""
    derived = derive(plan(items=[{**ITEM, **item}]))
    return tuple(derived.case(n).report.mass_kg for n in ("planned, empty", "as found"))  # type: ignore


@pytest.mark.parametrize(
    ("item", "planned", "found"),
    [
        ({}, 1680, 1680),
        ({"stage": "added"}, 1680, 1600),
        ({"stage": "removed"}, 1600, 1680),
        ({"stage": "removed", "in_hull_mass": True}, 1520, 1600),
        ({"in_hull_mass": True}, 1600, 1600),
    ],
)
def test_stages_count_once_and_are_subtracted_once(item, planned, found) -> None:
    assert masses(**item) == pytest.approx((planned, found))


def test_an_added_item_cannot_be_part_of_the_hulls_mass() -> None:
    with pytest.raises(ValueError, match="in_hull_mass"):
        plan(items=[{**ITEM, "stage": "added", "in_hull_mass": True}])


def test_crew_stands_sits_and_lies_at_its_centre() -> None:
    crew = [{"mass": 80, "stature": 1.5, "posture": p, "at": [2.0, 0.0, 0.1]}
            for p in ("standing", "seated", "lying")]  # fmt: skip
    derived = derive(plan(cases=[{"name": p["posture"], "crew": [p]} for p in crew]))
    for name, rise in (("standing", 0.84), ("seated", 0.25), ("lying", 0.12)):
        report = derived.case(name).report
        assert report is not None
        assert report.centre_m[2] == pytest.approx((1600 * 0.3 + 80 * (0.1 + rise)) / 1680)


def test_without_extra_and_fills_shape_a_case() -> None:
    tank = {"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [2, 0, 0.1], "liquid": "petrol"}
    case = {"name": "trip", "fills": {"fuel": 0.5}, "without": ["box"],
            "extra": [{"id": "cooler", "mass": {"value": 25.0, "centre": [2, 0, 0.3]}}]}  # fmt: skip
    derived = derive(plan(items=[ITEM], tanks=[tank], cases=[case]))
    report = derived.case("trip").report
    assert report is not None
    # half of 40 litres of petrol at 745 kg/m3
    assert report.mass_kg == pytest.approx(1600 + 25 + 0.02 * 745)


def test_pods_outside_add_displacement_and_their_own_mass() -> None:
    pod = {"id": "pod", "name": "pod", "box": {"size": [0.5, 2.0, 0.5], "floor_centre": [-0.25, 0, 0]},
           "density": 100.0}  # fmt: skip
    with_pod, without = derive(plan(buoyancy=[pod])), derive(plan())
    a, b = with_pod.case("planned, empty").report, without.case("planned, empty").report
    assert a is not None and b is not None
    assert a.mass_kg - b.mass_kg == pytest.approx(0.5 * 100)
    # the box is 4.5 m long now: level draft about 1650 / 9000 at mid-length
    assert a.sink_10mm_kg > b.sink_10mm_kg * 1.1
    assert with_pod.case("as found").report.mass_kg == pytest.approx(1600)  # type: ignore[union-attr]


def test_foam_inside_the_hull_adds_no_displacement() -> None:
    foam = {"id": "foam", "box": {"size": [0.5, 0.5, 0.2], "floor_centre": [2, 0, 0.1]}, "density": 30.0}
    report = derive(plan(buoyancy=[foam])).case("planned, empty").report
    assert report is not None
    assert report.sink_10mm_kg == pytest.approx(80, rel=1e-4)


def test_one_case_that_sinks_leaves_the_others() -> None:
    heavy = {"name": "too many", "crew": [{"mass": 350, "at": [2, 0, 0.1]}] * 25}
    derived = derive(plan(cases=[heavy]))
    assert derived.case("too many").report is None
    assert "take at least" in derived.case("too many").error
    assert derived.case("as found").report is not None
    assert any(f.code == "NO-FLOAT" and f.level == "stop" for f in derived.findings)


def test_fitting_parts_are_in_the_ledger_and_in_the_mass() -> None:
    derived = derive(skiff_plan(fittings=[DECK, HATCH]))
    parts = sum(b.mass_kg for b in derived.built)
    assert parts > 5
    assert derived.added_kg == pytest.approx(parts)
    assert sum(e.mass_kg for e in derived.planned if e.group == "fittings") == pytest.approx(parts)


def test_what_is_remembered_equals_what_is_computed_afresh() -> None:
    start = skiff_plan(fittings=[DECK, HATCH])
    derive(start)
    moved = apply(start, SetValue(path=("fittings", "deck", "aft"), value=2.8))
    warm = derive(moved)
    memo.forget()
    cold = derive(moved)
    assert [p.outline for b in warm.built for p in b.panels] == [
        p.outline for b in cold.built for p in b.panels
    ]
    for a, b in zip(warm.cases, cold.cases, strict=True):
        assert (a.report is None) == (b.report is None) == (a.name == "two hauling over one side")
        if a.report is not None and b.report is not None:
            assert a.report.trim_deg == pytest.approx(b.report.trim_deg, abs=1e-6)
    assert warm.cost.total == cold.cost.total


def test_quick_cost_is_marked_and_never_below_the_settled_one() -> None:
    start = skiff_plan(fittings=[DECK, HATCH])
    memo.forget()
    quick = derive(start, quick=True)
    assert not quick.cost.settled
    assert derive(start).cost.settled
    assert quick.cost.total >= derive(start).cost.total


@pytest.mark.parametrize("name", FILES)
def test_demo_boats_float_in_every_case(name: str) -> None:
    derived = derive(demo_plan(name))
    own = {c.name for c in derived.plan.cases} | {"planned, empty", "as found"}
    assert all(c.report is not None for c in derived.cases if c.name in own)
    # two people at one rail of the dinghy, or one on it: she goes over, and it is said, not hidden
    over = [c for c in derived.cases if c.report is None]
    assert [c.name for c in over] == (
        ["everyone to one rail", "one standing on the gunwale", "two hauling over one side"]
        if "teal" in name
        else []
    )
    assert all("she capsizes" in c.error for c in over)
    assert all(not layout.unplaced for layout in derived.sheets)
    assert all(layout.proven for layout in derived.sticks)


def test_the_demo_has_its_deliberate_problems() -> None:
    codes = [(f.code, f.level, f.place) for f in derive(demo_plan(FILES[0])).findings]
    assert ("LATCH-GRIP", "mend", "hatch-tackle") in codes
    assert ("GRIP", "mend", "bow-deck") in codes


def test_first_sizes_fit_the_hull_they_are_placed_in() -> None:
    current = skiff_plan()
    for make in (
        lambda d: place(d.plan, d.surface, d.footing, "raised_deck"),
        lambda d: place(d.plan, d.surface, d.footing, "hatch"),
        lambda d: place(d.plan, d.surface, d.footing, "item"),
        lambda d: new_case(d.plan, d.surface),
        lambda d: new_person(d.plan, "case 1", d.surface),
        lambda d: place(d.plan, d.surface, d.footing, "raised_deck"),
    ):
        current = apply(current, make(derive(current)))
    derived = derive(current)
    assert not [
        f for f in derived.findings if f.code in ("CANNOT-BUILD", "HATCH-EDGE") and f.level == "stop"
    ]
    assert [f.code for f in current.fittings] == ["D1", "H1", "D2"]
    assert len(current.cases[0].crew) == 2


def test_a_deck_is_removed_with_its_hatch_and_every_mention() -> None:
    current = skiff_plan(fittings=[DECK, HATCH], cases=[{"name": "bare", "without": ["deck", "hatch"]}])
    after = apply(current, removal(current, ("fittings", "deck")))
    assert after.fittings == ()
    assert after.cases[0].without == ()


def test_things_bought_whole_cost_what_is_typed_or_the_catalogue_says() -> None:
    at = {"value": 10.0, "centre": [2.0, 0.0, 0.3]}
    items = [
        {"id": "a", "mass": at, "stage": "added", "form": "seat"},  # catalogue: 135.00
        {"id": "b", "mass": at, "stage": "added", "form": "seat", "price": "99.50"},
        {"id": "c", "mass": at, "stage": "added", "form": "battery", "owned": True},
        {"id": "d", "mass": at, "form": "battery"},  # found: nothing to buy
        {"id": "e", "mass": at, "stage": "added", "name": "Odd thing"},  # no price known
    ]
    tank = {"id": "t", "size": [0.5, 0.4, 0.3], "floor_centre": [1, 0, 0], "liquid": "petrol",
            "owned": False, "price": "180"}  # fmt: skip
    more = {"wishes": {"tax_percent": "8"}}
    cost = derive(from_data(build_data(items=items, tanks=[tank], **more))).cost
    # 135.00 + 99.50 + 180.00 = 414.50; 8 % are 33.16
    assert (cost.net, cost.tax, cost.total) == (Decimal("414.50"), Decimal("33.16"), Decimal("447.66"))
    assert cost.unpriced == ("Odd thing",)
    own = starting().priced({"whole-seat": (Pack(quantity=1, price=Decimal("100.00")),)})
    assert derive(from_data(build_data(items=items, tanks=[tank], **more)), own).cost.net == Decimal(
        "379.50"
    )


def test_an_empty_tank_weighs_at_its_middle() -> None:
    tank = {"id": "t", "size": [0.5, 0.4, 0.3], "floor_centre": [1.0, 0.2, 0.1], "liquid": "petrol"}
    bare = derive(from_data(build_data(tanks=[tank])))
    heavy = derive(from_data(build_data(tanks=[{**tank, "empty_mass": 6.0}])))
    new = derive(from_data(build_data(tanks=[{**tank, "empty_mass": 6.0, "owned": False}])))
    entry = next(e for e in heavy.planned if e.source == "t")
    assert (entry.mass_kg, entry.centre) == (6.0, (1.0, 0.2, 0.25))
    assert len(bare.planned) == len(heavy.planned) - 1 == len(heavy.found) - 1
    # a tank that is bought was not there when she was found
    assert len(new.found) == len(bare.found) and len(new.planned) == len(heavy.planned)


def test_the_budget_is_judged() -> None:
    from decimal import Decimal

    over = float_findings([], Decimal(100), Decimal("130.50"))[0]
    assert over.level == "mend" and over.values["over"].value == pytest.approx(30.5)
    assert float_findings([], Decimal(200), Decimal("130.50"))[0].level == "fine"


def test_a_slip_of_the_tape_is_found_with_place_and_amount() -> None:
    lines = box_lines()
    x = [0.0, 1.0, 2.0, 3.0, 4.0]
    for line, y, z in zip(lines, (0.0, 1.0, 1.0), (0.0, 0.0, 1.0), strict=True):
        line["points"] = [[a, y, z] for a in x]
        line["along"] = "smooth"
    lines[2]["points"][2][1] = 1.1
    found = [f for f in derive(from_data(build_data(lines))).findings if f.code == "READING-OFF"]
    assert found[0].place == "sheer/2"
    assert found[0].values["off"].value == pytest.approx(0.1)


def test_sides_that_differ_more_than_a_tape_error_are_reported() -> None:
    other = box_lines(beam=1.96)
    data = build_data()
    data["hull"]["starboard"] = other
    found = [f for f in derive(from_data(data)).findings if f.code == "SIDES-DIFFER"]
    assert [f.values["off"].value for f in found] == pytest.approx([0.02, 0.02])


def test_flotation_with_a_price_is_in_the_total() -> None:
    foam = {"id": "foam", "density": 32.0, "cost": "80.00",
            "box": {"size": [1.0, 1.0, 0.2], "floor_centre": [2.0, 0.0, 0.0]}}  # fmt: skip
    bare, added = derive(plan()), derive(plan(buoyancy=[foam]))
    assert added.cost.net - bare.cost.net == Decimal("80.00")
    # what is only being thought about is not bought
    thought = derive(plan(buoyancy=[{**foam, "stage": "considered"}]))
    assert thought.cost.net == bare.cost.net


def test_parts_of_one_stock_and_people_have_their_spreads() -> None:
    deck = {**DECK, "aft": 0.5, "fore": 3.0, "height": 0.5}
    two = {
        "name": "two",
        "crew": [{"mass": 80.0, "at": [1, 0.3, 0.5]}, {"mass": 60.0, "at": [1, -0.3, 0.5]}],
    }
    derived = derive(plan(mass=500.0, lines=box_lines(), fittings=[deck], cases=[two]))
    # the hull is weighed: 1 % of 500; each stock and item 6 % of all its parts; people 5 % each
    stocks: dict[str, float] = {}
    for p in derived.built[0].parts:
        name = getattr(p, "stock", None) or p.item
        stocks[name] = stocks.get(name, 0.0) + 0.06 * p.mass_kg
    empty = math.sqrt(5.0**2 + sum(s * s for s in stocks.values()))
    assert derived.case("planned, empty").report.spread.mass_kg == pytest.approx(empty)
    loaded = math.sqrt(empty**2 + 4.0**2 + 3.0**2)
    assert derived.case("two").report.spread.mass_kg == pytest.approx(loaded)
    # never less than as if every part erred for itself
    alone = math.sqrt(5.0**2 + sum((0.06 * p.mass_kg) ** 2 for p in derived.built[0].parts))
    assert empty > alone


def test_people_of_a_new_case_stand_amidships_beside_one_another() -> None:
    """A box of 4 m: at 0.4 of her length, the middle, 0.3 m to port, to starboard, then 0.35 m on."""
    box = plan(lines=box_lines(), cases=[{"name": "case 1", "crew": []}])
    hull = derive(box).surface
    places = []
    for _ in range(4):
        box = apply(box, new_person(box, "case 1", hull))
        places.append(box.cases[0].crew[-1].at[:2])
    assert places == [(1.6, 0.0), (1.6, 0.3), (1.6, -0.3), (1.95, 0.0)]
