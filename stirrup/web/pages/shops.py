"""Shops and their prices: where is it had, and what do they ask?"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable
from functools import partial
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Form, Query, Request, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse, RedirectResponse, Response, StreamingResponse
from pydantic import ValidationError

from stirrup.core.errors import CoreError
from stirrup.core.money.cost import cents
from stirrup.core.money.suppliers import Offer, Supplier
from stirrup.core.plan.buying import MOST_DIFFERS
from stirrup.core.plan.entry import kind_of_field, read_text
from stirrup.core.plan.explain import first_error
from stirrup.exchange.price_list import (
    ROLES,
    Columns,
    PriceList,
    Role,
    Table,
    guessed,
    read_prices,
    table_of,
)
from stirrup.exchange.sheet_out import MEDIA, Cell, written
from stirrup.exchange.sheet_out import Form as Form_
from stirrup.store import suppliers as store
from stirrup.store.builds import NotThereError
from stirrup.store.shop import catalogue
from stirrup.web import links
from stirrup.web.forms import Field, make_field
from stirrup.web.gate import GateRoute, told_in_shop_units
from stirrup.web.pages.frame import Viewer, viewer
from stirrup.web.pages.money import read_price
from stirrup.web.pages.shopping import today
from stirrup.web.render import render
from stirrup.web.telling import LINES, Told, told_lines

router = APIRouter(route_class=GateRoute)
MOST_SHOWN, MOST_FIRST, MOST_FILE, MOST_OUT = 150, 6, 8_000_000, 20_000
ROLE_WORDS = {
    "": "nothing", "number": "their number", "name": "what it is", "quantity": "how much is in a pack",
    "price": "price of a pack", "item": "id of the catalogue", "instead": "in place of it: how it differs",
}  # fmt: skip


def _fields(supplier: Supplier | None, who: Viewer) -> list[Field]:
    """The form of a shop; of a new one with what it starts with."""
    model = supplier or Supplier(id="new", name=" ")
    out = []
    for name, info in Supplier.model_fields.items():
        if name != "id":
            value = "" if supplier is None and name == "name" else getattr(model, name)
            out.append(make_field(name, value, kind_of_field(name, info), who.units))
    return out


def _context(who: Viewer, key: str, find: str = "") -> dict[str, Any]:
    every = store.suppliers(who.shop_id)
    chosen = next((s for s in every if s.id == key), None)
    if key and chosen is None:
        raise NotThereError(f"there is no shop “{key}”")
    entries = catalogue(who.shop_id).entries
    offers, count = store.offers_of(who.shop_id, key, find, MOST_SHOWN) if chosen else ((), 0)
    return {
        "who": who, "units": who.units, "shops": every, "counts": store.counts(who.shop_id),
        "chosen": chosen, "fields": _fields(chosen, who), "find": find, "problem": None, "typed": {},
        "offers": offers, "more": count - len(offers), "names": {i: e.name for i, e in entries.items()},
        "items": sorted((e.name, i) for i, e in entries.items() if not e.retired) if chosen else [],
        "wanted": {}, "day": today(), "preview": None, "item": "", "history": (),
    }  # fmt: skip


@router.get("/shops", name="shops", response_class=HTMLResponse, include_in_schema=False)
def shops_page(
    request: Request, shop: Annotated[str, Query(max_length=60)] = "",
    find: Annotated[str, Query(max_length=80)] = "", item: Annotated[str, Query(max_length=60)] = "",
) -> Response:  # fmt: skip
    """All shops; of a chosen one how things come from there, and its prices; of an item every price that
    was ever kept."""
    who = viewer()
    context = _context(who, shop, find)
    if item:
        context |= {"item": item, "history": store.history(who.shop_id, item)}
    return render(request, "shops.html", context)


def _read(form: dict[str, str], key: str, who: Viewer) -> Supplier:
    """A shop from its form. Raises CoreError naming the field."""
    values: dict[str, Any] = {"id": key}
    for name, info in Supplier.model_fields.items():
        if name == "id":
            continue
        kind = kind_of_field(name, info)
        try:
            values[name] = read_text(form.get(name, ""), kind, who.units)
        except CoreError as error:
            raise CoreError(error.message, name) from None
    try:
        return Supplier.model_validate({k: v for k, v in values.items() if v is not None})
    except ValidationError as error:
        raise first_error(error, values, root=Supplier) from None


def _key_of(name: str, taken: set[str]) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.casefold()).strip("-")[:40] or "shop"
    return next(
        k for n in range(1, len(taken) + 2) if (k := stem if n == 1 else f"{stem}-{n}") not in taken
    )


@router.post("/shops", name="keep_shop", include_in_schema=False)
async def keep_shop(request: Request) -> Response:
    """A new shop, or what is known of one."""
    form = {k: str(v) for k, v in (await request.form()).items()}

    def kept() -> Response:
        who, key = viewer(), form.get("shop", "")
        try:
            known = {s.id for s in store.suppliers(who.shop_id)}
            supplier = _read(form, key if key in known else _key_of(form.get("name", ""), known), who)
            store.keep_supplier(who.shop_id, supplier)
        except CoreError as error:
            context = _context(who, key) | {"problem": error, "typed": form}
            return render(request, "shops.html", context, 422)
        return RedirectResponse(links.to("shops", shop=supplier.id), 303)

    return await run_in_threadpool(told_in_shop_units(kept))


@router.post("/shops/{key}/forget", name="forget_shop", include_in_schema=False)
def forget_shop(key: str) -> Response:
    """A shop and all its prices go; what was bought there stays in the plans."""
    store.forget_supplier(viewer().shop_id, key)
    return RedirectResponse(links.to("shops"), 303)


@router.post("/shops/{key}/prices", name="keep_price", include_in_schema=False)
def keep_price(
    request: Request, key: str,
    item: Annotated[str, Form(max_length=60)] = "", quantity: Annotated[str, Form(max_length=40)] = "1",
    price: Annotated[str, Form(max_length=40)] = "", number: Annotated[str, Form(max_length=60)] = "",
    name: Annotated[str, Form(max_length=200)] = "",
    instead: Annotated[str, Form(max_length=MOST_DIFFERS)] = "",
) -> Response:  # fmt: skip
    """One price, typed."""
    who = viewer()
    typed = {"item": item, "quantity": quantity, "price": price, "number": number, "name": name,
             "instead": instead}  # fmt: skip
    try:
        entry = catalogue(who.shop_id).entries.get(item)
        if entry is None:
            raise CoreError(f"read “{item}”; accepted: something of the catalogue", "item")
        if instead.strip() and not (name.strip() or number.strip()):
            raise CoreError("say what they call it, or give its number", "name")
        each = read_price(price)
        try:
            held = float(quantity)
            differs, called = " ".join(instead.split()), " ".join(name.split()) or entry.name
            offer = Offer(supplier=key, item=item, name=called, number=number.strip(), quantity=held,
                          price=each, on=today(), source="typed", instead=differs)  # fmt: skip
        except (ValueError, ValidationError):
            raise CoreError(f"read “{quantity}”; accepted: 0.001 to 100 000", "quantity") from None
        context = _context(who, key)  # the shop is there
        store.keep_offers(who.shop_id, [offer])
    except CoreError as error:
        context = _context(who, key) | {"problem": error, "wanted": typed}
        return render(request, "shops.html", context, 422)
    return RedirectResponse(links.to("shops", shop=key), 303)


@router.post("/shops/{key}/prices/what", name="what_is_it", include_in_schema=False)
def what_is_it(
    key: str, ref: Annotated[str, Form(max_length=200)], quantity: Annotated[float, Form(gt=0)],
    item: Annotated[str, Form(max_length=60)] = "", find: Annotated[str, Form(max_length=80)] = "",
    instead: Annotated[str, Form(max_length=MOST_DIFFERS)] = "", gone: bool = Form(False),
) -> Response:  # fmt: skip
    """Say what of the catalogue a shop's thing is, or that they have this pack no longer."""
    shop_id = viewer().shop_id
    if gone:
        store.forget_offer(shop_id, key, ref, quantity)
    else:
        if item:
            catalogue(shop_id).find(item)
        store.is_what(shop_id, key, ref, item or None, " ".join(instead.split()))
    return RedirectResponse(links.to("shops", shop=key, find=find), 303)


