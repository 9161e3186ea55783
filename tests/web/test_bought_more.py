"""The strip's cost says when a change buys another sheet, and when one less."""

import re

from stirrup.core.plan.changes import AddThing
from tests.web.test_arranging import plan_of

PART = {"kind": "own_part", "id": "part", "name": "Board", "mark": "O1", "x": 2.0, "y": 0.0, "z": 0.5,
        "width": 1.3, "height": 0.8, "skin": "ply-12"}  # fmt: skip


def strip(site, build: int) -> str:
    page = site.client.get(f"/b/{build}/layout").text
    found = re.search(r"is-cost.*?</details>", page, re.DOTALL)
    assert found is not None
    return " ".join(re.sub(r"<[^>]+>", " ", found[0]).split())


def change(site, build: int, base: int, value: dict) -> None:
    body = {"base": base, "change": AddThing(path=("fittings",), value=value).model_dump(mode="json")}
    assert site.post(f"/api/builds/{build}/changes", body).status_code == 200


def test_a_change_that_buys_a_sheet_says_so_and_the_way_back_too(app, site, build) -> None:
    assert "The last change buys" not in strip(site, build)
    change(site, build, 1, PART)
    told = strip(site, build)
    assert "+1 sheet, 96" in told
    assert "The last change buys 1 sheet more of 12 mm light marine plywood" in told
    # a second board goes on the same sheet: nothing is bought
    small = {**PART, "id": "small", "mark": "O2", "width": 0.3, "height": 0.2, "x": 1.0}
    change(site, build, 2, small)
    assert "The last change buys" not in strip(site, build)
    # one that does not: another sheet
    change(site, build, 3, {**PART, "id": "large", "mark": "O3", "x": 3.0})
    assert "The last change buys 1 sheet more of" in strip(site, build)
    site.post(f"/api/builds/{build}/undo", {})
    back = strip(site, build)
    assert "1 sheet fewer of 12 mm light marine plywood" in back and "−1 sheet" in back
    assert plan_of(app, build).number == 5


def test_whoever_comes_later_is_told_nothing_he_did_not_see(app, site, build) -> None:
    """Nobody looked at the revision before: there is nothing to compare with."""
    change(site, build, 1, PART)
    assert "The last change buys" not in strip(site, build)


def test_sheets_that_a_roll_takes_the_place_of_are_not_told_without_it(app, site, build) -> None:
    """Fewer sheets, and a roll: what it costs in all is told, not what the sheets would save alone."""
    change(site, build, 1, PART)
    strip(site, build)
    off = {"do": "set", "path": ["fittings", "part", "skin"], "value": "uhmw-4.8-roll"}
    assert site.post(f"/api/builds/{build}/changes", {"base": 2, "change": off}).status_code == 200
    told = strip(site, build)
    assert "sheet fewer" not in told and "by the last change" in told and "With tax the last change" in told
