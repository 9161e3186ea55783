"""What is cut already: outlines by hand on rectangles, and on a deck whose edge goes on afterwards."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.arrange.setting import forgotten
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding
from stirrup.core.fit.already import SAME_M, as_cut, differs, parts_of, ticked
from stirrup.core.parts.model import Frame, Member, Panel
from stirrup.core.plan.changes import RemoveThing, SetValue, Together, apply, invert
from stirrup.core.plan.cut import CutPart
from stirrup.core.plan.model import Plan
from stirrup.exchange.buildfile import dump, parse
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, plan

Ring = tuple[tuple[float, float], ...]
PLY, ANGLE = starting().sheet("ply-12"), starting().section("angle-40x40x3")


def oblong(x0: float, y0: float, x1: float, y1: float) -> Ring:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


def panel(outline: Ring, *holes: Ring) -> Panel:
    return Panel("d/skin/1", "D1", "deck, skin 1", "d", PLY, outline, holes, Frame((0.0, 0.0, 0.0)))


def member(length: float) -> Member:
    return Member(
        "d/cross/1", "D1-C1", "deck, cross 1", "d", ANGLE, length, ((0.0, 0.0, 0.0), (0.0, length, 0.0))
    )


WANTED = panel(oblong(0.0, 0.0, 1.0, 0.5), oblong(0.2, 0.2, 0.4, 0.3))


def test_what_was_ticked_and_is_as_it_was_differs_in_nothing() -> None:
    assert differs(WANTED, as_cut(WANTED)).same and differs(member(1.2), as_cut(member(1.2))).same


@given(st.floats(-2, 2), st.floats(-2, 2))
def test_a_panel_that_is_wanted_elsewhere_is_the_same_panel(x: float, y: float) -> None:
    there = panel(oblong(x, y, x + 1.0, y + 0.5), oblong(x + 0.2, y + 0.2, x + 0.4, y + 0.3))
    assert differs(there, as_cut(WANTED)).same


def test_six_millimetres_are_told_as_one_measures_them() -> None:
    # 1000 wanted, 994 cut: 6 short, not 3 at either end. 1000 wanted, 1004 cut: 4 over
    plain = panel(oblong(0.0, 0.0, 1.0, 0.5))
    short = differs(plain, as_cut(panel(oblong(0.0, 0.0, 0.994, 0.5))))
    assert (short.short, short.over) == pytest.approx((0.006, 0.0), abs=1e-9) and short.spoilt
    over = differs(plain, as_cut(panel(oblong(3.0, 1.0, 4.004, 1.5))))
    assert (over.short, over.over) == pytest.approx((0.0, 0.004), abs=1e-9)
    assert not over.spoilt and not over.same


def test_a_saw_cuts_no_closer_than_a_millimetre() -> None:
    plain = panel(oblong(0.0, 0.0, 1.0, 0.5))
    assert differs(plain, as_cut(panel(oblong(0.0, 0.0, 1.0 - SAME_M + 1e-6, 0.5)))).same
    assert not differs(plain, as_cut(panel(oblong(0.0, 0.0, 1.0 - SAME_M - 1e-6, 0.5)))).same


def test_holes_can_be_made_and_not_unmade() -> None:
    none, moved = panel(WANTED.outline), panel(WANTED.outline, oblong(0.21, 0.2, 0.41, 0.3))
    assert (differs(WANTED, as_cut(none)).missing, differs(WANTED, as_cut(none)).spoilt) == (1, False)
    assert (differs(none, as_cut(WANTED)).needless, differs(none, as_cut(WANTED)).spoilt) == (1, True)
    # 10 mm aside: 10 mm too much is gone on one side, 10 mm stand in it on the other
    aside = differs(WANTED, as_cut(moved))
    assert (aside.short, aside.over, aside.missing, aside.needless) == pytest.approx((0.01, 0.01, 0, 0))


def test_members_by_length_and_stock() -> None:
    assert differs(member(1.2), as_cut(member(1.194))).short == pytest.approx(0.006)
    long = differs(member(1.2), as_cut(member(1.204)))
    assert long.over == pytest.approx(0.004) and not long.spoilt
    other = as_cut(member(1.2)).model_copy(update={"stock": "angle-30x30x3"})
    assert differs(member(1.2), other).spoilt


def boat() -> Plan:
    return plan(fittings=[{**DECK, "skin": "ply-12"}])


def all_ticked(before: Plan) -> Plan:
    built = derive(before).built
    change = ticked(before, built, list(parts_of(built)), True)
    assert change is not None
    return apply(before, change)


def told(of: Plan) -> list[Finding]:
    return [f for f in derive(of).findings if f.code == "CUT"]


def test_a_deck_that_is_cut_says_so_and_an_edge_that_goes_on_says_by_how_much() -> None:
    before = all_ticked(boat())
    parts = len(before.cut)
    assert [(f.level, f.values["count"].value) for f in told(before)] == [("fine", parts)]
    path = ("fittings", DECK["id"], "aft")
    longer = told(apply(before, SetValue(path=path, value=DECK["aft"] - 0.006)))
    skins = [f for f in longer if "short" in f.values and f.level == "mend"]
    # the skin and the side angles end 6 mm further aft; what is cut of them is 6 mm too short
    assert skins and all(f.values["short"].value == pytest.approx(0.006, abs=2e-4) for f in skins)
    shorter = told(apply(before, SetValue(path=path, value=DECK["aft"] + 0.006)))
    assert {f.level for f in shorter if "over" in f.values} == {"look"}


def test_what_nothing_needs_any_more_is_named() -> None:
    before = boat()
    stray = CutPart(id="gone/1", thing=DECK["id"], label="D9", stock="ply-12", length=0.0,
                    outline=oblong(0.0, 0.0, 1.0, 0.5))  # fmt: skip
    with_it = before.model_copy(update={"cut": (stray,)})
    assert [(f.level, f.title) for f in told(with_it)] == [("look", "Cut, and not wanted any more")]


def test_ticks_are_stored_with_the_build_and_taken_back() -> None:
    before = boat()
    built = derive(before).built
    key = next(iter(parts_of(built)))
    change = ticked(before, built, [key], True)
    assert change is not None
    after = apply(before, change)
    assert [c.id for c in after.cut] == [key] and parse(dump(after)) == after
    assert apply(after, invert(before, change)) == before
    back = ticked(after, built, [key], False)
    assert back is not None and apply(after, back) == before
    # and ticked once more it is known as it is now
    again = ticked(after, built, [key], True)
    assert again is not None and apply(after, again) == after
    assert ticked(before, built, ["nothing"], True) is None


@pytest.mark.parametrize(
    ("part", "said"),
    [
        ({"length": 0.0}, "either an outline"),
        ({"outline": oblong(0, 0, 1, 1), "length": 1.0}, "either an outline"),
        ({"outline": oblong(0, 0, 1, 1), "thing": "nobody"}, "nothing has the id"),
        ({"outline": oblong(0, 0, 1, 1), "holes": [[(0, 0), (1, 1)]]}, "three corners"),
        ({"outline": oblong(0, 0, 1000, 1)}, "100"),
    ],
)
def test_nonsense_is_refused_with_its_place(part, said: str) -> None:
    bad = {"id": "x/1", "thing": DECK["id"], "label": "D9", "stock": "ply-12", **part}
    with pytest.raises((CoreError, ValueError), match=said):
        plan(fittings=[DECK], cut=[bad])


def test_an_outline_that_crosses_itself_is_compared_all_the_same() -> None:
    bow = ((0.0, 0.0), (1.0, 0.5), (1.0, 0.0), (0.0, 0.5))
    assert not differs(WANTED, as_cut(panel(bow))).same
    flat = ((0.0, 0.0), (1.0, 0.0), (2.0, 0.0))
    assert differs(WANTED, as_cut(panel(flat))).spoilt


def test_with_a_thing_its_ticks_go_and_come_back() -> None:
    before = all_ticked(boat())
    gone = forgotten(before, {DECK["id"]})
    assert {c.path for c in gone if isinstance(c, RemoveThing)} == {("cut", c.id) for c in before.cut}


def test_what_somebody_typed_into_a_file_is_told_as_it_stands() -> None:
    name = "<b>{short}</b> {0} {"
    before = all_ticked(boat())
    odd = [c.model_copy(update={"stock": name, "label": name}) for c in before.cut[:2]]
    gone = before.cut[2].model_copy(update={"id": "x/1", "label": name, "stock": name})
    for f in told(before.model_copy(update={"cut": (*odd, gone)})):
        assert "{short}" not in f.text.format(**dict.fromkeys(f.values, "")) and "<b>" not in f.title


def test_a_part_on_record_for_another_thing_counts_where_it_belongs() -> None:
    gone = {
        "id": "old",
        "form": "box",
        "stage": "removed",
        "mass": {"value": 5.0, "centre": [1.0, 0.0, 0.3]},
    }
    before = plan(fittings=[{**DECK, "skin": "ply-12"}], items=[gone])
    part = next(iter(parts_of(derive(before).built).values()))
    odd = as_cut(part).model_copy(update={"thing": "old"})
    found = told(before.model_copy(update={"cut": (odd,)}))
    assert [(f.level, f.place) for f in found] == [("fine", DECK["id"])]


def test_a_hole_that_is_too_large_leaves_too_little_and_one_too_small_is_cut_larger() -> None:
    large = panel(WANTED.outline, oblong(0.195, 0.195, 0.405, 0.305))
    small = panel(WANTED.outline, oblong(0.205, 0.205, 0.395, 0.295))
    # 5 mm all round: its corners are 5 √2 from the wanted one's
    corner = 0.005 * 2**0.5
    spoilt, tight = differs(WANTED, as_cut(large)), differs(WANTED, as_cut(small))
    assert (spoilt.short, spoilt.over) == pytest.approx((corner, 0.0)) and spoilt.spoilt
    assert (tight.short, tight.over) == pytest.approx((0.0, corner)) and not tight.spoilt


def test_more_parts_than_one_step_holds_are_ticked_and_forgotten_in_one() -> None:
    before = boat()
    built = derive(before).built[0]
    panels = tuple(replace(built.panels[0], key=f"{DECK['id']}/many/{k}") for k in range(620))
    change = ticked(before, [replace(built, panels=panels)], [p.key for p in panels], True)
    assert change is not None
    after = apply(before, change)
    assert len(after.cut) == 620 and apply(after, invert(before, change)) == before
    gone = Together(changes=tuple(forgotten(after, {DECK["id"]})))
    assert apply(after, gone) == before and apply(before, invert(after, gone)) == after
