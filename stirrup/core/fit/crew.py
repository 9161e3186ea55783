"""Who is aboard, what his feet find, and which things of the boat are his."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.findings import Input, Quantity, Working, plain
from stirrup.core.fit.body import Pose, pose
from stirrup.core.fit.rooms import item_prism
from stirrup.core.fit.shapes import Prism
from stirrup.core.plan.model import Item, LoadCase, Person, Plan

SOURCE = "handbook of the trade, chapter 3"
AHEAD_M = 1.2  # a console farther ahead than this is somebody else's
BESIDE_M = 0.45  # a console this far beside somebody is not his


@dataclass(frozen=True)
class Aboard:
    """Somebody with the case he is in, what his feet find, and his joints."""

    person: Person
    case: str
    floor_m: float | None
    pose: Pose


def number(value: float, unit: str = "m") -> Quantity:
    """An amount of a finding."""
    return Quantity(value, unit)


def working(formula: str, inputs: Sequence[tuple[str, Quantity]], result: Quantity) -> Working:
    """How a check of people comes to its result."""
    return Working(formula, tuple(Input(n, q) for n, q in inputs), result, SOURCE)


@dataclass(frozen=True)
class Scene:
    """The things of a plan that checks of people look at, found once for all of them."""

    seats: tuple[tuple[Item, Prism], ...]
    consoles: tuple[Item, ...]
    screens: tuple[Item, ...]
    things: tuple[tuple[Item, Prism], ...]


def scene_of(plan: Plan) -> Scene:
    """Seats, consoles and everything that stands in the boat."""
    there = [(i, p) for i in plan.items if i.stage != "removed" and (p := item_prism(i)) is not None]
    return Scene(
        tuple((i, p) for i, p in there if i.form in ("seat", "bench")),
        tuple(i for i, _ in there if i.form == "console"),
        tuple(i for i, _ in there if i.form == "screen"),
        tuple(there),
    )


def seat_of(scene: Scene, person: Person) -> Item | None:
    """The seat under somebody."""
    spot = FlatPoint(person.at[0], person.at[1])
    return next((i for i, prism in scene.seats if prism.footprint.covers(spot)), None)


def console_of(scene: Scene, person: Person) -> Item | None:
    """The console that somebody steers at: the nearest one ahead of him."""
    return ahead_of(scene.consoles, person)


def ahead_of(things: Sequence[Item], person: Person) -> Item | None:
    """The nearest of several things straight ahead of somebody."""
    x, y, _ = person.at
    there = [
        i for i in things if 0 < i.mass.centre[0] - x < AHEAD_M and abs(i.mass.centre[1] - y) < BESIDE_M
    ]
    return min(there, key=lambda i: i.mass.centre[0], default=None)


def aboard(footing: Footing, cases: Iterable[LoadCase]) -> list[Aboard]:
    """Everybody of these cases, each posture at a place once."""
    seen: set[tuple[object, ...]] = set()
    out = []
    for case in cases:
        for person in case.crew:
            key = (person.posture, person.stature, *(round(v, 3) for v in person.at))
            if key in seen:
                continue
            seen.add(key)
            floor = None
            if person.posture == "seated":
                x, y, z = person.at
                ground = footing.at(x + 0.25 * person.stature, y)
                floor = ground.height_m if ground and ground.height_m < z - 0.05 else None
            out.append(Aboard(person, case.name, floor, pose(person, floor)))
    return out


def who(one: Aboard) -> str:
    """The person's name, or the load case when he has none."""
    return plain(one.person.name or one.case)
