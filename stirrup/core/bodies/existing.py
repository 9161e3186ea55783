"""What a plan says of structure that is there: read by whatever lands on it, or counts what goes."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from stirrup.core.bodies.fate import Fate
from stirrup.core.bodies.was import Was
from stirrup.core.contract.extent import Extent, of_box, of_ring
from stirrup.core.document import Id, Shaped, Stage
from stirrup.core.quantities import Mass, Money


class Existing(Shaped):
    """Structure that is there: decks land on it, notch round it or clear it."""

    id: Id
    name: str = Field("", max_length=80)
    kind: Literal["rib", "stringer", "lip", "well", "thwart", "bulkhead", "knee", "deck", "foam", "other"]
    stage: Stage = "found"
    held: Literal["riveted", "welded", "bonded", "screwed", "loose"] = Field("riveted", title="Held in her")
    weighs: Mass = Field(0.0, ge=0, le=2000, title="Weighs", description="0: not known")
    was: Was | None = Field(None, description="where it stood when she was found, of one that is moved")
    becomes: Fate = Field("waste", title="What becomes of it")
    brings: Money | None = Field(None, ge=0, le=1_000_000, decimal_places=2, title="Brings when sold")

    @model_validator(mode="after")
    def _moved(self) -> Existing:
        if self.was is not None and self.box is None:
            raise ValueError("was: accepted for structure that is given as a box")
        return self

    @property
    def title(self) -> str:
        return self.name or self.id

    @property
    def extent(self) -> Extent:
        """Where it is."""
        return of_box(self.box) if self.box is not None else of_ring(self.outline or ())
