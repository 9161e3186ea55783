"""Kinds that go round another thing and have no place of their own: a tray, a shell."""

from __future__ import annotations

from typing import Any, ClassVar, Generic, TypeVar

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.kind import Kind, Path
from stirrup.core.document import Point
from stirrup.core.errors import CoreError

C = TypeVar("C", bound=FittingBase)


class CarriedKind(Kind[C], Generic[C]):
    """It is where what it goes round is, a little larger; moved, that is moved."""

    alone = True
    brief = True  # what it goes round has a name beside it
    round_it: ClassVar[str]  # the choice that names what it goes round
    what: ClassVar[str]  # how that is spoken of

    def carrier(self, c: C) -> str | None:
        return str(getattr(c, self.round_it))

    def around(self, c: C, where: Where) -> tuple[float, float, float, float]:
        """How much further it reaches to the sides, along and across, down and up [m]."""
        raise NotImplementedError

    def extent(self, c: C, where: Where) -> Extent:
        host = where.extent(str(self.carrier(c)))
        if host is None:
            raise CoreError(f"its {self.what} is not in the plan", f"fittings.{c.id}.{self.round_it}")
        along, across, down, up = self.around(c, where)
        return Extent((host.x[0] - along, host.x[1] + along), (host.y[0] - across, host.y[1] + across),
                      (host.z[0] - down, host.z[1] + up))  # fmt: skip

    def shift(self, c: C, by: Point) -> list[tuple[Path, float]]:
        """None of its own: see `carrier`."""
        return []

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError(
            f"it goes round its {self.what}: place one round the other", f"fittings.{value['id']}"
        )

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError(
            f"it goes round its {self.what}: place one round the other", f"fittings.{value['id']}"
        )
