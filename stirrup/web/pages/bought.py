"""Ordered and there: what has come, what is waited for, what is over."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import HTMLResponse, RedirectResponse, Response

from stirrup.core.came_to import came_to, learned
from stirrup.core.errors import CoreError
from stirrup.core.money.steps import came, other_cost
from stirrup.core.money.suppliers import Offer
from stirrup.core.plan.buying import Purchase
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together
from stirrup.core.quoting import agreed
from stirrup.store import builds, uploads
from stirrup.store.papers import in_force, papers
from stirrup.store.session import writing
from stirrup.store.shop import catalogue, set_price
from stirrup.store.suppliers import keep_offers, offered, suppliers
from stirrup.web import links
from stirrup.web.forms import fields_of
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, commit_change
from stirrup.web.pages.frame import CaseName, OpenBuild, build_context, open_build, viewer
from stirrup.web.pages.handing import MOST_BOATS
from stirrup.web.pages.money import read_price
from stirrup.web.pages.photos import MOST_PHOTO, small_photo
from stirrup.web.pages.shopping import today
from stirrup.web.present import change_json
from stirrup.web.problems import Problem
from stirrup.web.render import render
from stirrup.web.security import said, say_next

router = APIRouter(route_class=GateRoute)
PATH = ("buying", "purchases")
# of a purchase: not in its form
NOT_TYPED = {"id", "item", "thing", "receipt", "handed", "instead", "service"}
PDF = b"%PDF-"


@router.get("/b/{build_id}/money/bought", name="bought", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def bought_page(request: Request, build_id: int, case: CaseName) -> Response:
    return render(request, "bought.html", _context(request, open_build(build_id), case))


def _context(request: Request, opened: OpenBuild, case: str | None = None) -> dict[str, Any]:
    buying, day = opened.plan.buying, today()
    rows = [_row(opened, p, day) for p in buying.purchases]
    known = opened.derived.catalogue.entries
    return {
        **build_context(opened, request, "money", case),
        "sub": "bought",
        "groups": _groups(rows),
        "surplus": opened.derived.cost.surplus,
        "gone": [p.name for p in buying.purchases
                 if p.kept and p.thing is not None and opened.plan.thing(p.thing) is None],
        "owned": [
            {"own": o, "name": known[o.item].name if o.item in known else o.item,
             "old": o.until is not None and o.until < day,
             "fields": fields_of(o, f"buying/owned/{o.id}", opened.units, {"id", "item"})}
            for o in buying.owned
        ],
        "boats": _boats(opened),
        "needed": sorted({(line.item.name, line.item.id) for line in opened.derived.cost.lines}),
        "currency": opened.plan.wishes.currency,
        "day": day,
        "told": said(request, f"bought {opened.stored.id}"),
        "typed": {},
        "problem": None,
        "waste": sum((p.amount for p in buying.purchases if p.item is None and p.thing is None),
                     Decimal(0)),
    }  # fmt: skip


@router.get("/b/{build_id}/money/came-to", name="came_to", response_class=HTMLResponse,
            include_in_schema=False)  # fmt: skip
def came_to_page(request: Request, build_id: int, case: CaseName) -> Response:
    """What she came to against what was planned, and the prices that were learned."""
    opened = open_build(build_id)
    shop = opened.who.shop_id
    force = in_force(papers(shop, build_id))
    agreed_net = {i: line.net for i, line in agreed(force).items()} if force else {}
    rows = came_to(opened.derived)
    known, asked = {s.name for s in suppliers(shop)}, offered(shop)
    context = {
        **build_context(opened, request, "money", case),
        "sub": "came", "rows": rows, "agreed": agreed_net, "cost": opened.derived.cost,
        "learned": [(x, x.purchase.supplier in known, x.purchase.item in asked)
                    for x in learned(opened.derived, catalogue(shop))],
        "planned": sum((r.planned for r in rows), Decimal(0)),
        "now": sum((r.now for r in rows), Decimal(0)), "currency": opened.plan.wishes.currency,
    }  # fmt: skip
    return render(request, "came_to.html", context)


@router.post("/b/{build_id}/money/learn", name="learn_price", include_in_schema=False)
def learn_price(build_id: int, id: Annotated[str, Form(max_length=60)]) -> Response:
    """What was paid is the price from now on: of its shop where that is known, else of the catalogue."""
    opened = open_build(build_id)
    shop, p = opened.who.shop_id, _found(opened, id)
    if p.item is None or p.price is None:
        raise CoreError("this purchase has no price that could be taken over", "id")
    at = next((s.id for s in suppliers(shop) if s.name == p.supplier), None)
    if at is None:
        set_price(shop, p.item, p.price)
    else:
        offer = Offer(supplier=at, item=p.item, name=p.name, quantity=p.quantity, price=p.price,
                      on=p.ordered or today(), source=f"bought for {opened.plan.name}"[:120])  # fmt: skip
        keep_offers(shop, [offer])
    return RedirectResponse(links.to("came_to", build_id), 303)


def _boats(opened: OpenBuild) -> list[tuple[int, str]]:
    """The other boats that were worked on last, by name: something could go to them."""
    return [(i, name) for i, name in builds.names(opened.who.shop_id, MOST_BOATS) if i != opened.stored.id]


def _row(opened: OpenBuild, p: Purchase, day: str) -> dict[str, Any]:
    """A purchase with its form, whether it is late, and what waits for it."""
    names = {f.id: f.code for f in opened.plan.fittings}
    lines = {line.item.id: line for line in opened.derived.cost.lines}
    waits = lines[p.item].need.fittings if p.item in lines else ()
    return {
        "p": p,
        "late": bool(p.waited_for and p.promised is not None and p.promised < day),
        "for": ", ".join(names.get(f, f) for f in waits if f),
        "fields": fields_of(p, f"buying/purchases/{p.id}", opened.units, NOT_TYPED),
        "order": change_json(SetValue(path=(*PATH, p.id, "stage"), value="ordered")),
    }


def _groups(rows: list[dict[str, Any]]) -> list[tuple[str, str, list[dict[str, Any]]]]:
    """What is waited for, late things first; what is asked for; what is there; what went back."""
    waited = [r for r in rows if r["p"].waited_for]
    waited.sort(key=lambda r: (not r["late"], r["p"].promised or "9"))
    asked = [r for r in rows if r["p"].stage != "ordered"]
    here = [r for r in rows if r["p"].stage == "ordered" and not r["p"].waited_for and r["p"].kept]
    back = [r for r in rows if r["p"].stage == "ordered" and not r["p"].waited_for and not r["p"].kept]
    groups = (("Waited for", "waited", waited), ("Quotes asked", "asked", asked),
              ("There", "there", here[::-1]), ("Given back, or to another boat", "back", back))  # fmt: skip
    return [g for g in groups if g[2]]


def _found(opened: OpenBuild, id_: str) -> Purchase:
    found = next((p for p in opened.plan.buying.purchases if p.id == id_), None)
    if found is None:
        raise Problem(409, "Not there any more", "Somebody took this purchase out meanwhile.")
    return found


def _made(opened: OpenBuild, base: int, change: AnyChange) -> Response:
    asked = ChangeAsked(base=base, change=change.model_dump(mode="json"))
    commit_change(opened.who, opened.stored.id, asked)
    return RedirectResponse(links.to("bought", opened.stored.id), 303)


@router.post("/b/{build_id}/money/came", name="came_form", include_in_schema=False)
def came_form(
    build_id: int, base: Annotated[int, Form()], id: Annotated[str, Form(max_length=60)],
    packs: Annotated[int, Form(ge=1, le=10_000)],
) -> Response:  # fmt: skip
    """So many packs of a purchase have come. Of two who note the same delivery one is told."""
    opened = open_build(build_id)
    # by the revision that was looked at: what has come since is a change of the same thing
    return _made(opened, base, came(_found(opened, id), packs))


@router.post("/b/{build_id}/money/back", name="back_form", include_in_schema=False)
def back_form(
    build_id: int, base: Annotated[int, Form()], id: Annotated[str, Form(max_length=60)],
    packs: Annotated[int, Form(ge=1, le=10_000)],
) -> Response:  # fmt: skip
    """So many packs of a purchase go back to where they came from."""
    opened = open_build(build_id)
    found = _found(opened, id)
    if packs > found.at_hand:
        raise CoreError(f"read {packs}; accepted: at most the {found.at_hand} that are there", "packs")
    return _made(opened, base, SetValue(path=(*PATH, id, "returned"), value=found.returned + packs))


@router.post("/b/{build_id}/money/other", name="other_cost", include_in_schema=False)
def other_form(
    request: Request, build_id: int, base: Annotated[int, Form()],
    name: Annotated[str, Form(max_length=80)] = "", price: Annotated[str, Form(max_length=40)] = "",
    supplier: Annotated[str, Form(max_length=60)] = "", service: bool = Form(False),
) -> Response:  # fmt: skip
    """Something else that was paid for: freight, a trip, blades, a bill of the welder."""
    opened = open_build(build_id)
    try:
        if not name.strip():
            raise CoreError("say what it was: freight, a trip, blades", "name")
        cost = read_price(price)
        change = other_cost(opened.plan, name.strip(), supplier.strip(), cost, today(), service=service)
    except CoreError as error:
        typed = {"name": name, "price": price, "supplier": supplier, "service": service}
        context = _context(request, opened) | {"typed": typed, "problem": error}
        return render(request, "bought.html", context, 422)
    return _made(opened, base, change)


@router.post("/b/{build_id}/money/owned", name="owned_form", include_in_schema=False)
def owned_form(
    build_id: int, base: Annotated[int, Form()], item: Annotated[str, Form(max_length=60)],
) -> Response:  # fmt: skip
    """One of an item is in the shop already; how much of it is typed then."""
    opened = open_build(build_id)
    entry = opened.derived.catalogue.find(item)
    taken = {o.id for o in opened.plan.buying.owned}
    free = next(f"own-{k}" for k in range(1, len(taken) + 2) if f"own-{k}" not in taken)
    least = min((p.quantity for p in entry.packs), default=1.0)
    value = {"id": free, "item": entry.id, "quantity": least}
    return _made(opened, base, AddThing(path=("buying", "owned"), value=value))


@router.post("/b/{build_id}/money/receipt", name="receipt_in", include_in_schema=False)
def receipt_in(
    request: Request, build_id: int, id: Annotated[str, Form(max_length=60)], receipt: UploadFile,
    every: bool = Form(False),
) -> Response:  # fmt: skip
    """A receipt of a purchase, as one change: a photo, made small, or a PDF as it is. every: of all that
    was bought at the same shop on the same day."""
    opened = open_build(build_id)
    shop, back = opened.who.shop_id, links.to("bought", build_id)
    found, name = _found(opened, id), receipt.filename or "receipt"
    content = receipt.file.read(MOST_PHOTO + 1)
    try:
        if content.startswith(PDF):
            if len(content) > MOST_PHOTO:
                raise CoreError(f"“{name}” is larger than {MOST_PHOTO // 1_000_000} MB", "receipt")
            media = "application/pdf"
        else:
            content, media = small_photo(content, name), "image/jpeg"
    except CoreError as error:
        say_next(request, f"bought {build_id}", error.message)
        return RedirectResponse(back, 303)
    with writing():
        upload = uploads.keep(shop, build_id, "receipt", name, media, content)
        told = [p for p in opened.plan.buying.purchases if p.id == found.id or (
            every and (p.supplier, p.ordered) == (found.supplier, found.ordered))]  # fmt: skip
        words = f"{found.name}: receipt" if len(told) == 1 else f"receipt of {len(told)} things"
        change = Together(changes=tuple(
            SetValue(path=(*PATH, p.id, "receipt"), value=f"receipt-{upload}") for p in told
        ))  # fmt: skip
        builds.commit(shop, build_id, opened.stored.number, change, lambda *_: words, None)
    return RedirectResponse(back, 303)


@router.get("/b/{build_id}/receipts/{upload_id}", name="receipt", include_in_schema=False)
def receipt_out(build_id: int, upload_id: int) -> Response:
    kept = uploads.fetch(viewer().shop_id, build_id, "receipt", upload_id)
    end = "pdf" if kept.media == "application/pdf" else "jpg"
    headers = {"Cache-Control": "private, max-age=31536000, immutable",
               "Content-Disposition": f'attachment; filename="receipt-{upload_id}.{end}"'}  # fmt: skip
    return Response(kept.content, media_type=kept.media, headers=headers)
