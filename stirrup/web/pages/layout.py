"""Layout: where does it go and does it fit?"""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Annotated, Any, Literal, get_args

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, Response

from stirrup.core.arrange.bonds import bond_words
from stirrup.core.arrange.palette import STAGES, palette
from stirrup.core.arrange.snap import Snap
from stirrup.core.contract.extent import AXIS_OF, DATUMS, Extent
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.fit.stood import stood_words
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.entry import kind_of_field
from stirrup.core.plan.model import LIQUIDS, Item, LoadCase, Plan, Propulsion, Tank
from stirrup.core.plan.stood import SHAPES
from stirrup.core.plan.things import CHOSEN, guests_of, title_of
from stirrup.core.plan.where import extent_of
from stirrup.core.record import dataclass
from stirrup.core.units import Units, write_length, write_volume
from stirrup.core.work.hours import effort
from stirrup.web.drawing import across, boat
from stirrup.web.drawing.canvas import Drawn
from stirrup.web.drawing.look import Look
from stirrup.web.forms import make_field
from stirrup.web.gate import GateRoute
from stirrup.web.pages.cases import case_context
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.pages.one_thing import one_thing
from stirrup.web.present import mass
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)


LEAST_ALIKE = 3
MOST_SHOWN = 40
MOST_DRAGGED = 15  # findings told while something is dragged: the worst ones


def chosen_ids(plan: Plan, sel: str) -> tuple[str, ...]:
    """Ids of the chosen things that are in the plan, in the order in which they were chosen."""
    there = {t.id for group in CHOSEN for t in getattr(plan, group)}
    return tuple(dict.fromkeys(s for s in sel.split(",") if s in there))


ViewName = Literal["profile", "plan", "section"]
VIEWS: tuple[ViewName, ...] = get_args(ViewName)


def drawings(
    derived: Derived, case: LoadCase, units: Units, look: Look, wanted: Sequence[ViewName] = VIEWS
) -> dict[str, Drawn]:
    """The three views of the workspace, or those of them that are wanted."""
    screen = CURRENT.get()
    draw = {
        "profile": partial(boat.profile_view, wide=screen.layout),
        "plan": partial(boat.plan_view, wide=screen.layout),
        "section": partial(across.section_view, wide=screen.section),
    }
    return {name: draw[name](derived, case, units, look) for name in VIEWS if name in wanted}


@dataclass(frozen=True)
class Listed:
    """A finding as it is listed, with others that say the same of the same thing under it."""

    first: Finding
    more: tuple[Finding, ...] = ()


def alike(findings: Sequence[Finding]) -> list[Listed]:
    """Findings in their order; three or more of one kind about one thing become one entry.

    Those with something to press or to open stand by themselves.
    """
    groups: dict[tuple[str, ...], list[Finding]] = {}
    for k, f in enumerate(findings):
        alone = (str(k),) if f.fixes or f.accepted or f.working or f.may_be_accepted else ()
        groups.setdefault((f.code, f.place, f.level, *alone), []).append(f)
    out = []
    for group in groups.values():
        if len(group) < LEAST_ALIKE:
            out += [Listed(f) for f in group]
        else:
            out.append(Listed(group[0], tuple(group[1:])))
    return out


def findings_for(derived: Derived, chosen: Sequence[str]) -> list[Listed]:
    """Findings of the chosen things; of everything, fine ones left out, when nothing is.

    The worst come first; beyond a screenful nobody reads on, see `left_out`.
    """
    return alike(_all_findings(derived, chosen))[:MOST_SHOWN]


def left_out(derived: Derived, chosen: Sequence[str]) -> int:
    """How many entries are not listed."""
    return max(0, len(alike(_all_findings(derived, chosen))) - MOST_SHOWN)


def _all_findings(derived: Derived, chosen: Sequence[str]) -> list[Finding]:
    if chosen:
        own = [f for f in derived.findings if f.place in chosen or f.other in chosen]
        hosted = {thing.id for thing, _ in guests_of(derived.plan, chosen)}
        return own + [f for f in derived.findings if f.place in hosted and f.level != "fine"]
    return [f for f in derived.findings if f.level != "fine"]


