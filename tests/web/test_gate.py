"""What comes in: names that are not ours, text that nobody writes, crowds, sizes."""

import asyncio
import io
import json
import re
import resource
import socket
import threading
import time
import zipfile
from typing import Any

import pytest
import uvicorn
from fastapi.routing import APIRoute
from PIL import Image

from stirrup.core import memo
from stirrup.core.kinds.raised_deck import RaisedDeck
from stirrup.slow import PatientProtocol
from stirrup.store import builds
from stirrup.store.shop import the_shop
from stirrup.web import security
from stirrup.web.pages import files, photos
from tests.boats import DECK, HATCH, skiff_plan
from tests.web.conftest import make_build
from tests.web.hostile import Hostile, png, send


@pytest.fixture
def live(app: Any) -> Any:
    """Where the application listens on a real port."""
    place = socket.create_server(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(app, log_level="error", http=PatientProtocol))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [place]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield place.getsockname()[1]
    server.should_exit = True
    thread.join(5)


def raw(port: int, text: bytes) -> bytes:
    with socket.create_connection(("127.0.0.1", port), timeout=20) as line:
        line.sendall(text)
        return b"".join(iter(lambda: line.recv(65536), b""))


@pytest.mark.parametrize(
    ("hosts", "status"),
    [
        (["127.0.0.1"], 200), (["localhost:8470"], 200), (["[::1]:80"], 200), (["LOCALHOST."], 200),
        (["evil.example:8700"], 421), (["127.0.0.1.evil.example"], 421), (["10.0.0.7"], 421), ([""], 421),
        (["127.0.0.1", "evil.example"], 421), (["127.0.0.1", "127.0.0.1"], 421), (["127.0.0.1/x"], 421),
        (["user@127.0.0.1"], 421),
    ],
)  # fmt: skip
def test_only_names_of_ours_are_answered(live: int, hosts: list[str], status: int) -> None:
    head = "".join(f"Host: {h}\r\n" for h in hosts)
    answer = raw(live, f"GET /measure HTTP/1.1\r\n{head}Connection: close\r\n\r\n".encode())
    found = int(answer.split()[1])
    # the server itself refuses a doubled header before it gets to us
    assert found == status or (len(hosts) > 1 and found == 400)
    if status != 200:
        assert b"csrf" not in answer and b"set-cookie" not in answer.lower()


def test_without_a_name_nothing_is_answered(live: int) -> None:
    assert raw(live, b"GET /measure HTTP/1.0\r\n\r\n").split()[1] == b"421"


def test_the_address_that_somebody_came_in_at_and_configured_names_are_ours() -> None:
    def ours(host: str, here: str, names: frozenset[str] = frozenset()) -> bool:
        scope = {"headers": [(b"host", host.encode())], "server": (here, 80)}
        return security.Hosts(lambda *_: None, names)._ours(scope)  # type: ignore[arg-type, return-value]

    assert ours("192.168.1.20:8470", "192.168.1.20")
    assert not ours("192.168.1.20:8470", "192.168.1.21")
    assert not ours("evil.example", "evil.example")  # a name is never taken from the connection
    assert ours("garage.local", "192.168.1.20", frozenset({"garage.local"}))


def test_a_change_with_the_origin_of_a_rebound_name_is_refused(site, build) -> None:
    headers = {"Host": "evil.example:8470", "Origin": "http://evil.example:8470"}
    change = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": change}, **headers)
    assert answer.status_code == 421
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1


def test_who_only_listens_does_not_work_at_a_build(site, build) -> None:
    def asked() -> int:
        return memo._ASKED.get(str(build), 0)

    site.client.get(f"/b/{build}/layout")
    before = asked()
    site.client.head(f"/api/builds/{build}/events", headers={"accept": "text/event-stream"})
    assert asked() == before > 0
    site.client.get(f"/b/{build}/layout")
    assert asked() == before + 1


