"""Entries of the catalogue: what is cut, joined, bought and poured, as data.

Each says how it is sold, what it weighs and how well that is known; ids are what plans name. Sizes in
m, masses in kg for each unit.
"""

from __future__ import annotations

import math
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.document import Document, Id, Name
from stirrup.core.quantities import Angle, Force, Length, Mass, Money, Power, Volume

Class = Literal["metal", "wood", "plastic", "composite", "foam"]
Status = Literal["starting value", "shop", "maker"]
Unit = Literal["piece", "m", "m2", "kg", "l", "sheet", "stick"]
Shape = Literal["angle", "flat", "square tube", "round tube", "channel", "hat", "timber"]


class Pack(Document):
    """A way an entry is sold: this much of it, at this price before tax."""

    quantity: float = Field(ge=0.001, le=100_000)
    price: Money = Field(ge=0, le=1_000_000)


class Material(Document):
    """What stock is made of. e_gpa, yield_mpa (rupture of wood): for screening, where known. bend_t: least
    inside radius of a bend in thicknesses, up to 3 mm thick; bend_thick_t: above, where it is another."""

    id: Id
    name: Name
    kind: Class
    density: float = Field(gt=0, le=20_000, description="[kg/m3]")
    e_gpa: float | None = Field(None, gt=0, le=500)
    yield_mpa: float | None = Field(None, gt=0, le=3000)
    bend_t: float | None = Field(None, ge=0.1, le=20)
    bend_thick_t: float | None = Field(None, ge=0.1, le=20)
    source: str = Field("", max_length=200)
    status: Status = "starting value"


SAME_M = 1e-6
LEAST_PITCH_M = 0.005  # between the holes of a hinge or strip
UNKNOWN = Material(id="unknown", name="unknown", kind="metal", density=1000.0)


class EntryBase(Document):
    """What every entry has. task, minutes: what is done with one unit of it, hands on."""

    id: Id
    name: Name
    unit: Unit = Field("piece", title="Counted in")
    packs: tuple[Pack, ...] = Field((), max_length=12)
    mass: Mass = Field(0.0, ge=0, le=5000, title="Weighs")
    words: str = Field("", max_length=120, title="Also called")
    works_with: tuple[Id, ...] = Field((), max_length=20)
    source: str = Field("", max_length=200, title="Source")
    status: Status = "starting value"
    retired: bool = Field(False, title="No longer offered")
    task: str = Field("", max_length=80, title="Work, in words")
    minutes: float = Field(0.0, ge=0, le=1000, title="Minutes for one")


class Sheet(EntryBase):
    """Sheet stock; x runs along `width`, the grain or rolling direction. Off a roll: sold by the metre, its
    width the longest piece that is cut from one."""

    group: Literal["sheet"] = "sheet"
    unit: Unit = "sheet"
    material: Id
    thickness: Length = Field(ge=0.0001, le=0.2, title="Thick")
    width: Length = Field(2.44, ge=0.05, le=20, title="Long")
    height: Length = Field(1.22, ge=0.05, le=10, title="Wide")
    roll: bool = Field(False, title="Sold by the metre, off a roll")
    stuff: Material = Field(UNKNOWN, exclude=True)

    @model_validator(mode="after")
    def _counted(self) -> Sheet:
        """What comes off a roll is counted in metres, all else in sheets."""
        object.__setattr__(self, "unit", "m" if self.roll else "sheet")
        return self

    @property
    def kind(self) -> str:
        return self.stuff.kind


