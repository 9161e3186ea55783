"""Drawings show what the core computed: coordinates, tilt, labels apart."""

import math
import re
from xml.etree import ElementTree

import pytest

from stirrup.core.arrange.snap import Snap
from stirrup.core.contract.shown import Chart, Curve
from stirrup.core.cutting.sheets import Blank, SheetJob, lay_out
from stirrup.core.cutting.sticks import Piece, StickJob, lay_out_sticks
from stirrup.core.plan.model import LoadCase
from stirrup.core.units import SYSTEMS
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange.catalogue import starting
from stirrup.web.drawing import across, afloat, boat, cuts, lines, strip
from stirrup.web.drawing.canvas import Canvas, svg_length
from stirrup.web.drawing.chart import chart_view
from stirrup.web.drawing.look import Look
from tests.boats import DECK, HATCH, derive, plan, skiff_plan

MM, FEET = SYSTEMS["mm"], SYSTEMS["ft-in"]
DEMO = derive(demo_plan(FILES[0]))
EMPTY = LoadCase(name="planned, empty")
NUMBER = r"-?\d+(?:\.\d+)?"


def paths(svg: str, css: str) -> list[list[tuple[float, float]]]:
    """Points of every path of a class."""
    found = re.findall(rf'<path class="[^"]*\b{css}\b[^"]*"[^>]*? d="([^"]+)"', svg)
    return [[(float(x), float(y)) for x, y in re.findall(rf"({NUMBER}) ({NUMBER})", d)] for d in found]


@pytest.mark.parametrize(("length", "scale"), [(4.5, 180.0), (4.5, 20.0), (1e6, 4e-4), (1e9, 1e-7)])
def test_a_rule_has_numbers_that_stand_apart_and_not_endless_marks(length: float, scale: float) -> None:
    canvas = Canvas(900, 200, (0, 100), scale, "plan", "Plan")
    boat.rule(canvas, 0.0, length, FEET)
    svg = "".join(canvas.parts)
    numbers = [int(x) for x in re.findall(r">(\d+)'<", svg)]
    apart = numbers[1] - numbers[0]
    # feet; the next number is three letters' height away or more, and half of it would be too close
    assert numbers[0] == 0 and apart * 0.3048 * scale > 3 * canvas.type
    assert apart == 2 or apart / 2 * 0.3048 * scale <= 3 * canvas.type
    assert svg.count("<line") <= 32 * len(numbers) + 1


def line(svg: str, css: str) -> tuple[float, float, float, float]:
    found = re.search(
        rf'<line class="{css}" x1="({NUMBER})" y1="({NUMBER})" x2="({NUMBER})" y2="({NUMBER})"', svg
    )
    assert found
    x1, y1, x2, y2 = (float(v) for v in found.groups())
    return x1, y1, x2, y2


@pytest.mark.parametrize("units", [MM, FEET])
@pytest.mark.parametrize("chosen", ["", "bow-deck", "hatch-ropes"])
def test_every_view_is_well_formed_svg(units, chosen) -> None:
    case = DEMO.plan.cases[1]
    look = Look((chosen,) if chosen else (), 2.0, (Snap(0, 0.0, 1.2, "at station 3"),), rooms=True)
    for svg in (
        boat.profile_view(DEMO, case, units, look),
        boat.plan_view(DEMO, case, units, look),
        across.section_view(DEMO, case, units, look),
        across.body_plan(DEMO),
        lines.lines_profile(DEMO, units, "chine"),
        lines.lines_plan(DEMO, units, "sheer"),
        strip.silhouette(DEMO, DEMO.cases[0].report),
        strip.stern(DEMO, DEMO.cases[0].report),
        *(
            cuts.sheet_svg(x, DEMO.catalogue.sheet(x.job.stock), k, units)
            for x in DEMO.sheets
            for k in range(len(x.sheets))
        ),
        *(cuts.stick_svg(x, {}) for x in DEMO.sticks),
    ):
        ElementTree.fromstring(svg)
        assert "nan" not in svg and "inf" not in svg


