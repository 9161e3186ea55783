import pytest

from stirrup.core.units import SYSTEMS
from stirrup.exchange.offsets import mend_cells, read_offsets, turn_round, write_offsets
from tests.boats import hull, skiff_plan, wedge_lines

MM, INCHES = SYSTEMS["mm"], SYSTEMS["in"]
GOOD = """line,station,x,y,z,side,status,note
,,mm,mm,mm,,,
keel,1,0,0,0,both,measured,
keel,2,4000,0,0,,,
sheer,1,0,1000,600,,,
sheer,2,4000,900,650,,,
"""


def test_a_clean_table_becomes_lines() -> None:
    table = read_offsets(GOOD, MM)
    assert table.problems == []
    assert [line.name for line in table.lines] == ["keel", "sheer"]
    assert table.lines[1].points == ((0.0, 1.0, 0.6), (4.0, 0.9, 0.65))
    assert table.readings == 4


def test_tape_fractions_and_own_units_are_read_cell_by_cell() -> None:
    text = "line;station;x;y;z\nkeel;1;0;0;0\nkeel;2;13 ft;0;0\nsheer;1;0;40 1/2;2'\nsheer;2;3962.4 mm;39;24\"\n"  # noqa: E501
    table = read_offsets(text, INCHES)
    assert table.problems == []
    assert table.lines[1].points[0] == pytest.approx((0, 1.0287, 0.6096))
    assert table.lines[1].points[1] == pytest.approx((3.9624, 0.9906, 0.6096))


def test_what_is_written_is_read_back() -> None:
    plan = skiff_plan()
    again = read_offsets(write_offsets(plan.hull), MM)
    assert again.problems == []
    assert [line.points for line in again.lines] == [line.points for line in plan.hull.lines]


def test_both_sides_survive() -> None:
    both = hull(wedge_lines(0.2), starboard=wedge_lines(0.2, half=0.98))
    again = read_offsets(write_offsets(both), MM)
    assert again.starboard is not None
    assert again.starboard[2].points[0] == pytest.approx((0, 0.98, 1))


@pytest.mark.parametrize(
    ("old", "new", "row", "column", "words"),
    [
        ("keel,2,4000", "keel,2,far", 4, "x", "read “far” as a length"),
        ("keel,2,4000", "keel,two,4000", 4, "station", "accepted: 1, 2, 3"),
        ("sheer,1,0,1000", "sheer,1,0,-1000", 5, "y", "half-widths are 0 or more"),
        ("sheer,1,0,1000,600,", "sheer,1,0,1000,600,left", 5, "side", "accepted: port, starboard"),
        ("keel,1,0,0,0,both,measured", "keel,1,0,0,0,both,sure", 3, "status", "accepted: measured"),
        ("keel,2,4000", "keel,2,-4000", 4, "x", "is it measured from the bow?"),
        ("keel,2,4000", "keel,1,4000", 4, "station", "stands twice"),
        (",1,0,1000", ",1,0,1000000", 5, "y", "check the units"),
        ("sheer,2,", ",2,", 6, "line", "empty"),
        ("sheer,2,4000,900,650,,,\n", "", 5, "line", "one reading only"),
    ],
)
def test_every_problem_is_named_by_cell(old, new, row, column, words) -> None:
    table = read_offsets(GOOD.replace(old, new), MM)
    assert table.lines == ()
    assert any(words in text for text in table.at(row, column)), table.problems


def test_all_problems_are_reported_at_once() -> None:
    text = GOOD.replace("keel,2,4000", "keel,2,far").replace("sheer,1,0,1000", "sheer,1,0,wide")
    assert len(read_offsets(text, MM).problems) == 2


def test_lines_of_different_length_are_named() -> None:
    table = read_offsets(GOOD + "sheer,3,4500,100,700,,,\n", MM)
    assert any("every line needs the same stations" in p.text for p in table.problems)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "the table is empty"),
        ("a,b\n1,2\n", "no column “line”"),
        ("line,station,x,y,z,colour\n", "unknown column"),
        ("line,station,x,y,z\n", "no readings"),
    ],
)
def test_tables_without_sense_are_explained(text: str, words: str) -> None:
    assert any(words in p.text for p in read_offsets(text, MM).problems)


def test_a_sheer_under_the_chine_is_refused_as_a_whole() -> None:
    text = GOOD.replace("sheer", "chine") + "sheer,1,0,1100,100,,,\nsheer,2,4000,1000,100,,,\n"
    assert any("below the lowest chine point" in p.text for p in read_offsets(text, MM).problems)


BACKWARD = """line,station,x,y,z
,,mm,mm,mm
keel,1,4000,0,0
keel,2,1500,0,0
keel,3,-30,0,100
sheer,1,4060,1000,600
sheer,2,1500,950,620
sheer,3,-200,400,650
"""


def test_distances_taken_from_the_bow_are_turned_round() -> None:
    assert read_offsets(BACKWARD, MM).backward
    again = read_offsets(turn_round(BACKWARD, MM, "x"), MM)
    assert again.problems == []
    # the first distance of the keel is the transom foot: 4000 less each
    assert [p[0] for p in again.lines[0].points] == pytest.approx([0.0, 2.5, 4.03])
    assert [p[0] for p in again.lines[1].points] == pytest.approx([-0.06, 2.5, 4.2])


def test_stations_counted_from_the_bow_are_counted_again() -> None:
    again = read_offsets(turn_round(BACKWARD, MM, "stations"), MM)
    assert again.problems == []
    assert again.lines[1].points == ((-0.2, 0.4, 0.65), (1.5, 0.95, 0.62), (4.06, 1.0, 0.6))


def test_a_table_with_one_slip_is_not_turned_round() -> None:
    slip = GOOD.replace("keel,2,4000", "keel,2,-4000")
    assert not read_offsets(slip, MM).backward
    assert turn_round(slip, MM, "x") == slip


def test_mended_cells_stay_where_they_are() -> None:
    assert mend_cells("a,b\n1,2\n", {(2, 1): "3 mm", (9, 0): "x"}) == "a,b\n1,3 mm\n"


def test_how_a_reading_is_known_goes_out_and_in() -> None:
    lines = wedge_lines(0.2)
    lines[2]["known"] = ["measured", "estimated"]
    again = read_offsets(write_offsets(hull(lines)), MM)
    assert again.lines[2].known == ("measured", "estimated")
