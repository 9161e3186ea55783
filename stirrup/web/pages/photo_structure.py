"""Structure that is there taken from a photo of the survey: four marks, then two corners of each thing."""

from __future__ import annotations

import io
import re
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from PIL import Image
from pydantic import BaseModel

from stirrup.core.arrange.palette import place as first_place
from stirrup.core.document import Box, Point2
from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing
from stirrup.core.plan.condition import Place
from stirrup.core.plan.photographed import AXES, SEEN, Seen, Taped, box_of, grid, unsure_m
from stirrup.core.units import Units, read_length_m, write_length
from stirrup.store import builds, uploads
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.render import render
from stirrup.web.security import said, say_next

router = APIRouter(route_class=GateRoute)

MARKS = ("m1", "m2", "m3", "m4", "one", "other")
FIRST = {"m1": "25 75", "m2": "75 75", "m3": "75 25", "m4": "25 25", "one": "", "other": ""}
SPANS = {"a0": 1.0, "a1": 2.0, "b0": -0.5, "b1": 0.5, "low": 0.0, "high": 0.1}
ENTRIES = {"rib": "side rib", "stringer": "stringer", "thwart": "thwart", "old bulkhead": "bulkhead",
           "old knee": "knee", "old deck": "deck or cap", "old foam": "foam", "splash well": "well",
           "structure": "something else"}  # fmt: skip
# of each way to see her: names of the rectangle's corners in order, and of its spans
WORDS: dict[str, tuple[tuple[str, ...], tuple[str, str, str]]] = {
    "from above": (("aft starboard", "fore starboard", "fore port", "aft port"),
                   ("From transom", "To port", "Above keel line")),
    "across her": (("lower starboard", "lower port", "upper port", "upper starboard"),
                   ("To port", "Above keel line", "From transom")),
    "from the side": (("lower aft", "lower fore", "upper fore", "upper aft"),
                      ("From transom", "Above keel line", "To port")),
}  # fmt: skip
SHARE = re.compile(r"\s*([0-9]{1,3}(?:\.[0-9]+)?)[\s;,]+([0-9]{1,3}(?:\.[0-9]+)?)\s*")
NET_M = {"mm": 0.25}  # else a foot
FOOT_M = 0.3048


class Typed(BaseModel):
    """What is typed or clicked, as it is on the page."""

    seen: str = "from above"
    m1: str = ""
    m2: str = ""
    m3: str = ""
    m4: str = ""
    a0: str = ""
    a1: str = ""
    b0: str = ""
    b1: str = ""
    one: str = ""
    other: str = ""
    low: str = ""
    high: str = ""
    entry: str = "rib"
    name: str = ""

    def kept(self) -> dict[str, str]:
        """What goes on for the next thing on the same photo."""
        return {k: v for k, v in self.model_dump().items() if v and k not in ("one", "other", "name")}


class TakeForm(Typed):
    """The same, sent to be taken over."""

    base: int


def _share(text: str, place: str) -> Point2:
    found = SHARE.fullmatch(text)
    values = [float(v) / 100 for v in found.groups()] if found else []
    if not values or max(values) > 1:
        raise CoreError(f"read “{text}”; accepted: two numbers from 0 to 100, such as 12.5 80", place)
    return values[0], values[1]


def _length(text: str, place: str, units: Units) -> float:
    try:
        return read_length_m(text, units)
    except CoreError as error:
        raise CoreError(error.message, place) from None


def _filled(typed: Typed, units: Units) -> dict[str, str]:
    """All fields with what stands in them at first."""
    first = {**FIRST, **{k: write_length(v, units) for k, v in SPANS.items()}}
    return {k: v or first.get(k, "") for k, v in typed.model_dump().items()}


def read_taped(values: dict[str, str], units: Units) -> Taped:
    """The rectangle that is marked on the photo. Raises CoreError with its field."""
    if values["seen"] not in SEEN:
        raise CoreError(f"read “{values['seen']}”; accepted: {', '.join(SEEN)}", "seen")
    seen: Seen = next(s for s in SEEN if s == values["seen"])
    spans = []
    for low, high in (("a0", "a1"), ("b0", "b1")):
        span = (_length(values[low], low, units), _length(values[high], high, units))
        if not span[0] < span[1]:
            raise CoreError(f"read {values[high]}; accepted: more than {values[low]}", high)
        spans.append(span)
    m1, m2, m3, m4 = (_share(values[m], m) for m in MARKS[:4])
    return Taped(seen, spans[0], spans[1], (m1, m2, m3, m4))


def read_box(taped: Taped, values: dict[str, str], units: Units) -> Box:
    """The thing whose corners are marked. Raises CoreError with its field."""
    ends = _length(values["low"], "low", units), _length(values["high"], "high", units)
    one, other = (_share(values[m], m) for m in MARKS[4:])
    return box_of(taped, one, other, ends, units)


def _place(opened: OpenBuild, id_: str) -> Place:
    found = next((p for p in opened.plan.condition if p.id == id_), None)
    if found is None or found.photo is None:
        raise CoreError(f"there is no place “{id_}” with a photo; it was removed meanwhile", "place")
    return found


