"""The kinds of fitting there are. A new kind adds its module and one entry here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from stirrup.core.fittings import hatch, raised_deck
from stirrup.core.fittings.contract import FittingKind
from stirrup.core.fittings.hatch import Hatch
from stirrup.core.fittings.raised_deck import RaisedDeck

KINDS: dict[str, FittingKind] = {
    "raised_deck": raised_deck.KIND,
    "hatch": hatch.KIND,
}

Fitting = Annotated[RaisedDeck | Hatch, Field(discriminator="kind")]


def kind_of(fitting: RaisedDeck | Hatch) -> FittingKind:
    """Registry entry of a fitting."""
    return KINDS[fitting.kind]
