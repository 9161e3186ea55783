import copy
import json

import pytest

from stirrup.core.errors import CoreError
from stirrup.demo.seed import FILES, FOLDER
from stirrup.exchange.buildfile import MOST_BYTES, dump, parse, read, schema
from tests.boats import DECK, HATCH, build_data, skiff_plan


@pytest.mark.parametrize("name", FILES)
def test_what_is_written_is_read_back_identical(name: str) -> None:
    plan = parse((FOLDER / name).read_bytes())
    assert parse(dump(plan)) == plan
    assert dump(parse(dump(plan))) == dump(plan)
    assert (FOLDER / name).read_text() == dump(plan)


def test_fittings_and_defaults_survive_the_round_trip() -> None:
    plan = skiff_plan(fittings=[DECK, HATCH])
    assert parse(dump(plan)) == plan


def change(**paths) -> str:
    data = copy.deepcopy(build_data())
    data["hull"]["floods"] = [{"name": "well", "at": [0, 0, 0.5]}]
    for path, value in paths.items():
        here = data
        *steps, last = path.split("__")
        for step in steps:
            here = here[int(step)] if step.isdigit() else here[step]
        key = int(last) if last.isdigit() else last
        if value is KeyError:
            del here[key]
        else:
            here[key] = value
    return json.dumps(data)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (change(hull=KeyError), "hull: missing"),
        (change(hull__mass=KeyError), "hull.mass: missing"),
        (change(hull__mass__value=KeyError), "hull.mass.value: missing"),
        (change(format="other"), "format: read \"other\"; accepted: “stirrup-build”"),
        (change(version=3), "version: read 3; accepted: 1 to 2"),
        (change(hull__maas=1), "hull.maas: unknown key; did you mean “mass”"),
        (change(hull__lines__0__pionts=[]), "hull.lines[0].pionts: unknown key; did you mean “points”"),
        (change(iteems=[]), "iteems: unknown key; did you mean “items”"),
        (change(hull__mass__value=float("nan")), "hull.mass.value: read NaN; accepted: a finite number"),
        (change(hull__mass__value=float("inf")), "hull.mass.value: read Infinity"),
        (change(hull__mass__value=-3), "hull.mass.value: read -3; accepted: more than 0"),
        (change(hull__mass__value="12"), "hull.mass.value: read \"12\"; accepted: a number"),
        (change(hull__mass__value=True), "hull.mass.value: read true; accepted: a number"),
        (change(hull__lines__0__points=[[4, 0, 0], [0, 0, 0]]), "x must increase from aft to fore"),
        (change(hull__lines__2__points=[[0, 1, -1], [4, 1, 1]]), "below the lowest chine point"),
        (change(hull__lines__1__points=[[0, 1, 0], [2, 1, 0], [4, 1, 0]]), "same number of points"),
        (change(hull__lines__1__points__0=[0, 1]), "hull.lines[1].points[0]"),
        (change(hull__floods__0__at=[0, 0]), "hull.floods[0].at[2]: missing"),
        (change(cases=[{"name": "as found"}]), "is reserved"),
        (change(cases=[{"name": "a"}, {"name": "a"}]), "is used twice"),
        (change(cases=[{"name": "a", "fills": {"fuel": 0.5}}]), "no tank “fuel”"),
        (change(cases=[{"name": "a", "without": ["x"]}]), "nothing has the id “x”"),
        (change(fittings=[{"kind": "sofa", "id": "a", "name": "b"}]), "accepted kinds: 'floor', 'raised_deck', 'hatch'"),  # noqa: E501
        (change(fittings=[{**DECK, "heigth": 1}]), "fittings[0].heigth: unknown key; did you mean “height”"),  # noqa: E501
        (change(fittings=[HATCH]), "no deck “deck”"),
        (change(items=[{"id": "a b", "mass": {"value": 1, "centre": [0, 0, 0]}}]), "no spaces"),
        (change(existing=[{"id": "r", "kind": "rib"}]), "give either box or outline"),
        (change(buoyancy=[{"id": "p"}]), "give either box or lines"),
        ("[]", "the outermost value must be an object"),
        ("{", "not JSON: line 1, column 2"),
        ("", "not JSON"),
        ('{"format": 1, "format": 2}', "format: this key stands twice"),
        ("[" * 100_000, "not"),
    ],
)  # fmt: skip
def test_wrong_files_are_explained_in_one_line(text: str, words: str) -> None:
    with pytest.raises(CoreError) as caught:
        parse(text)
    assert words in str(caught.value)
    assert "\n" not in str(caught.value)


def test_ids_may_be_used_once() -> None:
    item = {"id": "a", "mass": {"value": 1, "centre": [0, 0, 0]}}
    with pytest.raises(CoreError, match="“a” is used already by items"):
        parse(change(items=[item, item]))


def test_bytes_that_are_not_utf8_and_files_that_are_too_large_are_refused(tmp_path) -> None:
    with pytest.raises(CoreError, match="not UTF-8"):
        parse(b"\xff\xfe{}")
    with pytest.raises(CoreError, match="at most 8 MB"):
        parse(b" " * (MOST_BYTES + 1))
    large = tmp_path / "large.json"
    with large.open("wb") as out:
        out.truncate(100_000_000)
    with pytest.raises(CoreError, match="100 MB"):
        read(str(large))


def test_a_file_that_is_not_there_is_named() -> None:
    with pytest.raises(CoreError, match="No such file"):
        read("/nowhere/boat.json")


def test_the_schema_names_every_part() -> None:
    text = json.dumps(schema())
    for key in ("knuckle", "bulge_below", "floor_centre", "raised_deck", "hatch", "in_hull_mass"):
        assert key in text.lower()
