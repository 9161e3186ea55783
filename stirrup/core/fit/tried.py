"""Panels that were tried in the boat take over the gaps that were read; how far the hull is off is told."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import partial

from stirrup.core.contract.gives import Built
from stirrup.core.cutting.refit import refitted
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.memo import ByIdentity
from stirrup.core.plan.fitted import Fitted
from stirrup.core.plan.model import Plan
from stirrup.core.plan.placed import Placed

declare("layout", {"TRIED": "panels that were tried in the boat"}, acceptable=True, pace="behind")

KNOWN = ByIdentity(500)
HULL_M = 0.005  # from where on the hull's own reading is doubted rather than the saw: working value


def _built(built: Built, fitted: Sequence[Fitted]) -> Built:
    by = {f.id: f for f in fitted}
    panels = tuple(
        refitted(p, by[p.key].upright, [(m.at, m.low, m.high) for m in by[p.key].marks])
        if p.key in by else p
        for p in built.panels
    )  # fmt: skip
    return replace(built, panels=panels)


def as_tried(plan: Plan, things: tuple[Placed, ...]) -> tuple[Placed, ...]:
    """Things with the panels that were tried as they fit."""
    if not plan.fitted:
        return things
    of = {f.thing for f in plan.fitted}
    return tuple(
        replace(t, built=KNOWN.get(t.built, plan.fitted, partial(_built, t.built, plan.fitted)))
        if t.id in of else t
        for t in things
    )  # fmt: skip


def tried(plan: Plan, things: Sequence[Placed]) -> list[Finding]:
    """What was tried, and what that says of the hull or of a panel that is there no more."""
    out = []
    keys = {p.key: p for t in things for p in t.built.panels}
    for one in plan.fitted:
        panel = keys.get(one.id)
        if panel is None:
            out.append(Finding("TRIED", "look", one.thing, "Tried in the boat, and not wanted any more",
                               "Nothing in the plan is the panel that was tried.", {},
                               "Forget its gaps on the page of another panel of "
                               "it.", other=one.id))  # fmt: skip
            continue
        mark = max(one.marks, key=lambda m: max(abs(m.low), abs(m.high)))
        values = {"off": Quantity(abs(one.worst), "m", True), "at": Quantity(mark.at, "m"),
                  "most": Quantity(HULL_M, "m", True)}  # fmt: skip
        name, way = plain(panel.label), "larger" if one.worst > 0 else "smaller"
        text = f"{name} is cut by how it was tried: up to {{off}} {way} than planned, {{at}} along it."
        if abs(one.worst) <= HULL_M:
            out.append(
                Finding("TRIED", "fine", one.thing, "Cut by how it was tried", text, values, other=one.id)
            )
        else:
            out.append(Finding("TRIED", "look", one.thing, "The boat is not there as she was "
                                                           "measured", text, values,
                               "Measure her again there: “Measure this first” on its page names the "
                               "readings. What else is cut to her at that place is off as much.",
                               other=one.id))  # fmt: skip
    return out
