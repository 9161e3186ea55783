"""Gear and storage: fetched into the Layout sheet when its box is opened."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.fit.gear import Stowed
from stirrup.core.fit.stowage import takes_gear
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.plan.entry import kind_of_field
from stirrup.core.plan.model import Gear
from stirrup.core.studies import spaces_of, stowed_of
from stirrup.web.forms import Field, make_field
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import OpenBuild, open_build
from stirrup.web.present import change_json
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)


def home_field(opened: OpenBuild, gear: Gear) -> Field:
    """Where a piece of gear is stowed: everything that takes gear, and nothing."""
    kind = kind_of_field("home", Gear.model_fields["home"])
    field = make_field(f"wishes/gear/{gear.id}/home", gear.home, kind, opened.units)
    there = [(t.id, t.title) for t in opened.derived.things if takes_gear(t)]
    lost = [(gear.home, "gone")] if gear.home and gear.home not in dict(there) else []
    return replace(field, kind="choice", options=(("", "nowhere yet"), *there, *lost))


def _put(stowed: Stowed) -> AnyChange:
    """It gets the home that it was found to go into."""
    return SetValue(path=("wishes", "gear", stowed.gear.id, "home"), value=stowed.home)


def _proposed(stowed: list[Stowed]) -> str:
    """All that go somewhere and have no home yet get one, in one step; empty for fewer than two."""
    free = [s for s in stowed if s.fits and not s.gear.home]
    if len(free) < 2:
        return ""
    return change_json(Together(changes=tuple(map(_put, free)), words=f"{len(free)} things stowed"))


@router.get("/b/{build_id}/layout/gear", name="gear", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def gear(request: Request, build_id: int) -> Response:
    opened = open_build(build_id)
    stowed = stowed_of(opened.derived)
    rows: list[dict[str, Any]] = [
        {"stowed": s, "home": home_field(opened, s.gear),
         "put": change_json(_put(s)) if s.fits and s.gear.home != s.home else ""}
        for s in stowed
    ]  # fmt: skip
    listed = opened.plan.wishes.gear
    return render(
        request,
        "partials/gear.html",
        {
            "rows": rows,
            "every": _proposed(stowed),
            "at_home_kg": sum(g.mass for g in listed if g.home),
            "homeless_kg": sum(g.mass for g in listed if not g.home),
            "spaces": spaces_of(opened.derived),
            "units": opened.units,
            "stored": opened.stored,
        },
    )
