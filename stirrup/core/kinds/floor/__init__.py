"""Floor: level, on bearers cut to the hull, in as many pieces as its sheets ask for."""

from stirrup.core.kinds.floor.choices import FloorChoices
from stirrup.core.kinds.floor.kind import KIND

__all__ = ["KIND", "FloorChoices"]
