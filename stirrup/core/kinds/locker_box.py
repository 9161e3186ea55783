"""Locker, built: a crate that shuts, under lids or behind a door, for rods, tackle, an anchor."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any, Literal

from pydantic import Field, model_validator

from stirrup.core.contract.gives import Built, Floor, Shape
from stirrup.core.contract.kind import OTHER_SIDE, Entry, Site
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.crate import Crate, Wall, hinge_u, hold_of, lid_middle_m, lid_width_m, shapes
from stirrup.core.fittings.crate_kind import (
    CrateBase,
    CrateKind,
    First,
    Made,
    crate,
    lid_room,
    lid_support,
    lids_idle,
    made,
    standing_built,
)
from stirrup.core.fittings.door import OUT, Door, Doors, door, hole
from stirrup.core.fittings.lid_support import Support
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Angle, Length
from stirrup.core.space.room import Room

declare("layout", {"LONGEST": "what is to go into a locker", "ROD-TUBES": "room for rod tubes"},
        acceptable=True)  # fmt: skip

MOST_M = 3.0  # of a box
FINE_M = 5e-4
TUBE_M = 0.055  # a rod tube of 50 mm over its wall: working value
HANDLE_M = 0.05  # half of a handle, and how far from the lid's edge it is drawn
SHORT = "The longest thing does not go in"


class LockerBox(CrateBase):
    """Choices for a built locker."""

    kind: Literal["locker_box"] = "locker_box"
    length: Length = Field(0.60, ge=0.15, le=MOST_M, title="Along")
    width: Length = Field(0.40, ge=0.15, le=MOST_M, title="Across")
    height: Length = Field(0.35, ge=0.1, le=1.6, title="Height", description="over what it stands on")
    lids: int = Field(1, ge=0, le=4, title="Lids, side by side", description="0: closed on top")
    hinge: Wall = Field("fore", title="Lids hinged")
    support: Support = Field("none", title="Lids held open by")
    opens: Angle = Field(80.0, ge=40, le=105, title="Lids open to, degrees")
    door: Doors = Field("none", title="Door in its side")
    drain: bool = Field(False, title="Drain in its bottom")
    tubes: int = Field(0, ge=0, le=20, title="Rod tubes in it", description="as long as it is inside")
    longest: Length | None = Field(
        None,
        gt=0,
        le=6,
        title="Longest thing to go in",
        description="empty: nothing long",
    )

    @model_validator(mode="after")
    def _opens(self) -> LockerBox:
        if self.lids == 0 and self.door == "none":
            raise ValueError("lids: read 0 lids and no door; accepted: a lid or a door, or nothing gets in")
        return self


def _longest(c: LockerBox, b: Crate) -> list[Finding]:
    """Whether the longest thing lies in it flat, from corner to corner."""
    if c.longest is None:
        return []
    along, across = b.inner
    room = math.hypot(along, across)
    values = {"room": Quantity(room, "m"), "long": Quantity(c.longest, "m")}
    sides = (Input("inside along", Quantity(along, "m")), Input("inside across", Quantity(across, "m")))
    work = Working("room = √(inside along² + inside across²)", sides, Quantity(room, "m"), "Pythagoras")
    text = "From corner to corner {room} are free; it is {long}."
    if c.longest <= room:
        return [Finding("LONGEST", "fine", c.id, "The longest thing goes in", text, values, working=work)]
    # rounded up, so that it goes in once the fix is taken
    need = math.ceil((math.sqrt(c.longest**2 - across**2) + 2 * b.t) / FINE_M) * FINE_M
    if c.longest <= across or need > MOST_M:
        return [Finding("LONGEST", "mend", c.id, SHORT, text, values,
                        "Make it wider, or stow it elsewhere: see the gear page.", work)]  # fmt: skip
    path = ("fittings", c.id, "length")
    return [
        Finding("LONGEST", "mend", c.id, SHORT, text,
                {**values, "need": Quantity(need, "m")}, "Make it {need} long, or wider.", work,
                fixes=(Fix("Make it {need} long", path=path, value=round(need, 4)),))
    ]  # fmt: skip


def _tubes(c: LockerBox, b: Crate) -> list[Finding]:
    """Whether its rod tubes lie side by side in it, in as many layers as go under its lids."""
    if not c.tubes:
        return []
    across, high = min(b.inner), b.under - b.floor
    row, rows = int((across + FINE_M) / TUBE_M), int((high + FINE_M) / TUBE_M)
    values = {"room": Quantity(row * rows, "count"), "tubes": Quantity(c.tubes, "count"),
              "each": Quantity(TUBE_M, "m", True)}  # fmt: skip
    text = "{room} tubes of {each} lie in it, side by side and in layers; {tubes} are wanted."
    if c.tubes <= row * rows:
        return [Finding("ROD-TUBES", "fine", c.id, "Its rod tubes go in", text, values)]
    return [Finding("ROD-TUBES", "mend", c.id, "Too many rod tubes", text, values,
                    "Take fewer, or make it wider or higher.")]  # fmt: skip


def _shut(c: LockerBox, b: Crate) -> list[Bought]:
    """Gasket round its lids, a catch for each; the drain."""
    z, out = b.under, []
    if c.lids:
        gasket, catch = b.catalogue.plain("gasket-12"), b.catalogue.plain("hook-eye")
        around = c.lids * 2 * (b.deep + lid_width_m(b))
        out += [
            Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket", c.id, gasket, around,
                   around * gasket.mass, (*b.at, z)),
            Bought(f"{c.id}/catch", f"{c.code}-Q", f"{c.name}, catches of the lids", c.id, catch, c.lids,
                   c.lids * catch.mass, (*b.at, z)),
        ]  # fmt: skip
    if c.tubes:
        tube, long = b.catalogue.plain("rod-tube"), c.tubes * max(b.inner)
        out.append(Bought(f"{c.id}/tubes", f"{c.code}-U", f"{c.name}, rod tubes", c.id, tube, long,
                          long * tube.mass, (*b.at, b.floor + TUBE_M / 2)))  # fmt: skip
    if c.drain:
        drain = b.catalogue.plain("drain-25")
        # in the aft corner, where water runs at rest
        at = (b.at[0] - b.inner[0] / 2 + 0.05, b.at[1], b.floor)
        out.append(
            Bought(f"{c.id}/drain", f"{c.code}-W", f"{c.name}, drain", c.id, drain, 1, drain.mass, at)
        )
    return out


def _door_shapes(c: LockerBox, b: Crate, made_door: Door) -> list[Shape]:
    """Its door from the side that it is seen from, and as a line from above."""
    out, (long, high) = OUT[made_door.wall], made_door.clear
    x, y, z = made_door.panel.frame.origin
    half, up = long / 2, high / 2
    if out[0]:
        edge = ((x, y - half, b.top), (x, y + half, b.top))
        front = ((x, y - half, z - up), (x, y + half, z - up), (x, y + half, z + up), (x, y - half, z + up))
    else:
        edge = ((x - half, y, b.top), (x + half, y, b.top))
        front = ((x - half, y, z - up), (x + half, y, z - up), (x + half, y, z + up), (x - half, y, z + up))
    view: Literal["side", "across"] = "across" if out[0] else "side"
    return [Shape("form-hinge", edge, closed=False), Shape("form-line", front, view=view)]


def _shapes(c: LockerBox, b: Crate, doors: list[Door]) -> tuple[Shape, ...]:
    """A crate with its lids' handles and its door."""
    out = shapes(b)
    free = hinge_u(b) * (1 - HANDLE_M / (b.deep / 2))
    for k in range(1, c.lids + 1):
        v = lid_middle_m(b, k)
        handle = (b.place(-free, v - HANDLE_M, b.top), b.place(-free, v + HANDLE_M, b.top))
        out.append(Shape("form-line", handle, closed=False))
    for one in doors:
        out += _door_shapes(c, b, one)
    return tuple(out)


