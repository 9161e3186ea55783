"""Restraint seat: where it stands, and a first one."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

from stirrup.core.bodies.sitting import behind_wheel
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Seat
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.fittings.crate_kind import BESIDE_M, floor_under, stands_m
from stirrup.core.fittings.standing_kind import StandingKind
from stirrup.core.fittings.under_floor import standing_under
from stirrup.core.kinds.restraint_seat.build import build, outline, seats_of
from stirrup.core.kinds.restraint_seat.choices import RestraintSeat

FIRST = (0.60, 0.60, 1.1)  # of a first one, with its brackets


class RestraintSeatKind(StandingKind[RestraintSeat]):
    key, title = "restraint_seat", "Restraint seat"
    choices = RestraintSeat
    letter = "S"
    entries = (
        Entry("restraint_seat", "Restraint seat on six brackets", 2, "for boats that race: to class rules "
              "and by a qualified welder only", "race harness belts shell bucket"),
    )  # fmt: skip
    about = (
        "A bought shell on six brackets folded from plate, bolted through the floor over plates, or "
        "welded. The height of its belt slots is chosen, so that seats of different shells come level; the "
        "brackets' heights follow, each with its flat pattern. How its bolts are pulled and its brackets "
        "bent by what your class asks is a screening. Seat, belts and what holds them go by class rules."
    )

    def extent(self, c: RestraintSeat, where: Where) -> Extent:
        x0, y0, x1, y1 = outline(c).bounds
        foot = stands_m(c, ((x0, y0), (x1, y0), (x1, y1), (x0, y1)), c.on, where)
        return Extent((x0, x1), (y0, y1), (foot, foot + c.at(-c.depth / 2, c.high)[1]))

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + FIRST[0] + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Behind the wheel, else on a floor amidships."""
        if placing.at is None:
            placing.at = behind_wheel(placing, FIRST)
        x, y, z = placing.spot(FIRST, 0.36, -0.35, False)
        id_ = placing.id("seat")
        return {
            "kind": self.key, "id": id_, "name": f"Seat {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "on": floor_under(placing, (x, y, z)),
            "x": round(x, 3), "y": round(y, 3),
        }  # fmt: skip

    def seats(self, c: RestraintSeat) -> tuple[Seat, ...]:
        return seats_of(c, 0.0)

    def reads(self, c: RestraintSeat, host: Built) -> Hashable | None:
        """How high and how thick its floor is, and where it ends."""
        if not host.floors:
            return ("no floor",)
        floor = host.floors[0]
        under = tuple(standing_under(host))
        return ("floor", floor.rise, floor.top_m, floor.under_m, floor.region.wkb, under)

    def facts(self, c: RestraintSeat) -> str:
        return "seats one, with belts"

    def build(self, c: RestraintSeat, site: Site) -> Built:
        return build(c, site)


KIND = RestraintSeatKind()
