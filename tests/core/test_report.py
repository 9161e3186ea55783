import math
from decimal import Decimal

import numpy as np
import pytest

from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.ledger import Entry, centre_spread_m, sum_load
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.afloat.report import FloatReport, float_report
from tests.boats import box_lines, derive, load, surface

BOX = surface(box_lines())


def report(mass: float, centre, liquids=(), spread: float = 0.0, floods=()) -> FloatReport:
    entry = Entry("m", "mass", "test", mass, spread, "weighed", centre)
    weights = sum_load([entry], liquids)
    state = equilibrium(BOX.outside, weights, 1000.0)
    return float_report("test", state, weights, BOX.sheers, floods)


def test_level_box_has_the_textbook_figures() -> None:
    r = report(1600, (2, 0, 0.3))
    assert r.gm_transverse_m == pytest.approx(1.46667, rel=1e-4)  # KB 0.1 + BM 1.66667 - KG 0.3
    assert r.gm_longitudinal_m == pytest.approx(0.1 + 4**2 / (12 * 0.2) - 0.3)
    assert r.buoyancy_centre_m == pytest.approx((2, 0, 0.1))
    assert r.sink_10mm_kg == pytest.approx(80)
    assert r.freeboard_least_m == pytest.approx(0.8)
    assert r.freeboard_bow_m == pytest.approx(0.8)
    assert r.waterline_length_m == pytest.approx(4.0)
    assert r.waterline_beam_m == pytest.approx(2.0)
    assert r.trim_10mm_kgm == pytest.approx(1600 * (0.1 + 16 / 2.4 - 0.3) * 0.01 / 4)
    assert r.list_1deg_kgm == pytest.approx(1600 * 1.4666667 * math.sin(math.radians(1)))


def test_the_small_moment_to_heel_one_degree_heels_one_degree() -> None:
    r = report(1600, (2, 0, 0.3))
    heeled = report(1600, (2, r.list_1deg_kgm / 1600 / math.cos(math.radians(1)), 0.3))
    assert heeled.list_deg == pytest.approx(1.0, abs=2e-3)


def test_least_freeboard_is_at_the_low_corner() -> None:
    r = report(1600, (1.9, 0.05, 0.3))
    assert r.freeboard_least_at_m == pytest.approx((0, 1, 1))
    n = np.array([math.sin(math.radians(r.trim_deg)),
                  -math.cos(math.radians(r.trim_deg)) * math.sin(math.radians(r.list_deg)),
                  math.cos(math.radians(r.trim_deg)) * math.cos(math.radians(r.list_deg))])  # fmt: skip
    assert r.freeboard_least_m == pytest.approx(float(np.array([0, 1, 1]) @ n) - r.draft_at_origin_m)
    # the lower of the foremost sheer points is the port one
    assert r.freeboard_bow_m == pytest.approx(float(np.array([4, 1, 1]) @ n) - r.draft_at_origin_m)


def test_flood_points_are_listed_apart() -> None:
    r = report(1600, (2, 0, 0.3), floods=(("motor well", (0.0, 0.0, 0.5)),))
    assert r.floods[0].name == "motor well"
    assert r.floods[0].height_m == pytest.approx(0.3)
    assert r.freeboard_least_m == pytest.approx(0.8)


def test_free_surface_of_a_half_full_tank_lowers_gm_by_the_closed_formula() -> None:
    tank = Liquid("t", "t", (1.0, 1.2, 0.5), (2, 0, 0), 0.5, 1000.0)
    r = report(1600, (2, 0, 0.3), (tank,))
    mass = 1600 + 300
    rise = 1000 * 1.0 * 1.2**3 / 12 / mass  # ρ l b³/12 / m
    assert r.free_surface_m == pytest.approx(rise)
    draft = mass / 8000
    kg = (1600 * 0.3 + 300 * 0.125) / mass
    gm_solid = draft / 2 + 4 / (12 * draft) - kg
    assert r.gm_transverse_m == pytest.approx(gm_solid - rise, rel=1e-6)


