"""The plan: one build as a document. Everything else is derived from it.

This is also the build file (`.stirrup.json`); docs/build-file.md explains each part.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.document import Box, Document, Id, MassPoint, Name, Point, Shaped, Size, Stage
from stirrup.core.fittings.contract import FittingBase
from stirrup.core.fittings.registry import Fitting
from stirrup.core.hull.model import Hull, KnuckleLine
from stirrup.core.plan.arrangement import Arrangement, check_arrangement
from stirrup.core.plan.measured import Measured

AS_FOUND = "as found"
PLANNED_EMPTY = "planned, empty"
RESERVED = (PLANNED_EMPTY, AS_FOUND)
STANDARD_CREW_KG = 85.0

# kg/m3; handbook of the trade, chapter 2
LIQUIDS: dict[str, float] = {
    "petrol": 745.0,
    "diesel": 840.0,
    "fresh water": 1000.0,
    "water": 1000.0,
    "salt water": 1025.0,
}


# what an item is, for its drawing and the room that its use needs
Form = Literal[
    "box",
    "seat",
    "bench",
    "console",
    "screen",
    "battery",
    "cooler",
    "locker",
    "tank",
    "outboard",
    "bow motor",
]


class Water(Document):
    """The water she floats in: fresh 1000, salt 1025 kg/m3."""

    density: float = Field(
        1000.0, ge=900, le=1300, title="Water, kg/m³", description="[kg/m3]: fresh 1000, salt 1025"
    )


class Slide(Document):
    """How far a thing may be moved from where it is, for the balance solver."""

    fore: float = Field(0.0, ge=0, le=20, title="Forward", description="[m]")
    aft: float = Field(0.0, ge=0, le=20, title="Aft", description="[m]")
    port: float = Field(0.0, ge=0, le=5, title="To port", description="[m]")
    starboard: float = Field(0.0, ge=0, le=5, title="To starboard", description="[m]")


class Item(Document):
    """Anything loose or bolted on that weighs: motor, battery, cooler, anchor."""

    id: Id
    name: str = Field("", max_length=80)
    mass: MassPoint
    group: str = Field("gear", max_length=40)
    stage: Stage = "found"
    in_hull_mass: bool = False
    density: float | None = Field(None, gt=0, description="[kg/m3], for the swamped state")
    volume_buoyant: float | None = Field(None, ge=0, description="[m3]")
    slide: Slide | None = None
    form: Form = Field("box", title="Form")
    size: Size | None = Field(None, description="of its box: along, across, up, before it is turned [m]")
    turn: float = Field(0.0, ge=-180, le=180, title="Turned to port, degrees")
    price: Decimal | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="Price", description="empty: the catalogue's"
    )
    owned: bool = Field(False, title="Already yours: costs nothing")
    power: float | None = Field(None, gt=0, le=1000, title="Power, kW", description="of a motor")
    shaft: float | None = Field(None, gt=0, le=2.5, title="Shaft length", description="[m] of a motor")

    @property
    def title(self) -> str:
        return self.name or self.id

    @model_validator(mode="after")
    def _possible(self) -> Item:
        if self.in_hull_mass and self.stage == "added":
            raise ValueError(
                "in_hull_mass is true for an added item; only found or removed items "
                "can be part of the hull's mass"
            )
        return self


class Tank(Document):
    """A box tank: its contents, and what it weighs and costs empty unless that is an item's."""

    id: Id
    name: str = Field("", max_length=80)
    size: Size
    floor_centre: Point
    liquid: Literal["petrol", "diesel", "fresh water", "water", "salt water"]
    partitions_across: int = Field(0, ge=0, le=20)
    empty_mass: float = Field(0.0, ge=0, le=1000, title="Weighs empty", description="[kg]")
    price: Decimal | None = Field(
        None, ge=0, le=1_000_000, decimal_places=2, title="Price", description="empty: the catalogue's"
    )
    owned: bool = Field(True, title="Already yours: costs nothing")

    @property
    def title(self) -> str:
        return self.name or self.id


