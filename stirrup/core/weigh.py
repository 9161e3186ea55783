"""How much memory a thing holds, about: itself and all that can be reached from it, each object once."""

from __future__ import annotations

import sys
import types
from collections.abc import Iterable
from itertools import chain

import numpy as np

# of the program, not of anybody's data
ELSEWHERE = (type, types.ModuleType, types.FunctionType, types.BuiltinFunctionType, types.MethodType)
PLAIN = (str, bytes, int, float, bool, type(None), np.ndarray)
MOST_OBJECTS = 2_000_000  # beyond that nobody waits for the rest


def bytes_of(things: Iterable[object]) -> int:
    """Bytes of some things together. What a library keeps outside of Python's own objects (the corners of a
    polygon) is not seen; arrays are."""
    seen: set[int] = set()
    total = 0
    waiting = list(things)
    while waiting and len(seen) < MOST_OBJECTS:
        thing = waiting.pop()
        if id(thing) in seen or isinstance(thing, ELSEWHERE):
            continue
        seen.add(id(thing))
        total += sys.getsizeof(thing)
        if isinstance(thing, PLAIN):
            continue
        if isinstance(thing, dict):
            waiting.extend(chain(thing.keys(), list(thing.values())))
        elif isinstance(thing, (tuple, list, set, frozenset)):
            waiting.extend(thing)
        else:
            waiting.append(getattr(thing, "__dict__", None))
            slots = getattr(type(thing), "__slots__", ())
            waiting.extend(getattr(thing, s, None) for s in ([slots] if isinstance(slots, str) else slots))
    return total
