"""Handed panels: one is the mirror image of the other, so that the same part cut twice would be wrong."""

from __future__ import annotations

from collections.abc import Iterable

from shapely import Polygon, affinity

from stirrup.core.parts.model import Panel

SAME_SHARE = 0.002  # of the area that two outlines may differ by and be told as one
QUARTERS = (0, 90, 180, 270)


def mirror_of(panel: Panel, others: Iterable[Panel]) -> Panel | None:
    """The panel of the same sheet that this one is the mirror image of, and no turned copy; None where
    there is none, or where either face may be up anyway."""
    if panel.flip or panel.bends:
        return None
    shape = panel.polygon
    image = affinity.scale(shape, xfact=-1.0, yfact=1.0, origin="centroid")
    for other in others:
        if other.key == panel.key or other.stock != panel.stock or other.bends:
            continue
        if abs(other.polygon.area - shape.area) > SAME_SHARE * shape.area:
            continue
        if _turned_copy(image, other.polygon) and not _turned_copy(shape, other.polygon):
            return other
    return None


def _turned_copy(one: Polygon, other: Polygon) -> bool:
    at, to = one.centroid, other.centroid
    moved = affinity.translate(one, to.x - at.x, to.y - at.y)
    most = SAME_SHARE * other.area
    return any(
        affinity.rotate(moved, turn, origin=(to.x, to.y)).symmetric_difference(other).area <= most
        for turn in QUARTERS
    )