class BuoyantVolume(Document):
    """A closed volume: pod, hull extension, collar, foam."""

    id: Id
    name: str = Field("", max_length=80)
    lines: tuple[KnuckleLine, ...] | None = Field(None, min_length=2, max_length=60)
    box: Box | None = None
    density: float = Field(0.0, ge=0, le=3000, description="of the volume [kg/m3]")
    stage: Stage | Literal["considered"] = "added"
    option: str = Field("", max_length=40, description="volumes of one option are compared together")
    cost: Decimal | None = Field(None, ge=0, le=1_000_000, decimal_places=2)

    @property
    def title(self) -> str:
        return self.name or self.id

    @model_validator(mode="after")
    def _one_shape(self) -> BuoyantVolume:
        if (self.box is None) == (self.lines is None):
            raise ValueError("give either box or lines")
        return self


class Existing(Shaped):
    """Structure that is there: decks land on it, notch round it or clear it."""

    id: Id
    name: str = Field("", max_length=80)
    kind: Literal["rib", "stringer", "lip", "well", "thwart", "other"]
    stage: Stage = "found"


class Label(Document):
    """The maker's capacity label."""

    persons_kg: float | None = Field(None, gt=0, title="Persons, weight", description="[kg]")
    total_kg: float | None = Field(None, gt=0, title="Persons, motor, gear, weight", description="[kg]")
    power_kw: float | None = Field(None, gt=0, title="Power, kW")
    persons: int | None = Field(None, gt=0, title="Number of persons")


class Propulsion(Document):
    """What the screening of a boat without a label asks about motor and transom."""

    kind: Literal["outboard", "inboard", "none"] = Field("outboard", title="Motor")
    remote_steering: bool = Field(False, title="Steered from a wheel")
    running_trim: float = Field(
        4.0, ge=-5, le=20, title="Bow up when she runs, degrees", description="more than at rest; try her"
    )
    transom_height: float | None = Field(
        None, gt=0, le=3, title="Transom height", description="[m]; empty: motor well or sheer"
    )


class Person(Document):
    """Someone aboard; `at` is where the feet stand, the seat top, or the back lies."""

    mass: float = Field(STANDARD_CREW_KG, gt=0, le=400, description="[kg]")
    stature: float = Field(1.75, gt=0.5, le=2.5, description="[m]")
    posture: Literal["standing", "seated", "kneeling", "lying"] = "standing"
    at: Point
    name: str = Field("", max_length=60)
    settle: bool = Field(
        False, title="On whatever is under them", description="the height follows the plan"
    )

    @property
    def centre(self) -> Point:
        """Body centre: standing 0.56 stature up, kneeling 0.34, seated 0.25 m, lying 0.12 m."""
        shares = {"standing": 0.56 * self.stature, "kneeling": 0.34 * self.stature}
        rise = {**shares, "seated": 0.25, "lying": 0.12}[self.posture]
        return (self.at[0], self.at[1], self.at[2] + rise)


class LoadCase(Document):
    """Who and what is aboard, over "planned, empty"."""

    name: Name
    crew: tuple[Person, ...] = Field((), max_length=60)
    fills: dict[str, Annotated[float, Field(ge=0, le=1)]] = Field(default_factory=dict)
    extra: tuple[Item, ...] = ()
    without: tuple[str, ...] = ()
    lifted: float = Field(
        0.0, ge=0, le=0.5, title="Forefoot lifted by the ground",
        description="[m] over where it floats; 0: afloat",
    )  # fmt: skip


class Place(Document):
    """Something found in the survey: where, what kind, what was removed there."""

    id: Id
    kind: Literal["wet", "rotten", "cracked", "corroded", "old hole", "water lay here"] = "wet"
    at: Point
    size: float = Field(0.1, gt=0, le=10, title="About this large across", description="[m]")
    note: str = Field("", max_length=200)
    photo: Id | None = None
    removed: Id | None = Field(None, description="id of the item that was taken out here")


