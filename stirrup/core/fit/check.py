"""All checks of fit on one plan: what is in the way, people, the way forward; accepted ones marked."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.standard import HELM
from stirrup.core.findings import Finding
from stirrup.core.fit.clearance import clearance_findings
from stirrup.core.fit.people import people_findings
from stirrup.core.fit.walkway import walkway_findings
from stirrup.core.fittings.contract import Obstacle
from stirrup.core.plan.model import LoadCase, Plan


def fit_findings(
    plan: Plan,
    footing: Footing,
    obstacles: tuple[Obstacle, ...],
    cases: Sequence[LoadCase],
    reports: dict[str, FloatReport],
) -> list[Finding]:
    """Findings of the Layout page besides those of the fittings themselves.

    cases: with everybody on his feet; people are checked in the build's own cases and at the
    helm. reports: cases that float.
    """
    own = {c.name for c in plan.cases} | {HELM}
    people = [c for c in cases if c.name in own]
    surface, built = footing.surface, footing.built
    return [
        *clearance_findings(plan, surface, built, obstacles, footing),
        *walkway_findings(plan, footing),
        *people_findings(plan, surface, footing, people, reports),
    ]
