"""A bottom liner: slippery sheet under the bottom, each plate laid flat."""

from stirrup.core.kinds.liner.choices import Liner
from stirrup.core.kinds.liner.kind import KIND

__all__ = ["KIND", "Liner"]
