"""Findings and their working: what a check says, with the arithmetic behind it.

Sentences carry named quantities; text in the reader's units is made at the border.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import field
from typing import Literal

from stirrup.core.kept import kept_property
from stirrup.core.memo import Key
from stirrup.core.record import dataclass

Level = Literal["stop", "mend", "look", "fine", "unknown"]
LEVELS: tuple[Level, ...] = ("stop", "mend", "look", "unknown", "fine")


Page = Literal["survey", "layout", "float", "money"]
# while something is dragged: worked out at every step, or a little behind the hand
Pace = Literal["live", "behind"]


@dataclass(frozen=True)
class Check:
    """What stands behind a code: what is looked at, on which page it is mended, whether somebody who
    knows better may accept it, and whether it keeps up with a hand that drags. How she floats may not
    be accepted."""

    code: str
    title: str
    page: Page
    acceptable: bool
    pace: Pace = "live"


CHECKS: dict[str, Check] = {}


def declare(page: Page, titles: Mapping[str, str], acceptable: bool = False, pace: Pace = "live") -> None:
    """Enter the codes of a module's checks, beside the checks themselves. Raises ValueError for a
    code that another module has already."""
    for code, title in titles.items():
        new = Check(code, title, page, acceptable, pace)
        if CHECKS.setdefault(code, new) != new:
            raise ValueError(f"the code {code} is declared twice")


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
    """What happens in trade words, formula with names, inserted values, result and source."""

    formula: str
    inputs: tuple[Input, ...]
    result: Quantity
    source: str
    words: str = ""


def plain(name: str) -> str:
    """A typed name as part of a finding's template."""
    return name.replace("{", "(").replace("}", ")")


@dataclass(frozen=True)
class Fix:
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
    fixes: tuple[Fix, ...] = ()
    old: bool = False  # as it was before the last step of the hand; what it says now follows

    @kept_property
    def told(self) -> Key:
        """What it says: the same of two that say the same about the same thing with the same amounts."""
        about = (self.code, self.level, self.place, self.other)
        return Key((*about, self.title, self.text, tuple(self.values.items())))

    @property
    def check(self) -> Check:
        """What was looked at."""
        return CHECKS[self.code]

    @property
    def may_be_accepted(self) -> bool:
        """Whether somebody who knows better may say that it is meant."""
        return self.check.acceptable and self.level not in ("fine", "unknown")


@dataclass(frozen=True)
class Counts:
    """How many findings there are of each level."""

    stop: int = 0
    mend: int = 0
    look: int = 0
    unknown: int = 0
    fine: int = 0

    @property
    def open(self) -> int:
        """What has to be done something about: to stop at or to mend."""
        return self.stop + self.mend

    @property
    def words(self) -> str:
        """ "1 stop, 3 mend", "3 mend", "nothing"."""
        told = [f"{n} {level}" for n, level in ((self.stop, "stop"), (self.mend, "mend")) if n]
        return ", ".join(told) or "nothing"


def count(findings: Iterable[Finding]) -> Counts:
    """The one place where findings are counted: strip, yard, pins and history show this."""
    levels = [f.level for f in findings]
    return Counts(*(levels.count(level) for level in ("stop", "mend", "look", "unknown", "fine")))


def distinct(findings: Iterable[Finding]) -> list[Finding]:
    """Findings in their order, each once: the same about the same thing with the same amounts."""
    first: dict[Key, Finding] = {}
    for f in findings:
        first.setdefault(f.told, f)
    return list(first.values())
