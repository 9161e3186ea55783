"""The catalogue of the shop: what there is to build of, its own entries and prices over what ships."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.findings import Quantity
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import (
    GROUPS,
    Entry,
    Fastener,
    Latch,
    Line,
    Pedestal,
    Resin,
    Section,
    Sheet,
    Strut,
    Whole,
)
from stirrup.core.plan.entry import FieldKind, kind_of_field, read_text
from stirrup.core.units import Units, write_density, write_length, write_mass
from stirrup.exchange.catalogue import starting
from stirrup.exchange.catalogue_csv import (
    Row,
    catalogue_csv,
    changed_entry,
    packs_text,
    read_catalogue,
)
from stirrup.exchange.summary import say
from stirrup.store.shop import catalogue, forget_entry, keep_entries, own_ids
from stirrup.web import links
from stirrup.web.forms import Field, make_field
from stirrup.web.gate import GateRoute, told_in_shop_units
from stirrup.web.pages.frame import Viewer, viewer
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

MOST_CSV = 2_000_000
MOST_SHOWN = 400
TITLES = {
    "sheet": "Sheets and boards", "section": "Sections", "fastener": "Fasteners", "latch": "Latches",
    "strut": "Gas struts",
    "pedestal": "Pedestals",
    "line": "Cables and hoses to lead",
    "hardware": "Hardware", "cover": "Covers and coatings", "sealant": "Sealants and adhesives",
    "resin": "Resins, fillers, foams", "cloth": "Cloth", "bought": "Bought whole",
}  # fmt: skip
# typed as text, not as one value
TEXTS = ("packs", "works_with", "size")
LEFT_OUT = {"id", "group", "stuff", "retired", "works_with", "size"}
LAST = ("words", "source", "status", "task", "minutes")  # of the form: sizes come first


def sizes_of(entry: Entry, units: Units) -> str:
    """What matters of an entry's size, in a few words."""

    def mm(value: float) -> str:
        return write_length(value, units, True)

    if isinstance(entry, Sheet):
        size = f"{write_length(entry.width, units)} × {write_length(entry.height, units)}"
        return f"{mm(entry.thickness)}, {size}, {entry.stuff.name}"
    if isinstance(entry, Section):
        legs = mm(entry.a) if entry.shape == "round tube" else f"{mm(entry.a)} × {mm(entry.b)}"
        wall = "" if entry.shape == "timber" else f" × {mm(entry.t)}"
        return f"{legs}{wall}, sticks of {write_length(entry.length, units)}"
    if isinstance(entry, Fastener):
        grip = f", grip {mm(entry.grip_min)} to {mm(entry.grip_max)}" if entry.grip_max else ""
        return f"{mm(entry.diameter)}{grip}"
    if isinstance(entry, Latch):
        return f"body {mm(entry.body)}, grip {mm(entry.grip_min)} to {mm(entry.grip_max)}"
    if isinstance(entry, Strut):
        force = say(Quantity(entry.force, "N"), units)
        return f"{force}, {mm(entry.extended)} all out, stroke {mm(entry.stroke)}"
    if isinstance(entry, Pedestal):
        high = mm(entry.low) if entry.high == entry.low else f"{mm(entry.low)} to {mm(entry.high)}"
        return f"{high} high, {entry.bolts} bolts on {mm(entry.circle)}"
    if isinstance(entry, Line):
        several = f"{entry.together} together, " if entry.together > 1 else ""
        return f"{entry.use}, {several}bends of {mm(entry.bend)} at least"
    if isinstance(entry, Resin):
        return write_density(entry.density, units) + (
            f", gels in {entry.gel_minutes:g} min" if entry.gel_minutes else ""
        )
    if isinstance(entry, Whole) and entry.size:
        return " × ".join(write_length(v, units) for v in entry.size)
    return ""


