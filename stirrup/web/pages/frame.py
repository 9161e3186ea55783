"""What every page shares: the shop, the build, its derived figures, templates."""

from __future__ import annotations

import contextlib
import logging
from decimal import Decimal
from typing import Annotated, Any, cast

from fastapi import Depends, Request
from markupsafe import Markup

from stirrup.core.afloat.moments import is_momentary
from stirrup.core.afloat.standard import is_ashore
from stirrup.core.derive import CaseResult, Derived, derive
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, count
from stirrup.core.memo import Memo, of_build
from stirrup.core.money.more import Bought, More, bought_of, more_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.plan.model import PLANNED_EMPTY, LoadCase, Plan
from stirrup.core.record import dataclass
from stirrup.core.units import SYSTEMS, Units
from stirrup.exchange.amounts import WRITTEN
from stirrup.store import builds
from stirrup.store.layouts import found_or_made
from stirrup.store.queue import sources, want
from stirrup.store.session import StoreAwayError
from stirrup.store.shop import catalogue, the_shop
from stirrup.web import present
from stirrup.web.drawing import strip
from stirrup.web.problems import Problem

LOG = logging.getLogger("stirrup")
# pages in working order; what does not exist yet is not shown
PAGES = (
    ("survey", "Survey", "what have we got?"),
    ("layout", "Layout", "where does it go and does it fit?"),
    ("float", "Float", "how will she sit?"),
    ("cuts", "Cuts", "what do I cut from what?"),
    ("money", "Money", "what does it cost and what must I order?"),
)


@dataclass(frozen=True)
class Viewer:
    """Who asks, and how they read numbers."""

    shop_id: int
    shop_name: str
    units: Units


def viewer() -> Viewer:
    """The shop of this installation."""
    shop = the_shop()
    return viewer_of(shop.id, shop.name, shop.units)


def viewer_of(shop_id: int, name: str, units: str) -> Viewer:
    """Somebody of a shop; units: as they are stored."""
    return Viewer(shop_id, name, SYSTEMS.get(units, SYSTEMS["mm"]))


@dataclass(frozen=True)
class OpenBuild:
    """A build with everything that follows from it."""

    stored: builds.Stored
    derived: Derived
    who: Viewer

    @property
    def plan(self) -> Plan:
        return self.stored.plan

    @property
    def units(self) -> Units:
        return self.who.units


def worked_out(
    plan: Plan, who: Viewer, own: Catalogue | None = None, quick: bool = False, settled: bool = False
) -> Derived:
    """Everything that follows from a plan; own: the shop's catalogue where it is at hand; settled: its
    layouts too, however long that takes. Raises CoreError, also for what nobody thought of."""
    try:
        stock = own or catalogue(who.shop_id)
        return derive(plan, stock, quick, (found_or_made if settled else sources)(who.shop_id))
    except (CoreError, StoreAwayError):
        raise
    except Exception as error:
        LOG.exception("a plan that cannot be worked out: %s", plan.name)
        raise CoreError(
            "this cannot be worked out together with what is there; another value may do"
        ) from error


def open_build(build_id: int, settled: bool = False) -> OpenBuild:
    """Load and derive; settled: for what is cut by, which waits for its layouts. Raises NotThereError;
    Problem, with a way back, when it cannot be derived."""
    who = viewer()
    stored = builds.load(who.shop_id, build_id)
    WRITTEN.set(stored.plan.wishes.amounts)
    try:
        derived = worked_out(stored.plan, who, settled=settled)
        if derived.pending:
            want(who.shop_id, build_id, derived.pending)
        return OpenBuild(stored, derived, who)
    except CoreError as error:
        raise Problem(
            422, "This plan cannot be worked out", present.in_shop_units(str(error), who.units),
            stuck=build_id, undo=stored.can_undo,
        ) from error  # fmt: skip


def warm_up(most: int) -> None:
    """Work out the builds that were changed last, before anybody asks for them: in a thread of its own,
    right after a start. What goes wrong is told when somebody does ask."""
    with contextlib.suppress(Exception):
        for build_id in builds.recent(the_shop().id, most):
            with contextlib.suppress(Exception), of_build(str(build_id)):
                open_build(build_id)


def refuse_dead_end(plan: Plan, who: Viewer) -> None:
    """Refuse to store what no page could show afterwards. Raises CoreError. What is worked out for it
    is what the page shows next."""
    worked_out(plan, who)


def chosen_case(derived: Derived, name: str | None) -> LoadCase:
    """The load case of that name; planned and empty when there is none."""
    try:
        return derived.load_case(name or PLANNED_EMPTY)
    except KeyError:
        return derived.load_case(PLANNED_EMPTY)