@pytest.mark.parametrize(("fill", "counts"), [(0.02, False), (0.03, True), (0.97, True), (0.98, False)])
def test_free_surface_counts_between_3_and_97_percent(fill: float, counts: bool) -> None:
    r = report(1600, (2, 0, 0.3), (Liquid("t", "t", (1.0, 1.0, 0.5), (2, 0, 0), fill, 1000.0),))
    assert (r.free_surface_m > 0) is counts


def test_partitions_across_divide_by_the_square() -> None:
    whole = report(1600, (2, 0, 0.3), (Liquid("t", "t", (1.0, 1.2, 0.5), (2, 0, 0), 0.5, 1000.0),))
    parted = report(1600, (2, 0, 0.3), (Liquid("t", "t", (1.0, 1.2, 0.5), (2, 0, 0), 0.5, 1000.0, 3),))
    assert parted.free_surface_m == pytest.approx(whole.free_surface_m / 9)


def test_spreads_are_propagated_to_first_order() -> None:
    r = report(1600, (2, 0, 0.3), spread=16.0)
    assert r.spread.mass_kg == pytest.approx(16)
    # a mass on the centre of the box only sinks it: freeboard by 16/8000 m
    assert r.spread.freeboard_least_m == pytest.approx(0.002, rel=1e-6)
    assert r.spread.trim_deg == pytest.approx(0, abs=1e-9)


def test_spread_of_the_list_comes_from_the_sideways_spread() -> None:
    entry = Entry("m", "mass", "test", 1600, 0.0, "weighed", (2, 0, 0.3), (0, 0.01, 0))
    weights = sum_load([entry])
    state = equilibrium(BOX.outside, weights, 1000.0)
    r = float_report("test", state, weights, BOX.sheers)
    # heel = y / GM for small y
    assert r.spread.list_deg == pytest.approx(math.degrees(0.01 / 1.4666667), rel=1e-5)
    # and the sheer at y = 1 sinks by that angle
    assert r.spread.freeboard_least_m == pytest.approx(0.01 / 1.4666667, rel=1e-4)


def test_ledger_sums_and_spreads_follow_the_rules_of_propagation() -> None:
    rows = [
        Entry("a", "a", "g", 100, 5, "guessed", (1, 0, 0), (0.1, 0, 0)),
        Entry("b", "b", "g", 300, 3, "weighed", (3, 0, 0)),
    ]
    total = sum_load(rows)
    assert total.rigid_kg == 400
    assert total.moment / total.rigid_kg == pytest.approx([2.5, 0, 0])
    # var(X) = Σ [((x - X) s / m)² + (m sx / M)²]
    expected = math.sqrt((-1.5 * 5 / 400) ** 2 + (0.5 * 3 / 400) ** 2 + (100 * 0.1 / 400) ** 2)
    assert centre_spread_m(total)[0] == pytest.approx(expected)
    assert math.sqrt(total.covariance[0, 0]) == pytest.approx(math.sqrt(34))


def test_what_shares_an_error_errs_together() -> None:
    # three parts of one sheet, 6 % each: 0.6 + 0.6 + 1.2 = 2.4 kg, not the root of the squares, 1.47;
    # with an error of 1.0 kg that is not theirs: hypot(2.4, 1.0) = 2.6
    sheet = [
        Entry(f"p{k}", "p", "fittings", m, 0.06 * m, "computed", (x, y, 0.5), shared="al-2.5")
        for k, (m, x, y) in enumerate([(10, 1, 0.5), (10, 1, -0.5), (20, 3, 0)])
    ]
    total = sum_load([*sheet, Entry("own", "own", "g", 50, 1.0, "weighed", (2, 0, 0))])
    assert math.sqrt(total.covariance[0, 0]) == pytest.approx(2.6)
    # along: Σ s x = 0.6 + 0.6 + 3.6 = 4.8, and 1.0 · 2; across the two at the sides cancel exactly
    assert math.sqrt(total.covariance[1, 1]) == pytest.approx(math.hypot(4.8, 2.0))
    assert total.covariance[2, 2] == pytest.approx(0.0, abs=1e-12)
    # what is cut away of the same sheet takes its error with it
    gone = Entry("gone", "gone", "fittings", -10, 0.6, "computed", (1, 0.5, 0.5), shared="al-2.5")
    assert math.sqrt(sum_load([*sheet, gone]).covariance[0, 0]) == pytest.approx(1.8)


