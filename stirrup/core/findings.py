"""Findings and their working: what a check says, with the arithmetic behind it.

Sentences carry named quantities; text in the reader's units is made at the border.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

Level = Literal["stop", "mend", "look", "fine", "unknown"]
LEVELS: tuple[Level, ...] = ("stop", "mend", "look", "unknown", "fine")


@dataclass(frozen=True)
class Quantity:
    """A number with its unit: m, mm, kg, deg, m2, m3, kg/m3, kgm, h, count, text."""

    value: float
    unit: str
    finer: bool = False


@dataclass(frozen=True)
class Input:
    """One line of a working: name, value, how it is known."""

    name: str
    quantity: Quantity
    status: str = "computed"


@dataclass(frozen=True)
class Working:
    """Formula with names, inserted values, result and source."""

    formula: str
    inputs: tuple[Input, ...]
    result: Quantity
    source: str


@dataclass(frozen=True)
class Mend:
    """A remedy that one button makes. `words` is a template over the finding's values.

    thing with by: it is moved by (x, y, z) [m]; thing with edge: that edge of it goes to the
    coordinate `value` [m]; path: the choice there is set to `value`.
    """

    words: str
    thing: str = ""
    by: tuple[float, float, float] = (0.0, 0.0, 0.0)
    edge: str = ""
    path: tuple[str, ...] = ()
    value: float | str | bool = 0.0


@dataclass(frozen=True)
class Finding:
    """One result of a check. `text` and `remedy` are templates over `values`."""

    code: str
    level: Level
    place: str  # id of the fitting, item or reading
    title: str
    text: str
    values: Mapping[str, Quantity] = field(default_factory=dict)
    remedy: str = ""
    working: Working | None = None
    other: str = ""  # the second thing, where a finding is about two
    accepted: str = ""  # id of the entry that says it is known and meant
    mends: tuple[Mend, ...] = ()
