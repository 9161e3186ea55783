"""Speeds of the Float page's studies, and the clip against trimesh."""

from __future__ import annotations

import time
from typing import Any

import numpy as np
import trimesh

from bench.measure import Table, median, times_ms
from stirrup.core import memo
from stirrup.core.afloat.clip import cut
from stirrup.core.afloat.every_case import NEARBY
from stirrup.core.afloat.slide import balance_by_sliding
from stirrup.core.derive import Derived
from stirrup.core.derive import derive as core_derive
from stirrup.core.hull.mesh import Solid
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.model import Item, LoadCase, Plan
from stirrup.core.studies import (
    contributions_of,
    figures_of,
    grid_of,
    map_rows,
    remedies_of,
    righting_of,
    situation_of,
    sliders,
    swamped_of,
)
from stirrup.demo.seed import demo_plan
from stirrup.exchange.catalogue import starting

CASES = 12
SLIDERS = 8
CASE = "one at the helm"
STANDING_M = 0.95


def derive(plan: Plan, quick: bool = False) -> Derived:
    """Everything that follows from a plan, with the catalogue that ships."""
    return core_derive(plan, starting(), quick)


def busy_plan() -> Plan:
    """The demo boat with twelve load cases and eight things that may slide."""
    plan = demo_plan("sedge-hopper.stirrup.json")
    own = list(plan.cases)
    shown = len(derive(plan).cases)
    for k in range(CASES - shown):
        crew = [{"mass": 70.0 + 5 * k, "at": (1.0 + 0.4 * k, 0.1, 0.3), "settle": True}]
        own.append(LoadCase.model_validate({"name": f"case {k + 1}", "crew": crew}))
    items = list(plan.items)
    free = sum(i.slide is not None for i in items)
    for k in range(SLIDERS - free):
        mass = {"value": 8.0 + k, "centre": (1.5 + 0.3 * k, 0.3 * (-1) ** k, 0.25)}
        slide = {"fore": 0.8, "aft": 0.8, "port": 0.3, "starboard": 0.3}
        data = {"id": f"thing-{k}", "name": f"thing {k}", "mass": mass, "slide": slide, "stage": "added"}
        items.append(Item.model_validate(data))
    return plan.model_copy(update={"cases": tuple(own), "items": tuple(items)})


def page(derived: Derived) -> None:
    """Everything the page computes before it is sent: the map comes behind."""
    for case in derived.cases:
        if case.report is not None:
            situation_of(derived, case.name)
    righting_of(derived, CASE)
    righting_of(derived, "as found")
    contributions_of(derived, CASE)
    remedies_of(derived, CASE)
    figures_of(derived, CASE, 0.01)
    swamped_of(derived)


def heat_map(derived: Derived) -> int:
    """The whole map; how many squares there are to stand on."""
    return int(np.isfinite(list(map_rows(derived, CASE, 85.0, STANDING_M))[-1].height_m).sum())


def _studies(table: Table) -> None:
    plan = busy_plan()

    def forget() -> None:
        memo.forget()
        NEARBY.clear()

    def cold() -> None:
        derived = derive(plan)
        page(derived)
        heat_map(derived)

    cold()
    taken = times_ms(cold, 7, forget)
    derived = derive(plan)
    table.add(f"float, {len(derived.cases)} cases, arm, map, sensitivities, cold", 1500, median(taken))
    page(derived)
    squares = heat_map(derived)
    moved = [
        apply(plan, SetValue(path=("items", "console", "mass", "centre", "0"), value=2.55 + 0.005 * k))
        for k in range(1, 25)
    ]
    steps, steps_of_map = iter(moved), iter(moved)
    warm = times_ms(lambda: page(derive(next(steps))), len(moved))
    table.add("float after one item moved (map behind), median", 150, median(warm))
    maps = times_ms(lambda: heat_map(derive(next(steps_of_map))), 12)
    table.add(f"crew map, 40 x 20, {squares} squares to stand on, median", None, median(maps))
    forget()
    table.add("ground under the map's squares, once a layout", None,
              median(times_ms(lambda: grid_of(derived), 3, memo.forget)))  # fmt: skip
    things = sliders(derived, CASE)
    here = situation_of(derived, CASE)
    solved = times_ms(lambda: balance_by_sliding(here, things, 0.5, 0.0), 20)
    table.add(f"balance solver, {len(things)} sliding things, median", 1000, median(solved))


def _against_trimesh(table: Table) -> None:
    """The same cuts by both: how far apart, and how much quicker."""
    surface = derive(demo_plan("sedge-hopper.stirrup.json")).surface
    solid = surface.outside
    rng = np.random.default_rng(11)
    slicing: Any = trimesh.intersections.slice_mesh_plane
    worst_volume = worst_centroid = 0.0
    mine_ms: list[float] = []
    theirs_ms: list[float] = []
    for _ in range(40):
        slope = rng.uniform(-0.3, 0.3, 2)
        n = np.array([*slope, 1.0]) / np.sqrt(1 + slope @ slope)
        d = float(rng.uniform(0.1, 0.5)) + 2.2 * n[0]
        fresh = Solid(solid.vertices, solid.triangles, solid.groups)
        start = time.perf_counter()
        part = cut(fresh, n, d)
        volume, centroid = part.volume_m3, part.moment / part.volume_m3
        mine_ms.append((time.perf_counter() - start) * 1000)
        side = np.cross(n, [1.0, 0.0, 0.0])
        side /= np.linalg.norm(side)
        turn = np.array([side, np.cross(n, side), n])
        mesh = trimesh.Trimesh(solid.vertices @ turn.T - [0, 0, d], solid.triangles, process=False)
        start = time.perf_counter()
        # on its own plane the missing lid adds nothing to the integrals
        clipped = slicing(mesh, [0, 0, -1], [0, 0, 0], cap=False)
        theirs = trimesh.triangles.mass_properties(clipped.triangles, skip_inertia=True)
        theirs_ms.append((time.perf_counter() - start) * 1000)
        worst_volume = max(worst_volume, abs(volume / float(theirs["volume"]) - 1))
        place = turn.T @ (np.asarray(theirs["center_mass"]) + np.array([0.0, 0.0, d]))
        worst_centroid = max(
            worst_centroid, float(np.abs(centroid - place).max()) / float(np.ptp(solid.vertices))
        )
    table.add("clip against trimesh, volume, worst of 40, relative", 1000.0, worst_volume * 1e12, "e-12")
    table.add("clip against trimesh, centroid, worst, of her length", 1000.0, worst_centroid * 1e12, "e-12")
    table.add("clip against trimesh, times as quick", None, median(theirs_ms) / median(mine_ms), "x")


def run(table: Table) -> None:
    """Measure the studies."""
    _studies(table)
    _against_trimesh(table)
