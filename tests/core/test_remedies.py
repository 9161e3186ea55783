"""Remedies are tried: what they make worse is said, the best is first, pairs are offered."""

from stirrup.core.plan.changes import apply
from stirrup.core.remedies import tried
from stirrup.exchange.catalogue import starting
from tests.boats import derive, plan
from tests.core.test_fit import found, thing


def crate(id_: str, x: float) -> dict:
    """0.5 m long and so wide that it is rather moved along than aside."""
    return thing(id_, "box", (x, 0, 0.35), (0.5, 1.2, 0.3))


def row() -> list[dict]:
    # b from 1.35 to 1.85, a from 1.75 to 2.25, c from 2.30 to 2.80: b stands 0.10 in a
    return [crate("b", 1.60), crate("a", 2.00), crate("c", 2.55)]


def test_what_a_remedy_makes_worse_is_said_and_the_best_is_first() -> None:
    derived = derive(plan(items=row()))
    clash = found(derived, "CLASH")[0]
    out = tried(derived, clash, starting())
    best, *others = out
    # b aft by 0.10 is free of everything
    assert [m.thing for m, _ in best.fixes] == ["b"]
    assert best.helps and best.worse == ()
    alone = next(t for t in others if [m.thing for m, _ in t.fixes] == ["a"])
    # a forward by 0.10 reaches to 2.35: 0.05 into c
    assert alone.helps
    assert [(f.code, {f.place, f.other}) for f in alone.worse] == [("CLASH", {"a", "c"})]
    assert [t.score for t in out] == sorted((t.score for t in out), reverse=True)


def test_two_that_only_help_together_are_offered_as_one_step() -> None:
    # something behind b keeps it where it is: from 0.80 to 1.30
    derived = derive(plan(items=[*row(), crate("d", 1.05)]))
    clash = next(f for f in found(derived, "CLASH") if {f.place, f.other} == {"a", "b"})
    pair = next(t for t in tried(derived, clash, starting()) if len(t.fixes) == 2)
    assert pair.helps and pair.worse == ()
    after = derive(apply(derived.plan, pair.change))
    assert found(after, "CLASH") == []
    # one of a pair alone is listed after it
    singles = [t for t in tried(derived, clash, starting()) if len(t.fixes) == 1 and t.worse]
    assert all(t.score < pair.score for t in singles)


def test_nothing_of_the_plan_changes_by_trying() -> None:
    derived = derive(plan(items=row()))
    before = derived.plan.model_dump_json()
    tried(derived, found(derived, "CLASH")[0], starting())
    assert derived.plan.model_dump_json() == before
