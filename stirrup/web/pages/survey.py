"""Survey: what have we got? Lines in three views, readings as a tape gives them."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup
from pydantic import BaseModel, StringConstraints

from stirrup.core.derive import MEMO, Derived
from stirrup.core.errors import CoreError, NoEquilibriumError
from stirrup.core.hull.checks import keel_slope
from stirrup.core.hull.level import level_across, level_lengthwise
from stirrup.core.hull.model import Hull
from stirrup.core.hull.quick import unread
from stirrup.core.memo import Key
from stirrup.core.next_reading import Wanted, measure_next
from stirrup.core.plan.changes import SetValue
from stirrup.core.plan.entry import FieldKind
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.plan.readings import DOWN, FULL
from stirrup.core.plan.survey import both_sides
from stirrup.core.studies import situation_of
from stirrup.core.units import Units, read_length_m
from stirrup.store import builds, uploads
from stirrup.web.drawing.across import body_plan
from stirrup.web.drawing.lines import lines_plan, lines_profile, reading_doubts
from stirrup.web.forms import Field, fields_of, make_field, mass_fields
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import change_json, step
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)

TITLES = {"0": "from transom", "1": "half-width", FULL: "full width", "2": "height"}


def line_drawings(
    derived: Derived, units: Units, chosen: str, wide: tuple[float, float], side: str = "lines",
    tape: bool = False,
) -> dict[str, Markup]:  # fmt: skip
    """Profile, half-breadths and body plan; wide: of the long ones and of the body plan on the page
    [px]; tape: with where it goes for the quick start."""
    return {
        "profile": Markup(lines_profile(derived, units, chosen, side, wide[0], tape)),
        "plan": Markup(lines_plan(derived, units, chosen, side, wide[0])),
        "body": Markup(body_plan(derived, wide[1], tape)),
    }


def chosen_line(derived: Derived, name: str) -> str:
    """Name of a line of the hull; the sheer when there is no such line."""
    names = [line.name for line in derived.plan.hull.lines]
    return name if name in names else names[-1]


class Taking:
    """How readings are taken: which line or station, which side, full widths, a string."""

    def __init__(
        self, line: str = "", station: int = 0, side: str = "", width: str = "", string: str = ""
    ) -> None:
        self.line, self.station = line, station
        self.side = "starboard" if side == "starboard" else "lines"
        self.full = width == "full"
        self.string_text = string.strip()
        self.string_m: float | None = None
        self.problem = ""

    def settle(self, opened: OpenBuild) -> None:
        """Fit what was asked for to the hull that there is."""
        hull = opened.plan.hull
        self.line = chosen_line(opened.derived, self.line)
        self.station = self.station if 0 < self.station <= len(hull.lines[0].points) else 0
        if hull.starboard is None:
            self.side = "lines"
        if self.string_text:
            try:
                self.string_m = read_length_m(self.string_text, opened.units)
            except CoreError as error:
                self.problem = error.message

    @property
    def columns(self) -> tuple[str, str, str]:
        """Steps of the three columns."""
        down = "2" if self.string_m is None else f"{DOWN}{self.string_m:.4f}"
        return ("0", FULL if self.full else "1", down)

    @property
    def query(self) -> dict[str, str]:
        """What a link must carry to keep the way of taking readings."""
        out = {"side": "starboard"} if self.side == "starboard" else {}
        if self.full:
            out["width"] = "full"
        if self.string_text:
            out["string"] = self.string_text
        return out


def _reading_fields(hull: Hull, taking: Taking, name: str, k: int, units: Units) -> list[Field]:
    lines = hull.lines if taking.side == "lines" else hull.starboard or ()
    line = next(x for x in lines if x.name == name)
    x, y, z = line.points[k]
    down = taking.string_m
    shown = (x, abs(y) * (2 if taking.full else 1), z if down is None else down - z)
    length = FieldKind("length", "")
    fields = []
    for column, value in zip(taking.columns, shown, strict=True):
        title = "down from the string" if column.startswith(DOWN) else TITLES[column]
        path = f"hull/{taking.side}/{step(name)}/points/{k}/{column}"
        fields.append(make_field(path, value, length, units, f"{name}, station {k + 1}, {title}"))
    return fields


def _reading_rows(opened: OpenBuild, taking: Taking) -> list[dict[str, Any]]:
    """Rows of the table: the stations of a line, or the lines of a station."""
    hull = opened.plan.hull
    lines = hull.lines if taking.side == "lines" else hull.starboard or ()
    if taking.station:
        places = [(line.name, taking.station - 1) for line in lines]
    else:
        places = [(taking.line, k) for k in range(len(hull.lines[0].points))]
    doubts = reading_doubts(opened.derived, taking.side)
    known = {line.name: line for line in lines}
    return [
        {
            "head": name if taking.station else str(k + 1),
            "fields": _reading_fields(hull, taking, name, k, opened.units),
            "known": known[name].known_at(k),
            "notes": doubts.get((name, k), []),
        }
        for name, k in places
    ]


def survey_context(
    opened: OpenBuild, request: Request, case: str | None, taking: Taking, **more: Any
) -> dict[str, Any]:
    """Everything the survey's readings page shows."""
    taking.settle(opened)
    hull, units = opened.plan.hull, opened.units
    outside = opened.derived.surface.outside
    quick = fields_of(hull.quick, "hull/quick", units) if hull.quick else []
    quiet = unread(hull.quick.shape) if hull.quick else frozenset()
    quick = [f for f in quick if f.path.rsplit("/", 1)[-1] not in quiet]
    return {
        **build_context(opened, request, "survey", case),
        "sub": "readings",
        "taking": taking,
        "line": taking.line,
        "rows": _reading_rows(opened, taking),
        "columns": taking.columns,
        "hull_notes": [
            f
            for f in opened.derived.findings
            if f.check.page == "survey" and "/" not in f.place and f.level != "fine"
        ],
        "views": line_drawings(opened.derived, units, taking.line, CURRENT.get().lines, taking.side),
        "quick_fields": quick,
        "estimated": sum(
            line.known_at(k) == "estimated" for line in hull.lines for k in range(len(line.points))
        ),
        "apart_change": "" if hull.starboard else change_json(both_sides(opened.plan)),
        "one_side_change": change_json(SetValue(path=("hull", "starboard"), value=None)),
        "diagonal_fields": fields_of(hull.diagonals, "hull/diagonals", units),
        "keel_slope": keel_slope(hull),
        "boat_fields": [
            make_field("name", opened.plan.name, FieldKind("text", "Name"), units),
            make_field("hull/material", hull.material, FieldKind("text", "Hull material"), units),
            *fields_of(hull.skin, "hull/skin", units),
            *fields_of(opened.plan.water, "water", units),
        ],
        "mass_fields": mass_fields(hull.mass, "hull/mass", units),
        "length_over_all": float(outside.high[0] - outside.low[0]),
        "beam": float(outside.high[1] - outside.low[1]),
        "depth": float(outside.high[2] - outside.low[2]),
        "level_problem": "",
        "floor": {},
        "scans": uploads.latest(opened.who.shop_id, opened.stored.id, "scan"),
        **more,
    }