def case_parameter(case: str | None = None) -> str | None:
    """Name of the load case that the strip and drawings show."""
    return case


CaseName = Annotated[str | None, Depends(case_parameter)]


def _judged(derived: Derived) -> tuple[list[CaseResult], set[str]]:
    """The cases that she is judged by, and the names of those that last a moment only."""
    own = {c.name for c in derived.plan.cases}
    momentary = {c.name for c in derived.cases if is_momentary(c.name)} - own
    return [c for c in derived.cases if not is_ashore(c.name) and c.name not in momentary], momentary


def worst_afloat(derived: Derived) -> CaseResult | None:
    """The case with the least freeboard; None when she floats in none."""
    boards = [(c.report.freeboard_least_m, c) for c in _judged(derived)[0] if c.report is not None]
    return min(boards, key=lambda pair: pair[0], default=(0.0, None))[1]


def strip_context(
    derived: Derived, case: LoadCase, units: Units, before: Derived | None = None
) -> dict[str, Any]:
    """Everything the float strip shows; `before` gives the small changes."""
    result = derived.case(case.name)
    worst, momentary = worst_afloat(derived), _judged(derived)[1]
    ashore = is_ashore(case.name)
    context: dict[str, Any] = {
        "derived": derived,
        "case": case,
        "result": result,
        "report": result.report,
        "worst": worst,
        "counts": count(derived.findings),
        "units": units,
        "ashore": ashore,
        "momentary": momentary,
        "silhouette": Markup(strip.silhouette(derived, None if ashore else result.report)),
        "stern": Markup(strip.stern(derived, None if ashore else result.report)),
        "change": {},
        "bought_more": [],
        "last_cost": None,
    }
    if before is not None:
        context["change"] = _changes(derived, before, case)
    return context


def _changes(now: Derived, before: Derived, case: LoadCase) -> dict[str, Any]:
    """Differences to the stored plan, for the small figures."""
    earlier = next((c for c in before.cases if c.name == case.name), None)
    old, new = earlier.report if earlier else None, now.case(case.name).report
    change: dict[str, Any] = {
        "added_kg": now.added_kg - before.added_kg,
        "cost": now.cost.total - before.cost.total,
    }
    if old is not None and new is not None:
        change["trim_deg"] = new.trim_deg - old.trim_deg
        change["list_deg"] = new.list_deg - old.list_deg
    return change


def live_notes(request: Request, *subjects: str) -> int:
    """How often this process has heard of a subject from any other."""
    ear = getattr(request.app.state, "ear", None)
    return ear.count(*subjects) if ear else 0


# how much was bought, and for how much, in each revision that somebody saw with its layouts settled
BOUGHT = Memo(2000, common=True)


def _last_change(opened: OpenBuild) -> dict[str, Any]:
    """What the last change costs, and which stock it buys more or less of than the revision before it, the
    stock's name and what one of it is; nothing as long as layouts are counted, or where nobody saw the one
    before."""
    derived, stored = opened.derived, opened.stored
    if not derived.cost.settled:
        return {}
    held, total = bought_of(derived.sheets, derived.sticks), derived.cost.total
    # what comes off a roll is no sheet more or fewer: then only what it costs in all is told
    rolls = any(sheet.job.roll for sheet in derived.sheets)
    BOUGHT.put((stored.id, stored.number), (held, total, rolls))
    before = cast(tuple[Bought, Decimal, bool] | None, BOUGHT.peek((stored.id, stored.number - 1)))
    if before is None:
        return {}
    entries = derived.catalogue.entries
    out: list[tuple[More, str, str]] = []
    for m in () if rolls or before[2] else more_of(before[0], held):
        entry = entries.get(m.stock)
        word = "sheet" if isinstance(entry, Sheet) else "stick"
        out.append((m, entry.name if entry else m.stock, word if abs(m.count) == 1 else f"{word}s"))
    return {"bought_more": out, "last_cost": total - before[1]}


def build_context(opened: OpenBuild, request: Request, page: str, case: str | None) -> dict[str, Any]:
    """Context of a build page: frame, strip, findings by page."""
    chosen = chosen_case(opened.derived, case)
    by_page: dict[str, list[Finding]] = {}
    for finding in opened.derived.findings:
        by_page.setdefault(finding.check.page, []).append(finding)
    return {
        **strip_context(opened.derived, chosen, opened.units),
        "opened": opened,
        "plan": opened.plan,
        "stored": opened.stored,
        "who": opened.who,
        "page": page,
        "pages": PAGES,
        "open_by_page": {page: count(found).open for page, found in by_page.items()},
        "query": {"case": chosen.name} if case else {},
        **_last_change(opened),
        "laid": live_notes(request, "layouts"),
    }
