"""Choices that practitioners make differently for good reasons: what each way leads to.

A kind marks such a choice with `Ways`; `other_ways.py` tries each on the plan for what it costs, weighs
and takes, and puts what is said here beside it.
Source: docs/trade-rules.md, “Where good practitioners differ”.
"""

from __future__ import annotations

from stirrup.core.document import Document
from stirrup.core.record import dataclass

Value = str | bool | int | float


@dataclass(frozen=True)
class Way:
    """One way: what the choice is then, what follows from it and what it risks; what else of the thing is
    set with it."""

    value: Value
    told: str
    also: tuple[tuple[str, Value], ...] = ()


@dataclass(frozen=True)
class Ways:
    """Marks a choice with the ways in which it is usually made."""

    each: tuple[Way, ...]


def ways(*each: Way) -> Ways:
    """The mark of a choice that is made in these ways."""
    return Ways(each)


def ways_of(kind: type[Document]) -> dict[str, Ways]:
    """The marked choices of a class of things."""
    return {
        name: mark
        for name, info in kind.model_fields.items()
        for mark in info.metadata
        if isinstance(mark, Ways)
    }
