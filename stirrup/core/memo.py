"""Remember the results of pure stages by the content of their inputs."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import TypeVar, cast

T = TypeVar("T")


class Memo:
    """A bounded store of results, the least recently used leaving first; safe in threads."""

    def __init__(self, size: int = 400) -> None:
        self._size = size
        self._store: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The result under `key`, computed now if it is not there."""
        with self._lock:
            if key in self._store:
                self._store.move_to_end(key)
                return cast(T, self._store[key])
        value = compute()
        with self._lock:
            self._store[key] = value
            while len(self._store) > self._size:
                self._store.popitem(last=False)
        return value

    def peek(self, key: Hashable) -> object | None:
        """The result under `key` if it is known, else None."""
        with self._lock:
            return self._store.get(key)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._store.clear()
