"""Outlines from a DXF or SVG file: looked at, then leftovers, own parts, or a tried panel's outline."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, Field
from shapely.geometry import Polygon

from stirrup.core.arrange.palette import place
from stirrup.core.cutting.own_outline import TRACED, as_it_was
from stirrup.core.document import StockRef
from stirrup.core.errors import CoreError
from stirrup.core.fit.taken_in import as_fitted, as_parts, as_rests
from stirrup.core.fittings.stock import STIFF
from stirrup.core.parts.model import Panel
from stirrup.core.plan.changes import AnyChange
from stirrup.core.units import Units, read_length_m, write_length
from stirrup.exchange.outline_files import Drawing, read_outlines
from stirrup.exchange.outline_limits import MOST_BYTES, UNITS_MM
from stirrup.store import builds, uploads
from stirrup.web.drawing.outlines import outlines_svg
from stirrup.web.forms import entry_title
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.render import render
from stirrup.web.screen import CURRENT
from stirrup.web.security import say_next

router = APIRouter(route_class=GateRoute)

WAYS = {
    "rack": "leftovers on the rack",
    "part": "parts of your own",
    "tried": "the outline of a panel as it fits",
}
FIRST_GAP_M = 0.0001
Text = Annotated[str, Field(max_length=100)]


class Typed(BaseModel):
    """What is typed about a file."""

    unit: Text = ""
    gap: Text = ""
    traced: Text = TRACED[0]
    pen: Text = ""
    gone: Text = ""
    way: Text = "rack"
    stock: Text = ""
    where: Text = ""
    name: Text = ""
    panel: Text = ""


class TakeForm(Typed):
    """The same, sent: which outlines, by their numbers."""

    base: int
    pick: list[int] = Field(default_factory=list, max_length=400)


@lru_cache(maxsize=16)
def _drawing(shop_id: int, build_id: int, upload_id: int, unit: str, gap: float) -> Drawing:
    kept = uploads.fetch(shop_id, build_id, "outline", upload_id)
    return read_outlines(kept.content, kept.name, unit, gap * 1000)


def _length(text: str, place: str, units: Units, first: float) -> float:
    if not text.strip():
        return first
    try:
        return read_length_m(text, units)
    except CoreError as error:
        raise CoreError(error.message, place) from None


def _read(opened: OpenBuild, upload_id: int, typed: Typed) -> Drawing:
    """What the file gives, with the edge of each where it is by what was typed. Raises CoreError."""
    units = opened.units
    gap, pen, gone = (_length(getattr(typed, name), name, units, first)
                      for name, first in (("gap", FIRST_GAP_M), ("pen", 0.0), ("gone", 0.0)))  # fmt: skip
    drawing = _drawing(opened.who.shop_id, opened.stored.id, upload_id, typed.unit, gap)
    traced = next((t for t in TRACED if t == typed.traced), None)
    if traced is None:
        raise CoreError(f"read “{typed.traced}”; accepted: {', '.join(TRACED)}", "traced")
    try:
        shapes = tuple(as_it_was(o, traced, pen, gone) for o in drawing.outlines)
    except ValueError as error:
        raise CoreError(str(error), "pen") from None
    return replace(drawing, outlines=shapes)


def _panels(opened: OpenBuild) -> list[Panel]:
    return [p for b in opened.derived.built for p in b.panels if not p.bends]


def _page(request: Request, opened: OpenBuild, upload_id: int, typed: Typed, case: str | None,
          problem: CoreError | None = None, picked: list[int] | None = None,
          status: int = 200) -> Response:  # fmt: skip
    shop, units = opened.who.shop_id, opened.units
    drawing = None
    try:
        drawing = _read(opened, upload_id, typed)
    except CoreError as error:
        problem = problem or error
    catalogue = opened.derived.catalogue
    context: dict[str, Any] = {
        **build_context(opened, request, "cuts", case), "upload": upload_id, "typed": typed,
        "name": uploads.fetch(shop, opened.stored.id, "outline", upload_id).name, "drawing": drawing,
        "problem": problem, "ways": WAYS,
        "traced": TRACED, "file_units": list(UNITS_MM), "panels": _panels(opened),
        "gap": typed.gap or write_length(FIRST_GAP_M, units, True), "picked": picked,
        "sheets": [(e.id, entry_title(e)) for e in catalogue.offered(StockRef("sheet", wanted=(STIFF,)))],
        "picture": Markup(outlines_svg(drawing.outlines, units, CURRENT.get().sheets)) if drawing else "",
    }  # fmt: skip
    response = render(request, "outlines.html", context)
    response.status_code = 422 if problem and status == 200 else status
    return response


@router.post("/b/{build_id}/cuts/outlines", name="outlines_in", include_in_schema=False)
def outlines_in(request: Request, build_id: int, file: UploadFile) -> Response:
    """Take a file in; nothing of the plan changes."""
    opened = open_build(build_id)
    content, name = file.file.read(MOST_BYTES + 1), (file.filename or "file")[:100]
    try:
        read_outlines(content, name, tolerance_mm=FIRST_GAP_M * 1000)
    except CoreError as error:
        # another unit or a wider gap may help: those are asked on the page
        if error.place == "file" and "no closed outline" not in error.message:
            say_next(request, f"cuts {build_id}", error.message)
            return RedirectResponse(f"{request.url_for('cuts', build_id=build_id).path}#rack", 303)
    media = "image/svg+xml" if name.lower().endswith(".svg") else "application/dxf"
    upload = uploads.keep(opened.who.shop_id, build_id, "outline", name, media, content)
    return RedirectResponse(request.url_for("outlines", build_id=build_id, upload_id=upload).path, 303)


@router.get("/b/{build_id}/cuts/outlines/{upload_id}", name="outlines", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def outlines(request: Request, build_id: int, upload_id: int, case: CaseName) -> Response:
    """What a file gives, and what is to become of it."""
    opened = open_build(build_id)
    known = {k: str(v)[:100] for k, v in request.query_params.items() if k in Typed.model_fields}
    return _page(request, opened, upload_id, Typed(**known), case)


@router.post("/b/{build_id}/cuts/outlines/{upload_id}/take", name="outlines_take", include_in_schema=False)
def outlines_take(
    request: Request, build_id: int, upload_id: int, case: CaseName, form: Annotated[TakeForm, Form()]
) -> Response:
    """The ticked outlines taken over, as one change."""
    opened = open_build(build_id)
    try:
        drawing = _read(opened, upload_id, form)
        change = _change(opened, drawing, form)
        words = getattr(change, "words", "")
        builds.commit(opened.who.shop_id, build_id, form.base, change, lambda *_: words, None)
    except builds.StaleEditError as error:
        told = CoreError(
            f"the same was changed in another window meanwhile ({error.theirs}): send it again"
        )
        return _page(request, opened, upload_id, form, case, told, form.pick, 409)
    except CoreError as error:
        return _page(request, opened, upload_id, form, case, error, form.pick)
    say_next(request, f"cuts {build_id}", f"Taken over: {words}.")
    return RedirectResponse(f"{request.url_for('cuts', build_id=build_id).path}#rack", 303)


def _change(opened: OpenBuild, drawing: Drawing, form: TakeForm) -> AnyChange:
    """Raises CoreError, with the field that is wrong."""
    plan, shapes = opened.plan, list[tuple[int, Polygon]]()
    for number in dict.fromkeys(form.pick):
        if not 1 <= number <= len(drawing.outlines):
            raise CoreError(f"read {number}; accepted: 1 to {len(drawing.outlines)}", "pick")
        shapes.append((number, drawing.outlines[number - 1]))
    if form.way == "tried":
        panel = next((p for p in _panels(opened) if p.key == form.panel), None)
        if panel is None:
            raise CoreError(f"there is no panel “{form.panel}” to take it; it is gone meanwhile", "panel")
        if len(shapes) != 1:
            raise CoreError(f"{len(shapes)} outlines are ticked; accepted: one for a panel", "pick")
        return as_fitted(plan, panel, shapes[0][1], opened.units)
    if form.stock not in {e.id for e in opened.derived.catalogue.offered(StockRef("sheet"))}:
        raise CoreError(f"there is no sheet “{form.stock}” in the catalogue", "stock")
    if form.way == "rack":
        return as_rests(plan, shapes, form.stock, form.where[:60])
    if form.way == "part":
        first = place(plan, opened.derived.surface, opened.derived.footing, "own_part")
        return as_parts(plan, shapes, form.stock, form.name.strip() or "Own part", first)
    raise CoreError(f"read “{form.way}”; accepted: {', '.join(WAYS)}", "way")
