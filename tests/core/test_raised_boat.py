"""A boat measured from a line under her keel is the same boat: every figure, finding and part.

The keel lies at z = 0 in the demo boats, so a rule that takes the keel for 0 shows up here.
"""

from __future__ import annotations

import json
import re
from typing import Any

import pytest

from stirrup.core.derive import Derived
from stirrup.core.studies import contributions_of, remedies_of, righting_of, screening_of, swamped_of
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import derive

UP = 0.25
POINTS = ("at", "centre", "floor_centre", "low", "high")
# what is told by its height over the line; a box by its own height
HEIGHTS = {
    "raised_deck": ("height", "face_foot"), "floor": ("height",), "face_door": ("z",),
    "lining": ("low", "high"), "bulkhead": ("top",), "transom": ("top",), "stringer": ("top",),
    "foam_fill": ("top",), "engine_bed": ("top",), "patch": ("z",),
    "swim_step": ("z",), "pods": ("top",), "knees": ("top",),
    "cable_run": ("high",), "paint_zone": ("low", "high"),
}  # fmt: skip


def raised(value: Any, key: str = "", inside: str = "") -> Any:
    """A build file's data with all heights counted from UP below the present line."""
    if key in POINTS and isinstance(value, list):
        return [value[0], value[1], value[2] + UP]
    if key in ("points", "outline") and isinstance(value, list):
        return [[p[0], p[1], p[2] + UP] if len(p) == 3 else p for p in value]
    if isinstance(value, dict):
        up = HEIGHTS.get(value.get("kind", ""), ()) if inside == "fittings" else ()
        return {k: v + UP if k in up and v is not None else raised(v, k, inside) for k, v in value.items()}
    if isinstance(value, list):
        return [raised(v, "", inside or key) for v in value]
    return value


@pytest.fixture(scope="module", params=FILES)
def both(request) -> tuple[Derived, Derived]:
    data = json.loads(demo_plan(request.param).model_dump_json())
    return derive(from_data(data)), derive(from_data(raised(data)))


def told(derived: Derived) -> list[tuple[Any, ...]]:
    """Findings with their amounts to three digits; heights over the line itself left out."""
    out = []
    for f in derived.findings:
        numbers = [f"{k} {abs(q.value):.2g}" for k, q in sorted(f.values.items()) if q.value]
        out.append((f.code, f.level, f.place, f.other, re.sub(r"\d", "", f.title), *numbers))
    return sorted(out, key=str)


def test_it_is_raised_and_nothing_else(both) -> None:
    here, there = both
    low = here.surface.outside.low, there.surface.outside.low
    assert low[1][2] - low[0][2] == pytest.approx(UP)
    assert low[1][:2] == pytest.approx(low[0][:2])


def test_positions(both) -> None:
    here, there = both
    assert [c.name for c in here.cases] == [c.name for c in there.cases]
    for a, b in zip(here.cases, there.cases, strict=True):
        assert (a.report is None) == (b.report is None), a.name
        if a.report is None or b.report is None:
            continue
        for name in ("mass_kg", "volume_m3", "trim_deg", "list_deg", "gm_transverse_m", "gm_longitudinal_m",
                     "freeboard_least_m", "freeboard_bow_m", "sink_10mm_kg", "trim_10mm_kgm",
                     "list_1deg_kgm", "free_surface_m", "waterline_length_m"):  # fmt: skip
            one, two = getattr(a.report, name), getattr(b.report, name)
            assert one == pytest.approx(two, rel=1e-3, abs=2e-3 if "deg" in name else 2e-4), (a.name, name)
        assert b.report.centre_m[2] - a.report.centre_m[2] == pytest.approx(UP, abs=1e-4)
        heights = [f.height_m for f in a.report.floods], [f.height_m for f in b.report.floods]
        assert heights[0] == pytest.approx(heights[1], abs=2e-4)


def test_findings_and_cost(both) -> None:
    here, there = both
    one, two = told(here), told(there)
    assert [f for f in one if f not in two] == []
    assert [f for f in two if f not in one] == []
    assert here.cost.total == there.cost.total


def test_parts(both) -> None:
    here, there = both
    for a, b in zip(here.built, there.built, strict=True):
        assert [p.key for p in a.parts] == [p.key for p in b.parts]
        for p, q in zip(a.parts, b.parts, strict=True):
            assert p.mass_kg == pytest.approx(q.mass_kg, rel=2e-3, abs=1e-4), p.key
            assert q.centre[2] - p.centre[2] == pytest.approx(UP, abs=2e-3), p.key


def test_studies(both) -> None:
    here, there = both
    for case in ("planned, empty", "one at the helm"):
        a, b = righting_of(here, case), righting_of(there, case)
        assert a.port.area_m_rad == pytest.approx(b.port.area_m_rad, rel=2e-3, abs=1e-4)
        assert a.starboard.area_m_rad == pytest.approx(b.starboard.area_m_rad, rel=2e-3, abs=1e-4)
        moved = {c.id: c for c in contributions_of(there, case)}
        for c in contributions_of(here, case):
            assert (c.trim_deg, c.list_deg) == pytest.approx(
                (moved[c.id].trim_deg, moved[c.id].list_deg), abs=3e-3
            )
        ways = {(r.id, r.axis): r.by_m for r in remedies_of(there, case)}
        for r in remedies_of(here, case):
            assert r.by_m == pytest.approx(ways[r.id, r.axis], abs=3e-3)


def test_capacity_and_swamped(both) -> None:
    here, there = both
    one, two = screening_of(here), screening_of(there)
    assert one.persons_kg == pytest.approx(two.persons_kg, abs=0.3)
    assert (one.persons, one.power_kw, one.why_not) == (two.persons, two.power_kw, two.why_not)
    a, b = swamped_of(here), swamped_of(there)
    assert (a.sheer_m is None) == (b.sheer_m is None)
    if a.sheer_m is not None:
        assert a.sheer_m == pytest.approx(b.sheer_m, abs=5e-4)
