"""A seat on a pedestal, complete: seat, pedestal, bolts, and what spreads their pull under the floor."""

from stirrup.core.kinds.pedestal_seat.choices import PedestalSeat
from stirrup.core.kinds.pedestal_seat.kind import KIND

__all__ = ["KIND", "PedestalSeat"]
