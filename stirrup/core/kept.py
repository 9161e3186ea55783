"""What follows from one object and is kept with it."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import fields
from operator import attrgetter
from typing import Generic, TypeVar, cast, overload

T = TypeVar("T")
S = TypeVar("S")
_MISSING = object()


class kept_property(Generic[S, T]):
    """`functools.cached_property` without the lock that all objects of a class share up to
    Python 3.11: two threads may both work a value out, which is the same one. Not for documents: pydantic
    knows the other one only."""

    def __init__(self, compute: Callable[[S], T]) -> None:
        self.compute = compute
        self.__doc__ = compute.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    def keep(self, instance: S, value: T) -> None:
        """The value of an object is known already."""
        instance.__dict__[self.name] = value

    @overload
    def __get__(self, instance: None, owner: type) -> kept_property[S, T]: ...

    @overload
    def __get__(self, instance: S, owner: type) -> T: ...

    def __get__(self, instance: S | None, owner: type) -> T | kept_property[S, T]:
        if instance is None:
            return self
        # read again without coming here: what lies in an object's own dictionary goes first
        value = instance.__dict__[self.name] = self.compute(instance)
        return value


_VALUES: dict[type, Callable[[object], object]] = {}


def _values_of(one: object) -> object:
    """What tells one of a frozen dataclass from another."""
    get = _VALUES.get(type(one))
    if get is None:
        get = _VALUES[type(one)] = attrgetter(*(f.name for f in fields(one) if f.compare))  # type: ignore[arg-type]
    return get(one)


class KeptHash:
    """For frozen dataclasses that are part of many keys: the hash of their fields, worked out once. To be
    asked for by `__hash__ = KeptHash.__hash__` in the class itself, which else makes its own."""

    @kept_property
    def _code(self) -> int:
        return hash(_values_of(self))

    def __hash__(self) -> int:
        return self._code


class Attached:
    """What follows from one object, kept with it by name; emptied once it holds `most`.

    A value is handed over even when another thread empties the shelf meanwhile.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._store: dict[Hashable, object] = {}

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The value under `key`, computed now if it is not there."""
        found = self._store.get(key, _MISSING)
        if found is _MISSING:
            found = compute()
            if len(self._store) >= self._most:
                self._store.clear()
            self._store[key] = found
        return cast(T, found)