class Gear(Document):
    """Something the owner wants to carry, with its size."""

    id: Id
    name: Name
    mass: float = Field(2.0, gt=0, le=1000, title="Mass", description="[kg]")
    length: float = Field(0.5, gt=0, le=10, title="Long", description="[m]")
    width: float = Field(0.3, gt=0, le=5, title="Wide", description="[m]")
    height: float = Field(0.3, gt=0, le=5, title="High", description="[m]")


class Wishes(Document):
    """What the owner wants and set as limits; money as exact decimals."""

    waters: str = Field("", max_length=200, title="Waters")
    crew: int | None = Field(None, ge=1, le=30, title="People usually aboard")
    gear: tuple[Gear, ...] = Field((), max_length=200)
    budget: Decimal | None = Field(None, ge=0, le=10_000_000, decimal_places=2)
    tax_percent: Decimal = Field(Decimal(0), ge=0, le=50, decimal_places=2)
    currency: str = Field("$", max_length=4)


class Plan(Document):
    """One build."""

    format: Literal["stirrup-build"]
    version: Literal[1]
    name: Name
    water: Water = Water()
    hull: Hull
    items: tuple[Item, ...] = ()
    tanks: tuple[Tank, ...] = ()
    buoyancy: tuple[BuoyantVolume, ...] = ()
    existing: tuple[Existing, ...] = ()
    condition: tuple[Place, ...] = Field((), max_length=300)
    fittings: tuple[Fitting, ...] = ()
    cases: tuple[LoadCase, ...] = Field((), max_length=60)
    label: Label | None = None
    propulsion: Propulsion = Propulsion()
    measured: tuple[Measured, ...] = Field((), max_length=200)
    wishes: Wishes = Wishes()
    arrangement: Arrangement = Arrangement()

    @model_validator(mode="after")
    def _consistent(self) -> Plan:
        return self.checked()

    def checked(self) -> Plan:
        """This plan, if its parts go together. Raises ValueError."""
        named: dict[str, str] = {}
        for group in ("items", "tanks", "buoyancy", "existing", "fittings", "measured", "condition"):
            for k, thing in enumerate(getattr(self, group)):
                if thing.id in named:
                    raise ValueError(
                        f"{group}[{k}].id: “{thing.id}” is used already by {named[thing.id]}; "
                        "each id may be used once"
                    )
                named[thing.id] = f"{group}[{k}]"
        tanks = {t.id for t in self.tanks}
        seen: set[str] = set()
        for k, case in enumerate(self.cases):
            here = f"cases[{k}]"
            if case.name in RESERVED:
                raise ValueError(f"{here}.name: “{case.name}” is reserved; it always exists")
            if case.name in seen:
                raise ValueError(f"{here}.name: “{case.name}” is used twice")
            seen.add(case.name)
            for key in case.fills:
                if key not in tanks:
                    raise ValueError(
                        f"{here}.fills: no tank “{key}”; tanks: {', '.join(sorted(tanks)) or 'none'}"
                    )
            for key in case.without:
                if key not in named:
                    raise ValueError(
                        f"{here}.without: nothing has the id “{key}”; ids: {', '.join(named) or 'none'}"
                    )
        check_arrangement(self.arrangement, set(named))
        self._check_hosts()
        return self

    def _check_hosts(self) -> None:
        decks = {f.id for f in self.fittings if f.kind == "raised_deck"}
        for k, fitting in enumerate(self.fittings):
            if fitting.kind == "hatch" and fitting.deck not in decks:
                raise ValueError(
                    f"fittings[{k}].deck: no deck “{fitting.deck}”; decks: "
                    f"{', '.join(sorted(decks)) or 'none'}"
                )

    def fitting(self, id_: str) -> FittingBase | None:
        """A fitting by id."""
        return next((f for f in self.fittings if f.id == id_), None)
