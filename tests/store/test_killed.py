"""Killing the web process or the database between changes loses nothing acknowledged."""

import contextlib
import json
import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from stirrup.demo.seed import FILES
from stirrup.server import session_secret
from stirrup.store.cluster import Cluster
from tests.store.servers import ROOT, Server, alive, begin, environment, postmaster, until


@pytest.mark.slow
def test_nothing_acknowledged_is_lost(begun: Path) -> None:
    server = Server(begun)
    number = server.change(1, 3.05)
    number = server.change(number, 3.07)

    # the web process dies at once: the database stays and is taken over
    server.kill(signal.SIGKILL)
    database = postmaster(begun)
    assert alive(database)
    server = Server(begun)
    assert postmaster(begun) == database
    assert server.state() == (number, 3.07)
    number = server.change(number, 3.09)

    # the database dies at once: the next start recovers it
    server.kill(signal.SIGKILL)
    os.kill(database, signal.SIGKILL)
    server = Server(begun)
    assert postmaster(begun) != database
    assert server.state() == (number, 3.09)

    # undo still works after both
    answer = server.client.post("/api/builds/1/undo", headers={"X-CSRF-Token": server.token})
    assert answer.status_code == 200
    assert server.state() == (number + 1, 3.07)

    # Ctrl-C stops everything
    database = postmaster(begun)
    server.kill(signal.SIGINT)
    assert until(lambda: not alive(database))


@pytest.mark.slow
@pytest.mark.parametrize("how", [signal.SIGTERM, signal.SIGHUP])
def test_being_asked_to_end_stops_the_database_too(begun: Path, how: signal.Signals) -> None:
    server = Server(begun, 8621)
    database = postmaster(begun)
    assert server.client.get("/b/1/panels.zip").status_code == 200
    server.process.send_signal(how)
    server.process.wait(30)
    # nothing that only the makers of a library would read is told on the way
    assert "INFO" not in (server.said + server.process.stdout.read())  # type: ignore[union-attr]
    server.kill(how)
    assert server.process.returncode == 0
    assert until(lambda: not alive(database))


@pytest.mark.slow
def test_a_database_that_dies_under_the_pages_comes_back_by_itself(begun: Path) -> None:
    server = Server(begun, 8631)
    number = server.change(1, 3.05)
    old = postmaster(begun)
    os.kill(old, signal.SIGKILL)
    seen: set[int] = set()

    def healed() -> bool:
        answer = server.ask(number, 3.07)
        seen.add(answer.status_code)
        if answer.status_code == 503:
            assert answer.headers["retry-after"] == "3"
            assert answer.headers["content-type"] == "application/problem+json"
        return answer.status_code == 200

    assert until(healed, 20)
    assert seen <= {200, 503}
    assert postmaster(begun) != old
    assert server.state() == (number + 1, 3.07)
    # a form keeps what was typed while the database is away
    os.kill(postmaster(begun), signal.SIGKILL)
    page = server.client.post(
        "/api/builds/1/entry", data={"csrf_token": server.token, "base": "2", "text": "3 ft 1",
                                     "path": "fittings/bow-deck/aft"}, headers={"Accept": "text/html"},
    )  # fmt: skip
    if page.status_code == 503:  # else it was back already
        assert "3 ft 1" in page.text and "Send it again" in page.text
    assert server.client.get("/favicon.ico").status_code == 204
    server.kill(signal.SIGINT)


@pytest.mark.slow
def test_a_database_that_is_frozen_is_noticed_and_waited_for(begun: Path) -> None:
    server = Server(begun, 8641)
    number = server.change(1, 3.05)
    database = postmaster(begun)
    children = Path(f"/proc/{database}/task/{database}/children").read_text().split()
    everybody = [database, *map(int, children)]
    for process in everybody:
        os.kill(process, signal.SIGSTOP)
    started = time.monotonic()
    answer = server.ask(number, 3.07)
    took = time.monotonic() - started
    assert answer.status_code == 503 and took < 20
    # from now on nobody waits
    started = time.monotonic()
    assert server.ask(number, 3.08).status_code == 503
    assert time.monotonic() - started < 2
    for process in everybody:
        with contextlib.suppress(ProcessLookupError):
            os.kill(process, signal.SIGCONT)
    assert until(lambda: server.client.get("/api/ready").status_code == 204, 15)
    assert server.state() in ((number, 3.05), (number + 1, 3.07))
    server.kill(signal.SIGINT)


@pytest.mark.slow
def test_a_copied_folder_has_a_database_of_its_own(begun: Path) -> None:
    server = Server(begun, 8651)
    number = server.change(1, 3.05)
    copy = Path(tempfile.mkdtemp(prefix="stirrup-copy-"))
    try:
        copy.chmod(0o755)
        subprocess.run(["cp", "-a", f"{begun}/.", copy], check=True)
        original = postmaster(begun)
        other = Server(copy, 8652)
        assert postmaster(copy) not in (original, 0)
        assert other.state() == (number, 3.05)
        other.change(number, 3.31)
        own = postmaster(copy)
        other.kill(signal.SIGINT)
        assert until(lambda: not alive(own))
        # the original knows nothing of it and goes on
        assert alive(original)
        assert server.state() == (number, 3.05)
        server.change(number, 3.07)
    finally:
        shutil.rmtree(copy, ignore_errors=True)
    server.kill(signal.SIGINT)


def test_of_starts_at_one_moment_all_sign_with_the_same_secret(tmp_path: Path) -> None:
    for round_ in range(40):
        begun = tmp_path / str(round_)
        together = threading.Barrier(6)

        def ask(begun: Path = begun, together: threading.Barrier = together) -> str:
            together.wait()
            return session_secret(begun)

        with ThreadPoolExecutor(6) as pool:
            answers = [x.result() for x in [pool.submit(ask) for _ in range(6)]]
        assert len(set(answers)) == 1 and len(answers[0]) >= 32
        assert [x.name for x in begun.iterdir()] == ["session-secret"]
        assert (begun / "session-secret").stat().st_mode & 0o777 == 0o600