def test_head_is_get_without_its_body(site, build) -> None:
    for path in ("/", f"/b/{build}/layout", f"/b/{build}/file", "/favicon.ico"):
        head, get = site.client.head(path), site.client.get(path)
        assert (head.status_code, head.content) == (get.status_code, b"")
        assert head.headers.get("content-type") == get.headers.get("content-type")
    assert site.client.head(f"/api/builds/{build}/events").status_code == 200  # and ends


def test_a_head_that_never_ends_is_hung_up_on(live: int, monkeypatch) -> None:
    monkeypatch.setattr("stirrup.slow.HEAD_S", 0.4)
    with socket.create_connection(("127.0.0.1", live), timeout=5) as line:
        line.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-A: ")
        started = time.monotonic()
        assert line.recv(100) == b""
        assert 0.2 < time.monotonic() - started < 4
    # also after a request that was answered on the same line
    with socket.create_connection(("127.0.0.1", live), timeout=5) as line:
        line.sendall(b"GET /favicon.ico HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
        assert b"204" in line.recv(4000)
        line.sendall(b"GET /favicon.ico HTTP/1.1\r\n")
        assert line.recv(100) == b""


@pytest.mark.parametrize(
    "start",
    [
        b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-A: ",
        b"GET /",
        # behind a request that is being answered
        b"GET /favicon.ico HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\nGET / HTTP/1.1\r\nX-A: ",
        b"GET /favicon.ico HTTP/1.1\r\nHost: 127.0.0.1\r\nX-B: ",
    ],
)
def test_a_head_without_end_is_not_kept(live: int, start: bytes) -> None:
    with socket.create_connection(("127.0.0.1", live), timeout=5) as line:
        line.sendall(start)
        sent = 0
        with pytest.raises(OSError):  # hung up on
            while sent < 30_000_000:
                line.sendall(b"a" * 10_000)
                sent += 10_000
        assert sent < 5_000_000  # what both ends buffer


def test_a_large_body_is_no_head(live: int) -> None:
    body = b"name=" + b"a" * 500_000
    head = f"POST /units HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: {len(body)}\r\n"
    kind = "Content-Type: application/x-www-form-urlencoded\r\nConnection: close\r\n\r\n"
    answer = raw(live, head.encode() + kind.encode() + body)
    assert answer.startswith(b"HTTP/1.1 ") and int(answer.split()[1]) in (403, 413, 422)


def test_more_than_can_be_served_are_told_when_to_come_again(site, app) -> None:
    async def crowd() -> list[int]:
        statuses: list[int] = []
        gate = asyncio.Event()

        async def slow(scope: Any, receive: Any, send: Any) -> None:
            await gate.wait()
            await send({"type": "http.response.start", "status": 200, "headers": []})

        limited = security.Crowd(slow, 5)
        scope = {"type": "http", "method": "GET", "path": "/api/x", "headers": [], "query_string": b"",
                 "server": ("127.0.0.1", 80), "scheme": "http", "session": {}}  # fmt: skip

        async def one() -> None:
            async def keep(message: Any) -> None:
                if message["type"] == "http.response.start":
                    statuses.append(message["status"])
                    if message["status"] == 503:
                        assert (b"retry-after", b"3") in message["headers"]

            await limited(dict(scope), None, keep)  # type: ignore[arg-type]

        waiting = [asyncio.create_task(one()) for _ in range(12)]
        await asyncio.sleep(0.1)
        gate.set()
        await asyncio.gather(*waiting)
        assert limited.here == 0
        return statuses

    found: list[list[int]] = []
    thread = threading.Thread(target=lambda: found.append(asyncio.run(crowd())))
    thread.start()
    thread.join(10)
    assert sorted(found[0]) == [200] * 5 + [503] * 7


@pytest.mark.slow
def test_sixty_slow_pages_at_once_are_all_answered(site, app, build) -> None:
    """More than there are threads or connections: they wait, and none is turned away."""
    statuses: list[int] = []

    def ask(k: int) -> None:
        statuses.append(site.client.get(f"/b/{build}/float?case=x{k}").status_code)

    threads = [threading.Thread(target=ask, args=(k,)) for k in range(60)]
    for t in threads:
        t.start()
    for t in threads:
        t.join(60)
    assert statuses == [200] * 60
    database = app.state.database
    assert not database._in_use


def test_no_connection_is_held_while_a_page_is_computed(site, app, build, monkeypatch) -> None:
    from stirrup.web.pages import frame

    held: list[int] = []
    derive = frame.derive

    def looked(*args: Any, **kwargs: Any) -> Any:
        held.append(len(app.state.database._in_use))
        return derive(*args, **kwargs)

    monkeypatch.setattr(frame, "derive", looked)
    assert site.client.get(f"/b/{build}/layout").status_code == 200
    assert held == [0]


def test_a_preview_survives_a_change_between_number_and_plan(app, monkeypatch) -> None:
    build = make_build(app)
    # the number is read, then somebody else stores, then the plan is read
    real = builds.PLANS.get

    def between(key: Any, compute: Any) -> Any:
        monkeypatch.setattr(builds.PLANS, "get", real)
        change = builds.read_change({"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9})
        builds.commit(the_shop().id, build, 1, change, lambda *_: "moved", None)
        return compute()

    monkeypatch.setattr(builds.PLANS, "get", between)
    number, plan = builds.current(the_shop().id, build)
    assert number == 1
    assert plan.fittings[0].aft == DECK["aft"] == 3.0  # type: ignore[union-attr]


def test_a_base_that_is_not_there_yet_is_refused(site, build) -> None:
    change = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}
    answer = site.post(f"/api/builds/{build}/changes", {"base": 7, "change": change})
    assert answer.status_code == 422
    assert "from revision 7" in answer.json()["detail"] and "at 1" in answer.json()["detail"]
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1


@pytest.mark.parametrize("value", ["a\x00b", "x\ud800y"])
def test_text_that_is_none_is_refused_with_its_place(site, build, value) -> None:
    body = {"base": 1, "typed": {"path": "fittings/deck/name", "text": value}}
    headers = {"X-CSRF-Token": site.token, "Content-Type": "application/json"}
    answer = site.client.post(f"/api/builds/{build}/changes", content=json.dumps(body), headers=headers)
    assert answer.status_code == 422
    assert answer.json()["place"] == "typed.text" and "at place 2" in answer.json()["detail"]


def test_a_token_of_other_letters_is_refused_like_any_other(site, build) -> None:
    answer = site.client.post("/units", data={"system": "mm", "csrf_token": "täuschung²"})
    assert answer.status_code == 403


@pytest.mark.parametrize("text", ["x" * 401, "x" * 5000])
def test_a_form_field_longer_than_accepted_is_explained(site, build, text) -> None:
    answer = site.form(f"/api/builds/{build}/entry",
                       {"base": 1, "path": "fittings/deck/name", "text": text})  # fmt: skip
    assert answer.status_code == 422
    assert "at most 400 characters" in answer.text


def test_nobody_puts_words_into_our_mouth_by_an_address(site, build) -> None:
    page = site.client.get(f"/b/{build}/survey/condition?problem=Call+this+number")
    assert page.status_code == 200 and "Call this number" not in page.text


def small_jpeg(width: int, height: int, **more: Any) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 120, 40)).save(out, "JPEG", quality=20, **more)
    return out.getvalue()


