"""Load cases of a moment: what people fear, as far as still water can tell.

Somebody climbs in, stands on the gunwale, two haul something over one side, she lies with her bow
on a beach while waves come to the transom, or she runs aground with somebody forward. They cannot be
changed; a changed one is the build's own. Each is off where it cannot apply. Nobody moves, nothing
swings and no wave lifts her in them: screening.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Literal

from stirrup.core.afloat.ground import Footing
from stirrup.core.document import MassPoint, Point
from stirrup.core.plan.model import STANDARD_CREW_KG, Item, LoadCase, Person, Plan

Posture = Literal["standing", "lying"]
Offered = tuple[str, Callable[[], LoadCase]]  # a case by its name, made when it is asked for
STATURE_M = 1.75
# somebody who pulls himself up lies on the edge with all his weight before he is in: worst moment
HAULED_KG = 30.0  # what two bring in over the side, an anchor or a big fish: working value
HAUL_APART_M = 0.7
LEANING_M = 0.05  # two who haul lean out until they are this far inside of the sheer: working value
BEACHED_M, TOUCHED_M = 0.10, 0.03  # by which the forefoot rises on the ground: working values

OVER_SIDE, BY_LADDER = "climbing in over the side", "climbing in by the ladder"
GUNWALE, HAULING = "one standing on the gunwale", "two hauling over one side"
BEACHED, AGROUND = "beached, waves astern", "aground, one in the bow"
MOMENTS = (OVER_SIDE, BY_LADDER, GUNWALE, HAULING, BEACHED, AGROUND)


def is_momentary(name: str) -> bool:
    """Whether a case stands for a moment: it is told, and no figure of the boat is judged by it."""
    return any(name == m or name.startswith(f"{m} (standard)") for m in MOMENTS)


def sheer_at(footing: Footing, x: float, side: float) -> tuple[float, float]:
    """y and height of the sheer at x, to port (side +1) or starboard (-1) [m]."""
    _, y, z = footing.surface.sheer_at(x, side)
    return y, z


def _person(name: str, x: float, y: float, z: float, posture: Posture) -> Person:
    return Person(mass=STANDARD_CREW_KG, stature=STATURE_M, posture=posture, at=(x, y, z), name=name)


def _hauling(footing: Footing, middle: float, side: float, fills: dict[str, float]) -> LoadCase:
    """Two about the middle of her length, leaning out on the side to which she leans, with their catch."""
    lowest = float(footing.surface.inside.low[2])
    crew = []
    for k, x in enumerate((middle - HAUL_APART_M / 2, middle + HAUL_APART_M / 2), 1):
        edge, _ = sheer_at(footing, x, side)
        ground = footing.at(x, edge - side * 0.3)
        floor = ground.height_m if ground else lowest
        crew.append(_person(f"hauling {k}", x, edge - side * LEANING_M, floor, "standing"))
    y, z = sheer_at(footing, middle, side)
    catch = Item(id="hauled", name="what they haul", mass=MassPoint(value=HAULED_KG, centre=(middle, y, z)))
    return LoadCase(name=HAULING, crew=tuple(crew), fills=fills, extra=(catch,))


def moment_cases(
    plan: Plan, footing: Footing, side: float, helm: Callable[[], Person], bow_x: float,
    fills: dict[str, float],
) -> list[Offered]:  # fmt: skip
    """The cases of a moment by their names, each to be made when it is asked for.

    side: to which she leans, port +1; helm: whoever is at the helm; bow_x: where somebody forward
    stands [m]; fills: of the fuel tanks.
    """
    low, high = float(footing.surface.outside.low[0]), float(footing.surface.outside.high[0])
    middle = low + 0.45 * (high - low)
    lowest = float(footing.surface.inside.low[2])
    alone = plan.label is not None and plan.label.persons == 1
    top = next((p for b in footing.built for p in b.climbs), None)

    def case(name: str, *crew: Person) -> LoadCase:
        stays = () if alone else (helm(),)
        return LoadCase(name=name, crew=(*stays, *crew), fills=fills)

    def over_side() -> LoadCase:
        y, z = sheer_at(footing, middle, side)
        return case(OVER_SIDE, _person("climbing in", middle, y, z, "lying"))

    def by_ladder(place: Point) -> LoadCase:
        return case(BY_LADDER, _person("climbing in", *place, "lying"))

    def gunwale() -> LoadCase:
        y, z = sheer_at(footing, middle, side)
        crew = (_person("on the gunwale", middle, y, z, "standing"),)
        return LoadCase(name=GUNWALE, crew=crew, fills=fills)

    def aground() -> LoadCase:
        between = (sheer_at(footing, bow_x, 1.0)[0] + sheer_at(footing, bow_x, -1.0)[0]) / 2
        ground = footing.at(bow_x, between)
        bow = _person("forward", bow_x, between, ground.height_m if ground else lowest, "standing")
        return LoadCase(name=AGROUND, crew=(bow,), fills=fills, lifted=TOUCHED_M)

    return [
        (OVER_SIDE, over_side),
        *([] if top is None else [(BY_LADDER, partial(by_ladder, top))]),
        (GUNWALE, gunwale),
        *([] if alone else [(HAULING, partial(_hauling, footing, middle, side, fills))]),
        (BEACHED, lambda: LoadCase(name=BEACHED, fills=fills, lifted=BEACHED_M)),
        (AGROUND, aground),
    ]
