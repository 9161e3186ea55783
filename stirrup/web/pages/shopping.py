"""Shopping lists: what do I get where?"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.memo import Memo
from stirrup.core.money.mix import Mix, cheapest_mix
from stirrup.core.money.shopping import ShopList, ToBuy, bar_pieces, shopping, wanted_of
from stirrup.core.money.steps import bought, freight_of
from stirrup.core.money.suppliers import Offer
from stirrup.core.plan.buying import Pin, Purchase
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together
from stirrup.exchange.csvtext import safe
from stirrup.store import suppliers as store
from stirrup.web import links
from stirrup.web.counter import asked_for, packs_said
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build
from stirrup.web.present import amount, change_json
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)
MIXES = Memo(200, common=True)
MOST_OTHERS = 4  # shops that an item is shown beside
Names = dict[str, str]


def today() -> str:
    """The day, as the plan writes it."""
    return datetime.now().astimezone().date().isoformat()


@dataclass(frozen=True)
class Lists:
    """Where everything is had, with what was asked for it."""

    mix: Mix
    lists: tuple[ShopList, ...]
    offers: tuple[Offer, ...]
    names: Names  # of suppliers, by their ids

    @property
    def goods(self) -> Decimal:
        return sum((s.goods for s in self.lists), Decimal(0))

    def tax(self, percent: Decimal) -> Decimal:
        """Of all that is still to buy, with what brings it here."""
        return ((self.goods + self.mix.carriage) * percent / 100).quantize(Decimal("0.01"))


def lists_of(opened: OpenBuild) -> Lists:
    """The shopping lists of a build; the mix of shops is remembered by what it follows from."""
    shop, cost, buying = opened.who.shop_id, opened.derived.cost, opened.plan.buying
    wanted = wanted_of(cost)
    there = store.suppliers(shop)
    offers = store.offers(shop, [w.item for w in wanted]) if there else ()
    pins = {p.id: p.supplier for p in buying.pins}
    road = (buying.per_km, buying.road_hour or Decimal(0))
    key = (wanted, tuple(s.model_dump_json() for s in there), tuple(o.model_dump_json() for o in offers),
           road, tuple(pins.items()))  # fmt: skip
    mix = MIXES.get(key, lambda: cheapest_mix(wanted, there, offers, *road, pins))
    numbers = {(o.supplier, o.item): o.number for o in offers if o.item and o.number}
    lists = shopping(cost, mix, opened.derived.catalogue, numbers)
    return Lists(mix, lists, offers, {s.id: s.name for s in there})


@router.get("/b/{build_id}/money/shopping", name="shopping", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def shopping_page(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    found, plan = lists_of(opened), opened.plan
    pieces = bar_pieces(opened.derived.bars)
    names = {f.id: f.code for f in plan.fittings}
    day = today()
    shops = [
        {
            "list": shop, "key": f"shop-{k}",
            "rows": [_row(opened, shop, line, found, pieces, names, day) for line in shop.lines],
            "done": _ticked(plan.buying.purchases, shop.name, day),
        }
        for k, shop in enumerate(found.lists)
    ]  # fmt: skip
    listed = {shop.name for shop in found.lists}
    context = {
        **build_context(opened, request, "money", case),
        "sub": "lists",
        "cost": opened.derived.cost,
        "found": found,
        "shops": shops,
        "elsewhere": [p for p in plan.buying.purchases if p.ordered == day and p.supplier not in listed],
        "tax": found.tax(plan.wishes.tax_percent),
        "currency": plan.wishes.currency,
    }
    return render(request, "shopping.html", context)


def _ticked(purchases: tuple[Purchase, ...], shop: str, day: str) -> list[Purchase]:
    """What was bought there today: it stays on the list, ticked."""
    return [p for p in purchases if p.supplier == shop[:60] and p.ordered == day]


def _row(
    opened: OpenBuild, shop: ShopList, line: ToBuy, found: Lists, pieces: dict[str, tuple[float, ...]],
    names: Names, day: str,
) -> dict[str, Any]:  # fmt: skip
    """One line as it is shown: what to say, who needs it, what it costs elsewhere, and its two ticks."""
    unit = line.line.item.unit if line.line else "piece"
    reasons = line.line.need.reasons if line.line else ()
    here = shop.supplier.id if shop.supplier else ""
    others = [
        {"name": found.names[c.supplier], "id": c.supplier, "more": c.cost - (line.cost or Decimal(0))}
        for c in found.mix.others.get(line.item, ()) if c.supplier != here
    ]  # fmt: skip
    return {
        "line": line,
        "packs": packs_said(line),
        "say": asked_for(line, pieces, opened.units),
        "why": ", ".join(f"{names.get(f, f)}: {amount(n, unit)}" if n else names.get(f, f)
                         for f, n in reasons),
        "others": others[:MOST_OTHERS],
        "pinned": any(p.id == line.item for p in opened.plan.buying.pins),
        "got": change_json(bought([line], shop.name, day, here=True)),
        "ordered": change_json(bought([line], shop.name, day, here=False)),
    }  # fmt: skip


def _line_of(found: Lists, shop: str, key: str) -> tuple[ShopList, list[ToBuy]]:
    """A list by its shop's name, and its line by its key; all lines where no key is given. CoreError."""
    there = next((s for s in found.lists if s.name == shop), None)
    lines = [] if there is None else [x for x in there.lines if not key or x.key == key]
    if there is None or not lines:
        raise CoreError("this is not on the list any more; look at the page again", "shop")
    return there, lines


