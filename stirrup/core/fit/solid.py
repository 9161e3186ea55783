"""Something that takes up room, and its name as part of a sentence."""

from __future__ import annotations

from dataclasses import dataclass

from stirrup.core.fit.shapes import Shape


@dataclass(frozen=True)
class Solid:
    """Something that takes up room: whose, what kind, its shape, the group of an item."""

    id: str
    kind: str  # "item", "tank", "deck", "lid", "structure"
    name: str
    shape: Shape
    group: str = ""