@pytest.mark.slow
def test_two_first_starts_on_one_folder_seed_once_and_share(folder: Path) -> None:
    first, second = begin(folder, 8661), begin(folder, 8662)
    for process in (first, second):
        assert process.stdout is not None
        said = ""
        while "http://" not in said:
            said += (line := process.stdout.readline())
            assert line, said
    server = Server(folder, 8663)
    there = [server.client.get(f"/api/builds/{k}").status_code for k in range(1, 7)]
    boats = len(FILES)
    assert there == [200] * boats + [404] * (6 - boats)
    for process in (first, second):
        process.send_signal(signal.SIGTERM)
        process.wait(20)
        process.stdout.close()  # type: ignore[union-attr]
    # the last one still has its database
    server.change(1, 3.05)
    server.kill(signal.SIGINT)


@pytest.mark.slow
@pytest.mark.parametrize("after_s", [0.3, 0.9, 1.5])
def test_a_first_start_that_was_killed_leaves_nothing_in_the_way(folder: Path, after_s: float) -> None:
    process = begin(folder, 8671)
    time.sleep(after_s)
    process.kill()
    process.wait()
    process.stdout.close()  # type: ignore[union-attr]
    server = Server(folder, 8671)
    assert server.took_s < 20
    assert server.client.get("/b/1/layout").status_code == 200
    assert not list(folder.rglob("handover"))
    server.change(1, 3.05)
    server.kill(signal.SIGINT)


@pytest.mark.slow
def test_an_initdb_that_outlived_its_start_is_no_hindrance(folder: Path) -> None:
    """What a killed start began goes on writing for a while, into the folder that it was given."""
    making = folder / "cluster/making"
    making.mkdir(parents=True)
    writes = "while :; do mkdir -p making/postgres; echo x > making/postgres/$RANDOM; done"
    orphan = subprocess.Popen(["bash", "-c", writes], cwd=making.parent)
    try:
        cluster = Cluster(folder / "cluster", durable=False)
        cluster.start()
    finally:
        orphan.kill()
        orphan.wait()
    cluster.stop()
    # what was left meanwhile goes with the next start
    cluster.start()
    cluster.stop()
    assert not list((folder / "cluster").glob("making*"))


@pytest.mark.slow
def test_half_a_cluster_is_put_aside_and_said(folder: Path) -> None:
    half = folder / "cluster/postgres"
    half.mkdir(parents=True)
    (half / "PG_VERSION").write_text("15\n")
    server = Server(folder, 8681)
    assert "was no whole database" in server.said
    assert [p.name for p in (folder / "cluster").glob("postgres-unfinished-*/*")] == ["PG_VERSION"]
    server.kill(signal.SIGINT)


@pytest.mark.slow
def test_a_start_that_cannot_succeed_says_why_soon(begun: Path) -> None:
    server = Server(begun, 8691)
    server.kill(signal.SIGINT)
    (begun / "cluster/postgres/global/pg_control").write_bytes(b"x" * 8192)
    started = time.monotonic()
    found = subprocess.run(
        [sys.executable, "-m", "stirrup.server", "--demo", "--port", "8691"], env=environment(begun),
        capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip
    assert found.returncode == 1 and time.monotonic() - started < 20
    assert "could not start" in found.stderr and "./run restore" in found.stderr


@pytest.mark.slow
def test_a_taken_port_is_passed_over_and_said(begun: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 8701))
        taken.listen()
        server = Server(begun, 8701)
        assert "Port 8701 is taken" in server.said
        server.kill(signal.SIGINT)


@pytest.mark.parametrize("text", ["http", "70000", "-1", "²", "8470;x"])
def test_a_port_that_is_none_is_refused_in_words(text: str, tmp_path: Path) -> None:
    found = subprocess.run(
        [sys.executable, "-m", "stirrup.server"], cwd=ROOT, capture_output=True, text=True, check=False,
        env={**environment(tmp_path), "STIRRUP_PORT": text},
    )  # fmt: skip
    assert found.returncode == 2
    assert "accepted: 1 to 65535" in found.stderr and "Traceback" not in found.stderr


@pytest.mark.slow
def test_many_rounds_of_killing_lose_nothing(begun: Path, rounds: int) -> None:
    """Web process, database, both, or the start itself, at moments drawn by a seed."""
    draw = random.Random(20261127)
    log = []
    acknowledged = (1, 0.0)
    for k in range(rounds):
        server = Server(begun, 8711)
        assert server.took_s < 20, server.said
        assert server.client.get("/b/1/layout").status_code == 200
        if k:
            assert server.state()[0] >= acknowledged[0]
        number = server.state()[0]
        for _ in range(draw.randint(1, 3)):
            value = round(draw.uniform(2.9, 3.3), 3)
            number = server.change(number, value)
            acknowledged = (number, value)
        how = draw.choice(("web", "database", "both", "start"))
        database = postmaster(begun)
        if how in ("database", "both"):
            os.kill(database, signal.SIGKILL)
        server.kill(signal.SIGKILL)
        if how == "start":
            half = begin(begun, 8711)
            time.sleep(draw.uniform(0.05, 2.5))
            half.kill()
            half.wait()
            half.stdout.close()  # type: ignore[union-attr]
        log.append((how, round(server.took_s, 2)))
    server = Server(begun, 8711)
    assert server.state() == acknowledged, json.dumps(log)
    server.kill(signal.SIGINT)
