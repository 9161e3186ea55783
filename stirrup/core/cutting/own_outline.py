"""Outlines that somebody gives: of a part of his own, or of a leftover that is no rectangle."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Any, Literal, get_args

from pydantic import Field
from shapely.geometry import Polygon
from shapely.validation import explain_validity

from stirrup.core.document import Point2

MOST_CORNERS, MOST_HOLES = 1000, 50
LEAST_M, MOST_M = 0.01, 20.0
FINE_M = 1e-4
Far = Annotated[float, Field(ge=-1, le=MOST_M + 1)]  # m
Outline = Annotated[tuple[tuple[Far, Far], ...], Field(max_length=MOST_CORNERS)]
Holes = Annotated[tuple[Outline, ...], Field(max_length=MOST_HOLES)]


def check_outline(outline: Iterable[Point2], holes: Iterable[Iterable[Point2]], size: Point2) -> None:
    """Raise ValueError for an outline that crosses itself, or that is not from (0, 0) to its size [m]."""
    rings = [list(outline), *(list(h) for h in holes)]
    if any(len(r) < 3 for r in rings):
        raise ValueError("outline: accepted: three corners and more, of holes too")
    shape = Polygon(rings[0], rings[1:])
    if not shape.is_valid:
        raise ValueError(f"outline: {explain_validity(shape)}; accepted: one that does not cross itself")
    bounds = zip(shape.bounds, (0.0, 0.0, *size), strict=True)
    if any(abs(a - b) > FINE_M for a, b in bounds):
        raise ValueError("outline: accepted: from (0, 0) to width and height")


def outline_value(shape: Polygon) -> dict[str, Any]:
    """A shape as width, height, outline and holes from (0, 0) on [m], to a tenth of a millimetre. Raises
    ValueError for one that is too small, too large, or has too many corners."""
    for tolerance in (0.0, 0.00002, 0.0001, 0.0003):
        piece = shape.simplify(tolerance) if tolerance else shape
        if len(piece.exterior.coords) <= MOST_CORNERS and all(len(h.coords) <= MOST_CORNERS
                                                              for h in piece.interiors):  # fmt: skip
            break
    else:
        raise ValueError(f"it has more than {MOST_CORNERS} corners: draw it simpler")
    if len(piece.interiors) > MOST_HOLES:
        raise ValueError(f"it has more than {MOST_HOLES} holes")
    x0, y0, x1, y1 = piece.bounds
    if not (min(x1 - x0, y1 - y0) >= LEAST_M and max(x1 - x0, y1 - y0) <= MOST_M):
        raise ValueError(
            f"it is {x1 - x0:.3f} x {y1 - y0:.3f} m; accepted: from {LEAST_M:g} to {MOST_M:g} m on a side"
        )

    def ring(coords: Any) -> list[list[float]]:
        return [[round(float(x - x0), 5), round(float(y - y0), 5)] for x, y in list(coords)[:-1]]

    return {"width": round(float(x1 - x0), 5), "height": round(float(y1 - y0), 5),
            "outline": ring(piece.exterior.coords),
            "holes": [ring(h.coords) for h in piece.interiors]}  # fmt: skip


Traced = Literal["on its edge", "outside of it", "inside of it"]
TRACED: tuple[Traced, ...] = get_args(Traced)
MOST_OFF_M = 0.1


def as_it_was(shape: Polygon, traced: Traced, pen: float, gone: float) -> Polygon:
    """The piece that somebody traced: its line lies `pen` outside or inside of its edge [m], and `gone` is
    what saw and rot have taken off it all round. Holes are as much smaller as the piece is larger. Raises
    ValueError where nothing of it is left."""
    if not (0 <= pen <= MOST_OFF_M and 0 <= gone <= MOST_OFF_M):
        raise ValueError(f"read {pen:g} and {gone:g} m; accepted: 0 to {MOST_OFF_M:g} m")
    by = gone + {"on its edge": 0.0, "outside of it": -pen, "inside of it": pen}[traced]
    if abs(by) < FINE_M / 10:
        return shape
    grown = shape.buffer(by, join_style="mitre", mitre_limit=4)
    if not isinstance(grown, Polygon) or grown.is_empty:
        raise ValueError("nothing in one piece is left of it: the line lies too far off its edge")
    return grown
