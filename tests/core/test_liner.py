"""A liner under a vee that rises 0.2 in 1 m, 4 m long, with upright sides: worked by hand."""

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from pydantic import ValidationError

from stirrup.core.arrange.palette import place
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.liner import Liner
from stirrup.core.kinds.liner.laid_out import lay_out
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.space.develop import area_and_centre
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import build_data, derive, wedge_lines

LINER = {"kind": "liner", "id": "liner", "name": "Liner", "mark": "U1", "aft": 0.5, "fore": 2.5}
WIDE = math.hypot(1.0, 0.2)


def boat(lines: Any = None, **choices: Any) -> Derived:
    return derive(from_data(build_data(lines or wedge_lines(0.2), fittings=[{**LINER, **choices}])))


def made(derived: Derived) -> Built:
    found = derived.fitting("liner")
    assert found is not None
    return found


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "liner")


def test_two_plates_as_broad_as_the_bottom_slants() -> None:
    panels = made(boat()).panels
    assert [p.label for p in panels] == ["U1-P1", "U1-S2"]
    for panel in panels:
        assert panel.polygon.area == pytest.approx(2.0 * WIDE, rel=1e-6)
        x0, y0, x1, y1 = panel.polygon.bounds
        assert (x1 - x0, y1 - y0) == (pytest.approx(2.0), pytest.approx(WIDE))
    # 0.94 kg a litre
    assert panels[0].mass_kg == pytest.approx(2.0 * WIDE * panels[0].sheet.thickness * 940, rel=1e-6)
    # outside of the hull, half way out
    assert panels[0].centre[1] == pytest.approx(0.5, abs=0.01) and panels[0].centre[2] < 0.1


def test_a_strip_up_the_side() -> None:
    panels = made(boat(up=0.15)).panels
    assert len(panels) == 4
    assert [p.polygon.area for p in panels] == pytest.approx([2.0 * WIDE, 0.3, 2.0 * WIDE, 0.3], rel=1e-6)


def test_a_longer_one_is_in_lengths_of_the_sheet() -> None:
    """3.5 m of sheets of 2.44: two lengths, 3 mm apart, on both sides."""
    panels = made(boat(fore=3.9, aft=0.4)).panels
    assert len(panels) == 4
    assert sum(p.polygon.area for p in panels) == pytest.approx(2 * (3.5 - 0.003) * WIDE, rel=1e-6)


@pytest.mark.slow
@pytest.mark.parametrize("name", FILES)
def test_its_plates_have_the_area_of_the_bottom(name: str) -> None:
    """Within 0.5 % of the bottom's triangles between the same stations, on every demo boat."""
    plan = demo_plan(name)
    surface = derive(plan).vessel.surface
    aft, fore = 0.3, 2.4
    data = plan.model_dump(mode="json")
    data["fittings"] = [{**LINER, "aft": aft, "fore": fore, "skin": "hdpe-6.4"}]
    for key in ("cut", "stood", "bonds", "accepted"):
        data.pop(key, None)
    built = made(derive(from_data(data)))
    flat = sum(p.polygon.area for p in built.panels)
    want = _bottom(surface, aft, fore)
    assert flat == pytest.approx(want, rel=5e-3)


def _bottom(surface: Any, aft: float, fore: float) -> float:
    """By strips of 5 mm along: the breadth of the bottom's section, keel to chine, at their middles."""
    total = 0.0
    xs = np.arange(aft + 0.0025, fore, 0.005)
    for side in (0, 1):
        lines = surface.lines[side]
        rows = [np.column_stack([np.interp(xs, line[:, 0], line[:, k]) for k in (1, 2)]) for line in lines]
        for a, b in pairwise(rows[:-1]):
            if np.mean(np.abs(b[:, 0] - a[:, 0])) <= np.mean(np.abs(b[:, 1] - a[:, 1])):
                break
            # a strip of a ruled surface: breadth by the slope along, from the cross product of both ways
            along = [np.gradient(row, xs, axis=0) for row in (a, b)]
            middle = (along[0] + along[1]) / 2
            ways = np.column_stack([np.ones(len(xs)), middle])
            over = np.column_stack([np.zeros(len(xs)), b - a])
            total += float(np.linalg.norm(np.cross(ways, over), axis=1).sum() * 0.005)
        if side == 0 and np.max(rows[0][:, 0]) > 0.01:
            total += float((2 * rows[0][:, 0]).sum() * 0.005)
    return total


