"""A seat on its pedestal where it stands."""

from __future__ import annotations

import math

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.kind import Site
from stirrup.core.document import MassPoint, Point2, Size
from stirrup.core.errors import CoreError
from stirrup.core.fittings.crate_kind import foot_m
from stirrup.core.kinds.pedestal_seat.choices import PedestalSeat
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Pedestal, Whole
from stirrup.core.record import dataclass

CUSHION_M = 0.10  # of a seat, over its underside: working value
SLIDE_M = 0.03  # of height that a slide takes


@dataclass(frozen=True)
class Standing:
    """A seat where it stands: its foot [m], entries of the catalogue, height of its underside over the
    foot [m], its size with the pedestal, and how thick the floor is; 0 where nothing is bolted through."""

    c: PedestalSeat
    foot: float
    seat: Whole
    pedestal: Pedestal
    up: float
    size: Size
    floor: float
    under: tuple[float, float]  # of the floor's underside: its height in the middle, its rise

    @property
    def cushion(self) -> float:
        """Of its cushion over the foot [m]."""
        return self.up + CUSHION_M

    @property
    def item(self) -> ItemBase:
        """Seat and pedestal as one body."""
        c, half = self.c, self.size[2] / 2
        mass = MassPoint(value=1.0, centre=(c.x, c.y, self.foot + half))
        return ItemBase(id=c.id, name=c.name, mass=mass, form="seat", size=self.size, turn=c.turn)


def entries_of(c: PedestalSeat, catalogue: Catalogue) -> tuple[Whole, Pedestal]:
    """Raises CoreError for what is no seat or no pedestal."""
    seat, pedestal = catalogue.find(c.seat), catalogue.find(c.pedestal)
    if not isinstance(seat, Whole) or seat.size is None:
        raise CoreError(f"read {c.seat}; accepted: a seat whose size is in the catalogue",
                        f"fittings.{c.id}.seat")  # fmt: skip
    if not isinstance(pedestal, Pedestal):
        raise CoreError(f"read {c.pedestal}; accepted: a pedestal", f"fittings.{c.id}.pedestal")
    return seat, pedestal


def up_m(c: PedestalSeat, pedestal: Pedestal) -> float:
    """From the floor to the seat's underside [m]. Raises CoreError beyond what the pedestal reaches."""
    at = (pedestal.low + pedestal.high) / 2 if c.set_to is None else c.set_to
    if not pedestal.low - 1e-9 <= at <= pedestal.high + 1e-9 and pedestal.high > pedestal.low:
        raise CoreError(
            f"read {at:.3f} m; accepted: {pedestal.low:.3f} to {pedestal.high:.3f} m of {pedestal.name}",
            f"fittings.{c.id}.set_to",
        )
    return (at if pedestal.high > pedestal.low else pedestal.low) + SLIDE_M * c.slide


def corners(c: PedestalSeat, across: float) -> tuple[Point2, ...]:
    """Of the square round its base in plan."""
    a, b = math.cos(math.radians(c.turn)) * across / 2, math.sin(math.radians(c.turn)) * across / 2
    return tuple(
        (c.x + u * a - v * b, c.y + u * b + v * a) for u, v in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    )


def lay_out(c: PedestalSeat, site: Site) -> Standing:
    """A seat where it stands on its site. Raises CoreError outside of the boat."""
    seat, pedestal = entries_of(c, site.catalogue)
    host = site.host
    there = host.floors[0] if host is not None and host.floors else None
    ring = corners(c, pedestal.base)
    foot = foot_m(c, ring, site.surface, None if there is None else there.highest(ring))
    up = up_m(c, pedestal)
    assert seat.size is not None
    thick = there.top_m - there.under_m if there is not None else 0.0
    size = (seat.size[0], seat.size[1], up + seat.size[2])
    under = (there.top_at(c.x) - thick, there.rise) if there is not None else (foot, 0.0)
    return Standing(c, foot, seat, pedestal, up, size, thick, under)
