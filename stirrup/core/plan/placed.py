"""A thing of a plan together with its kind and what it makes."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Kind, title_of
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Placed:
    """One thing that is or will be in the boat: its kind, its choices, what it makes."""

    kind: Kind[Any]
    choices: Any
    built: Built

    @property
    def id(self) -> str:
        return str(self.choices.id)

    @property
    def title(self) -> str:
        return title_of(self.choices)
