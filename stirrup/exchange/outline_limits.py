"""What drawings that come in are held to, and what reading one gives."""

from __future__ import annotations

from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass

MOST_BYTES = 8_000_000
MOST_ENTITIES = 20_000
MOST_POINTS = 400_000
FLAT_MM = 0.02  # that a chord may lie off its curve
UNITS_MM: dict[str, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}


@dataclass(frozen=True)
class Read:
    """Runs of points [m], y up; the unit that the file says, empty for none; what is left out, in words."""

    runs: list[list[Point2]]
    unit: str
    left: list[str]


def check_count(count: int, name: str) -> None:
    """Raise CoreError for a drawing of too many things."""
    if count >= MOST_ENTITIES:
        raise CoreError(
            f"“{name}” draws more than {MOST_ENTITIES} things; accepted here: outlines only", "file"
        )


def check_points(count: int, name: str) -> None:
    """Raise CoreError for a drawing of too many points."""
    if count > MOST_POINTS:
        raise CoreError(
            f"“{name}” has more than {MOST_POINTS} points; accepted here: outlines only", "file"
        )


def left_out(left: dict[str, int]) -> list[str]:
    """What is not taken, by what it is."""
    return [f"{count} of {what.lower()} left out" for what, count in sorted(left.items())]
