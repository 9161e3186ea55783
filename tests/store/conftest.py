"""A data folder that may be killed in."""

import contextlib
import os
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.store.servers import Server, end_all, postmaster


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder for a yard of its own; whatever still runs in it ends with the test."""
    yield from _folder()


@pytest.fixture(scope="session")
def kept() -> Iterator[Path]:
    """A folder with the demo's yard, started once and ended as asked."""
    path = Path(tempfile.mkdtemp(prefix="stirrup-kept-"))
    path.chmod(0o755)
    Server(path, 8601).kill(signal.SIGINT)
    yield path
    shutil.rmtree(path, ignore_errors=True)


@pytest.fixture
def begun(kept: Path) -> Iterator[Path]:
    """The same as `folder`, for what has nothing to do with a first start: the yard is there already."""
    for path in _folder():
        subprocess.run(["cp", "-a", f"{kept}/.", path], check=True)
        yield path


def _folder() -> Iterator[Path]:
    path = Path(tempfile.mkdtemp(prefix="stirrup-kill-"))
    path.chmod(0o755)
    yield path
    end_all()
    with contextlib.suppress(OSError, ProcessLookupError):
        os.kill(postmaster(path), signal.SIGCONT)
        os.kill(postmaster(path), signal.SIGQUIT)
        time.sleep(0.5)
    shutil.rmtree(path, ignore_errors=True)
