"""Cases of a moment: who is where, when they are off, and a boat that stands on the ground."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq, fsolve

from stirrup.core.afloat.aground import forefoot, grounded
from stirrup.core.afloat.equilibrium import State
from stirrup.core.afloat.ledger import Load, sum_load
from stirrup.core.afloat.moments import MOMENTS, is_momentary
from stirrup.core.errors import NoEquilibriumError
from stirrup.core.plan.model import LoadCase
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, plan, skiff_plan

# a box 4 x 2 x 1 m of 1,600 kg, centre 0.3 m up in the middle; standard crew 85 kg, 1.75 m tall
MASS, RISE, CREW = 1600.0, 0.3, 85.0


def case(derived, name: str):
    return next(c for c in derived.load_cases if c.name == name)


def report(derived, name: str):
    return derived.case(name).report


def heel_of_box(masses: list[tuple[float, float, float]]) -> float:
    """List [deg] of the box, sides in the water: the angle at which the sum of the masses' arms is
    the buoyancy's, B = (I/V) tan φ (1 + tan²φ / 2) across and 1/2 (I/V) tan²φ up (wall sides)."""
    total = sum(m for m, _, _ in masses)
    y = sum(m * a for m, a, _ in masses) / total
    z = sum(m * h for m, _, h in masses) / total
    draft = total / 8000.0
    bm = 4.0 * 2.0**3 / 12 / (total / 1000.0)

    def arm(angle: float) -> float:
        t = math.tan(angle)
        across, up = bm * t, draft / 2 + bm * t * t / 2
        return (across - y) * math.cos(angle) + (up - z) * math.sin(angle)

    return math.degrees(brentq(arm, 0.0, 0.6))


def test_one_on_the_gunwale_lies_where_the_wall_sided_formula_says() -> None:
    derived = derive(plan())
    who = case(derived, "one standing on the gunwale").crew
    assert [(p.at[1], p.at[2]) for p in who] == [(1.0, 1.0)]
    # body centre 0.56 of his height over the sheer
    want = heel_of_box([(MASS, 0, RISE), (CREW, 1.0, 1.0 + 0.56 * 1.75)])
    found = report(derived, "one standing on the gunwale")
    assert found.list_deg == pytest.approx(want, abs=0.02)
    # the sheer: 1 m up, 1 m out
    phi = math.radians(want)
    draft = (MASS + CREW) / 8000.0
    # and he stands at 0.45 of her length, 0.2 m abaft the middle: GM over the length is that much
    rise = (MASS * RISE + CREW * 1.98) / (MASS + CREW)
    aft = CREW * 0.2 / (MASS + CREW) / (draft / 2 + 4.0**2 / 12 / draft - rise)
    board = (1 - draft) * math.cos(phi) - math.sin(phi) - 2.0 * aft
    assert found.freeboard_least_m == pytest.approx(board, abs=2e-4)


def test_somebody_climbing_in_lies_on_the_edge_with_the_helmsman_aboard() -> None:
    derived = derive(plan())
    crew = case(derived, "climbing in over the side").crew
    assert [p.name for p in crew] == ["helm", "climbing in"]
    helm = crew[0].centre
    want = heel_of_box([(MASS, 0, RISE), (CREW, helm[1], helm[2]), (CREW, 1.0, 1.12)])
    assert report(derived, "climbing in over the side").list_deg == pytest.approx(want, abs=0.02)


def test_two_hauling_lean_out_over_the_side_with_what_they_haul() -> None:
    derived = derive(plan())
    made = case(derived, "two hauling over one side")
    assert [round(p.at[1], 3) for p in made.crew] == [0.95, 0.95]
    assert [(e.mass.value, e.mass.centre[1:]) for e in made.extra] == [(30.0, (1.0, 1.0))]
    z = made.crew[0].centre[2]
    want = heel_of_box([(MASS, 0, RISE), (2 * CREW, 0.95, z), (30.0, 1.0, 1.0)])
    assert report(derived, made.name).list_deg == pytest.approx(want, abs=0.02)


def test_they_all_go_to_the_side_to_which_she_leans() -> None:
    heavy = {"id": "box", "name": "Box", "form": "box", "stage": "added", "size": [0.3, 0.3, 0.3],
             "mass": {"value": 20.0, "centre": [2.0, -0.5, 0.2]}}  # fmt: skip
    derived = derive(plan(items=[heavy]))
    for name in ("climbing in over the side", "one standing on the gunwale", "two hauling over one side"):
        assert case(derived, name).crew[-1].at[1] < 0
        assert report(derived, name).list_deg < -1