def build(c: LockerBox, site: Site) -> Built:
    """Panels, posts, cleats, lids, door, gaskets and drain of a locker. Raises CoreError outside of the
    boat."""
    plain_box = crate(c, site, lids=c.lids, hinge=c.hinge, bottom=True)
    holes = {} if c.door == "none" else {c.door: (hole(plain_box, c.door),)}
    b = replace(plain_box, holes=holes)
    doors = [] if c.door == "none" else [door(b, c.door)]
    parts = made(c, b, site)
    lift = lid_support(c, c.support, c.opens, b, parts)
    swings = tuple(Room(c.id, "door swings", d.swing, name=plain(c.name), body=b.body) for d in doors)
    whole = Made(
        (*parts.panels, *(d.panel for d in doors)),
        parts.members,
        (*parts.bought, *_shut(c, b), *lift.bought, *(p for d in doors for p in d.bought)),
        (
            *parts.findings,
            *lift.findings,
            *(f for d in doors for f in d.findings),
            *_longest(c, b),
            *_tubes(c, b),
        ),
    )
    return standing_built(
        c, b, whole, charts=lift.charts,
        shapes=_shapes(c, b, doors),
        rooms=(*lid_room(c, b), *swings),
        floors=(Floor(b.region, b.top, b.under, broad=False),),
        hold=hold_of(b),
    )  # fmt: skip


