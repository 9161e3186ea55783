"""Layouts by what is cut: known, wanted, or being worked out. The price does not matter to them."""

from __future__ import annotations

import hashlib
import time
from datetime import timedelta
from functools import partial
from typing import Any

from peewee import fn
from pydantic import TypeAdapter

from stirrup.core.cutting import jobs
from stirrup.core.cutting.jobs import Job, Layouts
from stirrup.core.cutting.sheets import Placement, SheetJob, SheetLayout, Told
from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.memo import Memo
from stirrup.store.models import Layout, now
from stirrup.store.notes import tell
from stirrup.store.session import reading, writing

PATIENCE = timedelta(seconds=20)  # so long a request goes on with an estimate; then it works itself
TOLD_S = 0.25  # between two times that a search tells how far it is
MOST_KEPT = 1000  # layouts of a shop, the newest; about ten kilobytes each
JOB: TypeAdapter[Job] = TypeAdapter(Job)
SHEETS = TypeAdapter(tuple[tuple[Placement, ...], ...])
BARS = TypeAdapter(tuple[tuple[str, ...], ...])
DIGESTS = Memo(400, common=True)


def digest_of(job: Job) -> str:
    """What tells a job from all others but its price."""
    plain = partial(JOB.dump_json, job, exclude={"price"})
    return DIGESTS.get(job, lambda: hashlib.sha256(plain()).hexdigest())


def known(shop_id: int, job: Job) -> jobs.Layout | None:
    """The layout of a job, if it has been worked out; by oneself where no worker came for long."""
    row = _row(shop_id, digest_of(job))
    if row is None:
        return None
    if row.result is not None:
        return _told(job, row.result)
    if now() - row.asked <= PATIENCE or _searches(job):
        return None
    # no connection is held meanwhile, and nobody need do it again
    keep(shop_id, row.digest, found := jobs.work_out(job))
    return found


def _told(job: Job, result: dict[str, Any]) -> jobs.Layout:
    """A layout as it is stored."""
    unplaced = tuple(result["unplaced"])
    if isinstance(job, SheetJob):
        return SheetLayout(job, SHEETS.validate_python(result["sheets"]), unplaced, on=tuple(result["on"]))
    bars = BARS.validate_python(result["bars"])
    return StickLayout(job, bars, result["bound"], result["proven"], unplaced, on=tuple(result["on"]))


def _telling(layout: jobs.Layout) -> dict[str, Any]:
    """What is stored of a layout."""
    if isinstance(layout, SheetLayout):
        told = {"sheets": SHEETS.dump_python(layout.sheets, mode="json")}
    else:
        told = {"bars": layout.bars, "bound": layout.bound, "proven": layout.proven}
    return {**told, "unplaced": list(layout.unplaced), "on": list(layout.on)}


def looked_up(shop_id: int) -> Layouts:
    """Where a shop's pages take their layouts from."""
    return partial(known, shop_id)


@writing()
def ask(shop_id: int, build_id: int | None, job: Job) -> str:
    """Note that a layout is wanted; its digest when nobody asked before, else empty."""
    digest = digest_of(job)
    new = (
        Layout.insert(
            shop=shop_id, build=build_id, digest=digest, stock=job.stock,
            job=JOB.dump_python(job, mode="json"),
        )
        .on_conflict_ignore()
        .returning(Layout.id)
        .execute()
    )  # fmt: skip
    return digest if list(new) else ""


def work_out(shop_id: int, digest: str) -> None:
    """Work a layout out and tell those who wait. One that a later wish of the same build and stock has
    made needless is dropped: who still wants it asks again."""
    job = _wanted(shop_id, digest)
    if job is not None:
        keep(shop_id, digest, jobs.work_out(job, _teller(shop_id, digest) if _searches(job) else None))


def _teller(shop_id: int, digest: str) -> Told:
    """Notes how far a search is, now and then, and whether it is to stop."""
    last = time.monotonic()

    def told(share: float) -> bool:
        nonlocal last
        if time.monotonic() - last < TOLD_S:
            return False
        last = time.monotonic()
        return _told_far(shop_id, digest, share)

    return told


def _searches(job: Job) -> bool:
    """Whether somebody asked for more than the usual search."""
    return isinstance(job, SheetJob) and job.usual is not job


@writing()
def _told_far(shop_id: int, digest: str, share: float) -> bool:
    """Note how far a search is; whether it is to stop: somebody said so, or nobody wants it any more."""
    where = (Layout.shop == shop_id) & (Layout.digest == digest)
    Layout.update(progress=share).where(where).execute()
    row = Layout.get_or_none(where)
    return row is None or bool(row.stop)


def progress(shop_id: int, job: Job) -> float | None:
    """How far the search for a job is, from 0 to 1; None where none goes on."""
    row = _row(shop_id, digest_of(job))
    return None if row is None or row.result is not None else float(row.progress)


@writing()
def stop(shop_id: int, job: Job) -> None:
    """Have a search end with what is best so far."""
    Layout.update(stop=True).where(
        (Layout.shop == shop_id) & (Layout.digest == digest_of(job)) & Layout.result.is_null()
    ).execute()  # fmt: skip


def found_or_made(shop_id: int) -> Layouts:
    """Layouts for what is cut by: those that are known, else worked out here with the usual search."""

    def find(job: Job) -> jobs.Layout | None:
        row = _row(shop_id, digest_of(job))
        if row is not None and row.result is not None:
            return _told(job, row.result)
        return None if _searches(job) else jobs.work_out(job)

    return find


@writing()
def _wanted(shop_id: int, digest: str) -> Job | None:
    row = _row(shop_id, digest)
    if row is None or row.result is not None:
        return None
    later = Layout.select().where(
        (Layout.shop == shop_id) & (Layout.build == row.build_id) & (Layout.stock == row.stock)
        & (Layout.id > row.id) & Layout.result.is_null()
    )  # fmt: skip
    if row.build_id is not None and later.exists():
        row.delete_instance()
        return None
    return JOB.validate_python(row.job)


@writing()
def keep(shop_id: int, digest: str, layout: jobs.Layout) -> None:
    """Store a result and tell it."""
    Layout.update(result=_telling(layout), done=now()).where(
        (Layout.shop == shop_id) & (Layout.digest == digest)
    ).execute()  # fmt: skip
    newest = Layout.select(fn.MAX(Layout.id)).where(Layout.shop == shop_id).scalar() or 0
    Layout.delete().where((Layout.shop == shop_id) & (Layout.id < newest - MOST_KEPT)).execute()
    tell("layouts")


@reading()
def _row(shop_id: int, digest: str) -> Any:
    return Layout.get_or_none((Layout.shop == shop_id) & (Layout.digest == digest))
