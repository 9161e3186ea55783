"""Frozen dataclasses whose objects are made quickly.

A frozen one sets each field of each new object by a call of its own, so that nothing else can; a step of
a hand makes thousands of them, and that was a fifteenth of it. Who would write into one is told so by
the type checker, which sees the library's own decorator here, and by the tests, which freeze them
(`FROZEN`); in the running application nothing holds it up.
"""

from __future__ import annotations

import dataclasses
from typing import TYPE_CHECKING, Any

FROZEN = False  # whether they are frozen as they run, too

if TYPE_CHECKING:
    from dataclasses import dataclass
else:

    def dataclass(cls: type | None = None, *, frozen: bool = False) -> Any:
        """As `dataclasses.dataclass`; a frozen one is equal and hashed by its fields."""

        def made(of: type) -> type:
            # one that has a hash of its own keeps it
            hashed = frozen and not FROZEN and "__hash__" not in of.__dict__
            return dataclasses.dataclass(of, frozen=frozen and FROZEN, unsafe_hash=hashed)

        return made if cls is None else made(cls)


__all__ = ["dataclass"]