def _picture(opened: OpenBuild, place: Place) -> tuple[int, int]:
    """Points of the photo across and down."""
    number = int(str(place.photo).removeprefix("photo-"))
    kept = uploads.fetch(opened.who.shop_id, opened.stored.id, "photo", number)
    with Image.open(io.BytesIO(kept.content)) as picture:
        return picture.size


def _overlay(values: dict[str, str], size: tuple[int, int], units: Units) -> dict[str, Any]:
    """Net, thing and figures over the photo, as far as what is typed gives them."""
    wide, high = size
    out: dict[str, Any] = {"net": [], "ring": "", "box": None, "problem": None, "unsure": None}
    try:
        taped = read_taped(values, units)
        out["net"] = [
            tuple(v * k for p in line for v, k in zip(p, (wide, high), strict=True))
            for line in grid(taped, NET_M.get(units.length, FOOT_M))
        ]
        if not (values["one"] or values["other"]):
            return out
        box = read_box(taped, values, units)
        i, j, _ = AXES[taped.seen]
        back = taped.map().back
        corners = ((box.low[i], box.low[j]), (box.high[i], box.low[j]), (box.high[i], box.high[j]),
                   (box.low[i], box.high[j]))  # fmt: skip
        at = [back.at(*c) for c in corners]
        out["ring"] = " ".join(f"{u * wide:.1f},{v * high:.1f}" for u, v in at)
        out["box"] = box
        out["unsure"] = unsure_m(taped, [_share(values[m], m) for m in MARKS[4:]])
    except CoreError as error:
        out["problem"] = error
    return out


def _page(request: Request, opened: OpenBuild, place: Place, typed: Typed, case: str | None,
          problem: CoreError | None = None, status: int = 200) -> Response:  # fmt: skip
    units, size = opened.units, _picture(opened, place)
    values = _filled(typed, units)
    over = _overlay(values, size, units)
    corners, spans = WORDS.get(values["seen"], WORDS["from above"])
    context = {
        **build_context(opened, request, "survey", case), "sub": "condition", "place": place,
        "size": size, "values": values, "over": over, "problem": problem or over["problem"],
        "titles": [*corners, "one corner of the thing", "the corner across from it"],
        "marks": MARKS, "spans": spans, "ways": SEEN, "entries": ENTRIES, "net": NET_M.get(units.length),
        "done": said(request, f"photo {opened.stored.id}"), "kept": urlencode(typed.kept()),
        "there": [e.title for e in opened.plan.existing],
    }  # fmt: skip
    response = render(request, "photo_structure.html", context)
    response.status_code = 422 if context["problem"] and status == 200 else status
    return response


@router.get("/b/{build_id}/survey/photo/{place}/structure", name="photo_structure",
            response_class=HTMLResponse, include_in_schema=False)  # fmt: skip
def photo_structure(request: Request, build_id: int, place: str, case: CaseName) -> Response:
    """The photo with its marks, and what they give."""
    opened = open_build(build_id)
    known = {k: str(v)[:80] for k, v in request.query_params.items() if k in Typed.model_fields}
    return _page(request, opened, _place(opened, place), Typed(**known), case)


@router.post("/b/{build_id}/survey/photo/{place}/structure", name="photo_structure_take",
             include_in_schema=False)  # fmt: skip
def photo_structure_take(
    request: Request, build_id: int, place: str, case: CaseName, form: Annotated[TakeForm, Form()]
) -> Response:
    """One thing taken over, as one change; the marks stay for the next."""
    opened = open_build(build_id)
    found, typed = _place(opened, place), Typed(**form.model_dump(exclude={"base"}))
    try:
        change = _taken(opened, _filled(typed, opened.units))
        words = f"{change.value['name']} from a photo"[:200]
        builds.commit(opened.who.shop_id, build_id, form.base, change, lambda *_: words, None)
    except builds.StaleEditError as error:
        told = f"the plan was changed in another window meanwhile ({error.theirs}): send it again"
        return _page(request, opened, found, typed, case, CoreError(told), 409)
    except CoreError as error:
        return _page(request, opened, found, typed, case, error)
    say_next(request, f"photo {build_id}", f"{change.value['name']} is in the plan.")
    to = request.url_for("photo_structure", build_id=build_id, place=place).path
    return RedirectResponse(f"{to}?{urlencode(typed.kept())}", 303)


def _taken(opened: OpenBuild, values: dict[str, str]) -> AddThing:
    """The thing as structure that is there. Raises CoreError."""
    if values["entry"] not in ENTRIES:
        raise CoreError(f"read “{values['entry']}”; accepted: {', '.join(ENTRIES)}", "entry")
    if len(values["name"].strip()) > 80:
        raise CoreError("the name is too long; accepted: up to 80 characters", "name")
    units, derived = opened.units, opened.derived
    box = read_box(read_taped(values, units), values, units)
    middle = (box.floor_centre[0], box.floor_centre[1])
    try:
        first = first_place(opened.plan, derived.surface, derived.footing, values["entry"], at=middle)
    except CoreError:
        # where there is nothing of her: its name and kind are those of one amidships
        first = first_place(opened.plan, derived.surface, derived.footing, values["entry"])
    value = {k: v for k, v in first.value.items() if k != "outline"}
    name = values["name"].strip() or value["name"]
    return AddThing(path=first.path, value={**value, "name": name, "box": box.model_dump(mode="json")})
