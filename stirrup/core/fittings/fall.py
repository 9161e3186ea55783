"""What is not level: built level in a hull that leans the other way, and leaned back with all it gives.

Everything is raised by so much for each metre forward of the transom foot: what stands upright across
the boat stays so, places in plan stay where they are, and what runs along is longer by 1 / cos of the
angle. Source: docs/formulas.md, “What falls or rises”.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from stirrup.core.contract.gives import Bolts, Built, Handle, Marked, Overhead
from stirrup.core.contract.kind import Site
from stirrup.core.contract.shown import Detail
from stirrup.core.document import Point, Point2
from stirrup.core.parts.model import Bought
from stirrup.core.space.room import Room
from stirrup.core.space.solid import Solid


def rise_of(degrees: float) -> float:
    """How much it rises for each metre forward."""
    return math.tan(math.radians(degrees))


def leaning_site(site: Site, rise: float, ends: Point2) -> Site:
    """The site of something that rises, as its builder is given it: there it is level. ends: x between
    which it lies [m]."""
    if not rise:
        return site
    standing = (o.lean(-rise, ends) for o in site.obstacles)
    host = site.host.as_level if site.host is not None and site.host.as_level is not None else site.host
    return replace(site, surface=site.surface.lean(-rise), rise=site.rise + rise, host=host,
                   obstacles=tuple(o for o in standing if o is not None))  # fmt: skip


def leaned(built: Built, rise: float) -> Built:
    """What was built level, as it is in the boat."""
    if not rise:
        return built

    def up(p: Point) -> Point:
        return (p[0], p[1], p[2] + rise * p[0])

    x, _ = _middle(built)
    return replace(
        built,
        panels=tuple(p.lean(rise) for p in built.panels),
        members=tuple(m.lean(rise) for m in built.members),
        bought=tuple(_bought(b, up) for b in built.bought),
        shapes=tuple(replace(s, ring=tuple(up(p) for p in s.ring)) for s in built.shapes),
        handles=tuple(_handle(h, up) for h in built.handles),
        top_m=built.top_m + rise * x,
        solids=tuple(_solid(s, rise) for s in built.solids),
        rooms=tuple(_room(r, rise) for r in built.rooms),
        floors=tuple(f.lean(rise) for f in built.floors),
        overhead=tuple(_overhead(o, rise) for o in built.overhead),
        bolts=None if built.bolts is None else _bolts(built.bolts, rise),
        hold=None if built.hold is None else replace(built.hold, at=up(built.hold.at)),
        marked=tuple(_marked(m, rise) for m in built.marked),
        details=tuple(_detail(d, up) for d in built.details),
        rise=built.rise + rise,
        as_level=built,
    )


def _middle(built: Built) -> Point2:
    if built.region.is_empty:
        return (0.0, 0.0)
    x0, y0, x1, y1 = built.region.bounds
    return ((x0 + x1) / 2, (y0 + y1) / 2)


def _bought(part: Bought, up: Callable[[Point], Point]) -> Bought:
    return replace(part, centre=up(part.centre))


def _handle(handle: Handle, up: Callable[[Point], Point]) -> Handle:
    a, b = handle.line
    return replace(handle, line=(up(a), up(b)))


def _solid(solid: Solid, rise: float) -> Solid:
    return replace(solid, shape=solid.shape.lean(rise), pieces=tuple(p.lean(rise) for p in solid.pieces))


def _room(room: Room, rise: float) -> Room:
    body = None if room.body is None else room.body.lean(rise)
    return replace(room, shape=room.shape.lean(rise), body=body)


def _overhead(over: Overhead, rise: float) -> Overhead:
    """Its underside where it is lowest, and from when on it is over somebody, in the middle."""
    x0, _, x1, _ = over.region.bounds
    return replace(over, under_m=over.under_m + min(rise * x0, rise * x1),
                   from_m=over.from_m + rise * (x0 + x1) / 2)  # fmt: skip


def _bolts(bolts: Bolts, rise: float) -> Bolts:
    return replace(bolts, foot_m=bolts.foot_m + rise * bolts.middle[0])


def _marked(marked: Marked, rise: float) -> Marked:
    return replace(marked, rise=marked.rise + rise)


def _detail(detail: Detail, up: Callable[[Point], Point]) -> Detail:
    u, z = detail.middle
    x = detail.at if detail.axis == "x" else u
    return replace(
        detail, middle=(u, up((x, 0.0, z))[2]),
        measures=tuple(replace(m, a=up(m.a), b=up(m.b)) for m in detail.measures),
    )  # fmt: skip
