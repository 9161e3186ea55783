"""Frozen dataclasses that are made quickly: what holds for both ways they are made."""

import dataclasses
from pathlib import Path
from typing import Any

import pytest

from stirrup.core import record
from stirrup.core.afloat.ledger import Entry
from stirrup.core.kept import KeptHash

ROOT = Path(__file__).parents[2]


def _kinds() -> tuple[Any, Any, Any]:
    @record.dataclass(frozen=True)
    class Place:
        x: float
        name: str = "bow"

    @record.dataclass(frozen=True)
    class Seat(Place):
        firm: bool = dataclasses.field(default=True, compare=False)

    @record.dataclass(frozen=True)
    class Known(KeptHash):
        x: float
        __hash__ = KeptHash.__hash__

    return Place, Seat, Known


@pytest.fixture(params=[True, False], ids=["frozen", "as it runs"])
def kinds(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> tuple[Any, Any, Any]:
    """A place, a seat that is one, and what keeps its hash, made in each of the two ways."""
    monkeypatch.setattr(record, "FROZEN", request.param)
    return _kinds()


def test_equal_fields_make_them_equal_and_their_hash(kinds: tuple[Any, Any, Any]) -> None:
    place, seat, known = kinds
    assert place(2.0) == place(2.0, "bow") != place(2.0, "stern")
    assert hash(place(2.0)) == hash(place(2.0)) != hash(place(2.0, "stern"))
    assert seat(2.0, firm=False) == seat(2.0) and hash(seat(2.0, firm=False)) == hash(seat(2.0))
    assert seat(2.0) != place(2.0)
    assert hash(known(3.0)) == hash(known(3.0)) == hash(3.0) and known(3.0) == known(3.0)


def test_one_is_made_of_another(kinds: tuple[Any, Any, Any]) -> None:
    place, seat, _ = kinds
    assert dataclasses.replace(place(2.0), x=3.0) == place(3.0)
    assert dataclasses.asdict(seat(2.0)) == {"x": 2.0, "name": "bow", "firm": True}
    assert repr(place(2.0)).endswith("Place(x=2.0, name='bow')")


def test_tests_freeze_them() -> None:
    """Who writes into one is found here: while the application runs nothing stops it."""
    assert record.FROZEN
    entry = next(f.name for f in dataclasses.fields(Entry))
    with pytest.raises(dataclasses.FrozenInstanceError):
        setattr(object.__new__(Entry), entry, 1)


def test_all_that_is_frozen_is_made_so() -> None:
    """One from the library itself would cost a call for each of its fields, each time one is made."""
    own = [p for p in (ROOT / "stirrup").rglob("*.py") if p.name != "record.py"]
    there = [p for p in own if "@dataclass(frozen=True)" in p.read_text()]
    bare = [p.name for p in there if "from stirrup.core.record import dataclass" not in p.read_text()]
    assert len(there) > 100 and bare == []
