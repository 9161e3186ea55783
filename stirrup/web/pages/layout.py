"""Layout: where does it go and does it fit?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup

from stirrup.core.arrange.bonds import bond_words
from stirrup.core.arrange.palette import STAGES, palette
from stirrup.core.arrange.snap import Snap
from stirrup.core.arrange.where import extent_of
from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.extent import AXIS_OF, DATUMS, Extent
from stirrup.core.contract.schools import marked as schools_of
from stirrup.core.derive import Derived
from stirrup.core.document import ThingRef
from stirrup.core.findings import Finding
from stirrup.core.framing_plan import framing_plan
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import SetValue
from stirrup.core.plan.entry import SIZE_NAMES, FieldKind, kind_of_field
from stirrup.core.plan.model import LIQUIDS, Item, LoadCase, Plan, Propulsion, Tank
from stirrup.core.plan.things import guests_of, present, title_of
from stirrup.core.units import Units, write_length, write_volume
from stirrup.core.work.hours import effort
from stirrup.web.drawing import across, boat
from stirrup.web.drawing.look import Look
from stirrup.web.forms import HIDDEN, Field, fields_of, make_field, mass_fields
from stirrup.web.gate import GateRoute
from stirrup.web.pages.cases import case_context
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import change_json, mass
from stirrup.web.render import render
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute)


LEAST_ALIKE = 3
MOST_SHOWN = 40
MOST_DRAGGED = 15  # findings told while something is dragged: the worst ones


def chosen_ids(plan: Plan, sel: str) -> tuple[str, ...]:
    """Ids of the chosen things that are in the plan, in the order in which they were chosen."""
    there = {t.id for group in (plan.fittings, plan.items, plan.tanks) for t in group}
    return tuple(dict.fromkeys(s for s in sel.split(",") if s in there))


def drawings(derived: Derived, case: LoadCase, units: Units, look: Look) -> dict[str, Markup]:
    """The three views of the workspace."""
    screen = CURRENT.get()
    return {
        "profile": Markup(boat.profile_view(derived, case, units, look, screen.layout)),
        "plan": Markup(boat.plan_view(derived, case, units, look, screen.layout)),
        "section": Markup(across.section_view(derived, case, units, look, screen.section)),
    }


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
        facts = (title, f"{len(built.parts)} parts", mass(built.mass_kg, units), work)
        return " · ".join((*facts, thing.code))
    if isinstance(thing, Item):
        return f"{title} · {mass(thing.mass.value, units)} ± {mass(thing.mass.spread_kg, units)}"
    if isinstance(thing, Tank):
        litres = thing.size[0] * thing.size[1] * thing.size[2] * 1000
        full = mass(litres / 1000 * LIQUIDS[thing.liquid], units)
        held = write_volume(litres / 1000, units)
        return f"{title} · {held} · {full} full of {thing.liquid}"
    return ""


PLACE_NAMES = ("From transom", "To port", "Floor above keel line")


def price_fields(thing: Item | Tank, path: str, units: Units) -> list[Field]:
    """What a thing costs, and whether it is there already."""
    of = type(thing).model_fields
    return [
        make_field(f"{path}/{name}", getattr(thing, name), kind_of_field(name, of[name]), units)
        for name in ("price", "owned")
    ]


def _item_fields(item: Item, units: Units) -> list[Field]:
    path, of = f"items/{item.id}", type(item).model_fields
    length = FieldKind("length", "")
    stage = FieldKind("choice", "", False, ("found", "added", "removed"))
    fields = mass_fields(item.mass, f"{path}/mass", units)
    if item.size is not None:
        fields += [
            make_field(f"{path}/size/{k}", item.size[k], length, units, SIZE_NAMES[k]) for k in range(3)
        ]
        fields.append(make_field(f"{path}/turn", item.turn, kind_of_field("turn", of["turn"]), units))
    fields.append(make_field(f"{path}/form", item.form, kind_of_field("form", of["form"]), units))
    fields.append(make_field(f"{path}/stage", item.stage, stage, units, "Stage"))
    fields += [
        make_field(f"{path}/{k}", getattr(item, k), kind_of_field(k, of[k]), units)
        for k in kind_of(item).asked
    ]
    if item.stage == "added":
        fields += price_fields(item, path, units)
    return [*fields, make_field(f"{path}/name", item.name, FieldKind("text", "Name"), units)]


def _tank_fields(tank: Tank, units: Units) -> list[Field]:
    path, length = f"tanks/{tank.id}", FieldKind("length", "")
    liquid = FieldKind("choice", "", False, tuple(LIQUIDS))
    return [
        *(make_field(f"{path}/size/{k}", tank.size[k], length, units, SIZE_NAMES[k]) for k in range(3)),
        *(make_field(f"{path}/floor_centre/{k}", tank.floor_centre[k], length, units, PLACE_NAMES[k])
          for k in range(3)),
        make_field(f"{path}/liquid", tank.liquid, liquid, units, "Liquid"),
        make_field(f"{path}/empty_mass", tank.empty_mass,
                   kind_of_field("empty_mass", type(tank).model_fields["empty_mass"]), units),
        *price_fields(tank, path, units),
        make_field(f"{path}/name", tank.name, FieldKind("text", "Name"), units),
    ]  # fmt: skip


def _offered(plan: Plan, thing: FittingBase, field: Field) -> Field:
    """A field that names another thing, with all that offer what it is for; one that is the build's
    unless it is set, with what the build does."""
    name = field.path.rsplit("/", 1)[1]
    info = type(thing).model_fields[name]
    school = dict(schools_of(type(thing))).get(name)
    if school is not None:
        own = ("", f"as the build: {getattr(plan.schools, school)}")
        return replace(field, options=(own, *field.options))
    ref = next((m for m in info.metadata if isinstance(m, ThingRef)), None)
    if ref is None:
        return field
    there = [t for t in present(plan) if ref.offer in kind_of(t).offers and t.id != thing.id]
    named = [(t.id, f"{getattr(t, 'code', '')} {title_of(plan, t.id)}".strip()) for t in there]
    empty = [] if info.is_required() else [("", "the bottom")]
    return replace(field, kind="choice", options=(*empty, *named))


def _one(opened: OpenBuild, chosen: str) -> dict[str, Any]:
    """Form of one chosen fitting, item or tank."""
    plan, units, catalogue = opened.plan, opened.units, opened.derived.catalogue
    fitting = plan.fitting(chosen)
    if fitting is not None:
        fields = [
            _offered(plan, fitting, f)
            for f in fields_of(
                fitting,
                f"fittings/{chosen}",
                units,
                HIDDEN | kind_of(fitting).idle(fitting, catalogue),
                catalogue,
            )
        ]
        name = make_field(f"fittings/{chosen}/name", fitting.name, FieldKind("text", "Name"), units)
        built = opened.derived.fitting(chosen)
        return {"chosen_kind": "fitting", "chosen_thing": fitting, "fields": [*fields, name],
                "framed": built is not None and framing_plan(built) is not None,
                "path": f"fittings/{chosen}", "work": effort([built]) if built else None}  # fmt: skip
    item = next((i for i in plan.items if i.id == chosen), None)
    if item is not None:
        sized = change_json(SetValue(path=("items", chosen, "size"), value=list(FIRST_SIZE)))
        return {"chosen_kind": "item", "chosen_thing": item, "fields": _item_fields(item, units),
                "path": f"items/{chosen}", "give_size": "" if item.size else sized}  # fmt: skip
    tank = next(t for t in plan.tanks if t.id == chosen)
    return {"chosen_kind": "tank", "chosen_thing": tank, "fields": _tank_fields(tank, units),
            "path": f"tanks/{chosen}"}  # fmt: skip


FIRST_SIZE = (0.4, 0.3, 0.3)  # m, of an item that had none


def _placing(opened: OpenBuild, chosen: str) -> dict[str, Any]:
    """What exact entry can measure from, and what the thing is bound to."""
    plan, units = opened.plan, opened.units
    others = [
        (thing.id, title_of(plan, thing.id))
        for group in (plan.fittings, plan.items, plan.tanks, plan.existing)
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
        {"id": i.id, "mark": "", "name": i.title, "kind": "item", "set": of(i.id),
         "gone": i.stage == "removed", "mass": mass(i.mass.value, units)}
        for i in plan.items
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
        details = {**_one(opened, chosen[0]), **_placing(opened, chosen[0]),
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
) -> dict[str, Markup]:
    """The three views as a page that shows these things would have them."""
    chosen = chosen_ids(derived.plan, sel)
    look = Look(chosen, section_at(derived, at, chosen), snaps, room, frame)
    return drawings(derived, case, units, look)


def preview_parts(derived: Derived, units: Units, sel: str) -> dict[str, Any]:
    """Findings and the chosen thing's sums for an uncommitted plan."""
    chosen = chosen_ids(derived.plan, sel)
    return {
        "findings": findings_for(derived, chosen)[:MOST_DRAGGED],
        "facts": thing_facts(derived, chosen[0], units) if len(chosen) == 1 else "",
    }
