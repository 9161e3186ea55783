"""Parts that are there because something rests on them: runners, a face's fasteners; grain."""

import math

import pytest

from stirrup.core.fittings.runners import board
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, box_lines, build_data, derive, plan, skiff_plan
from tests.crossing import crossings

LIDDED = {**HATCH, "x": 3.6, "clear_length": 0.4, "clear_width": 0.3, "runner": 0.012}


def hatch(**more):
    derived = derive(skiff_plan(fittings=[DECK, {**LIDDED, **more}]))
    return derived, next(b for b in derived.built if b.fitting == "hatch")


def runners(built) -> dict[str, float]:
    return {p.key.rsplit("/", 1)[1]: p.polygon.area for p in built.panels if "/runner/" in p.key}


def test_a_runner_is_cut_from_a_board_and_weighs() -> None:
    """Frame of 394 x 294 mm (3 mm less on each side), strips 40 mm wide."""
    derived, built = hatch(runner_cut_back=False)
    found = runners(built)
    assert set(found) == {"aft", "fore", "port", "starboard"}
    assert found["port"] == pytest.approx(0.04 * (0.394 - 0.08), abs=1e-9)
    # the hinge is fore, so the latch is aft: landing 25 less gap 1.5, half of 62 and 11 from the lid's
    # edge is 65.5; the frame's edge is at 25 + 3 - 1.5 = 26.5, its inner one at 66.5: of the body hole
    # of 50 the frame lacks all but the segment beyond that
    radius, inside = 0.025, 0.0665 - 0.0655
    segment = radius**2 * math.acos(inside / radius) - inside * math.sqrt(radius**2 - inside**2)
    # the opening's corners of 30 mm, less the 3 mm: two quarter discs of 27 mm instead of squares
    across = 0.04 * 0.294 - 2 * (1 - math.pi / 4) * 0.027**2
    assert found["aft"] == pytest.approx(across - (math.pi * radius**2 - segment), abs=6e-6)
    assert found["fore"] == pytest.approx(across, abs=2e-6)
    strip = next(p for p in built.panels if p.key.endswith("runner/fore"))
    # 12 mm of light plywood under a lid of 2.5 mm, the deck's top at 0.4
    assert strip.stock == "ply-12" and strip.centre[2] == pytest.approx(0.4 - 0.0025 - 0.006)
    assert "ply-12" in {line.item.id for line in derived.cost.lines}
    assert crossings(derived) == {}


def test_a_runner_that_is_cut_back_leaves_the_latch_its_room() -> None:
    _, whole = hatch(runner_cut_back=False)
    _, back = hatch(runner_cut_back=True)
    assert runners(back).get("aft", 0.0) < runners(whole)["aft"]
    _, without = hatch(runner=0.0)
    assert runners(without) == {}


@pytest.mark.parametrize(
    ("asked", "stock", "told"),
    [
        (0.012, "ply-12", False),
        (0.0124, "ply-12", False),
        (0.0127, "ply-12", True),
        (0.018, "pvc-19", True),
    ],
)
def test_a_board_of_another_thickness_is_told(asked: float, stock: str, told: bool) -> None:
    derived, _ = hatch(runner=asked)
    assert board(starting(), asked).id == stock
    assert any(f.code == "RUNNER" for f in derived.findings) is told


def test_a_face_is_fastened_along_its_top() -> None:
    derived = derive(plan(fittings=[{**DECK, "aft": 1.0, "fore": 2.0, "face": True}]))
    fasteners = {b.key: b for built in derived.built for b in built.bought if b.group == "fasteners"}
    # inside of 2.5 mm sides less a gap of 5 mm: 2 - 0.005 - 0.010 = 1.985 m at 75 mm: 27 spaces, 28
    assert fasteners["deck/fasteners/face"].quantity == 28
    assert "deck/fasteners/joints" not in fasteners
    grip = next(f for f in derived.findings if f.code == "GRIP" and "Face" in f.title)
    assert grip.values["grip"].value == pytest.approx(0.0025 + 0.003)
    none = derive(plan(fittings=[{**DECK, "aft": 1.0, "fore": 2.0, "face": False}]))
    assert not any(b.key.endswith("/face") for built in none.built for b in built.bought)


