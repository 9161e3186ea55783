"""What every thing of a plan has, and what it needs of others."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Literal, Protocol

from pydantic import Field

from stirrup.core.contract.extent import Extent
from stirrup.core.document import Document, Id, Name, Relation, ThingRef
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.catalogue import EMPTY, Catalogue
from stirrup.core.record import dataclass

Group = Literal["fittings", "items", "tanks", "buoyancy", "existing"]  # lists of the plan


class Named(Protocol):
    """What parts of a fitting are named after."""

    @property
    def id(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def code(self) -> str: ...


class Thing(Protocol):
    """Anything of a plan that has a place: a fitting, an item, a tank, structure that is there."""

    @property
    def id(self) -> str: ...
    @property
    def title(self) -> str: ...


class FittingBase(Document):
    """What every fitting has. `mark` is its short code on labels and stays with it."""

    id: Id
    name: Name
    mark: str | None = Field(None, min_length=1, max_length=16)

    @property
    def code(self) -> str:
        return self.mark or self.id

    @property
    def title(self) -> str:
        return self.name


# what things offer one another, as hosts are called: one, several
OFFERED: dict[str, tuple[str, str]] = {
    "opening": ("deck", "decks"),
    "sole": ("floor", "floors"),
    "face": ("deck with a face", "decks with a face"),
    "floor": ("floor", "floors"),
    "helm": ("console", "consoles"),
    "liquid": ("tank", "tanks"),
    "battery": ("battery", "batteries"),
    "motor": ("motor", "motors"),
    "loose": ("cooler or box", "coolers and boxes"),
}


@dataclass(frozen=True)
class Tie:
    """What a thing needs another one for: the choice that names it, its id, how the two stand to
    one another, and what the other must offer. needed: without it the thing cannot be."""

    field: str
    to: str
    relation: Relation
    offer: str
    needed: bool = True


def ties_of(thing: Document) -> tuple[Tie, ...]:
    """What a thing needs of others, read off its fields that name one."""
    return tuple(
        Tie(name, str(to), mark.relation, mark.offer, needed)
        for name, mark, needed in _ties_in(type(thing))
        if (to := getattr(thing, name))
    )


@cache
def _ties_in(kind: type[Document]) -> tuple[tuple[str, ThingRef, bool], ...]:
    """Fields of a class of things that name another one, and whether they have to."""
    return tuple(
        (name, mark, info.is_required())
        for name, info in kind.model_fields.items()
        for mark in info.metadata
        if isinstance(mark, ThingRef)
    )


@dataclass(frozen=True)
class Where:
    """What a kind may ask about the plan that its thing stands in: the hull, and others by id."""

    surface: HullSurface
    find: Callable[[str], Document | None] = lambda _: None
    extent: Callable[[str], Extent | None] = lambda _: None
    catalogue: Catalogue = EMPTY  # the entries that the plan names
