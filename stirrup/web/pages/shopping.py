"""Shopping lists: what do I get where?"""

from __future__ import annotations

from datetime import datetime, timedelta
from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.errors import CoreError
from stirrup.core.memo import Memo
from stirrup.core.money.cost import cents
from stirrup.core.money.mix import Choice, Mix, cheapest_mix
from stirrup.core.money.shopping import ShopList, ToBuy, bar_pieces, shopping, wanted_of
from stirrup.core.money.steps import How, bought, freight_of
from stirrup.core.money.suppliers import Offer
from stirrup.core.plan.buying import Pin, Purchase, Stead
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together
from stirrup.core.record import dataclass
from stirrup.exchange.sheet_out import MEDIA, Cell, written
from stirrup.exchange.sheet_out import Form as Form_
from stirrup.store import builds
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


def promised(shop: ShopList) -> str | None:
    """The day on which something that is ordered there now usually comes; None where nobody knows."""
    if shop.supplier is None or not shop.supplier.days:
        return None
    return (datetime.now().astimezone().date() + timedelta(days=shop.supplier.days)).isoformat()


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
        return cents((self.goods + self.mix.carriage) * percent / 100)


def lists_of(opened: OpenBuild) -> Lists:
    """The shopping lists of a build; the mix of shops is remembered by what it follows from."""
    shop, cost, buying = opened.who.shop_id, opened.derived.cost, opened.plan.buying
    wanted = wanted_of(cost)
    there = store.suppliers(shop)
    offers = store.offers(shop, [w.item for w in wanted]) if there else ()
    pins = {p.id: p.supplier for p in buying.pins}
    road = (buying.per_km, buying.road_hour or Decimal(0))
    steads = frozenset(s.id for s in buying.steads)
    key = (wanted, tuple(s.model_dump_json() for s in there), tuple(o.model_dump_json() for o in offers),
           road, tuple(pins.items()), steads)  # fmt: skip
    mix = MIXES.get(key, lambda: cheapest_mix(wanted, there, offers, *road, pins, steads=steads))
    numbers = {(o.supplier, o.item): o.number for o in offers if o.item and o.number and not o.instead}
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
        "others": len(builds.names(opened.who.shop_id, 2)) > 1,
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
        _elsewhere(c, line, found.names)
        for c in found.mix.others.get(line.item, ()) if c.supplier != here
    ]  # fmt: skip
    alternates = [_elsewhere(c, line, found.names) for c in found.mix.alternates.get(line.item, ())]
    return {
        "line": line,
        "packs": packs_said(line),
        "say": asked_for(line, pieces, opened.units) if line.alternate is None else [],
        "why": ", ".join(f"{names.get(f, f)}: {amount(n, unit)}" if n else names.get(f, f)
                         for f, n in reasons),
        "others": others[:MOST_OTHERS],
        "alternates": alternates[:MOST_OTHERS],
        "stead": any(s.id == line.item for s in opened.plan.buying.steads),
        "pinned": any(p.id == line.item for p in opened.plan.buying.pins),
        "got": change_json(bought([line], shop.name, day, "here")),
        "ordered": change_json(bought([line], shop.name, day, "ordered", promised(shop))),
    }  # fmt: skip


def _elsewhere(choice: Choice, line: ToBuy, names: Names) -> dict[str, Any]:
    """An item at another shop, or something else in its place: where, what, and how much more it costs;
    None for the last where nobody knows what it costs here."""
    other = choice.alternate
    return {
        "name": names[choice.supplier], "id": choice.supplier,
        "more": None if line.cost is None else choice.cost - line.cost, "cost": choice.cost,
        "what": "" if other is None else other.name or other.number,
        "differs": "" if other is None else other.instead,
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
    key: Annotated[str, Form(max_length=100)] = "", here: bool = Form(False), asked: bool = Form(False),
) -> Response:  # fmt: skip
    """A line of a list, or all of it, is bought, ordered or asked for; an order brings its freight."""
    opened = open_build(build_id, settled=True)
    there, lines = _line_of(lists_of(opened), shop, key)
    how: How = "here" if here else "asked" if asked else "ordered"
    change = bought(lines, there.name, today(), how, promised(there))
    freight = freight_of(there, opened.plan, today()) if how == "ordered" and not key else None
    if freight is not None:
        change = Together(changes=(*change.changes, freight), words=change.words)
    commit_change(opened.who, build_id, ChangeAsked(base=base, change=change.model_dump(mode="json")))
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


@router.post("/b/{build_id}/money/alternate", name="alternate_will_do", include_in_schema=False)
def alternate_will_do(
    build_id: int, base: Annotated[int, Form()], item: Annotated[str, Form(max_length=60)],
    will_do: bool = Form(False),
) -> Response:  # fmt: skip
    """In an item's place an alternate will do, or no longer."""
    opened, path = open_build(build_id), ("buying", "steads")
    known = any(s.id == item for s in opened.plan.buying.steads)
    if known != will_do:
        opened.derived.catalogue.find(item)
        change: AnyChange = RemoveThing(path=(*path, item))
        if will_do:
            change = AddThing(path=path, value=Stead(id=item).model_dump(mode="json"))
        asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
        commit_change(opened.who, build_id, asked)
    return RedirectResponse(links.to("shopping", build_id), 303)


@router.get("/b/{build_id}/money/lists.{form}", name="lists_file", include_in_schema=False)
def lists_file(build_id: int, form: Form_, shop: Annotated[str, Query(max_length=80)] = "") -> Response:
    """A list, or all of them, as a table: to be sent to a shop."""
    opened = open_build(build_id, settled=True)
    rows = _table(opened, [s for s in lists_of(opened).lists if not shop or s.name == shop])
    return Response(
        written(rows, form), media_type=MEDIA[form],
        headers={"Content-Disposition": f'attachment; filename="shopping.{form}"'},
    )  # fmt: skip


def _table(opened: OpenBuild, lists: list[ShopList]) -> list[tuple[Cell, ...]]:
    pieces = bar_pieces(opened.derived.bars)
    rows: list[tuple[Cell, ...]] = [
        ("shop", "item", "their number", "packs", "in a pack", "unit", "price of a pack", "cost before tax",
         "remarks")
    ]  # fmt: skip
    for there in lists:
        for line in there.lines:
            said = asked_for(line, pieces, opened.units)
            if line.alternate is not None:
                said = [f"in place of {line.name}: {line.alternate.instead}"]
            say = "; ".join(said)
            unit = line.line.item.unit if line.line else "piece"
            packs: list[tuple[Cell, ...]] = [
                (n, p.quantity, unit, cents(p.price), cents(p.price * n)) for p, n in line.packs
            ]
            price: Cell = "" if line.cost is None else line.cost
            for n, *rest in packs or [(1, 1.0, unit, price, price)]:
                rows.append((there.name, line.called, line.number, n, *rest, say))
    return rows
