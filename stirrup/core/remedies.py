"""Remedies tried out: what each makes better and worse, the best first, and pairs that only help
together.

A remedy is made on the plan, all that follows is derived, and the findings are compared with those
before. So a console that goes forward says that the wheel is then out of reach, and that moving
the seat along with it is the way.
"""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.arrange.followers import Around, followed
from stirrup.core.arrange.move import moved
from stirrup.core.arrange.size import resized
from stirrup.core.derive import Derived, derive
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, count
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.memo import passing
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.changes import AnyChange, SetValue, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass

WEIGHT = {"stop": 8, "mend": 3, "look": 1, "unknown": 0, "fine": 0}
MOST_PAIRS = 3  # tried for a remedy that makes something worse


@dataclass(frozen=True)
class Tried:
    """A remedy, or several as one step, as it came out.

    fixes: with the finding that each belongs to; change: all of it as one step; helps: whether
    what it is offered against is then gone or only fine; worse: what is new, or of a worse level.
    """

    fixes: tuple[tuple[Fix, Finding], ...]
    change: AnyChange
    helps: bool
    worse: tuple[Finding, ...]
    better: tuple[Finding, ...]

    @property
    def score(self) -> int:
        """How much there is less to mend, weighed by level; the larger the better."""
        gained = sum(WEIGHT[f.level] for f in self.better) - sum(WEIGHT[f.level] for f in self.worse)
        return gained + (4 if self.helps else 0) - len(self.fixes)


def change_of(plan: Plan, surface: HullSurface, mend: Fix, catalogue: Catalogue) -> AnyChange:
    """The step that a remedy's button makes, with whoever sits on it and what is bound to it."""
    change: AnyChange
    if mend.path:
        change = SetValue(path=mend.path, value=mend.value)
    elif mend.edge:
        change = resized(plan, surface, mend.thing, mend.edge, float(mend.value))
    else:
        change = moved(plan, [mend.thing], mend.by)
    return followed(plan, Around(lambda: surface, catalogue), change)


def _identity(f: Finding) -> tuple[str, str, str]:
    """What two findings have in common that say the same of the same things."""
    return (f.code, f.place, f.other)


def _levels(findings: Iterable[Finding]) -> dict[tuple[str, str, str], Finding]:
    """The worst finding of each kind about each thing."""
    out: dict[tuple[str, str, str], Finding] = {}
    for f in findings:
        known = out.get(_identity(f))
        if known is None or WEIGHT[f.level] > WEIGHT[known.level]:
            out[_identity(f)] = f
    return out


def _compared(
    before: Derived, after: Derived, finding: Finding, fixes: tuple[tuple[Fix, Finding], ...],
    change: AnyChange,
) -> Tried:  # fmt: skip
    old, new = _levels(before.findings), _levels(after.findings)
    worse = [f for k, f in new.items() if WEIGHT[f.level] > (WEIGHT[old[k].level] if k in old else 0)]
    better = [f for k, f in old.items() if WEIGHT[f.level] > (WEIGHT[new[k].level] if k in new else 0)]
    left = new.get(_identity(finding))
    helps = left is None or WEIGHT[left.level] == 0
    return Tried(fixes, change, helps, tuple(worse), tuple(better))


def tried(derived: Derived, finding: Finding, catalogue: Catalogue) -> list[Tried]:
    """Every remedy of a finding tried on the plan, the best first.

    Where one makes something worse that has remedies of its own, both are tried together; a pair
    is offered when it leaves less to mend than either. Remedies that cannot be made are left out.
    """
    out: list[Tried] = []
    for mend in finding.fixes:
        made = _try(derived, derived.plan, finding, ((mend, finding),), catalogue)
        if made is None:
            continue
        one, after = made
        out.append(one)
        if not one.worse:
            continue
        pairs = [
            pair
            for other in one.worse[:MOST_PAIRS]
            for second in other.fixes
            if (pair := _pair(derived, after, finding, one, second, other, catalogue)) is not None
        ]
        better = [p for p in pairs if p.helps and p.score > one.score]
        out += sorted(better, key=lambda t: -t.score)[:1]
    return sorted(out, key=lambda t: -t.score)


def _try(
    derived: Derived, plan: Plan, finding: Finding, fixes: tuple[tuple[Fix, Finding], ...],
    catalogue: Catalogue, first: AnyChange | None = None,
) -> tuple[Tried, Derived] | None:  # fmt: skip
    """The last of `fixes` made on `plan`; compared with what was there before all of them."""
    try:
        change = change_of(plan, derived.surface, fixes[-1][0], catalogue)
        with passing():
            after = derive(apply(plan, change), catalogue, quick=True)
    except CoreError:
        return None
    whole = change
    if first is not None:
        parts = [p for c in (first, change) for p in (c.changes if isinstance(c, Together) else (c,))]
        whole = Together(changes=tuple(parts))
    return _compared(derived, after, finding, fixes, whole), after


def _pair(
    derived: Derived, after: Derived, finding: Finding, one: Tried, second: Fix, other: Finding,
    catalogue: Catalogue,
) -> Tried | None:  # fmt: skip
    fixes = (*one.fixes, (second, other))
    made = _try(derived, after.plan, finding, fixes, catalogue, one.change)
    return None if made is None else made[0]


def open_after(derived: Derived, change: AnyChange, catalogue: Catalogue) -> int:
    """How many findings are open once a change is made."""
    with passing():
        return count(derive(apply(derived.plan, change), catalogue, quick=True).findings).open
