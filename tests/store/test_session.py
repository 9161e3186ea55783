"""Failures of the database as errors that say what they mean; connections that nest and come back."""

from typing import Any

import peewee
import pytest
from playhouse.pool import MaxConnectionsExceeded

from stirrup.core.errors import CoreError
from stirrup.store.models import DATABASE, Shop
from stirrup.store.session import KNOWN, StoreAwayError, reading, told, writing


class Inner(Exception):
    """What the driver raises, with PostgreSQL's code."""

    def __init__(self, code: str | None) -> None:
        super().__init__("driver's words")
        self.sqlstate = code


# codes: PostgreSQL's manual, appendix A
@pytest.mark.parametrize(
    ("kind", "code", "words", "lasting"),
    [
        (peewee.OperationalError, "53100", "the disk is full", True),
        (peewee.InternalError, "25006", "read-only", True),
        (peewee.OperationalError, "58030", "the disk under the database", True),
        (peewee.OperationalError, "57014", "took too long", False),
        (peewee.OperationalError, "55P03", "somebody else holds this boat", False),
        (peewee.OperationalError, "57P01", "does not answer", False),
        (peewee.OperationalError, "08006", "does not answer", False),
        (peewee.OperationalError, None, "does not answer", False),
        (peewee.InterfaceError, None, "does not answer", False),
    ],
)
def test_a_failure_of_the_database_says_what_it_means(
    kind: Any, code: Any, words: str, lasting: bool
) -> None:
    found = told(kind(Inner(code), "words"))
    assert isinstance(found, StoreAwayError)
    assert words in found.why and found.lasting is lasting


def test_too_much_at_once_is_no_failure_and_numbers_beyond_all_use_are_the_askers() -> None:
    assert isinstance(told(MaxConnectionsExceeded("x")), StoreAwayError)
    assert isinstance(told(peewee.DataError(Inner("22003"))), CoreError)
    strange = peewee.ProgrammingError(Inner("42P01"))
    assert told(strange) is strange  # a fault of ours stays one


def test_functions_of_the_store_take_a_connection_and_give_it_back(app: Any) -> None:
    database = DATABASE.obj
    assert database.is_closed()
    with reading():
        assert not database.is_closed() and not database.in_transaction()
        with writing():
            assert database.in_transaction()
            with reading(), writing():
                assert database.transaction_depth() == 1
        assert not database.is_closed()
    assert database.is_closed() and not database._in_use


def test_what_fails_in_a_transaction_leaves_nothing(app: Any) -> None:
    with pytest.raises(RuntimeError), writing():
        Shop.create(name="never", units="mm")
        raise RuntimeError
    with reading():
        assert not Shop.select().where(Shop.name == "never").exists()
    assert DATABASE.obj.is_closed()


def test_while_it_is_known_to_be_away_nobody_waits(app: Any) -> None:
    KNOWN.away = "it is away"
    try:
        with pytest.raises(StoreAwayError, match="it is away"), reading():
            pass
    finally:
        KNOWN.away = ""


def test_a_database_that_takes_no_changes_is_told_as_such(app: Any) -> None:
    database = DATABASE.obj
    with reading():
        database.execute_sql("SET default_transaction_read_only = on")
        try:
            with pytest.raises(StoreAwayError, match="read-only") as found, writing():
                Shop.create(name="never", units="mm")
            assert found.value.lasting
            assert Shop.select().count() >= 0  # reading goes on
        finally:
            database.execute_sql("RESET default_transaction_read_only")
