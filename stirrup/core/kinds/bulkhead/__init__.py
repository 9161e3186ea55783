"""A bulkhead: a sheet across the boat with its way through, bedded and tabbed, or welded."""

from stirrup.core.kinds.bulkhead.choices import Bulkhead
from stirrup.core.kinds.bulkhead.kind import KIND

__all__ = ["KIND", "Bulkhead"]
