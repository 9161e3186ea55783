"""The map of where not to stand, against cold solves and the box's closed form."""

import math
from dataclasses import replace

import numpy as np
import pytest

from stirrup.core.afloat.crewmap import crew_map, crew_rows
from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.ground import ground_grid
from stirrup.core.afloat.situation import Situation, situation
from stirrup.core.derive import Derived
from tests.boats import DECK, derive, plan, skiff_plan


def place(derived: Derived, case: str = "planned, empty") -> Situation:
    return situation(derived.plan, derived.vessel, derived.base(case), derived.load_case(case))


def test_every_square_agrees_with_a_solve_of_its_own() -> None:
    tank = {"id": "t", "size": [0.5, 0.8, 0.3], "floor_centre": [1, 0, 0.05], "liquid": "fresh water"}
    derived = derive(skiff_plan(fittings=[DECK], tanks=[tank], cases=[{"name": "c", "fills": {"t": 0.6}}]))
    here = place(derived, "c")
    x, y = np.linspace(0.2, 4.8, 9), np.linspace(-0.9, 0.9, 7)
    ground = ground_grid(derived.footing, x, y)
    found = crew_map(here, ground, x, y, 85.0, 0.98)
    assert np.isfinite(ground).sum() > 30
    points = here.dry_points()
    for row, column in np.argwhere(np.isfinite(ground)):
        person = np.array([x[column], y[row], ground[row, column] + 0.98])
        load = replace(
            here.load, rigid_kg=here.load.rigid_kg + 85.0, moment=here.load.moment + 85.0 * person
        )
        cold = equilibrium(here.solid, load, here.density)
        assert found.list_deg[row, column] == pytest.approx(math.degrees(cold.heel), abs=0.005)
        assert found.trim_deg[row, column] == pytest.approx(math.degrees(cold.trim), abs=0.005)
        board = float((points @ cold.n).min()) - cold.d
        assert found.freeboard_m[row, column] == pytest.approx(board, abs=2e-4)


def test_map_of_a_symmetrical_boat_is_symmetrical() -> None:
    derived = derive(plan())
    x, y = np.linspace(0.5, 3.5, 4), np.linspace(-0.8, 0.8, 5)
    found = crew_map(place(derived), ground_grid(derived.footing, x, y), x, y, 85.0, 1.0)
    np.testing.assert_allclose(found.list_deg, -found.list_deg[::-1], atol=0.005)
    np.testing.assert_allclose(found.freeboard_m, found.freeboard_m[::-1], atol=2e-4)
    # to port is up the rows and leans to port
    assert (found.list_deg[-1] > 0).all()


def test_somebody_where_she_falls_over_is_marked_not_guessed() -> None:
    # a narrow light box: 0.6 m beam and 60 kg; 110 kg at 1.2 m height on its edge capsizes it
    lines = [
        {"name": n, "along": "straight", "points": [[0, y, z], [4, y, z]]}
        for n, y, z in (("keel", 0, 0), ("chine", 0.3, 0), ("sheer", 0.3, 0.5))
    ]
    derived = derive(plan(lines=lines, mass=60.0, centre=(2.0, 0.0, 0.1)))
    x, y = np.array([2.0]), np.array([0.0, 0.25])
    found = crew_map(place(derived), np.zeros((2, 1)), x, y, 110.0, 1.2)
    assert found.over[1, 0] and math.isnan(found.freeboard_m[1, 0])


def test_rows_come_one_after_another_and_nobody_stands_on_nothing() -> None:
    derived = derive(plan())
    x, y = np.array([2.0, 9.0]), np.array([0.0, 0.5])
    ground = ground_grid(derived.footing, x, y)
    rows = list(crew_rows(place(derived), ground, x, y, 85.0, 1.0))
    assert len(rows) == 2
    assert np.isnan(rows[-1].list_deg[:, 1]).all() and not rows[-1].over[:, 1].any()


def test_second_person_is_the_one_of_the_case() -> None:
    derived = derive(plan(cases=[{"name": "one", "crew": [{"mass": 85, "at": [2.0, -0.6, 0.0]}]}]))
    x, y = np.array([2.0]), np.array([0.6])
    ground = np.zeros((1, 1))
    both = crew_map(place(derived, "one"), ground, x, y, 85.0, 0.56 * 1.75)
    # one on each side at the same distance: upright
    assert both.list_deg[0, 0] == pytest.approx(0.0, abs=1e-3)
