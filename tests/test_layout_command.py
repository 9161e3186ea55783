"""`./run layout` as a shell sees it."""

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from stirrup.layout_command import main
from tests.exchange.test_cut_job import SQUARE, sheets, sticks


@pytest.fixture
def job(tmp_path):
    def write(data) -> str:
        path = tmp_path / "job.json"
        path.write_text(json.dumps(data))
        return str(path)

    return write


def run(capsys, *args: str):
    code = main(list(args))
    out, err = capsys.readouterr()
    return code, out, err


def test_a_layout_as_json(capsys, job) -> None:
    code, out, err = run(capsys, job(sheets()), "--work", "20", "--json")
    data = json.loads(out)
    assert (code, err, data["format"], data["cost"], data["unplaced"]) == (
        0,
        "",
        "stirrup-layout",
        84.0,
        [],
    )
    assert [p["panel"] for b in data["bins"] for p in b["placements"]] == ["B2", "B2"]


def test_a_table_for_people(capsys, job) -> None:
    code, out, _ = run(capsys, job(sheets()), "--work", "20")
    assert code == 0 and "ply12" in out and "B2 x 2" in out and "cost 84, none can cost less" in out
    code, out, _ = run(capsys, job(sticks()))
    assert code == 0 and "r3" in out and "cost 39, none can cost less" in out


def test_what_goes_on_nothing_is_exit_4_and_the_rest_is_laid(capsys, job) -> None:
    large = {"id": "big", "polygon": [[0, 0], [2500, 0], [2500, 1000], [0, 1000]]}
    code, out, err = run(
        capsys, job(sheets(panels=[large, {"id": "a", "polygon": SQUARE}])), "--work", "2", "--json"
    )
    assert (code, json.loads(out)["unplaced"]) == (4, ["big"])
    # 2500 on 2440 less twice 6
    assert err == ("no place for big: 72.0 mm too long for “ply12”, which comes nearest, with its margin\n")
    long = {"id": "mast", "length": 7000}
    code, out, err = run(capsys, job(sticks(members=[long])), "--json")
    assert code == 4 and "mast: 910.0 mm too long for the longest bar" in err


def test_straight_cuts_may_be_asked_for(capsys, job) -> None:
    # four round a hole: free on one sheet, straight on two
    cut = [{"id": str(k), "polygon": [[0, 0], [w, 0], [w, h], [0, h]]} for k, (w, h) in
           enumerate([(600, 400), (400, 600)] * 2)]  # fmt: skip
    data = sheets(kerf=0, spacing=0, margin=0, offcuts=[], panels=cut)
    data["sheets"] = [{"id": "s", "w": 1000, "h": 1000, "cost": 10}]
    costs = [json.loads(run(capsys, job(data), "--work", "200", "--json", *more)[1])["cost"]
             for more in ((), ("--straight-cuts",))]  # fmt: skip
    assert costs == [10, 20]


@pytest.mark.parametrize(
    "args",
    [
        ("--seconds", "0"),
        ("--seconds", "x"),
        ("--seconds", "nan"),
        ("--work", "-1"),
        ("--seconds", "1", "--work", "2"),
    ],
)
def test_wrong_words_are_exit_2_and_one_line(capsys, job, args) -> None:
    code, out, err = run(capsys, job(sheets()), *args)
    assert (code, out, err.count("\n")) == (2, "", 1)


def test_a_wrong_job_is_exit_2_and_one_line(capsys, job) -> None:
    code, out, err = run(capsys, job(sheets(kerf=-3)))
    assert (code, out, err) == (2, "", "kerf: read -3; accepted: 0 or more\n")


@pytest.mark.slow
def test_told_to_end_it_gives_the_best_so_far(job) -> None:
    cut = [{"id": str(k), "polygon": [[0, 0], [900 + 13 * k, 0], [0, 800 - 7 * k]], "rotations": [0, 180]}
           for k in range(40)]  # fmt: skip
    main([job(sheets(panels=cut[:2])), "--work", "0"])  # what is compiled is compiled by now
    command = [sys.executable, "-m", "stirrup.layout_command", job(sheets(panels=cut))]
    process = subprocess.Popen(
        [*command, "--seconds", "100", "--json"],
        stdout=subprocess.PIPE, env=os.environ | {"PYTHONPATH": str(Path.cwd())},
    )  # fmt: skip
    time.sleep(4)
    told = time.monotonic()
    process.send_signal(signal.SIGTERM)
    out, _ = process.communicate(timeout=20)
    assert time.monotonic() - told < 2
    assert process.returncode == 0 and len(json.loads(out)["bins"]) >= 5
