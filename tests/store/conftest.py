"""A data folder that may be killed in."""

import contextlib
import os
import shutil
import signal
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.store.servers import end_all, postmaster


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder for a yard of its own; whatever still runs in it ends with the test."""
    path = Path(tempfile.mkdtemp(prefix="stirrup-kill-"))
    path.chmod(0o755)
    yield path
    end_all()
    with contextlib.suppress(OSError, ProcessLookupError):
        os.kill(postmaster(path), signal.SIGCONT)
        os.kill(postmaster(path), signal.SIGQUIT)
        time.sleep(0.5)
    shutil.rmtree(path, ignore_errors=True)
