"""Work of a second or more that tells how far it is: a line of JSON now and then, and the last one where to
go, or what was wrong."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Callable

from fastapi.concurrency import run_in_threadpool

from stirrup.core.errors import CoreError

LINES = "application/x-ndjson"
Told = Callable[[int, int], None]  # how much is done, of how much


async def told_lines(work: Callable[[Told], str]) -> AsyncIterator[str]:
    """Lines while work goes on; work: returns where to go next. It is done also where nobody listens any
    more, and in one piece."""
    loop, heard = asyncio.get_running_loop(), asyncio.Queue[dict[str, int] | None]()

    def told(done: int, of: int) -> None:
        loop.call_soon_threadsafe(heard.put_nowait, {"done": done, "of": of})

    task = asyncio.ensure_future(run_in_threadpool(work, told))
    task.add_done_callback(lambda _: heard.put_nowait(None))
    while (line := await heard.get()) is not None:
        yield json.dumps(line) + "\n"
    try:
        yield json.dumps({"to": await task}) + "\n"
    except CoreError as error:
        yield json.dumps({"problem": error.message}) + "\n"
