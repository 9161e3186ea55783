"""A mirrored boat has mirrored figures: every figure, finding, part and study of both demo boats.

Port is the positive side, so a rule that only looks to port shows up here.
"""

from __future__ import annotations

import json
import math
import re
from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.plan.model import Plan
from stirrup.core.studies import contributions_of, remedies_of, righting_of, screening_of, swamped_of
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import box_lines, build_data, derive

POINTS = ("at", "centre", "floor_centre")
OTHER = {"port": "starboard", "starboard": "port"}


def mirror(value: Any, key: str = "") -> Any:
    """A build file's data with port and starboard changed."""
    if key in POINTS and isinstance(value, list):
        return [value[0], -value[1], value[2]]
    if key == "outline" and value is not None:
        # the same way round as before
        return [[p[0], -p[1], *p[2:]] for p in reversed(value)]
    if key in ("hinge", "door", "fill", "side", "reaches"):
        return OTHER.get(value, value)
    if key in ("y", "y_fore", "turn") and value is not None:
        return -value
    if key == "slide" and isinstance(value, dict):
        return {**value, "port": value["starboard"], "starboard": value["port"]}
    if key == "diagonals":
        return {"port": value["starboard"], "starboard": value["port"]}
    if isinstance(value, dict) and value.get("kind") == "engine_bed":
        gaps = {"gap_port": value.get("gap_starboard"), "gap_starboard": value.get("gap_port")}
        return {**{k: mirror(v, k) for k, v in value.items()}, **gaps}
    if isinstance(value, dict) and value.get("kind") == "foam_fill":
        return {**value, "port": -value["starboard"], "starboard": -value["port"]}
    if isinstance(value, dict):
        return {k: mirror(v, k) for k, v in value.items()}
    if isinstance(value, list):
        return [mirror(v) for v in value]
    return value


WOODEN = "parted along the boat"


def pair(name: str) -> tuple[Derived, Derived]:
    """A demo boat with something heavy to port, and her mirror; WOODEN: with a wooden deck whose grain
    keeps along her, its hatches to one side, so that the joint has to go aside."""
    data = json.loads(demo_plan(FILES[0] if name == WOODEN else name).model_dump_json())
    if name == WOODEN:
        deck = next(f for f in data["fittings"] if f["id"] == "bow-deck")
        deck |= {"skin": "ply-12", "grain": "along the boat"}
        for hatch in (f for f in data["fittings"] if f["kind"] == "hatch" and f["deck"] == "bow-deck"):
            hatch["y"] = hatch["clear_width"] / 2 + 0.03
            hatch["x"] += 0.25 if hatch["id"] == "hatch-ropes" else -0.1
    # more to one side than the demo has, so that sides differ clearly
    box = {"id": "spare-anchor", "name": "spare anchor", "stage": "added", "form": "box", "turn": 20.0}
    mass = {"value": 30.0, "centre": [2.2, 0.55, 0.35]}
    data["items"].append({**box, "size": [0.3, 0.2, 0.2], "mass": mass})
    return derive(from_data(data)), derive(from_data(mirror(data)))


@pytest.fixture(scope="module", params=[*FILES, WOODEN])
def both(request) -> tuple[Derived, Derived]:
    return pair(request.param)


def close(value: float, other: float, tol: float = 2e-4) -> bool:
    return math.isclose(value, other, rel_tol=2e-3, abs_tol=tol)


def test_the_mirror_is_one() -> None:
    plan: Plan = demo_plan(FILES[0])
    data = json.loads(plan.model_dump_json())
    assert mirror(mirror(data)) == data
    assert mirror(data) != data


def test_positions_and_all_that_is_read_off_them(both) -> None:
    here, there = both
    assert [c.name for c in here.cases] == [c.name for c in there.cases]
    for a, b in zip(here.cases, there.cases, strict=True):
        assert (a.report is None) == (b.report is None)
        if a.report is None or b.report is None:
            continue
        one, two = a.report.as_json(), b.report.as_json()
        for name, value in one.items():
            if name == "list_deg":
                assert close(value, -two[name], 2e-3), (a.name, name)
            elif isinstance(value, float):
                assert close(value, two[name], 2e-3 if "deg" in name else 3e-4), (
                    a.name,
                    name,
                    value,
                    two[name],
                )
        # level and alike on both sides, either side is right
        level = abs(a.report.list_deg) < 0.01
        sides = [f["freeboard_least_at_m"][1] for f in (one, two)]
        assert level or sides[0] == pytest.approx(-sides[1], abs=1e-3), a.name
        assert abs(sides[0]) == pytest.approx(abs(sides[1]), abs=1e-3)
        # an all but upset boat answers to the last digits of her position
        assert one["spread"] == pytest.approx(two["spread"], rel=0.03, abs=1e-4)
        if a.report.water_in and b.report.water_in:
            assert a.report.water_in.heel_deg == pytest.approx(b.report.water_in.heel_deg, abs=5e-3)
            assert level or a.report.water_in.side == OTHER[b.report.water_in.side]


