"""Layouts in the database: asked once, worked out by whoever is there, dropped when needless."""

import os
import subprocess
import sys
import time
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from stirrup.core.cutting.sheets import Blank, SheetJob, faults, lay_out
from stirrup.core.cutting.sticks import Piece, StickJob, lay_out_sticks
from stirrup.store import layouts
from stirrup.store.models import Layout, now
from stirrup.store.notes import Ear
from stirrup.store.queue import want
from stirrup.store.shop import the_shop
from stirrup.store.staff import Worker
from tests.store.servers import ROOT, until


def job_of(width: float, stock: str = "al-2.0", price: str = "80") -> SheetJob:
    """Three rectangles of a width that makes the job its own."""
    ring = ((0.0, 0.0), (width, 0.0), (width, 0.4), (0.0, 0.4))
    blanks = tuple(Blank(f"p{k}", f"P{k}", ring, rotations=(0, 90)) for k in range(3))
    return SheetJob(stock, 2.44, 1.22, blanks, Decimal(price))


def jobs_in(store) -> list[tuple[int, str]]:
    """Shop and digest of what waits in the queue, first things first."""
    rows = store.execute_sql(
        "SELECT args->>'shop_id', args->>'digest' FROM procrastinate_jobs WHERE status = 'todo' ORDER BY id"
    )
    return [(int(shop), digest) for shop, digest in rows.fetchall()]


@pytest.fixture
def shop(store) -> int:
    return the_shop().id


def test_a_job_is_put_in_once_whoever_asks(store, shop) -> None:
    job = job_of(0.5)
    want(shop, None, [job])
    want(shop, None, [job, job])
    assert jobs_in(store).count((shop, layouts.digest_of(job))) == 1
    assert layouts.known(shop, job) is None


def test_a_worked_out_layout_is_the_one_of_the_core_and_lasts(store, shop) -> None:
    job = job_of(0.6)
    want(shop, None, [job])
    layouts.work_out(shop, layouts.digest_of(job))
    assert layouts.known(shop, job) == lay_out(job)
    # three of 0.6 x 0.4 on one sheet of 2.44 x 1.22
    assert len(layouts.known(shop, job).sheets) == 1
    before = len(jobs_in(store))
    want(shop, None, [job])
    assert len(jobs_in(store)) == before


def test_sticks_are_worked_out_like_sheets(store, shop) -> None:
    pieces = tuple(Piece(f"p{k}", v) for k, v in enumerate([0.4] * 3 + [0.3] * 6))
    job = StickJob("angle", 1.0, pieces, Decimal(39), kerf=0.0, trim=0.0)
    want(shop, None, [job])
    assert layouts.known(shop, job) is None
    layouts.work_out(shop, layouts.digest_of(job))
    found = layouts.known(shop, job)
    # three bars of 4 3 3: first fit takes four
    assert found == lay_out_sticks(job) and (len(found.bars), found.settled) == (3, True)
    assert layouts.digest_of(replace(job, kerf=0.003)) != layouts.digest_of(job)


def test_another_price_is_the_same_layout_at_that_price(store, shop) -> None:
    cheap, dear = job_of(0.61, price="80"), job_of(0.61, price="95.50")
    want(shop, None, [cheap])
    layouts.work_out(shop, layouts.digest_of(cheap))
    assert layouts.known(shop, dear).cost == Decimal("95.50")


@pytest.mark.parametrize("change", [{"width": 3.0}, {"kerf": 0.004}, {"margin": 0.01}, {"stock": "al-2.5"}])
def test_anything_else_is_another_job(change) -> None:
    job = job_of(0.62)
    assert layouts.digest_of(replace(job, **change)) != layouts.digest_of(job)


def test_a_later_wish_for_the_same_stock_makes_an_earlier_one_needless(store, shop, app) -> None:
    from stirrup.store import builds
    from tests.boats import skiff_plan

    build = builds.create(shop, skiff_plan(), "made").id
    first, second = job_of(0.63), job_of(0.64)
    want(shop, build, [first])
    want(shop, build, [second])
    layouts.work_out(shop, layouts.digest_of(first))
    assert layouts.known(shop, first) is None
    layouts.work_out(shop, layouts.digest_of(second))
    assert layouts.known(shop, second) == lay_out(second)
    # who still wants it asks again, and gets it
    want(shop, build, [first])
    layouts.work_out(shop, layouts.digest_of(first))
    assert layouts.known(shop, first) == lay_out(first)


def test_another_stock_or_build_is_no_later_wish(store, shop) -> None:
    first, second = job_of(0.65), job_of(0.65, stock="al-2.5")
    want(shop, None, [first])
    want(shop, None, [second])
    layouts.work_out(shop, layouts.digest_of(first))
    assert layouts.known(shop, first) is not None


def test_where_no_worker_comes_whoever_asks_works_it_out_himself(store, shop) -> None:
    job = job_of(0.66)
    want(shop, None, [job])
    assert layouts.known(shop, job) is None
    Layout.update(asked=now() - layouts.PATIENCE - timedelta(seconds=1)).execute()
    assert layouts.known(shop, job) == lay_out(job)
    # and it is kept: the next one need not
    assert Layout.get(Layout.digest == layouts.digest_of(job)).result is not None


def test_only_the_newest_are_kept(store, shop, monkeypatch) -> None:
    monkeypatch.setattr(layouts, "MOST_KEPT", 2)
    jobs = [job_of(0.68 + k / 1000, stock=f"al-{k}") for k in range(5)]
    for job in jobs:
        want(shop, None, [job])
        layouts.work_out(shop, layouts.digest_of(job))
    assert [layouts.known(shop, j) is not None for j in jobs] == [False, False, True, True, True]


