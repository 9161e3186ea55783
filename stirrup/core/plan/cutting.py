"""How this boat's parts are cut: what the tools take away, and the leftovers that are there for it."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.cutting.own_outline import Holes, Outline, check_outline
from stirrup.core.document import LEAST_SIZE_M, Document, Id, StockRef
from stirrup.core.quantities import Length

MOST_RESTS, MOST_ALIKE, MOST_DONE, MOST_PARTS, MOST_PINNED = 100, 50, 300, 300, 300
Side = Annotated[Length, Field(ge=LEAST_SIZE_M, le=20)]
PartKey = Annotated[str, Field(min_length=1, max_length=100)]
Alike = Annotated[int, Field(ge=1, le=MOST_ALIKE)]


class Rest(Document):
    """A leftover, or what was bought earlier: how many alike, where it is."""

    id: Id
    stock: Id
    count: Alike = Field(1, title="How many")
    place: str = Field("", max_length=60, title="Where it is")
    photo: Id | None = None


class SheetRest(Rest):
    """Of a sheet: what of, how large."""

    stock: Annotated[Id, StockRef("sheet")] = Field(title="Of")
    width: Side = Field(title="Along the grain")
    height: Side = Field(title="Across it")
    outline: Outline = Field((), description="of one that is no rectangle, from (0, 0) on [m]")
    holes: Holes = ()

    @model_validator(mode="after")
    def _closed(self) -> SheetRest:
        if self.outline:
            check_outline(self.outline, self.holes, (self.width, self.height))
        elif self.holes:
            raise ValueError("holes: accepted with an outline")
        return self


class StickRest(Rest):
    """Of a stick: what of, how long."""

    stock: Annotated[Id, StockRef("section")] = Field(title="Of")
    length: Side = Field(title="Long")


class Pinned(Document):
    """A part that stays where somebody put it: on which sheet of its stock, counted from 1 among those with
    pins, on which leftover (empty: one that is bought), turned by `rotation` [deg] about (0, 0), mirrored
    first if flipped, then shifted [m]."""

    id: PartKey
    stock: Id
    sheet: int = Field(1, ge=1, le=MOST_PINNED)
    on: Annotated[str, Field(max_length=60)] = ""
    rotation: Literal[0, 90, 180, 270] = 0
    x: Annotated[float, Field(ge=-40, le=40)] = 0.0
    y: Annotated[float, Field(ge=-40, le=40)] = 0.0
    flipped: bool = False


class Closer(Document):
    """How hard to look for a close layout of one stock [units of work]."""

    id: Id
    work: Literal[1000, 5000] = 1000


class CutUp(Document):
    """A sheet or a stick that is cut: of which stock, whether it came from the rack, what was cut from it.

    Its parts are not laid out again as long as they are noted as cut.
    """

    id: Id
    stock: Id
    own: bool = False
    length: Side | None = Field(None, description="that was cut off a roll")
    parts: tuple[Annotated[str, Field(min_length=1, max_length=100)], ...] = Field(
        (), max_length=MOST_PARTS
    )


class Cutting(Document):
    """The tools, the rack, and what is cut up already."""

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
    scribe: Length | None = Field(
        None, ge=0, le=0.1, title="Left standing along the hull, to be scribed",
        description="empty: 10 mm on a moulded hull, nothing on folded sheet",
    )  # fmt: skip
    brake_long: Length | None = Field(
        None, gt=0, le=10, title="Brake: longest bend", description="empty: not asked"
    )
    brake_thick: Length | None = Field(None, gt=0, le=0.05, title="Brake: thickest sheet")
    shear_thick: Length | None = Field(None, gt=0, le=0.05, title="Shears: thickest sheet")
    saw_deep: Length | None = Field(None, gt=0, le=0.5, title="Saw: cuts so deep")
    table_wide: Length | None = Field(None, gt=0, le=5, title="Saw table: rips so wide")
    sheets: tuple[SheetRest, ...] = Field((), max_length=MOST_RESTS)
    sticks: tuple[StickRest, ...] = Field((), max_length=MOST_RESTS)
    done: tuple[CutUp, ...] = Field((), max_length=MOST_DONE)
    pins: tuple[Pinned, ...] = Field((), max_length=MOST_PINNED)
    closer: tuple[Closer, ...] = Field((), max_length=MOST_RESTS)

    @property
    def opened(self) -> dict[str, float]:
        """How many sheets and sticks of each stock were bought and are cut up; of a roll how much [m]."""
        out: dict[str, float] = {}
        for d in self.done:
            if not d.own:
                out[d.stock] = out.get(d.stock, 0.0) + (1.0 if d.length is None else d.length)
        return out

    def finished(self, noted: Iterable[str]) -> frozenset[str]:
        """Parts that need no more stock: of those noted as cut, the ones whose sheet or stick is cut up."""
        return frozenset(noted) & {key for d in self.done for key in d.parts}

    @property
    def rests(self) -> tuple[Rest, ...]:
        """Everything on the rack."""
        return (*self.sheets, *self.sticks)


def check_rests(cutting: Cutting) -> None:
    """Raise ValueError for an id that stands twice on the rack."""
    ids = [("sheets", k, r.id) for k, r in enumerate(cutting.sheets)]
    ids += [("sticks", k, r.id) for k, r in enumerate(cutting.sticks)]
    ids += [("done", k, d.id) for k, d in enumerate(cutting.done)]
    ids += [("closer", k, f" {c.id}") for k, c in enumerate(cutting.closer)]
    ids += [("pins", k, f"{p.id} ") for k, p in enumerate(cutting.pins)]  # a part's key is no leftover's id
    seen: set[str] = set()
    for group, k, id_ in ids:
        if id_ in seen:
            raise ValueError(f"cutting.{group}[{k}].id: “{id_}” is used twice")
        seen.add(id_)
