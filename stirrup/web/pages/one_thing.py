"""The form of one chosen thing: its choices, what it costs, what it is drawn as beside them."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from markupsafe import Markup

from stirrup.core.bodies.existing import Existing
from stirrup.core.bought_or_made import offered, others
from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.gives import Built
from stirrup.core.contract.schools import marked as schools_of
from stirrup.core.document import ThingRef
from stirrup.core.fit.relocated import place_of
from stirrup.core.framing_plan import framing_plan
from stirrup.core.instead import sheet_field
from stirrup.core.kinds.registry import kind_of
from stirrup.core.other_ways import asked
from stirrup.core.parts.catalogue import EMPTY
from stirrup.core.plan.changes import SetValue
from stirrup.core.plan.entry import SIZE_NAMES, FieldKind, kind_of_field
from stirrup.core.plan.model import LIQUIDS, BuoyantVolume, Item, Plan, Tank
from stirrup.core.plan.settled import settled
from stirrup.core.plan.things import present, title_of
from stirrup.core.units import Units
from stirrup.core.work.hours import effort
from stirrup.web.drawing.chart import chart_view
from stirrup.web.forms import HIDDEN, Field, fields_of, make_field, mass_fields
from stirrup.web.pages.drawn import is_drawn
from stirrup.web.pages.frame import OpenBuild
from stirrup.web.present import change_json

FIRST_SIZE = (0.4, 0.3, 0.3)  # m, of an item that had none
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
    if item.stage == "found":
        asked = ("off", "bag") if item.off or item.was else ("off",)
        fields += [
            make_field(f"{path}/{k}", getattr(item, k), kind_of_field(k, of[k]), units) for k in asked
        ]
    fields += [*_fate_fields(item, path, units), *_was_fields(item, path, units)]
    return [*fields, make_field(f"{path}/name", item.name, FieldKind("text", "Name"), units)]


def _fate_fields(thing: Item | Existing, path: str, units: Units) -> list[Field]:
    """What becomes of one that goes, and what that brings."""
    of, idle = type(thing).model_fields, kind_of(thing).idle(thing, EMPTY)
    asked = (k for k in ("becomes", "brings") if k not in idle)
    return [make_field(f"{path}/{k}", getattr(thing, k), kind_of_field(k, of[k]), units) for k in asked]


def _was_fields(thing: Item | Existing, path: str, units: Units) -> list[Field]:
    """What one that is moved leaves behind."""
    if thing.was is None:
        return []
    of = type(thing.was).model_fields
    return [make_field(f"{path}/was/holes", thing.was.holes, kind_of_field("holes", of["holes"]), units)]


def moves(thing: Item | Existing, group: str) -> tuple[str, str]:
    """The button that keeps where a found thing was, or forgets it, and what it changes; empty for what was
    not found, or has no place that is kept."""
    at, path = place_of(thing), (group, thing.id, "was")
    if thing.stage != "found" or at is None:
        return "", ""
    if thing.was is not None:
        return "It stays where it is now", change_json(SetValue(path=path, value=None))
    turn = thing.turn if isinstance(thing, Item) else 0.0
    return "It moves from here", change_json(SetValue(path=path, value={"at": list(at), "turn": turn}))


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


def volume_fields(volume: BuoyantVolume, units: Units) -> list[Field]:
    """Stage, density, size and place of a buoyant volume."""
    path = f"buoyancy/{volume.id}"
    length = FieldKind("length", "")
    stage = FieldKind("choice", "", False, ("considered", "added", "found", "removed"))
    fields = [
        make_field(f"{path}/stage", volume.stage, stage, units, "Stage"),
        make_field(f"{path}/density", volume.density, FieldKind("density", ""), units, "Density"),
    ]
    if volume.box is not None:
        sizes, places = ("Along", "Across", "Up"), ("From transom", "To port", "Floor at")
        for k in range(3):
            fields.append(make_field(f"{path}/box/size/{k}", volume.box.size[k], length, units, sizes[k]))
        for k in range(3):
            fields.append(
                make_field(f"{path}/box/floor_centre/{k}", volume.box.floor_centre[k], length, units,
                           places[k])
            )  # fmt: skip
    return fields


def _structure_fields(thing: Existing, units: Units) -> list[Field]:
    path, length, of = f"existing/{thing.id}", FieldKind("length", ""), type(thing).model_fields
    fields = []
    if thing.box is not None:
        size, at = thing.box.size, thing.box.floor_centre
        fields += [
            make_field(f"{path}/box/size/{k}", size[k], length, units, SIZE_NAMES[k]) for k in range(3)
        ]
        fields += [
            make_field(f"{path}/box/floor_centre/{k}", at[k], length, units, PLACE_NAMES[k])
            for k in range(3)
        ]
    stays = FieldKind("choice", "", False, ("found", "removed"))
    stage = make_field(f"{path}/stage", thing.stage, stays, units, "Stays, or comes out")
    stage = replace(stage, options=(("found", "stays"), ("removed", "comes out")))
    return [
        *fields,
        make_field(f"{path}/kind", thing.kind, kind_of_field("kind", of["kind"]), units, "What it is"),
        stage,
        *(make_field(f"{path}/{k}", getattr(thing, k), kind_of_field(k, of[k]), units)
          for k in ("held", "weighs")),
        *_fate_fields(thing, path, units), *_was_fields(thing, path, units),
        make_field(f"{path}/name", thing.name, FieldKind("text", "Name"), units),
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


def _charts(built: Built | None, units: Units) -> list[tuple[str, Markup]]:
    """What a thing gives to be looked at as curves."""
    return [(c.title, Markup(chart_view(c, units))) for c in (built.charts if built else ())]


def one_thing(opened: OpenBuild, chosen: str) -> dict[str, Any]:
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
                HIDDEN | kind_of(fitting).idle(settled(fitting, plan.schools), catalogue),
                catalogue,
            )
        ]
        name = make_field(f"fittings/{chosen}/name", fitting.name, FieldKind("text", "Name"), units)
        built = opened.derived.fitting(chosen)
        framed = built is not None and framing_plan(built) is not None
        return {"chosen_kind": "fitting", "chosen_thing": fitting, "fields": [*fields, name],
                "copied": not kind_of(fitting).lone(fitting),
                "framed": framed, "drawn": built is not None and not framed and is_drawn(built),
                "charts": _charts(built, units), "of_sheet": sheet_field(fitting) is not None,
                "in_ways": asked(fitting, catalogue),
                "other_kinds": others(plan, chosen),
                "path": f"fittings/{chosen}", "work": effort([built]) if built else None}  # fmt: skip
    item = next((i for i in plan.items if i.id == chosen), None)
    if item is not None:
        sized = change_json(SetValue(path=("items", chosen, "size"), value=list(FIRST_SIZE)))
        return {"chosen_kind": "item", "chosen_thing": item, "fields": _item_fields(item, units),
                "copied": True, "path": f"items/{chosen}", "other_kinds": others(plan, chosen),
                "listed": offered(plan, chosen, catalogue), "moves": moves(item, "items"),
                "give_size": "" if item.size else sized}  # fmt: skip
    there = next((e for e in plan.existing if e.id == chosen), None)
    if there is not None:
        return {"chosen_kind": "structure", "copied": True, "chosen_thing": there,
                "parted": kind_of(there).in_two(there) is not None, "moves": moves(there, "existing"),
                "fields": _structure_fields(there, units), "path": f"existing/{chosen}"}  # fmt: skip
    volume = next((v for v in plan.buoyancy if v.id == chosen), None)
    if volume is not None:
        path, money = f"buoyancy/{chosen}", FieldKind("money", "Price", True)
        more = [make_field(f"{path}/cost", volume.cost, money, units),
                make_field(f"{path}/name", volume.name, FieldKind("text", "Name"), units)]  # fmt: skip
        return {"chosen_kind": "volume", "copied": volume.box is not None, "chosen_thing": volume,
                "fields": [*volume_fields(volume, units), *more], "path": path}  # fmt: skip
    tank = next(t for t in plan.tanks if t.id == chosen)
    return {"chosen_kind": "tank", "copied": True, "chosen_thing": tank,
            "fields": _tank_fields(tank, units), "path": f"tanks/{chosen}"}  # fmt: skip