def test_the_pointers_scale_is_the_drawings_scale() -> None:
    svg = boat.plan_view(DEMO, EMPTY, MM)
    scale = float(re.search(r'data-scale="([^"]+)"', svg)[1])  # type: ignore[index]
    origin = float(re.search(r'data-ox="([^"]+)"', svg)[1])  # type: ignore[index]
    hull = paths(svg, "hull-line")[0]
    # the stem of the demo is at 4.99 m, the sheer starts 0.06 m aft of the transom foot
    assert max(x for x, _ in hull) == pytest.approx(origin + 4.99 * scale, abs=0.1)
    assert min(x for x, _ in hull) == pytest.approx(origin - 0.06 * scale, abs=0.1)


def test_the_deck_is_drawn_where_it_is() -> None:
    derived = derive(skiff_plan(fittings=[DECK, HATCH]))
    svg = boat.plan_view(derived, EMPTY, MM)
    scale = float(re.search(r'data-scale="([^"]+)"', svg)[1])  # type: ignore[index]
    ox = float(re.search(r'data-ox="([^"]+)"', svg)[1])  # type: ignore[index]
    left = min(x for ring in paths(svg, "deck") for x, _ in ring)
    assert left == pytest.approx(ox + 3.0 * scale, abs=0.2)
    lid = paths(svg, "lid")[0]
    # 400 + 2 (25 - 1.5) mm long
    assert max(x for x, _ in lid) - min(x for x, _ in lid) == pytest.approx(0.447 * scale, abs=0.2)


def test_the_water_in_the_profile_has_the_trims_slope() -> None:
    case = next(c for c in DEMO.load_cases if c.name.startswith("two aft"))
    report = DEMO.case(case.name).report
    assert report is not None
    x1, y1, x2, y2 = line(boat.profile_view(DEMO, case, MM), "waterline")
    # bow up: in boat axes the water falls towards the bow
    assert math.degrees(math.atan2(y2 - y1, x2 - x1)) == pytest.approx(report.trim_deg, abs=0.05)


def turned(svg: str, css: str) -> list[tuple[float, float]]:
    """The first path of a class where it is seen: turned about a point, then moved down."""
    found = re.search(r'transform="translate\(0 (\S+)\) rotate\((\S+) (\S+) (\S+)\)"', svg)
    assert found is not None
    down, degrees, x0, y0 = (float(v) for v in found.groups())
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return [
        (x0 + (x - x0) * c - (y - y0) * s, y0 + (x - x0) * s + (y - y0) * c + down)
        for x, y in paths(svg, css)[0]
    ]


def test_the_strip_turns_the_boat_by_her_trim_and_list() -> None:
    leaning = derive(plan(items=[{"id": "w", "mass": {"value": 200.0, "centre": [1.0, 0.5, 0.3]}}]))
    report = leaning.cases[0].report
    assert report is not None and report.list_deg > 0 and report.trim_deg > 0
    side = turned(strip.silhouette(leaning, report), "hull-line")
    keel_aft, keel_fore = side[0], max(side[:20], key=lambda p: p[0])
    slope = math.degrees(math.atan2(keel_aft[1] - keel_fore[1], keel_fore[0] - keel_aft[0]))
    assert slope == pytest.approx(report.trim_deg, abs=0.3)
    # her keel line at the transom lies as deep under the water as she draws there
    afloat = strip.silhouette(leaning, report)
    water = line(afloat, "waterline")[1]
    scale = float(re.search(r'data-scale="([^"]+)"', afloat)[1])  # type: ignore[index]
    origin = float(re.search(r'data-ox="([^"]+)"', afloat)[1])  # type: ignore[index]
    near = min(side[:20], key=lambda p: abs(p[0] - origin))
    trim = math.radians(report.trim_deg)
    deep = report.draft_at_origin_m - (near[0] - origin) / scale * math.tan(trim)
    assert (near[1] - water) / scale == pytest.approx(deep, abs=0.01)
    stern = turned(strip.stern(leaning, report), "transom-fill")
    port_chine, other_chine = stern[1], stern[-2]
    assert port_chine[0] < other_chine[0]  # from astern, port is on the left
    down = math.degrees(math.atan2(port_chine[1] - other_chine[1], other_chine[0] - port_chine[0]))
    assert down == pytest.approx(report.list_deg, abs=0.5)


