"""Seat on a pedestal: where it stands, and a first one."""

from __future__ import annotations

import math
from collections.abc import Hashable
from typing import Any

from shapely.geometry import Polygon

from stirrup.core.bodies.sitting import behind_wheel
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Seat
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.errors import CoreError
from stirrup.core.fittings.crate_kind import BESIDE_M, floor_under, stands_m
from stirrup.core.fittings.standing_kind import StandingKind
from stirrup.core.fittings.under_floor import standing_under
from stirrup.core.kinds.pedestal_seat.build import build, seats_of
from stirrup.core.kinds.pedestal_seat.choices import PedestalSeat
from stirrup.core.kinds.pedestal_seat.standing import corners, up_m
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Pedestal, Whole

FIRST_M = 0.50  # of a first one, along and across
SEAT_M, BASE_M, POST_M = (0.46, 0.43, 0.50), 0.23, 0.33  # of one whose entries are not carried by the plan


class PedestalSeatKind(StandingKind[PedestalSeat]):
    key, title = "pedestal_seat", "Seat on a pedestal, complete"
    choices = PedestalSeat
    letter = "S"
    entries = (
        Entry("pedestal_seat", "Seat on a pedestal, complete", 2, "seat, pedestal, bolts and plate; how "
              "high one sits follows from them", "chair post swivel base socket", "seat"),
    )  # fmt: skip
    about = (
        "A seat and a pedestal of the catalogue, fixed, going up and down, or with a post that lifts out "
        "of a socket; bolted through the floor over a plate or large washers. Its bolts are held against "
        "somebody thrown against its back; it needs the circle about its corners."
    )

    def extent(self, c: PedestalSeat, where: Where) -> Extent:
        """By its entries of the catalogue; as a first one is where the plan does not carry them."""
        seat, entry = where.catalogue.entries.get(c.seat), where.catalogue.entries.get(c.pedestal)
        pedestal = entry if isinstance(entry, Pedestal) else None
        base = corners(c, pedestal.base if pedestal else BASE_M)
        foot = stands_m(c, base, c.on, where)
        size = seat.size if isinstance(seat, Whole) and seat.size else SEAT_M
        try:
            up = up_m(c, pedestal) if pedestal else POST_M
        except CoreError:
            up = POST_M
        half = (size[0] / 2, size[1] / 2)
        a, b = math.cos(math.radians(c.turn)), math.sin(math.radians(c.turn))
        along, across = abs(a) * half[0] + abs(b) * half[1], abs(b) * half[0] + abs(a) * half[1]
        return Extent((c.x - along, c.x + along), (c.y - across, c.y + across), (foot, foot + up + size[2]))

    def mirror(self, value: dict[str, Any]) -> None:
        super().mirror(value)
        value["turn"] = -value["turn"] if abs(value["turn"]) < 180 else value["turn"]

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + FIRST_M + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Behind the wheel, else on a floor amidships."""
        size = (FIRST_M, FIRST_M, 0.83)
        if placing.at is None:
            placing.at = behind_wheel(placing, size)
        x, y, z = placing.spot(size, 0.36, -0.35, False)
        id_ = placing.id("seat")
        return {
            "kind": self.key, "id": id_, "name": f"Seat {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "on": floor_under(placing, (x, y, z)),
            "x": round(x, 3), "y": round(y, 3),
        }  # fmt: skip

    def seats(self, c: PedestalSeat) -> tuple[Seat, ...]:
        half = FIRST_M / 2
        box = Polygon([(c.x - half, c.y - half), (c.x + half, c.y - half), (c.x + half, c.y + half),
                       (c.x - half, c.y + half)])  # fmt: skip
        return seats_of(c, box, 0.0, c.set_to)

    def reads(self, c: PedestalSeat, host: Built) -> Hashable | None:
        """How high its floor lies under its base, how thick it is, and what is under it."""
        if not host.floors:
            return ("no floor",)
        floor = host.floors[0]
        under = tuple(standing_under(host))
        return ("floor", floor.rise, floor.top_m, floor.under_m, floor.region.wkb, under)

    def idle(self, c: PedestalSeat, catalogue: Catalogue) -> frozenset[str]:
        """How high one is set that does not go up; of what a plate is that is not there."""
        entry = catalogue.entries.get(c.pedestal)
        fixed = isinstance(entry, Pedestal) and entry.high == entry.low
        idle = {"set_to": fixed, "plate": c.under != "backing plate"}
        return frozenset(name for name, so in idle.items() if so)

    def facts(self, c: PedestalSeat) -> str:
        return "seats one"

    def build(self, c: PedestalSeat, site: Site) -> Built:
        return build(c, site)


KIND = PedestalSeatKind()
