"""Whoever watches the database is not held up by it."""

import threading
import time
from typing import Any

import pytest

from stirrup.store import watch


def test_one_that_takes_a_connection_and_never_answers_is_late(monkeypatch) -> None:
    """It freezes between both: the look ends after the time of a connection and one beat of the watch."""
    thaw = threading.Event()

    def frozen(url: str) -> str:
        thaw.wait(30)
        return "yes"

    monkeypatch.setattr(watch, "asked", frozen)
    monkeypatch.setattr(watch, "ANSWER_S", 0.2)
    monkeypatch.setattr(watch, "EVERY_S", 0.1)
    started = time.monotonic()
    assert watch.answers("postgresql://somewhere") == "late"
    assert 0.25 < time.monotonic() - started < 5
    thaw.set()


@pytest.mark.parametrize("answer", ["yes", "late", "no"])
def test_what_it_answers_is_told(monkeypatch, answer: Any) -> None:
    monkeypatch.setattr(watch, "asked", lambda url: answer)
    assert watch.answers("postgresql://somewhere") == answer
