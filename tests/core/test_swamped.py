"""The swamped boat: sums by hand, and a box full of foam that floats by Archimedes."""

import pytest

from stirrup.core.afloat.swamped import hull_density, submerged_kg, swamped
from stirrup.core.plan.model import Plan
from tests.boats import box_lines, derive, plan


def look(built: Plan):
    derived = derive(built)
    return swamped(built, derived.vessel, derived.built, derived.planned)


def test_submerged_weight_of_a_solid() -> None:
    # aluminium in fresh water: 100 kg displaces 100/2680 m³ = 37.3 kg, so 62.7 kg are left
    assert submerged_kg(100.0, 2680.0, 1000.0) == pytest.approx(62.69, abs=0.01)
    assert submerged_kg(10.0, 500.0, 1000.0) == pytest.approx(-10.0)


def test_density_is_read_from_the_material() -> None:
    assert hull_density("5052-H32") == 2680.0
    assert hull_density("Fiberglass, polyester") == 1600.0
    assert hull_density("ferrocement") is None


def test_needed_flotation_is_the_sum_over_the_lift_of_foam() -> None:
    motor = {"id": "m", "stage": "found", "group": "motor", "mass": {"value": 50.0, "centre": [0, 0, 0.5]}}
    battery = {"id": "b", "stage": "found", "density": 2500.0,
               "mass": {"value": 25.0, "centre": [1, 0, 0.1]}}  # fmt: skip
    found = look(plan(mass=134.0, items=[motor, battery], label={"persons_kg": 200.0}))
    # hull 134 (1 - 1000/2680) = 84; motor without density 50; battery 25 (1 - 0.4) = 15;
    # persons 0.5 · 200 = 100: together 249; over (1000 - 32) = 0.25723 m³
    assert found.submerged_kg == pytest.approx(249.0, abs=1e-6)
    assert found.needed_m3 == pytest.approx(249.0 / 968.0)
    assert [line.name for line in found.lines] == ["bare hull", "m", "b"]
    assert found.lines[1].density is None


def test_without_flotation_a_metal_boat_sinks_and_says_what_is_missing() -> None:
    found = look(plan(mass=134.0))
    # all that is in her is 134/2680 = 0.05 m³ of metal, 50 kg: 84 kg short
    assert found.height_m is None
    assert "swamped she sinks" in found.error and "84 kg of buoyancy are missing" in found.error


def test_foam_block_carries_her_level_at_the_height_archimedes_asks() -> None:
    # foam 2 x 1.8 m, from z = 0.3 to 0.6, 32 kg/m³: 1.08 m³ and 34.56 kg; with the hull 168.56 kg.
    # The metal, 0.05 m³, lies on 8 m² of bottom and 12 m² of sides: under water at h are
    # 0.05 (8 + 12 h) / 20. So 168.56 = 20 + 30 h + 3600 (h - 0.3): h = 1228.56 / 3630
    foam = {"id": "f", "density": 32.0, "box": {"size": [2.0, 1.8, 0.3], "floor_centre": [2.0, 0.0, 0.3]}}
    thin = {"bottom": 1e-5, "side": 1e-5}
    data = plan(mass=134.0, lines=box_lines(), buoyancy=[foam])
    hull = data.hull.model_copy(update={"skin": data.hull.skin.model_copy(update=thin)})
    built = data.model_copy(update={"hull": hull})
    found = look(built)
    assert found.present_m3 == pytest.approx(1.08)
    assert found.trim_deg == pytest.approx(0.0, abs=0.05)
    assert found.height_m == pytest.approx(1228.56 / 3630, abs=5e-4)
    # the sheer is at 1 m
    assert found.sheer_m == pytest.approx(1 - found.height_m, abs=2e-3)


def test_foam_to_one_end_leaves_her_down_by_the_other() -> None:
    foam = {"id": "f", "density": 32.0, "box": {"size": [1.5, 1.8, 0.5], "floor_centre": [3.0, 0.0, 0.3]}}
    found = look(plan(mass=134.0, buoyancy=[foam]))
    assert found.height_m is None or (found.trim_deg or 0) > 5


def test_what_is_taken_out_of_the_hull_takes_its_own_lift_along() -> None:
    # 20 kg of thwart out of 160 kg of aluminium: what is left weighs 140 kg and displaces
    # 140/2680 m³, so 140 (1 - 1000/2680) = 87.76 kg are left under water
    thwart = {"id": "t", "stage": "removed", "in_hull_mass": True,
              "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]}}  # fmt: skip
    found = look(plan(mass=160.0, items=[thwart]))
    left = 140 * (1 - 1000 / 2680)
    assert found.submerged_kg == pytest.approx(left, abs=1e-6)
    # without flotation she sinks; what is missing is her weight less her own lift, the same figure
    assert f"{left:.0f} kg of buoyancy are missing" in found.error
    # of wood the thwart would have carried: 20 (1 - 1000/500) = -20 kg are taken away
    wooden = look(plan(mass=160.0, items=[{**thwart, "density": 500.0}]))
    assert wooden.submerged_kg == pytest.approx(160 * (1 - 1000 / 2680) + 20, abs=1e-6)


def test_a_mass_of_nothing_displaces_nothing_and_breaks_nothing() -> None:
    speck = {"id": "s", "density": 2680.0, "mass": {"value": 1e-9, "centre": [2.0, 0.0, 0.3]}}
    assert look(plan(items=[speck])).submerged_kg == pytest.approx(look(plan()).submerged_kg, abs=1e-6)
