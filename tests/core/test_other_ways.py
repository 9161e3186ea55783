"""Other ways of making a thing: what kinds offer is what they accept; what comes of it is what would."""

from typing import Any

import pytest
from pydantic import TypeAdapter

from stirrup.core.contract.ways import ways_of
from stirrup.core.derive import Derived
from stirrup.core.derive import derive as core_derive
from stirrup.core.document import StockRef
from stirrup.core.kinds.registry import KINDS
from stirrup.core.other_ways import Question, asked, change_to, other_ways
from stirrup.core.plan.changes import apply
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import build_data, derive, wedge_lines
from tests.core.test_stringer import STRINGER

CAT = starting()
OFFERED = [(kind, name) for kind in KINDS for name in ways_of(kind.choices)]


def boat(**choices: Any) -> Derived:
    stringer = {**STRINGER, "core": "ply-18", "layers": 2, **choices}
    return derive(from_data(build_data(wedge_lines(0.2), fittings=[stringer])))


def question(derived: Derived, title: str) -> Question:
    return next(q for q in other_ways(derived, "stringer", CAT) if q.title == title)


@pytest.mark.parametrize(("kind", "name"), OFFERED, ids=lambda v: getattr(v, "key", v))
def test_each_way_is_one_that_the_kind_accepts_and_says_what_it_leads_to(kind: Any, name: str) -> None:
    fields = kind.choices.model_fields
    each = ways_of(kind.choices)[name].each
    assert len(each) >= 2 and len({w.value for w in each}) == len(each)
    for way in each:
        assert len(way.told) > 20 and not way.told.endswith(".")
        for field, value in (*way.also, (name, way.value)):
            assert field in fields
            TypeAdapter(fields[field].annotation).validate_python(value, strict=True)
            for ref in (m for m in fields[field].metadata if isinstance(m, StockRef)):
                assert value in {e.id for e in CAT.offered(ref)}
    # nothing that can be chosen and is no bought material is left out
    accepted = getattr(fields[name].annotation, "__args__", ())
    if accepted and all(isinstance(a, str) for a in accepted):
        assert {w.value for w in each} == set(accepted)


def test_a_stringer_of_foam_weighs_less_by_what_its_core_does() -> None:
    """Two layers of 18 mm plywood, or two of 20 mm foam at 80 kg/m3: the core's own mass by its area."""
    now = boat()
    core = question(now, "Core of")
    foam = next(t for t in core.others if t.way.value == "core-20")
    assert foam.made is not None and core.now.made is not None
    built, after = now.fitting("stringer"), core_derive(apply(now.plan, foam.made.change), CAT)  # type: ignore[arg-type]
    foamed = after.fitting("stringer")
    assert built is not None and foamed is not None
    assert sum(p.sheet.thickness * p.polygon.area for p in foamed.panels) > 0
    assert foam.made.kg == pytest.approx(foamed.mass_kg)
    density = {p.sheet.id: p.sheet.stuff.density for p in (*built.panels, *foamed.panels)}
    light, heavy = (
        sum(p.polygon.area * p.sheet.thickness * density[p.sheet.id] for p in b.panels)
        for b in (foamed, built)
    )
    assert light < 0.2 * heavy
    # 3.6 mm thicker, so a little more of laminate
    assert foam.made.kg - core.now.made.kg == pytest.approx(light - heavy, abs=0.4)


def test_what_is_set_along_with_it_is_set_and_one_step_back_is_all() -> None:
    derived = boat()
    joined = question(derived, "Joined to the bottom")
    assert joined.now.way.value == "laminated over"
    (welded,) = joined.others
    assert welded.made is not None and welded.made.change is not None
    after = apply(derived.plan, welded.made.change).fitting("stringer")
    assert after is not None
    assert (after.joined, after.core, after.layers) == ("welded", "al-4.8", 1)  # type: ignore[attr-defined]
    # resin is no question of what is welded
    assert "resin" in asked(derived.plan.fitting("stringer"), CAT)  # type: ignore[arg-type]
    assert "resin" not in asked(after, CAT)
    assert other_ways(derived, "gone", CAT) == []


def test_a_way_that_is_none_of_the_usual_ones_is_told_beside_them() -> None:
    core = question(boat(core="pvc-19"), "Core of")
    assert core.now.way.told == "" and len(core.others) == 3


def test_the_words_of_a_change_name_the_way() -> None:
    way = ways_of(type(boat().plan.fitting("stringer")))["core"].each[1]  # type: ignore[arg-type]
    change = change_to(("fittings", "stringer"), "core", way)
    assert getattr(change, "words", "") == "made in another way: core-20"