def test_what_is_built_in_lies_with_her_as_she_floats_and_again_in_another_case() -> None:
    """A level deck, 0.4 over the keel line, lies at the boat's trim on the Float page, over level water."""
    weight = {"id": "w", "mass": {"value": 150.0, "centre": [0.6, 0.0, 0.3]}}
    derived = derive(skiff_plan(fittings=[DECK], items=[weight]))
    trims = []
    for case in derived.load_cases[:2]:  # planned and empty, as found
        report = derived.case(case.name).report
        assert report is not None
        svg = afloat.side_view(derived, case, None, MM)
        (x0, y0), (x1, y1) = paths(svg, "deck-line")[0]
        slope = math.degrees(math.atan2(y0 - y1, x1 - x0))
        assert slope == pytest.approx(report.trim_deg, abs=0.1)
        water = float(re.search(r'data-oy="([^"]+)"', svg)[1])  # type: ignore[index]
        scale = float(re.search(r'data-scale="([^"]+)"', svg)[1])  # type: ignore[index]
        t = math.radians(report.trim_deg)
        # its aft edge lies at 3.0
        over = 3.0 * math.sin(t) + 0.4 * math.cos(t) - report.draft_at_origin_m
        assert (water - y0) / scale == pytest.approx(over, abs=0.003)
        trims.append(report.trim_deg)
    assert abs(trims[0] - trims[1]) > 0.2


def test_water_level_in_boat_axes() -> None:
    report = derive(plan(mass=1600.0, centre=(1.9, 0.05, 0.3))).cases[0].report
    assert report is not None
    assert boat.water_level(report, 0.0) == pytest.approx(0.23092, rel=1e-3)
    assert boat.water_level(report, 0.0, 1.0) > boat.water_level(report, 0.0, -1.0)  # type: ignore[operator]
    assert boat.water_level(None, 0.0) is None


def test_labels_are_set_apart_or_left_out() -> None:
    canvas = Canvas(300, 200, (150, 100), 10.0, "test", "test")
    placed = [canvas.label((0, 0), f"label number {k}") for k in range(9)]
    assert placed[0] and not all(placed)
    boxes = canvas.taken
    for i, a in enumerate(boxes):
        for b in boxes[i + 1 :]:
            assert a[2] < b[0] or a[0] > b[2] or a[3] < b[1] or a[1] > b[3]


def test_labels_stay_clear_of_reserved_places_and_edges() -> None:
    canvas = Canvas(200, 100, (0, 0), 1.0, "test", "test")
    canvas.reserve((100, -50), 200, 200)
    assert not canvas.label((100, -50), "anything")


def test_lengths_in_drawings_carry_a_drawn_fraction() -> None:
    assert svg_length(1.0287, FEET) == '3&#x27; 4<tspan class="fr">1\u20442</tspan>&quot;'
    assert svg_length(1.0287, MM) == "1 029 mm"
    assert svg_length(-0.0127, FEET) == '-<tspan class="fr">1\u20442</tspan> in'


def test_typed_names_cannot_leave_their_place_in_a_drawing() -> None:
    item = {"id": "i", "name": "<script>x</script>", "mass": {"value": 30.0, "centre": [2, 0, 0.2]}}
    derived = derive(skiff_plan(items=[item], fittings=[{**DECK, "mark": "<b>"}]))
    for svg in (
        boat.plan_view(derived, EMPTY, MM),
        *(cuts.sheet_svg(x, derived.catalogue.sheet(x.job.stock), 0, MM) for x in derived.sheets),
    ):
        assert "<script" not in svg and "<b>" not in svg


