"""`./run demo` and `./run serve`: database, then the web process, until Ctrl-C."""

from __future__ import annotations

import argparse
import contextlib
import errno
import logging
import os
import secrets
import signal
import socket
import sys
import tempfile
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from peewee import OperationalError

from stirrup.collector import loading, settle
from stirrup.front import processes
from stirrup.store.cluster import (
    Cluster,
    ClusterError,
    data_folder,
    ensure_database,
    write_private,
)
from stirrup.store.session import StoreAwayError

FIRST_PORT = 8470
WARM_AT_START = 3  # builds, those changed last
LOG = logging.getLogger("stirrup")


class Stopped(BaseException):
    """Somebody asked the program to end; everything on the way ends in order."""


def end_in_order(server: Any = None) -> None:
    """SIGTERM and SIGHUP (a closed terminal) stop as Ctrl-C does: the database stops too."""

    def asked(number: int, frame: object) -> None:
        if server is not None and server.started:
            server.should_exit = True
        else:
            raise Stopped

    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, asked)


@contextlib.contextmanager
def database(folder: Path) -> Iterator[tuple[str, Cluster | None]]:
    """URL of the database, and the private cluster in `folder` unless STIRRUP_DATABASE_URL is set."""
    given = os.environ.get("STIRRUP_DATABASE_URL")
    if given:
        yield given, None
        return
    cluster = Cluster(folder / "cluster")
    try:
        # the database comes up while the program's own modules load
        with ThreadPoolExecutor(1) as pool:
            starting = pool.submit(cluster.start)
            import stirrup.web.app  # noqa: F401

            port = starting.result()
        yield ensure_database(cluster, port, "stirrup"), cluster
    finally:
        cluster.stop()


def session_secret(folder: Path) -> str:
    """Key that signs the session cookie; kept, so that sessions outlive a restart."""
    path = folder / "session-secret"
    folder.mkdir(parents=True, exist_ok=True)
    if path.exists() and not path.read_text().strip():
        path.unlink()
    if not path.exists():
        write_private(path, secrets.token_urlsafe(32), over=False)
    return path.read_text().strip()


def listen(host: str, wanted: int) -> socket.socket:
    """A socket on the wanted port or the next free one above it; says so when it moves.

    It is held from here on, so that no other process takes it meanwhile. Raises OSError.
    """
    family = socket.getaddrinfo(host, wanted, type=socket.SOCK_STREAM)[0][0]
    for port in [*range(wanted, min(wanted + 100, 65536)), 0]:
        place = socket.socket(family, socket.SOCK_STREAM)
        place.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            place.bind((host, port))
            place.listen(512)
        except OSError as error:
            place.close()
            if error.errno != errno.EADDRINUSE:
                raise
            continue
        if place.getsockname()[1] != wanted:
            print(f"Port {wanted} is taken; using {place.getsockname()[1]}.", flush=True)
        return place
    raise OSError(errno.EADDRINUSE, "no port is free")


def port_number(text: str) -> int:
    """A port from an option or STIRRUP_PORT. Raises ArgumentTypeError."""
    if not (text.isascii() and text.isdigit() and len(text) < 6 and 1 <= int(text) <= 65535):
        raise argparse.ArgumentTypeError(f"read “{text[:40]}” as a port; accepted: 1 to 65535")
    return int(text)


def own_names(listening: str) -> frozenset[str]:
    """Names besides loopback under which the application answers: STIRRUP_HOSTS and the one it
    listens on."""
    named = os.environ.get("STIRRUP_HOSTS", "").split(",")
    return frozenset(n.strip().lower() for n in (*named, listening) if n.strip())


def _arguments(argv: list[str] | None) -> argparse.Namespace:
    parser = argparse.ArgumentParser(prog="./run demo")
    parser.add_argument("--demo", action="store_true", help=argparse.SUPPRESS)
    # a text default is read as if it had been typed, so that its error names it
    wanted = os.environ.get("STIRRUP_PORT") or str(FIRST_PORT)
    parser.add_argument("--port", type=port_number, default=wanted, help="default: STIRRUP_PORT or 8470")
    parser.add_argument(
        "--processes",
        type=int,
        metavar="N",
        help="web processes of ./run serve; default: one for each core",
    )
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on")
    return parser.parse_args(argv)


