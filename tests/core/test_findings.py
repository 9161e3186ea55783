"""Findings are counted in one place, each once; sums in workings add up."""

import ast
from pathlib import Path

import pytest

import stirrup.core
from stirrup.core.findings import CHECKS, Counts, Finding, Quantity, count, declare, distinct
from stirrup.demo.seed import FILES, demo_plan
from tests.boats import derive

CORE = Path(stirrup.core.__file__).parent
A = Finding("A", "stop", "x", "t", "text", {"a": Quantity(1.0, "m")})
B = Finding("B", "mend", "x", "t", "text")


def test_counting_names_each_level_by_itself() -> None:
    found = count([A, B, B, B, Finding("C", "look", "x", "t", ""), Finding("D", "fine", "x", "t", "")])
    assert found == Counts(1, 3, 1, 0, 1)
    assert (found.open, found.words) == (4, "1 stop, 3 mend")
    assert count([B]).words == "1 mend" and count([]).words == "nothing"


def test_the_same_about_the_same_is_listed_once_and_another_amount_is_another_finding() -> None:
    other = Finding("A", "stop", "x", "t", "text", {"a": Quantity(2.0, "m")})
    assert distinct([A, B, A, other, B]) == [A, B, other]


@pytest.mark.slow
@pytest.mark.parametrize("name", FILES)
def test_no_finding_of_the_demo_stands_twice(name: str) -> None:
    findings = derive(demo_plan(name)).findings
    assert len(distinct(findings)) == len(findings)


@pytest.mark.parametrize("name", FILES)
def test_lines_of_what_was_added_make_the_amount(name: str) -> None:
    derived = derive(demo_plan(name))
    assert sum(d.kg for d in derived.added) == pytest.approx(derived.added_kg, abs=1e-9)
    by_name = {d.name: d.kg for d in derived.added}
    for fitting in derived.built:
        title = derived.plan.fitting(fitting.fitting).name  # type: ignore[union-attr]
        assert by_name[title] == pytest.approx(sum(p.mass_kg for p in fitting.parts))


SUMS = ("grip = sum of all layers", "grip = lid + runner + cover x 0.4")


@pytest.mark.parametrize("name", FILES)
def test_workings_that_are_sums_add_up_to_their_result(name: str) -> None:
    workings = [f.working for f in derive(demo_plan(name)).findings if f.working]
    sums = [w for w in workings if w.formula in SUMS]
    for w in sums:
        assert sum(i.quantity.value for i in w.inputs) == pytest.approx(w.result.value)
    bays = [w for w in workings if w.formula.startswith("bays =")]
    for w in bays:
        run, asked, number = (i.quantity.value for i in w.inputs)
        assert number == -(-run // asked) and w.result.value == pytest.approx(run / number)
    decks = [f for f in demo_plan(name).fittings if f.kind == "raised_deck"]
    assert sums and bool(bays) == bool(decks)


@pytest.mark.parametrize("name", FILES)
def test_the_cost_is_the_sum_of_its_lines_and_tax(name: str) -> None:
    cost = derive(demo_plan(name)).cost
    lines = sum(line.cost for line in cost.lines) + sum(p for _, p in cost.whole if p is not None)
    lines += sum(p.amount for p in cost.purchases)
    assert lines == cost.net and cost.net + cost.tax == cost.total


def test_every_code_is_declared_once_beside_its_check_and_made_somewhere() -> None:
    made: dict[str, set[str]] = {}
    for file in CORE.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Finding":
                code = node.args[0]
                # trim and list are made by one function for both
                codes = [code.value] if isinstance(code, ast.Constant) else ["TRIM", "LIST"]
                for one in codes:
                    made.setdefault(one, set()).add(file.name)
    assert set(made) == set(CHECKS)
    assert all(len(files) == 1 for files in made.values()), made


def test_how_she_floats_may_not_be_accepted() -> None:
    assert not [c.code for c in CHECKS.values() if c.acceptable and c.page != "layout"]
    assert CHECKS["CLASH"].acceptable and not CHECKS["CANNOT-BUILD"].acceptable


def test_a_code_that_is_taken_cannot_be_declared_for_something_else() -> None:
    with pytest.raises(ValueError, match="CLASH is declared twice"):
        declare("float", {"CLASH": "another thing"})