@router.post("/b/{build_id}/money/shopping", name="buy_form", include_in_schema=False)
def buy(
    build_id: int, base: Annotated[int, Form()], shop: Annotated[str, Form(max_length=80)],
    key: Annotated[str, Form(max_length=100)] = "", here: bool = Form(False),
) -> Response:  # fmt: skip
    """A line of a list, or all of it, is bought or ordered; an order brings its freight along."""
    opened = open_build(build_id, settled=True)
    there, lines = _line_of(lists_of(opened), shop, key)
    change = bought(lines, there.name, today(), here)
    freight = freight_of(there, opened.plan, today()) if not (here or key) else None
    if freight is not None and isinstance(change, Together):
        change = Together(changes=(*change.changes, freight), words=change.words)
    asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
    commit_change(opened.who, build_id, asked)
    return RedirectResponse(links.to("shopping", build_id), 303)


@router.post("/b/{build_id}/money/pin", name="pin_shop", include_in_schema=False)
def pin(
    build_id: int, base: Annotated[int, Form()], item: Annotated[str, Form(max_length=60)],
    supplier: Annotated[str, Form(max_length=60)] = "",
) -> Response:  # fmt: skip
    """An item comes from one shop from now on; from none in particular where none is given."""
    opened = open_build(build_id)
    known = any(p.id == item for p in opened.plan.buying.pins)
    path = ("buying", "pins")
    change: AnyChange | None = None
    if known and supplier:
        change = SetValue(path=(*path, item, "supplier"), value=supplier)
    elif known:
        change = RemoveThing(path=(*path, item))
    elif supplier:
        change = AddThing(path=path, value=Pin(id=item, supplier=supplier).model_dump(mode="json"))
    if change is not None:
        asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
        commit_change(opened.who, build_id, asked)
    return RedirectResponse(links.to("shopping", build_id), 303)


@router.get("/b/{build_id}/money/shopping.csv", name="lists_csv", include_in_schema=False)
def shopping_csv(build_id: int, shop: Annotated[str, Query(max_length=80)] = "") -> Response:
    """A list, or all of them, as CSV: to be sent to a shop."""
    opened = open_build(build_id, settled=True)
    pieces, out = bar_pieces(opened.derived.bars), io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(("shop", "item", "their number", "packs", "in a pack", "unit", "price of a pack",
                     "cost before tax", "remarks"))  # fmt: skip
    for there in lists_of(opened).lists:
        if shop and there.name != shop:
            continue
        for line in there.lines:
            say = safe("; ".join(asked_for(line, pieces, opened.units)))
            unit = line.line.item.unit if line.line else "piece"
            packs = [(n, f"{p.quantity:g}", str(p.price), str((p.price * n).quantize(Decimal("0.01"))))
                     for p, n in line.packs]  # fmt: skip
            price = "" if line.cost is None else str(line.cost)
            for n, held, each, cost in packs or [(1, "1", price, price)]:
                writer.writerow((safe(there.name), safe(line.name), safe(line.number), n, held, unit,
                                 each, cost, say))  # fmt: skip
    return Response(
        "\ufeff" + out.getvalue(), media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": 'attachment; filename="shopping.csv"'},
    )  # fmt: skip
