"""What is larger than its stock is a stop on the page of the thing, not a gap in the shopping list."""

import pytest

from stirrup.core.cutting.checks import oversize_findings
from stirrup.core.cutting.sheets import Blank, SheetJob, lay_out
from stirrup.core.cutting.sticks import Piece, StickJob, lay_out_sticks
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, box_lines, derive, plan


def rectangle(length: float, width: float, **more) -> Blank:
    ring = ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))
    return Blank("lid/panel", "H1-{L}", ring, **more)


@pytest.mark.parametrize("quick", [False, True])
@pytest.mark.parametrize(
    ("length", "width", "turns", "fits"),
    [
        # a sheet of 2.44 x 1.22 less 6 mm on every edge is 2.428 x 1.208
        (2.427, 1.207, (0, 180), True),
        (2.429, 1.0, (0, 90, 180, 270), False),
        (2.0, 1.209, (0, 180), False),
        # across the grain: fits turned, but may not be
        (1.0, 2.0, (0, 90), True),
        (1.0, 2.0, (0, 180), False),
    ],
)
def test_a_part_is_told_just_outside_the_stock_and_not_just_inside(
    quick, length, width, turns, fits
) -> None:
    job = SheetJob("ply-12", 2.44, 1.22, (rectangle(length, width, rotations=turns),))
    told = oversize_findings(starting(), [lay_out(job, quick)], [])
    assert [f.place for f in told] == ([] if fits else ["lid"])
    for finding in told:
        assert finding.level == "stop" and finding.remedy
        turned = 90 in turns
        assert finding.values["length"].value == pytest.approx(max(length, width) if turned else length)
        # what would fit the other way round is told by its grain
        assert ("across the grain" in finding.text) is not turned
        assert finding.values["most_width"].value == pytest.approx(1.208)
        # a typed brace does not become a hole in the sentence
        finding.text.format(**dict.fromkeys(finding.values, ""))


@pytest.mark.parametrize(("length", "fits"), [(6.089, True), (6.091, False)])
def test_a_member_longer_than_a_stick_is_told(length: float, fits: bool) -> None:
    # 6.1 m less 5 mm at each end
    job = StickJob("angle-40x40x3", 6.1, (Piece("deck/x1", length),))
    told = oversize_findings(starting(), [], [lay_out_sticks(job)])
    assert [f.values["length"].value for f in told] == ([] if fits else [pytest.approx(length)])
    assert [f.values["most_length"].value for f in told] == ([] if fits else [pytest.approx(6.09)])
    assert [f.working.result.value for f in told] == ([] if fits else [pytest.approx(6.09)])


def test_a_lid_wider_than_a_sheet_stops_the_plan_and_a_smaller_one_does_not() -> None:
    def stops(clear: float) -> list[str]:
        deck = {**DECK, "aft": 0.3, "fore": 3.7}
        lid = {**HATCH, "x": 2.0, "clear_length": 1.5, "clear_width": clear}
        found = derive(plan(lines=box_lines(), fittings=[deck, lid])).findings
        return [f.place for f in found if f.code == "OVERSIZE"]

    # lid 1.5 + 2 (landing - gap) by the same: over 1.208 m both ways from 1.2 clear on
    assert stops(1.25) == ["hatch"]
    assert stops(1.0) == []