def many(width: float, work: int) -> SheetJob:
    """Twenty parts of which one goes on a sheet, though three would by their area: a search goes on as long
    as it may."""
    ring = ((0.0, 0.0), (1.25 + width / 100, 0.0), (1.25 + width / 100, 0.65), (0.0, 0.65))
    blanks = tuple(Blank(f"p{k}", f"P{k}", ring, (), (0, 180)) for k in range(20))
    return SheetJob("al-2.0", 2.44, 1.22, blanks, Decimal(80), work=work)


def test_a_longer_search_is_a_job_of_its_own_and_never_worse(store, shop) -> None:
    usual, longer = many(0.5, 100), many(0.5, 1000)
    assert longer.usual == usual and layouts.digest_of(usual) != layouts.digest_of(longer)
    want(shop, None, [longer])
    # nobody works it out in a request, however late the worker is
    Layout.update(asked=now() - layouts.PATIENCE - timedelta(seconds=1)).execute()
    assert layouts.known(shop, longer) is None and layouts.found_or_made(shop)(longer) is None
    assert layouts.progress(shop, longer) == 0.0
    layouts.work_out(shop, layouts.digest_of(longer))
    found = layouts.known(shop, longer)
    assert found is not None and found.bought <= lay_out(usual).bought
    assert layouts.progress(shop, longer) is None


def test_a_job_that_is_gone_is_no_error(store, shop) -> None:
    layouts.work_out(shop, "0" * 64)


def test_what_a_killed_worker_had_in_hand_is_done_by_another(app, database_url) -> None:
    """Its job stays "doing" with a heart that beats no more: the next worker takes it up."""
    job = job_of(0.67)
    with app.state.database.connection_context():
        shop = the_shop().id
        want(shop, None, [job])
        dead = app.state.database.execute_sql(
            "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (now() - interval '1 minute')"
            " RETURNING id"
        ).fetchone()[0]
        app.state.database.execute_sql(
            "UPDATE procrastinate_jobs SET status = 'doing', worker_id = %s WHERE args->>'digest' = %s",
            (dead, layouts.digest_of(job)),
        )
    worker = subprocess.Popen(
        [sys.executable, "-m", "stirrup.worker"], stdin=subprocess.PIPE,
        env={**os.environ, "STIRRUP_DATABASE_URL": database_url, "PYTHONPATH": str(ROOT)},
    )  # fmt: skip
    try:
        assert until(lambda: layouts.known(shop, job) == lay_out(job), 30)
        # it ends when who started it has gone
        worker.stdin.close()
        assert worker.wait(10) is not None
    finally:
        worker.kill()
        worker.wait()


@pytest.mark.slow
def test_a_search_tells_how_far_it_is_and_stops_with_the_best_so_far(app, database_url) -> None:
    """In a worker of its own: how far it is soon after it began, stopped within two seconds, and beside it
    another layout is worked out as if there were no search."""
    job, beside = many(0.52, 5000), job_of(0.671)
    with app.state.database.connection_context():
        shop = the_shop().id
    worker = subprocess.Popen(
        [sys.executable, "-m", "stirrup.worker"], stdin=subprocess.PIPE,
        env={**os.environ, "STIRRUP_DATABASE_URL": database_url, "PYTHONPATH": str(ROOT)},
    )  # fmt: skip
    try:
        want(shop, None, [job])
        assert until(lambda: (layouts.progress(shop, job) or 0.0) > 0.0, 30)
        assert 0.0 < (layouts.progress(shop, job) or 0.0) < 1.0
        want(shop, None, [beside])
        assert until(lambda: layouts.known(shop, beside) is not None, 5)
        assert layouts.progress(shop, job) is not None
        told = time.monotonic()
        layouts.stop(shop, job)
        assert until(lambda: layouts.known(shop, job) is not None, 5)
        assert time.monotonic() - told < 2.0
        found = layouts.known(shop, job)
        assert found is not None and not found.unplaced and faults(found) == []
    finally:
        worker.kill()
        worker.wait()


@pytest.mark.slow
def test_two_workers_share_what_there_is_and_do_each_job_once(app, database_url) -> None:
    """Twelve jobs, two workers: all done, and told as often as there were jobs."""
    jobs = [job_of(0.7 + k / 1000, stock=f"al-{k}") for k in range(12)]
    with app.state.database.connection_context():
        shop = the_shop().id
    ear = Ear(lambda: database_url)
    ear.start()
    assert until(lambda: ear.count() > 0)
    before = ear.count("layouts")
    workers = [
        subprocess.Popen(
            [sys.executable, "-m", "stirrup.worker"], stdin=subprocess.PIPE,
            env={**os.environ, "STIRRUP_DATABASE_URL": database_url, "PYTHONPATH": str(ROOT)},
        )
        for _ in range(2)
    ]  # fmt: skip
    try:
        want(shop, None, jobs)
        assert until(lambda: all(layouts.known(shop, j) for j in jobs), 40)
        time.sleep(1.5)
        assert ear.count("layouts") - before == len(jobs)
    finally:
        ear.end()
        for worker in workers:
            worker.kill()
            worker.wait()


@pytest.mark.slow
def test_a_worker_that_is_killed_is_started_again_and_ends_when_told(app, database_url) -> None:
    keeper = Worker(lambda: database_url)
    keeper.start()
    assert until(lambda: keeper.process is not None)
    first = keeper.process
    first.kill()
    assert until(lambda: keeper.process is not first, 15)
    job = job_of(0.69)
    with app.state.database.connection_context():
        shop = the_shop().id
    want(shop, None, [job])
    assert until(lambda: layouts.known(shop, job) is not None, 30)
    keeper.end()
    assert keeper.process.poll() is not None
