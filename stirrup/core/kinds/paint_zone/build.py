"""A painted zone built: what is stripped, masked and bought, and how it is drawn."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Input, Quantity, Working, declare
from stirrup.core.hull.zones import Zone, zone
from stirrup.core.kinds.paint_zone.choices import PaintZone
from stirrup.core.parts.entries import Plain
from stirrup.core.parts.model import Bought

declare("layout", {"PAINT-OLD": "what old paint may hold", "PAINT-AREA": "area of paint"},
        acceptable=True)  # fmt: skip

PREPARED = {"all off": "strip-all", "only what is loose": "strip-loose", "keyed": "strip-keyed"}
TAPE, TAPE_SPARE = "tape-mask", 1.1
PER_ENTRY = 2  # coats that an entry of paint counts: its mass, packs and minutes are for two
LEAST_M2 = 1e-4
STATIONS = 41  # at which its outline is drawn


def zone_of(c: PaintZone, site: Site) -> Zone:
    """Its zone. Raises CoreError where there is none of it."""
    sides = {"both": (0, 1), "port": (0,), "starboard": (1,)}[c.side]
    solid = site.surface.outside if c.face == "outside" else site.surface.inside
    found = zone(site.surface, solid, c.part, sides, (c.aft, c.fore), c.heights)
    if found.area_m2 < LEAST_M2:
        raise CoreError("there is none of it between these edges", f"fittings.{c.id}.aft")
    return found


def _bought(c: PaintZone, site: Site, there: Zone) -> list[Bought]:
    """What is rubbed down, masked, primed and painted; what stays aboard is dry paint."""
    area, at, find = there.area_m2, there.middle, site.catalogue.plain

    def part(key: str, code: str, entry: Plain, count: float, word: str, stays: float = 0.0) -> Bought:
        group = "cover" if stays else "consumables"
        return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                      max(stays, LEAST_KG), at, group)  # type: ignore[arg-type]  # fmt: skip

    grade = find(PREPARED[c.old or "only what is loose"])
    out = [part("old", "S", grade, area, grade.name)]
    if there.around_m > LEAST_M2:
        out.append(part("tape", "M", find(TAPE), there.around_m * TAPE_SPARE, "masking"))
    rows = (("primer", "B", c.primer, c.primed, 1), ("paint", "C", c.paint, c.coats, PER_ENTRY))
    for key, code, id_, coats, each in rows:
        if id_ != "none" and coats:
            entry, count = find(id_), area * coats / each
            out.append(part(key, code, entry, count, entry.name, count * entry.mass))
    return out


LEAST_KG = 1e-6  # of what does not stay aboard: a part weighs something


def _told(c: PaintZone, there: Zone, parts: list[Bought]) -> list[Finding]:
    area = Quantity(there.area_m2, "m2")
    film = sum(b.mass_kg for b in parts if b.group == "cover")
    values = {"area": area, "edges": Quantity(there.around_m, "m"), "film": Quantity(film, "kg")}
    work = Working(
        "area of the skin between its edges, by its triangles",
        (Input("edges to mask", Quantity(there.around_m, "m")),
         Input("stays aboard", Quantity(film, "kg"))),
        area, "hull surface",
    )  # fmt: skip
    note = Finding("PAINT-AREA", "fine", c.id, "Its area is known",
                   "{area} of skin, {edges} of edges to mask; {film} of dry paint stay aboard.", values,
                   working=work)  # fmt: skip
    dust = (
        "Old paint may hold lead or copper: test a scrap of it first. Mask P3, eyes, skin; catch the dust."
    )
    hot = " No heat and no sparks where foam, fuel or wires lie behind." if c.old == "all off" else ""
    old = Finding("PAINT-OLD", "look", c.id, "Know the old paint before it is sanded", dust + hot, {},
                  "Test it; paint by the maker's sheet, its coats within their window.")  # fmt: skip
    return [note, old]


class Station(NamedTuple):
    """Where a zone is at some x: least and greatest y and z [m]."""

    x: float
    starboard: float
    port: float
    low: float
    high: float


def _stations(there: Zone, low: float, high: float) -> list[Station]:
    """At even steps, where it reaches."""
    out = []
    for x in np.linspace(low + 1e-6, high - 1e-6, STATIONS).tolist():
        if (found := there.across(x)) is not None:
            (y0, z0), (y1, z1) = found
            out.append(Station(x, float(y0), float(y1), float(z0), float(z1)))
    return out


def _shapes(c: PaintZone, there: Zone) -> tuple[Shape, ...]:
    """Its outline from the side; from above that of a bottom, or the edge of each side."""
    low, high = there.corners.reshape(-1, 3).min(axis=0), there.corners.reshape(-1, 3).max(axis=0)
    if c.part == "transom":
        x, ys = float(low[0]), (float(low[1]), float(high[1]))
        box = ((x, ys[0], float(low[2])), (x, ys[1], float(low[2])), (x, ys[1], float(high[2])),
               (x, ys[0], float(high[2])))  # fmt: skip
        line = ((x, ys[0], box[0][2]), (x, ys[1], box[0][2]))
        return (Shape("form-paint", box, view="across"), Shape("form-paint", line, closed=False))
    at = _stations(there, float(low[0]), float(high[0]))
    upper, lower = [(s.x, s.port, s.high) for s in at], [(s.x, s.port, s.low) for s in at]
    out = [Shape("form-paint", (*upper, *lower[::-1]), view="side")]
    if c.part == "bottom":
        other = [(s.x, s.starboard, s.high) for s in at]
        return (*out, Shape("form-paint", (*upper, *other[::-1])))
    for hand, word in ((1, "port"), (-1, "starboard")):
        if c.side in ("both", word):
            edge: tuple[Point, ...] = tuple((s.x, s.port if hand > 0 else s.starboard, s.high) for s in at)
            out.append(Shape("form-paint", edge, closed=False))
    return tuple(out)


def _handles(c: PaintZone, there: Zone) -> tuple[Handle, ...]:
    """Its ends, from the keel's side to its outer edge."""
    if c.part == "transom":
        return ()
    out = []
    points = there.corners.reshape(-1, 3)
    for field, x, edge in (("aft", points[:, 0].min(), "aft"), ("fore", points[:, 0].max(), "fore")):
        at = there.across(float(x) + (1e-6 if edge == "aft" else -1e-6))
        if at is not None:
            (y0, z0), (y1, z1) = at
            line = ((float(x), float(y0), float(z0)), (float(x), float(y1), float(z1)))
            out.append(Handle(field, "x", line, f"{edge} edge", edge))
    return tuple(out)


def build(c: PaintZone, site: Site) -> Built:
    """What a painted zone takes. Raises CoreError where there is none of it."""
    there = zone_of(c, site)
    parts = _bought(c, site, there)
    top = float(there.corners[:, :, 2].max())
    return Built(c.id, (), (), tuple(parts), _shapes(c, there), _handles(c, there),
                 tuple(_told(c, there, parts)), top)  # fmt: skip
