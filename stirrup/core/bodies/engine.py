"""What motors have in common, and how one hung on the transom looks."""

from __future__ import annotations

from typing import Any

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import ItemKind
from stirrup.core.bodies.pictures import pictured
from stirrup.core.contract.gives import Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point, Point2
from stirrup.core.space.shapes import Prism

COWL_M = 0.38  # from the centre of mass to the top of the cowl
RISE_FOR_SETBACK = 8.0  # the water rises behind her: 1 up for 8 back; start value
HUNG_X_M, HUNG_KG = 0.05, 12.0  # a heavier one abaft this hangs on the transom

_COWL = ((-0.17, 0.02), (-0.19, 0.30), (-0.14, 0.38), (0.12, 0.36), (0.16, 0.28), (0.15, 0.02))
_LEG = ((-0.07, 0.02), (-0.07, -0.52), (0.07, -0.50), (0.09, 0.02))
_FOOT = ((-0.18, -0.52), (-0.16, -0.60), (0.12, -0.62), (0.18, -0.56), (0.10, -0.50))
_SKEG = ((-0.04, -0.61), (-0.02, -0.74), (0.05, -0.62))
_PROPELLER = ((-0.19, -0.49), (-0.21, -0.56), (-0.19, -0.63))


def hung(at: Point) -> tuple[Shape, ...]:
    """A plain outboard from the side: cowl, leg, foot, propeller about its centre of mass."""
    x, y, z = at

    def shape(points: tuple[Point2, ...], closed: bool = True) -> tuple[Shape, ...]:
        ring = tuple((x + a, y, z + b) for a, b in points)
        return tuple(Shape("motor", ring, "", v, closed, behind=True) for v in ("side", "far"))

    pairs = [shape(p) for p in (_LEG, _SKEG, _FOOT, _COWL)] + [shape(_PROPELLER, False)]
    return tuple(s for pair in pairs for s in pair)


class MotorKind(ItemKind):
    """A motor: it hangs outside or reaches over the rail, and two of them share their room."""

    plant = "motor"
    company = "motor"
    inside = False
    release = 2.0
    released_because = "its weight off the transom while there is room to lift"

    def is_hung(self, c: ItemBase) -> bool:
        """Whether it is drawn as an outboard: a heavy one behind the transom."""
        return c.size is None and c.mass.centre[0] < HUNG_X_M and c.mass.value > HUNG_KG

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        if not self.is_hung(c):
            return {}
        shapes = [s for s in pictured(c, self.picture) if s.view != "side"]
        return {"shapes": (*shapes, *hung(c.mass.centre)), "top_m": c.mass.centre[2] + COWL_M}