def section_at(derived: Derived, at: float | None, chosen: Sequence[str]) -> float:
    """Where the section is cut: as asked, else through what is chosen, else amidships."""
    low, high = float(derived.surface.outside.low[0]), float(derived.surface.outside.high[0])
    if at is not None and low <= at <= high:
        return at
    if chosen:
        x0, x1 = extent_of(derived.plan, derived.surface, chosen[0]).x
        return min(max(x0 + (x1 - x0) * 0.35, low), high)
    return low + (high - low) * 0.45


def thing_facts(derived: Derived, chosen: str, units: Units) -> str:
    """Kind, parts, mass and mark of a fitting, mass of anything else, in one line."""
    placed, thing = derived.placed(chosen), derived.plan.thing(chosen)
    if thing is None:
        return ""
    title = kind_of(thing).facts(thing)
    if placed is not None and kind_of(thing).group == "fittings":
        built = placed.built
        work = f"about {max(1.0, effort([built]).hours):.0f} h of work"
        count = len(built.parts)
        parts = "1 part" if count == 1 else f"{count} parts"
        facts = (title, parts, mass(built.mass_kg, units), work)
        return " · ".join((*facts, thing.code))
    if isinstance(thing, Item):
        return f"{title} · {mass(thing.mass.value, units)} ± {mass(thing.mass.spread_kg, units)}"
    if isinstance(thing, Tank):
        litres = thing.size[0] * thing.size[1] * thing.size[2] * 1000
        full = mass(litres / 1000 * LIQUIDS[thing.liquid], units)
        held = write_volume(litres / 1000, units)
        return f"{title} · {held} · {full} full of {thing.liquid}"
    return ""


def _placing(opened: OpenBuild, chosen: str) -> dict[str, Any]:
    """What exact entry can measure from, and what the thing is bound to."""
    plan, units = opened.plan, opened.units
    others = [
        (thing.id, title_of(plan, thing.id))
        for group in (plan.fittings, plan.items, plan.tanks, plan.buoyancy, plan.existing)
        for thing in group
        if thing.id != chosen and getattr(thing, "stage", "") != "removed"
    ]
    bonds = [
        (b, bond_words(plan, b, write_length(abs(b.distance), units)))
        for b in plan.arrangement.bound(chosen)
    ]
    extent = extent_of(plan, opened.derived.surface, chosen)
    return {
        "datums": list(DATUMS),
        "datum_axes": DATUMS,
        "edges": list(AXIS_OF.items()),
        "others": others,
        "bonds": bonds,
        "sub": next(
            (s for s in plan.arrangement.subs if s.group == plan.arrangement.of(chosen).group), None
        ),
        "stood": [(s, stood_words(s, units)) for s in plan.stood if s.thing == chosen],
        "shapes": SHAPES,
        "extent": extent,
        "set_for": plan.arrangement.of(chosen),
        "grouped": [title_of(plan, i) for i in plan.arrangement.together(chosen)[1:]],
    }


def _listing(opened: OpenBuild) -> list[dict[str, Any]]:
    """Everything on the plan for the list: id, mark, name, mass, what is set."""
    plan, derived, units = opened.plan, opened.derived, opened.units
    of = plan.arrangement.of
    rows = [
        {"id": f.id, "mark": f.code, "name": f.name, "kind": "fitting", "set": of(f.id),
         "mass": mass(b.mass_kg, units) if (b := derived.fitting(f.id)) else ""}
        for f in plan.fittings
    ]  # fmt: skip
    rows += [
        {"id": t.id, "mark": "", "name": t.title, "kind": "tank", "set": of(t.id), "mass": "tank"}
        for t in plan.tanks
    ]
    rows += [
        {"id": v.id, "mark": "", "name": v.title, "kind": "volume", "set": of(v.id),
         "gone": v.stage in ("removed", "considered"),
         "mass": v.stage if v.stage == "considered" else "volume"}
        for v in plan.buoyancy if v.box is not None
    ]  # fmt: skip
    rows += [
        {"id": i.id, "mark": "", "name": i.title, "kind": "item", "set": of(i.id),
         "gone": i.stage == "removed", "mass": mass(i.mass.value, units)}
        for i in plan.items
    ]  # fmt: skip
    rows += [
        {"id": e.id, "mark": "", "name": e.title, "kind": "structure", "set": of(e.id),
         "gone": e.stage == "removed", "mass": mass(e.weighs, units) if e.weighs else "—"}
        for e in plan.existing
    ]  # fmt: skip
    return rows


