"""Cutting jobs from outside, layouts to outside."""

import json
from typing import Any

import pytest

from stirrup.core.cutting.bars import BarJob, lay_out_bars
from stirrup.core.cutting.cut_job import Bin, Bound, CutJob, CutLayout, Lay, Part, Stock
from stirrup.core.errors import CoreError
from stirrup.exchange.cut_job import MOST_BYTES, layout_data, parse, read

SQUARE = [[0, 0], [100, 0], [100, 100], [0, 100]]


def sheets(**more: Any) -> dict[str, Any]:
    panel = {"id": "B2", "polygon": [[0, 0], [700, 0], [700, 200], [0, 250]], "holes": [], "qty": 2,
             "rotations": [0, 180], "flip": True}  # fmt: skip
    return {
        "format": "stirrup-cut-job", "version": 1, "kind": "sheets", "name": "bow", "kerf": 3.0,
        "spacing": 0.5,
        "straight_cuts": False, "max_stages": 3, "margin": 6.0,
        "sheets": [{"id": "ply12", "w": 2440, "h": 1220, "cost": 84.0, "count": None}],
        "offcuts": [{"id": "rack-7", "polygon": SQUARE, "holes": [], "cost": 0.0, "count": 1, "margin": 2}],
        "panels": [panel], **more,
    }  # fmt: skip


def sticks(**more: Any) -> dict[str, Any]:
    return {
        "format": "stirrup-cut-job", "version": 1, "kind": "sticks", "name": "frame", "kerf": 3.0,
        "trim": 5.0,
        "stock": [{"id": "angle-40-6100", "length": 6100, "cost": 39.0, "count": None}],
        "offcuts": [{"id": "r3", "length": 1430, "cost": 0, "count": 1}],
        "members": [{"id": "C1", "length": 1312.5, "qty": 2}], **more,
    }  # fmt: skip


def test_the_job_of_the_documentation_is_read_in_metres() -> None:
    job = parse(json.dumps(sheets()))
    assert isinstance(job, CutJob)
    assert (job.name, job.kerf, job.spacing, job.margin, job.gap) == ("bow", 0.003, 0.0005, 0.006, 0.003)
    ply, rack = job.stocks
    assert (ply.id, ply.cost, ply.count, ply.polygon.area) == (
        "ply12",
        84.0,
        None,
        pytest.approx(2.44 * 1.22),
    )
    assert (rack.count, job.margin_of(rack), job.margin_of(ply)) == (1, 0.002, 0.006)
    (part,) = job.parts
    assert (part.qty, part.rotations, part.flip) == (2, (0.0, 180.0), True)
    assert part.polygon.area == pytest.approx(0.7 * 0.225)  # a trapezium: 200 and 250 high


def test_a_closed_ring_and_free_turning_are_read() -> None:
    panel = {"id": "a", "polygon": [*SQUARE, SQUARE[0]], "rotations": "free"}
    job = parse(json.dumps(sheets(panels=[panel])))
    assert isinstance(job, CutJob) and job.parts[0].rotations is None and len(job.parts[0].outline) == 4


def test_sticks_are_read() -> None:
    job = parse(json.dumps(sticks()))
    assert isinstance(job, BarJob)
    assert [(s.id, s.length, s.cost, s.count) for s in job.stocks] == [
        ("angle-40-6100", 6.1, 39.0, None), ("r3", 1.43, 0.0, 1),
    ]  # fmt: skip
    assert (job.members[0].length, job.members[0].qty, job.kerf, job.trim) == (1.3125, 2, 0.003, 0.005)


