"""What good practitioners do differently: chosen once for the build, and otherwise for one thing.

A kind marks such a choice as its own with `School(name)`; empty, it is done as the build does it.
Source: docs/trade-rules.md, “Where good practitioners differ”.
"""

from __future__ import annotations

from functools import cache
from typing import Any, Literal, TypeVar

from pydantic import Field

from stirrup.core.document import Document
from stirrup.core.record import dataclass

Edges = Literal["wrapped", "flush"]
OldPaint = Literal["all off", "only what is loose", "keyed"]
Lies = Literal["level", "falls aft"]
T = TypeVar("T", bound=Document)


@dataclass(frozen=True)
class School:
    """Marks a choice that is the build's unless a thing says otherwise: which of `Schools`."""

    name: str


class Schools(Document):
    """How this build does what others do otherwise. What a file leaves out is as it always was."""

    edges: Edges = Field(
        "wrapped",
        title="Carpet and vinyl at edges and lids",
        description="wrapped: no raw edge is seen, every gap is wider by the cover, and it keeps water at "
        "the edge of wood; flush: smaller gaps, the cover ends at the edge, and the edge of wood is "
        "sealed before",
    )
    floors: Lies = Field(
        "level",
        title="Floors",
        description="level: quick to set, and water stands where the trim leaves it; falls aft: water runs "
        "to the bilge also while she lies level, the fore end is felt underfoot, things that stand on it "
        "are packed up aft, and setting its bearers takes a second height line",
    )

    paint: OldPaint = Field(
        "only what is loose",
        title="Old paint",
        description="all off: the new coat bonds to the skin, with much dust and many hours; only what is "
        "loose: feathered edges and a primer over them; keyed: sound paint is sanded dull, quick, and the "
        "new coat holds as well as the old one does",
    )


# in the order in which they are offered to a new build: what most do today
USUAL = Schools(edges="flush", floors="falls aft")


@cache
def marked(kind: type[Document]) -> tuple[tuple[str, str], ...]:
    """Choices of a class of things that are the build's unless set, and which of its schools each is."""
    return tuple(
        (name, mark.name)
        for name, info in kind.model_fields.items()
        for mark in info.metadata
        if isinstance(mark, School)
    )


def follows_build(thing: Document) -> bool:
    """Whether it leaves a choice to the build."""
    return any(getattr(thing, field) is None for field, _ in marked(type(thing)))


def as_the_build(thing: T, schools: Schools) -> T:
    """A thing with what it leaves to the build filled in; the same object where it leaves nothing."""
    left: dict[str, Any] = {
        field: getattr(schools, name)
        for field, name in marked(type(thing))
        if getattr(thing, field) is None
    }
    return thing.model_copy(update=left) if left else thing
