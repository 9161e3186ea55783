"""What runs along the bottom from one end to the other, straight or splayed: its ends, how it is moved."""

from __future__ import annotations

from typing import Any, Generic, TypeVar

from pydantic import Field, model_validator

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.kind import FINE_M, Kind, Path, off_centre
from stirrup.core.document import Point
from stirrup.core.quantities import Length

LEAST_LONG_M = 0.3
BESIDE_M = 0.25  # from one to the next
NEAR_M = 0.30  # of the centreline: the next one lies outboard


class SplayedBase(FittingBase):
    """Its ends and how far off the centreline they are."""

    aft: Length = Field(ge=-2, le=40, title="Aft end, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore end")
    y: Length = Field(ge=-5, le=5, title="From centreline, aft", description="to port +")
    y_fore: Length | None = Field(
        None, ge=-5, le=5, title="From centreline, fore", description="empty: parallel to it"
    )

    @model_validator(mode="after")
    def _long(self) -> SplayedBase:
        if self.fore - self.aft < LEAST_LONG_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft end at {self.aft:g} m; accepted: at least "
                f"{LEAST_LONG_M:g} m further forward"
            )
        return self

    @property
    def ends_y(self) -> tuple[float, float]:
        """Off the centreline at its aft and its fore end [m]."""
        return self.y, self.y if self.y_fore is None else self.y_fore


S = TypeVar("S", bound=SplayedBase)


class SplayedKind(Kind[S], Generic[S]):
    """Moved along and across with both of its ends; its ends are drawn out."""

    def shift(self, c: S, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            # the end that goes first, so that neither passes the other on the way
            ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
            out += reversed(ends) if by[0] > 0 else ends
        if abs(by[1]) > FINE_M / 2:
            out.append((("y",), c.y + by[1]))
            if c.y_fore is not None:
                out.append((("y_fore",), c.y_fore + by[1]))
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore") else None

    def mirror(self, value: dict[str, Any]) -> None:
        place = f"fittings.{value['id']}"
        if value.get("y_fore") is not None:
            value["y_fore"] = -value["y_fore"]
        value["y"] = off_centre(value["y"], place)

    def put_beside(self, value: dict[str, Any]) -> None:
        """The next one inboard, or outboard of one near the middle."""
        hand = 1.0 if value["y"] >= 0 else -1.0
        by = -hand * BESIDE_M if abs(value["y"]) > NEAR_M else hand * BESIDE_M
        value["y"] = round(value["y"] + by, 4)
        if value.get("y_fore") is not None:
            value["y_fore"] = round(value["y_fore"] + by, 4)
