import io
import json
import math
from itertools import pairwise

import pytest

from stirrup.cli import main
from stirrup.demo.seed import FILES, FOLDER
from tests.boats import DECK, box_lines, build_data


@pytest.fixture
def build(tmp_path):
    def write(**more) -> str:
        path = tmp_path / "boat.stirrup.json"
        path.write_text(json.dumps(build_data(**more)))
        return str(path)

    return write


def run(capsys, *args: str):
    code = main(list(args))
    out, err = capsys.readouterr()
    return code, out, err


KEYS = {
    "case", "mass_kg", "centre_m", "volume_m3", "buoyancy_centre_m", "waterplane_at_origin_m", "trim_deg",
    "list_deg", "draft_at_origin_m", "gm_transverse_m", "gm_longitudinal_m", "freeboard_least_m",
    "freeboard_least_at_m", "freeboard_bow_m", "sink_10mm_kg", "trim_10mm_kgm", "list_1deg_kgm", "spread",
    "free_surface_m", "floods",
}  # fmt: skip


def test_float_prints_every_key_of_the_documentation(capsys, build) -> None:
    code, out, _ = run(capsys, "float", build(centre=(1.9, 0.05, 0.3)), "--json")
    rows = json.loads(out)
    assert code == 0
    assert [r["case"] for r in rows] == ["planned, empty", "as found"]
    assert set(rows[0]) == KEYS
    assert set(rows[0]["spread"]) == {"mass_kg", "trim_deg", "list_deg", "freeboard_least_m"}
    assert rows[0]["waterplane_at_origin_m"] == pytest.approx(0.23092, rel=1e-3)
    assert rows[0]["spread"]["mass_kg"] == pytest.approx(16)  # weighed: 1 %


def test_one_case_is_one_object(capsys, build) -> None:
    code, out, _ = run(capsys, "float", build(), "--case", "as found", "--json")
    assert code == 0 and json.loads(out)["case"] == "as found"


def test_float_reads_standard_input(capsys, monkeypatch) -> None:
    data = json.dumps(build_data()).encode()
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(data)))
    code, out, _ = run(capsys, "float", "-", "--json")
    assert code == 0 and len(json.loads(out)) == 2


def test_tables_are_for_people(capsys, build) -> None:
    code, out, _ = run(capsys, "float", build())
    assert code == 0 and "trim" in out and "planned, empty" in out


def test_righting_prints_the_curve_and_its_angles(capsys, build) -> None:
    code, out, _ = run(capsys, "righting", build(), "--case", "as found", "--json")
    curve = json.loads(out)
    assert code == 0
    assert curve["heel_deg"] == list(range(0, 95, 5))
    assert curve["flooding_deg"] == pytest.approx(math.degrees(math.atan(1.25)), abs=1e-6)
    assert curve["range_deg"] is None
    code, out, _ = run(capsys, "righting", build(), "--case", "as found", "--heels", "0,10", "--json")
    assert json.loads(out)["gz_m"][1] == pytest.approx(0.259183, abs=1e-5)
    code, out, _ = run(capsys, "righting", build(), "--case", "as found")
    assert "flooding 51.3°" in out


@pytest.mark.parametrize(
    ("plane", "at", "length"),
    [("--section", "2", 6.0), ("--waterplane", "0.5", 12.0), ("--buttock", "0.4", 10.0)],
)
def test_lines_are_closed_polylines_in_metres(capsys, build, plane, at, length) -> None:
    code, out, _ = run(capsys, "lines", build(), plane, at, "--json")
    data = json.loads(out)
    assert code == 0 and len(data["polylines"]) == 1
    line = data["polylines"][0]
    assert line[0] == line[-1]
    # girth of the box: 2 + 1 twice, 4 + 2 twice, 4 + 1 twice
    assert sum(math.dist(a, b) for a, b in pairwise(line)) == pytest.approx(length)


def test_lines_inside_are_one_skin_smaller(capsys, build) -> None:
    _, out, _ = run(capsys, "lines", build(), "--section", "2", "--inside", "--json")
    line = json.loads(out)["polylines"][0]
    assert max(p[1] for p in line) == pytest.approx(1 - 0.0025)
    assert min(p[2] for p in line) == pytest.approx(0.003)


