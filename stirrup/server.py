"""`./run demo` and `./run serve`: database, then the web process, until Ctrl-C."""

from __future__ import annotations

import argparse
import contextlib
import logging
import os
import secrets
import sys
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from peewee import OperationalError

from stirrup.collector import settle
from stirrup.store.cluster import Cluster, ClusterError, data_folder, ensure_database, free_port

FIRST_PORT = 8470
LOG = logging.getLogger("stirrup")


@contextlib.contextmanager
def database(folder: Path) -> Iterator[str]:
    """URL of the database: STIRRUP_DATABASE_URL, or the private cluster in `folder`."""
    given = os.environ.get("STIRRUP_DATABASE_URL")
    if given:
        yield given
        return
    cluster = Cluster(folder / "cluster")
    # the database comes up while the program's own modules load
    with ThreadPoolExecutor(1) as pool:
        starting = pool.submit(cluster.start)
        import stirrup.web.app  # noqa: F401

        port = starting.result()
    try:
        yield ensure_database(cluster, port, "stirrup")
    finally:
        cluster.stop()


def session_secret(folder: Path) -> str:
    """Key that signs the session cookie; kept, so that sessions outlive a restart."""
    path = folder / "session-secret"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(handle, "w") as out:
            out.write(secrets.token_urlsafe(32))
    return path.read_text().strip()


def listen_port(wanted: int) -> int:
    """The wanted port or the next free one above it; says so when it moves."""
    for port in range(wanted, wanted + 100):
        if free_port(port) == port:
            if port != wanted:
                print(f"Port {wanted} is taken; using {port}.", flush=True)
            return port
    return free_port()


def main(argv: list[str] | None = None) -> int:
    """Run until interrupted; returns the exit code."""
    parser = argparse.ArgumentParser(prog="./run demo")
    parser.add_argument("--demo", action="store_true", help=argparse.SUPPRESS)
    parser.add_argument("--port", type=int, default=int(os.environ.get("STIRRUP_PORT", FIRST_PORT)))
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on")
    args = parser.parse_args(argv)
    logging.basicConfig(level=logging.INFO, format="%(levelname)s %(name)s: %(message)s")
    logging.getLogger("peewee.migrations").setLevel(logging.WARNING)
    folder = data_folder()
    if args.demo and "STIRRUP_DATA" not in os.environ:
        folder = folder / "demo"
    try:
        with database(folder) as url:
            import uvicorn

            from stirrup.demo.seed import seed
            from stirrup.web.app import create_app

            app = create_app(url, session_secret(folder))
            if args.demo and seed():
                print("The demo boats are in the yard.", flush=True)
            settle()
            port = listen_port(args.port)
            print(f"Stirrup is at http://{args.host}:{port}/   (Ctrl-C stops it)", flush=True)
            config = uvicorn.Config(app, host=args.host, port=port, log_level="warning",
                                    access_log=False, timeout_graceful_shutdown=2)  # fmt: skip
            server = uvicorn.Server(config)
            # streams that never end by themselves end when the server is asked to stop
            app.state.stopping = lambda: server.should_exit
            # an interrupt is told again once everything has ended in order
            with contextlib.suppress(KeyboardInterrupt):
                server.run()
    except (ClusterError, OSError, ValueError, OperationalError) as error:
        print(f"Stirrup could not start: {str(error).strip()}", file=sys.stderr)
        return 1
    print("Stopped; everything is stored.", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