def _names(who: Viewer) -> dict[str, str]:
    """Ids of the catalogue by their names and by themselves; a name that two have is none."""
    out: dict[str, str] = {}
    twice = set()
    for id_, entry in catalogue(who.shop_id).entries.items():
        name = entry.name.casefold()
        if name in out:
            twice.add(name)
        out[name] = id_
    return {k: v for k, v in out.items() if k not in twice} | {
        id_.casefold(): id_ for id_ in catalogue(who.shop_id).entries
    }


def _as_csv(table: Table) -> str:
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(table)
    return out.getvalue()


def _previewed(who: Viewer, key: str, table: Table, columns: Columns, day: str, source: str) -> PriceList:
    known = store.known_refs(who.shop_id, key)
    return read_prices(table, columns, key, day, source, known, _names(who))


@router.post("/shops/{key}/prices/look", name="look_at_prices", response_class=HTMLResponse,
             include_in_schema=False)  # fmt: skip
def look_at_prices(request: Request, key: str, table: UploadFile) -> Response:
    """What a price list holds, and which of its columns is taken for what; nothing is kept."""
    who = viewer()
    context, name = _context(who, key), (table.filename or "table")[:120]
    try:
        content = table.file.read(MOST_FILE + 1)
        if len(content) > MOST_FILE:
            raise CoreError(f"“{name}” is larger than {MOST_FILE // 1_000_000} MB", "table")
        cells = table_of(content)
    except CoreError as error:
        return render(request, "shops.html", context | {"problem": error}, 422)
    columns = guessed(cells, store.columns_of(who.shop_id, key))
    return _look(request, who, context, cells, columns, today(), name)


