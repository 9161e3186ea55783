"""How a panel had to be changed after its template was tried in the boat: gaps at marks along its edges."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated

from pydantic import Field, model_validator

from stirrup.core.document import Document, Id
from stirrup.core.quantities import Length

MOST_MARKS, MOST_FITTED = 60, 300
MOST_GAP_M = 0.08
Gap = Annotated[Length, Field(ge=-MOST_GAP_M, le=MOST_GAP_M)]


class Mark(Document):
    """Gaps where the outline was looked at: so far along it [m], at its lower and its upper edge as it is
    drawn; positive where the panel was too small, negative where it was too large [m]."""

    at: Length = Field(ge=0, le=50)
    low: Gap = 0.0
    high: Gap = 0.0


class Fitted(Document):
    """One panel that was tried in the boat; upright: its marks run up instead of along."""

    id: str = Field(min_length=1, max_length=100, description="key of the panel")
    thing: Id
    upright: bool = False
    marks: tuple[Mark, ...] = Field(min_length=2, max_length=MOST_MARKS)

    @model_validator(mode="after")
    def _in_order(self) -> Fitted:
        places = [m.at for m in self.marks]
        if any(b <= a for a, b in pairwise(places)):
            raise ValueError("marks: each has to lie further along than the one before")
        return self

    @property
    def worst(self) -> float:
        """The largest gap, with its sign [m]."""
        return max((g for m in self.marks for g in (m.low, m.high)), key=abs)


def check_fitted(fitted: tuple[Fitted, ...], ids: set[str]) -> None:
    """Raise ValueError for a panel that is fitted twice, and for one of a thing that is not there."""
    seen: set[str] = set()
    for k, one in enumerate(fitted):
        if one.id in seen:
            raise ValueError(f"fitted[{k}].id: “{one.id}” is used twice")
        seen.add(one.id)
        if one.thing not in ids:
            raise ValueError(f"fitted[{k}].thing: nothing has the id “{one.thing}”")
