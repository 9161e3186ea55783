"""A thing with what it leaves to the build filled in."""

from __future__ import annotations

from functools import lru_cache, partial
from typing import Any

from stirrup.core.contract.schools import Schools, as_the_build, follows_build
from stirrup.core.memo import ByIdentity

# what leaves a choice to the build, with that choice
SETTLED = ByIdentity(4000)


@lru_cache(maxsize=200)
def _same(schools: Schools) -> Schools:
    """The object that stands for all equal ones."""
    return schools


def settled(thing: Any, schools: Schools) -> Any:
    """A thing as the build's schools have it: always the same object for the same one."""
    if not follows_build(thing):
        return thing
    same = _same(schools)
    return SETTLED.get(thing, same, partial(as_the_build, thing, same))