def _look(
    request: Request, who: Viewer, context: dict[str, Any], table: Table, columns: Columns, day: str,
    name: str,
) -> Response:  # fmt: skip
    problem, read = None, None
    try:
        read = _previewed(who, context["chosen"].id, table, columns, day, name)
    except CoreError as error:
        problem = error
    preview = {
        "columns": columns, "first": table[: MOST_FIRST], "read": read, "text": _as_csv(table),
        "name": name, "day": day, "roles": [(r, ROLE_WORDS[r]) for r in ROLES], "rows": len(table),
    }  # fmt: skip
    return render(request, "shops.html", context | {"preview": preview, "problem": problem},
                  422 if problem else 200)  # fmt: skip


@router.post("/shops/{key}/prices/take", name="take_prices", include_in_schema=False)
async def take_prices(request: Request, key: str) -> Response:
    """The list once more with other columns, or taken over: all rows that can be read."""
    form = await request.form()
    text, name = str(form.get("text", "")), str(form.get("name", ""))[:120]
    day, act = str(form.get("day", "")), str(form.get("act", ""))
    roles = [str(v) for k, v in form.multi_items() if k == "role"]
    decimal: Literal[".", ","] = "," if form.get("decimal") == "," else "."
    head = form.get("head") is not None

    def taken(told: Told | None = None) -> Response:
        who = viewer()
        context, table = _context(who, key), table_of(text.encode())
        meant: dict[str, Role] = {r: r for r in ROLES}
        columns = Columns(tuple(meant.get(r, "") for r in roles), decimal, head)
        if len(columns.roles) != len(table[0]):
            columns = guessed(table, {})
        if act != "take":
            return _look(request, who, context, table, columns, day, name)
        try:
            read = _previewed(who, key, table, columns, day, name)
        except (CoreError, ValidationError):
            return _look(request, who, context, table, columns, today(), name)
        store.keep_offers(who.shop_id, read.offers, told)
        kept = {"roles": columns.roles, "decimal": columns.decimal, "head": columns.head}
        store.keep_columns(who.shop_id, key, kept)
        return RedirectResponse(links.to("shops", shop=key), 303)

    if act == "take" and request.headers.get("accept") == LINES:
        return StreamingResponse(told_lines(partial(_taking, taken)), media_type=LINES)
    return await run_in_threadpool(told_in_shop_units(taken))


def _taking(taken: Callable[[Told], Response], told: Told) -> str:
    """Take a price list over; where to go then. Raises CoreError for one that cannot be."""
    done = told_in_shop_units(partial(taken, told))()
    if done.status_code != 303:
        raise CoreError("these columns cannot be taken over: look again with them", "roles")
    return str(done.headers["location"])


@router.get("/shops/{key}/prices.{form}", name="prices_file", include_in_schema=False)
def prices_file(key: str, form: Form_) -> Response:
    """The newest prices of a shop as a table, to be changed and brought in again."""
    who = viewer()
    if all(s.id != key for s in store.suppliers(who.shop_id)):
        raise NotThereError(f"there is no shop “{key}”")
    offers, _ = store.offers_of(who.shop_id, key, "", MOST_OUT)
    rows: list[tuple[Cell, ...]] = [("number", "name", "id", "pack", "price", "since", "instead")]
    rows += [(o.number, o.name, o.item or "", o.quantity, cents(o.price), o.on, o.instead) for o in offers]
    return Response(
        written(rows, form), media_type=MEDIA[form],
        headers={"Content-Disposition": f'attachment; filename="prices-{key}.{form}"'},
    )  # fmt: skip
