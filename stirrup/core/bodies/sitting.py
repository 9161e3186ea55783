"""Room for whoever sits on a thing. Sizes are working values."""

from __future__ import annotations

from stirrup.core.bodies.item import ItemBase
from stirrup.core.document import Size
from stirrup.core.space.room import ahead
from stirrup.core.space.shapes import Prism

FOOT_ROOM_M = 0.30  # ahead of a seat's cushion
FOOT_ROOM_WIDE_M = 0.40
FOOT_HIGH_M = 0.25  # room for the feet and shins over the floor


def feet_ahead(c: ItemBase, size: Size) -> Prism:
    """Where the feet go ahead of a seat, over what it stands on."""
    (along, across, up), (x, y, z) = size, c.mass.centre
    low = z - up / 2
    wide = min(across, FOOT_ROOM_WIDE_M)
    return ahead((x, y), c.turn, along / 2, along / 2 + FOOT_ROOM_M, wide, low + 0.02, low + FOOT_HIGH_M)
