"""Quotes, change orders and bills: a plan's cost as a customer is told it; what was agreed stays.

All in cents: each line is rounded half up, sums are sums of what is shown, tax is taken once on each sum,
and stages share the total out to the last cent.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from stirrup.core.derive import Derived
from stirrup.core.document import Document
from stirrup.core.errors import CoreError
from stirrup.core.money.cost import cents
from stirrup.core.plan.terms import Terms
from stirrup.core.plan.things import title_of
from stirrup.core.where_it_goes import STOCK, as_planned, shared, where_it_goes, work_cost
from stirrup.core.work.hours import effort

Kind = Literal["quote", "change order", "bill"]
Amount = Annotated[Decimal, Field(decimal_places=2)]
MOST_STAGES = 8
NOTHING = Decimal(0)
HOURS_A_DAY = 6.0  # at the boat, of a day in the shop: working value
_STAGE = re.compile(r"\s*(.{1,60}?)\s+(\d{1,3}(?:\.\d{1,2})?)\s*%?\s*", re.DOTALL)


class Line(Document):
    """What one thing comes to: goods as they are charged, hours and what they are charged with."""

    id: str
    title: str
    goods: Amount
    hours: float
    work: Amount

    @property
    def net(self) -> Decimal:
        return self.goods + self.work


class Tax(Document):
    """A tax: on what, how much in percent, of which sum, and what it comes to."""

    on: str
    percent: Decimal
    of: Amount
    amount: Amount


class Stage(Document):
    """A part that is paid together, with the tax in it."""

    title: str
    percent: Decimal
    amount: Amount


class Paper(Document):
    """A quote, a change order or a bill as it was given: it never changes.

    revision: of the plan; added_kg: what the boat gains by all of it then. of: number of the quote that a
    change order or a bill belongs to.
    """

    kind: Kind
    customer: str
    address: tuple[str, ...] = ()
    about: str = ""
    day: str
    until: str = ""
    currency: str
    amounts: str = "plain"  # how they are written
    revision: int
    lines: tuple[Line, ...]
    overhead: Amount = NOTHING
    overhead_percent: Decimal = NOTHING
    taxes: tuple[Tax, ...]
    stages: tuple[Stage, ...] = ()
    added_kg: float = 0.0
    of: str = ""
    terms: Terms = Terms()

    @property
    def net(self) -> Decimal:
        return sum((line.net for line in self.lines), NOTHING) + self.overhead

    @property
    def total(self) -> Decimal:
        return self.net + sum((t.amount for t in self.taxes), NOTHING)

    @property
    def hours(self) -> float:
        return sum(line.hours for line in self.lines)

    @property
    def work(self) -> Decimal:
        return sum((line.work for line in self.lines), NOTHING)


def read_stages(text: str) -> tuple[tuple[str, Decimal], ...]:
    """Stages as they are typed: "Deposit 40; On handing over 60". Raises CoreError unless they are 100."""
    out = []
    for part in (p for p in text.split(";") if p.strip()):
        found = _STAGE.fullmatch(part)
        if found is None:
            raise CoreError(
                f"read “{part.strip()[:60]}”; accepted: Deposit 40; On handing over 60", "stages"
            )
        out.append((found[1].strip(), Decimal(found[2])))
    if len(out) > MOST_STAGES:
        raise CoreError(f"read {len(out)} stages; accepted: up to {MOST_STAGES}", "stages")
    whole = sum((percent for _, percent in out), NOTHING)
    if out and whole != 100:
        raise CoreError(f"the stages are {whole} percent together; accepted: 100", "stages")
    return tuple(out)


def _lines(derived: Derived, terms: Terms) -> tuple[Line, ...]:
    """What each thing comes to, the dearest first."""
    # what was paid for something, or is in the shop, is not the customer's
    goods = {s.id: s.net for s in where_it_goes(as_planned(derived), derived.built)}
    hours = {b.fitting: float(f"{effort([b]).hours:.1f}") for b in derived.built}
    out = []
    for id_ in dict.fromkeys((*goods, *hours)):
        charged = cents(goods.get(id_, NOTHING) * (100 + terms.margin) / 100)
        work = work_cost(hours.get(id_, 0.0), terms.rate or NOTHING)
        if charged or work:
            title = title_of(derived.plan, id_) if id_ != STOCK else "material and small parts"
            title = title[:1].upper() + title[1:]
            out.append(Line(id=id_, title=title[:120], goods=charged, hours=hours.get(id_, 0.0), work=work))
    return tuple(sorted(out, key=lambda line: (-line.net, line.id)))


def _taxes(goods: Decimal, work: Decimal, percent: Decimal, on_work: Decimal) -> tuple[Tax, ...]:
    """The taxes of two sums; one where both are taxed alike. A sum of nothing has none."""
    if percent == on_work:
        rows = [("all of it", percent, goods + work)]
    else:
        rows = [("goods", percent, goods), ("work", on_work, work)]
    rows = [row for row in rows if row[2]] or rows[:1]
    return tuple(Tax(on=on, percent=p, of=of, amount=cents(of * p / 100)) for on, p, of in rows)


def _staged(total: Decimal, stages: Iterable[tuple[str, Decimal]]) -> tuple[Stage, ...]:
    """A total shared out by stages: together they are it."""
    rows = tuple(stages)
    parts = _parts(total, [percent for _, percent in rows])
    return tuple(
        Stage(title=title, percent=percent, amount=part)
        for (title, percent), part in zip(rows, parts, strict=True)
    )


def _parts(total: Decimal, percents: Sequence[Decimal]) -> list[Decimal]:
    """A total, which may be less than nothing, shared out by percents."""
    keys = [f"{k:02}" for k in range(len(percents))]
    found = shared(abs(total), dict(zip(keys, map(float, percents), strict=True)))
    return [found[k].copy_sign(total) if k in found else NOTHING for k in keys]


def settled_terms(derived: Derived, terms: Terms) -> Terms:
    """Terms with everything that they leave to the plan: what an hour costs, the taxes."""
    wishes = derived.plan.wishes
    return terms.model_copy(update={
        "rate": terms.rate if terms.rate is not None else wishes.rate or NOTHING,
        "tax": terms.tax if terms.tax is not None else wishes.tax_percent,
    })  # fmt: skip


def quoted(derived: Derived, terms: Terms, revision: int, day: str, until: str) -> Paper:
    """What a plan comes to for a customer, at today's prices. Raises CoreError while it cannot be told:
    layouts that are only counted, stages that are not all of it."""
    terms = settled_terms(derived, terms)
    if not derived.cost.settled:
        raise CoreError("the layouts are not worked out yet; in a moment they are", "quote")
    stages = read_stages(terms.stages) or (("All of it", Decimal(100)),)
    lines = _lines(derived, terms)
    work = sum((line.work for line in lines), NOTHING)
    net = sum((line.net for line in lines), NOTHING)
    overhead = cents(net * terms.overhead / 100)
    percent = terms.tax or NOTHING
    on_work = percent if terms.work_tax is None else terms.work_tax
    paper = Paper(
        kind="quote", customer=terms.customer, address=_address(terms), about=terms.about, day=day,
        until=until, currency=derived.plan.wishes.currency,
        amounts=derived.plan.wishes.amounts, revision=revision, lines=lines,
        overhead=overhead, overhead_percent=terms.overhead,
        taxes=_taxes(net - work + overhead, work, percent, on_work), added_kg=round(derived.added_kg, 3),
        terms=terms,
    )  # fmt: skip
    return paper.model_copy(update={"stages": _staged(paper.total, stages)})


def _address(terms: Terms) -> tuple[str, ...]:
    return tuple(part.strip() for part in terms.address.split(",") if part.strip())


def agreed(papers: Iterable[Paper]) -> dict[str, Line]:
    """What was agreed for each thing by a quote and the change orders after it."""
    out: dict[str, Line] = {}
    for paper in papers:
        for line in paper.lines:
            old = out.get(line.id)
            out[line.id] = line if old is None else line.model_copy(update={
                "goods": old.goods + line.goods, "hours": round(old.hours + line.hours, 1),
                "work": old.work + line.work,
            })  # fmt: skip
    return out


def change_order(now: Paper, before: Sequence[Paper], number: str) -> Paper | None:
    """What has changed since something was agreed: thing by thing what is more or less; None where nothing
    is. now, before: the plan as it is and as it was then as quotes, of the same terms and at the same
    prices (so that neither a dearer latch nor another margin is the customer's); number: of the quote."""
    old, new = agreed(before), {line.id: line for line in now.lines}
    rows = []
    for id_ in dict.fromkeys((*new, *old)):
        a, b = old.get(id_), new.get(id_)
        title = (b or a).title  # type: ignore[union-attr]
        goods = (b.goods if b else NOTHING) - (a.goods if a else NOTHING)
        work = (b.work if b else NOTHING) - (a.work if a else NOTHING)
        hours = round((b.hours if b else 0.0) - (a.hours if a else 0.0), 1)
        if goods or work or hours:
            rows.append(Line(id=id_, title=title, goods=goods, hours=hours, work=work))
    overhead = now.overhead - sum((p.overhead for p in before), NOTHING)
    if not rows and not overhead:
        return None
    taxes = _tax_change(now, before)
    paper = now.model_copy(update={
        "kind": "change order", "lines": tuple(sorted(rows, key=lambda r: (-abs(r.net), r.id))),
        "overhead": overhead, "taxes": taxes, "of": number, "stages": (),
        "added_kg": round(now.added_kg - sum(p.added_kg for p in before), 3),
    })  # fmt: skip
    stages = ((s.title, s.percent) for s in now.stages[-1:])
    # what comes on top is paid with the last stage
    return paper.model_copy(
        update={"stages": _staged(paper.total, ((title, Decimal(100)) for title, _ in stages))}
    )


def _tax_change(now: Paper, before: Sequence[Paper]) -> tuple[Tax, ...]:
    """Taxes of now less what was taken before, so that all papers together are taxed as one."""
    rows: dict[tuple[str, Decimal], tuple[Decimal, Decimal]] = {}
    for sign, paper in ((1, now), *((-1, p) for p in before)):
        for t in paper.taxes:
            of, amount = rows.get((t.on, t.percent), (NOTHING, NOTHING))
            rows[t.on, t.percent] = (of + sign * t.of, amount + sign * t.amount)
    changed = ((on, p, *sums) for (on, p), sums in rows.items() if any(sums))
    return tuple(Tax(on=on, percent=p, of=of, amount=amount) for on, p, of, amount in changed)


def bill_of(paper: Paper, stage: int, number: str, day: str) -> Paper:
    """One stage of a quote or change order as a bill: its amount is the stage's, the taxes in it are shares
    of the paper's. Raises CoreError for a stage that is not there."""
    if not 0 <= stage < len(paper.stages):
        raise CoreError(f"there is no stage {stage + 1}", "stage")
    chosen = paper.stages[stage]
    percents = [s.percent for s in paper.stages]
    taxes = [
        Tax(on=t.on, percent=t.percent, of=_parts(t.of, percents)[stage],
            amount=_parts(t.amount, percents)[stage])
        for t in paper.taxes
    ]  # fmt: skip
    net = chosen.amount - sum((t.amount for t in taxes), NOTHING)
    line = Line(id="stage", title=chosen.title, goods=net, hours=0.0, work=NOTHING)
    return paper.model_copy(update={
        "kind": "bill", "lines": (line,), "overhead": NOTHING, "overhead_percent": NOTHING,
        "taxes": tuple(taxes), "stages": (), "of": number, "day": day, "until": "",
    })  # fmt: skip


def days_of(hours: float) -> float:
    """Days in the shop that hours at the boat take."""
    return hours / HOURS_A_DAY
