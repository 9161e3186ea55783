"""Remember the results of pure stages by the content of their inputs."""

from __future__ import annotations

import gc
import itertools
import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from contextvars import ContextVar, Token
from typing import Any, Generic, TypeVar, cast

from stirrup.core.record import dataclass
from stirrup.core.weigh import bytes_of

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


_MISSING = object()


class Warm:
    """All that is remembered for one build: of each store its results, the least used leaving first."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.busy = threading.RLock()
        self.of: dict[int, OrderedDict[Hashable, object]] = {}
        self.hits = self.misses = 0
        self._weighed, self._each = 0, 0.0  # entries there were when it was, and bytes of each

    def look(self, store: int, key: Hashable, most: int) -> object:
        """A result, or _MISSING. Which was used last is noted once a store of `most` is half full: until
        then none has to leave it soon."""
        there = self.of.get(store)
        found = _MISSING if there is None else there.get(key, _MISSING)
        if there is None or found is _MISSING:
            self.misses += 1
            return _MISSING
        self.hits += 1
        if len(there) > most // 2:
            with self.lock:
                if key in there:  # nobody has pushed it out meanwhile
                    there.move_to_end(key)
        return found

    def keep(self, store: int, key: Hashable, value: object, most: int) -> None:
        """Keep a result; what was used longest ago goes where there are more than `most`."""
        with self.lock:
            there = self.of.setdefault(store, OrderedDict())
            there[key] = value
            there.move_to_end(key)
            while len(there) > most:
                there.popitem(last=False)

    @property
    def entries(self) -> int:
        """How many results are kept."""
        return sum(len(there) for there in self.of.values())

    @property
    def bytes(self) -> int:
        """What it weighs, by its entries when it was weighed."""
        return int(self._each * self.entries)

    @property
    def grown(self) -> bool:
        """Whether it has never been weighed, or has three times as many entries since."""
        return self.entries > 3 * self._weighed

    def weigh(self) -> None:
        """Take its weight, which takes a while: a tenth of a second for a large boat."""
        with self.lock:
            self._weighed = self.entries
            kept = [found for there in self.of.values() for found in there.values()]
        self._each = bytes_of(kept) / max(1, self._weighed)


class Scratch:
    """What a hand that drags needs from one step to the next, and nobody else ever again.

    A step finds what the one before it found; what it does not ask for is gone with the next one.
    """

    def __init__(self) -> None:
        self._now: dict[tuple[int, Hashable], object] = {}
        self._before: dict[tuple[int, Hashable], object] = {}

    def step(self) -> None:
        """The hand goes on."""
        self._before, self._now = self._now, {}

    def look(self, store: int, key: Hashable) -> object:
        """A result of this step or the one before, or _MISSING."""
        place = (store, key)
        found = self._now.get(place, _MISSING)
        if found is _MISSING:
            found = self._before.get(place, _MISSING)
            if found is not _MISSING:
                self._now[place] = found
        return found

    def keep(self, store: int, key: Hashable, value: object) -> None:
        """Keep a result until the step after the next."""
        self._now[store, key] = value

    def shed(self) -> dict[tuple[int, Hashable], object]:
        """A step is done: what it did not ask for, taken out."""
        gone, self._before = self._before, {}
        return gone

    @property
    def entries(self) -> int:
        """How many results are kept."""
        return len(self._now) + len(self._before)


# builds at a time, so that twenty people do not push one another out; and bytes of all of them together,
# some 4 MB each with what they share, so that a few very large ones do not fill the machine
MOST_WARM, MOST_BYTES = 24, 120_000_000
# one that is asked for so often is worked at; what was only looked at is kept of a few, and pushes out none
# of those. How often is remembered of many more builds than are kept.
WORKED_AT, MOST_LOOKED_AT, MOST_COUNTED = 3, 6, 1000
_COMMON = Warm()  # what belongs to no build
_WARM: OrderedDict[Hashable, Warm] = OrderedDict()
_ASKED: OrderedDict[Hashable, int] = OrderedDict()
_WARM_LOCK = threading.Lock()
# no request waits while a build is weighed
_SCALES = ThreadPoolExecutor(1, thread_name_prefix="scales")
_CURRENT: ContextVar[Warm] = ContextVar("warm", default=_COMMON)
# builds are full of things that know one another: those that have gone are collected so many at a time
MOST_GONE = 6


class _Gone:
    """How many builds have gone since what they held was collected."""

    count = 0


_SCRATCH: ContextVar[Scratch | None] = ContextVar("scratch", default=None)
_NUMBERS = itertools.count()


def enter(build: Hashable) -> Token[Warm]:
    """From here on, in this request or task, results are those of a build."""
    with _WARM_LOCK:
        last = next(reversed(_WARM.values()), None)
        warm = _WARM.pop(build, None) or Warm()
        _WARM[build] = warm
        _ASKED[build] = _ASKED.pop(build, 0) + 1
        if len(_ASKED) > MOST_COUNTED:
            _ASKED.popitem(last=False)
        often = {b: _ASKED.get(b, 0) >= WORKED_AT for b in _WARM}
        looked_at, worked_at = [b for b in often if not often[b]], [b for b in often if often[b]]
        for gone in (*looked_at[:-MOST_LOOKED_AT], *worked_at[:-MOST_WARM]):
            del _WARM[gone]
            _Gone.count += 1
    if _Gone.count >= MOST_GONE:
        _Gone.count = 0
        _SCALES.submit(gc.collect)  # the collector itself comes by too seldom, so that no hand waits for it
    if last is not None and last is not warm and last.grown:
        _SCALES.submit(_make_room, last)
    return _CURRENT.set(warm)


def _make_room(grown: Warm) -> None:
    """Weigh a build; then those that were unused longest go until the others are within the budget."""
    if grown.grown:  # nobody else has done it meanwhile
        grown.weigh()
    with _WARM_LOCK:
        total = sum(w.bytes for w in _WARM.values())
        while total > MOST_BYTES and len(_WARM) > 1:
            total -= _WARM.popitem(last=False)[1].bytes
            _Gone.count += 1


def swept(scratch: Scratch) -> None:
    """A step of a hand is done. What it left takes a millisecond to let go of; nobody waits for that."""
    with suppress(RuntimeError):  # the program is about to end
        _SCALES.submit(scratch.shed().clear)


def all_weighed() -> None:
    """Wait until everything that was handed to the scales is weighed. For measuring."""
    _SCALES.submit(lambda: None).result()


@dataclass(frozen=True)
class Statistics:
    """What is remembered now: of how many builds, how much, and how often a look found something."""

    builds: int
    entries: int
    bytes: int
    hits: int
    misses: int


def statistics() -> Statistics:
    """Of all builds that are warm, and of what belongs to none."""
    with _WARM_LOCK:
        every = [*_WARM.values(), _COMMON]
    sums = (sum(getattr(w, name) for w in every) for name in ("entries", "bytes", "hits", "misses"))
    return Statistics(len(every) - 1, *sums)


@contextmanager
def of_build(build: Hashable) -> Iterator[None]:
    """What is worked out inside is remembered for a build."""
    token = enter(build)
    try:
        yield
    finally:
        _CURRENT.reset(token)


@contextmanager
def of_one_to_be() -> Iterator[Callable[[Hashable], None]]:
    """What is worked out inside is remembered for a build that has no number yet: it is told once it has
    one, by what is handed out. What never gets one leaves nothing behind."""
    key = [object()]
    with of_build(key[0]):
        try:
            yield key.append
        finally:
            with _WARM_LOCK:
                warm = _WARM.pop(key[0], None)
                asked = _ASKED.pop(key[0], 1)
                if warm is not None and key[1:]:
                    _WARM[key[-1]], _ASKED[key[-1]] = warm, asked


@contextmanager
def passing(scratch: Scratch | None = None) -> Iterator[None]:
    """What is worked out inside, and is not known yet, is kept in a scratch only."""
    token = _SCRATCH.set(scratch or Scratch())
    try:
        yield
    finally:
        _SCRATCH.reset(token)


@contextmanager
def alone() -> Iterator[None]:
    """What takes long is worked out once for a build: whoever asks for the same meanwhile waits, and
    finds it. Nothing that waits for somebody else may be asked for inside."""
    with _CURRENT.get().busy:
        yield


def forget() -> None:
    """Empty every store of results: what is asked next is worked out anew. For measuring."""
    with _WARM_LOCK:
        _WARM.clear()
        _ASKED.clear()
    for warm in (_COMMON, _CURRENT.get()):
        with warm.lock:
            warm.of.clear()


class _Store:
    """A bounded part of what is remembered, for each build its own; safe in threads.

    common: the same for all builds, and not passing: for what belongs to none.
    """

    def __init__(self, most: int, common: bool) -> None:
        self._most, self._common, self._number = most, common, next(_NUMBERS)

    def _warm(self) -> Warm:
        return _COMMON if self._common else _CURRENT.get()

    def _look(self, key: Hashable) -> object:
        found = self._warm().look(self._number, key, self._most)
        if found is _MISSING and (scratch := self._scratch()) is not None:
            found = scratch.look(self._number, key)
        return found

    def _keep(self, key: Hashable, value: object) -> None:
        if (scratch := self._scratch()) is not None:
            scratch.keep(self._number, key, value)
        else:
            self._warm().keep(self._number, key, value, self._most)

    def _scratch(self) -> Scratch | None:
        return None if self._common else _SCRATCH.get()


class Memo(_Store):
    """Results by the content of what they follow from."""

    def __init__(self, size: int = 400, common: bool = False) -> None:
        super().__init__(size, common)

    def get(self, key: Hashable, compute: Callable[[], T]) -> T:
        """The result under `key`, computed now if it is not there."""
        once = Key(key)
        found = self._look(once)
        return self.put(once, compute()) if found is _MISSING else cast(T, found)

    def put(self, key: Hashable, value: T) -> T:
        """Keep a result under `key` in place of what was known; returns it."""
        self._keep(key if isinstance(key, Key) else Key(key), value)
        return value

    def peek(self, key: Hashable) -> object | None:
        """The result under `key` if it is known, else None."""
        found = self._look(Key(key))
        return None if found is _MISSING else found


class ByIdentity(_Store):
    """Results for two objects that live on unchanged, found by identity: no content is compared.

    Both objects are kept with the result, so that their addresses stay theirs.
    """

    def __init__(self, size: int = 8000, common: bool = False) -> None:
        super().__init__(size, common)

    def get(self, a: object, b: object, compute: Callable[[], T]) -> T:
        """The result for a and b, computed now if it is not there; the least used leaves first."""
        found = self._look((id(a), id(b)))
        if found is _MISSING:
            return self.put(a, b, compute())
        return cast(tuple[object, object, T], found)[2]

    def peek(self, a: object, b: object) -> object | None:
        """The result for a and b if it is known, else None."""
        found = self._look((id(a), id(b)))
        return None if found is _MISSING else cast(tuple[object, object, object], found)[2]

    def put(self, a: object, b: object, value: T) -> T:
        """Keep a result for a and b in place of what was known; returns it."""
        self._keep((id(a), id(b)), (a, b, value))
        return value


class Together(_Store, Generic[T]):
    """Results for many pairs of objects that are asked for all at once, again and again: of a pair that
    is there still, the object itself, the one of the asking before is taken. One look for all of them."""

    def __init__(self, compute: Callable[[Any, Any], T]) -> None:
        super().__init__(1, False)
        self._compute = compute

    def _table(self, place: Warm | Scratch) -> dict[tuple[int, int], tuple[object, object, T]]:
        found = (
            place.look(self._number, "") if isinstance(place, Scratch) else place.look(self._number, "", 1)
        )
        return cast(dict[tuple[int, int], tuple[object, object, T]], {} if found is _MISSING else found)

    def of(self, pairs: Iterable[tuple[object, object]]) -> list[T]:
        """The result of each pair, in their order."""
        scratch = self._scratch()
        first = self._table(self._warm())
        second = self._table(scratch) if scratch is not None else {}
        now = {}
        for a, b in pairs:
            key = (id(a), id(b))  # both are kept with the result: their addresses stay theirs
            now[key] = first.get(key) or second.get(key) or (a, b, self._compute(a, b))
        self._keep("", now)
        return [found for _, _, found in now.values()]
