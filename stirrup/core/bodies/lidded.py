"""Boxes with a hinged lid on top: the lid's room and how they look."""

from __future__ import annotations

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture
from stirrup.core.contract.gives import Lift
from stirrup.core.document import Size
from stirrup.core.space.room import Room, axes, sector

_LID = Line("form-line", ((-0.86, -0.86), (0.86, -0.86), (0.86, 0.86), (-0.86, 0.86)))
_HINGE = Line("form-hinge", ((0.96, -0.8), (0.96, 0.8)), False)
_SEAM = Line("form-line", ((-1, 0.82), (1, 0.82)), False)


class LiddedKind(ItemKind):
    """A box that takes gear, under a lid hinged on its fore side."""

    picture = Picture((_LID, _HINGE), (Line("form-body", BOX), _SEAM))
    lifted = Lift((0.0, 0.0, 0.0))
    holds = True

    def sized_rooms(self, c: ItemBase, size: Size) -> list[Room]:
        (along, across, up), (x, y, z) = size, c.mass.centre
        ahead, port = axes(c.turn)
        hinge = (x + ahead[0] * along / 2, y + ahead[1] * along / 2, z + up / 2 + 0.002)
        lid = sector(hinge, port, (-ahead[0], -ahead[1]), across / 2, along)
        return [self.room(c, "lid swings", lid)]
