"""What others do to the same boat, told as it happens (server-sent events)."""

from __future__ import annotations

import asyncio
import contextlib
import json
from collections import defaultdict
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response, StreamingResponse

from stirrup.core.record import dataclass
from stirrup.store import builds
from stirrup.store.session import StoreAwayError
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import live_notes, viewer

router = APIRouter(route_class=GateRoute)

LOOK_S = 0.2  # between looks whether to go on, and whether a note has come
SELDOM = 50  # of them between looks at the store without a note
STILL_HERE = 75  # looks after which a line is sent that says nothing, so that nobody hangs up
# windows that watch a build, in this process, by the names that they were given
WATCHING: defaultdict[int, list[str]] = defaultdict(list)


def _latest(build_id: int) -> tuple[int, str, str]:
    return builds.latest(viewer().shop_id, build_id)


def others(build_id: int, own: str) -> list[str]:
    """Names of other people who look at a build; windows without a name are only counted."""
    return sorted({name for name in WATCHING[build_id] if name and name != own})


@dataclass(frozen=True)
class _Look:
    """What tells whether there may be something new: notes from other processes, who is here."""

    notes: int
    here: tuple[str, ...]


def _look(request: Request, build_id: int) -> _Look:
    return _Look(live_notes(request, f"build {build_id}", "layouts"), tuple(WATCHING[build_id]))


async def _state(request: Request, build_id: int, own: str) -> dict[str, object]:
    number, words, author = await run_in_threadpool(_latest, build_id)
    return {
        "number": number, "words": words, "author": author, "here": len(WATCHING[build_id]),
        "others": others(build_id, own), "laid": live_notes(request, "layouts"),
    }  # fmt: skip


async def _told(request: Request, build_id: int, own: str) -> AsyncIterator[str]:
    """An event for each new revision and layout, and whenever somebody comes or goes."""
    stopping = getattr(request.app.state, "stopping", lambda: False)
    last, seen, looks = None, None, 0
    WATCHING[build_id].append(own)
    try:
        yield "retry: 1000\n\n"
        while not stopping() and not await request.is_disconnected():
            look = _look(request, build_id)
            # a note tells that there is something; by the clock only what no note told
            if look != seen or looks % SELDOM == 0:
                # while the database is away there is nothing to tell; it comes back
                with contextlib.suppress(StoreAwayError):
                    state = await _state(request, build_id, own)
                    seen = look
                    if state != last:
                        last = state
                        yield f"event: state\ndata: {json.dumps(state)}\n\n"
            if looks % STILL_HERE == STILL_HERE - 1:
                yield ": still here\n\n"
            looks += 1
            await asyncio.sleep(LOOK_S)
    finally:
        WATCHING[build_id].remove(own)


@router.get("/api/builds/{build_id}/events", name="events", include_in_schema=False)
async def events(request: Request, build_id: int) -> StreamingResponse:
    """Revisions and windows of a build as they come. Raises NotThereError before the first."""
    with contextlib.suppress(StoreAwayError):
        await run_in_threadpool(_latest, build_id)
    own = str(request.session.get("name", ""))
    return StreamingResponse(_told(request, build_id, own), media_type="text/event-stream")


@router.get("/api/ready", name="ready", include_in_schema=False)
def ready() -> Response:
    """Whether the database answers: 204, or a problem with 503."""
    viewer()
    return Response(status_code=204)
