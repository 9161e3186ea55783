"""A round tube that fits others at its ends: ordinates to mark by hand, a paper to wrap round it."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, Field

from stirrup.core.cutting.tube import HANDS, MEETS, Meets, Tube, TubeEnd, Unrolled, unrolled, wrap_lines
from stirrup.core.errors import CoreError
from stirrup.core.units import Units, read_length_m, write_length
from stirrup.exchange.template import PAPERS, Drawn, Paper, drawn_pdf
from stirrup.web.drawing.tube import tube_svg
from stirrup.web.gate import GateRoute
from stirrup.web.pages.files import download
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)
Text = Annotated[str, Field(max_length=60)]
FIRST_M = {"across": 0.0254, "long": 0.6, "first_across": 0.0254, "last_across": 0.0254}


class Typed(BaseModel):
    """What is typed of a tube and of both its ends."""

    across: Text = ""
    long: Text = ""
    twist: Text = "0"
    first: Text = "a round tube"
    first_across: Text = ""
    first_angle: Text = "90"
    first_off: Text = "0"
    last: Text = "nothing: square"
    last_across: Text = ""
    last_angle: Text = "90"
    last_off: Text = "0"


def _typed(request: Request) -> Typed:
    known = {k: str(v)[:60] for k, v in request.query_params.items() if k in Typed.model_fields}
    return Typed(**known)


Asked = Annotated[Typed, Depends(_typed)]


def _filled(typed: Typed, units: Units) -> dict[str, str]:
    return {k: v or (write_length(FIRST_M[k], units) if k in FIRST_M else "0")
            for k, v in typed.model_dump().items()}  # fmt: skip


def _length(values: dict[str, str], name: str, units: Units) -> float:
    try:
        return read_length_m(values[name], units)
    except CoreError as error:
        raise CoreError(error.message, name) from None


def _degrees(values: dict[str, str], name: str) -> float:
    text = values[name].replace("°", "").strip()
    try:
        found = float(text)
    except ValueError:
        found = float("nan")
    if not abs(found) <= 360:
        raise CoreError(f"read “{values[name]}” as an angle; accepted: degrees, such as 62.5", name)
    return found


def _end(values: dict[str, str], name: str, units: Units) -> TubeEnd:
    meets: Meets | None = next((m for m in MEETS if m == values[name]), None)
    if meets is None:
        raise CoreError(f"read “{values[name]}”; accepted: {', '.join(MEETS)}", name)
    return TubeEnd(meets, _degrees(values, f"{name}_angle"), _length(values, f"{name}_across", units),
                   _length(values, f"{name}_off", units))  # fmt: skip


def _read(values: dict[str, str], units: Units) -> Unrolled:
    """Raises CoreError with the field that is wrong."""
    across, long = (_length(values, name, units) for name in ("across", "long"))
    first, last = (_end(values, name, units) for name in ("first", "last"))
    tube = Tube(across, long, first, last, _degrees(values, "twist"))
    try:
        return unrolled(tube, units)
    except CoreError as error:
        raise CoreError(error.message, error.place.replace("-", "_")) from None


@router.get("/b/{build_id}/cuts/tube", name="tube_page", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def tube_page(request: Request, build_id: int, case: CaseName, typed: Asked) -> Response:
    """The tube unrolled, with its ordinates."""
    opened = open_build(build_id)
    values, found, problem = _filled(typed, opened.units), None, None
    try:
        found = _read(values, opened.units)
    except CoreError as error:
        problem = error
    context: dict[str, Any] = {
        **build_context(opened, request, "cuts", case), "values": values, "tube": found, "problem": problem,
        "meets": MEETS, "papers": {"a4": "A4", "letter": "Letter", "roll-610": "roll 610 mm"},
        "degrees": [k * 360 // HANDS for k in range(HANDS)],
        "picture": Markup(tube_svg(found, opened.units, CURRENT.get().column)) if found else "",
    }  # fmt: skip
    response = render(request, "tube.html", context)
    response.status_code = 422 if problem else 200
    return response


@router.get("/b/{build_id}/tube.pdf", name="tube_file", include_in_schema=False)
def tube_file(build_id: int, typed: Asked, paper: Paper = "a4") -> Response:
    """The paper that is wrapped round it, at true size."""
    opened = open_build(build_id)
    return _pdf(opened, _read(_filled(typed, opened.units), opened.units), paper)


def _pdf(opened: OpenBuild, found: Unrolled, paper: Paper) -> Response:
    assert paper in PAPERS
    drawn = Drawn(
        found.outline, "tube end", f"{write_length(found.round_m, opened.units)} round", (),
        tuple(wrap_lines(found)),
        "Cut on the line, wrap it round the tube, edge to edge; mark along both ends.",
    )  # fmt: skip
    return download(drawn_pdf(drawn, opened.plan.name, paper), "application/pdf", "tube-end.pdf")