OUTSIDE = [[200, 0], [210, 0], [205, 9]]
BOW_TIE = [[0, 0], [100, 100], [100, 0], [0, 100]]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"kerf": -1}, "kerf: read -1"),
        ({"kerf": float("nan")}, "kerf"),
        ({"kerf": "3"}, "kerf: read \"3\"; accepted: a number"),
        ({"kurf": 3}, "kurf: unknown key; did you mean “kerf”"),
        ({"panels": [{"id": "B9", "polygon": [[0, 0], [1, 1]]}]}, "panels[0].polygon (“B9”)"),
        ({"panels": [{"id": "B9", "polygon": BOW_TIE}]}, "(“B9”): the outline is none that can be cut"),
        ({"panels": [{"id": "B9", "polygon": SQUARE, "holes": [OUTSIDE]}]}, "Hole lies outside"),
        ({"panels": [{"id": "B9", "polygon": SQUARE, "qty": 0}]}, "[0].qty (“B9”): read 0; accepted: 1"),
        ({"panels": [{"id": "B9", "polygon": SQUARE, "rotations": []}]}, "at least 1 entries"),
        ({"panels": [{"id": "B9", "polygon": [[0, 0], [1e9, 0], [0, 1]]}]}, "accepted: 100000 or less"),
        ({"panels": [{"id": "a", "polygon": SQUARE}] * 2}, "“a” stands twice among the panels"),
        ({"panels": [{"id": k, "polygon": SQUARE, "qty": 1000} for k in "ab"]}, "2000 pieces; accepted"),
        ({"offcuts": [{"id": "ply12", "polygon": SQUARE}]}, "“ply12” stands twice among the sheets"),
        ({"sheets": [{"id": "s", "w": 0, "h": 5}]}, "sheets[0].w (“s”): read 0"),
        ({"max_stages": 1}, "max_stages: read 1; accepted: 2 or more"),
        ({"kind": "rolls"}, "kind: read \"rolls\"; accepted: sheets, sticks"),
        ({"kind": ["sheets"]}, "kind"),
        ({"format": "other"}, "format: read \"other\"; accepted: “stirrup-cut-job”"),
        ({"version": 2}, "version: read 2"),
    ],
)  # fmt: skip
def test_a_wrong_job_says_which_panel_what_was_read_and_what_is_accepted(change, said: str) -> None:
    with pytest.raises(CoreError) as told:
        parse(json.dumps(sheets(**change)))
    assert said in str(told.value) and "\n" not in str(told.value)


@pytest.mark.parametrize(
    "text",
    ["", "[]", "null", "{", '{"format": 1}', "[" * 100_000, b"\xff\xfe\x00",
     '{"format": "a", "format": "b"}',
     '{"format": "stirrup-cut-job", "version": 1, "kind": "sheets", "panels": 5}', "x" * (MOST_BYTES + 1)],
)  # fmt: skip
def test_what_is_no_job_is_refused_in_one_line(text) -> None:
    with pytest.raises(CoreError) as told:
        parse(text)
    assert "\n" not in str(told.value) and len(str(told.value)) < 400


def test_a_file_that_is_not_there_is_named() -> None:
    with pytest.raises(CoreError, match=r"nowhere\.json: cannot be read"):
        read("nowhere.json")


def test_a_layout_is_written_in_millimetres() -> None:
    part = Part("B2", ((0.0, 0.0), (1.0, 0.0), (1.0, 0.5), (0.0, 0.5)), qty=2)
    job = CutJob("bow", (Stock("ply", ((0, 0), (2, 0), (2, 1), (0, 1)), cost=84.0),), (part,))
    lays = (Lay("B2", 180.0, 1.0125, 0.53), Lay("B2", 90.5, 2.0, 0.1, True))
    out = layout_data(CutLayout(job, (Bin("ply", lays),), (), Bound(1, 84.0)), 1.23456)
    assert out == {
        "format": "stirrup-layout", "version": 1, "instance": "bow",
        "bins": [{"sheet": "ply", "placements": [
            {"panel": "B2", "rotation": 180, "x": 1012.5, "y": 530.0},
            {"panel": "B2", "rotation": 90.5, "x": 2000.0, "y": 100.0, "flipped": True},
        ]}],
        "unplaced": [], "cost": 84.0, "utilisation": 0.5, "seconds": 1.235,
        "bound": {"sheets": 1, "cost": 84.0},
    }  # fmt: skip


def test_a_layout_of_sticks_is_written() -> None:
    job = parse(json.dumps(sticks()))
    assert isinstance(job, BarJob)
    out = layout_data(lay_out_bars(job), 0.0)
    # one on the leftover of 1430 (1420 between the trims), the other on a bar
    assert out == {
        "format": "stirrup-layout", "version": 1, "instance": "frame",
        "bars": [{"stock": "r3", "pieces": ["C1"]}, {"stock": "angle-40-6100", "pieces": ["C1"]}],
        "unplaced": [], "cost": 39.0, "bound": {"cost": 39.0}, "proven": True, "seconds": 0.0,
    }  # fmt: skip
