"""Under the floor: the backing plate of a pedestal, its bolts, and what is in the way of both."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any, Literal

import numpy as np
from shapely.geometry import Point as FlatPoint

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.kinds.pedestal_seat.choices import PedestalSeat
from stirrup.core.kinds.pedestal_seat.standing import Standing
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Fastener
from stirrup.core.parts.model import Bought, Frame, Panel
from stirrup.core.space.shapes import TOUCH_M

declare("layout", {"SEAT-PLATE": "where a seat's backing plate goes"}, acceptable=True)

BOLT_M = 0.006
FLANGE_M = 0.006  # of a pedestal's base: working value
PLATE_OVER_M = 0.01  # of a backing plate beyond the base: it goes between two bearers


def part(s: Standing, key: str, code: str, word: str, entry: Any, count: float, z: float,
         group: Literal["hardware", "fasteners"] = "hardware") -> Bought:  # fmt: skip
    """So many of an entry of the catalogue, at a height over the foot [m]."""
    c = s.c
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, (c.x, c.y, s.foot + z), group)  # fmt: skip


def _along_floor(turn: float, rise: float) -> tuple[Point, Point]:
    """Unit vectors along and across what is turned in a plane that rises forward."""
    long = math.hypot(1.0, rise)
    ahead, port = np.array([1.0, 0.0, rise]) / long, np.array([0.0, 1.0, 0.0])
    c, s = math.cos(turn), math.sin(turn)
    along, across = c * ahead + s * port, c * port - s * ahead
    return (float(along[0]), float(along[1]), float(along[2])), (
        float(across[0]), float(across[1]), float(across[2]))  # fmt: skip


def in_the_way(c: PedestalSeat, plates: list[Panel], host: Built | None) -> list[Finding]:
    """Bearers and members of its floor where its backing plate goes."""
    if not plates or host is None:
        return []
    ring = [plates[0].frame.at(u, v) for u, v in plates[0].outline]
    low, high = (tuple(f(p[k] for p in ring) for k in (0, 1)) for f in (min, max))
    met: list[tuple[str, float, float]] = []
    for label, (x0, y0), (x1, y1) in standing_under(host):
        if (
            x0 < high[0] - TOUCH_M
            and low[0] < x1 - TOUCH_M
            and y0 < high[1] - TOUCH_M
            and low[1] < y1 - TOUCH_M
        ):
            met.append((label, x0, x1))
    if not met:
        return []
    names = ", ".join(plain(label) for label, _, _ in met)
    ahead, back = max(x1 for _, _, x1 in met) - low[0], high[0] - min(x0 for _, x0, _ in met)
    by = ahead if ahead <= back else -back
    values = {"by": Quantity(abs(by), "m")}
    way = "forward" if by > 0 else "aft"
    fix = Fix(f"Move it {{by}} {way}", c.id, (by, 0.0, 0.0))
    return [
        Finding("SEAT-PLATE", "look", c.id, "Its backing plate meets what carries the floor",
                f"{names}: where the plate goes.", values,
                f"Move it {{by}} {way}, cut the plate in two beside it, or bolt through large washers.",
                fixes=(fix,))
    ]  # fmt: skip


def standing_under(host: Built) -> Iterator[tuple[str, Point2, Point2]]:
    """What hangs or stands under a floor: its mark and the box around it in plan."""
    for panel in host.panels:
        if panel.role in ("bearer", "strip"):
            half = 0.0 if panel.level else panel.sheet.thickness / 2
            places = [panel.frame.at(u, v) for u, v in panel.outline]
            xs, ys = [p[0] for p in places], [p[1] for p in places]
            yield panel.label, (min(xs) - half, min(ys)), (max(xs) + half, max(ys))
    for member in host.members:
        places = [p for body in member.fills for p in body]
        if places and member.role != "side":
            xs, ys = [p[0] for p in places], [p[1] for p in places]
            yield member.label, (min(xs), min(ys)), (max(xs), max(ys))


def plate_of(s: Standing, site: Site) -> list[Panel]:
    """A square of sheet under the floor, larger than the base, with the holes of its bolts."""
    c = s.c
    if c.under != "backing plate" or not s.floor:
        return []
    sheet = site.catalogue.sheet(c.plate)
    half, r, n = s.pedestal.base / 2 + PLATE_OVER_M, s.pedestal.circle / 2, s.pedestal.bolts
    spots = [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in range(n)]
    holes = tuple(tuple(FlatPoint(u, v).buffer(BOLT_M / 2 + 0.0003, quad_segs=4).exterior.coords[:-1])
                  for u, v in spots)  # fmt: skip
    # against the underside of a floor that may fall
    z, rise = s.under
    frame = Frame((c.x, c.y, z - sheet.thickness / 2), *_along_floor(math.radians(c.turn), rise))
    ring = ((-half, -half), (half, -half), (half, half), (-half, half))
    return [Panel(f"{c.id}/plate", f"{c.code}-P", f"{c.name}, backing plate", c.id, sheet, ring, holes,
                  frame, (0, 90, 180, 270))]  # fmt: skip


def _bolt(catalogue: Catalogue, grip: float) -> Fastener | None:
    """The shortest of its bolts that holds so much [m]."""
    bolts = (f for f in catalogue.of(Fastener) if f.style == "bolt" and abs(f.diameter - BOLT_M) < 1e-9)
    return min(
        (f for f in bolts if f.grip_min <= grip <= f.grip_max), key=lambda f: f.grip_max, default=None
    )


def fasteners(s: Standing, plates: list[Panel], site: Site) -> tuple[list[Bought], list[Finding]]:
    """Bolts with nuts and washers through floor and plate, or screws into it."""
    c, find, n = s.c, site.catalogue.find, s.pedestal.bolts
    if c.under == "screws":
        screw = find("screw-4.2x16")
        return [part(s, "screws", "R", "screws", screw, n, 0.0, "fasteners")], []
    grip = FLANGE_M + s.floor + sum(p.sheet.thickness for p in plates)
    bolt = _bolt(site.catalogue, grip)
    if bolt is None:
        return [], [no_fastener(c.id, "Pedestal to floor", grip)]
    nut, washer = find("nut-m6"), find("washer-m6")
    rows = (("bolts", "R", bolt, n), ("nuts", "RN", nut, n), ("washers", "RW", washer, 2 * n))
    return [part(s, key, code, key, entry, count, 0.0, "fasteners") for key, code, entry, count in rows], []