def mass_of(entry: Entry, units: Units) -> str:
    """What one unit weighs; of stock what one sheet or stick does."""
    if isinstance(entry, Sheet):
        return write_mass(entry.width * entry.height * entry.thickness * entry.stuff.density, units)
    if isinstance(entry, Section):
        return write_mass(entry.kg_per_m * entry.length, units)
    if not entry.mass:
        return ""
    return f"{entry.mass * 1000:g} g" if entry.mass < 0.1 else write_mass(entry.mass, units)


def _found(shop: Catalogue, group: str, find: str, gone: bool) -> list[Entry]:
    words = find.lower().split()
    out = []
    for e in shop.entries.values():
        text = f"{e.id} {e.name} {e.words} {e.group}".lower()
        if (not group or e.group == group) and all(w in text for w in words) and (gone or not e.retired):
            out.append(e)
    return out


def _fields(entry: Entry, units: Units) -> list[Field]:
    """A form for an entry, from its model."""
    out, every = [], type(entry).model_fields
    stock = isinstance(entry, Sheet | Section)  # its mass follows from its size
    for name in sorted(every, key=lambda n: n in LAST):
        info = every[name]
        if name in LEFT_OUT or (stock and name == "mass"):
            continue
        if name == "packs":
            packs = packs_text(entry.model_dump(mode="json")["packs"])
            title = "Sold as: how many = price; how many = price"
            out.append(Field("packs", title, "text", packs))
            continue
        out.append(make_field(name, getattr(entry, name), kind_of_field(name, info), units))
    return out


def _context(request: Request, who: Viewer, group: str, find: str, gone: bool, edit: str) -> dict[str, Any]:
    shop, (own, paid) = catalogue(who.shop_id), own_ids(who.shop_id)
    found = _found(shop, group, find, gone)
    entry = shop.entries.get(edit)
    counts = {g: sum(e.group == g for e in shop.entries.values()) for g in GROUPS}
    return {
        "who": who, "units": who.units, "group": group, "find": find, "gone": gone,
        "groups": [(g, TITLES[g], counts[g]) for g in GROUPS],
        "rows": [(e, sizes_of(e, who.units), mass_of(e, who.units)) for e in found[:MOST_SHOWN]],
        "more": max(0, len(found) - MOST_SHOWN), "total": len(shop.entries), "own": own, "paid": paid,
        "edited": entry, "fields": _fields(entry, who.units) if entry else [],
        "ships": edit in starting().entries, "problem": "", "typed": {}, "preview": None,
    }  # fmt: skip


@router.get("/catalogue", name="catalogue", response_class=HTMLResponse, include_in_schema=False)
def shelf(
    request: Request,
    group: Annotated[str, Query(max_length=40)] = "",
    find: Annotated[str, Query(max_length=80)] = "",
    gone: bool = False,
    edit: Annotated[str, Query(max_length=80)] = "",
) -> Response:
    """Everything that there is to build of, found by group and words."""
    return render(request, "catalogue.html", _context(request, viewer(), group, find, gone, edit))


def _read(entry: Entry, form: dict[str, str], units: Units) -> Entry:
    """The entry with what was typed, in the shop's units. Raises CoreError naming the field."""
    cells: dict[str, str] = {}
    for name, info in type(entry).model_fields.items():
        if name in LEFT_OUT or name not in form:
            continue
        kind = FieldKind("text", "") if name in TEXTS else kind_of_field(name, info)
        if kind.kind in ("text", "choice"):
            cells[name] = form[name]
            continue
        if form[name] == make_field(name, getattr(entry, name), kind, units).value:
            continue  # as it was shown: what a fraction of an inch rounds off stays
        try:
            value = read_text(form[name], kind, units)
        except CoreError as error:
            raise CoreError(error.message, kind.title) from None
        cells[name] = "" if value is None else str(value)
    for name, info in type(entry).model_fields.items():  # a box that is not ticked is not sent
        if info.annotation is bool and name not in LEFT_OUT:
            cells[name] = "yes" if name in form else "no"
    return changed_entry(entry, cells)


