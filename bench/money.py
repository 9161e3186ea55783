"""Speeds of what deals with money: the cheapest mix of shops, price lists, the page of a large boat."""

from __future__ import annotations

import random
import re
import time
from decimal import Decimal
from typing import Any

from bench.boats import fitted_plan
from bench.measure import Table, median
from bench.server import Running, running
from stirrup.core.money.mix import Wanted, cheapest_mix
from stirrup.core.money.suppliers import Offer, Supplier

NEEDS, SHOPS, MARKETS, ROWS, CHANGES = 120, 6, 8, 5000, 60
KEY = "bench-list"


def market(seed: int) -> tuple[list[Wanted], list[Supplier], list[Offer]]:
    """Needs, shops and prices that are drawn: freight is worth thinking about in each of them."""
    draw = random.Random(seed)
    shops = [
        Supplier(
            id=f"s{k}", name=f"Shop {k}", freight=Decimal(draw.choice([15, 25, 60, 90, 140])),
            free_from=draw.choice([None, Decimal(250), Decimal(600)]),
            minimum=Decimal(draw.choice([0, 0, 50])), fetched=draw.random() < 0.6,
            km=draw.uniform(5, 150), hours=1.0, town=draw.choice(["", "Mill End", "Low Ferry"]),
        )
        for k in range(SHOPS)
    ]  # fmt: skip
    wanted, offers = [], []
    for k in range(NEEDS):
        base = draw.choice([0.05, 0.2, 1, 2, 8])
        wanted.append(Wanted(f"i{k}", draw.choice([1, 2, 4, 12, 30])))
        for shop in shops:
            if draw.random() < 0.75:
                for held in draw.sample([1, 5, 10, 50, 100], draw.choice([1, 2, 3])):
                    price = Decimal(str(round(base * held**0.9 * draw.uniform(0.8, 1.3), 2)))
                    offers.append(
                        Offer(item=f"i{k}", supplier=shop.id, quantity=held, price=price, on="2026-01-02")
                    )
    return wanted, shops, offers


def _mixes(table: Table) -> None:
    taken, proven = [], 0
    for seed in range(MARKETS):
        wanted, shops, offers = market(seed)
        start = time.perf_counter()
        mix = cheapest_mix(wanted, shops, offers, Decimal("0.5"), Decimal(20))
        taken.append((time.perf_counter() - start) * 1000)
        proven += mix.proven
    what = f"cheapest mix, {NEEDS} needs over {SHOPS} shops"
    table.add(f"{what}, slowest of {MARKETS}", 2000, max(taken))
    table.add(f"{what}, proven", MARKETS, proven, "", least=True)


def _form(server: Running, path: str, data: dict[str, Any], **more: Any) -> None:
    answer = server.client.post(path, data={"csrf_token": server.token, **data}, **more)
    if answer.status_code not in (200, 303):
        raise RuntimeError(f"{path}: {answer.status_code}")


def _list(table: Table, server: Running) -> None:
    """A list of prices from the file that is chosen to the page that shows them kept."""
    _form(server, "/shops", {"shop": "", "name": "Bench list", "sort": "online", "delivers": "on",
          "freight": "0", "minimum": "0", "days": "0", "km": "0", "hours": "0"})  # fmt: skip
    text = "number,name,pack,price\n" + "".join(
        f"N-{k},thing {k},{k % 9 + 1},{k % 97 + 0.35:.2f}\n" for k in range(ROWS)
    )
    start = time.perf_counter()
    file = {"table": ("list.csv", text.encode(), "text/csv")}
    _form(server, f"/shops/{KEY}/prices/look", {}, files=file)
    _form(
        server,
        f"/shops/{KEY}/prices/take",
        {
            "text": text,
            "name": "list.csv",
            "day": "2026-01-02",
            "head": "on",
            "decimal": ".",
            "act": "take",
            "role": ["number", "name", "quantity", "price"],
        },
    )
    server.get(f"/shops?shop={KEY}")
    spent = (time.perf_counter() - start) * 1000
    table.add(f"price list of {ROWS} rows: looked at, taken over, shown", 5000, spent)


def _page(table: Table, server: Running) -> None:
    """The Money page of a boat with 80 fittings: as it is, and after a change of its budget."""
    build = server.bring_in(fitted_plan())
    number = int(re.findall(r'data-number="(\d+)"', server.get(f"/b/{build}/layout").text)[0])
    time.sleep(20)  # its layouts are worked out
    server.get(f"/b/{build}/money")
    plain, changed, lists = [], [], []
    for k in range(CHANGES):
        start = time.perf_counter()
        server.get(f"/b/{build}/money")
        plain.append((time.perf_counter() - start) * 1000)
        change = {"do": "set", "path": ["wishes", "budget"], "value": f"{5000 + k}.00"}
        answer = server.post(f"/api/builds/{build}/changes", {"base": number, "change": change})
        number = int(answer.json()["number"])
        start = time.perf_counter()
        server.get(f"/b/{build}/money")
        changed.append((time.perf_counter() - start) * 1000)
        start = time.perf_counter()
        server.get(f"/b/{build}/money/shopping")
        lists.append((time.perf_counter() - start) * 1000)
    table.add(f"Money page, 80 fittings, median of {CHANGES}", 80, median(plain))
    table.add(f"    after a change of the budget, median of {CHANGES}", 80, median(changed))
    table.add(f"    its shopping lists then, median of {CHANGES}", None, median(lists))


def run(table: Table) -> None:
    """Everything that deals with money."""
    _mixes(table)
    with running() as server:
        _list(table, server)
        _page(table, server)
