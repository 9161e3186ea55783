"""How things really stand once they are in: what was read off the boat, beside what the plan had.

The plan itself takes the reading over (see arrange/as_it_stands.py), so that all that is measured off a
thing follows how it came out; what is kept here is the difference, and that nobody moves it unnoticed.
"""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import Field, model_validator

from stirrup.core.contract.extent import AXIS_OF, Edge
from stirrup.core.document import Document, Id
from stirrup.core.quantities import Length

Shape = Literal["higher at the fore end", "higher on the port side", "out of flat"]
What = Edge | Shape
SHAPES: tuple[str, ...] = get_args(Shape)
MOST_STOOD = 300


class Stood(Document):
    """One reading: an edge that stands somewhere [m, along its own axis], or how far a thing is out of
    level or of flat [m]; planned: where the plan had it, 0 for level and flat."""

    id: Id
    thing: Id
    what: What = Field(title="What was read")
    planned: Length = Field(0.0, ge=-60, le=60)
    stands: Length = Field(ge=-60, le=60)
    spread: Length = Field(0.002, ge=0, le=0.1, title="May be off by")
    note: str = Field("", max_length=200)

    @model_validator(mode="after")
    def _small(self) -> Stood:
        if self.what in SHAPES and abs(self.stands) > 0.5:
            raise ValueError(f"stands: read {self.stands:g} m {self.what}; accepted: up to 0.5 m")
        return self

    @property
    def is_edge(self) -> bool:
        """Whether it says where an edge is."""
        return self.what in AXIS_OF

    @property
    def off(self) -> float:
        """How far it stands from where it was to be [m]."""
        return self.stands - self.planned


def check_stood(stood: tuple[Stood, ...], ids: set[str]) -> None:
    """Raise ValueError for a reading of what is not there, and for two of one edge."""
    seen: set[str] = set()
    read: set[tuple[str, str]] = set()
    for k, one in enumerate(stood):
        if one.id in seen:
            raise ValueError(f"stood[{k}].id: “{one.id}” is used twice")
        seen.add(one.id)
        if one.thing not in ids:
            raise ValueError(f"stood[{k}].thing: nothing has the id “{one.thing}”")
        if (one.thing, one.what) in read:
            raise ValueError(f"stood[{k}].what: “{one.what}” of “{one.thing}” is read twice")
        read.add((one.thing, one.what))
