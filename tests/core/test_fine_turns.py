"""Every statement that something is fine turns when its condition is broken, and only then.

Each row breaks one condition of a demo boat: the value still inside leaves the statement as it is,
the value outside turns it. What is not here is listed with the test that turns it.
"""

import ast
from collections.abc import Callable
from copy import deepcopy
from pathlib import Path
from typing import Any

import pytest

from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data
from tests.boats import derive

CORE = Path(__file__).parent.parent.parent / "stirrup" / "core"
Data = dict[str, Any]

# turned in tests of their own, on both sides of their limits
ELSEWHERE = {
    "WAY-OUT": "test_fit.py", "STEP": "test_fit.py", "CONSOLE": "test_fit.py", "REACH-IN": "test_fit.py",
    "BOLTS": "test_tools.py", "DECK-LANDS": "test_raised_deck.py", "LIP": "test_raised_deck.py",
    "EYE-LINE": "test_sight.py", "SKIN-JOINT": "test_skin_joint.py", "WALKWAY": "test_fit.py",
    "BOX-FOOT": "test_step_box.py", "LID-GIVES": "test_seat_box.py", "LONGEST": "test_locker_box.py",
    "STRUT": "test_lid_support.py",
    "HOLD-DOWN": "test_battery_tray.py",
    "TERMINALS": "test_battery_tray.py", "WELL-BULGES": "test_well_box.py",
    "HOMES": "test_stowage.py", "HOME-FULL": "test_stowage.py",
    "DASH": "test_console_box.py", "FLOOR-GIVES": "test_floor.py", "FLOOR-BEARS": "test_floor.py",
    "CUT": "test_already.py", "FLOOR-DRAINS": "test_fall.py",
    "BESIDE-DRAINS": "test_fall.py",
    "SEAT-HOLDS": "test_pedestal_seat.py", "DOOR-RIM": "test_face_door.py",
    "LINING-BENDS": "test_lining.py", "GUTTER": "test_hatch.py", "HINGE-CORNER": "test_hinges.py",
    "BOX-FOLDS": "test_face_door.py", "DOOR-NEAR": "test_face_door.py",
    "WELL-LOW": "test_bilge_well.py", "WELL-PUMP": "test_bilge_well.py",
    **dict.fromkeys(
        ("BED-FEET", "BED-HIGH", "BED-BOLTS", "BED-CRUSH", "BED-ALIGN"), "test_engine_bed.py"
    ),
    "PATCH-TAPER": "test_patch.py", "PATCH-PLIES": "test_patch.py",
    "MOTOR-SETBACK": "test_hung.py", "MOTOR-TWIN": "test_hung.py",
    "SEAM-HEAT": "test_seams.py",
    "STEP-HOLDS": "test_swim_step.py", "STEP-BAYS": "test_swim_step.py",
    **dict.fromkeys(("SPLASH-DRAINS", "SPLASH-FALLS", "SPLASH-HIGH"), "test_splash_well.py"),
    **dict.fromkeys(("DASH-MOULD", "DASH-CORNERS", "DASH-SKIN"), "test_moulded_dash.py"),
    "CUTOUT-RIM": "test_cutout.py", "CUTOUT-EDGE": "test_cutout.py",
    "MACHINES": "test_machines.py", "TRIED": "test_refit.py",
    "MOVED": "test_relocated.py",
    "SUB-IN": "test_assembled.py", "SUB-LIFT": "test_assembled.py",
    "BULKHEAD-HOLES": "test_bulkhead.py", "BAYS": "test_bays.py", "STANDS": "test_stood.py",
    "KNEES-COAT": "test_knees.py", "STRINGER-NOTCH": "test_stringer.py",
    **dict.fromkeys(("SECTION-BENDS", "SECTION-JOINT", "SECTION-STIFF"), "test_section_stringer.py"),
    "TOES": "test_toes.py", "LEAN-HOLDS": "test_leaning_post.py", "LEAN-HEIGHT": "test_leaning_post.py",
    "MOTOR-HEIGHT": "test_motor_height.py",
    "TOP-WET": "test_console_box.py", "FOLDS": "test_folding.py",
    "FILL-FALLS": "test_tank_cradle.py", "TANK-GROWS": "test_tank_cradle.py",
    "SPARKS": "test_tank_cradle.py",
    "RESTRAINT-HOLDS": "test_restraint_seat.py", "RESTRAINT-BRACKET": "test_restraint_seat.py",
    "FRAME-TRIM": "test_frame.py",
    "CHASE": "test_console_extras.py",
    "BOLTED-HOLDS": "test_deck_fitting.py",
    "CATCH": "test_latching.py",
    "TANK-REACH": "test_tank_cradle.py", "ROD-TUBES": "test_locker_box.py",
    "BULKHEAD-RIM": "test_bulkhead.py", "BULKHEAD-IN": "test_bulkhead.py",
    "BULKHEAD-JOINT": "test_bulkhead.py",
    "PODS-TRAY": "test_pods.py", "PODS-ROOM": "test_pods.py", "PODS-JOINT": "test_pods.py",
    "LINER-WRAPS": "test_liner.py", "LINER-HEAT": "test_liner.py",
    "LINER-GROWS": "test_liner.py", "LINER-RIVETS": "test_liner.py", "LINER-BENDS": "test_liner.py",
    "KNEES-JOINT": "test_knees.py",
    "EDGE-HELD": "test_edge_run.py",
    "FOAM-DRAIN": "test_foam_fill.py",
    "STRINGER-JOINT": "test_stringer.py", "STRINGER-WATER": "test_stringer.py",
    "TRANSOM-THICK": "test_transom.py", "TRANSOM-TOP": "test_transom.py",
    "TRANSOM-BOLTS": "test_transom.py", "TRANSOM-BENDS": "test_transom.py",
    "POSTS": "test_posts.py",
    "DECK-GIVES": "test_deck_feel.py", "MEMBER-GIVES": "test_deck_feel.py",
    "RUN-BENDS": "test_cable_run.py", "RUN-TURNS": "test_cable_run.py",
    "RUN-PASSES": "test_cable_run.py",
}  # fmt: skip
# tells where to drill, how much to order; what makes it wrong has findings of its own
TELLS = {
    "LATCH-PLACE",
    "RUN-LENGTH",
    "PAINT-AREA",
    "STRINGER-STIFF",
    "FOAM-LITRES",
    "PODS-LIFT",
    "EDGE-LENGTH",
}
# their level is a variable, and none of its values is fine
NEVER = {"NO-FLOAT", "WATER-IN", "HEAD"}


