"""A derive that does not wait for its layouts: estimates say so, and settle once these are known."""

from stirrup.core.cutting.jobs import Job, Layout, estimate, work_out
from stirrup.core.cutting.sticks import Piece, StickJob
from stirrup.core.derive import derive
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, skiff_plan


class Known:
    """Layouts that come one by one; counts how often it is asked."""

    def __init__(self) -> None:
        self.known: dict[Job, Layout] = {}
        self.asked = 0

    def __call__(self, job: Job) -> Layout | None:
        self.asked += 1
        return self.known.get(job)


def plan_of(length: float):
    """A deck of 2 mm sheet and one of 12 mm ply, of a length that no other test has."""
    decks = [{**DECK, "id": "a", "mark": "D1", "fore": DECK["aft"] + length, "skin": "al-2.0"},
             {**DECK, "id": "b", "mark": "D2", "aft": 0.5, "fore": 0.5 + length,
              "skin": "ply-12"}]  # fmt: skip
    return skiff_plan(fittings=decks)


def test_what_is_not_known_is_estimated_and_named() -> None:
    later = Known()
    found = derive(plan_of(0.7131), starting(), layouts=later)
    assert {j.stock for j in found.pending} == {"al-2.0", "ply-12"}
    assert not found.cost.settled and not any(s.settled for s in found.sheets)
    # everything that is cut is counted, each part once
    for layout in found.sheets:
        placed = sorted(p.blank for sheet in layout.sheets for p in sheet)
        assert placed == sorted(b.id for b in layout.job.blanks)


def test_it_settles_one_by_one_and_is_then_the_same_as_at_once() -> None:
    later, plan = Known(), plan_of(0.7257)
    first = derive(plan, starting(), layouts=later)
    one, other = first.pending
    later.known[one] = work_out(one)
    second = derive(plan, starting(), layouts=later)
    assert second.pending == (other,) and not second.cost.settled
    assert next(s for s in second.sheets if s.job == one) == work_out(one)
    later.known[other] = work_out(other)
    third = derive(plan, starting(), layouts=later)
    assert third.pending == () and third.cost.settled
    at_once = derive(plan, starting())
    assert (third.sheets, third.cost, third.findings) == (at_once.sheets, at_once.cost, at_once.findings)
    # and nobody is asked again
    asked = later.asked
    assert derive(plan, starting(), layouts=later) is third and later.asked == asked


def test_who_cannot_wait_gets_it_at_once_also_after_an_estimate() -> None:
    plan = plan_of(0.7393)
    assert derive(plan, starting(), layouts=Known()).pending
    assert derive(plan, starting()).cost.settled


def test_while_dragging_nobody_is_asked() -> None:
    later = Known()
    moved = apply(plan_of(0.7419), SetValue(path=("fittings", "a", "aft"), value=3.0123))
    found = derive(moved, starting(), quick=True, layouts=later)
    assert later.asked == 0 and found.pending == () and not found.cost.settled


def test_sticks_that_first_fit_may_not_do_best_wait_as_sheets_do() -> None:
    # 4 4 4 and six 3 on bars of 10: first fit makes 4 4, 4 3 3, 3 3 3, 3; three times 4 3 3 is enough
    pieces = tuple(Piece(f"p{k}", v) for k, v in enumerate([0.4] * 3 + [0.3] * 6))
    job = StickJob("angle", 1.0, pieces, kerf=0.0, trim=0.0)
    first, best = estimate(job), work_out(job)
    assert (len(first.bars), first.settled) == (4, False)
    assert (len(best.bars), best.settled, best.proven) == (3, True, True)


def test_sticks_that_first_fit_does_best_wait_for_nobody() -> None:
    # three pieces of over half a bar need a bar each
    job = StickJob("angle", 1.0, tuple(Piece(f"p{k}", 0.6) for k in range(3)), kerf=0.0, trim=0.0)
    assert estimate(job) == work_out(job) and estimate(job).settled