def test_rivets_on_a_grid() -> None:
    """2.0 by 1.02 m every 0.12: 18 by 10 holes on each of two plates, a tenth to spare; solid ones for
    6.4 + 3 mm."""
    parts = {b.label: b for b in made(boat()).bought}
    assert parts["U1-R"].quantity == 396
    entry = parts["U1-R"].entry
    thick = made(boat()).panels[0].sheet.thickness
    assert entry.style == "solid rivet" and entry.grip_min <= thick + 0.003 <= entry.grip_max  # type: ignore[union-attr]
    assert parts["U1-G"].quantity == pytest.approx(396 * 0.35 / 290)


@pytest.mark.parametrize(
    ("code", "choices", "level"),
    [
        # 0.18 mm x 2.0 m x 40 K = 14.4 mm
        ("LINER-GROWS", {"pitch": 0.15}, "fine"),
        ("LINER-GROWS", {"pitch": 0.16}, "mend"),
        ("LINER-GROWS", {"pitch": 0.30, "holes": "slotted"}, "fine"),
        ("LINER-RIVETS", {}, "fine"),
        ("LINER-RIVETS", {"rivets": "blind"}, "mend"),
        ("LINER-RIVETS", {"hull": 0.04}, "mend"),
        ("LINER-BENDS", {}, "fine"),
    ],
)
def test_what_is_said_of_it(code: str, choices: dict[str, Any], level: str) -> None:
    start = from_data(build_data(wedge_lines(0.2), fittings=[{**LINER, **choices}]))
    found = told(derive(start), code)
    assert found.level == level
    if code == "LINER-GROWS":
        assert found.values["grows"].value == pytest.approx(0.0144, rel=1e-6)
    for fix in found.fixes:
        after = derive(apply(start, SetValue(path=fix.path, value=fix.value)))
        assert told(after, code).level == "fine"


def test_where_her_bottom_twists_it_has_to_be_stretched() -> None:
    """A strip 1 m broad that turns by t each metre is longer at its edges than in its middle by t² / 8."""
    lines = [
        {"name": "keel", "along": "straight", "points": [[0, 0, 0], [1.2, 0, 0], [4, 0, 0]]},
        {"name": "chine", "along": "straight", "points": [[0, 1.0, 0.0], [1.2, 1.0, 0.02], [4, 0.9, 0.9]]},
        {
            "name": "sheer",
            "along": "straight",
            "points": [[0, 1.05, 1.2], [1.2, 1.05, 1.2], [4, 1.05, 1.2]],
        },
    ]
    found = told(boat(lines, aft=1.3, fore=3.6), "LINER-BENDS")
    assert found.level == "look"
    # from atan(0.02) to atan(0.9 / 0.9) over 2.8 m: about 0.27 rad a metre, on 2.3 m some 20 mm
    assert found.values["off"].value == pytest.approx(2.3 * 0.27**2 / 8, rel=0.4)


def test_what_cannot_be_is_refused_in_words() -> None:
    with pytest.raises(ValidationError, match=r"at least 0\.3 m further forward"):
        Liner.model_validate({**LINER, "fore": 0.6})
    found = next(f for f in boat(aft=8.0, fore=9.0).findings if f.code == "CANNOT-BUILD")
    assert "no bottom to line" in found.text


def test_a_first_one() -> None:
    start = from_data(build_data(wedge_lines(0.2)))
    here = derive(start)
    after = derive(apply(start, place(start, here.surface, here.footing, "liner")))
    assert made_of(after, "liner-1")


def made_of(derived: Derived, id_: str) -> int:
    built = derived.fitting(id_)
    assert built is not None
    return len(built.panels)


def test_the_centre_of_a_strip_that_runs_out_is_that_of_its_triangle() -> None:
    """3 m long, 0.6 m broad at its aft end and nothing at its fore end: a third along, a third across."""
    x = np.linspace(0.0, 3.0, 31)
    lower = np.column_stack([x, np.zeros(31), np.zeros(31)])
    upper = np.column_stack([x, 0.6 * (1 - x / 3), np.zeros(31)])
    area, centre = area_and_centre(lower, upper)
    assert area == pytest.approx(0.9)
    assert centre == pytest.approx((1.0, 0.2, 0.0))


