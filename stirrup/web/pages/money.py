"""Money: what does it cost and what must I order?"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import HTMLResponse, RedirectResponse, Response
from markupsafe import Markup

from stirrup.core.errors import CoreError
from stirrup.core.money.cost import BuyLine, Cost, Need
from stirrup.core.money.standing import YOURS, by_day, kept_back, standing
from stirrup.core.parts.entries import price_of_least
from stirrup.core.plan.entry import FieldKind, kind_of_field, read_money
from stirrup.core.plan.model import Plan, Wishes
from stirrup.core.units import Units
from stirrup.core.where_it_goes import title_in, where_it_goes, work_cost
from stirrup.core.work.hours import effort
from stirrup.store.shop import catalogue, own_ids, set_price
from stirrup.store.suppliers import offered
from stirrup.web import present
from stirrup.web.drawing.spent import spent_svg
from stirrup.web.forms import Field, fields_of, make_field
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build, viewer
from stirrup.web.pages.one_thing import price_fields
from stirrup.web.problems import Problem
from stirrup.web.render import render

router = APIRouter(route_class=GateRoute)

FIRST_SHARES = 8  # things shown at once, the dearest ones
GROUPS = (("sheet", "Sheets"), ("stick", "Sticks"), ("piece", "Pieces"), ("", "By length and area"))


def _whole_fields(plan: Plan, path: str, units: Units) -> list[Field]:
    group, id_ = path.split("/")
    if group == "buoyancy":
        volume = next(v for v in plan.buoyancy if v.id == id_)
        return [make_field(f"{path}/cost", volume.cost, FieldKind("money", "Price", True), units)]
    thing = next(t for t in getattr(plan, group) if t.id == id_)
    return price_fields(thing, path, units)


@router.get("/b/{build_id}/money", name="money", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def money(request: Request, build_id: int, case: CaseName) -> Response:
    opened = open_build(build_id)
    cost, wishes = opened.derived.cost, opened.plan.wishes
    own = catalogue(opened.who.shop_id)
    names = {f.id: f.code for f in opened.plan.fittings}
    hours = effort(opened.derived.built).hours
    work = work_cost(hours, wishes.rate) if wishes.rate is not None else None
    paid = frozenset().union(*own_ids(opened.who.shop_id))
    all_lines = [(line.item.name, line.cost) for line in cost.lines]
    all_lines += [(thing.title, price) for thing, price in cost.whole if price is not None]
    dearest = sorted(all_lines, key=lambda line: -line[1])[:1]
    context = {
        **build_context(opened, request, "money", case),
        "sub": "cost",
        "cost": cost,
        "whole": [
            {"thing": thing, "cost": price, "fields": _whole_fields(opened.plan, thing.path, opened.units)}
            for thing, price in cost.whole
        ],
        "owned": [i for i in opened.plan.items if i.owned and i.stage == "added"],
        "groups": _groups(cost),
        "shares": _shares(opened),
        "why": {line.item.id: _why(line.need, line.item.unit, names) for line in cost.lines},
        "first": FIRST_SHARES,
        "hours": hours,
        "work": work,
        "fields": _wishes_fields(opened),
        "buying_fields": _buying_fields(opened),
        "rows": standing(cost, opened.derived.catalogue, work, opened.plan.buying.terms.overhead),
        "yours": YOURS,
        "reserve": kept_back(cost, paid, opened.plan.buying.reserve),
        "line": Markup(spent_svg(by_day(cost), cost.net, cost.tax, wishes.budget)),
        "offered": offered(opened.who.shop_id),
        "own": own,
        "paid": paid,
        "least_price": price_of_least,
        "dearest": dearest[0] if dearest else None,
        "currency": wishes.currency,
    }
    return render(request, "money.html", context)


def _groups(cost: Cost) -> list[tuple[str, list[BuyLine]]]:
    """Lines by what they are counted in, the dearest first."""
    known = [unit for unit, _ in GROUPS if unit]
    groups = []
    for unit, title in GROUPS:
        lines = [x for x in cost.lines if (x.item.unit == unit if unit else x.item.unit not in known)]
        if lines:
            groups.append((title, sorted(lines, key=lambda line: -line.cost)))
    return groups


def _wishes_fields(opened: OpenBuild) -> list[Field]:
    """Budget, tax, and what an hour costs."""
    wishes, units = opened.plan.wishes, opened.units
    return [
        make_field("wishes/budget", wishes.budget, FieldKind("money", "Budget", True), units),
        make_field("wishes/tax_percent", wishes.tax_percent, FieldKind("number", "Tax, percent"),
                   units),
        make_field("wishes/rate", wishes.rate, FieldKind("money", "An hour of work costs", True), units),
        *(make_field(f"wishes/{k}", getattr(wishes, k), kind_of_field(k, Wishes.model_fields[k]), units)
          for k in ("currency", "amounts")),
    ]  # fmt: skip


def _buying_fields(opened: OpenBuild) -> list[Field]:
    """What trips cost, and what is kept back."""
    return fields_of(
        opened.plan.buying, "buying", opened.units, {"purchases", "owned", "pins", "steads", "terms"}
    )


def _why(need: Need, unit: str, names: dict[str, str]) -> str:
    """Who needs it, each with how much where there are several: "H1: 2, H2: 1"."""
    many = len(need.reasons) > 1
    return ", ".join(
        f"{names.get(f, f)}: {present.amount(much, unit)}" if much and many else names.get(f, f)
        for f, much in need.reasons
    )


def _shares(opened: OpenBuild) -> list[dict[str, Any]]:
    """Things by what they cost, the dearest first, each with its hours of work; full: of the dearest one's
    bar, in thousandths."""
    derived, plan = opened.derived, opened.plan
    shares = where_it_goes(derived.cost, derived.built)
    most = max((s.total for s in shares), default=Decimal(1))
    built = {b.fitting: b for b in derived.built}
    return [
        {
            "id": s.id, "there": plan.thing(s.id) is not None,
            "title": title_in(plan, s.id) if s.id else "stock that is cut up, or bought ahead",
            "total": s.total, "full": int(1000 * s.total / most),
            "hours": effort([built[s.id]]).hours if s.id in built else 0.0,
        }
        for s in shares
    ]  # fmt: skip


def read_price(text: str) -> Decimal:
    """A price from typed text. Raises CoreError."""
    try:
        value = read_money(text)
    except CoreError:
        raise CoreError(f"read “{text}” as a price; accepted: 39 or 39.50", "price") from None
    if not value.is_finite() or not 0 <= value <= 1_000_000:
        raise CoreError(f"read “{text}” as a price; accepted: 0 to 1 000 000", "price")
    return value


@router.post("/b/{build_id}/price", name="price", include_in_schema=False)
def price(
    request: Request, build_id: int, item: Annotated[str, Form()], price: Annotated[str, Form()]
) -> Response:
    who = viewer()
    try:
        set_price(who.shop_id, item, read_price(price))
    except CoreError as error:
        raise Problem(422, "This price cannot be used", error.message, place="price") from None
    return RedirectResponse(request.url_for("money", build_id=build_id).path, 303)
