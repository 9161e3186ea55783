"""What a cable or hose is led through: holes with grommets, and what nobody leads one through."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

import numpy as np

from stirrup.core.contract.gives import Built
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.memo import ByIdentity
from stirrup.core.plan.placed import Placed
from stirrup.core.space.shapes import Swept

declare("layout", {"RUN-PASSES": "what a cable is led through"}, acceptable=True, pace="behind")

# half of what is led, as it is looked at: less than a cable, so that it may lie on things
THIN_M = 0.006
AT_END_M = 0.25  # of its way is at the motor's bracket
MANY = 4  # names in one sentence
THROUGH = ByIdentity()


def passes(things: Sequence[Placed]) -> list[Finding]:
    """Of each thing that is led through the boat, what stands in its way.

    A wall, a bearer or a box is drilled, its edge covered by a grommet. A tank is not.
    """
    out = []
    for run in things:
        if run.built.led:
            ends = {t.to for t in run.kind.ties(run.choices)} | {run.id}
            out.append(_told(run, [t for t in things if t.id not in ends]))
    return out


def _tube(a: Point, b: Point) -> Swept | None:
    """A thin square tube from point to point; None where they are one."""
    way = np.subtract(b, a)
    long = float(np.linalg.norm(way))
    if long < 1e-6:
        return None
    way = way / long
    # any two directions square to it
    across = np.cross(way, (0.0, 0.0, 1.0) if abs(way[2]) < 0.9 else (1.0, 0.0, 0.0))
    across /= np.linalg.norm(across)
    up = np.cross(way, across)
    square = [THIN_M * (u * across + v * up) for u in (-1, 1) for v in (-1, 1)]
    corners = [np.array(p) + off for p in (a, b) for off in square]
    return Swept(tuple((float(x), float(y), float(z)) for x, y, z in corners))


def _tubes(led: Sequence[tuple[Point, Point]]) -> list[Swept]:
    """What is led, without what is at the motor's bracket, as thin tubes."""
    return [tube for a, b in _short(led) if (tube := _tube(a, b)) is not None]


def _through(led: Built, there: Built) -> int:
    """How many bodies that something is made of are in the way of what is led."""
    tubes = led.kept.get("tubes", lambda: _tubes(led.led))
    return sum(s.pieces_in(tubes) for s in there.solids if not s.clear) if tubes else 0


def _short(led: Sequence[tuple[Point, Point]]) -> list[tuple[Point, Point]]:
    """All but what is at the motor's bracket, where it goes over the transom."""
    *rest, (a, b) = led
    long = float(np.linalg.norm(np.subtract(b, a)))
    x, y, z = np.add(b, np.subtract(a, b) * min(1.0, AT_END_M / long)) if long > 0 else a
    return [*rest, (a, (float(x), float(y), float(z)))]


def _told(run: Placed, others: Sequence[Placed]) -> Finding:
    holes, wet, names = 0, None, []
    for thing in others:
        count = THROUGH.get(run.built, thing.built, partial(_through, run.built, thing.built))
        if not count:
            continue
        if any(s.role == "tank" for s in thing.built.solids):
            wet = wet or thing
        holes += count
        names.append(f"{plain(thing.title)} ({count})" if count > 1 else plain(thing.title))
    name = plain(run.title)
    if wet is not None:
        return Finding("RUN-PASSES", "mend", run.id, "Led through a tank",
                       f"{name} would go through {plain(wet.title)}.", {},
                       "Lead it at another height, or along another side.", other=wet.id)  # fmt: skip
    lined = int(getattr(run.choices, "grommets", holes))
    if not holes and not lined:
        return Finding("RUN-PASSES", "fine", run.id, "Nothing stands in its way",
                       f"{name} is led past everything that stands in the boat.")  # fmt: skip
    listed = ", ".join(names[:MANY]) + (f" and {len(names) - MANY} more" if len(names) > MANY else "")
    values = {"holes": Quantity(holes, "count"), "lined": Quantity(lined, "count")}
    through = listed or "nothing"
    text = f"It goes through {through}: {{holes}} holes, each with a grommet against chafe."
    if lined == holes:
        text += " Drill before it is drawn in, above where water stands."
        return Finding("RUN-PASSES", "fine", run.id, "Each of its holes has a grommet", text, values)
    fix = Fix("{holes} grommets", path=("fittings", run.id, "grommets"), value=holes)
    return Finding("RUN-PASSES", "look", run.id, "Led through what stands there",
                   f"{text} {{lined}} are on its list.", values,
                   "Drill before it is drawn in, above where water stands; or lead it round.",
                   fixes=(fix,))  # fmt: skip
