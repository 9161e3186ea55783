"""How this boat's parts are cut: what the tools take away, and the leftovers that are there for it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from stirrup.core.document import LEAST_SIZE_M, Document, Id, StockRef
from stirrup.core.quantities import Length

MOST_RESTS, MOST_ALIKE = 100, 50
Side = Annotated[Length, Field(ge=LEAST_SIZE_M, le=20)]
Alike = Annotated[int, Field(ge=1, le=MOST_ALIKE)]


class Rest(Document):
    """A leftover, or what was bought earlier: how many alike, where it is."""

    id: Id
    stock: Id
    count: Alike = Field(1, title="How many")
    place: str = Field("", max_length=60, title="Where it is")


class SheetRest(Rest):
    """Of a sheet: what of, how large."""

    stock: Annotated[Id, StockRef("sheet")] = Field(title="Of")
    width: Side = Field(title="Along the grain")
    height: Side = Field(title="Across it")


class StickRest(Rest):
    """Of a stick: what of, how long."""

    stock: Annotated[Id, StockRef("section")] = Field(title="Of")
    length: Side = Field(title="Long")


class Cutting(Document):
    """The tools and the rack."""

    kerf: Length = Field(
        0.003, ge=0, le=0.02, title="Saw cut in sheets",
        description="circular saw 3 mm, jigsaw or plasma 1.5, router 6, shears 0",
    )  # fmt: skip
    margin: Length = Field(0.006, ge=0, le=0.1, title="Edge of a sheet left out")
    straight: bool = Field(
        False,
        title="Straight cuts only",
        description="table saw or shears: every cut goes from edge to edge",
    )
    stick_kerf: Length = Field(0.003, ge=0, le=0.02, title="Saw cut in sticks")
    trim: Length = Field(0.005, ge=0, le=0.1, title="Trimmed off each end of a stick")
    sheets: tuple[SheetRest, ...] = Field((), max_length=MOST_RESTS)
    sticks: tuple[StickRest, ...] = Field((), max_length=MOST_RESTS)

    @property
    def rests(self) -> tuple[Rest, ...]:
        """Everything on the rack."""
        return (*self.sheets, *self.sticks)


def check_rests(cutting: Cutting) -> None:
    """Raise ValueError for an id that stands twice on the rack."""
    ids = [("sheets", k, r.id) for k, r in enumerate(cutting.sheets)]
    ids += [("sticks", k, r.id) for k, r in enumerate(cutting.sticks)]
    seen: set[str] = set()
    for group, k, id_ in ids:
        if id_ in seen:
            raise ValueError(f"cutting.{group}[{k}].id: “{id_}” is used twice")
        seen.add(id_)