def told(finding: Finding) -> tuple[str, ...]:
    """Code, level, place, title and amounts of a finding; signs and sides taken off."""
    title = re.sub(r"port|starboard", "side", finding.title)
    numbers = [f"{k} {abs(q.value):.3g}" for k, q in sorted(finding.values.items()) if q.value]
    return finding.code, finding.level, finding.place, title, *numbers


def test_findings_and_cost(both) -> None:
    here, there = both
    one, two = sorted(map(told, here.findings)), sorted(map(told, there.findings))
    assert [f for f in one if f not in two] == []
    assert [f for f in two if f not in one] == []
    assert here.cost.total == there.cost.total
    assert len(here.sheets) == len(there.sheets)


def test_parts_are_mirrored(both) -> None:
    here, there = both
    for a, b in zip(here.built, there.built, strict=True):
        assert sorted(p.polygon.area for p in a.panels) == pytest.approx(
            sorted(p.polygon.area for p in b.panels), rel=1e-4
        )
        assert sorted(m.length for m in a.members) == pytest.approx(
            sorted(m.length for m in b.members), abs=2e-4
        )
        assert sum(p.mass_kg * p.centre[1] for p in a.parts) == pytest.approx(
            -sum(p.mass_kg * p.centre[1] for p in b.parts), abs=5e-3
        )


def test_studies(both) -> None:
    here, there = both
    for case in ("planned, empty", "one at the helm", "everyone to one rail"):
        if here.case(case).report is None:
            continue
        a, b = righting_of(here, case), righting_of(there, case)
        assert a.port.area_m_rad == pytest.approx(b.starboard.area_m_rad, abs=2e-4)
        assert a.starboard.area_m_rad == pytest.approx(b.port.area_m_rad, abs=2e-4)
        moved = {c.id: c for c in contributions_of(there, case)}
        for c in contributions_of(here, case):
            assert c.trim_deg == pytest.approx(moved[c.id].trim_deg, abs=3e-3)
            assert c.list_deg == pytest.approx(-moved[c.id].list_deg, abs=3e-3)
        ways = {(r.id, r.axis): r for r in remedies_of(there, case)}
        for r in remedies_of(here, case):
            sign = 1 if r.axis == "x" else -1
            assert r.by_m == pytest.approx(sign * ways[r.id, r.axis].by_m, abs=3e-3)
    full, other = swamped_of(here), swamped_of(there)
    assert full.submerged_kg == pytest.approx(other.submerged_kg)
    assert full.needed_m3 == pytest.approx(other.needed_m3)
    s, t = screening_of(here), screening_of(there)
    assert s.persons_kg == pytest.approx(t.persons_kg, abs=0.3)
    assert (s.persons, s.power_kw, s.why_not) == (t.persons, t.power_kw, t.why_not)


def test_a_hull_wider_on_one_side_and_her_mirror() -> None:
    def lopsided(port: float, starboard: float, y: float) -> Derived:
        data = build_data(box_lines(beam=2 * port), mass=700.0, centre=(2.0, y, 0.2))
        data["hull"]["starboard"] = box_lines(beam=2 * starboard)
        return derive(from_data(data))

    here, there = lopsided(1.0, 1.3, -0.1), lopsided(1.3, 1.0, 0.1)
    rail = "everyone to one rail"
    # her middle is at -0.15, her weight at -0.1: she leans to port, and there they stand, 0.2 m in
    # from the last place where they can
    for boat, side, half in ((here, 1, 1.0), (there, -1, 1.0)):
        (first, *_) = boat.load_case(rail).crew
        assert side * first.at[1] == pytest.approx(half - 0.2, abs=half / 24 + 0.01)
    for a, b in zip(here.cases, there.cases, strict=True):
        if a.report is not None and b.report is not None:
            assert a.report.list_deg == pytest.approx(-b.report.list_deg, abs=5e-3), a.name
            assert a.report.freeboard_least_m == pytest.approx(b.report.freeboard_least_m, abs=5e-4)
    s, t = screening_of(here), screening_of(there)
    assert (s.persons_kg, s.side_kg) == pytest.approx((t.persons_kg, t.side_kg), abs=0.3)
