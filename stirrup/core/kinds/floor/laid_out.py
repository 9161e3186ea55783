"""A floor laid out in its hull: outline, where bearers stand, where the skin is parted."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.kind import Site
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.framing import SAME_M, Beam, Framing, frame
from stirrup.core.fittings.landing import level_room
from stirrup.core.fittings.skin import SHORTEST_M, Ground, Joints, joints
from stirrup.core.kinds.floor.choices import FloorChoices, gap_m
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.record import dataclass

STRADDLE_M = 0.05  # of a bearer on either side of a joint athwart: 40 to 60 mm, working value
INSET_M = 0.04  # of the first and the last bearer from the ends: working value


@dataclass(frozen=True)
class Bearer:
    """Where a bearer stands: its key, x of its middle, and the y ranges it is cut into (None: hull)."""

    key: str
    x: float
    between: tuple[tuple[float | None, float | None], ...]


@dataclass(frozen=True)
class LaidOut:
    """Geometry shared by the steps of the build."""

    choices: FloorChoices
    site: Site
    skin: Sheet
    bearer: Sheet
    angle: Section
    outline: Polygon
    under: float
    framing: Framing
    parted: Joints
    bearers: tuple[Bearer, ...]

    @property
    def ends(self) -> tuple[float, float]:
        """Aft and fore end [m]."""
        x0, _, x1, _ = self.outline.bounds
        return float(x0), float(x1)

    @property
    def ground(self) -> Ground:
        """What the skin may be parted over."""
        asked = (*self.site.openings, *self.site.cuts)
        return Ground(self.outline, asked, self.framing, self.outline, self.angle.b)


def lay_out(c: FloorChoices, site: Site) -> LaidOut:
    """Outline and bearers of a floor. Raises CoreError where it meets no hull."""
    skin, bearer = site.catalogue.sheet(c.skin), site.catalogue.sheet(c.bearers)
    angle, under = site.catalogue.section(c.members), c.height - skin.thickness
    hull, room = level_room(site, c.height, under, gap_m(c, site.catalogue))
    place = f"fittings.{c.id}"
    low, high = site.surface.outside.low[2], site.surface.outside.high[2]
    if hull.is_empty:
        raise CoreError(
            f"a floor at {c.height:.3f} m meets no hull; the hull reaches from {low:.3f} to {high:.3f} m",
            f"{place}.height",
        )
    aft, fore = c.ends_m(hull)
    outline = largest(room.intersection(box(aft, -20, fore, 20)).simplify(0.0002))
    if outline.is_empty or outline.bounds[2] - outline.bounds[0] < SHORTEST_M:
        raise CoreError(f"from {aft:.3f} m to {fore:.3f} m there is no room for a floor", f"{place}.aft")
    aft, fore = float(outline.bounds[0]), float(outline.bounds[2])
    inset = min(INSET_M, (fore - aft) / 4)
    framing = frame(aft + inset, fore - inset, c.spacing, angle.b, site.openings)
    ground = Ground(outline, (*site.openings, *site.cuts), framing, outline, angle.b)
    # bearers stand athwart, so the grain of wood lies along the boat
    parted = joints(ground, skin, skin.stuff.kind == "wood", f"{place}.skin")
    stands = tuple(_bearers(framing, parted, site, (angle.b + bearer.thickness) / 2))
    return LaidOut(c, site, skin, bearer, angle, outline, under, framing, parted, stands)


def _bearers(framing: Framing, parted: Joints, site: Site, behind: float) -> list[Bearer]:
    """One at each station: behind the angle at the edge of an opening, on both sides of a joint."""
    out = []
    for beam in framing.beams:
        if any(abs(beam.x - x) < SAME_M for x in parted.athwart):
            for suffix, by in (("A", -STRADDLE_M), ("F", STRADDLE_M)):
                out.append(Bearer(f"{beam.key}{suffix}", beam.x + by, beam.between))
        else:
            out.append(Bearer(beam.key, beam.x + _aside(beam, site, behind), beam.between))
    return out


def _aside(beam: Beam, site: Site, behind: float) -> float:
    """How far a bearer stands from its station: away from the opening whose edge is there."""
    aft = any(abs(o.frame[0] - beam.x) < SAME_M for o in site.openings)
    fore = any(abs(o.frame[2] - beam.x) < SAME_M for o in site.openings)
    return 0.0 if aft == fore else (-behind if aft else behind)


def bays(bearers: Sequence[Bearer]) -> list[tuple[Bearer, Bearer]]:
    """Neighbours, aft to fore."""
    return list(pairwise(sorted(bearers, key=lambda b: b.x)))
