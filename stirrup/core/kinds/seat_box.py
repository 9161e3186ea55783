"""Seat box or bench, built: a crate to sit on, under one or more hinged lids a box for gear."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from pydantic import Field
from shapely import box

from stirrup.core.contract.gives import Built, Floor, Seat, Shape
from stirrup.core.contract.kind import OTHER_SIDE, Entry, Site
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate import Crate, Wall, hold_of, shapes
from stirrup.core.fittings.crate_kind import (
    CrateBase,
    CrateKind,
    crate,
    lid_room,
    lid_support,
    lids_idle,
    made,
    standing_built,
)
from stirrup.core.fittings.lid_support import Support
from stirrup.core.fittings.plate import FINE, PERSON_N, SPRINGY, given_m, stiffness_nm
from stirrup.core.fittings.stock import CoverId, TopId
from stirrup.core.quantities import Angle, Length
from stirrup.core.space.room import Room, ahead

declare("layout", {"LID-GIVES": "how far a seat's lid gives"}, acceptable=True)

EACH_M = 0.45  # breadth of a seat for one: working value
FOOT_ROOM_M, FOOT_HIGH_M = 0.30, 0.25  # ahead of it, and over what it stands on: working values


class SeatBox(CrateBase):
    """Choices for a seat box or bench."""

    kind: Literal["seat_box"] = "seat_box"
    length: Length = Field(0.42, ge=0.25, le=1.2, title="Seat, front to back")
    width: Length = Field(0.95, ge=0.3, le=3, title="Seat, across")
    height: Length = Field(
        0.36, ge=0.15, le=0.8, title="Height", description="over what it stands on, without its cushion"
    )
    lids: int = Field(1, ge=0, le=4, title="Lids, side by side", description="0: closed")
    top: TopId = Field("ply-12", title="Top or lids of")
    hinge: Wall = Field("aft", title="Lids hinged")
    support: Support = Field("none", title="Lids held open by")
    opens: Angle = Field(80.0, ge=40, le=105, title="Lids open to, degrees")
    cover: CoverId = Field("cushion-50", title="Cushion or cover")


def _places(c: SeatBox) -> int:
    """How many sit on it."""
    return max(1, int(c.width / EACH_M + 1e-6))


def _span(c: SeatBox, b: Crate) -> list[Finding]:
    """How far its lids give under somebody: they lie on the walls, and on the bearers between them."""
    one = (b.broad - 2 * b.t) / max(c.lids, 1)
    short, long = sorted((b.deep - 2 * b.t, one))
    stiff = stiffness_nm(b.cap)
    if stiff is None:
        return [Finding("LID-GIVES", "look", c.id, "Nobody knows how stiff its top is",
                        "The catalogue has no modulus of elasticity for its sheet.", {},
                        "Take the maker's table of spans, or try a strip of it.")]  # fmt: skip
    gives = given_m(short, long, stiff)
    work = Working(
        "w = Navier's series, a patch of 100 x 200 mm in the middle of a plate on its four edges",
        (Input("short span", Quantity(short, "m"), "between what carries it"),
         Input("long span", Quantity(long, "m")),
         Input("thickness", Quantity(b.cap.thickness, "m", True), "stock"),
         Input("somebody heavy, moving", Quantity(PERSON_N / 9.81, "kg"), "working value")),
        Quantity(gives, "m", True), "rules of the trade, “Boxes and benches”",
    )  # fmt: skip
    values = {"gives": Quantity(gives, "m", True), "short": Quantity(short, "m"),
              "most": Quantity(short / FINE, "m", True)}  # fmt: skip
    text = "Under somebody heavy it gives {gives} over {short}; up to {most} feels firm. A screening."
    if gives <= short / FINE:
        return [Finding("LID-GIVES", "fine", c.id, "Firm to sit on", text, values, working=work)]
    springy = gives <= short / SPRINGY
    return [
        Finding("LID-GIVES", "look" if springy else "mend", c.id,
                "Springy to sit on" if springy else "Too thin to sit on", text, values,
                "Take a thicker or stiffer sheet, or more lids: a bearer stands under each joint.", work)
    ]  # fmt: skip


def _shapes(c: SeatBox, b: Crate) -> tuple[Shape, ...]:
    """A crate with the line of its cushion, and a seam between those who sit side by side."""
    out, (x0, y0), (x1, y1) = shapes(b), b.corners[0], b.corners[2]
    inset = 0.04
    out.append(
        Shape("form-line", ((x0 + inset, y0 + inset, b.top), (x1 - inset, y0 + inset, b.top),
                            (x1 - inset, y1 - inset, b.top), (x0 + inset, y1 - inset, b.top)))
    )  # fmt: skip
    return tuple(out)


def _sat_on(c: SeatBox, top: float, rise: float) -> tuple[Seat, ...]:
    x0, y0 = c.corners[0]
    x1, y1 = c.corners[2]
    return (Seat((c.x, c.y, top), box(x0, y0, x1, y1), rise_m=rise),)


def build(c: SeatBox, site: Site) -> Built:
    """Panels, posts, cleats, bearers, hinges and cushion of a seat box. Raises CoreError outside of the
    boat."""
    cap = None if c.top == "as its walls" else site.catalogue.sheet(c.top)
    b = crate(c, site, cap_of=cap, lids=c.lids, hinge=c.hinge, bottom=c.lids > 0)
    parts = made(c, b, site)
    soft = site.catalogue.plain(c.cover).thickness if c.cover != "none" else 0.0
    top = b.top + soft
    feet = ahead(c.at, 0.0, c.length / 2, c.length / 2 + FOOT_ROOM_M, min(c.width, 0.4 * _places(c)),
                 b.foot + 0.02, b.foot + FOOT_HIGH_M)  # fmt: skip
    rooms = (*lid_room(c, b), Room(c.id, "feet go ahead of it", feet, name=plain(c.name), body=b.body))
    lift = lid_support(c, c.support, c.opens, b, parts)
    whole = replace(parts, bought=(*parts.bought, *lift.bought),
                    findings=(*parts.findings, *_span(c, b), *lift.findings))  # fmt: skip
    return standing_built(
        c, b, whole, charts=lift.charts,
        shapes=_shapes(c, b),
        rooms=rooms,
        top_m=top,
        seats=_sat_on(c, top, c.height + soft),
        floors=(Floor(b.region, top, b.under, broad=False),),
        hold=hold_of(b) if c.lids else None,
    )  # fmt: skip


class SeatBoxKind(CrateKind[SeatBox]):
    key, title = "seat_box", "Bench or seat box"
    choices = SeatBox
    letter, stem = "E", "bench"
    offers = frozenset(["floor"])
    first_size, share = (0.42, 0.95, 0.36), 0.30
    entries = (
        Entry("seat_box", "Bench or seat box, built", 2, "seats two over room for gear; feet need room "
              "ahead of it", "bench thwart storage lid cushion", "bench"),
    )  # fmt: skip
    about = (
        "A crate of sheet to sit on, its top fixed or in up to four hinged lids with a bearer under each "
        "joint, over a bottom on cleats; a cushion counts towards the height of the seat."
    )

    def seats(self, c: SeatBox) -> tuple[Seat, ...]:
        return _sat_on(c, c.height, c.height)

    def facts(self, c: SeatBox) -> str:
        return f"seats {_places(c)}"

    def mirror(self, value: dict[str, Any]) -> None:
        super().mirror(value)
        value["hinge"] = OTHER_SIDE.get(value["hinge"], value["hinge"])

    def idle(self, c: SeatBox, catalogue: Any) -> frozenset[str]:
        return lids_idle(c.lids, c.support)

    def build(self, c: SeatBox, site: Site) -> Built:
        return build(c, site)


KIND = SeatBoxKind()
