"""What others do to the same boat, told as it happens (server-sent events)."""

from __future__ import annotations

import asyncio
import json
from collections import Counter
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from stirrup.store import builds
from stirrup.web.pages.frame import viewer, within

router = APIRouter()

LOOK_S = 0.2  # between looks whether to go on
LOOKS = 4  # of them between looks at the store: a change is told within a second
STILL_HERE = 75  # looks after which a line is sent that says nothing, so that nobody hangs up
# windows that watch a build, in this process
WATCHING: Counter[int] = Counter()


def _latest(build_id: int) -> tuple[int, str]:
    return builds.latest(viewer().shop_id, build_id)


async def _told(request: Request, build_id: int) -> AsyncIterator[str]:
    """An event for each new revision and whenever somebody comes or goes."""
    stopping = getattr(request.app.state, "stopping", lambda: False)
    ask = within(_latest, False)
    last, looks = None, 0
    WATCHING[build_id] += 1
    try:
        yield "retry: 1000\n\n"
        while not stopping() and not await request.is_disconnected():
            if looks % LOOKS == 0:
                number, words = await run_in_threadpool(ask, build_id)
                state = {"number": number, "words": words, "here": WATCHING[build_id]}
                if state != last:
                    last = state
                    yield f"event: state\ndata: {json.dumps(state)}\n\n"
            if looks % STILL_HERE == STILL_HERE - 1:
                yield ": still here\n\n"
            looks += 1
            await asyncio.sleep(LOOK_S)
    finally:
        WATCHING[build_id] -= 1


@router.get("/api/builds/{build_id}/events", name="events", include_in_schema=False)
async def events(request: Request, build_id: int) -> StreamingResponse:
    """Revisions and windows of a build as they come. Raises NotThereError before the first."""
    await run_in_threadpool(within(_latest, False), build_id)
    return StreamingResponse(_told(request, build_id), media_type="text/event-stream")
