"""The beds of an inboard or jet engine: a pair along the bottom that its feet are bolted to."""

from stirrup.core.kinds.engine_bed.choices import EngineBed
from stirrup.core.kinds.engine_bed.kind import KIND

__all__ = ["KIND", "EngineBed"]
