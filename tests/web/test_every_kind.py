"""Every kind that the palette offers, through the pages: placed, chosen, drawn, listed, taken out."""

import html
from typing import Any

import pytest

from stirrup.core.errors import CoreError
from stirrup.core.kinds.registry import KINDS
from stirrup.core.plan.copies import another
from stirrup.core.plan.things import CHOSEN
from stirrup.exchange.buildfile import parse
from tests.core.test_every_kind import boat
from tests.web.conftest import make_build

ENTRIES = [(k.key, e.key) for k in KINDS for e in k.entries]
# of the thing itself; not there where it has nothing of the kind
ABOUT = ("layout/framing/{}", "layout/drawn/{}", "framing/{}.svg", "cuts/booklet?thing={}")
PAGES = ("layout", "layout/marks", "layout/gear", "float", "float/ledger", "cuts", "money", "history")


@pytest.mark.slow
@pytest.mark.parametrize(("key", "entry"), ENTRIES, ids=[f"{k}-{e}" for k, e in ENTRIES])
def test_it_is_placed_looked_at_on_every_page_and_undone(app, site, key: str, entry: str) -> None:
    build = make_build(app, boat(key))
    file: dict[str, Any] = site.client.get(f"/b/{build}/file").json()
    asked = site.post(f"/api/builds/{build}/suggest", {"kind": entry, "sel": ""})
    assert asked.status_code == 200, asked.text
    change = {"base": 1, "change": asked.json()["change"]}
    assert site.post(f"/api/builds/{build}/changes", change).status_code == 200
    after = site.client.get(f"/b/{build}/file").json()
    groups = CHOSEN
    before = {t["id"] for g in groups for t in file[g]}
    (new,) = [t for g in groups for t in after[g] if t["id"] not in before]
    page = site.client.get(f"/b/{build}/layout", params={"sel": new["id"]})
    text = html.unescape(page.text)
    assert page.status_code == 200
    assert f'data-select="{new["id"]}"' in page.text, "it is not in the drawings"
    assert new.get("name", "") in text, "the sheet does not say what is chosen"
    # what cannot be copied is not offered to be
    for button, mirrored in (("copy", False), ("mirror", True)):
        kind = next(k for k in KINDS if k.key == key)
        shown = f'data-place="{button}"' in page.text
        assert shown is (not kind.alone and kind.group in CHOSEN), button
        if kind.alone:
            with pytest.raises(CoreError):
                another(parse(site.client.get(f"/b/{build}/file").text), new["id"], mirrored)
    for name in ABOUT:
        assert site.client.get(f"/b/{build}/{name.format(new['id'])}").status_code in (200, 404), name
    for name in PAGES:
        assert site.client.get(f"/b/{build}/{name}").status_code == 200, name
    assert site.post(f"/api/builds/{build}/undo", {"base": 2}).status_code == 200
    back = site.client.get(f"/b/{build}/file").json()
    assert {**back, "catalogue": None} == {**file, "catalogue": None}
