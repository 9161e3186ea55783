"""A hatch in a deck: its lid flush on landings, over a gutter, or on top."""

from stirrup.core.kinds.hatch.build import build
from stirrup.core.kinds.hatch.choices import Hatch, gap_m, landing_m, opening
from stirrup.core.kinds.hatch.kind import KIND

__all__ = ["KIND", "Hatch", "build", "gap_m", "landing_m", "opening"]
