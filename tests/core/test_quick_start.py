import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from stirrup.core.hull.mesh import build_surface
from stirrup.core.hull.model import QuickStart
from stirrup.core.hull.quick import STATIONS, follow_quick, quick_lines, unread
from stirrup.core.plan.start import new_plan
from tests.boats import hull

SHAPES = [
    "flat bottom, square bow", "flat bottom, pointed", "vee", "jet, centre pad", "round bilge",
]  # fmt: skip
shapes = st.sampled_from(SHAPES)


@st.composite
def quick_starts(draw) -> QuickStart:
    beam = draw(st.floats(1.2, 2.5))
    data = {
        "shape": draw(shapes),
        "length": draw(st.floats(3.0, 7.0)),
        "beam": beam,
        "bottom": beam * draw(st.floats(0.55, 0.95)),
        "side_aft": draw(st.floats(0.45, 0.7)),
        "side_middle": draw(st.floats(0.45, 0.7)),
        "side_bow": draw(st.floats(0.6, 1.0)),
        "deadrise_aft": draw(st.floats(0.0, 14.0)),
        "deadrise_middle": draw(st.floats(0.0, 18.0)),
        "transom_rake": draw(st.floats(-5.0, 20.0)),
        "bow_rake": draw(st.floats(0.0, 45.0)),
    }
    try:
        return QuickStart(**data)
    except ValidationError:
        assume(False)
        raise


@settings(max_examples=60, deadline=None)
@given(quick_starts())
def test_the_hull_has_what_the_tape_said(quick: QuickStart) -> None:
    lines = {line.name: line for line in quick_lines(quick)}
    sheer = lines["sheer"].points
    outside = build_surface(hull([line.model_dump() for line in lines.values()])).outside
    assert float(outside.high[0] - outside.low[0]) == pytest.approx(quick.length, abs=2e-3)
    assert float(outside.high[1] - outside.low[1]) == pytest.approx(quick.beam, abs=1e-3)
    middle = STATIONS // 2
    for k, height in ((0, quick.side_aft), (middle, quick.side_middle), (-1, quick.side_bow)):
        assert sheer[k][2] == pytest.approx(height, abs=1e-4)
    # transom and stem stand as they lean: over the height of the side
    keel = lines["keel"].points
    assert keel[0][0] - sheer[0][0] == pytest.approx(
        math.tan(math.radians(quick.transom_rake)) * quick.side_aft, abs=2e-4
    )
    assert sheer[-1][0] - keel[-1][0] == pytest.approx(
        math.tan(math.radians(quick.bow_rake)) * (quick.side_bow - keel[-1][2]), abs=2e-4
    )
    if "chine" in lines:
        chine = lines["chine"].points[0]
        assert 2 * chine[1] == pytest.approx(quick.bottom, abs=2e-4)
        degrees = 0.0 if quick.shape.startswith("flat") else quick.deadrise_aft
        assert chine[2] == pytest.approx(math.tan(math.radians(degrees)) * chine[1], abs=2e-4)
    assert {w for line in lines.values() for w in line.known} == {"estimated"}


def test_measured_readings_stay_when_the_quick_start_changes() -> None:
    quick = QuickStart()
    keel, chine, sheer = quick_lines(quick)
    points, known = list(sheer.points), list(sheer.known)
    points[3], known[3] = (points[3][0], 0.987, 0.612), "measured"
    typed = sheer.model_copy(update={"points": tuple(points), "known": tuple(known)})
    wider = QuickStart(beam=2.0)
    after = follow_quick((keel, chine, typed), wider)
    assert after[2].points[3][1:] == (0.987, 0.612)
    assert after[2].known_at(3) == "measured"
    assert after[2].points[4][1] == pytest.approx(1.0)  # half of the new beam
    assert after[2].known_at(4) == "estimated"


def test_another_family_replaces_the_lines_as_a_whole() -> None:
    after = follow_quick(quick_lines(QuickStart()), QuickStart(shape="jet, centre pad"))
    assert [line.name for line in after] == ["keel", "pad", "chine", "sheer"]


def test_the_pad_of_a_jet_hull_is_level() -> None:
    keel, pad, *_ = quick_lines(QuickStart(shape="jet, centre pad"))
    assert [p[2] for p in pad.points] == [p[2] for p in keel.points]


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"bottom": 1.9, "beam": 1.8}, "wider than the greatest beam"),
        ({"deadrise_aft": 30.0, "side_aft": 0.3}, "too near the sheer"),
        ({"length": 1.2}, "greater than or equal to 1.5"),
    ],
)
def test_readings_that_make_no_boat_are_refused(wrong, words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        QuickStart(**wrong)


@pytest.mark.parametrize("shape", SHAPES)
def test_every_family_starts_a_plan(shape: str) -> None:
    plan = new_plan("Marsh Wren", QuickStart(shape=shape))
    assert plan.hull.mass.status == "guessed"
    # 0.6 to 1.2 times the skin over it, and a skin of 4.5 x 1.8 m in 2 to 2.5 mm aluminium
    assert 80 < plan.hull.mass.value < 260
    assert plan.hull.quick is not None


def test_a_weighed_hull_is_taken_as_weighed() -> None:
    plan = new_plan("Marsh Wren", QuickStart(), "fiberglass", 212.0)
    assert (plan.hull.mass.value, plan.hull.mass.status) == (212.0, "weighed")
    assert plan.hull.material == "fiberglass laminate"


READINGS = [n for n in QuickStart.model_fields if n != "shape"]


@pytest.mark.parametrize("name", READINGS)
@pytest.mark.parametrize("shape", SHAPES)
def test_every_reading_that_is_asked_for_changes_the_hull_and_no_other(shape: str, name: str) -> None:
    quick = QuickStart(shape=shape)
    other = quick.model_copy(update={name: getattr(quick, name) * 1.1})
    changed = quick_lines(quick) != quick_lines(other)
    assert changed is (name not in unread(shape))


def test_a_round_bilge_leaves_the_keel_at_its_deadrise_and_turns_inside_its_chine() -> None:
    quick = QuickStart(shape="round bilge", bottom=1.2, deadrise_aft=10.0, side_aft=0.6)
    lines = {line.name: line.points[0] for line in quick_lines(quick)}
    # keel (0, 0), corner at half the bottom (0.6, 0.6 tan 10°), sheer (y, 0.6). Half way along the
    # conic of weight 1.5 lies (keel + 2 · 1.5 corner + sheer) / (2 + 2 · 1.5)
    rise = 0.6 * math.tan(math.radians(10))
    sheer = lines["sheer"][1]
    half = ((3 * 0.6 + sheer) / 5, (3 * rise + 0.6) / 5)
    assert lines["bilge 2"][1:] == pytest.approx(half, abs=2e-4)
    # the first line lies above the straight bottom and inside the corner
    y, z = lines["bilge 1"][1:]
    assert z > y * math.tan(math.radians(10)) and y < 0.6


def test_a_flat_bottom_is_not_refused_for_a_deadrise_that_it_has_not() -> None:
    steep = {"deadrise_aft": 30.0, "bottom": 1.8, "side_aft": 0.5}
    assert QuickStart(shape="flat bottom, pointed", **steep).bottom == 1.8
    with pytest.raises(ValidationError, match="deadrise_aft"):
        QuickStart(shape="vee", **steep)
