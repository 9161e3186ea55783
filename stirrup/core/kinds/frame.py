"""A frame or kit that is bought ready, and what of it has to be trimmed to the boat's flare and rake."""

from __future__ import annotations

import math
from typing import Any

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase
from stirrup.core.bodies.item_kind import First, ItemKind
from stirrup.core.bodies.pictures import BOX, Line, Picture
from stirrup.core.contract.kind import Entry, Site
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import inside_region, largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import buttock, region, section
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"FRAME-TRIM": "what is trimmed off a bought frame"}, acceptable=True)

LEAST_M = 0.001  # less is filed off
END_M = 0.002  # inside of an end, where it is cut through
SLABS = 4  # in height, of the room that is left of it
SQUARE_DEG = 0.5
WALL_SHARE = 0.98  # of its height: all of a wall is cut away


@dataclass(frozen=True)
class Trim:
    """What comes off at one place: which edge, how far in at the foot and how far up [m]."""

    where: str
    wide: float
    high: float

    @property
    def lean_deg(self) -> float:
        """How far the cut leans from upright."""
        return math.degrees(math.atan2(self.wide, self.high))


def _off(rect: Polygon, inside: Polygon, middle: float) -> list[tuple[float, float, float]]:
    """Pieces of an upright rectangle outside of the boat: which way from its middle, how wide, how high."""
    under = rect.intersection(box(-50, -50, 50, inside.bounds[3]))  # over the sheer nothing is in its way
    left = under.difference(inside)
    out = []
    for piece in getattr(left, "geoms", [left]):
        if isinstance(piece, Polygon) and not piece.is_empty:
            a0, b0, a1, b1 = piece.bounds
            if min(a1 - a0, b1 - b0) > LEAST_M:
                out.append((math.copysign(1.0, (a0 + a1) / 2 - middle), a1 - a0, b1 - b0))
    return out


def trims(body: Prism, surface: HullSurface) -> list[Trim]:
    """What has to come off it, at both ends of its sides, and at its aft end in the middle."""
    (x0, y0, x1, y1), low, high = body.footprint.bounds, body.low, body.high
    out = []
    least, most = float(surface.inside.low[0]), float(surface.inside.high[0])
    for word, x in (("aft", max(x0 + END_M, least + END_M)), ("fore", min(x1 - END_M, most - END_M))):
        inside = largest(region(section(surface.inside, x), 0))
        if inside.is_empty:
            continue
        for way, wide, tall in _off(box(y0, low, y1, high), inside, (y0 + y1) / 2):
            side = "port" if way > 0 else "starboard"
            side = "all of its foot" if wide > WALL_SHARE * (y1 - y0) else side
            out.append(Trim(f"{side}, {word} end", wide, tall))
    lengthwise = largest(region(buttock(surface.inside, (y0 + y1) / 2 + END_M), 1))
    if not lengthwise.is_empty:
        for way, wide, tall in _off(box(x0, low, x1, high), lengthwise, (x0 + x1) / 2):
            if way < 0 and x0 < least + (x1 - x0):
                out.append(Trim("aft, in the middle", wide, tall))
    return out


def _told(c: ItemBase, body: Prism, surface: HullSurface) -> Finding:
    name = plain(c.title)
    if abs(math.remainder(c.turn, 90.0)) > SQUARE_DEG:
        return Finding("FRAME-TRIM", "look", c.id, "It stands turned",
                       "What comes off is told of a frame that stands square in the boat.", {},
                       f"Offer {name} up, and scribe it where it is.")  # fmt: skip
    cuts = trims(body, surface)
    if not cuts:
        text = f"Nothing of {name} meets the boat's side, bottom or transom where it stands."
        return Finding("FRAME-TRIM", "fine", c.id, "It goes in as it comes", text)
    values: dict[str, Quantity] = {}
    words = []
    for n, cut in enumerate(cuts):
        values |= {f"wide{n}": Quantity(cut.wide, "m", True), f"high{n}": Quantity(cut.high, "m", True),
                   f"lean{n}": Quantity(cut.lean_deg, "deg")}  # fmt: skip
        words.append(
            f"{cut.where}: {{wide{n}}} off at its widest, {{high{n}}} high, {{lean{n}}} off upright"
        )
    work = Working(
        "its upright outline less the inside of the boat, at both of its ends",
        tuple(Input(cut.where, Quantity(cut.wide, "m", True)) for cut in cuts),
        Quantity(max(cut.wide for cut in cuts), "m", True), "inside of the hull surface",
    )  # fmt: skip
    tall = max(cut.high for cut in cuts) > WALL_SHARE * (body.high - body.low)
    title = "It is too large for where it stands" if tall else "It is trimmed to the boat"
    remedy = (
        "Move it, or take a smaller one." if tall else
        "Offer it up, scribe the line off the boat, cut, and look what of its welds or flanges is lost."
    )  # fmt: skip
    return Finding("FRAME-TRIM", "mend" if tall else "look", c.id, title, "; ".join(words) + ".", values,
                   remedy, work)  # fmt: skip


def _left(body: Prism, surface: HullSurface) -> tuple[Prism, ...]:
    """Its room, trimmed, in slabs."""
    step, out = (body.high - body.low) / SLABS, []
    for k in range(SLABS):
        low = body.low + k * step
        room = inside_region(surface, low)
        part = body.footprint if room.is_empty else largest(body.footprint.intersection(room))
        if not part.is_empty:
            out.append(Prism(part, low, low + step))
    return tuple(out)


class FrameKind(ItemKind):
    key, title = "frame", "Frame or kit, bought"
    alike = False
    about = (
        "A seat frame, lid kit or box that is bought ready: what has to be trimmed off it to the boat's "
        "flare, deadrise and rake where it stands is told for both of its ends, with the angle of the cut."
    )
    entries = (
        Entry("frame", "Frame or kit, bought ready", 2, "seat frame, lid kit, box: what has to be trimmed "
              "to the boat is told", "seat frame kit prefabricated ready made"),
    )  # fmt: skip
    firsts = {"frame": First((0.40, 0.90, 0.35), 8.0, "seats", 0.40, low=True)}
    picture = Picture((), (Line("form-body", BOX), Line("form-line", ((-1, 0), (1, 1)), False),
                           Line("form-line", ((-1, 1), (1, 0)), False)))  # fmt: skip
    inside = False  # what stands out of the boat is trimmed off
    marked = True

    def more(self, c: ItemBase, body: Prism | None, site: Site) -> dict[str, Any]:
        if body is None:
            return {}
        pieces = _left(body, site.surface)
        solid = Solid(c.id, "body", plain(c.title), body, pieces=pieces)
        return {"findings": (_told(c, body, site.surface),), "solids": (solid,) if pieces else ()}


KIND = FrameKind()