class Section(EntryBase):
    """Section stock. Angle: leg a, flange b, wall t; flat a x t; tubes a x b (round: a across); channel
    web a, flanges b; hat a high, b wide on top; timber a x b. length: of one stick."""

    group: Literal["section"] = "section"
    unit: Unit = "stick"
    shape: Shape = "angle"
    material: Id
    a: Length = Field(ge=0.001, le=1, title="Leg")
    b: Length = Field(ge=0.001, le=1, title="Flange")
    t: Length = Field(ge=0.0001, le=0.2, title="Wall")
    length: Length = Field(6.1, ge=0.1, le=20, title="Stick")
    stuff: Material = Field(UNKNOWN, exclude=True)

    @model_validator(mode="after")
    def _closed(self) -> Section:
        """A wall that is thicker than there is room for has no area."""
        most = {"square tube": min(self.a, self.b) / 2, "round tube": self.a / 2, "flat": self.a}
        room = most.get(self.shape, min(self.a, self.b))
        if self.shape != "timber" and self.t > room + SAME_M:
            raise ValueError(f"read a wall of {self.t:g} m; accepted: at most {room:g} m for its shape")
        return self

    @property
    def area_m2(self) -> float:
        """Cross-section, corners taken as sharp."""
        a, b, t = self.a, self.b, self.t
        return {
            "angle": (a + b - t) * t,
            "flat": a * t,
            "square tube": 2 * t * (a + b - 2 * t),
            "round tube": math.pi * t * (a - t),
            "channel": (a + 2 * b - 2 * t) * t,
            "hat": (2 * a + b + 2 * b / 3 - 2 * t) * t,
            "timber": a * b,
        }[self.shape]

    @property
    def kg_per_m(self) -> float:
        return self.area_m2 * self.stuff.density


class Fastener(EntryBase):
    """Blind rivet, screw, bolt: shank, grip range, drill. A wood screw ends in the last layer: its grip
    is what all of them must measure, so that it holds and does not come through."""

    group: Literal["fastener"] = "fastener"
    style: Literal["rivet", "screw", "wood screw", "bolt", "washer", "nut", "rivet nut", "solid rivet"] = (
        "rivet"
    )
    diameter: Length = Field(0.0, ge=0, le=0.05)
    grip_min: Length = Field(0.0, ge=0, le=1)
    grip_max: Length = Field(0.0, ge=0, le=1)
    drill: Length = Field(0.0, ge=0, le=0.05)


class Latch(EntryBase):
    """Turn or slam latch: body hole, body under the lid, grip range; how far its tongue lies under the lid,
    and how far that reaches from its middle, 0 where it is not known. Those with a lock are ordered keyed
    alike."""

    group: Literal["latch"] = "latch"
    body: Length = Field(gt=0, le=0.3)
    underside: Length = Field(gt=0, le=0.3)
    grip_min: Length = Field(ge=0, le=0.2)
    grip_max: Length = Field(ge=0, le=0.2)
    catch_drop: Length = Field(0.0, ge=0, le=0.3, title="Tongue under the lid")
    reach: Length = Field(0.0, ge=0, le=0.3, title="Tongue reaches, from its middle")
    locks: bool = Field(False, title="Has a lock")


class Strut(EntryBase):
    """Gas strut: its force [N] when it is all out, its length then, and how far it goes in."""

    group: Literal["strut"] = "strut"
    force: Force = Field(gt=0, le=5000, title="Force, N", description="pushed in a little, at 20 °C")
    extended: Length = Field(gt=0.05, le=2, title="Length, all out")
    stroke: Length = Field(gt=0.01, le=1, title="Stroke")

    @model_validator(mode="after")
    def _goes_in(self) -> Strut:
        """What goes in has to be shorter than what is left out."""
        if self.stroke >= self.extended / 2:
            raise ValueError(
                f"read a stroke of {self.stroke:g} m; accepted: less than half of {self.extended:g} m"
            )
        return self


class Pedestal(EntryBase):
    """What a seat stands on: from the floor to the seat's underside, the least and the most where it goes
    up and down; its base, the circle of its bolts and how many; plugged: its post is lifted out of a socket
    in the floor."""

    group: Literal["pedestal"] = "pedestal"
    low: Length = Field(ge=0.02, le=1, title="Height, least")
    high: Length = Field(ge=0.02, le=1, title="Height, most")
    base: Length = Field(ge=0.05, le=0.6, title="Base, across")
    circle: Length = Field(ge=0.04, le=0.6, title="Circle of its bolts")
    bolts: int = Field(ge=3, le=16, title="Bolts")
    plugged: bool = Field(False, title="Post lifts out of a socket")

    @model_validator(mode="after")
    def _within(self) -> Pedestal:
        if self.high < self.low:
            raise ValueError(f"read heights of {self.low:g} and {self.high:g} m; accepted: the least first")
        if self.circle > self.base:
            raise ValueError(
                f"read a circle of bolts of {self.circle:g} m; accepted: at most its base, {self.base:g} m"
            )
        return self


