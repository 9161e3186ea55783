"""A stringer: along the bottom, its core in layers, laminated over or welded."""

from stirrup.core.kinds.stringer.choices import Stringer
from stirrup.core.kinds.stringer.kind import KIND

__all__ = ["KIND", "Stringer"]
