"""Scan in: a mesh set upright by three picks, cut at sections, taken over as readings."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, Any

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, ValidationError

from stirrup.core.derive import derive
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import Hull
from stirrup.core.hull.scan import LINE_SETS
from stirrup.core.plan.changes import SetValue, plain
from stirrup.core.plan.explain import first_error
from stirrup.core.plan.model import Plan
from stirrup.exchange.catalogue import starting
from stirrup.exchange.scan_mesh import (
    UNITS_M,
    Looked,
    ScanResult,
    ScanWishes,
    guess_unit,
    look_at,
    read_scan,
    scan_result,
)
from stirrup.store import builds, uploads
from stirrup.web.drawing.scan import sections_across
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.pages.survey import line_drawings
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

if TYPE_CHECKING:
    import trimesh

router = APIRouter(route_class=GateRoute)

MOST_SCAN = 60_000_000
PICKS = (
    ("aft", "Keel at the transom"),
    ("fore", "Keel further forward, on its straight run"),
    ("top", "Top of the stem"),
)
NUMBER = re.compile(r"[-+]?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?")
DEFAULT = ScanWishes("", ((0.0, 0.0, 0.0),) * 3)


@lru_cache(maxsize=2)
def _mesh(shop_id: int, build_id: int, upload_id: int) -> tuple[trimesh.Trimesh, Looked]:
    """Meshes are large: two of them are kept read."""
    kept = uploads.fetch(shop_id, build_id, "scan", upload_id)
    mesh = read_scan(kept.content, kept.name)
    return mesh, look_at(mesh)


@lru_cache(maxsize=8)
def _result(shop_id: int, build_id: int, upload_id: int, wishes: ScanWishes) -> ScanResult:
    return scan_result(_mesh(shop_id, build_id, upload_id)[0], wishes)


def read_pick(text: str, place: str) -> Point:
    """Three numbers in the scan's own axes. Raises CoreError."""
    parts = [p for p in re.split(r"[\s;,]+", text.strip()) if p]
    if len(parts) != 3 or not all(NUMBER.fullmatch(p) for p in parts):
        raise CoreError(f"read “{text}”; accepted: x y z of the scan, such as 1500 0 12", place)
    return (float(parts[0]), float(parts[1]), float(parts[2]))


def _typed(request: Request, form: dict[str, str] | None = None) -> dict[str, str]:
    source = form if form is not None else dict(request.query_params)
    names = ("unit", "lines", "stations", "sides", "aft", "fore", "top", "centre", "asked")
    return {k: str(source[k])[:80] for k in names if k in source}


def read_wishes(typed: dict[str, str], mesh: trimesh.Trimesh, looked: Looked) -> ScanWishes:
    """Wishes from a form; what is missing is guessed from the mesh. Raises CoreError."""
    picks = tuple(
        read_pick(typed[name], name) if typed.get(name) else guess
        for (name, _), guess in zip(PICKS, looked.picks, strict=True)
    )
    stations = typed.get("stations", "") or str(DEFAULT.stations)
    if re.fullmatch("[0-9]{1,3}", stations) is None:
        raise CoreError(f"read “{stations}”; accepted: 5 to 25", "stations")
    return ScanWishes(
        typed.get("unit") or guess_unit(float(max(mesh.extents))),
        picks,  # type: ignore[arg-type]
        typed.get("lines") or DEFAULT.lines,
        int(stations),
        "asked" not in typed or "centre" in typed,
    )


def scanned_plan(plan: Plan, result: ScanResult, apart: bool) -> Plan:
    """The plan with the scan's readings in place of its own. Raises CoreError."""
    found = result.scanned
    lines = found.port if apart else found.averaged()
    hull = {
        **plain(plan)["hull"],
        "lines": [line.model_dump(mode="json") for line in lines],
        "starboard": [line.model_dump(mode="json") for line in found.starboard] if apart else None,
        "quick": None,
    }
    try:
        return plan.model_copy(update={"hull": Hull.model_validate(hull)})
    except ValidationError as error:
        text = first_error(error, hull).message
        raise CoreError(f"these readings make no hull: {text}", "lines") from None


