"""Connections: each function of the store takes one for as long as it needs it, and no longer.

Whoever computes holds none. `reading` and `writing` nest: what is called inside of a transaction
belongs to it. Whatever the database cannot do is told as one of the errors below.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import AbstractContextManager, ContextDecorator, contextmanager, nullcontext
from types import TracebackType

from peewee import DatabaseError, DataError, InterfaceError, OperationalError
from playhouse.pool import MaxConnectionsExceeded

from stirrup.core.errors import CoreError
from stirrup.store.models import DATABASE

# SQLSTATE classes and codes of PostgreSQL, appendix A of its manual
DISK_FULL, READ_ONLY = "53100", "25006"
TIMED_OUT = {"57014": "the database took too long", "55P03": "somebody else holds this boat just now"}


class StoreAwayError(RuntimeError):
    """The database cannot answer now. `why` in words; `lasting` when waiting does not help."""

    def __init__(self, why: str, lasting: bool = False) -> None:
        super().__init__(why)
        self.why, self.lasting = why, lasting


class _Known:
    """What the watcher knows of the database; empty while it answers."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.away = ""


KNOWN = _Known()


def told(error: Exception) -> Exception:
    """A failure of the database as an error that says what it means."""
    inner = getattr(error, "orig", error)  # what the driver raised
    code = str(getattr(inner, "sqlstate", "") or "")
    if isinstance(error, MaxConnectionsExceeded):
        return StoreAwayError("too much is asked at once")
    if code == DISK_FULL:
        return StoreAwayError("the disk is full: nothing more can be stored until there is room", True)
    if code == READ_ONLY:
        return StoreAwayError("the database takes no changes: it, or its disk, is read-only", True)
    if code in TIMED_OUT:
        return StoreAwayError(TIMED_OUT[code])
    if isinstance(error, DataError):
        return CoreError("a number or a text here is larger than any that can be stored")
    # class 58: the system under the database (input, output, missing files)
    if code.startswith("58"):
        return StoreAwayError("the disk under the database does not answer as it should", True)
    if isinstance(error, OperationalError | InterfaceError) or code.startswith(("08", "57P")):
        return StoreAwayError("the database does not answer")
    return error


class _Connected(ContextDecorator):
    """Around a block or a function; one made for a decorator serves each call anew."""

    def __init__(self, transaction: bool) -> None:
        self.transaction = transaction

    def _recreate_cm(self) -> _Connected:
        return _Connected(self.transaction)

    def __enter__(self) -> None:
        self._around = _connection(self.transaction)
        self._around.__enter__()

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> bool | None:
        return self._around.__exit__(kind, error, trace)


@contextmanager
def _connection(transaction: bool) -> Iterator[None]:
    database = DATABASE.obj
    outermost = database.is_closed()
    if outermost and KNOWN.away:
        raise StoreAwayError(KNOWN.away)
    try:
        if outermost:
            database.connect()
        own = transaction and not database.in_transaction()
        around: AbstractContextManager[object] = database.atomic() if own else nullcontext()
        try:
            with around:
                yield
        finally:
            if outermost and not database.is_closed():
                database.close()
    except (DatabaseError, InterfaceError, MaxConnectionsExceeded) as error:
        raise told(error) from error


def reading() -> _Connected:
    """A connection for as long as this lasts; also a decorator."""
    return _Connected(False)


def writing() -> _Connected:
    """A transaction: all of it is stored, or nothing. Inside of another it is part of that one."""
    return _Connected(True)
