"""All checks of fit on one plan: what is in the way, people, the way forward, what is cut already.

Accepted ones are marked so.
"""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.standard import HELM
from stirrup.core.findings import Finding
from stirrup.core.fit.access import openings, reaching_in, steps
from stirrup.core.fit.already import already_findings
from stirrup.core.fit.assembled import assembled
from stirrup.core.fit.bays import bays
from stirrup.core.fit.clearance import clearance_findings, ways_out
from stirrup.core.fit.fuel import sparks, tanks_reached
from stirrup.core.fit.heat import heat_findings
from stirrup.core.fit.hull_joints import hull_joints
from stirrup.core.fit.hung import hung_findings
from stirrup.core.fit.led import passes
from stirrup.core.fit.machines import machines
from stirrup.core.fit.motor import mount_findings
from stirrup.core.fit.people import people_findings
from stirrup.core.fit.relocated import relocated
from stirrup.core.fit.standing import standing_findings
from stirrup.core.fit.stood import stood_findings
from stirrup.core.fit.stowage import stowage_findings
from stirrup.core.fit.taken_out import taken_out
from stirrup.core.fit.tools import bolt_findings, drill_findings, drilled_into
from stirrup.core.fit.tried import tried
from stirrup.core.fit.walkway import Passage, passage, walkway_findings
from stirrup.core.fit.water import drains
from stirrup.core.hull.material import made_of
from stirrup.core.kept import kept_property
from stirrup.core.plan.model import LoadCase, Plan
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Shape
from stirrup.core.space.solid import Solid


@dataclass(frozen=True)
class Fit:
    """What takes up room, the room that use needs, the narrowest way, and what was found."""

    solids: tuple[Solid, ...]
    rooms: tuple[Room, ...]
    passage: Passage | None
    findings: tuple[Finding, ...]

    @kept_property
    def shapes(self) -> dict[str, Shape]:
        """The last shape of each thing that takes up room, by its id."""
        return {s.id: s.shape for s in self.solids}


def check_fit(
    plan: Plan,
    things: Sequence[Placed],
    footing: Footing,
    cases: Sequence[LoadCase],
    reports: dict[str, FloatReport],
    quick: bool = False,
    live: bool = False,
) -> Fit:
    """Findings of the Layout page besides those of the things themselves.

    cases: with everybody on his feet; people are checked in the build's own cases and at the
    helm. reports: cases that float. quick: while something is dragged.
    live: only what keeps up with the hand.
    """
    surface = footing.surface
    there = [s for t in things for s in t.built.solids]
    wanted = [r for t in things for r in t.built.rooms]
    met = clearance_findings(things, footing, there, wanted)
    met += already_findings(plan, [t.built for t in things])
    if live:
        return Fit(tuple(there), tuple(wanted), None, tuple(met))
    own = {c.name for c in plan.cases} | {HELM}
    people = [c for c in cases if c.name in own]
    way = passage(things, footing)
    found = [
        *met,
        *(f for t in things for f in t.built.behind),
        *ways_out(things, footing, there, quick),
        *walkway_findings(things, way),
        *steps(things, footing),
        *openings(things),
        *drains(things, reports),
        *sparks(things),
        *tanks_reached(things),
        *passes(things),
        *hull_joints(plan.hull.material, things),
        *mount_findings(things),
        *hung_findings(things, surface),
        *heat_findings(things),
        *taken_out(plan),
        *relocated(plan, made_of(plan.hull.material) == "metal"),
        *stood_findings(plan, surface),
        *bays(plan, surface),
        *tried(plan, things),
        *machines(plan, things),
        *assembled(plan, things, surface),
        *stowage_findings(plan, things),
        *drill_findings(things, surface),
        *bolt_findings(things),
        *drilled_into(things),
        *reaching_in(things, footing, people),
        *people_findings(plan, things, footing, people, reports, quick),
        *standing_findings(things, footing, people),
    ]
    return Fit(tuple(there), tuple(wanted), way, tuple(found))
