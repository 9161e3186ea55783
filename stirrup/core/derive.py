"""The pipeline: a plan goes in, everything else comes out. To be read in one sitting.

    plan -> hull surface -> fittings -> parts -> ledger -> float (every load case)
                               |          |  \\-> findings
                               |          |  \\-> blanks -> sheet and stick layouts
                               |          \\-> needs -> packs -> cost

Every stage is a pure function remembered by the content of its inputs, so that moving one
edge computes only what follows from that edge.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from functools import partial

from stirrup.core.afloat.cases import (
    Vessel,
    build_vessel,
    buoyant_texts,
    ledger,
    total_mass_kg,
)
from stirrup.core.afloat.checks import Meant, float_findings, power_findings
from stirrup.core.afloat.every_case import CaseResult, every_case
from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.ledger import Difference, Entry, differences
from stirrup.core.afloat.moments import is_momentary
from stirrup.core.afloat.standard import RAIL, is_ashore, load_cases
from stirrup.core.buying import Spent, settled_layout, spent_on
from stirrup.core.contract.gives import Built
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.cutting.checks import oversize_findings
from stirrup.core.cutting.jobs import Job, Layout, Layouts, work_out
from stirrup.core.cutting.sheets import SheetLayout
from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.errors import CoreError
from stirrup.core.findings import LEVELS, Finding, distinct
from stirrup.core.fit.accepting import accepted
from stirrup.core.fit.check import Fit, check_fit
from stirrup.core.fit.tried import as_tried
from stirrup.core.hull.checks import hull_findings
from stirrup.core.hull.mesh import HullSurface, build_surface
from stirrup.core.kept import kept_property
from stirrup.core.making import TEXTS, make, standing, standing_text
from stirrup.core.memo import ByIdentity, Memo, alone
from stirrup.core.money.cost import Cost
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import AS_FOUND, PLANNED_EMPTY, LoadCase, Plan
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.things import path_of
from stirrup.core.record import dataclass

MEMO = Memo()
RECENT = ByIdentity(60)
OLD = ByIdentity(2000)  # findings marked so: the same objects at every step
MOST_ASKED = 100
ASKED: dict[object, object] = {}  # one object for each set of prices, quick or not


@dataclass(frozen=True)
class Derived:
    """Everything that follows from one plan."""

    plan: Plan
    vessel: Vessel
    obstacles: tuple[Obstacle, ...]
    things: tuple[Placed, ...]
    built: tuple[Built, ...]
    footing: Footing
    planned: tuple[Entry, ...]
    found: tuple[Entry, ...]
    load_cases: tuple[LoadCase, ...]
    cases: tuple[CaseResult, ...]
    spent: Spent
    findings: tuple[Finding, ...]
    fit: Fit
    catalogue: Catalogue
    quick: bool = False
    live: bool = False  # only what keeps up with a hand: some cases, and no check that comes behind

    @property
    def surface(self) -> HullSurface:
        return self.vessel.surface

    @property
    def sheets(self) -> tuple[SheetLayout, ...]:
        return self.spent.sheets

    @property
    def sticks(self) -> tuple[StickLayout, ...]:
        return self.spent.sticks

    @property
    def bars(self) -> tuple[StickLayout, ...]:
        return self.spent.bars

    @property
    def cost(self) -> Cost:
        return self.spent.cost

    @property
    def pending(self) -> tuple[Job, ...]:
        """Jobs whose settled layout is not known yet; none while dragging, nobody waits then."""
        every: tuple[Layout, ...] = (*self.sheets, *self.sticks, *self.bars)
        return (
            () if self.quick else tuple(s.job for s in every if not s.settled or getattr(s, "more", False))
        )

    @property
    def added_kg(self) -> float:
        """Planned and empty less as found: what the rebuild adds for good."""
        return total_mass_kg(self.planned) - total_mass_kg(self.found)

    @kept_property
    def _by_code(self) -> dict[str, list[Finding]]:
        out: dict[str, list[Finding]] = {}
        for finding in self.findings:
            out.setdefault(finding.code, []).append(finding)
        return out

    @kept_property
    def behind(self) -> list[Finding]:
        """What comes behind a step of a hand, marked old: what is told until it is known anew."""
        those = (f for f in self.findings if f.check.pace == "behind")
        return [OLD.get(f, True, partial(replace, f, old=True)) for f in those]

    def of_code(self, code: str) -> Sequence[Finding]:
        """What a check found."""
        return self._by_code.get(code, ())

    def case(self, name: str) -> CaseResult:
        """Result of a case by name. Raises KeyError."""
        return next(c for c in self.cases if c.name == name)

    def load_case(self, name: str) -> LoadCase:
        """Who and what is aboard in a case, everybody on his feet. Raises KeyError."""
        found = next((c for c in self.load_cases if c.name == name), None)
        if found is None:
            raise KeyError(name)
        return found

    @property
    def added(self) -> list[Difference]:
        """What makes her heavier or lighter than as found, thing by thing."""
        names = {f.id: f.name for f in self.plan.fittings}
        return differences(self.planned, self.found, names)

    def base(self, name: str) -> tuple[Entry, ...]:
        """The ledger that a case starts from."""
        return self.found if name == AS_FOUND else self.planned

    def fitting(self, id_: str) -> Built | None:
        """What a fitting makes, by its id."""
        return next((b for b in self.built if b.fitting == id_), None)

    def placed(self, id_: str) -> Placed | None:
        """A thing with its kind and what it makes, by its id."""
        return next((t for t in self.things if t.id == id_), None)


def _surface(plan: Plan) -> HullSurface:
    of_shape = {"lines", "starboard", "skin"}
    shape = TEXTS.get(plan.hull, None, lambda: plan.hull.model_dump_json(include=of_shape))
    return MEMO.get(("surface", shape), lambda: build_surface(plan.hull, shape))


def derive_vessel(plan: Plan) -> Vessel:
    """Hull and buoyant volumes: all that the float and lines commands need of a plan."""
    surface = _surface(plan)
    floats = plan.model_dump_json(include={"buoyancy": True, "water": True, "hull": {"floods"}})
    key = ("vessel", surface.key, floats, *buoyant_texts(plan))
    return MEMO.get(key, lambda: build_vessel(plan, surface, "|".join(key)))


def _obstacles(plan: Plan) -> tuple[Obstacle, ...]:
    return MEMO.get(("obstacles", standing_text(plan)), partial(standing, plan))


def derive_things(
    plan: Plan, surface: HullSurface, catalogue: Catalogue
) -> tuple[tuple[Placed, ...], list[Finding]]:
    """Everything that is or will be in the boat, with what it makes, and what was found on the way."""
    things, findings = make(MEMO, plan, surface, _obstacles(plan), catalogue)
    return as_tried(plan, things), findings


def sound_things(plan: Plan, catalogue: Catalogue) -> tuple[Placed, ...]:
    """Everything of a plan built, for commands that need no more. Raises CoreError for a bad one."""
    things, findings = derive_things(plan, derive_vessel(plan).surface, meant(plan, catalogue))
    for finding in findings:
        if finding.code == "CANNOT-BUILD":
            raise CoreError(finding.text, ".".join(path_of(plan, finding.place)))
    return things


def fittings_of(things: Iterable[Placed]) -> tuple[Built, ...]:
    """What is built in the shop, of everything that stands in the boat."""
    return tuple(t.built for t in things if t.kind.group == "fittings")


def derive_footing(surface: HullSurface, things: Iterable[Placed]) -> Footing:
    """The walkable surfaces of a plan."""
    there = tuple(things)
    return Footing(surface, tuple(t.built for t in there), {t.id: t.title for t in there})


def _meanings(plan: Plan, cases: Iterable[LoadCase]) -> dict[str, Meant]:
    """What each load case stands for, so that its findings can be weighed."""
    own = {c.name for c in plan.cases}
    planned = bool(plan.fittings or plan.label) or any(i.stage == "added" for i in plan.items)
    return {
        c.name: Meant(
            len(c.crew),
            not c.name.startswith(RAIL),
            not is_ashore(c.name),
            planned,
            is_momentary(c.name) and c.name not in own,
        )
        for c in cases
    }


def meant(plan: Plan, catalogue: Catalogue) -> Catalogue:
    """The catalogue as a plan means it: its own entries over the shop's, at the shop's prices."""
    carried = plan.catalogue
    key = ("meant", catalogue.key, TEXTS.get(carried, None, carried.model_dump_json))
    return MEMO.get(key, lambda: catalogue.meaning(carried.entries, carried.materials))


def _somebody_waits() -> None:
    """The question of whether to go on, where nobody ever gives up."""


def derive(
    plan: Plan,
    catalogue: Catalogue,
    quick: bool = False,
    layouts: Layouts = work_out,
    ask: Callable[[], None] = _somebody_waits,
) -> Derived:
    """Everything that follows from a plan.

    catalogue: the shop's, with its prices. quick: while dragging; sheet counts then come from
    bounding boxes and the cost says so. layouts: where settled layouts come from; as long as
    one is not known, counts and cost are estimates, and what is `pending` says which. ask: called
    between the steps; raises GivenUpError when nobody waits for the rest.
    """
    whole = partial(_whole_key, plan, catalogue, quick)

    def by_content() -> Derived:
        return MEMO.get(whole(), partial(_derive, plan, catalogue, quick, layouts, None, ask))

    if len(ASKED) > MOST_ASKED:
        ASKED.clear()
    # the stored plan is the same object at every request: its text need not be written out
    asked = ASKED.setdefault((catalogue.key, quick), object())
    known = RECENT.peek(plan, asked)
    if isinstance(known, Derived):
        found = known
    else:
        with alone():
            found = RECENT.get(plan, asked, by_content)
    if any(settled_layout(MEMO, job, layouts) for job in found.pending):
        found = MEMO.put(whole(), _derive(plan, catalogue, quick, layouts))
        RECENT.put(plan, asked, found)
    return found


def _whole_key(plan: Plan, catalogue: Catalogue, quick: bool) -> tuple[object, ...]:
    return ("derived", plan.model_dump_json(), catalogue.key, quick)


def derive_live(
    plan: Plan, catalogue: Catalogue, shown: Iterable[str], spent: Spent | None = None
) -> Derived:
    """What keeps up with a hand that drags: everything that is built, ledger, what meets what, and how
    she floats in the cases that are shown, and in those that they start from; and what it costs, counted
    anew where it is not handed in as it was a moment ago.

    What else there is to find comes behind, see `followed_by`.
    """
    only = frozenset((PLANNED_EMPTY, AS_FOUND, *shown))
    return _derive(plan, catalogue, True, _not_now, only, spent=spent)


def followed_by(live: Derived, known: Derived) -> Derived:
    """A live result with everything that comes behind as it was known last, each finding marked old.

    Cases that are in the live result speak for themselves; so does what is not in its plan any more.
    """
    there = {c.name for c in live.cases}
    gone = {t.id for t in known.things} - {t.id for t in live.things}
    left = [f for f in known.behind if f.place not in there and f.place not in gone and f.other not in gone]
    findings = sorted([*live.findings, *left], key=lambda f: LEVELS.index(f.level))
    return replace(live, findings=tuple(findings), fit=replace(live.fit, passage=known.fit.passage))


def _not_now(job: Job) -> None:
    """While dragging nobody waits for a layout."""


def _derive(
    plan: Plan,
    shop: Catalogue,
    quick: bool,
    layouts: Layouts,
    only: frozenset[str] | None = None,
    ask: Callable[[], None] = _somebody_waits,
    spent: Spent | None = None,
) -> Derived:
    catalogue = meant(plan, shop)
    vessel = derive_vessel(plan)
    things, findings = derive_things(plan, vessel.surface, catalogue)
    built = fittings_of(things)
    planned = tuple(ledger(plan, vessel, built, as_found=False))
    found = tuple(ledger(plan, vessel, built, as_found=True))
    footing = derive_footing(vessel.surface, things)
    loaded = load_cases(plan, footing, only)
    cases = every_case(plan, vessel, planned, found, loaded, quick, ask)
    asked = _not_now if quick else layouts
    bill = spent or spent_on(MEMO, built, catalogue, asked, plan, vessel.surface, quick)
    reports = [(c.name, c.report, c.error) for c in cases]
    readings = partial(hull_findings, plan.hull, vessel.surface)
    findings += MEMO.get(("readings", vessel.surface.key), readings)
    findings += float_findings(reports, bill.cost.budget, bill.cost.total, _meanings(plan, loaded))
    afloat = {c.name: c.report for c in cases if c.report is not None}
    findings += power_findings(plan)
    findings += oversize_findings(catalogue, bill.sheets, bill.sticks)
    ask()
    fit = check_fit(plan, things, footing, loaded, afloat, quick, only is not None)
    findings = accepted(plan, distinct([*findings, *fit.findings]))
    findings.sort(key=lambda f: LEVELS.index(f.level))
    return Derived(
        plan, vessel, _obstacles(plan), things, built, footing, planned, found, loaded, cases, bill,
        tuple(findings), fit, catalogue, quick, only is not None,
    )  # fmt: skip


__all__ = [
    "AS_FOUND",
    "PLANNED_EMPTY",
    "CaseResult",
    "Derived",
    "derive",
    "derive_footing",
    "derive_live",
    "derive_vessel",
    "followed_by",
]
