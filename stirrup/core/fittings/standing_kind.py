"""Kinds whose thing stands somewhere in plan, and as high as what it stands on."""

from __future__ import annotations

from typing import Any, Generic, Protocol, TypeVar

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.kind import FINE_M, Kind, Path, off_centre
from stirrup.core.document import Point


class Standing(Protocol):
    """Choices with a middle in plan [m]."""

    x: float
    y: float


S = TypeVar("S", bound=FittingBase)


def shifted(c: Standing, by: Point) -> list[tuple[Path, float]]:
    """Along and across; how high it stands follows from what it stands on."""
    places = ((0, "x", c.x), (1, "y", c.y))
    return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]


class StandingKind(Kind[S], Generic[S]):
    """Moved along and across, and mirrored at the centreline."""

    def shift(self, c: S, by: Point) -> list[tuple[Path, float]]:
        return shifted(c, by)  # type: ignore[arg-type]

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