class Line(EntryBase):
    """What is led through the boat: least radius of its bends, how many run side by side, how much further
    than its way it has to reach at its end; its smallest pack is the step in which lengths are ordered."""

    group: Literal["line"] = "line"
    unit: Unit = "m"
    use: Literal["steering", "throttle and shift", "power", "water"] = Field("steering", title="For")
    bend: Length = Field(ge=0.01, le=2, title="Least radius of its bends")
    slack: Length = Field(0.0, ge=0, le=3, title="Spare at the motor", description="it turns and tilts")
    together: int = Field(1, ge=1, le=6, title="How many run side by side")
    most_turned: Angle = Field(
        1080.0, ge=90, le=1080, title="All bends together at most, degrees", description="friction"
    )


class Plain(EntryBase):
    """Hardware, cover or consumable with a thickness.

    stiff: a pack is one bar; a piece comes out of one of them, remainders do not add up. wraps: it is
    turned over edges and glued.
    """

    group: Literal["hardware", "cover", "sealant"] = "hardware"
    thickness: Length = Field(0.0, ge=0, le=0.5)
    wraps: bool = False
    pitch: Length = Field(0.0, ge=0, le=1)
    stiff: bool = False

    @property
    def in_bars(self) -> bool:
        """Whether it is bought in bars and cut to length."""
        return self.stiff and bool(self.packs)

    @model_validator(mode="after")
    def _spaced(self) -> Plain:
        """Holes that lie in one another are none."""
        if 0 < self.pitch < LEAST_PITCH_M:
            raise ValueError(
                f"read a pitch of {self.pitch:g} m; accepted: 0 for no holes, or 0.005 m and more"
            )
        return self


class Resin(EntryBase):
    """Resin, hardener, gel coat, filler or foam to pour: density, how it is mixed, how long it works."""

    group: Literal["resin"] = "resin"
    unit: Unit = "kg"
    density: float = Field(gt=0, le=5000)
    chemistry: Literal["polyester", "vinyl ester", "epoxy", "polyurethane", "filler"] = "polyester"
    gel_minutes: float | None = Field(None, gt=0, le=10_000)
    least_c: float | None = Field(None, ge=-20, le=60)


class Cloth(EntryBase):
    """Reinforcement: mass of an area, share of it in the laminate by weight, width of the roll."""

    group: Literal["cloth"] = "cloth"
    unit: Unit = "m2"
    glass_share: float = Field(gt=0, lt=1)
    roll_width: Length = Field(1.27, gt=0, le=5)


class Whole(EntryBase):
    """Bought whole: which form of thing it is, its size, power or volume where it has one."""

    group: Literal["bought"] = "bought"
    form: str = Field("box", max_length=40)
    size: tuple[Length, Length, Length] | None = None
    power: Power | None = Field(None, gt=0, le=1000)
    volume: Volume | None = Field(None, gt=0, le=10)


AnyEntry = Annotated[
    Sheet | Section | Fastener | Latch | Strut | Pedestal | Line | Plain | Resin | Cloth | Whole,
    Field(discriminator="group"),
]
Entry = Sheet | Section | Fastener | Latch | Strut | Pedestal | Line | Plain | Resin | Cloth | Whole
GROUPS = (
    "sheet",
    "section",
    "fastener",
    "latch",
    "strut",
    "pedestal",
    "line",
    "hardware",
    "cover",
    "sealant",
    "resin",
    "cloth",
    "bought",
)


def least_pack(entry: EntryBase) -> Pack | None:
    """The smallest pack that an entry is sold in."""
    return min(entry.packs, key=lambda p: p.quantity, default=None)


def price_of_least(entry: EntryBase) -> Decimal:
    """Price of the smallest pack: what one sheet or stick costs; 0 where none is known."""
    pack = least_pack(entry)
    return pack.price if pack else Decimal(0)


def price_of_one(entry: EntryBase) -> Decimal:
    """What one costs in the smallest pack, to the cent: a sheet, a stick, a metre off a roll."""
    pack = least_pack(entry)
    each = pack.price / Decimal(repr(pack.quantity)) if pack else Decimal(0)
    return each.quantize(Decimal("0.01"))
