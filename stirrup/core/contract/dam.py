"""What keeps water on the bottom from running off."""

from __future__ import annotations

from stirrup.core.document import Point
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Dam:
    """What holds water up on the bottom: its foot from its aft end forward, and how far along that, in
    plan, it lets water through [m]."""

    foot: tuple[Point, ...]
    outlets: tuple[float, ...] = ()