def narrow(rise: float, rocker: float = 0.0) -> list[dict[str, Any]]:
    """A vee 0.5 m to its chine that rises so much in a metre, its keel a parabola so much lower in the
    middle of 4 m than at its ends, its chine straight."""
    xs = [0.1 * k for k in range(41)]

    def low(x: float) -> float:
        return rocker * ((2 * x / 4 - 1) ** 2 - 1)

    return [
        {"name": "keel", "along": "straight", "points": [[x, 0, low(x)] for x in xs]},
        {"name": "chine", "along": "straight", "points": [[x, 0.5, 0.5 * rise] for x in xs]},
        {"name": "sheer", "along": "straight", "points": [[x, 0.5, 1.0] for x in xs]},
    ]


def test_one_sheet_about_a_straight_keel_needs_no_slit() -> None:
    """Both sides of 0.5 hypot(1, 0.2) in one: 2.0 by 1.0198 m, bent at the keel by 22.6°."""
    derived = boat(narrow(0.2), made="one sheet")
    (panel,) = made(derived).panels
    x0, y0, x1, y1 = panel.polygon.bounds
    assert (x1 - x0, y1 - y0) == (pytest.approx(2.0, abs=1e-3), pytest.approx(2 * 0.5 * WIDE, abs=1e-3))
    assert panel.polygon.area == pytest.approx(2.0 * WIDE, rel=2e-3)
    assert told(derived, "LINER-WRAPS").title == "One sheet wraps her without a slit"
    heat = told(derived, "LINER-HEAT")
    assert heat.values["worst"].value == pytest.approx(2 * math.degrees(math.atan(0.2)), abs=0.1)
    assert heat.level == "look"
    assert told(boat(narrow(0.1), made="one sheet"), "LINER-HEAT").level == "fine"
    # as heavy, and about the same middle, as the plates that it stands for
    plates = made(boat(narrow(0.2)))
    assert panel.mass_kg == pytest.approx(sum(p.mass_kg for p in plates.panels), rel=2e-3)
    assert panel.centre[1] == pytest.approx(0.0, abs=1e-6)
    assert panel.centre[2] == pytest.approx(plates.panels[0].centre[2], abs=1e-3)


def test_up_the_sides_it_is_bent_at_the_chines_too() -> None:
    """60 mm up an upright side: turned by 90° less atan 0.2 at the chine, 2 x (0.5099 + 0.06) wide."""
    derived = boat(narrow(0.2), made="one sheet", up=0.06)
    (panel,) = made(derived).panels
    assert panel.polygon.bounds[3] * 2 == pytest.approx(2 * (0.5 * WIDE + 0.06), abs=2e-3)
    assert told(derived, "LINER-HEAT").values["worst"].value == pytest.approx(
        90 - math.degrees(math.atan(0.2)), abs=0.2
    )


def test_about_a_keel_with_rocker_a_pie_is_cut() -> None:
    """What is laid flat keeps its area; both sides are the same; the pie is told, and is wider with more
    rocker."""
    wide = []
    for rocker in (0.02, 0.05):
        derived = boat(narrow(0.4, rocker), aft=0.2, fore=2.2, made="one sheet")
        (panel,) = made(derived).panels
        plates = made(boat(narrow(0.4, rocker), aft=0.2, fore=2.2))
        assert panel.polygon.area == pytest.approx(sum(p.polygon.area for p in plates.panels), rel=5e-3)
        _, y0, _, y1 = panel.polygon.bounds
        assert y0 + y1 == pytest.approx(0.0, abs=2e-3)
        found = told(derived, "LINER-WRAPS")
        assert found.level == "look" and "keel" in found.text
        # both sides' keel edges laid flat leave their chords: the pie is as wide as both together
        choices = Liner.model_validate({**LINER, "aft": 0.2, "fore": 2.2})
        plate = lay_out(choices, Site(derived.surface, catalogue=derived.catalogue)).pieces[0]
        a, b = plate.laid[0][0], plate.laid[0][-1]
        off = [float((b - a)[0] * (q - a)[1] - (b - a)[1] * (q - a)[0]) for q in plate.laid[0]]
        leaves = (max(off) - min(off)) / float(np.hypot(*(b - a)))
        assert found.values["wide"].value == pytest.approx(2 * leaves, rel=0.02)
        wide.append(found.values["wide"].value)
    assert wide[1] > 1.5 * wide[0] > 0.001


def test_no_sheet_as_wide_as_she_is_round() -> None:
    """Two metres across, and sheets of 1.22."""
    found = told(boat(made="one sheet"), "LINER-WRAPS")
    assert found.level == "mend" and found.fixes[0].value == "plates"
    assert found.values["across"].value == pytest.approx(2 * WIDE, abs=2e-3)
