"""What a thing shows of itself beside its drawing: charts, and details at true scale."""

from __future__ import annotations

from typing import Literal

from stirrup.core.document import Point, Point2
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Curve:
    """One line of a chart: its name, a value for each place; dashed: for comparison."""

    name: str
    values: tuple[float, ...]
    dashed: bool = False


@dataclass(frozen=True)
class Chart:
    """Curves over an angle [deg] to be shown beside a thing: title, what the angle is, the angles, what
    goes up and its unit."""

    title: str
    across: str
    at: tuple[float, ...]
    up: str
    unit: str
    curves: tuple[Curve, ...]


DETAIL_WIDE_M = 0.086  # on paper too: as wide as the sheet beside a drawing, and as a telephone


@dataclass(frozen=True)
class Measure:
    """A dimension of a detail: between two places of the boat, measured across the drawing."""

    words: str
    a: Point
    b: Point


@dataclass(frozen=True)
class Detail:
    """A place where parts meet, to be drawn at true scale: all that is built is cut there by the upright
    plane on which the coordinate `axis` is `at`; middle: of the drawing, along the other level axis and
    up; high: of the drawing, which is DETAIL_WIDE_M across. All lengths in m."""

    title: str
    axis: Literal["x", "y"]
    at: float
    middle: Point2
    high: float
    measures: tuple[Measure, ...] = ()