@router.get("/b/{build_id}/survey", name="survey", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def survey(
    request: Request,
    build_id: int,
    case: CaseName,
    line: str = "",
    station: int = 0,
    side: str = "",
    width: str = "",
    string: str = "",
    hint: bool = False,
) -> Response:
    opened = open_build(build_id)
    taking = Taking(line, station, side, width, string)
    context = survey_context(opened, request, case, taking)
    # without scripts the hint is asked for by a link
    if hint:
        context |= {"hint_asked": True, "wanted": _wanted_or_none(opened.derived)}
    return render(request, "survey.html", context)


def _wanted(derived: Derived) -> tuple[Wanted, ...]:
    """What to measure next, remembered while hull and ledger stay."""
    hull = derived.plan.hull
    known = tuple((line.known, line.spread) for line in hull.lines)

    def compute() -> tuple[Wanted, ...]:
        load = situation_of(derived, PLANNED_EMPTY).load
        return measure_next(hull, load, derived.vessel.density)

    return MEMO.get(("next", derived.surface.key, known, Key(derived.planned)), compute)


def _wanted_or_none(derived: Derived) -> tuple[Wanted, ...]:
    """The same; nothing where she does not float."""
    try:
        return _wanted(derived)
    except NoEquilibriumError:
        return ()


@router.get("/b/{build_id}/survey/next", name="survey_next", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def survey_next(request: Request, build_id: int) -> Response:
    """The hint what to measure next, fetched behind the page."""
    opened = open_build(build_id)
    wanted = _wanted_or_none(opened.derived)
    context = {"wanted": wanted, "stored": opened.stored, "units": opened.units}
    return render(request, "partials/next.html", context)


def _floor_reading(text: str, key: str, units: Units) -> float:
    """A reading of the floor. Raises CoreError that says which of the four."""
    try:
        return read_length_m(text, units)
    except CoreError as error:
        what = "from transom" if key[0] == "x" else "height"
        raise CoreError(f"floor reading {key[1]}, {what}: {error.message}", key) from None


Tape = Annotated[str, StringConstraints(max_length=60)]  # as typed


class LevelForm(BaseModel):
    """Which two readings are to come to one height: of two stations, across one, or of the floor."""

    base: int
    way: Literal["along", "across", "floor"] = "along"
    low: int = 1
    high: int = 2
    x1: Tape = ""
    z1: Tape = ""
    x2: Tape = ""
    z2: Tape = ""

    def floor(self) -> dict[str, str]:
        """The readings of the floor, as typed."""
        return {"x1": self.x1, "z1": self.z1, "x2": self.x2, "z2": self.z2}


def _levelled(hull: Hull, form: LevelForm, units: Units) -> tuple[Hull, float]:
    """The hull levelled as asked, and by how much [rad]. Raises CoreError."""
    keel = hull.lines[0].points
    if form.way == "across":
        return level_across(hull, form.low - 1)
    if form.way == "floor":
        at = [_floor_reading(text, key, units) for key, text in form.floor().items()]
        return level_lengthwise(hull, (at[0], 0.0, at[1]), (at[2], 0.0, at[3]))
    if not (1 <= form.low <= len(keel) and 1 <= form.high <= len(keel)):
        raise CoreError(f"accepted: stations 1 to {len(keel)}")
    return level_lengthwise(hull, keel[form.low - 1], keel[form.high - 1])


@router.post("/b/{build_id}/survey/level", name="survey_level", include_in_schema=False)
def level(request: Request, build_id: int, case: CaseName, form: Annotated[LevelForm, Form()]) -> Response:
    """Turn all readings so that two of them come to one height, as one change."""
    opened = open_build(build_id)
    try:
        turned, angle = _levelled(opened.plan.hull, form, opened.units)
    except CoreError as error:
        context = survey_context(
            opened, request, case, Taking(), level_problem=error.message, floor=form.floor()
        )
        response = render(request, "survey.html", context)
        response.status_code = 422
        return response
    change = SetValue(path=("hull",), value=turned.model_dump(mode="json"))
    how = {"floor": "by two floor readings", "along": "along", "across": "across"}[form.way]
    words = f"hull: levelled {how} by {abs(math.degrees(angle)):.2f}°"
    builds.commit(opened.who.shop_id, build_id, form.base, change, lambda *_: words, None)
    return RedirectResponse(request.url_for("survey", build_id=build_id).path, 303)
