"""Any kind in any boat, its own fields set at random: previews, changes and its pages hold."""

import random
from typing import Any

import pytest

from stirrup.core.kinds.registry import KINDS
from stirrup.core.plan.things import CHOSEN
from stirrup.demo.seed import FILES, demo_plan
from tests.web.conftest import make_build
from tests.web.test_accepted import FACTORS, NO_NUMBER, NUMBERS, WORDS, leaves

ENTRIES = [entry.key for kind in KINDS for entry in kind.entries]
ABOUT = ("layout?sel={}", "layout/framing/{}", "layout/drawn/{}", "cuts/booklet?thing={}")
PAGES = ("layout", "layout/marks", "layout/seams", "float", "float/capacity", "cuts", "money", "panels.zip")
NEAR = (0.5, 0.8, 0.9, 1.2, 1.5, 2, 3)


def wild(draw: random.Random, value: Any) -> Any:
    """A value that somebody may try: near the one that stands there, in the wrong unit, or anything."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, str):
        return draw.choice(WORDS)
    if value is None or draw.random() < 0.2:
        return draw.choice(NUMBERS)
    return value * draw.choice(NEAR if draw.random() < 0.6 else FACTORS)


class Boat:
    """A boat in the store that is changed as a page would; what broke is kept with what was done."""

    def __init__(self, site: Any, build: int) -> None:
        self.site, self.build, self.number = site, build, 1
        self.done: list[Any] = []
        self.broken: list[Any] = []

    def file(self) -> Any:
        return self.site.client.get(f"/b/{self.build}/file").json()

    def ids(self) -> set[str]:
        file = self.file()
        return {thing["id"] for group in CHOSEN for thing in file[group]}

    def look(self, page: str) -> None:
        got = self.site.client.get(f"/b/{self.build}/{page}")
        odd = NO_NUMBER.search(got.text) if "html" in got.headers["content-type"] else None
        if got.status_code not in (200, 404) or odd:
            self.broken.append((page, got.status_code, odd and odd[0], list(self.done)))

    def take(self, change: Any, told: Any) -> bool:
        body = {"base": self.number, "change": change}
        answer = self.site.post(f"/api/builds/{self.build}/changes", body)
        if answer.status_code == 200:
            self.number = answer.json()["number"]
            self.done.append(told)
        elif answer.status_code != 422:
            self.broken.append((change, answer.status_code, list(self.done)))
        return answer.status_code == 200

    def try_out(self, change: Any, step: int) -> None:
        for k, pace in enumerate(("live", "behind")):
            body = {"base": self.number, "page": "layout", "case": "planned, empty", "pace": pace,
                    "hand": "wild", "step": 2 * step + k + 1, "has": {}, "sel": change["path"][1],
                    "change": change}  # fmt: skip
            answer = self.site.post(f"/api/builds/{self.build}/preview", body)
            if answer.status_code not in (200, 422):
                self.broken.append((pace, change, answer.status_code, list(self.done)))


@pytest.mark.slow
def test_whatever_is_tried_with_any_kind_its_pages_hold(app, site, request) -> None:
    """Three boats with two things each; 120 with --long, others each time."""
    long = request.config.getoption("--long")
    draw = random.Random(None if long else 20261130)
    for _ in range(120 if long else 3):
        boat = Boat(site, make_build(app, demo_plan(draw.choice(FILES)), draw.choice(("mm", "ft-in"))))
        # the first of each has all pages of a thing: what is framed without a panel broke one of them
        for entry in ("section_stringer", draw.choice(ENTRIES)):
            before = boat.ids()
            asked = site.post(f"/api/builds/{boat.build}/suggest", {"kind": entry, "sel": ""})
            if asked.status_code != 200 or not boat.take(asked.json()["change"], entry):
                assert asked.status_code in (200, 422)
                continue
            file = boat.file()
            for group in CHOSEN:
                for thing in (t for t in file[group] if t["id"] not in before):
                    spots = [x for x in leaves(thing) if x[0][0] not in ("id", "kind")]
                    for _ in range(4):
                        path, value = draw.choice(spots)
                        new = wild(draw, value)
                        change = {"do": "set", "path": [group, thing["id"], *path], "value": new}
                        boat.try_out(change, len(boat.done) + boat.number * 50)
                        boat.take(change, ("/".join(path), new))
                    for page in ABOUT:
                        boat.look(page.format(thing["id"]))
        for page in PAGES:
            boat.look(page)
        assert boat.broken == []
