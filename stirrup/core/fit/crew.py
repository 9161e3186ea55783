"""Who is aboard, what his feet find, and which things of the boat are his."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TypeVar

from shapely.geometry import Point as FlatPoint

from stirrup.core.afloat.ground import Footing
from stirrup.core.contract.gives import Helm, Pane, Seat
from stirrup.core.findings import Input, Quantity, Working, plain
from stirrup.core.fit.body import Pose, pose
from stirrup.core.plan.model import LoadCase, Person
from stirrup.core.plan.placed import Placed
from stirrup.core.record import dataclass
from stirrup.core.space.solid import Solid

SOURCE = "rules of the trade, “People”"
A = TypeVar("A", Helm, Pane)
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
    """What of a plan the checks of people look at, found once for all of them; each with its thing."""

    seats: tuple[tuple[Placed, Seat], ...]
    helms: tuple[tuple[Placed, Helm], ...]
    panes: tuple[tuple[Placed, Pane], ...]
    bodies: tuple[tuple[Placed, Solid], ...]


def scene_of(things: Iterable[Placed]) -> Scene:
    """Seats, what one steers at, and everything that stands in the boat."""
    there = tuple(things)
    return Scene(
        tuple((t, s) for t in there for s in t.built.seats if not s.region.is_empty),
        tuple((t, h) for t in there for h in t.built.helms if h.top_m > h.low_m),
        tuple((t, p) for t in there for p in t.built.panes),
        tuple((t, s) for t in there for s in t.built.solids if s.role == "body"),
    )


def seat_of(scene: Scene, person: Person) -> Placed | None:
    """What somebody sits on."""
    spot = FlatPoint(person.at[0], person.at[1])
    return next((t for t, seat in scene.seats if seat.region.covers(spot)), None)


def helm_of(scene: Scene, person: Person) -> tuple[Placed, Helm] | None:
    """What somebody steers at: the nearest one ahead of him."""
    return ahead_of(scene.helms, person)


def ahead_of(things: Sequence[tuple[Placed, A]], person: Person) -> tuple[Placed, A] | None:
    """The nearest of several things straight ahead of somebody."""
    x, y, _ = person.at
    there = [(t, a) for t, a in things if 0 < a.at[0] - x < AHEAD_M and abs(a.at[1] - y) < BESIDE_M]
    return min(there, key=lambda pair: pair[1].at[0], default=None)


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
