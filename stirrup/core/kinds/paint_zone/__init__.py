"""A zone of the hull that is painted: its area, how it is prepared, coats, and edges to mask."""

from stirrup.core.kinds.paint_zone.choices import PaintZone
from stirrup.core.kinds.paint_zone.kind import KIND

__all__ = ["KIND", "PaintZone"]
