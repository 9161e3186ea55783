"""Files in and out: build files, offset tables, cut lists, DXF."""

from __future__ import annotations

import re
import unicodedata
import zipfile
from io import BytesIO
from typing import Annotated

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response

from stirrup.core.buying import cut_outline
from stirrup.core.cutting.notes import bends_of
from stirrup.core.errors import CoreError
from stirrup.core.memo import of_one_to_be
from stirrup.demo.seed import FILES, demo_plan
from stirrup.exchange import buildfile
from stirrup.exchange.cutlist import cut_list, shopping_list
from stirrup.exchange.dxf import panel_dxf, sheet_dxf
from stirrup.exchange.lines_drawing import draw_lines
from stirrup.exchange.offsets import write_offsets
from stirrup.exchange.paper import paper_dxf, paper_pdf, paper_svg
from stirrup.store import builds
from stirrup.store.session import writing
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build, refuse_dead_end, viewer
from stirrup.web.pages.yard import yard_context
from stirrup.web.problems import Problem
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


def file_name(name: str, tail: str) -> str:
    """A plain file name from a build's name."""
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "build"
    return f"{plain}{tail}"


def apart(name: str, taken: set[str]) -> str:
    """A file name for an archive: letters of any script, and another one than all before it."""
    plain = re.sub(r"[\W_]+", "-", unicodedata.normalize("NFC", name)).strip("-")[:80] or "panel"
    new, number = plain, 2
    while new.casefold() in taken:
        new, number = f"{plain}-{number}", number + 1
    taken.add(new.casefold())
    return f"{new}.dxf"


def download(content: str | bytes, kind: str, name: str) -> Response:
    """An answer that is kept as a file of that name."""
    return Response(
        content, media_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


@router.get("/b/{build_id}/file", name="build_file", include_in_schema=False)
def build_file(build_id: int) -> Response:
    stored = builds.load(viewer().shop_id, build_id)
    name = file_name(stored.plan.name, ".stirrup.json")
    return download(buildfile.dump(stored.plan), "application/json", name)


@router.post("/builds/import", name="import_build", include_in_schema=False)
def import_build(request: Request, file: UploadFile, csrf_token: Annotated[str, Form()] = "") -> Response:
    """A build file becomes a new build; a wrong one is explained and stores nothing."""
    who = viewer()
    with of_one_to_be() as called:
        try:
            plan = buildfile.parse(file.file.read(buildfile.MOST_BYTES + 1))
            refuse_dead_end(plan, who)
        except CoreError as error:
            context = {**yard_context(), "import_error": str(error), "import_name": file.filename}
            response = render(request, "yard.html", context)
            response.status_code = 422
            return response
        stored = builds.create(who.shop_id, plan, f"imported from {file.filename or 'a build file'}")
        called(str(stored.id))
    return RedirectResponse(request.url_for("layout", build_id=stored.id).path, 303)


@router.post("/builds/demo", name="demo_boats", include_in_schema=False)
def demo_boats(request: Request) -> Response:
    """The demo boats, beside whatever is in the yard."""
    who = viewer()
    with writing():
        for name in FILES:
            plan = builds.rename_to_new(who.shop_id, demo_plan(name))
            builds.create(who.shop_id, plan, "the demo boat")
    return RedirectResponse(request.url_for("yard").path, 303)


@router.post("/b/{build_id}/copy", name="copy_build", include_in_schema=False)
def copy_build(request: Request, build_id: int) -> Response:
    who = viewer()
    source = builds.load(who.shop_id, build_id)
    plan = builds.rename_to_new(who.shop_id, source.plan)
    stored = builds.create(who.shop_id, plan, f"copied from {source.plan.name}")
    return RedirectResponse(request.url_for("layout", build_id=stored.id).path, 303)


@router.get("/b/{build_id}/offsets.csv", name="offsets_csv", include_in_schema=False)
def offsets_csv(build_id: int) -> Response:
    opened = open_build(build_id)
    unit = "mm" if opened.units.length == "mm" else "in"
    text = write_offsets(opened.plan.hull, unit)
    return download(text, "text/csv", file_name(opened.plan.name, "-offsets.csv"))


LINES_KINDS = {"svg": "image/svg+xml", "pdf": "application/pdf", "dxf": "image/vnd.dxf"}


@router.get("/b/{build_id}/lines.{kind}", name="lines_file", include_in_schema=False)
def lines_file(build_id: int, kind: str) -> Response:
    """Lines drawing on one sheet at a round scale."""
    if kind not in LINES_KINDS:
        raise Problem(404, "There is no such drawing", "It comes as svg, pdf or dxf.")
    opened = open_build(build_id)
    plan = opened.plan
    sheet = draw_lines(plan.hull, opened.derived.surface, plan.name, opened.units)
    content = paper_pdf(sheet) if kind == "pdf" else {"svg": paper_svg, "dxf": paper_dxf}[kind](sheet)
    return download(content, LINES_KINDS[kind], file_name(plan.name, f"-lines.{kind}"))


@router.get("/b/{build_id}/cut-list.csv", name="cut_list_csv", include_in_schema=False)
def cut_list_csv(build_id: int) -> Response:
    opened = open_build(build_id, settled=True)
    name = file_name(opened.plan.name, "-cut-list.csv")
    return download(cut_list(opened.derived), "text/csv", name)


@router.get("/b/{build_id}/shopping-list.csv", name="shopping_csv", include_in_schema=False)
def shopping_csv(build_id: int) -> Response:
    opened = open_build(build_id, settled=True)
    name = file_name(opened.plan.name, "-shopping-list.csv")
    return download(shopping_list(opened.derived), "text/csv", name)


@router.get("/b/{build_id}/sheet/{stock}/{number}.dxf", name="sheet_file", include_in_schema=False)
def sheet_file(build_id: int, stock: str, number: int) -> Response:
    opened = open_build(build_id, settled=True)
    layout = next((x for x in opened.derived.sheets if x.job.stock == stock), None)
    if layout is None or not 1 <= number <= len(layout.sheets):
        raise Problem(404, "There is no such sheet", "The layout may have changed; see Cuts.")
    name = file_name(f"{opened.plan.name}-{stock}-{number}", ".dxf")
    return download(
        sheet_dxf(layout, number - 1, bends_of(p for b in opened.derived.built for p in b.panels)),
        "image/vnd.dxf",
        name,
    )


@router.get("/b/{build_id}/panels.zip", name="panel_files", include_in_schema=False)
def panel_files(build_id: int) -> Response:
    """One DXF for each panel, in an archive."""
    opened = open_build(build_id)
    out, taken = BytesIO(), set[str]()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for built in opened.derived.built:
            for panel in built.panels:
                cut = cut_outline(panel, opened.plan, opened.derived.surface)
                archive.writestr(apart(panel.label, taken), panel_dxf(panel, cut))
    return download(out.getvalue(), "application/zip", file_name(opened.plan.name, "-panels.zip"))
