"""The same thing in other sheets that are about as stiff: E t³ by hand, and what comes of it."""

import pytest

from stirrup.core.derive import derive as core_derive
from stirrup.core.instead import as_stiff, instead, sheet_field
from stirrup.core.kinds.registry import KINDS
from stirrup.core.parts.entries import Sheet
from stirrup.core.plan.changes import apply
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, derive, plan
from tests.core.test_locker_box import LOCKER

CAT = starting()


def ref_of(kind: str):
    field = sheet_field(next(k for k in KINDS if k.key == kind).choices.model_construct())
    assert field is not None
    return field[1]


def test_the_thinnest_sheet_of_each_material_that_is_about_as_stiff() -> None:
    """2.5 mm of aluminium: 70 x 15.6 = 1094. Light plywood of 7.5 GPa needs (0.8 x 1094 / 7.5)^(1/3) = 4.89
    mm: 6 mm does, 4 does not. PVC board of 1.1 GPa needs 9.27 mm: 9.5 does, 6 does not."""
    found = {s.material: s.id for s in as_stiff(CAT, CAT.sheet("al-2.5"), ref_of("locker_box"))}
    assert found["ply-light"] == "ply-6" and found["pvc-board"] == "pvc-9.5"
    # its own material is no other one; what has no modulus is left out
    assert CAT.sheet("al-2.5").material not in found and not any("comb" in i for i in found.values())
    for sheet in as_stiff(CAT, CAT.sheet("al-2.5"), ref_of("locker_box")):
        assert sheet.stuff.e_gpa is not None
        assert sheet.stuff.e_gpa * (sheet.thickness * 1000) ** 3 >= 0.8 * 70 * 2.5**3


def test_the_lightest_comes_first_and_unknown_stiffness_compares_with_nothing() -> None:
    weights = [s.thickness * s.stuff.density for s in as_stiff(CAT, CAT.sheet("ply-12"), ref_of("floor"))]
    assert weights == sorted(weights)
    assert as_stiff(CAT, CAT.sheet("alcomb-19"), ref_of("floor")) == []


def test_each_is_what_the_plan_would_be() -> None:
    before = derive(plan(fittings=[{**LOCKER, "on": None}]))
    rows = instead(before, "locker", CAT)
    assert rows[0].sheet.id == "al-2.5" and rows[0].change is None
    built = before.fitting("locker")
    assert built is not None and rows[0].kg == pytest.approx(built.mass_kg)
    ply = next(r for r in rows if r.sheet.id == "ply-6")
    assert ply.change is not None
    after = core_derive(apply(before.plan, ply.change), CAT, quick=True)
    made = after.fitting("locker")
    assert made is not None and ply.kg == pytest.approx(made.mass_kg)
    assert ply.cost == after.cost.total
    # its four walls, lid and bottom weigh what plywood does
    panel = next(p for p in made.panels if p.label == "K1-A")
    assert isinstance(panel.sheet, Sheet) and panel.sheet.id == "ply-6"


def test_nothing_is_stored_and_what_has_no_sheet_of_its_own_is_left_alone() -> None:
    before = derive(plan(fittings=[{**DECK, "aft": 1.0, "fore": 3.0}, {**HATCH, "x": 2.0}]))
    text = before.plan.model_dump_json()
    assert instead(before, "deck", CAT) and before.plan.model_dump_json() == text
    # a lid that is made as its deck is; nothing of that name
    assert instead(before, "hatch", CAT) == [] and instead(before, "gone", CAT) == []