@router.post("/catalogue/entry", name="keep_entry", include_in_schema=False)
async def keep(request: Request) -> Response:
    """Keep a changed entry, or one like it under another id."""
    form = {k: str(v) for k, v in (await request.form()).items()}

    def kept() -> Response:
        who = viewer()
        old = catalogue(who.shop_id).find(form.get("id", ""))
        as_new = form.get("new_id", "").strip()
        try:
            if as_new and as_new in catalogue(who.shop_id).entries:
                raise CoreError(f"“{as_new}” is taken: choose another id", "id")
            base = old.model_copy(update={"id": as_new, "status": "shop"}) if as_new else old
            entry = _read(base, form, who.units)
        except CoreError as error:
            context = _context(request, who, form.get("group", ""), form.get("find", ""), False, old.id)
            place = error.place.removeprefix("[0].")
            context |= {"problem": f"{place}: {error.message}".lstrip(": "), "typed": form}
            return render(request, "catalogue.html", context, 422)
        keep_entries(who.shop_id, [entry])
        return _back(entry.group, entry.id)

    return await run_in_threadpool(told_in_shop_units(kept))


def _back(group: str, edit: str = "") -> RedirectResponse:
    return RedirectResponse(links.to("catalogue", group=group, edit=edit), 303)


@router.post("/catalogue/retire", name="retire_entry", include_in_schema=False)
def retire(
    request: Request, id: Annotated[str, Form(max_length=80)], retired: bool = Form(True)
) -> Response:
    """Offer an entry no longer, or again; what names it keeps it."""
    who = viewer()
    entry = catalogue(who.shop_id).find(id).model_copy(update={"retired": retired})
    keep_entries(who.shop_id, [entry])
    return _back(entry.group, entry.id)


@router.post("/catalogue/reset", name="reset_entry", include_in_schema=False)
def reset(request: Request, id: Annotated[str, Form(max_length=80)]) -> Response:
    """What ships, in place of the shop's own."""
    who = viewer()
    group = catalogue(who.shop_id).find(id).group
    forget_entry(who.shop_id, id)
    return _back(group, id if id in starting().entries else "")


@router.get("/catalogue.csv", name="catalogue_csv", include_in_schema=False)
def as_csv(request: Request, group: Annotated[str, Query(max_length=40)] = "") -> Response:
    """The shop's catalogue, or one group of it, as CSV."""
    entries = [e for e in catalogue(viewer().shop_id).entries.values() if not group or e.group == group]
    name = f"catalogue{'-' + group if group in GROUPS else ''}.csv"
    return Response(
        catalogue_csv(entries), media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )  # fmt: skip


@router.post("/catalogue/csv", name="catalogue_in", response_class=HTMLResponse, include_in_schema=False)
def from_csv(
    request: Request,
    table: UploadFile | None = None,
    text: Annotated[str, Form()] = "",
    take: Annotated[str, Form()] = "",
) -> Response:
    """Look at a table of entries row by row; with `take`, keep those that are sound."""
    who = viewer()
    if table is not None and table.filename:
        content = table.file.read(MOST_CSV + 1)
        if len(content) > MOST_CSV:
            raise CoreError(f"the file is larger than {MOST_CSV // 1_000_000} MB", "table")
        text = content.decode("utf-8-sig", errors="replace")
    context = _context(request, who, "", "", False, "")
    try:
        rows: list[Row] = read_catalogue(text, catalogue(who.shop_id))
    except CoreError as error:
        return render(request, "catalogue.html", context | {"problem": error.message}, 422)
    sound = [r.entry for r in rows if r.entry is not None and (r.new or r.changed)]
    if take and not any(r.problem for r in rows):
        keep_entries(who.shop_id, sound)
        return _back("")
    return render(request, "catalogue.html", context | {"preview": rows, "text": text, "sound": len(sound)})
