"""One throw-away cluster for the whole run; one database for each worker."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

import tests.frozen  # noqa: F401  first: what is loaded after it is frozen
from stirrup.core import memo
from stirrup.core.cutting.nest import fill
from stirrup.store.cluster import Cluster, ensure_database

# How long an example takes depends on the machine's load, and says nothing of the code. Which examples are
# drawn depends on the test alone, so that one revision is green or red wherever it is run; the search for
# new ones, five times as many and others each time, is `--long`.
settings.register_profile("same everywhere", deadline=None, derandomize=True, max_examples=40)
settings.register_profile("search", deadline=None, max_examples=500)

# Where nothing depends on how close a layout is, it is looked for this many times shorter than for users
BRIEFLY = 25
fill.UNIT //= BRIEFLY

NEEDS_DATABASE = ("tests/store", "tests/web", "tests/browser")
_CLUSTER: dict[str, Any] = {}
SLOW_S = 2.0


LONG = (
    "many more rounds of the tests that draw their input, and other input each time: "
    "hostile requests, geometry, killed processes"
)


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--long", action="store_true", help=LONG)


@pytest.fixture
def rounds(request: pytest.FixtureRequest) -> int:
    """Rounds of killing: 60 with --long."""
    return 60 if request.config.getoption("--long") else 3


def driver_fault() -> str:
    """Why the browser's driver cannot start on this machine; empty when it can."""
    from playwright._impl._driver import compute_driver_executable

    try:
        node = compute_driver_executable()[0]
        tried = subprocess.run([node, "--version"], capture_output=True, text=True, check=False)
    except OSError as error:
        return f"the browser driver does not start: {error}"
    if tried.returncode == 0:
        return ""
    why = tried.stderr.strip().splitlines()[-1:] or [f"exit code {tried.returncode}"]
    return f"the browser driver does not start: {why[0]}. Install the library's package (libatomic1)"


def pytest_configure(config: pytest.Config) -> None:
    settings.load_profile("search" if config.getoption("--long") else "same everywhere")
    if hasattr(config, "workerinput"):
        return
    wanted = [str(a) for a in config.args] or ["tests"]
    if all("tests/core" in a or "tests/exchange" in a or "test_cli" in a for a in wanted):
        return
    if any(a.startswith("tests/browser") or a.rstrip("/") == "tests" for a in wanted):
        without_driver = driver_fault()
        if without_driver:
            pytest.exit(without_driver, 4)
    folder = Path(tempfile.mkdtemp(prefix="stirrup-test-"))
    folder.chmod(0o755)
    cluster = Cluster(folder, durable=False)
    port = cluster.start()
    _CLUSTER.update(cluster=cluster, folder=folder)
    os.environ["STIRRUP_TEST_PORT"] = str(port)
    os.environ["STIRRUP_TEST_FOLDER"] = str(folder)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Whatever drives a browser is slow."""
    for item in items:
        if "/tests/browser/" in item.path.as_posix():
            item.add_marker("slow")


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """Name what took long and does not say so: on a calm machine nothing is named."""
    done = (r for r in terminalreporter.stats.get("passed", ()) if r.when == "call")
    late = sorted({r.nodeid for r in done if r.duration > SLOW_S and "slow" not in r.keywords})
    for name in late[:20]:
        terminalreporter.write_line(f"took over {SLOW_S:g} s and is not marked slow: {name}")


def pytest_unconfigure(config: pytest.Config) -> None:
    if _CLUSTER:
        _CLUSTER["cluster"].stop()
        shutil.rmtree(_CLUSTER["folder"], ignore_errors=True)
        _CLUSTER.clear()


@pytest.fixture(scope="module")
def searched_long() -> Iterator[None]:
    """For this module layouts are looked for as long as for users, and none is known from before."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(fill, "UNIT", fill.UNIT * BRIEFLY)
        memo.forget()
        yield
        memo.forget()


@pytest.fixture(scope="session")
def database_url(worker_id: str) -> str:
    """URL of this worker's own database."""
    cluster = Cluster(Path(os.environ["STIRRUP_TEST_FOLDER"]), durable=False)
    return ensure_database(cluster, int(os.environ["STIRRUP_TEST_PORT"]), f"test_{worker_id}")


@pytest.fixture(scope="session")
def app(database_url: str) -> Any:
    """The application on this worker's database."""
    from stirrup.web.app import create_app
    from stirrup.web.pages import yard

    yard.AT_ONCE_S = 600.0  # however slow the machine is, the yard has all that it lists
    return create_app(database_url, "a secret for tests")


@pytest.fixture(autouse=True)
def _yard_stays_small(request: pytest.FixtureRequest) -> Iterator[None]:
    """Boats that a test made are gone after it: the yard of a worker's database would grow to hundreds,
    and every page that lists it with them. Those of fixtures that live longer were there before."""
    if "app" not in request.fixturenames:
        yield
        return
    database = request.getfixturevalue("app").state.database

    def run(statement: str, *values: object) -> Any:
        with database.connection_context():
            return database.execute_sql(statement, values).fetchall()

    (last,) = run("SELECT coalesce(max(id), 0) FROM build")[0]
    yield
    for table in ("card", "upload", "revision"):
        run(f"WITH gone AS (DELETE FROM {table} WHERE build_id > %s RETURNING 1) SELECT 1", last)
    run("UPDATE layout SET build_id = NULL WHERE build_id > %s RETURNING 1", last)
    run("WITH gone AS (DELETE FROM build WHERE id > %s RETURNING 1) SELECT 1", last)


@pytest.fixture
def store(app: Any) -> Iterator[Any]:
    """A connection inside a transaction that is rolled back."""
    database = app.state.database
    with database.connection_context(), database.atomic() as transaction:
        yield database
        transaction.rollback()
