"""Whatever can be stored, every page and file of the boat can still be made."""

import json
import random
import re
from collections.abc import Iterator
from typing import Any

import pytest

from stirrup.core.plan.model import Plan
from stirrup.demo.seed import FILES, demo_plan
from tests.web.conftest import make_build

PAGES = (
    "layout", "layout?sel={sel}&room=1", "layout/marks", "float", "float/ledger", "float/capacity",
    "float/measured", "survey", "survey/next", "survey/condition", "cuts", "money", "history", "file",
    "money/shopping", "money/bought", "money/quotes", "money/came-to",
    "offsets.csv", "lines.svg", "lines.dxf", "cut-list.csv", "shopping-list.csv", "panels.zip",
    "marks.pdf",
)  # fmt: skip
SLOW_PAGES = ("layout/gear", "float/compare?now=1", "lines.pdf")
# how far off a typing error lies: the wrong unit, a slipped point, a sign, next to nothing
NUMBERS = (
    0, 1e-9, 1e-4, 0.001, 0.01, -0.01, 0.05, 0.1, 0.3, 0.5, 1, 2, 4, 4.57, 5, 10, 15.0, 20, -1.0, -0.3,
    -2.0, 40.0, 50, 1e3, 1e6, -1e4, None,
)  # fmt: skip
FACTORS = (-1, 0.01, 0.0254, 0.3048, 1.5, 12, 100)
WORDS = (
    "none", "auto", "aft", "fore", "port", "al-3.2", "ply-9", "ply-12", "pvc-19", "removed", "added",
    "found", "considered", "standing", "seated", "lying", "kneeling", "x" * 80, "ü", "bow motor",
    "screen", "tank", "seat", "console", "computed", "weighed", "outboard", "0", "1.5", "{0}", "carpet",
    "angle-50x50x5",
)  # fmt: skip
NO_NUMBER = re.compile(r"(?<![a-z])nan(?![a-z])|-0(?:\.0+)?°|(?<![a-z])inf(?![a-z])")


def leaves(value: Any, path: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], Any]]:
    """Every place of a plan that holds one value."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from leaves(inner, (*path, key))
    elif isinstance(value, list):
        for k, inner in enumerate(value):
            step = str(k)
            if isinstance(inner, dict):
                named = path[-1] in ("cases", "lines")
                step = inner.get("id") or (inner.get("name") if named else None) or step
            yield from leaves(inner, (*path, step))
    else:
        yield path, value


def another(draw: random.Random, value: Any) -> Any:
    """A value of the same kind that somebody might type or send."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, str):
        return draw.choice(WORDS)
    if value is not None and draw.random() < 0.4:
        return value * draw.choice(FACTORS)
    return draw.choice(NUMBERS)


def boats() -> list[Plan]:
    return [demo_plan(name) for name in FILES]


@pytest.mark.slow
def test_what_is_stored_never_breaks_a_page(app, site, request) -> None:
    """Some places of a boat set at random; 200 boats with --long."""
    long = request.config.getoption("--long")
    draw = random.Random(20261127)
    places = [(plan, list(leaves(json.loads(plan.model_dump_json())))) for plan in boats()]
    broken = []
    for _ in range(200 if long else 6):
        plan, all_places = draw.choice(places)
        things = [x for x in all_places if x[0][0] in ("fittings", "items", "tanks", "cases", "existing")]
        build, number, done = make_build(app, plan, draw.choice(("mm", "ft-in"))), 1, []
        for _ in range(draw.choice((2, 3, 6))):
            path, value = draw.choice(things if draw.random() < 0.7 else all_places)
            new = another(draw, value)
            change = {"do": "set", "path": path, "value": new}
            answer = site.post(f"/api/builds/{build}/changes", {"base": number, "change": change})
            assert answer.status_code in (200, 422), (path, new, answer.text)
            if answer.status_code == 200:
                number = answer.json()["number"]
                done.append(("/".join(path), new))
        sel = next((p.split("/")[1] for p, _ in done if p.startswith(("fittings", "items", "tanks"))), "")
        for page in (*PAGES, *SLOW_PAGES) if long else PAGES:
            got = site.client.get(f"/b/{build}/{page.format(sel=sel)}")
            odd = NO_NUMBER.search(got.text) if "html" in got.headers["content-type"] else None
            if got.status_code != 200 or odd:
                broken.append((page, got.status_code, odd and got.text[odd.start() - 60 : odd.end()], done))
    assert broken == []


def test_a_hatch_off_its_boat_leaves_the_layout_alive_and_says_how_far(app, site) -> None:
    """15 ft from the transom on a boat of 13' 8"."""
    build = make_build(app, demo_plan("sedge-hopper.stirrup.json"), "ft-in")
    path = "fittings/hatch-battery-port/x"
    done = site.post(f"/api/builds/{build}/changes", {"base": 1, "typed": {"path": path, "text": "15 ft"}})
    assert done.status_code == 200
    page = site.client.get(f"/b/{build}/layout?sel=hatch-battery-port")
    assert page.status_code == 200
    assert "Lies beside its deck" in page.text and "Move it onto the deck" in page.text


def test_a_plan_that_cannot_be_worked_out_offers_the_way_back(app, site, monkeypatch) -> None:
    """However it came into the store: undo and the build file are one press away."""
    build = make_build(app)
    change = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change})
    from stirrup.core.errors import CoreError
    from stirrup.web.pages import frame

    def broken(*_: Any) -> Any:
        raise CoreError("the lines enclose no volume", "hull")

    with monkeypatch.context() as patched:
        patched.setattr(frame, "derive", broken)
        page = site.client.get(f"/b/{build}/layout")
        assert page.status_code == 422
        assert "the lines enclose no volume" in page.text and f"/b/{build}/file" in page.text
        assert f"/api/builds/{build}/undo-form" in page.text
        # and nothing of the kind is stored in the first place
        again = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.8}
        refused = site.post(f"/api/builds/{build}/changes", {"base": 2, "change": again})
        assert refused.status_code == 422
    assert site.client.get(f"/b/{build}/layout").status_code == 200


@pytest.mark.parametrize(("length", "taken"), [(1e-9, False), (0.0009, False), (0.001, True)])
def test_a_volume_without_extent_is_refused_when_it_is_typed(app, site, length, taken) -> None:
    build = make_build(app, demo_plan("teal-mule.stirrup.json"))
    path = ["buoyancy", "pods-1-starboard", "box", "size", "0"]
    change = {"do": "set", "path": path, "value": length}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change})
    assert answer.status_code == (200 if taken else 422)
    # it is said of the box, not of the hull
    assert taken or answer.json()["place"].startswith("buoyancy")
    assert site.client.get(f"/b/{build}/float").status_code == 200
