"""Remedies of one finding as they come out when tried: fetched behind the Layout page."""

from __future__ import annotations

import json
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.derive import MEMO
from stirrup.core.remedies import Tried, tried
from stirrup.store.shop import catalogue
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import OpenBuild, open_build
from stirrup.web.present import fix_words, sentence_html
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)
MOST_WORSE = 2  # named with a remedy; more are counted

Short = Annotated[str, Query(max_length=100)]


def _row(one: Tried, opened: OpenBuild) -> dict[str, Any]:
    units = opened.units
    words = Markup(" and ").join(fix_words(mend, finding, units) for mend, finding in one.fixes)
    change = one.change.model_dump(mode="json")
    if change["do"] == "together":
        change["words"] = change["words"] or words.striptags()[:200]
    worse = sorted(one.worse, key=lambda f: ("stop", "mend", "look", "unknown", "fine").index(f.level))
    return {
        "words": words,
        "change": json.dumps({"change": change}),
        "helps": one.helps,
        "worse": [(f, sentence_html(f.text, f.values, units)) for f in worse[:MOST_WORSE]],
        "more": max(0, len(worse) - MOST_WORSE),
        "together": len(one.fixes) > 1,
    }


@router.get("/b/{build_id}/layout/remedies", name="remedies", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def remedies(request: Request, build_id: int, code: Short, place: Short, other: Short = "") -> Response:
    """Buttons for a finding's remedies, the best first, each with what it makes worse."""
    opened = open_build(build_id)
    derived, own = opened.derived, catalogue(opened.who.shop_id)
    found = [f for f in derived.findings if (f.code, f.place, f.other) == (code, place, other) and f.fixes]
    rows = []
    if found:
        key = ("remedies", derived.plan.model_dump_json(), own.key, code, place, other)
        rows = [_row(one, opened) for one in MEMO.get(key, lambda: tried(derived, found[0], own))]
    return render(request, "partials/remedies.html", {"rows": rows})
