"""Several web processes behind one address: a build has a home, and any process may die."""

import os
import re
import signal
import socket
import threading
import time
from pathlib import Path

import httpx2 as httpx
import pytest

from stirrup import front
from tests.store.servers import Server, alive, postmaster, until

HAPROXY = pytest.mark.skipif(front.tool() is None, reason="Debian's package haproxy is not installed")


def below(pid: int) -> dict[int, str]:
    """Children of a process with their command lines."""
    out = {}
    for place in Path("/proc").glob("[0-9]*"):
        try:
            parent = int((place / "stat").read_text().rpartition(")")[2].split()[1])
            if parent == pid and alive(int(place.name)):
                out[int(place.name)] = (place / "cmdline").read_text().replace("\0", " ")
        except (FileNotFoundError, ProcessLookupError):
            continue
    return out


def homes(server: Server) -> list[int]:
    return [pid for pid, line in below(server.process.pid).items() if "stirrup.home" in line]


def ready(server: Server) -> bool:
    """Whether both take connections."""
    there = homes(server)
    for pid in there:
        told = Path(f"/proc/{pid}/environ").read_text()
        where = re.search(r"STIRRUP_SOCKET=([^\0]+)", told)
        with socket.socket(socket.AF_UNIX) as place:
            if where is None or place.connect_ex(where[1]):
                return False
    return len(there) == 2


@pytest.mark.slow
@HAPROXY
def test_what_is_acknowledged_outlives_any_process(folder: Path) -> None:
    server = Server(folder, 8641, "--processes", "2")
    assert until(lambda: len(homes(server)) == 2)
    number = server.change(1, 3.05)
    first = homes(server)
    # one home after the other dies: whoever is there answers, and another is started
    for victim, aft in zip(first, (3.07, 3.08), strict=True):
        os.kill(victim, signal.SIGKILL)

        def healed(value: float = aft) -> bool:
            nonlocal number
            try:
                answer = server.ask(number, value)
            except httpx.TransportError:
                return False
            if answer.status_code == 200:
                number = int(answer.json()["number"])
            return answer.status_code == 200

        assert until(healed, 3.0)
        assert server.state() == (number, aft)
        assert until(lambda: ready(server), 20)
        time.sleep(1.0)  # the proxy looks twice a second
    assert not set(first) & set(homes(server))
    # so does the proxy
    proxy = next(pid for pid, line in below(server.process.pid).items() if "haproxy" in line)
    os.kill(proxy, signal.SIGKILL)

    def told() -> bool:
        try:
            return server.state() == (number, 3.08)
        except httpx.TransportError:  # the connection that was open ended with it
            return False

    assert until(told, 10)
    # and the database, which comes back elsewhere: the homes follow it
    old = postmaster(folder)
    os.kill(old, signal.SIGKILL)

    def stored() -> bool:
        try:
            return server.ask(number, 3.11).status_code == 200
        except httpx.TransportError:
            return False

    assert until(stored, 25)
    database, children = postmaster(folder), below(server.process.pid)
    server.kill(signal.SIGTERM)
    assert server.process.returncode == 0
    assert until(lambda: not alive(database) and not any(alive(pid) for pid in children))


@pytest.mark.slow
@HAPROXY
def test_twenty_at_once_get_what_one_gets(folder: Path) -> None:
    server = Server(folder, 8651, "--processes", "2")
    ids = []
    for _ in range(4):
        answer = server.client.post("/b/1/copy", data={"csrf_token": server.token})
        ids.append(int(re.search(r"/b/(\d+)/", str(answer.headers.get("location", answer.url)))[1]))  # type: ignore[index]
    wanted = server.client.get("/b/1/file").json()["fittings"]
    seen: list[tuple[int, object]] = []

    def one(build: int) -> None:
        with httpx.Client(base_url=server.client.base_url, timeout=60) as client:
            answer = client.get(f"/b/{build}/file")
            seen.append((answer.status_code, answer.json()["fittings"]))

    threads = [threading.Thread(target=one, args=(ids[k % 4],)) for k in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert seen == [(200, wanted)] * 20
    # names are looked at as without a proxy, whatever is sent about the address
    for headers, status in (
        ({"Host": "elsewhere.example"}, 421),
        ({"Host": "10.1.2.3", "X-Stirrup-Address": "10.1.2.3"}, 421),
        ({"Host": "localhost"}, 200),
    ):
        assert server.client.get("/measure", headers=headers).status_code == status
    # the parent dies at once: nobody is left behind
    children = below(server.process.pid)
    server.kill(signal.SIGKILL)
    assert until(lambda: not any(alive(pid) for pid in children))


def test_a_build_has_one_home_whatever_is_asked_of_it() -> None:
    told = front.settings(7, [Path("/x/home1"), Path("/x/home2")])
    assert "bind fd@7" in told and told.count("server home") == 2
    assert "balance hash var(txn.build)" in told and "hash-type consistent" in told
    # fields of /b/7/layout are "", b, 7; of /api/builds/7/preview "", api, builds, 7
    assert "field(3,/) if { path_beg /b/ /builds/ }" in told
    assert "field(4,/) if { path_beg /api/builds/ }" in told


def test_as_many_as_cores_unless_told_otherwise(monkeypatch) -> None:
    monkeypatch.setattr(front.os, "cpu_count", lambda: 4)
    monkeypatch.setattr(front, "tool", lambda: "haproxy")
    assert front.processes(None) == 4 and front.processes(2) == 2
    assert front.processes(99) == front.MOST_PROCESSES and front.processes(-3) == 1
    monkeypatch.setattr(front, "tool", lambda: None)
    assert front.processes(4) == 1
