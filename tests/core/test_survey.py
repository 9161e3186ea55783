"""The survey's arithmetic: bare hull, what to measure next, readings as a tape gives them."""

import pytest

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.bare import bare_hull
from stirrup.core.hull.mesh import build_surface
from stirrup.core.next_reading import measure_next
from stirrup.core.plan.changes import SetValue, apply
from stirrup.core.plan.readings import is_reading, read_reading, read_table
from stirrup.core.plan.survey import both_sides, surveyed, taken_out
from stirrup.core.units import SYSTEMS
from tests.boats import box_lines, hull, load, plan

MM, FEET = SYSTEMS["mm"], SYSTEMS["ft-in"]


def path(*steps: str) -> tuple[str, ...]:
    return ("hull", "lines", *steps)


def test_a_bare_box_weighs_its_skin_and_the_structure_over_it() -> None:
    # 8 m² of bottom 3 mm, 12 m² of sides and ends 2 mm: 0.048 m³ of 2680 kg/m³, times 1.9
    box = hull(box_lines(), skin={"bottom": 0.003, "side": 0.002, "transom": 0.002})
    mass = bare_hull(build_surface(box), 2680.0, 0.9)
    assert mass.value == pytest.approx(0.048 * 2680 * 1.9, abs=0.05)
    # half the skin lies at 0, half at 0.5 m
    assert mass.centre == pytest.approx((2.0, 0.0, 0.25), abs=1e-3)
    assert mass.status == "guessed"


def test_nothing_is_left_to_measure_when_all_is_measured() -> None:
    assert measure_next(hull(box_lines()), load(1600.0, (2.0, 0.0, 0.3)), 1000.0) == ()


def test_the_corner_of_a_level_box_takes_its_own_spread_off_the_freeboard() -> None:
    lines = box_lines()
    lines[2]["known"] = ["measured", "estimated"]
    wanted = measure_next(hull(lines), load(1600.0, (2.0, 0.0, 0.3)), 1000.0)
    first = wanted[0]
    assert (first.line, first.station, first.axis) == ("sheer", 1, "height")
    assert first.spread_m == 0.030
    # she floats upright and level: the corner 30 mm lower is the least freeboard, 30 mm less
    assert first.board_m == pytest.approx(0.030, abs=1e-6)
    assert sum(w.share for w in wanted) == pytest.approx(1.0)


def test_a_narrower_sheer_end_moves_the_outline_as_by_hand() -> None:
    lines = box_lines()
    lines[2]["known"], lines[2]["spread"] = ["measured", "estimated"], 0.02
    wanted = measure_next(hull(lines), load(1600.0, (2.0, 0.0, 0.3)), 1000.0, most=9)
    [width] = [w for w in wanted if w.axis == "half-width"]
    # half way up the side the end comes in by 10 mm, and from the other end it runs straight:
    # the root of the mean of (10 mm u)² over the places u of the outline
    count = len(build_surface(hull(lines)).lines[0][-1])
    u = [k / (count - 1) for k in range(count)]
    assert width.outline_m == pytest.approx(0.010 * (sum(v * v for v in u) / count) ** 0.5, rel=1e-6)
    # under water the side only leans in by a fifth of that: 0.0016 m³ less over 8 m², and trim
    assert width.board_m == pytest.approx(0.0004, abs=1e-4)


@pytest.mark.parametrize(
    ("step", "text", "units", "axis", "value"),
    [
        ("0", "1.4 m", MM, "0", 1.4),
        ("1", "812", MM, "1", 0.812),
        ("full", "1.9 m", MM, "1", 0.95),
        ("full", "70 1/2 in", FEET, "1", 70.5 * 0.0254 / 2),
        ("down@0.850", "250", MM, "2", 0.600),
        ("2", "1' 11 5/8", FEET, "2", 23.625 * 0.0254),
    ],
)
def test_a_tape_reading_becomes_its_coordinate(step, text, units, axis, value) -> None:
    change = read_reading(path("sheer", "points", "1", step), text, units)
    assert change.path == path("sheer", "points", "1", axis)
    assert change.value == pytest.approx(value, abs=1e-9)