def test_grain_that_runs_across_is_told_and_may_be_kept_along() -> None:
    deck = {**DECK, "skin": "ply-9", "aft": 2.0, "fore": 3.0, "height": 0.3}
    boat = plan(fittings=[deck])
    told = next(f for f in derive(boat).findings if f.code == "GRAIN")
    # 2 m less skins, gaps: wider than 1.22 less margins
    assert told.level == "look" and told.values["wide"].value > 1.22 - 0.012
    closer, along = told.fixes
    assert closer.value == pytest.approx(0.75 * 0.35, abs=1e-3)
    kept = derive(apply(boat, SetValue(path=along.path, value=along.value)))
    assert not any(f.code == "GRAIN" for f in kept.findings)
    # then the skin is parted along the boat
    assert not any(f.code == "OVERSIZE" for f in kept.findings)
    assert len([p for p in kept.built[0].panels if "/skin/" in p.key]) == 2
    # a metal skin has none, and a narrow wooden one keeps it along
    assert not any(f.code == "GRAIN" for f in derive(plan(fittings=[{**deck, "skin": "al-2.5"}])).findings)
    narrow = from_data(build_data(box_lines(beam=1.2), mass=900.0, fittings=[deck]))
    assert not any(f.code == "GRAIN" for f in derive(narrow).findings)


def test_choices_that_change_nothing_are_named() -> None:
    def idle(**more) -> set[str]:
        deck = skiff_plan(fittings=[{**DECK, **more}]).fittings[0]
        return set(kind_of(deck).idle(deck, starting()))

    # "edges": how a cover ends that is not there; an inner edge is only that of a deck along a side
    posts = {"post_every", "post_of", "posts_on"}
    side = {"inner", "face_inner", "toe_high"} | posts
    assert idle(skin="al-2.5", face=True) == {"grain", "edges"} | side
    assert idle(skin="ply-9", face=True) == {"edges"} | side
    assert idle(skin="ply-9", face=False, face_fore=True, cover="carpet") == side
    assert idle(skin="ply-9", face=False, cover="carpet") == {"face_foot", "toe"} | side
    along = {"reaches": "along port", "skin": "ply-9", "cover": "carpet", "face": False}
    # a kick under its inner face
    assert idle(**along) == {"toe_high"} | posts
    assert idle(**along, face_inner=False) == {"face_foot", "toe", "toe_high"} | posts
    assert idle(**along, toe=0.08) == posts
    assert idle(skin="al-2.5", face=True, posts=1) == ({"grain", "edges"} | side) - posts
    runner = {**HATCH, "runner": 0.012}
    lids = skiff_plan(fittings=[DECK, runner, {**HATCH, "id": "other", "mark": "H2"}]).fittings
    assert [set(kind_of(f).idle(f, starting())) for f in lids[1:]] == [
        {"opens", "gutter", "axis_inside"},
        {"runner_cut_back", "opens", "gutter", "axis_inside"},
    ]


def test_a_runner_has_the_corners_of_its_opening() -> None:
    """Clear opening of 0.5 x 0.4 with corners of 80 mm, less 3 mm of play: radius 77."""
    deck = {**DECK, "aft": 1.0, "fore": 2.4}
    lid = {**HATCH, "x": 1.7, "y": 0.0, "clear_length": 0.5, "clear_width": 0.4, "corner": 0.08,
           "landing": 0.02, "runner": 0.012}  # fmt: skip
    derived = derive(plan(fittings=[deck, lid]))
    strips = [p.polygon for b in derived.built for p in b.panels if "/runner/" in p.key]
    # the middle of the fore port corner's arc stands 80 mm in from both edges of the clear opening
    x, y = 1.7 + 0.25 - 0.08, 0.2 - 0.08
    beyond = [(u, v) for s in strips for u, v in s.exterior.coords if u > x + 1e-9 and v > y + 1e-9]
    assert max(math.hypot(u - x, v - y) for u, v in beyond) == pytest.approx(0.077, abs=2e-4)
