"""A level panel among the structure that stays: landings, notches, the way in past the lip."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding, Input, Quantity, Working, declare
from stirrup.core.fittings.edges import breadths_at, inside_region, largest
from stirrup.core.memo import Memo
from stirrup.core.parts.model import Panel
from stirrup.core.record import dataclass

declare(
    "layout",
    {
        "DECK-LANDS": "landing on structure",
        "DECK-NOTCH": "notches round structure",
        "MEMBER-MEETS": "a member that meets structure",
    },
)
declare("layout", {"LIP": "the way in past the gunwale lip"}, pace="behind")

LEVELS = Memo(64)


@dataclass(frozen=True)
class Level:
    """A level panel: footprint before notches, underside, top, depth of its members [m]."""

    place: str
    footprint: Polygon
    under: float
    height: float
    leg: float


def level_room(site: Site, height: float, under: float, gap: float) -> tuple[Polygon, BaseGeometry]:
    """Inside of the hull between underside and top, and what of it a panel may cover.

    The second is the first less the gap and less the structure that stands through. Both
    are kept: moving the panel's ends leaves them as they are. All lengths in m.
    """

    def find() -> tuple[Polygon, BaseGeometry]:
        inside = [inside_region(site.surface, z) for z in (under, height)]
        hull = largest(inside[0].intersection(inside[1]))
        room: BaseGeometry = hull.buffer(-gap, join_style="mitre")
        for thing in site.obstacles:
            if thing.low < height and thing.high > under + 1e-6 and thing.kind != "lip":
                room = room.difference(thing.footprint.buffer(gap, join_style="mitre"))
        return hull, room

    if not site.surface.key:
        return find()
    return LEVELS.get((site.surface.key, site.obstacles, height, under, gap), find)


def existing_findings(level: Level, stations: list[float], site: Site) -> list[Finding]:
    """What the deck does with the structure that stays: notched, carried, or in the way.

    stations: x of the members under the skin [m].
    """
    found: list[Finding] = []
    for thing in site.obstacles:
        if not thing.footprint.intersects(level.footprint):
            continue
        if thing.kind == "lip":
            continue
        x0, _, x1, _ = thing.footprint.bounds
        drops = [level.under - thing.over(x)[1] for x in (x0, x1)]
        drop, most = min(drops), max(drops)
        if drop >= -1e-6 and most <= 0.003:
            found.append(
                Finding("DECK-LANDS", "fine", level.place, f"Lands on {thing.name}",
                        "The skin lies on it; {drop} to pack.",
                        {"drop": Quantity(max(most, 0.0), "m", True)})
            )  # fmt: skip
        elif drop < 0 and thing.low < level.height:
            found.append(
                Finding("DECK-NOTCH", "look", level.place, f"Notched round {thing.name}",
                        "It reaches {over} above the underside; the skin is cut back by the gap.",
                        {"over": Quantity(-drop, "m", True)})
            )  # fmt: skip
        elif 0 < drop < level.leg:
            near = [x for x in stations if x0 - 0.02 < x < x1 + 0.02]
            if near:
                found.append(
                    Finding("MEMBER-MEETS", "mend", level.place, f"A cross member meets {thing.name}",
                            "It stands {drop} under the skin at {x} from the transom, and the "
                            "member needs {leg}.",
                            {"drop": Quantity(drop, "m", True), "x": Quantity(near[0], "m"),
                             "leg": Quantity(level.leg, "m", True)},
                            "Change the spacing or the height, or notch the member over it.")
                )  # fmt: skip
    return found


def _tightest(panel: Polygon, site: Site) -> tuple[float, float] | None:
    """Breadth of the panel and clear width between the lips where these fit worst [m]."""
    lips = [o for o in site.obstacles if o.kind == "lip"]
    if not lips:
        return None
    x0, _, x1, _ = panel.bounds
    marks = x0 + (x1 - x0) * np.linspace(0.002, 0.998, 13)
    low, high = breadths_at(panel, marks)
    edges = [np.abs(np.array(breadths_at(lip.footprint, marks))).min(axis=0) for lip in lips]
    clear = 2 * np.fmin.reduce(edges)
    ratio = (high - low) / clear
    if np.isnan(ratio).all():
        return None
    worst = int(np.nanargmax(ratio))
    return float(high[worst] - low[worst]), float(clear[worst])


def lip_finding(place: str, panels: Sequence[Panel], site: Site) -> list[Finding]:
    """Whether every finished skin panel passes between the gunwale lips: flat, tilted, or not.

    Lowered straight down where it belongs. Tilted by a so that breadth·cos(a) fits the
    opening, its low edge hangs breadth·sin(a) below the lip and must stay off the bottom.
    Screening: both sides of the boat taken alike; source: triangle geometry.
    """
    pairs = [p for panel in panels if (p := _tightest(panel.polygon, site)) is not None]
    if not pairs:
        return []
    breadth, clear = max(pairs, key=lambda p: p[0] / p[1])
    lips = [o for o in site.obstacles if o.kind == "lip"]
    inputs = (
        Input("panel breadth", Quantity(breadth, "m")),
        Input("clear between the lips", Quantity(clear, "m"), "survey"),
    )
    values = {"breadth": Quantity(breadth, "m"), "clear": Quantity(clear, "m")}
    if breadth <= clear:
        return [
            Finding("LIP", "fine", place, "Passes the gunwale lip flat",
                    "{breadth} across, {clear} between the lips.", values)
        ]  # fmt: skip
    tilt = math.acos(clear / breadth)
    drop = breadth * math.sin(tilt)
    room = min(o.high for o in lips) - float(site.surface.inside.low[2])
    values |= {"tilt": Quantity(math.degrees(tilt), "deg"), "drop": Quantity(drop, "m"),
               "room": Quantity(room, "m")}  # fmt: skip
    working = Working(
        "tilt = acos(clear / breadth); low edge = breadth · sin(tilt)",
        (*inputs, Input("lip above the bottom", Quantity(room, "m"), "survey")),
        Quantity(drop, "m"),
        "triangle geometry; screening, the straight way in",
    )
    if drop < room:
        return [
            Finding("LIP", "look", place, "Goes in past the lip tilted",
                    "{breadth} across and {clear} between the lips: tilt it {tilt}; the low edge "
                    "then hangs {drop} down, and there is {room}.", values, working=working)
        ]  # fmt: skip
    return [
        Finding("LIP", "mend", place, "Does not pass the gunwale lip in one piece",
                "{breadth} across and {clear} between the lips: tilted, the low edge would hang "
                "{drop} down, and there is {room}.", values,
                "Split the skin along the centreline, or cut the lip back.", working)
    ]  # fmt: skip
