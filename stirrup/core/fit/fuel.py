"""What sparks near fuel: vapour of petrol is heavier than air and finds it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.tank import Tank
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.plan.placed import Placed

declare("layout", {"SPARKS": "what sparks near fuel", "TANK-REACH": "whether a fuel tank can be looked at"},
        acceptable=True, pace="behind")  # fmt: skip

SPARK_M = 0.15  # of a battery's posts from a fuel tank: working value; further is better
PETROL = "petrol"
SPARE_M = 0.01  # that a tank may reach into what carries a floor


def sparks(things: Sequence[Placed]) -> list[Finding]:
    """Of each petrol tank the battery that is nearest to it. Source: docs/trade-rules.md, “Tanks”."""
    out = []
    batteries = [t for t in things if "battery" in t.kind.offers]
    for tank in things:
        if not isinstance(tank.choices, Tank) or tank.choices.liquid != PETROL:
            continue
        gaps = [_gap(tank, b) for b in batteries]
        gap = min(gaps, default=math.inf)
        if gap < math.inf:
            out.append(_told(tank, batteries[gaps.index(gap)], gap))
    return out


def _gap(a: Placed, b: Placed) -> float:
    """Between the boxes round two things [m]; 0 where they touch or cross."""
    found = [math.inf]
    for one in (s.shape.bounds for s in a.built.solids):
        for other in (s.shape.bounds for s in b.built.solids):
            found.append(
                math.hypot(*(max(one[k] - other[k + 3], other[k] - one[k + 3], 0.0) for k in range(3)))
            )
    return min(found)


def _told(tank: Placed, battery: Placed, gap: float) -> Finding:
    values = {"gap": Quantity(gap, "m"), "least": Quantity(SPARK_M, "m")}
    name, other = plain(tank.title), plain(battery.title)
    if gap >= SPARK_M - 1e-9:
        return Finding("SPARKS", "fine", tank.id, "No battery beside the petrol",
                       f"{other} is the nearest to {name}, {{gap}} away; {{least}} are the least. Air the "
                       "space all the same.", values, other=battery.id)  # fmt: skip
    return Finding("SPARKS", "mend", tank.id, "A battery stands beside the petrol",
                   f"{other} is {{gap}} from {name}. Its posts spark when a spanner slips or a cable is "
                   "taken off, and vapour lies low: {least} are the least, a space of its own is better.",
                   values, "Move one of them; cover both posts, and air the space.",
                   other=battery.id)  # fmt: skip


def tanks_reached(things: Sequence[Placed]) -> list[Finding]:
    """Of each fuel tank under a floor or deck: whether something opens over its fittings.

    Source: docs/trade-rules.md, “Tanks”.
    """
    out = []
    for tank in things:
        if not isinstance(tank.choices, Tank) or not tank.choices.is_fuel:
            continue
        (x, y, z), (long, wide, high) = tank.choices.floor_centre, tank.choices.size
        here = box(x - long / 2, y - wide / 2, x + long / 2, y + wide / 2)
        over = [t for t in things for f in t.built.floors
                if f.broad and f.under_m > z + high - SPARE_M and f.region.intersects(here)]  # fmt: skip
        if over:
            out.append(_reached(tank, over, here, things))
    return out


def _reached(tank: Placed, over: Sequence[Placed], here: Polygon, things: Sequence[Placed]) -> Finding:
    ids, name = {t.id for t in over}, plain(tank.title)
    holes = [h for t in things for h in t.built.holes if h.host in ids and box(*h.outline).intersects(here)]
    if holes:
        return Finding("TANK-REACH", "fine", tank.id, "An opening lies over it",
                       f"Sender, hoses and clamps of {name} can be looked at.")  # fmt: skip
    names = ", ".join(dict.fromkeys(plain(t.title) for t in over))
    return Finding("TANK-REACH", "look", tank.id, "Nothing opens over it",
                   f"{names}: over {name}, and no hatch there. Sender, hoses and clamps have to be looked "
                   "at each season.", {}, "Put a hatch over its fittings.", other=over[0].id)  # fmt: skip
