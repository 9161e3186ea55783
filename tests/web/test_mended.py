"""Input that used to end in a failure of ours, and words that used to be nobody's."""

import io
from decimal import Decimal

import pytest

from stirrup.core.plan.changes import SetValue
from stirrup.core.plan.model import Plan
from stirrup.core.plan.words import describe
from stirrup.core.units import SYSTEMS
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.offsets import read_offsets, write_offsets
from tests.boats import DECK, box_lines, build_data, derive, hull, plan, skiff_plan
from tests.web.conftest import make_build

MM = SYSTEMS["mm"]


@pytest.mark.parametrize("kind", ["mirror", "copy"])
def test_copying_with_nothing_chosen_is_explained(site, build, kind) -> None:
    answer = site.post(f"/api/builds/{build}/suggest", {"kind": kind})
    assert answer.status_code == 422 and answer.json()["detail"]


def test_a_reason_longer_than_accepted_is_explained(site, build) -> None:
    form = {"base": 1, "code": "CLASH", "thing": "a", "other": "b", "reason": "x" * 201}
    answer = site.form(f"/api/builds/{build}/accept-form", form)
    assert answer.status_code == 422 and "at most 200 characters" in answer.text


@pytest.mark.parametrize("page", ["survey", "survey/condition", "survey/next", "history", "cuts", "money"])
def test_pages_of_a_boat_that_does_not_float_are_there(app, site, page) -> None:
    heavy = plan(mass=9000.0)  # a box of 8 m3
    build = make_build(app, heavy)
    assert site.client.get(f"/b/{build}/{page}").status_code == 200


@pytest.mark.parametrize(
    "content",
    [
        b"line,station,x,y,z\rkeel,1,0,0,0\rkeel,2,4000,0,0\rsheer,1,0,900,600\rsheer,2,4000,900,600\r",
        b"line,station,x,y,z\r\nkeel,1,0,0,0\r\nkeel,2,4000,0,0\r\n"
        b"sheer,1,0,900,600\r\nsheer,2,4000,900,600",
    ],
)
def test_line_ends_of_any_machine_are_read(site, build, content) -> None:
    files = {"table": ("old.csv", io.BytesIO(content), "text/csv")}
    page = site.form(f"/b/{build}/survey/check", {}, files=files).text
    assert "Clean: 4 readings on 2 lines" in page


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (
            b"line,station,x,y,z\n" + b"x" * 140_000 + b",1,0,0,0\n",
            "a cell is too long; accepted: up to 2000",
        ),
        (b"line,station,x,y,z\nke\x00el,1,0,0,0\n", "NUL character"),
    ],
)
def test_a_table_that_is_none_says_where(site, build, content, said) -> None:
    files = {"table": ("x.csv", io.BytesIO(content), "text/csv")}
    answer = site.form(f"/b/{build}/survey/check", {}, files=files)
    assert answer.status_code == 200 and said in answer.text


@pytest.mark.parametrize("name", ["=cmd()", "+1", "-keel", "@x"])
def test_no_table_of_ours_is_a_formula_and_it_reads_back_the_same(name: str) -> None:
    lines = box_lines()
    lines[1]["name"] = name
    text = write_offsets(hull(lines))
    assert not any(row.startswith(("=", "+", "-", "@")) for row in text.splitlines())
    again = read_offsets(text, MM)
    assert again.problems == [] and [x.name for x in again.lines] == ["keel", name, "sheer"]


def words(boat: Plan, path: str, value: float) -> str:
    return describe(boat, SetValue(path=tuple(path.split("/")), value=value), MM)


def test_history_speaks_of_directions_and_names_no_ids() -> None:
    battery = {"id": "b1", "name": "battery", "mass": {"value": 20.0, "centre": [1.0, 0.0, 0.2]}}
    tank = {"id": "fuel-1", "name": "main tank", "size": [0.5, 0.4, 0.3], "floor_centre": [1, 0, 0],
            "liquid": "petrol"}  # fmt: skip
    case = {"name": "out", "crew": [], "fills": {"fuel-1": 0.5}}
    boat = plan(items=[battery], tanks=[tank], cases=[case])
    assert words(boat, "items/b1/mass/centre/1", 0.1) == "battery: to port 0 mm to 100 mm"
    assert words(boat, "cases/out/fills/fuel-1", 1.0) == "out: main tank filled 0.5 to 1"


def test_a_motor_has_power_and_shaft_and_is_held_against_the_label(app, site) -> None:
    motor = {"id": "m", "name": "outboard", "form": "outboard", "power": 44.0, "shaft": 0.508,
             "mass": {"value": 118.0, "centre": [-0.3, 0.0, 0.6]}}  # fmt: skip

    def level(label: float | None) -> list[str]:
        more = {"label": {"power_kw": label}} if label else {}
        found = derive(from_data(build_data(items=[motor], **more))).findings
        return [f.level for f in found if f.code == "POWER"]

    assert level(45.0) == level(44.0) == ["fine"]
    assert level(43.9) == ["stop"]
    assert level(None) == []
    build = make_build(app, plan(items=[motor]))
    path = {"path": "items/m/power", "text": "60 hp"}
    assert site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": path}).status_code == 200
    stored = next(i for i in site.client.get(f"/b/{build}/file").json()["items"] if i["id"] == "m")
    assert stored["power"] == pytest.approx(60 * 0.7457, abs=0.001)  # 1 hp = 0.7457 kW


def test_on_the_trailer_she_stands_level(app, site) -> None:
    leaning = {"id": "w", "name": "w", "mass": {"value": 200.0, "centre": [1.0, 0.5, 0.3]}}
    build = make_build(app, plan(items=[leaning]))
    page = site.client.get(f"/b/{build}/float?case=on the trailer").text
    assert "She stands level" in page and "1800 kg" in page
    assert "port down" not in page
    # nor is there a finding about how she would float there
    assert not [f for f in derive(plan(items=[leaning])).findings if f.place == "on the trailer"]


def test_money_names_what_has_no_price_and_takes_one(app, site) -> None:
    odd = {"id": "odd", "name": "Odd thing", "stage": "added",
           "mass": {"value": 5.0, "centre": [1.0, 0.0, 0.3]}}  # fmt: skip
    build = make_build(app, skiff_plan(items=[odd], fittings=[DECK]))
    before = site.client.get(f"/b/{build}/money").text
    assert "The total is without Odd thing" in before
    typed = {"path": "items/odd/price", "text": "12.50"}
    done = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": typed})
    assert done.status_code == 200
    assert "The total is without" not in site.client.get(f"/b/{build}/money").text
    owned = {"path": "items/odd/owned", "text": "on"}
    site.post(f"/api/builds/{build}/changes", {"base": 2, "typed": owned})
    assert "Yours already" in site.client.get(f"/b/{build}/money").text


def test_how_a_text_would_be_read_is_told_and_nothing_changes(app, site) -> None:
    build = make_build(app, None, "ft-in")
    asked = {"path": "fittings/deck/aft", "text": "64"}
    assert site.post(f"/api/builds/{build}/read", asked).json() == {
        "read_as": "5' 4\"",
        "other": "1 626 mm",
    }
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1
    assert site.post(f"/api/builds/{build}/read", {**asked, "text": "far"}).status_code == 422


def test_prices_are_exact() -> None:
    item = {"id": "a", "stage": "added", "price": "0.10", "mass": {"value": 1.0, "centre": [1, 0, 0]}}
    three = [{**item, "id": f"a{k}"} for k in range(3)]
    assert derive(from_data(build_data(items=three))).cost.total == Decimal("0.30")