def of(data: Data, group: str, id_: str) -> Data:
    return next(x for x in data[group] if x["id"] == id_)


def put(group: str, id_: str, *path: str | int) -> Callable[[Data, Any], None]:
    """Sets one value of a thing of the plan."""

    def change(data: Data, value: Any) -> None:
        place: Any = of(data, group, id_) if id_ else data[group]
        for key in path[:-1]:
            place = place[key]
        place[path[-1]] = value

    return change


def lift(id_: str, axis: int) -> Callable[[Data, Any], None]:
    """Moves an item along an axis by so much [m]."""

    def change(data: Data, by: float) -> None:
        of(data, "items", id_)["mass"]["centre"][axis] += by

    return change


heavy = put("hull", "", "mass", "value")
riveted = put("fittings", "aft-deck", "rivet")


def small(data: Data, length: float) -> None:
    """A hatch as narrow as a hand, and so long [m]."""
    of(data, "fittings", "hatch-ropes").update(clear_width=0.1, clear_length=length)


def raise_crew(data: Data, by: float) -> None:
    """Everybody who sits, sits so much higher [m]."""
    for case in data["cases"]:
        for person in case["crew"]:
            person["at"][2] += by * (person["posture"] == "seated")


def move_ropes(data: Data, by: float) -> None:
    of(data, "fittings", "hatch-ropes")["x"] += by


def move_tackle(data: Data, by: float) -> None:
    of(data, "fittings", "hatch-tackle")["y"] += by


