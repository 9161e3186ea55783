"""Speeds of the core alone."""

from __future__ import annotations

from bench.boats import crowded_plan, fitted_plan
from bench.measure import Table, cold_ms, median, p95, times_ms
from stirrup.core import memo
from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.every_case import NEARBY
from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.afloat.righting import righting_curve
from stirrup.core.cutting.jobs import Job, Layouts, work_out
from stirrup.core.cutting.sheets import lay_out
from stirrup.core.derive import Derived, derive_live
from stirrup.core.derive import derive as core_derive
from stirrup.core.hull.mesh import Solid, build_surface
from stirrup.core.hull.model import Hull
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import PLANNED_EMPTY, Plan
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import dump, parse
from stirrup.exchange.catalogue import starting


def later(job: Job) -> None:
    """No layout is known: workers find them."""


def derive(plan: Plan, quick: bool = False, layouts: Layouts = work_out) -> Derived:
    """Everything that follows from a plan, with the catalogue that ships."""
    return core_derive(plan, starting(), quick, layouts)


def hull_of_2000_triangles() -> Hull:
    """A vee hull with four lines and eleven stations: about 2 000 triangles."""
    x = [0.5 * k for k in range(11)]
    keel = [0, 0, 0, 0, 0, 0, 0.01, 0.04, 0.1, 0.22, 0.45]
    chine = [0.8, 0.82, 0.83, 0.83, 0.82, 0.8, 0.75, 0.66, 0.5, 0.3, 0.02]
    knuckle = [0.9, 0.92, 0.93, 0.93, 0.92, 0.9, 0.85, 0.76, 0.6, 0.38, 0.03]
    sheer = [0.95, 0.97, 0.98, 0.99, 0.98, 0.96, 0.91, 0.82, 0.66, 0.42, 0.04]
    rows = (
        ("keel", [0.0] * 11, keel),
        ("chine", chine, [0.12] * 7 + [0.16, 0.24, 0.36, 0.55]),
        ("knuckle", knuckle, [0.36] * 7 + [0.38, 0.43, 0.5, 0.62]),
        ("sheer", sheer, [0.6] * 7 + [0.62, 0.66, 0.7, 0.76]),
    )
    lines = [
        {"name": name, "points": [(a, b, c) for a, b, c in zip(x, y, z, strict=True)]}
        for name, y, z in rows
    ]
    return Hull.model_validate({"mass": {"value": 250.0, "centre": (2.1, 0.0, 0.3)}, "lines": lines})


def run(table: Table) -> None:
    """Measure the core."""
    surface = build_surface(hull_of_2000_triangles())
    load = sum_load([Entry("m", "m", "g", 650.0, 5.0, "weighed", (2.0, 0.03, 0.4))])
    count = len(surface.outside.triangles)

    def fresh() -> Solid:
        outside = surface.outside
        return Solid(outside.vertices, outside.triangles, outside.groups)

    equilibrium(fresh(), load, 1000.0)
    cold = times_ms(lambda: equilibrium(fresh(), load, 1000.0), 200)
    table.add(f"equilibrium, {count} triangles, cold, median", 3, median(cold))
    heels = tuple(float(h) for h in range(0, 65, 5))

    def righting() -> None:
        righting_curve("b", fresh(), load, 1000.0, surface.sheers, (), heels, with_angles=False)

    table.add("righting arm 0 to 60 degrees by 5, median", 60, median(times_ms(righting, 30)))

    plan = demo_plan("sedge-hopper.stirrup.json")
    derive(plan)

    fresh_plan = [plan]

    boats = (("demo", plan, 250), ("80 things", crowded_plan(), 600), ("80 fittings", fitted_plan(), 600))
    for what, wanted, promised in boats:
        fresh_plan[0] = wanted

        def forget() -> None:
            memo.forget()
            NEARBY.clear()
            fresh_plan[0] = parse(dump(fresh_plan[0]))  # nothing is known of its objects either

        cold = cold_ms(lambda: derive(fresh_plan[0], layouts=later), forget, 9)
        table.add(f"derive of {what}, cold, layouts unknown, median of 9", promised, median(cold))
    derive(plan)
    moved = [
        apply(plan, SetValue(path=("fittings", "bow-deck", "aft"), value=3.02 - 0.002 * k))
        for k in range(1, 241)
    ]
    steps = iter(moved)
    live = times_ms(lambda: derive_live(next(steps), starting(), ["one at the helm"]), 240)
    table.add("what keeps up with the hand, one edge moved, median", None, median(live))
    table.add("what keeps up with the hand, 95 %", None, p95(live))
    for what, path, start in (("a box", ("box-30", "x"), 4.6), ("the floor", ("floor", "fore"), 9.2)):
        fitted = fitted_plan()
        derive(fitted, layouts=later)
        way = ("fittings", *path)
        changes = (SetValue(path=way, value=start - 0.002 * k) for k in range(1, 61))
        ahead = iter([apply(fitted, change) for change in changes])
        hand = times_ms(lambda a=ahead: derive_live(next(a), starting(), [PLANNED_EMPTY]), 60)  # type: ignore[misc]
        table.add(f"the same in a boat of 80 fittings, {what} moved, median", None, median(hand))
    steps = iter(moved)
    quick = times_ms(lambda: derive(next(steps), quick=True), 240)
    table.add("what comes behind it, median", None, median(quick))
    table.add("what comes behind it, 95 %", None, p95(quick))
    steps = iter(moved)
    settled = times_ms(lambda: derive(next(steps)), 20)
    table.add("the same, settled with true sheet layouts, median", None, median(settled))
    jobs = [layout.job for layout in derive(plan).sheets]
    first = max(median(times_ms(lambda job=job: lay_out(job), 5)) for job in jobs)  # type: ignore[misc]
    table.add("first sheet layout", 1000, first)