# by the palette's key: first size [m], further choices
_FIRST: dict[str, dict[str, Any]] = {
    "locker_box": {"length": 0.60, "width": 0.40, "height": 0.35},
    "rod_locker": {
        "length": 2.20,
        "width": 0.28,
        "height": 0.25,
        "hinge": "port",
        "longest": 2.15,
        "tubes": 4,
    },
    "anchor_locker": {"length": 0.45, "width": 0.40, "height": 0.30, "drain": True},
}


class LockerBoxKind(CrateKind[LockerBox]):
    key, title = "locker_box", "Locker"
    choices = LockerBox
    letter, stem = "K", "locker"
    offers = frozenset(["floor"])
    first_size, share = (0.60, 0.40, 0.35), 0.42
    entries = (
        Entry("locker_box", "Locker, built", 4, "under lids or behind a door; what it takes is told on the "
              "gear page", "storage tackle dry box cupboard door", "box"),
        Entry("rod_locker", "Rod locker, built", 4, "long: look early where it can lie straight",
              "rods paddle skis", "rods"),
        Entry("anchor_locker", "Anchor locker, built", 4, "forward, with a drain: line comes in wet",
              "chain rope warp bow"),
    )  # fmt: skip
    about = (
        "A crate that shuts, under lids or behind a door that laps its hole, with gasket and catch; a "
        "drain for what comes in wet. The longest thing that is to go in is tried."
    )

    def first_of(self, entry: str) -> First:
        """Rods along a side, an anchor forward under the deck."""
        value = _FIRST[entry]
        size = (value["length"], value["width"], value["height"])
        if entry == "anchor_locker":
            return First(size, 0.72, 0.0, True)
        return First(size, 0.30, 0.55) if entry == "rod_locker" else First(size, self.share)

    def first_choices(self, entry: str) -> dict[str, Any]:
        """A drain for the anchor, the lid of rods hinged along the side."""
        return {k: v for k, v in _FIRST[entry].items() if k not in ("length", "width", "height")}

    def mirror(self, value: dict[str, Any]) -> None:
        super().mirror(value)
        for choice in ("door", "hinge"):
            value[choice] = OTHER_SIDE.get(value[choice], value[choice])

    def idle(self, c: LockerBox, catalogue: Any) -> frozenset[str]:
        return lids_idle(c.lids, c.support)

    def build(self, c: LockerBox, site: Site) -> Built:
        return build(c, site)


KIND = LockerBoxKind()
