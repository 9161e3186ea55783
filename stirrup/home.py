"""A web process behind the proxy: the home of some of the builds. Started by `stirrup.server`.

What it needs is in its environment: STIRRUP_DATABASE_URL, STIRRUP_SOCKET, STIRRUP_SECRET,
STIRRUP_OWN_NAMES, STIRRUP_PROCESSES.
"""

from __future__ import annotations

import logging
import os
import sys
import threading

from stirrup.collector import loading, settle
from stirrup.store.staff import end_with_parent


def main() -> int:
    """Answer until told to end; returns the exit code."""
    threading.Thread(target=end_with_parent, daemon=True).start()
    loading()
    import uvicorn

    from stirrup.slow import PatientProtocol
    from stirrup.store.database import threads_of
    from stirrup.store.watch import Watch
    from stirrup.web.app import create_app

    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    url, place = os.environ["STIRRUP_DATABASE_URL"], os.environ["STIRRUP_SOCKET"]
    names = frozenset(n for n in os.environ.get("STIRRUP_OWN_NAMES", "").split(",") if n)
    threads = threads_of(int(os.environ.get("STIRRUP_PROCESSES", "1")))
    app = create_app(url, os.environ["STIRRUP_SECRET"], names, staffed=True, threads=threads, behind=True)
    settle()
    config = uvicorn.Config(app, log_level="warning", http=PatientProtocol, uds=place,
                            access_log=False, timeout_graceful_shutdown=2)  # fmt: skip
    server = uvicorn.Server(config)
    app.state.stopping = lambda: server.should_exit
    watch = Watch(app.state.database, url, None)
    watch.start()
    try:
        server.run()
    finally:
        watch.end()
    return 0


if __name__ == "__main__":
    sys.exit(main())