@dataclass(frozen=True)
class Row:
    """A line of the drawings' text: what, ranges from transom, to port, above the keel line [m]."""

    name: str
    extent: Extent | None
    mass: str


def contents(opened: OpenBuild, case: LoadCase) -> list[Row]:
    """Everything in the drawings as text, with positions, and who is aboard."""
    plan, surface = opened.plan, opened.derived.surface
    rows = []
    for t in _listing(opened):
        told = [w for w in ("locked", "hidden") if getattr(t["set"], w)]
        told += ["removed"] if t.get("gone") else []
        name = f"{t['mark']} {t['name']}".strip() + (f" ({', '.join(told)})" if told else "")
        rows.append(Row(name, extent_of(plan, surface, t["id"]), t["mass"]))
    for k, person in enumerate(case.crew, start=1):
        x, y, z = person.at
        spot = Extent((x, x), (y, y), (z, z))
        who = f"{person.name or f'person {k}'}, {person.posture}"
        rows.append(Row(who, spot, mass(person.mass, opened.units)))
    return rows


def layout_context(
    opened: OpenBuild,
    request: Request,
    case: str | None,
    sel: str,
    at: float | None,
    room: bool,
    frame: bool = False,
) -> dict[str, Any]:
    """Everything the layout page shows."""
    context = build_context(opened, request, "layout", case)
    chosen = chosen_ids(opened.plan, sel)
    x = section_at(opened.derived, at, chosen)
    shown: LoadCase = context["case"]
    details: dict[str, Any] = {"chosen_kind": "", "chosen_thing": None}
    if len(chosen) == 1:
        details = {**one_thing(opened, chosen[0]), **_placing(opened, chosen[0]),
                   "facts": thing_facts(opened.derived, chosen[0], opened.units)}  # fmt: skip
    return {
        **context,
        **details,
        "sel": ",".join(chosen),
        "chosen": chosen,
        "section_x": x,
        "views": drawings(opened.derived, shown, opened.units, Look(chosen, x, rooms=room, frame=frame)),
        "room": room,
        "frame": frame,
        "running": make_field(
            "propulsion/running_trim",
            opened.plan.propulsion.running_trim,
            kind_of_field("running_trim", Propulsion.model_fields["running_trim"]),
            opened.units,
        ),
        "shown_findings": findings_for(opened.derived, chosen),
        "left_out": left_out(opened.derived, chosen),
        "welded": any(b.seams for b in opened.derived.built),
        "accepting": True,
        "things": _listing(opened),
        "contents": contents(opened, shown),
        "palette": palette(opened.plan),
        "stages": STAGES,
        **case_context(opened, shown),
    }


@router.get("/b/{build_id}/layout", name="layout", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def layout(
    request: Request,
    build_id: int,
    case: CaseName,
    sel: Annotated[str, Query(max_length=4000)] = "",
    at: float | None = None,
    room: bool = False,
    frame: bool = False,
) -> Response:
    opened = open_build(build_id)
    return render(request, "layout.html", layout_context(opened, request, case, sel, at, room, frame))


def drawings_for(
    derived: Derived,
    case: LoadCase,
    units: Units,
    sel: str,
    at: float | None,
    snaps: tuple[Snap, ...] = (),
    room: bool = False,
    frame: bool = False,
    wanted: Sequence[ViewName] = VIEWS,
) -> dict[str, Drawn]:
    """The views as a page that shows these things would have them."""
    chosen = chosen_ids(derived.plan, sel)
    look = Look(chosen, section_at(derived, at, chosen), snaps, room, frame)
    return drawings(derived, case, units, look, wanted)