def test_a_small_file_that_unfolds_into_a_huge_picture_is_refused_by_its_head(site, build) -> None:
    from stirrup.core.errors import CoreError

    for width, height in ((12_000, 8_000), (100_000, 100_000), (30_000, 10)):
        started = time.monotonic()
        with pytest.raises(CoreError, match=rf"has {width} x {height} points; accepted here: up to 16000"):
            photos.small_photo(png(width, height), "x.png")
        assert time.monotonic() - started < 0.5


def test_a_large_photo_is_read_at_a_fraction_of_its_size() -> None:
    # 108 million points, as telephones make them; unfolded whole that is 324 MB
    content = small_jpeg(12_000, 9_000)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    small = Image.open(io.BytesIO(photos.small_photo(content, "x.jpg")))
    assert small.size == (1600, 1200)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 150_000  # kB


def test_a_photo_taken_sideways_stands_upright_and_keeps_no_notes() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # turn by 90 degrees
    exif[0x010F] = "maker of the camera"
    small = Image.open(io.BytesIO(photos.small_photo(small_jpeg(400, 300, exif=exif), "x.jpg")))
    assert small.size == (300, 400)
    assert not small.getexif()


def test_panels_whose_names_differ_only_in_other_letters_are_all_in_the_archive(app, site) -> None:
    decks = [
        {
            **DECK,
            "id": f"d{k}",
            "mark": mark,
            "name": "Deck",
            "aft": 1.0 + k,
            "fore": 1.8 + k,
            "face": False,
        }
        for k, mark in enumerate(("Ö", "Ü", "ö"))
    ]
    build = make_build(app, skiff_plan(fittings=decks))
    got = site.client.get(f"/b/{build}/panels.zip")
    names = zipfile.ZipFile(io.BytesIO(got.content)).namelist()
    assert len(names) == len({n.casefold() for n in names}) == 3
    assert "Ö-S1.dxf" in names and "Ü-S1.dxf" in names


