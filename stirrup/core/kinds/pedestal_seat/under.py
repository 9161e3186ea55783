"""Under the floor: the backing plate of a pedestal, its bolts, and what is in the way of both."""

from __future__ import annotations

import math
from typing import Any, Literal

from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.through_bolts import along_floor, bolt_hole, shortest_bolt
from stirrup.core.kinds.pedestal_seat.standing import Standing
from stirrup.core.parts.model import Bought, Frame, Panel

BOLT_M = 0.006
FLANGE_M = 0.006  # of a pedestal's base: working value
PLATE_OVER_M = 0.01  # of a backing plate beyond the base: it goes between two bearers


def part(s: Standing, key: str, code: str, word: str, entry: Any, count: float, z: float,
         group: Literal["hardware", "fasteners"] = "hardware") -> Bought:  # fmt: skip
    """So many of an entry of the catalogue, at a height over the foot [m]."""
    c = s.c
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, (c.x, c.y, s.foot + z), group)  # fmt: skip


def plate_of(s: Standing, site: Site) -> list[Panel]:
    """A square of sheet under the floor, larger than the base, with the holes of its bolts."""
    c = s.c
    if c.under != "backing plate" or not s.floor:
        return []
    sheet = site.catalogue.sheet(c.plate)
    half, r, n = s.pedestal.base / 2 + PLATE_OVER_M, s.pedestal.circle / 2, s.pedestal.bolts
    spots = [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in range(n)]
    holes = tuple(bolt_hole(spot, BOLT_M) for spot in spots)
    # against the underside of a floor that may fall
    z, rise = s.under
    frame = Frame((c.x, c.y, z - sheet.thickness / 2), *along_floor(math.radians(c.turn), rise))
    ring = ((-half, -half), (half, -half), (half, half), (-half, half))
    return [Panel(f"{c.id}/plate", f"{c.code}-P", f"{c.name}, backing plate", c.id, sheet, ring, holes,
                  frame, (0, 90, 180, 270))]  # fmt: skip


def fasteners(s: Standing, plates: list[Panel], site: Site) -> tuple[list[Bought], list[Finding]]:
    """Bolts with nuts and washers through floor and plate, or screws into it."""
    c, find, n = s.c, site.catalogue.find, s.pedestal.bolts
    if c.under == "screws":
        screw = find("screw-4.2x16")
        return [part(s, "screws", "R", "screws", screw, n, 0.0, "fasteners")], []
    grip = FLANGE_M + s.floor + sum(p.sheet.thickness for p in plates)
    bolt = shortest_bolt(site.catalogue, BOLT_M, grip)
    if bolt is None:
        return [], [no_fastener(c.id, "Pedestal to floor", grip)]
    nut, washer = find("nut-m6"), find("washer-m6")
    rows = (("bolts", "R", bolt, n), ("nuts", "RN", nut, n), ("washers", "RW", washer, 2 * n))
    return [part(s, key, code, key, entry, count, 0.0, "fasteners") for key, code, entry, count in rows], []
