"""Structure taken from a photo of the survey: looked at, taken over, refused with words."""

import io
import re
from typing import Any

import pytest
from PIL import Image

from stirrup.core.plan.condition import Place
from tests.boats import skiff_plan
from tests.web.conftest import make_build
from tests.web.test_arranging import plan_of as stored_of

# a photo 4 m wide and 2 m high, straight from above: her bow to the right, port up
MARKS = {"m1": "25 75", "m2": "75 75", "m3": "75 25", "m4": "25 25", "a0": "1 m", "a1": "3 m",
         "b0": "-0.5 m", "b1": "0.5 m", "seen": "from above"}  # fmt: skip
THING = {"one": "30 40", "other": "70 36", "low": "20 mm", "high": "100 mm", "entry": "stringer"}


@pytest.fixture
def seen(app: Any, site: Any) -> tuple[int, str]:
    """A build with a place that has a photo, and the address of its page."""
    place = Place(id="place-1", kind="rotten", at=(2.0, 0.0, 0.1))
    build = make_build(app, skiff_plan().model_copy(update={"condition": (place,)}))
    out = io.BytesIO()
    Image.new("RGB", (800, 400), "grey").save(out, "JPEG")
    files = {"photo": ("floor.jpg", out.getvalue(), "image/jpeg")}
    assert site.form(f"/b/{build}/survey/photo", {"place": "place-1"}, files=files).status_code == 303
    return build, f"/b/{build}/survey/photo/place-1/structure"


def test_a_thing_is_looked_at_and_put_in_where_it_is(app: Any, site: Any, seen: tuple[int, str]) -> None:
    """Two corners 30 and 70 of 100 along 4 m that begin at the transom: 1.2 to 2.8 m; 40 and 36 down 2 m
    whose middle is the centreline: 0.2 to 0.28 m to port."""
    build, address = seen
    offered = site.client.get(f"/b/{build}/survey/condition").text
    assert address in offered
    looked = site.client.get(address, params={**MARKS, **THING})
    assert looked.status_code == 200 and "Is it that?" in looked.text
    ring = re.search(r'class="thing" points="([^"]+)"', looked.text)
    assert ring is not None
    corners = {tuple(round(float(v)) for v in c.split(",")) for c in ring[1].split()}
    assert corners == {(240, 160), (560, 160), (560, 144), (240, 144)}
    base = re.search(r'name="base" value="(\d+)"', looked.text)
    assert base is not None
    taken = site.form(address, {**MARKS, **THING, "base": base[1], "name": "old stringer"})
    assert taken.status_code == 303
    (there,) = [e for e in stored_of(app, build).plan.existing if e.name == "old stringer"]
    assert there.kind == "stringer" and there.box is not None
    assert there.box.size == pytest.approx((1.6, 0.08, 0.08))
    assert there.box.floor_centre == pytest.approx((2.0, 0.24, 0.02))
    # the marks stay for the next thing; the thing itself does not
    again = site.client.get(taken.headers["location"])
    assert "old stringer is in the plan" in again.text
    assert 'name="m3"' in again.text and "75 25" in again.text and "30 40" not in again.text


@pytest.mark.parametrize(
    ("name", "typed", "said"),
    [
        ("m1", "200 5", "two numbers from 0 to 100"),
        ("m2", "nan 3", "two numbers from 0 to 100"),
        ("m4", "60 60", "cross over"),
        ("m2", "50 50", "nearly in one line"),
        ("a1", "0.5 m", "accepted: more than"),
        ("b1", "wide", "wide"),
        ("seen", "<b>below</b>", "accepted: from above"),
        ("other", "30 40", "accepted: at least 3 mm"),
        ("other", "", "two numbers"),
        ("high", "1e999", "1e999"),
        ("a1", "1e6 m", "1e6 m"),
        ("a1", "900 m", "outside of any boat"),
    ],
)
def test_what_tells_nothing_is_named(seen: Any, site: Any, name: str, typed: str, said: str) -> None:
    _, address = seen
    page = site.client.get(address, params={**MARKS, **THING, name: typed})
    assert page.status_code == 422
    assert said in page.text and "<b>below</b>" not in page.text
    # what was clicked before is still there
    assert THING["one"] in page.text
    assert site.form(address, {**MARKS, **THING, name: typed, "base": "1"}).status_code == 422


def test_no_such_kind_and_no_such_place(seen: Any, site: Any) -> None:
    build, address = seen
    told = site.form(address, {**MARKS, **THING, "base": "1", "entry": "engine"})
    assert told.status_code == 422 and "accepted: rib" in told.text
    gone = site.client.get(f"/b/{build}/survey/photo/place-9/structure")
    assert gone.status_code in (404, 422) and "place-9" in gone.text


def test_a_plan_changed_meanwhile_takes_it_all_the_same(app: Any, site: Any, seen: Any) -> None:
    """A new thing is at odds with nothing: two windows may both add one."""
    build, address = seen
    for n in range(2):
        sent = site.form(address, {**MARKS, **THING, "base": "2", "name": f"stringer {n}"})
        assert sent.status_code == 303
    names = [e.name for e in stored_of(app, build).plan.existing]
    assert "stringer 0" in names and "stringer 1" in names
