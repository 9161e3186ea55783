"""The buttons of remedies, fetched behind the page with what each makes worse."""

import json
import re
from html import unescape

from tests.boats import plan
from tests.core.test_remedies import row
from tests.web.conftest import make_build


def test_buttons_come_with_what_they_make_worse_and_make_one_step(app, site) -> None:
    build = make_build(app, plan(items=row()), "ft-in")
    page = site.client.get(f"/b/{build}/layout").text
    found = re.search(r'data-behind="([^"]*layout/remedies[^"]*)"', page)
    assert found
    part = site.client.get(unescape(found[1])).text
    changes = [json.loads(unescape(c)) for c in re.findall(r'data-mend="([^"]+)"', part)]
    assert len(changes) >= 2
    assert "makes nothing worse" in part and "Then:" in part and " m " not in part
    done = site.post(f"/api/builds/{build}/changes", {"base": 1, **changes[0]})
    assert done.status_code == 200
    assert "Two things in one place" not in site.client.get(f"/b/{build}/layout").text


def test_a_finding_that_is_gone_has_no_buttons(app, site) -> None:
    build = make_build(app, plan(items=row()))
    part = site.client.get(f"/b/{build}/layout/remedies?code=CLASH&place=x&other=y")
    assert part.status_code == 200 and "data-mend" not in part.text
