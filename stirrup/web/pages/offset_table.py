"""Offset table in: a preview with every problem by cell, mended in place, then taken over."""

from __future__ import annotations

import re
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue, plain
from stirrup.exchange.offsets import mend_cells, read_offsets, turn_round
from stirrup.store import builds
from stirrup.web.gate import GateRoute, told_in_shop_units
from stirrup.web.pages.frame import CaseName, build_context, open_build
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

MOST_CSV = 1_000_000
CELL = re.compile(r"cell-([0-9]{1,6})-([0-9]{1,3})")


def _import_context(opened: Any, request: Request, case: str | None, text: str) -> dict[str, Any]:
    result = read_offsets(text, opened.units)
    return {
        **build_context(opened, request, "survey", case),
        "sub": "readings",
        "text": text,
        "result": result,
        "hull": opened.plan.hull,
    }


@router.post("/b/{build_id}/survey/check", name="offsets_check", response_class=HTMLResponse,
             include_in_schema=False)  # fmt: skip
def check(
    request: Request,
    build_id: int,
    case: CaseName,
    table: UploadFile | None = None,
    text: Annotated[str, Form()] = "",
) -> Response:
    """Preview of an offset table: every problem by cell; nothing is stored."""
    opened = open_build(build_id)
    if table is not None and table.filename:
        content = table.file.read(MOST_CSV + 1)
        if len(content) > MOST_CSV:
            raise CoreError(
                f"“{table.filename[:60]}” is no offset table: it is larger than {MOST_CSV // 1_000_000} MB",
                "table",
            )
        text = content.decode("utf-8-sig", errors="replace")
    return render(request, "import.html", _import_context(opened, request, case, text))


@router.post("/b/{build_id}/survey/mend", name="offsets_mend", include_in_schema=False)
async def mend(request: Request, build_id: int) -> Response:
    """The table with the cells that were mended in place, looked at again."""
    form = {key: str(value) for key, value in (await request.form()).items()}

    def again() -> Response:
        opened = open_build(build_id)
        if form.get("turn") in ("x", "stations"):
            text = turn_round(form.get("text", ""), opened.units, form["turn"])
            return render(request, "import.html", _import_context(opened, request, None, text))
        cells = {(int(m[1]), int(m[2])): value for key, value in form.items() if (m := CELL.fullmatch(key))}
        text = mend_cells(form.get("text", ""), cells)
        return render(request, "import.html", _import_context(opened, request, None, text))

    return await run_in_threadpool(told_in_shop_units(again))


@router.post("/b/{build_id}/survey/take", name="offsets_take", include_in_schema=False)
def take(
    request: Request,
    build_id: int,
    case: CaseName,
    text: Annotated[str, Form()],
    base: Annotated[int, Form()],
) -> Response:
    """Take a clean table over as the hull's lines, as one change."""
    opened = open_build(build_id)
    result = read_offsets(text, opened.units)
    if result.problems or not result.lines:
        return render(request, "import.html", _import_context(opened, request, case, text))
    lines = [line.model_dump(mode="json") for line in result.lines]
    other = result.starboard
    right = [line.model_dump(mode="json") for line in other] if other else None
    words = f"hull: {result.readings} readings from an offset table"
    # both sides in one value, so that the plan is never half old and half new
    hull = {**plain(opened.plan)["hull"], "lines": lines, "starboard": right, "quick": None}
    change = SetValue(path=("hull",), value=hull)
    try:
        builds.commit(opened.who.shop_id, build_id, base, change, lambda *_: words, None)
    except builds.StaleEditError as error:
        context = _import_context(opened, request, case, text)
        context["stale"] = error.theirs
        return render(request, "import.html", context)
    return RedirectResponse(request.url_for("survey", build_id=build_id).path, 303)