def spike(data: Data, up: float) -> None:
    """One reading of the chine in the middle of the boat is off by so much [m]."""
    line = next(x for x in data["hull"]["lines"] if x["name"] == "chine")
    line["points"][len(line["points"]) // 2][2] += up


# code, place, boat, what is changed, a value that leaves it fine, one that does not
TABLE = [
    # 2.5 + 3 mm; the short rivet holds 4.8, the next one 6.4
    ("GRIP", "aft-deck", "sedge-hopper", riveted, "rivet-4.8x10", "rivet-4.8x8"),
    # edges 15 mm apart share a member whose flange reaches 20, those 21 mm apart do not
    ("DECK-SUPPORT", "bow-deck", "sedge-hopper", move_ropes, 0.015, 0.021),
    # 187 mm of deck are left beside it, 40 are needed
    ("HATCH-EDGE", "hatch-tackle", "sedge-hopper", move_tackle, 0.16, 0.18),
    # the latch holds 6.0 mm; the lid has 2.5, and what is under its flange 2
    ("LATCH-GRIP", "hatch-ropes", "sedge-hopper", put("fittings", "hatch-ropes", "runner"), 0.0, 0.012),
    # a hand needs 100 x 150 mm
    ("OPENING", "hatch-ropes", "sedge-hopper", small, 0.15, 0.149),
    ("READINGS", "hull", "sedge-hopper", spike, 0.0, 0.08),
    # 55 kW on the label, 44 at the transom
    ("POWER", "motor", "sedge-hopper", put("label", "", "power_kw"), 44.0, 43.9),
    ("BUDGET", "money", "teal-mule", put("wishes", "", "budget"), "712.89", "712.88"),
    # rise of 0.425 over the floor, fits up to 0.458
    ("SEAT-HEIGHT", "seat-helm", "sedge-hopper", raise_crew, 0.030, 0.040),
    # 0.210 from cushion to rim, 0.19 is needed: the helmsman sits where his case says
    ("WHEEL", "console", "sedge-hopper", lift("console", 2), -0.015, -0.025),
    # 0.746 of 0.748
    ("REACH", "console", "sedge-hopper", lift("console", 0), 0.001, 0.020),
    # his eye is 0.064 under its upper edge, 0.05 is too near to it
    ("SCREEN", "windscreen", "sedge-hopper", lift("windscreen", 2), -0.012, -0.016),
    # his feet have 0.676 m to the battery at 2.3 m, 0.1 are needed
    ("FEET", "crew", "teal-mule", lift("battery", 0), -0.3, -0.62),
    # so heavy that one at the helm leaves 0.20 m over the water, the limit
    ("FREEBOARD", "one at the helm", "sedge-hopper", heavy, 1408.0, 1428.0),
    ("MOMENT", "one standing on the gunwale", "sedge-hopper", heavy, 1780.0, 1810.0),
]  # fmt: skip


def level(boat: str, change: Callable[[Data, Any], None], value: Any, code: str, place: str) -> set[str]:
    data = deepcopy(demo_plan(f"{boat}.stirrup.json").model_dump(mode="json"))
    change(data, value)
    return {f.level for f in derive(from_data(data)).findings if f.code == code and f.place == place}


@pytest.mark.slow
@pytest.mark.parametrize(
    ("code", "place", "boat", "change", "inside", "outside"), TABLE, ids=[f"{r[0]}-{r[1]}" for r in TABLE]
)
def test_what_is_fine_turns(code, place, boat, change, inside, outside) -> None:
    assert level(boat, change, inside, code, place) == {"fine"}
    worse = level(boat, change, outside, code, place) - {"fine"}
    # readings that are off have codes of their own: then nothing says that they run fair
    assert worse or (code == "READINGS" and not level(boat, change, outside, code, place))


@pytest.mark.slow
def test_no_statement_is_left_out() -> None:
    """Codes of all findings in the core that may be fine, from its source."""
    found: set[str] = set()
    for file in CORE.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Finding":
                code, level = node.args[:2]
                may = isinstance(level, ast.Name) or any(
                    isinstance(n, ast.Constant) and n.value == "fine" for n in ast.walk(level)
                )
                if isinstance(code, ast.Constant) and may:
                    found.add(code.value)
    found -= NEVER
    assert len(found) > 12
    assert found <= {row[0] for row in TABLE} | set(ELSEWHERE) | TELLS
    for code, name in ELSEWHERE.items():
        assert f'"{code}"' in (Path(__file__).parent / name).read_text(), code