def _serve(args: argparse.Namespace, folder: Path, url: str, cluster: Cluster | None) -> None:
    from stirrup.demo.seed import seed
    from stirrup.web.app import create_app

    secret, names = session_secret(folder), own_names(args.host)
    app = create_app(url, secret, names, staffed=True)
    if args.demo and seed():
        print("The demo boats are in the yard.", flush=True)
    settle()
    place = listen(args.host, args.port)
    address = f"[{args.host}]" if ":" in args.host else args.host
    count = processes(args.processes or (1 if args.demo else None))
    told = f"; {count} web processes" if count > 1 else ""
    print(f"Stirrup is at http://{address}:{place.getsockname()[1]}/   (Ctrl-C stops it{told})", flush=True)
    if count == 1:
        _alone(app, place, url, cluster)
    else:
        more = {"STIRRUP_SECRET": secret, "STIRRUP_OWN_NAMES": ",".join(names)}
        _in_homes(app, place, url, cluster, count, more)


def _alone(app: Any, place: socket.socket, url: str, cluster: Cluster | None) -> None:
    """This process answers everything."""
    import uvicorn

    from stirrup.slow import PatientProtocol
    from stirrup.store.staff import Worker
    from stirrup.store.watch import Watch
    from stirrup.web.pages.frame import warm_up

    config = uvicorn.Config(app, log_level="warning", http=PatientProtocol,
                            access_log=False, timeout_graceful_shutdown=2)  # fmt: skip
    server = uvicorn.Server(config)
    end_in_order(server)
    # streams that never end by themselves end when the server is asked to stop
    app.state.stopping = lambda: server.should_exit
    watch = Watch(app.state.database, url, cluster)
    worker = Worker(app.state.database.url)
    watch.start()
    worker.start()
    threading.Thread(target=warm_up, args=(WARM_AT_START,), name="warm up", daemon=True).start()
    try:
        server.run(sockets=[place])
    finally:
        worker.end()
        watch.end()


def _in_homes(
    app: Any, place: socket.socket, url: str, cluster: Cluster | None, count: int, more: dict[str, str]
) -> None:
    """Other processes answer; this one keeps them, a worker and the database."""
    from stirrup.front import Front
    from stirrup.store.staff import Worker
    from stirrup.store.watch import Watch

    database = app.state.database
    with tempfile.TemporaryDirectory(prefix="stirrup-") as sockets:
        front = Front(Path(sockets), count, database.url, more)
        worker = Worker(database.url)
        watch = Watch(database, url, cluster, front.renew)
        for one in (watch, worker):
            one.start()
        front.start(place)
        try:
            signal.signal(signal.SIGINT, signal.default_int_handler)  # also where it was ignored
            while True:
                signal.pause()
        finally:
            front.end()
            worker.end()
            watch.end()


def main(argv: list[str] | None = None) -> int:
    """Run until interrupted; returns the exit code."""
    args = _arguments(argv)
    loading()
    # libraries speak when something is wrong; one of them tells a dozen lines about every drawing it writes
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    LOG.setLevel(logging.INFO)
    folder = data_folder()
    if args.demo and "STIRRUP_DATA" not in os.environ:
        folder = folder / "demo"
    end_in_order()
    try:
        with database(folder) as (url, cluster), contextlib.suppress(KeyboardInterrupt, Stopped):
            # an interrupt is told again once everything has ended in order
            _serve(args, folder, url, cluster)
    except (KeyboardInterrupt, Stopped):
        print("Stopped before it was up; nothing was changed.", file=sys.stderr)
        return 1
    except OSError as error:
        place = f" ({error.filename})" if error.filename else ""
        why = {errno.ENOSPC: "the disk is full", errno.EROFS: "the disk is read-only",
               errno.EACCES: "this user may not write there"}.get(error.errno or 0, str(error))  # fmt: skip
        print(f"Stirrup could not start: {why}{place}", file=sys.stderr)
        return 1
    except (ClusterError, ValueError, OperationalError, StoreAwayError) as error:
        print(f"Stirrup could not start: {str(error).strip()}", file=sys.stderr)
        return 1
    print("Stopped; everything is stored.", flush=True)
    return 0


if __name__ == "__main__":
    code = main()
    # Everything has ended in order. Boats may still be warmed up in a thread of its own, in compiled code
    # that does not live through the interpreter's end: it aborted now and then, right after a start.
    logging.shutdown()
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(code)
