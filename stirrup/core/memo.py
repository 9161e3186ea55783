"""Remember the results of pure stages by the content of their inputs."""

from __future__ import annotations

import threading
import weakref
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar, cast, overload

T = TypeVar("T")


class Key:
    """A value whose hash is computed once; long tuples cost more to hash than to keep."""

    __slots__ = ("code", "value")

    def __init__(self, value: Hashable) -> None:
        self.value = value
        self.code = hash(value)

    def __hash__(self) -> int:
        return self.code

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Key) and (self.value is other.value or self.value == other.value)


_EVERY: weakref.WeakSet[Memo | ByIdentity] = weakref.WeakSet()


def forget() -> None:
    """Empty every store of results: what is asked next is worked out anew. For measuring."""
    for store in list(_EVERY):
        store.clear()


class Memo:
    """A bounded store of results, the least recently used leaving first; safe in threads."""

    def __init__(self, size: int = 400) -> None:
        self._size = size
        self._store: OrderedDict[Key, object] = OrderedDict()
        self._lock = threading.Lock()
        _EVERY.add(self)

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The result under `key`, computed now if it is not there."""
        once = Key(key)
        with self._lock:
            if once in self._store:
                self._store.move_to_end(once)
                return cast(T, self._store[once])
        return self.put(once, compute())

    def put(self, key: Hashable, value: T) -> T:
        """Keep a result under `key` in place of what was known; returns it."""
        once = key if isinstance(key, Key) else Key(key)
        with self._lock:
            self._store[once] = value
            self._store.move_to_end(once)
            while len(self._store) > self._size:
                self._store.popitem(last=False)
        return value

    def peek(self, key: Hashable) -> object | None:
        """The result under `key` if it is known, else None."""
        with self._lock:
            return self._store.get(Key(key))

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._store.clear()


S = TypeVar("S")


class kept_property(Generic[S, T]):
    """`functools.cached_property` without the lock that all objects of a class share up to
    Python 3.11: two threads may both work a value out, which is the same one. Not for documents: pydantic
    knows the other one only."""

    def __init__(self, compute: Callable[[S], T]) -> None:
        self.compute = compute
        self.__doc__ = compute.__doc__

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

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


_NOTHING = object()


class Attached:
    """What follows from one object, kept with it by name; emptied once it holds `most`.

    A value is handed over even when another thread empties the shelf meanwhile.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._store: dict[Hashable, object] = {}

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The value under `key`, computed now if it is not there."""
        found = self._store.get(key, _NOTHING)
        if found is _NOTHING:
            found = compute()
            if len(self._store) >= self._most:
                self._store.clear()
            self._store[key] = found
        return cast(T, found)


class ByIdentity:
    """Results for two objects that live on unchanged, found by identity: no content is compared.

    Both objects are kept with the result, so that their addresses stay theirs.
    """

    def __init__(self, size: int = 8000) -> None:
        self._size = size
        self._store: OrderedDict[tuple[int, int], tuple[object, object, object]] = OrderedDict()
        self._lock = threading.Lock()
        _EVERY.add(self)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._store.clear()

    def get(self, a: object, b: object, compute: Callable[[], T]) -> T:
        """The result for a and b, computed now if it is not there; the least used leaves first."""
        key = (id(a), id(b))
        with self._lock:
            known = self._store.get(key)
            if known is not None:
                self._store.move_to_end(key)
                return cast(T, known[2])
        return self.put(a, b, compute())

    def put(self, a: object, b: object, value: T) -> T:
        """Keep a result for a and b in place of what was known; returns it."""
        key = (id(a), id(b))
        with self._lock:
            self._store[key] = (a, b, value)
            self._store.move_to_end(key)
            while len(self._store) > self._size:
                self._store.popitem(last=False)
        return value