def _context(opened: OpenBuild, request: Request, case: str | None, upload_id: int,
             typed: dict[str, str], problem: CoreError | None = None) -> dict[str, Any]:  # fmt: skip
    who, stored = opened.who, opened.stored
    mesh, looked = _mesh(who.shop_id, stored.id, upload_id)
    context: dict[str, Any] = {
        **build_context(opened, request, "survey", case),
        "sub": "readings", "upload": upload_id, "typed": typed, "mesh": mesh, "result": None,
        "scan_units": list(UNITS_M), "line_sets": list(LINE_SETS), "picks": PICKS, "wishes": None,
        "problem": problem,
        "name": uploads.fetch(who.shop_id, stored.id, "scan", upload_id).name,
    }  # fmt: skip
    try:
        wishes = read_wishes(typed, mesh, looked)
        context["wishes"] = wishes
        result = _result(who.shop_id, stored.id, upload_id, wishes)
        plan = scanned_plan(opened.plan, result, typed.get("sides") == "apart")
        derived = derive(plan, starting(), quick=True)
        outside = derived.surface.outside
        context.update(
            result=result,
            views={
                **line_drawings(derived, opened.units, "", CURRENT.get().scan),
                "body": Markup(sections_across(result)),
            },
            readings=sum(len(x.points) for x in (*plan.hull.lines, *(plan.hull.starboard or ()))),
            sizes=[float(v) for v in outside.high - outside.low],
            volume=outside.volume_m3,
        )
    except CoreError as error:
        context["problem"] = context["problem"] or error
    return context


@router.post("/b/{build_id}/survey/scan", name="scan_in", include_in_schema=False)
def scan_in(request: Request, build_id: int, scan: UploadFile) -> Response:
    """Take a mesh in; nothing of the plan changes."""
    opened = open_build(build_id)
    content = scan.file.read(MOST_SCAN + 1)
    if len(content) > MOST_SCAN:
        raise CoreError(f"the file is larger than {MOST_SCAN // 1_000_000} MB; thin the scan out", "scan")
    name = scan.filename or "scan"
    read_scan(content, name)
    upload = uploads.keep(opened.who.shop_id, build_id, "scan", name, "model/mesh", content)
    to = request.url_for("scan_page", build_id=build_id, upload_id=upload).path
    return RedirectResponse(to, 303)


@router.get("/b/{build_id}/survey/scan/{upload_id}", name="scan_page", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def scan_page(request: Request, build_id: int, upload_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    context = _context(opened, request, case, upload_id, _typed(request))
    response = render(request, "scan.html", context)
    response.status_code = 422 if context["problem"] else 200
    return response


@router.get("/b/{build_id}/survey/scan/{upload_id}/points", name="scan_points",
            include_in_schema=False)  # fmt: skip
def scan_points(build_id: int, upload_id: int) -> Response:
    """Points of the mesh for its picture, in its own axes and unit."""
    opened = open_build(build_id)
    _, looked = _mesh(opened.who.shop_id, build_id, upload_id)
    return JSONResponse({
        "points": [[float(f"{v:.6g}") for v in p] for p in looked.points.tolist()],
        "frame": looked.frame.tolist(),
        "middle": looked.middle.tolist(),
    })  # fmt: skip


class ScanForm(BaseModel):
    """How a scan is to be taken over, as typed; `base`: the revision that it was looked at in."""

    base: int
    sides: str = ""
    unit: str = ""
    lines: str = ""
    stations: str = ""
    aft: str = ""
    fore: str = ""
    top: str = ""
    centre: str = ""

    def typed(self) -> dict[str, str]:
        """The same as a query has it: a box that is not ticked is not there."""
        values = {k: str(v) for k, v in self.model_dump(exclude={"base"}).items()}
        if not self.centre:
            del values["centre"]
        return {**values, "asked": "1"}


@router.post("/b/{build_id}/survey/scan/{upload_id}/take", name="scan_take", include_in_schema=False)
def scan_take(
    request: Request, build_id: int, upload_id: int, case: CaseName, form: Annotated[ScanForm, Form()]
) -> Response:
    """Take the scan's readings over, as one change."""
    opened, typed = open_build(build_id), form.typed()
    shop = opened.who.shop_id
    try:
        wishes = read_wishes(typed, *_mesh(shop, build_id, upload_id))
        result = _result(shop, build_id, upload_id, wishes)
        plan = scanned_plan(opened.plan, result, form.sides == "apart")
        change = SetValue(path=("hull",), value=plain(plan)["hull"])
        words = f"hull: {form.stations or DEFAULT.stations} stations from a scan"
        builds.commit(shop, build_id, form.base, change, lambda *_: words, None)
    except builds.StaleEditError as error:
        problem = CoreError(
            f"the hull was changed in another window meanwhile ({error.theirs}): look again"
        )
        response = render(request, "scan.html", _context(opened, request, case, upload_id, typed, problem))
        response.status_code = 409
        return response
    except CoreError:
        response = render(request, "scan.html", _context(opened, request, case, upload_id, typed))
        response.status_code = 422
        return response
    return RedirectResponse(request.url_for("survey", build_id=build_id).path, 303)
