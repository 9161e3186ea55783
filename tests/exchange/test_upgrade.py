"""Build files of version 1 load for ever. Expected forms are read off the old file by hand: what its
heading or its name said there is what its form says now."""

import json
from pathlib import Path

import pytest

from stirrup.cli import main
from stirrup.core.errors import CoreError
from stirrup.exchange.buildfile import dump, from_data, parse, read
from stirrup.exchange.upgrade import upgraded, upgraded_change

OLD = Path(__file__).parent / "files" / "version-1.stirrup.json"
# id: heading and form in the file of version 1, form in version 2
FORMS = {
    "motor": ("motor", "outboard", "outboard"),
    "setback-plate": ("motor", "box", "motor"),  # counted as motor by its heading
    "start-battery": ("battery", "battery", "battery"),
    "tank-empty": ("tank", "box", "tank"),
    "livewell-empty": ("livewell", "box", "box"),  # a heading that meant nothing
    "windscreen": ("console", "screen", "screen"),  # its form goes before its heading
    "seat-helm": ("seats", "seat", "seat"),
    "seat-mate": ("seats", "seat", "seat"),
}


def test_every_thing_is_what_it_was() -> None:
    before = {i["id"]: i for i in json.loads(OLD.read_text())["items"]}
    after = {i.id: i for i in read(str(OLD)).items}
    for id_, (heading, form, now) in FORMS.items():
        assert (before[id_]["group"], before[id_].get("form", "box")) == (heading, form)
        assert after[id_].form == now and after[id_].group == heading
    assert [i.id for i in after.values() if i.steers] == ["seat-helm"]


def test_what_is_written_is_of_the_newest_version_and_stays() -> None:
    plan = read(str(OLD))
    assert json.loads(dump(plan))["version"] == 2
    assert parse(dump(plan)) == plan


def test_the_headless_commands_answer_as_for_the_same_boat_of_version_2(capsys) -> None:
    told = []
    for file in (OLD, OLD.with_name("version-2.stirrup.json")):
        assert main(["float", str(file), "--all", "--json"]) == 0
        told.append(capsys.readouterr().out)
    assert told[0] == told[1] and len(json.loads(told[0])) > 8


def test_what_is_handed_in_stays_as_it_is_and_the_unknown_is_refused() -> None:
    data = json.loads(OLD.read_text())
    copy = json.loads(OLD.read_text())
    upgraded(data)
    assert data == copy
    for version in (0, 3, "1", True, None):
        with pytest.raises(CoreError, match="version"):
            from_data({**data, "version": version})


def test_a_ladder_and_the_helm_were_known_by_name() -> None:
    """Also in changes that were stored before."""
    ladder = {"id": "l", "name": "Boarding ladder", "size": [0.1, 0.4, 0.8], "mass": {}}
    change = {"do": "add", "path": ["items"], "value": ladder}
    assert upgraded_change(change)["value"]["form"] == "ladder"
    seat = {"id": "s", "name": "Seat, HELM", "form": "seat", "mass": {}}
    mate = {"id": "m", "name": "Seat, mate", "form": "seat", "mass": {}}
    items = upgraded({"version": 1, "items": [mate, seat]})["items"]
    assert [bool(i.get("steers")) for i in items] == [False, True]
