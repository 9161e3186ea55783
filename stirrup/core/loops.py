"""Inner loops: compiled where much is asked, and written for whole arrays where a command asks once.

Loading the compiler takes longer than a command needs for all its work. Who sets `CHOICE.plain` before
anything else of the core is loaded has the loops without it: `instead` where there is one, else the
function as it stands. Both give the same to rounding; a test holds them to it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

F = TypeVar("F", bound=Callable[..., Any])


class _Choice:
    """Whether loops are left as they are."""

    plain = False


CHOICE = _Choice()


def compiled(instead: Callable[..., Any] | None = None) -> Callable[[F], F]:
    """Decorator of an inner loop; instead: what does the same without a compiler."""

    def made(function: F) -> F:
        if CHOICE.plain:
            return cast(F, instead or function)
        from numba import njit

        return cast(F, njit(cache=True, nogil=True)(function))

    return made