def test_the_level_in_a_tank_is_known_to_a_twentieth_of_its_height() -> None:
    # 0.5 x 0.4 x 0.3 m of fresh water, full 60 kg: 3 kg, half full at z 0.1 + 0.075
    tank = Liquid("t", "t", (0.5, 0.4, 0.3), (1.0, -0.2, 0.1), 0.5, 1000.0)
    total = sum_load([], (tank,))
    assert np.sqrt(np.diag(total.covariance)) == pytest.approx([3.0, 3.0, 0.6, 3 * 0.175])


def test_an_empty_ledger_weighs_nothing() -> None:
    assert sum_load([]).mass_kg == 0
    assert load(5, (0, 0, 0)).mass_kg == 5


def test_heel_until_water_comes_in_is_that_of_the_triangle() -> None:
    """Box 4 x 2 x 1 m, 1600 kg: draft 1600 / (1000 x 8) = 0.2 m. Sheer 0.8 m up and 1.0 m out:
    atan(0.8 / 1.0) = 38.66 degrees. An opening 0.3 m up and 0.6 m to starboard comes before it:
    atan((0.3 - 0.2) / 0.6) = 9.46 degrees."""
    from stirrup.exchange.buildfile import from_data
    from tests.boats import build_data

    dry = derive(from_data(build_data())).case("planned, empty").report
    assert dry is not None and dry.water_in is not None
    assert dry.water_in.heel_deg == pytest.approx(math.degrees(math.atan(0.8)), abs=0.05)
    data = build_data()
    data["hull"]["floods"] = [{"name": "motor well", "at": [0.2, -0.6, 0.3]}]
    open_ = derive(from_data(data)).case("planned, empty").report
    assert open_ is not None and open_.water_in is not None
    assert open_.water_in.heel_deg == pytest.approx(math.degrees(math.atan(0.1 / 0.6)), abs=0.05)
    assert (open_.water_in.name, open_.water_in.side) == ("motor well", "starboard")
    # mirrored, the other side
    data["hull"]["floods"] = [{"name": "motor well", "at": [0.2, 0.6, 0.3]}]
    other = derive(from_data(data)).case("planned, empty").report
    assert other is not None and other.water_in is not None
    assert other.water_in.heel_deg == pytest.approx(open_.water_in.heel_deg, abs=1e-6)
    assert other.water_in.side == "port"


def test_levels_are_weighed_by_what_can_happen() -> None:
    from stirrup.core.afloat.checks import Meant, float_findings

    capsizes = [("everyone to one rail", None, "she capsizes")]

    def level(meant: Meant) -> tuple[str, str]:
        found = float_findings(capsizes, None, Decimal(0), {"everyone to one rail": meant})[0]
        return found.level, found.text

    # a bare hull that nobody loads so is no red stop; how many it takes is said
    assert level(Meant(2, usual=False, loaded=False)) == ("look", "with 2 people aboard she capsizes.")
    assert level(Meant(3, usual=False))[0] == "mend"
    assert level(Meant(1)) == ("stop", "with 1 person aboard she capsizes.")


def test_water_in_at_eleven_degrees_with_the_usual_people_is_a_stop() -> None:
    from stirrup.exchange.buildfile import from_data
    from tests.boats import build_data, derive

    def levels(z: float) -> dict[str, str]:
        data = build_data()
        data["hull"]["floods"] = [{"name": "well", "at": [0.2, 0.6, z]}]
        return {f.place: f.level for f in derive(from_data(data)).findings if f.code == "WATER-IN"}

    # one at the helm sinks her by about 85 / 8000 = 11 mm more: draft about 0.21 m, trim by the stern;
    # 0.6 m out, 12 degrees are 0.128 m and 16 degrees 0.172 m above the water there
    assert levels(0.30)["one at the helm"] == "stop"
    assert levels(0.40)["one at the helm"] == "look"
    assert "one at the helm" not in levels(0.50)
    assert "on the trailer" not in levels(0.21) and "everyone to one rail" not in levels(0.21)
