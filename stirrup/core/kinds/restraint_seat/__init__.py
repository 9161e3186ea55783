"""A restraint seat: a bought shell on six brackets that are folded from plate."""

from stirrup.core.kinds.restraint_seat.choices import RestraintSeat
from stirrup.core.kinds.restraint_seat.kind import KIND

__all__ = ["KIND", "RestraintSeat"]
