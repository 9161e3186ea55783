"""Work that no request waits for: jobs in the database, done by any number of workers.

A job is put in by the same transaction that stores why it is needed. What a killed worker had in
hand is taken up by another once the dead one has been silent for SILENT_S seconds.
"""

from __future__ import annotations

from collections.abc import Iterable

import procrastinate

from stirrup.core.cutting.jobs import Job, Layouts
from stirrup.core.cutting.jobs import at_once as work_out_now
from stirrup.core.cutting.sheets import SheetJob
from stirrup.store import layouts, printed
from stirrup.store.models import DATABASE
from stirrup.store.session import writing

LAYOUTS, PAGES = "layouts", "pages"
BEAT_S, SILENT_S = 2.0, 8.0

# told by no connection of its own: what is put in goes along on the store's
QUEUE = procrastinate.App(connector=procrastinate.SyncPsycopgConnector())


class _Staff:
    """Whether workers are there: without them whoever asks works a layout out himself."""

    there = False


STAFF = _Staff()


@QUEUE.task(name="lay_out", queue=LAYOUTS, retry=3)
def lay_out(shop_id: int, digest: str) -> None:
    """Work out one layout, unless it is known or nobody wants it any more."""
    layouts.work_out(shop_id, digest)


@QUEUE.task(name="set_page", queue=PAGES, retry=3)
def set_page(print_id: int) -> None:
    """Set one page as PDF, unless that is done."""
    printed.set_page(print_id)


def to_print(shop_id: int, name: str, html: str) -> int:
    """Have a page set as PDF: the same page once, whoever asks. Its id; set at once where nobody works
    beside the web."""
    with writing():
        print_id, new = printed.ask(shop_id, name, html)
        if new and STAFF.there:
            # one after the other: setting a book takes some hundred megabytes
            job = set_page.configure(lock="page", connection=DATABASE.connection())
            job.defer(print_id=print_id)
    if new and not STAFF.there:
        printed.set_page(print_id)
    return print_id


def sources(shop_id: int) -> Layouts:
    """Where a shop's pages take their layouts from."""
    return layouts.looked_up(shop_id) if STAFF.there else work_out_now


@writing()
def want(shop_id: int, build_id: int | None, jobs: Iterable[Job]) -> None:
    """Have layouts worked out: each job once, whoever asks."""
    connection = DATABASE.connection()
    for job in jobs:
        digest = layouts.ask(shop_id, build_id, job)
        if digest:
            # one after the other for one stock of one build: the next may make it needless
            lock = f"{shop_id}/{build_id}/{job.stock}"
            if isinstance(job, SheetJob) and job.usual is not job:
                # long ones one by one, so that there is room beside them for what everybody waits for
                lock = "search"
            lay_out.configure(lock=lock, connection=connection).defer(shop_id=shop_id, digest=digest)