@pytest.mark.parametrize(
    ("step", "text", "words"),
    [
        ("1", "wide", "wide"),
        ("3", "12", "no “3”"),
        ("down@x", "12", "down@"),
        ("1", "7 m", "within 5 000 mm"),
        ("0", "21 m", "within 20 000 mm"),
    ],
)
def test_a_reading_that_cannot_be_is_explained(step, text, words) -> None:
    with pytest.raises(CoreError, match=words) as error:
        read_reading(path("sheer", "points", "1", step), text, MM)
    assert error.value.place == ".".join(path("sheer", "points", "1", step))


def test_which_paths_are_readings() -> None:
    assert is_reading(path("sheer", "points", "1", "full"))
    assert not is_reading(path("sheer", "known", "1"))
    assert not is_reading(("water", "density"))


COLUMNS = ("0", "full", "down@0.85")


def test_a_pasted_block_fills_line_and_columns() -> None:
    change = read_table(plan(), path("sheer", "points", "0", "0"), "0\t1.9 m\t250\n4000\t\t230\n",
                        COLUMNS, "line", MM)  # fmt: skip
    after = apply(plan(), change)
    first, last = after.hull.lines[2].points
    assert first == pytest.approx((0.0, 0.95, 0.60))
    assert last == pytest.approx((4.0, 1.0, 0.62))  # the empty cell left its half-width alone


def test_a_block_pasted_into_a_station_runs_over_its_lines() -> None:
    text = "1.2 m\r\n1.9 m\r\n"
    change = read_table(plan(), path("chine", "points", "1", "full"), text, COLUMNS, "station", MM)
    after = apply(plan(), change)
    assert [line.points[1][1] for line in after.hull.lines] == pytest.approx([0.0, 0.6, 0.95])


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("1\t2\t3\t4", "row 1, column 4: “4” has no place"),
        ("0\n4000\n5000", "row 3, column 1: “5000” has no place"),
        ("0\nfar", "row 2, column 1"),
        (" \t \n", "the cells are empty"),
        ("\n".join(["a\tb\tc\td"] * 2), r"and \d+ more"),
        ("1\t" * 700, "up to 600 cells"),
    ],
)
def test_a_block_with_a_bad_cell_is_refused_as_a_whole(text, words) -> None:
    with pytest.raises(CoreError, match=words):
        read_table(plan(), path("sheer", "points", "0", "0"), text, COLUMNS, "line", MM)


def test_a_block_pasted_beside_the_table_is_refused() -> None:
    with pytest.raises(CoreError, match="no place here"):
        read_table(plan(), ("water", "density"), "1", COLUMNS, "line", MM)


def guessed_plan():
    lines = box_lines()
    lines[2]["known"] = "estimated"
    return plan(lines=lines)


def test_a_typed_reading_counts_as_measured_and_only_that_one() -> None:
    before = guessed_plan()
    change = surveyed(before, SetValue(path=path("sheer", "points", "1", "2"), value=0.98))
    sheer = apply(before, change).hull.lines[2]
    assert (sheer.known_at(0), sheer.known_at(1)) == ("estimated", "measured")
    again = apply(before, change)
    second = surveyed(again, SetValue(path=path("sheer", "points", "0", "1"), value=1.01))
    assert set(apply(again, second).hull.lines[2].known) == {"measured"}


def test_a_measured_reading_needs_no_more() -> None:
    change = SetValue(path=path("keel", "points", "1", "2"), value=0.002)
    assert surveyed(guessed_plan(), change) is change


def test_starboard_starts_as_port_and_estimated() -> None:
    after = apply(plan(), both_sides(plan()))
    assert after.hull.starboard is not None
    assert after.hull.starboard[2].points == after.hull.lines[2].points
    assert after.hull.starboard[2].known_at(0) == "estimated"
    with pytest.raises(CoreError, match="measured already"):
        both_sides(after)


AT: Point = (1.2, 0.3, 0.1)


def test_what_was_taken_out_stands_in_the_ledger_at_its_place() -> None:
    before = plan(condition=[{"id": "place-1", "kind": "wet", "at": AT, "size": 0.4}])
    change = taken_out(before, "place-1", 14.5, "floor core")
    after = apply(before, change)
    [item] = after.items
    assert (item.stage, item.in_hull_mass, item.mass.value, item.mass.centre) == ("removed", True, 14.5, AT)
    assert after.condition[0].removed == item.id
    with pytest.raises(CoreError, match="already"):
        taken_out(after, "place-1", 3.0, "")
    with pytest.raises(CoreError, match="no place"):
        taken_out(after, "place-7", 3.0, "")