def test_what_cannot_be_is_off() -> None:
    names = {c.name for c in derive(plan()).load_cases}
    assert names >= set(MOMENTS) - {"climbing in by the ladder"}
    assert "climbing in by the ladder" not in names
    alone = derive(plan(label={"persons": 1, "persons_kg": 90.0}))
    assert "two hauling over one side" not in {c.name for c in alone.load_cases}
    assert [p.name for p in case(alone, "climbing in over the side").crew] == ["climbing in"]
    ladder = {"id": "ladder", "name": "Boarding ladder", "form": "box", "stage": "added",
              "size": [0.1, 0.3, 0.6], "mass": {"value": 3.0, "centre": [0.1, 0.6, 0.5]}}  # fmt: skip
    with_one = derive(plan(items=[ladder]))
    # on its topmost step: 0.3 over its middle
    assert case(with_one, "climbing in by the ladder").crew[-1].at == pytest.approx((0.1, 0.6, 0.8))
    gone = derive(plan(items=[{**ladder, "stage": "removed"}]))
    assert "climbing in by the ladder" not in {c.name for c in gone.load_cases}


def test_rising_ground_touches_the_forefoot_first() -> None:
    # the box's keel is level: over a beach of 1 in 8 its foremost point
    assert forefoot(derive(plan()).surface) == pytest.approx((4.0, 0.0, 0.0))
    # a keel that rises 1 in 4 from 3 m on: where it starts to rise faster than the beach
    x = [0.0, 1.0, 2.0, 3.0, 4.0]
    lines = [{"name": name, "along": "straight", "points": [[a, y, z + max(0.0, (a - 3) / 4)] for a in x]}
             for name, y, z in (("keel", 0.0, 0.0), ("chine", 1.0, 0.0), ("sheer", 1.0, 1.0))]  # fmt: skip
    assert forefoot(derive(from_data(build_data(lines))).surface) == pytest.approx((3.0, 0.0, 0.0))


@pytest.mark.parametrize("lifted", [0.03, 0.10])
def test_a_box_on_a_beach_sits_as_statics_say(lifted: float) -> None:
    """Second method: a trapezoid under water, three equations for both end drafts and the force."""
    derived = derive(plan(cases=[LoadCase(name="ashore", lifted=lifted).model_dump()]))
    found = report(derived, "ashore")

    def wrong(unknown: np.ndarray) -> list[float]:
        aft, fore, force = unknown  # drafts square to the keel [m], force [kg]
        tan = (aft - fore) / 4.0  # bow up
        volume = 4.0 * (aft + fore) / 2 * 2.0
        bx = 4.0 * (aft + 2 * fore) / (3 * (aft + fore))
        bz = (aft**2 + aft * fore + fore**2) / (3 * (aft + fore))

        def level(x: float, z: float) -> float:
            return x * math.cos(math.atan(tan)) - z * math.sin(math.atan(tan))

        balance = 1000 * volume * level(bx, bz) + force * level(4, 0) - MASS * level(2, RISE)
        # the forefoot's draft is upright, that of the floating box 0.2 m
        return [1000 * volume + force - MASS, balance, fore * math.cos(math.atan(tan)) - (0.2 - lifted)]

    aft, fore, force = fsolve(wrong, [0.25, 0.1, 200.0])
    assert found.trim_deg == pytest.approx(math.degrees(math.atan((aft - fore) / 4)), abs=0.02)
    assert found.mass_kg == pytest.approx(MASS - force, rel=2e-3)
    # the aft edge of the sheer, 1 m over the keel
    assert found.freeboard_least_m == pytest.approx(
        (1 - aft) * math.cos(math.radians(found.trim_deg)), abs=1e-3
    )


def test_a_boat_that_bears_no_ground_under_her_is_told() -> None:
    """She floats, and goes over with the least of her weight on the ground."""
    vessel = derive(plan())
    whole = sum_load(vessel.planned)
    afloat = vessel.case("planned, empty").state

    def solve(load: Load) -> State:
        if load.mass_kg < whole.mass_kg:
            raise NoEquilibriumError("she capsizes")
        return afloat

    with pytest.raises(NoEquilibriumError, match="would have to carry her"):
        grounded(whole, (4.0, 0.0, 0.0), 0.1, solve)


def test_levels_turn_with_what_is_left_and_no_figure_is_judged_by_a_moment() -> None:
    def told(mass: float) -> tuple[str, float]:
        derived = derive(from_data(build_data(mass=mass)))
        finding = next(f for f in derived.findings if f.code == "MOMENT" and "gunwale" in f.place)
        return finding.level, finding.values["board"].value

    for mass, level in ((1600.0, "fine"), (6850.0, "fine"), (7200.0, "look")):
        found, board = told(mass)
        assert found == level, (mass, board)
        assert (board < 0.10) == (level != "fine")
    assert is_momentary("beached, waves astern") and is_momentary("beached, waves astern (standard)")
    assert not is_momentary("everyone to one rail")


def test_a_light_skiff_that_bears_nobody_on_her_gunwale_says_so_without_a_stop() -> None:
    light = skiff_plan(label={"persons": 2, "persons_kg": 150.0})
    levels = {f.level for f in derive(light).findings if is_momentary(f.place)}
    # at 400 kg she bears nobody there: that wants mending, and nothing more
    assert "mend" in levels and levels <= {"fine", "look", "mend"}
