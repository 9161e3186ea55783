"""Several web processes behind one address: haproxy hands each request to the home of its build.

A build's home knows it warm; a request that lands elsewhere, because the home is down just then, is only
slower. haproxy is Debian's package of that name; without it one web process answers everything.
"""

from __future__ import annotations

import os
import shutil
import socket
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from stirrup.store.staff import Kept

UP_S = 20.0  # until the web processes are there
MOST_PROCESSES = 8  # each holds connections of its own to the database
SETTINGS = """\
global
    maxconn 1000
defaults
    mode http
    timeout connect 3s
    timeout client 300s
    timeout server 300s
    timeout http-request 20s
    timeout queue 10s
    timeout check 5s
    option redispatch 1
    retries 3
    retry-on conn-failure
frontend yard
    bind fd@{fd}
    # the build's number out of /b/7/..., /builds/7/... or /api/builds/7/...; others go round
    http-request set-var(txn.build) path,field(3,/) if {{ path_beg /b/ /builds/ }}
    http-request set-var(txn.build) path,field(4,/) if {{ path_beg /api/builds/ }}
    http-request set-header X-Stirrup-Address %[dst]
    default_backend homes
backend homes
    balance hash var(txn.build)
    hash-type consistent
"""
HOME = "    server home{k} unix@{place} check inter 500ms fastinter 200ms fall 2 rise 1\n"


def tool() -> str | None:
    """Where haproxy is, or None; Debian keeps it where not everybody looks."""
    return shutil.which("haproxy", path=os.environ.get("PATH", "") + ":/usr/sbin:/usr/local/sbin")


def processes(wanted: int | None) -> int:
    """How many web processes: as asked for, else one for each core; one where there is no haproxy."""
    if tool() is None:
        return 1
    return max(1, min(wanted or os.cpu_count() or 1, MOST_PROCESSES))


def settings(fd: int, places: list[Path]) -> str:
    """haproxy's configuration for a listening socket and the homes' own sockets."""
    homes = "".join(HOME.format(k=k, place=place) for k, place in enumerate(places, start=1))
    return SETTINGS.format(fd=fd) + homes


@dataclass
class Front:
    """Web processes and the proxy before them.

    folder: for their sockets, nobody else's; url: of the database, asked anew at each start; more:
    what else they are started with, in their environment.
    """

    folder: Path
    count: int
    url: Callable[[], str]
    more: dict[str, str]
    kept: list[Kept] = field(default_factory=list)

    def start(self, place: socket.socket) -> None:
        """Begin to answer on a listening socket."""
        places = [self.folder / f"home{k}" for k in range(1, self.count + 1)]
        threads = {"STIRRUP_PROCESSES": str(self.count)}
        for home in places:
            self.kept.append(
                Kept(
                    f"web process {home.name}",
                    [sys.executable, "-m", "stirrup.home"],
                    lambda home=home: {  # type: ignore[misc]
                        **self.more, **threads, "STIRRUP_SOCKET": str(home),
                        "STIRRUP_DATABASE_URL": self.url(),
                    },
                )
            )  # fmt: skip
            self.kept[-1].start()
        deadline = time.monotonic() + UP_S
        while not all(home.exists() for home in places) and time.monotonic() < deadline:
            time.sleep(0.05)
        config = self.folder / "haproxy.cfg"
        config.write_text(settings(place.fileno(), places))
        proxy = [tool() or "haproxy", "-db", "-f", str(config)]
        self.kept.append(Kept("proxy", proxy, dict, (place.fileno(),), watched=False))
        self.kept[-1].start()

    def renew(self) -> None:
        """Start the web processes anew: the database has another address."""
        for one in self.kept[: self.count]:
            one.renew()

    def end(self) -> None:
        """End everything, the proxy first: nothing new comes in then."""
        for one in reversed(self.kept):
            one.ask_to_end()
        for one in self.kept:
            one.end()
