"""Quotes, change orders and bills of a shop: given once, numbered without gaps, never changed."""

from __future__ import annotations

from typing import Any, Literal

from stirrup.core.errors import CoreError
from stirrup.core.quoting import Kind, Paper
from stirrup.core.record import dataclass
from stirrup.store.builds import NotThereError
from stirrup.store.models import DATABASE, PaperRow
from stirrup.store.session import reading, writing

State = Literal["given", "accepted", "declined"]
LETTER: dict[Kind, str] = {"quote": "Q", "change order": "C", "bill": "B"}
NUMBER_LOCK = 72003


@dataclass(frozen=True)
class Given:
    """A paper with its number, and how it stands. of: id of the paper that it belongs to; stage: which of
    that one's a bill is for, counted from 0."""

    id: int
    number: str
    paper: Paper
    state: State
    paid: bool = False
    of: int | None = None
    stage: int | None = None


def _given(row: Any) -> Given:
    number = f"{LETTER[row.kind]}-{row.number:04}"
    paper = Paper.model_validate_json(row.content["json"])
    return Given(row.id, number, paper, row.state, row.paid, row.of_id, row.stage)


@reading()
def papers(shop_id: int, build_id: int) -> list[Given]:
    """Everything that was given for a build, in order."""
    wanted = (PaperRow.shop == shop_id) & (PaperRow.build == build_id)
    return [_given(r) for r in PaperRow.select().where(wanted).order_by(PaperRow.id)]


@reading()
def paper(shop_id: int, build_id: int, paper_id: int) -> Given:
    """One paper. Raises NotThereError."""
    wanted = (PaperRow.shop == shop_id) & (PaperRow.build == build_id) & (PaperRow.id == paper_id)
    row = PaperRow.get_or_none(wanted)
    if row is None:
        raise NotThereError(f"there is no paper {paper_id} of this build")
    return _given(row)


@writing()
def give(
    shop_id: int, build_id: int, made: Paper, token: str, of: int | None = None, stage: int | None = None
) -> Given:
    """A paper gets the next number of its kind and is kept. The same token gives the same paper. Raises
    CoreError for a stage that has its bill already."""
    # one after the other, so that no number is left out and none is given twice
    DATABASE.obj.execute_sql("SELECT pg_advisory_xact_lock(%s, %s)", (NUMBER_LOCK, shop_id))
    again = PaperRow.get_or_none((PaperRow.build == build_id) & (PaperRow.token == token))
    if again is not None:
        return _given(again)
    if stage is not None and PaperRow.get_or_none((PaperRow.of == of) & (PaperRow.stage == stage)):
        raise CoreError("this stage has its bill already", "stage")
    here = (PaperRow.shop == shop_id) & (PaperRow.kind == made.kind)
    last = PaperRow.select(PaperRow.number).where(here).order_by(PaperRow.number.desc()).first()
    row = PaperRow.create(
        shop=shop_id, build=build_id, kind=made.kind, number=last.number + 1 if last else 1, of=of,
        stage=stage, content={"json": made.model_dump_json()}, token=token,
    )  # fmt: skip
    return _given(row)


@writing()
def set_state(shop_id: int, build_id: int, paper_id: int, state: State) -> None:
    """A paper is accepted or declined, once. Raises CoreError where somebody said so before."""
    here = (PaperRow.shop == shop_id) & (PaperRow.build == build_id) & (PaperRow.id == paper_id)
    if not PaperRow.update(state=state).where(here & (PaperRow.state == "given")).execute():
        known = paper(shop_id, build_id, paper_id)
        if known.state != state:
            raise CoreError(f"{known.number} is {known.state} already", "state")


@writing()
def set_paid(shop_id: int, build_id: int, paper_id: int, paid: bool) -> None:
    """A bill is paid, or was not after all."""
    here = (PaperRow.shop == shop_id) & (PaperRow.build == build_id) & (PaperRow.id == paper_id)
    PaperRow.update(paid=paid).where(here & (PaperRow.kind == "bill")).execute()


def accepted(given: list[Given], quote: Given) -> list[Paper]:
    """A quote and the change orders to it that were accepted."""
    orders = [g.paper for g in given if g.of == quote.id and g.paper.kind == "change order"
              and g.state == "accepted"]  # fmt: skip
    return [quote.paper, *orders]


def quote_in_force(given: list[Given]) -> Given | None:
    """The quote that was accepted last."""
    return next((g for g in reversed(given) if g.paper.kind == "quote" and g.state == "accepted"), None)


def in_force(given: list[Given]) -> list[Paper]:
    """What is agreed: the quote that was accepted last, and its change orders; nothing before that."""
    quote = quote_in_force(given)
    return accepted(given, quote) if quote is not None else []
