"""A transom rebuilt: core in layers, cut down for its motor, and whether it holds that."""

from stirrup.core.kinds.transom.choices import Transom
from stirrup.core.kinds.transom.kind import KIND

__all__ = ["KIND", "Transom"]
