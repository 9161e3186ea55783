"""All checks of fit on one plan: what is in the way, people, the way forward; accepted ones marked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.standard import HELM
from stirrup.core.findings import Finding
from stirrup.core.fit.access import openings, reaching_in, steps
from stirrup.core.fit.clearance import clearance_findings, rooms, solids
from stirrup.core.fit.people import people_findings
from stirrup.core.fit.rooms import Room
from stirrup.core.fit.solid import Solid
from stirrup.core.fit.standing import standing_findings
from stirrup.core.fit.tools import bolt_findings, drill_findings
from stirrup.core.fit.walkway import Passage, passage, walkway_findings
from stirrup.core.fittings.contract import Obstacle
from stirrup.core.plan.model import LoadCase, Plan


@dataclass(frozen=True)
class Fit:
    """What takes up room, the room that use needs, the narrowest way, and what was found."""

    solids: tuple[Solid, ...]
    rooms: tuple[Room, ...]
    passage: Passage | None
    findings: tuple[Finding, ...]


def check_fit(
    plan: Plan,
    footing: Footing,
    obstacles: tuple[Obstacle, ...],
    cases: Sequence[LoadCase],
    reports: dict[str, FloatReport],
    quick: bool = False,
) -> Fit:
    """Findings of the Layout page besides those of the fittings themselves.

    cases: with everybody on his feet; people are checked in the build's own cases and at the
    helm. reports: cases that float. quick: while something is dragged.
    """
    own = {c.name for c in plan.cases} | {HELM}
    people = [c for c in cases if c.name in own]
    surface, built = footing.surface, footing.built
    there, wanted = solids(plan, built, obstacles), rooms(plan, built, surface)
    way = passage(plan, footing)
    found = [
        *clearance_findings(plan, surface, footing, there, wanted, quick),
        *walkway_findings(plan, way),
        *steps(plan, footing),
        *openings(plan),
        *drill_findings(plan, surface, built, there),
        *bolt_findings(plan, built),
        *reaching_in(plan, footing, people),
        *people_findings(plan, surface, footing, people, reports, quick),
        *standing_findings(plan, footing, people),
    ]
    return Fit(tuple(there), tuple(wanted), way, tuple(found))
