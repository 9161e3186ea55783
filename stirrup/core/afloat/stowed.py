"""Gear that has a home in a locker, box or under a deck: where it lies, and what it weighs in a case."""

from __future__ import annotations

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.gives import Built
from stirrup.core.document import MassPoint, Point
from stirrup.core.plan.model import Gear, Item, LoadCase, Plan
from stirrup.core.plan.stowing import stowed_id
from stirrup.core.record import dataclass

# what a piece of gear is off its place by, within its home: half of what is left beside it, at most
OFF_M = 0.15


@dataclass(frozen=True)
class Home:
    """A closed space that takes gear: its thing, the middle of its floor, how high and long it is [m]."""

    id: str
    floor: Point
    high: float
    long: float


def home_of(footing: Footing, id_: str) -> Home | None:
    """The space that a thing offers to gear: a box's inside, or what lies under a deck; None without."""
    built = footing.made(id_)
    if built.hold is not None:
        x, y, z = built.hold.at
        along, _, up = built.hold.clear
        return Home(id_, (x, y, z - up / 2), up, along)
    return _under_deck(footing, built)


def _under_deck(footing: Footing, built: Built) -> Home | None:
    for floor in built.floors:
        if floor.below is None or floor.region.is_empty:
            continue
        middle = floor.region.centroid
        bottom = footing.bottom_m(middle.x, middle.y)
        if bottom is None or floor.below.free_m <= bottom:
            continue
        x0, _, x1, _ = floor.region.bounds
        high = floor.below.free_m - bottom
        return Home(built.fitting, (float(middle.x), float(middle.y), bottom), high, float(x1 - x0))
    return None


def stowed_item(gear: Gear, home: Home) -> Item:
    """A piece of gear as it lies on the floor of its home."""
    x, y, z = home.floor
    lies = min(sorted((gear.length, gear.width, gear.height))[0], home.high)
    centre: Point = (round(x, 4), round(y, 4), round(z + lies / 2, 4))
    off = min(OFF_M, home.long / 4)
    mass = MassPoint(
        value=gear.mass, centre=centre, status="guessed", centre_spread=(off, off / 2, lies / 2)
    )
    return Item(id=stowed_id(gear), name=gear.name, mass=mass, group="stowed")


def with_stowed(plan: Plan, footing: Footing, case: LoadCase) -> LoadCase:
    """A case with all gear that has a home, less what lies in something that it leaves out."""
    rows = []
    for gear in plan.wishes.gear:
        if gear.home is None or gear.home in case.without:
            continue
        home = home_of(footing, gear.home)
        if home is not None:
            rows.append(stowed_item(gear, home))
    return case.model_copy(update={"extra": (*case.extra, *rows)}) if rows else case