def test_derive_prints_parts_needs_and_cost(capsys, build) -> None:
    deck = {**DECK, "aft": 1.0, "fore": 2.0, "height": 0.5}
    code, out, _ = run(capsys, "derive", build(fittings=[deck]), "--json")
    data = json.loads(out)
    assert code == 0
    assert data["parts"]["panels"] and data["needs"] and float(data["cost"]["total"]) > 0
    code, out, _ = run(capsys, "derive", build(fittings=[deck]))
    assert "D1-S1" in out


def test_schema_is_json_schema(capsys) -> None:
    code, out, _ = run(capsys, "schema")
    assert code == 0 and json.loads(out)["title"] == "Plan"


@pytest.mark.parametrize("name", FILES)
def test_demo_builds_can_be_computed(capsys, name: str) -> None:
    assert run(capsys, "float", str(FOLDER / name), "--json")[0] == 0


@pytest.mark.parametrize(
    "args",
    [
        ("float", "/nowhere.json"),
        ("float", "BUILD", "--case", "sunday"),
        ("righting", "BUILD", "--heels", "0,ten"),
        ("righting", "BUILD", "--heels", "500"),
        ("lines", "BUILD"),
        ("lines", "BUILD", "--section", "x"),
        ("lines", "BUILD", "--section", "nan"),
        ("paint", "BUILD"),
        (),
    ],
)
def test_wrong_use_exits_2_with_one_line(capsys, build, args) -> None:
    path = build()
    code, out, err = run(capsys, *(path if a == "BUILD" else a for a in args))
    assert code == 2 and out == ""
    assert len(err.strip().splitlines()) == 1


def test_too_heavy_exits_3_and_says_by_how_much(capsys, build) -> None:
    code, out, err = run(capsys, "float", build(mass=8200.0), "--case", "as found", "--json")
    assert code == 3 and out == ""
    assert "take at least 200.0 kg out" in err


def test_one_sinking_case_of_several_leaves_the_others_and_exits_3(capsys, build) -> None:
    case = {"name": "crowd", "crew": [{"mass": 400, "at": [2, 0, 0.1]}] * 20}
    code, out, _ = run(capsys, "float", build(cases=[case]), "--json")
    rows = json.loads(out)
    assert code == 3
    assert rows[0]["mass_kg"] == pytest.approx(1600)
    assert rows[2]["case"] == "crowd" and "sinks" in rows[2]["error"]


def test_a_fitting_that_cannot_be_built_stops_the_float(capsys, build) -> None:
    code, _, err = run(capsys, "float", build(lines=box_lines(), fittings=[{**DECK, "height": 3.0}]))
    assert code == 2 and "fittings.deck" in err


@pytest.mark.parametrize("command", ["float", "righting"])
def test_all_covers_the_standard_cases_too(capsys, build, command) -> None:
    code, out, _ = run(capsys, command, build(), "--all", "--json")
    names = [row["case"] for row in json.loads(out)]
    assert code == 0
    assert names[:2] == ["planned, empty", "as found"]
    assert {"on the trailer", "one at the helm", "two aft", "everyone to one rail"} <= set(names)


def test_all_and_one_case_exclude_one_another(capsys, build) -> None:
    code, _, err = run(capsys, "float", build(), "--all", "--case", "as found")
    assert code == 2
    assert "not allowed with" in err


GUEST = {"kind": "hatch", "id": "lid", "name": "Lid", "deck": "deck", "x": 1.5, "clear_length": 0.3,
         "clear_width": 0.3}  # fmt: skip
LONG = {**DECK, "aft": 0.5, "fore": 2.5}


def test_what_a_thing_carries_is_asked_about_before_it_is_taken_out(capsys, build) -> None:
    file = build(fittings=[LONG, GUEST, {**LONG, "id": "other", "name": "Other", "aft": 2.8, "fore": 3.8}])
    code, out, err = run(capsys, "take-out", file, "deck")
    assert (code, out) == (2, "")
    assert err == "say what becomes of what is left without its host: --guest “lid=...” (goes too, other)\n"
    code, out, _ = run(capsys, "take-out", file, "deck", "--guest", "lid=other")
    assert code == 0
    left = {f["id"]: f for f in json.loads(out)["fittings"]}
    assert set(left) == {"other", "lid"} and left["lid"]["deck"] == "other"
    code, out, _ = run(capsys, "take-out", file, "deck", "--guest", "lid=goes too")
    assert [f["id"] for f in json.loads(out)["fittings"]] == ["other"]
    code, _, err = run(capsys, "take-out", file, "mast")
    assert code == 2 and "nothing has the id “mast”" in err
