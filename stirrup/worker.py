"""A worker: takes jobs from the queue, one at a time, until it is told to end or its parent has gone.

`python -m stirrup.worker`, with the database in STIRRUP_DATABASE_URL; any number may run.
"""

from __future__ import annotations

import asyncio
import logging
import os
import sys
import threading

import procrastinate

from stirrup.store.database import connect
from stirrup.store.queue import BEAT_S, LAYOUTS, PAGES, QUEUE, SILENT_S
from stirrup.store.staff import end_with_parent

LOG = logging.getLogger("stirrup")
CONNECTIONS = 4


async def _taken_up(app: procrastinate.App) -> None:
    """Jobs of workers that are silent go back into the queue."""
    while True:
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=SILENT_S):
            LOG.warning("job %s was left by a worker that has gone; it is done again", job.id)
            await app.job_manager.retry_job(job)
        await asyncio.sleep(BEAT_S)


async def _work(url: str) -> None:
    connector = procrastinate.PsycopgConnector(conninfo=url, min_size=1, max_size=CONNECTIONS)
    with QUEUE.replace_connector(connector) as app:
        async with app.open_async():
            await _until_told(app)


async def _until_told(app: procrastinate.App) -> None:
    beside = asyncio.create_task(_taken_up(app))
    try:
        await app.run_worker_async(
            queues=[LAYOUTS, PAGES], concurrency=2, delete_jobs="always", fetch_job_polling_interval=5.0,
            update_heartbeat_interval=BEAT_S, stalled_worker_timeout=SILENT_S,
            shutdown_graceful_timeout=1.0,
        )  # fmt: skip
    finally:
        beside.cancel()


def main() -> int:
    """Work until told to end; returns the exit code."""
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    url = os.environ["STIRRUP_DATABASE_URL"]
    connect(url, CONNECTIONS)
    threading.Thread(target=end_with_parent, daemon=True).start()
    asyncio.run(_work(url))
    return 0


if __name__ == "__main__":
    sys.exit(main())
