"""The plan: one build as a document. Everything else is derived from it.

This is also the build file (`.stirrup.json`); docs/build-file.md explains each part.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from stirrup.core.bodies.existing import Existing
from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.tank import FUELS, LIQUIDS, Tank
from stirrup.core.contract.base import OFFERED, FittingBase, Group
from stirrup.core.contract.schools import Schools
from stirrup.core.document import Document, Id, Name, Point
from stirrup.core.hull.model import Hull
from stirrup.core.kinds.registry import (
    BuoyantVolume,
    Fitting,
    Form,
    kind_of,
)
from stirrup.core.parts.entries import AnyEntry, Material
from stirrup.core.plan.arrangement import Arrangement, check_arrangement
from stirrup.core.plan.buying import Buying, check_buying
from stirrup.core.plan.condition import Place
from stirrup.core.plan.cut import MOST_CUT, CutPart, check_cut
from stirrup.core.plan.cutting import Cutting, check_rests
from stirrup.core.plan.fitted import MOST_FITTED, Fitted, check_fitted
from stirrup.core.plan.measured import Measured
from stirrup.core.plan.stood import MOST_STOOD, Stood, check_stood
from stirrup.core.quantities import Angle, Density, Length, Mass, Money, Percent, Power

# the lists of what has a place in the boat, in the order in which they are told
GROUPS: tuple[Group, ...] = ("fittings", "items", "tanks", "buoyancy", "existing")
AS_FOUND = "as found"
PLANNED_EMPTY = "planned, empty"
RESERVED = (PLANNED_EMPTY, AS_FOUND)
STANDARD_CREW_KG = 85.0


class Item(ItemBase):
    """Anything loose or bolted on that weighs: motor, battery, cooler, anchor."""

    form: Form = Field("box", title="Form")


class Water(Document):
    """The water she floats in: fresh 1000, salt 1025 kg/m3."""

    density: Density = Field(1000.0, ge=900, le=1300, title="Water", description="fresh 1000, salt 1025")


class Label(Document):
    """The maker's capacity label."""

    persons_kg: Mass | None = Field(None, gt=0, title="Persons, weight")
    total_kg: Mass | None = Field(None, gt=0, title="Persons, motor, gear, weight")
    power_kw: Power | None = Field(None, gt=0, title="Power")
    persons: int | None = Field(None, gt=0, title="Number of persons")


class Propulsion(Document):
    """What the screening of a boat without a label asks about motor and transom."""

    kind: Literal["outboard", "inboard", "none"] = Field("outboard", title="Motor")
    remote_steering: bool = Field(False, title="Steered from a wheel")
    running_trim: Angle = Field(
        4.0, ge=-5, le=20, title="Bow up when she runs, degrees", description="more than at rest; try her"
    )
    transom_height: Length | None = Field(
        None, gt=0, le=3, title="Transom height", description="empty: motor well or sheer"
    )


class Person(Document):
    """Someone aboard; `at` is where the feet stand, the seat top, or the back lies."""

    mass: Mass = Field(STANDARD_CREW_KG, gt=0, le=400)
    stature: Length = Field(1.75, gt=0.5, le=2.5)
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
    lifted: Length = Field(
        0.0, ge=0, le=0.5, title="Forefoot lifted by the ground",
        description="over where it floats; 0: afloat",
    )  # fmt: skip


class Gear(Document):
    """Something the owner wants to carry, with its size."""

    id: Id
    name: Name
    mass: Mass = Field(2.0, gt=0, le=1000, title="Mass")
    length: Length = Field(0.5, gt=0, le=10, title="Long")
    width: Length = Field(0.3, gt=0, le=5, title="Wide")
    height: Length = Field(0.3, gt=0, le=5, title="High")
    home: Id | None = Field(None, title="Stowed in", description="a box, or a deck: under it")


# countries as languages and places are tagged
Amounts = Literal[
    "plain", "en-US", "en-GB", "en-CA", "fr-CA", "fr-FR", "de-DE", "de-CH", "nl-NL", "it-IT", "es-ES",
    "pt-BR", "nb-NO", "sv-SE", "fi-FI", "pl-PL",
]  # fmt: skip


class Wishes(Document):
    """What the owner wants and set as limits; money as exact decimals."""

    waters: str = Field("", max_length=200, title="Waters")
    crew: int | None = Field(None, ge=1, le=30, title="People usually aboard")
    gear: tuple[Gear, ...] = Field((), max_length=200)
    budget: Money | None = Field(None, ge=0, le=10_000_000, decimal_places=2)
    tax_percent: Percent = Field(Decimal(0), ge=0, le=50, decimal_places=2)
    rate: Money | None = Field(None, ge=0, le=1000, decimal_places=2, title="An hour of work costs")
    currency: str = Field("$", max_length=4, title="Currency")
    amounts: Amounts = Field("plain", title="Amounts are written as in")


class Carried(Document):
    """Entries of the catalogue that a plan names, as they were when it named them."""

    materials: tuple[Material, ...] = Field((), max_length=60)
    entries: tuple[AnyEntry, ...] = Field((), max_length=300)


class Plan(Document):
    """One build."""

    format: Literal["stirrup-build"]
    version: Literal[2]
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
    schools: Schools = Schools()
    arrangement: Arrangement = Arrangement()
    cut: tuple[CutPart, ...] = Field((), max_length=MOST_CUT)
    cutting: Cutting = Cutting()
    buying: Buying = Buying()
    fitted: tuple[Fitted, ...] = Field((), max_length=MOST_FITTED)
    stood: tuple[Stood, ...] = Field((), max_length=MOST_STOOD)
    catalogue: Carried = Carried()

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
        check_rests(self.cutting)
        check_buying(self.buying)
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
        check_cut(self.cut, set(named))
        check_stood(self.stood, set(named))
        check_fitted(self.fitted, set(named))
        self._check_hosts()
        return self

    def _check_hosts(self) -> None:
        """Whether everything that is needed is there and offers what it is needed for."""
        offers = {t.id: kind_of(t).offers for g in GROUPS for t in getattr(self, g)}
        for group in GROUPS:
            for k, thing in enumerate(getattr(self, group)):
                for tie in kind_of(thing).ties(thing):
                    if tie.offer in offers.get(tie.to, ()):
                        continue
                    there = ", ".join(sorted(i for i, o in offers.items() if tie.offer in o))
                    one, several = OFFERED[tie.offer]
                    raise ValueError(
                        f"{group}[{k}].{tie.field}: no {one} “{tie.to}”; {several}: {there or 'none'}"
                    )

    def thing(self, id_: str) -> Any | None:
        """Anything that has a place in the boat, by its id."""
        return next((t for g in GROUPS for t in getattr(self, g) if t.id == id_), None)

    def fitting(self, id_: str) -> FittingBase | None:
        """A fitting by id."""
        return next((f for f in self.fittings if f.id == id_), None)


__all__ = [
    "FUELS",
    "GROUPS",
    "LIQUIDS",
    "BuoyantVolume",
    "Existing",
    "Item",
    "Plan",
    "Tank",
]
