"""Where parts lie on their sheets: put there by hand, let go, looked for longer."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, Field

from stirrup.core.cutting.sheets import Placement, SheetLayout, placed
from stirrup.core.errors import CoreError
from stirrup.core.fit.pinning import at_corner, let_go, looked_closer, pinned, sheet_kept
from stirrup.core.plan.changes import AnyChange
from stirrup.core.units import read_length_m, write_length
from stirrup.store import layouts
from stirrup.store.builds import NotThereError
from stirrup.web import links
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import OpenBuild, open_build
from stirrup.web.present import slug
from stirrup.web.render import render
from stirrup.web.security import say_next

router = APIRouter(route_class=GateRoute)

StockId = Annotated[str, Query(max_length=100)]


class PinForm(BaseModel):
    """A part put on a sheet (`number` counts from 1), by x and y of its own axes [m], or, typed, by how far
    its left and its lower edge are from the sheet's; a whole sheet kept (`keep`), or parts let go: one of
    them, all of its stock."""

    base: int
    stock: Annotated[str, Field(max_length=100)]
    number: Annotated[int, Field(ge=1, le=1000)] = 1
    part: Annotated[str, Field(max_length=100)] = ""
    rotation: int = 0
    x: Annotated[float, Field(ge=-40, le=40)] = 0.0
    y: Annotated[float, Field(ge=-40, le=40)] = 0.0
    flipped: bool = False
    left: Annotated[str, Field(max_length=40)] = ""
    below: Annotated[str, Field(max_length=40)] = ""
    act: Literal["put", "keep", "let go", "let all go"] = "put"


@router.post("/b/{build_id}/cuts/pins", name="pin_form", include_in_schema=False)
def pin_form(request: Request, build_id: int, form: Annotated[PinForm, Form()]) -> Response:
    """A part stays where it was dragged, or it is said why it cannot; the rest is laid out around it."""
    opened = open_build(build_id, settled=True)
    layout = next((s for s in opened.derived.sheets if s.job.stock == form.stock), None)
    back = f"{links.to('cuts', build_id)}#stock-{slug(form.stock)}"
    try:
        change = _pinning(opened, layout, form)
    except CoreError as error:
        say_next(request, f"pins {build_id} {form.stock}", error.message)
        return RedirectResponse(back, 303)
    if change is not None:
        asked = ChangeAsked(base=form.base, change=change.model_dump(mode="json"))
        commit_change(opened.who, build_id, asked)
    return RedirectResponse(back, 303)


def _layout_of(opened: OpenBuild, stock: str) -> SheetLayout:
    found = next((s for s in opened.derived.sheets if s.job.stock == stock), None)
    if found is None:
        raise NotThereError("nothing is cut from this sheet any more; load the page again")
    return found


@router.post("/b/{build_id}/cuts/search", name="search_form", include_in_schema=False)
def search_form(
    build_id: int,
    base: Annotated[int, Form()],
    stock: Annotated[str, Form(max_length=100)],
    act: Annotated[Literal["closer", "stop"], Form()],
) -> Response:
    """Look longer for a close layout of one stock, or end that with what is best so far."""
    opened = open_build(build_id)
    layout = _layout_of(opened, stock)
    if act == "stop":
        layouts.stop(opened.who.shop_id, layout.job)
    else:
        change = looked_closer(opened.plan, layout)
        if change is not None:
            asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
            commit_change(opened.who, build_id, asked)
    return RedirectResponse(f"{links.to('cuts', build_id)}#stock-{slug(stock)}", 303)


@router.get("/b/{build_id}/cuts/search", name="search_state", include_in_schema=False)
def search_state(build_id: int, stock: StockId) -> Response:
    """How far the search for a closer layout is: from 0 to 1, null where none goes on."""
    opened = open_build(build_id)
    layout = _layout_of(opened, stock)
    share = layouts.progress(opened.who.shop_id, layout.job) if layout.more else None
    return JSONResponse({"share": share, "sheets": layout.bought})


@router.get("/b/{build_id}/cuts/numbers", name="pin_numbers", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def pin_numbers(
    request: Request, build_id: int, stock: StockId, number: Annotated[int, Query(ge=1, le=1000)]
) -> Response:
    """Where the parts of a sheet lie, to be moved by numbers: fetched when somebody asks."""
    opened = open_build(build_id, settled=True)
    layout = next((s for s in opened.derived.sheets if s.job.stock == stock), None)
    if layout is None or number > len(layout.sheets):
        raise NotThereError("this sheet is not there any more; load the page again")
    by = {b.id: b for b in layout.job.blanks}
    context = {
        "stored": opened.stored,
        "layout": layout,
        "number": number,
        "corners": {
            x.blank: [write_length(v, opened.units) for v in placed(by[x.blank], x).bounds[:2]]
            for x in layout.sheets[number - 1]
        },
        "item": opened.derived.catalogue.sheet(stock),
        "labels": {b.id: b.label for b in layout.job.blanks},
        "turns": {b.id: b.rotations for b in layout.job.blanks},
        "kept": {p.part for p in layout.job.stays},
    }
    return render(request, "partials/put.html", context)


def _pinning(opened: OpenBuild, layout: SheetLayout | None, form: PinForm) -> AnyChange | None:
    """Raises CoreError with why a part cannot lie there."""
    plan, units = opened.plan, opened.units
    if form.act == "let go":
        return let_go(plan, [form.part])
    if form.act == "let all go":
        return let_go(plan, [p.id for p in plan.cutting.pins if p.stock == form.stock])
    if layout is None:
        raise CoreError("nothing is cut from this sheet any more: look again", "stock")
    if form.act == "keep":
        return sheet_kept(plan, layout, form.number - 1)
    put = Placement(form.part, form.rotation % 360, form.x, form.y, form.flipped)
    if form.left or form.below:
        corner = (read_length_m(form.left, units), read_length_m(form.below, units))
        put = at_corner(layout, form.part, form.rotation % 360, form.flipped, corner)
    return pinned(plan, layout, form.number - 1, put, units)