def test_a_sheet_is_drawn_with_every_panel_and_its_size() -> None:
    square = Blank("a", "A-1", ((0, 0), (0.61, 0), (0.61, 0.61), (0, 0.61)))
    layout = lay_out(SheetJob("ply-12", 2.44, 1.22, (square,)))
    svg = cuts.sheet_svg(layout, starting().sheet("ply-12"), 0, MM)
    ring = paths(svg, "panel")[0]
    edge = paths(svg, "sheet-edge")[0]
    wide = max(x for x, _ in ring) - min(x for x, _ in ring)
    whole = max(x for x, _ in edge) - min(x for x, _ in edge)
    assert wide / whole == pytest.approx(0.25, abs=0.001)
    assert "A-1" in svg and "2 440 mm" in svg


def test_sticks_are_drawn_to_length() -> None:
    layout = lay_out_sticks(StickJob("angle-40x40x3", 6.1, (Piece("p", 3.05),)))
    svg = cuts.stick_svg(layout, {"p": "X1"})
    widths = [float(w) for w in re.findall(r'<rect class="[^"]+" x="[^"]+" y="[^"]+" width="([^"]+)"', svg)]
    assert widths[1] / widths[0] == pytest.approx(0.5, abs=0.001)
    assert "X1: 3050 mm" in svg


def test_a_person_is_as_tall_as_his_stature() -> None:
    case = LoadCase.model_validate({"name": "up", "crew": [{"at": (2.0, 0.0, 0.4), "stature": 1.8}]})
    derived = derive(skiff_plan(cases=[case.model_dump(mode="json")]))
    svg = boat.profile_view(derived, case, MM)
    scale = float(re.search(r'data-scale="([^"]+)"', svg)[1])  # type: ignore[index]
    head = re.search(r'<circle class="limb" cx="[^"]+" cy="([^"]+)" r="([^"]+)"', svg)
    feet = max(y for ring in paths(svg, "limb") for _, y in ring)
    assert head
    top = float(head[1]) - float(head[2])
    assert (feet - top) / scale == pytest.approx(1.8, rel=0.03)


def test_a_chart_draws_its_curves_to_one_scale_and_names_them() -> None:
    """From 10 N up to 20 N down over 80°: the least lies lowest, 0 two thirds up from it."""
    curves = (Curve("cold", (10.0, 0.0, -20.0)), Curve("bare", (10.0, 8.0, 4.0), True))
    chart = Chart("Hand", "opened", (0.0, 40.0, 80.0), "lift", "N", curves)
    svg = chart_view(chart, MM)
    (cold, bare), axis = paths(svg, "chart-line"), re.search(r'chart-axis" d="M[\d.]+ ([\d.]+)H', svg)
    assert axis is not None
    zero, (top, half, low) = float(axis[1]), [y for _, y in cold]
    assert top < half < low and half == pytest.approx(zero, abs=0.1)
    assert (low - zero) / (zero - top) == pytest.approx(2.0, rel=1e-2)
    assert cold[1][0] - cold[0][0] == pytest.approx(cold[2][0] - cold[1][0], abs=0.2)
    assert bare[0] == cold[0]
    words = re.sub("<[^>]*>", " ", svg)
    assert "lift, N" in words and "cold: -20" in words and "bare: 4" in words
    assert "lift, lbf" in re.sub("<[^>]*>", " ", chart_view(chart, FEET))


def test_heads_stay_clear_of_the_words_over_the_float_drawings() -> None:
    # a line of words is 1.15 rem high and a fifth: 22 px of a drawing that is as wide as on the page
    circle = re.compile(rf'<circle class="(?:limb|person)" cx="{NUMBER}" cy="({NUMBER})" r="({NUMBER})"')
    cases = [c for c in DEMO.load_cases if c.crew and DEMO.case(c.name).state is not None]
    assert len(cases) > 5
    for case in cases:
        for svg in (
            afloat.side_view(DEMO, case, None, FEET, 640.0),
            afloat.stern_view(DEMO, case, None, FEET),
        ):
            tops = [float(y) - float(r) for y, r in circle.findall(svg)]
            assert len(tops) >= len(case.crew) and min(tops) > 22, (case.name, min(tops))