def test_two_panels_of_one_name_get_two_files() -> None:
    taken: set[str] = set()
    assert [files.apart(n, taken) for n in ("D1/S1", "D1 S1", "d1-s1", "²")] == [
        "D1-S1.dxf", "D1-S1-2.dxf", "d1-s1-3.dxf", "².dxf",
    ]  # fmt: skip


def test_a_mark_is_short() -> None:
    with pytest.raises(ValueError, match="at most 16"):
        RaisedDeck.model_validate({**DECK, "mark": "x" * 17})


def test_the_size_in_an_error_is_that_of_the_place(site, build) -> None:
    headers = {"content-length": "90000000", "content-type": "application/octet-stream"}
    for path, said in (("survey/photo", "25 MB"), ("survey/scan", "60 MB"), ("survey/check", "2 MB")):
        answer = site.client.post(f"/b/{build}/{path}", content=b"x", headers=headers)
        assert answer.status_code == 413 and f"up to {said}" in answer.text


def test_the_schema_describes_what_is_refused(site) -> None:
    schema = site.client.get("/api/openapi.json").json()
    told = schema["paths"]["/api/builds/{build_id}/changes"]["post"]["responses"]
    assert set(told) == {"200", "4XX", "503"}
    assert list(told["4XX"]["content"]) == ["application/problem+json"]


@pytest.fixture
def routes(app: Any) -> list[APIRoute]:
    found = [r for r in _all_routes(app.router.routes) if isinstance(r, APIRoute)]
    assert len(found) > 50
    return found


def _all_routes(listed: Any) -> Any:
    for route in listed:
        inner = getattr(getattr(route, "original_router", None), "routes", None)
        yield from _all_routes(inner) if inner is not None else (route,)


@pytest.mark.slow
def test_hostile_requests_over_every_route_break_nothing(app, site, routes, request) -> None:
    """10,000 with --long; each is drawn by a seed, so a failure can be sent again."""
    most = 10_000 if request.config.getoption("--long") else 400
    drawn = Hostile(20261127, routes, make_build(app, skiff_plan(fittings=[DECK, HATCH])))
    broken = []
    from fastapi.testclient import TestClient

    with TestClient(app, base_url="http://127.0.0.1:8470", raise_server_exceptions=False) as client:
        token = re.search(r'name="csrf" content="([^"]+)"', client.get("/measure").text)
        assert token
        for k in range(most):
            if k % 150 == 149:
                drawn.build = make_build(app, skiff_plan(fittings=[DECK, HATCH]))
            asked = drawn.next()
            answer = send(client, token[1], asked)
            if answer.status_code >= 500:
                broken.append((answer.status_code, asked))
    assert broken == []
