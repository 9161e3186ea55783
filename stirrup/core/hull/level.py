"""Re-level a survey: rotate all readings so that two of them come to one height."""

from __future__ import annotations

import math
from collections.abc import Mapping

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.model import Hull, KnuckleLine

STEEPEST_DEG = 15.0  # a boat on stands is never further out of level


def _turned(line: KnuckleLine, turn: tuple[float, float], axes: tuple[int, int]) -> KnuckleLine:
    c, s = turn
    a, b = axes
    points = []
    for point in line.points:
        p = list(point)
        p[a], p[b] = c * point[a] + s * point[b], c * point[b] - s * point[a]
        points.append((round(p[0], 6), round(p[1], 6), round(p[2], 6)))
    return KnuckleLine.model_validate({**line.model_dump(), "points": points})


def _checked(angle: float, what: str) -> None:
    if abs(math.degrees(angle)) > STEEPEST_DEG:
        raise CoreError(
            f"the two readings make {abs(math.degrees(angle)):.1f}°; a boat on stands is within "
            f"{STEEPEST_DEG:.0f}°: choose two that should be level {what}"
        )


def level_lengthwise(hull: Hull, low: Point, high: Point) -> tuple[Hull, float]:
    """The hull turned about the transom foot so that two points come to one height; and the
    angle that was taken out [rad], bow high positive.

    Rotation in the x-z plane by atan((z2 - z1) / (x2 - x1)). Raises CoreError when the points
    are too near to one another or too steep.
    """
    dx, dz = high[0] - low[0], high[2] - low[2]
    if abs(dx) < 0.3:
        raise CoreError("the two readings are less than 300 mm apart along her; choose others")
    angle = math.atan(dz / dx)
    _checked(angle, "along her")
    turn = (math.cos(angle), math.sin(angle))
    changed = {
        "lines": [_turned(line, turn, (0, 2)) for line in hull.lines],
        "starboard": None
        if hull.starboard is None
        else [_turned(line, turn, (0, 2)) for line in hull.starboard],
        "floods": [{**f.model_dump(), "at": _turn_point(f.at, turn, (0, 2))} for f in hull.floods],
    }
    return Hull.model_validate({**hull.model_dump(), **_plain(changed)}), angle


def _turn_point(point: Point, turn: tuple[float, float], axes: tuple[int, int]) -> Point:
    p = list(point)
    (c, s), (a, b) = turn, axes
    p[a], p[b] = c * point[a] + s * point[b], c * point[b] - s * point[a]
    return (p[0], p[1], p[2])


def _plain(changed: Mapping[str, object]) -> dict[str, object]:
    def dump(value: object) -> object:
        if isinstance(value, list):
            return [dump(v) for v in value]
        return value.model_dump() if isinstance(value, KnuckleLine) else value

    return {key: dump(value) for key, value in changed.items()}


def level_across(hull: Hull, station: int) -> tuple[Hull, float]:
    """The hull turned about its length so that both sheers stand equally high at a station;
    and the angle taken out [rad], port low positive.

    Needs both sides measured. Raises CoreError otherwise.
    """
    if hull.starboard is None:
        raise CoreError("both sides must be measured to level her across")
    if not 0 <= station < len(hull.lines[-1].points):
        raise CoreError(f"there is no station {station + 1}")
    port, other = hull.lines[-1].points[station], hull.starboard[-1].points[station]
    width = abs(port[1]) + abs(other[1])
    if width < 0.3:
        raise CoreError("she is less than 300 mm wide there; choose a station further aft")
    angle = math.atan((other[2] - port[2]) / width)
    _checked(angle, "across her")
    c, s = math.cos(angle), math.sin(angle)
    # y to port: turning port up by the angle; half-widths of the other side run the other way
    lines = [_turned(line, (c, -s), (1, 2)) for line in hull.lines]
    half = [_flipped(line) for line in hull.starboard]
    right = [_turned(line, (c, s), (1, 2)) for line in half]
    changed: dict[str, object] = {
        "lines": [_outward(line) for line in lines],
        "starboard": [_outward(line) for line in right],
    }
    return Hull.model_validate({**hull.model_dump(), **_plain(changed)}), angle


def _flipped(line: KnuckleLine) -> KnuckleLine:
    return line.model_copy(update={"points": tuple((x, abs(y), z) for x, y, z in line.points)})


def _outward(line: KnuckleLine) -> KnuckleLine:
    """Half-widths do not go below zero: the keel stays on the centreline."""
    return line.model_copy(update={"points": tuple((x, max(0.0, y), z) for x, y, z in line.points)})
