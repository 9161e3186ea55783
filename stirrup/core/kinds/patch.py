"""A repair of a moulded hull: a hole ground to a long taper and filled by a stack of plies.

Each ply is a round that covers the taper at its own depth; the last ones lie on the sound laminate round
it.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, off_centre
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.laminate import (
    SPARE,
    WET,
    ClothId,
    ResinId,
    consumed,
    thick_m,
    wet_kg,
)
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass

declare(
    "layout",
    {"PATCH-TAPER": "taper of a repair", "PATCH-PLIES": "plies of a repair",
     "PATCH-WORK": "cautions of a repair"},
    acceptable=True,
    pace="behind",
)  # fmt: skip

SOUND = 12.0  # of its thickness that a taper runs out over, under the water and in what is loaded
LEAST_RATIO, MOST_RATIO = 4.0, 20.0
COVER_M = 0.025  # that each covering ply reaches past the one under it: working value
MOST_PLIES = 60
PUTTY_KG_M2 = 0.5  # fairing over all of it, in thin coats: working value
CIRCLE = 24

ORDERS = ways(
    Way(
        "smallest first",
        "each larger round lies over the edge of the last; cut through when it is faired",
    ),
    Way(
        "largest first",
        "the bond reaches furthest at once, and fairing cuts no edge of the lower rounds",
    ),
)


class Patch(FittingBase):
    """Choices for a repair."""

    kind: Literal["patch"] = "patch"
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(0.0, ge=-1, le=5, title="Middle above keel line")
    hole: Length = Field(0.05, ge=0, le=1.5, title="Hole, across, ground to sound laminate",
                         description="0: it does not go through")  # fmt: skip
    deep: Length = Field(0.006, ge=0.0005, le=0.05, title="Laminate there, thick")
    ratio: float = Field(SOUND, ge=LEAST_RATIO, le=MOST_RATIO, title="Taper, times its depth")
    cloth: ClothId = Field("biaxmat-820", title="Plies of")
    covers: int = Field(1, ge=0, le=4, title="Plies over all of it")
    order: Annotated[Literal["smallest first", "largest first"], ORDERS] = Field(
        "largest first", title="Laid"
    )
    resin: ResinId = Field("epoxy-medium", title="Resin")

    @property
    def ground(self) -> float:
        """Across all that is ground away [m]."""
        return self.hole + 2 * self.ratio * self.deep


@dataclass(frozen=True)
class Stack:
    """Plies from the hole outward: breadth of each [m], and how many of them fill the taper."""

    across: tuple[float, ...]
    filling: int

    @property
    def area_m2(self) -> float:
        return sum(math.pi * d * d / 4 for d in self.across)


def stack_of(c: Patch, cloth: Cloth) -> Stack:
    """Plies that fill its depth, each as wide as the taper at the middle of its own thickness, and those
    that cover it. Raises CoreError for more than anybody lays."""
    each = thick_m(cloth, 1)
    count = max(1, math.ceil(c.deep / each - 1e-9))
    if count > MOST_PLIES:
        raise CoreError(f"{count} plies of {each * 1000:.2f} mm fill {c.deep * 1000:.1f} mm; accepted: up "
                        f"to {MOST_PLIES}: take a heavier cloth", f"fittings.{c.id}.cloth")  # fmt: skip
    share = [(k + 0.5) / count for k in range(count)]
    fill = [c.hole + 2 * c.ratio * c.deep * s for s in share]
    covers = [c.ground + 2 * COVER_M * k for k in range(1, c.covers + 1)]
    return Stack((*fill, *covers), count)


def _cloth(c: Patch, catalogue: Catalogue) -> Cloth:
    found = catalogue.find(c.cloth)
    if not isinstance(found, Cloth):
        raise CoreError(f"“{c.cloth}” is no cloth", f"fittings.{c.id}.cloth")
    return found


def _bought(c: Patch, site: Site, cloth: Cloth, stack: Stack) -> tuple[Bought, ...]:
    """Cloth as it is cut from the roll, squares round each ply; resin that wets the plies; putty."""
    at: Point = (c.x, c.y, c.z)
    area, squares = stack.area_m2, sum(d * d for d in stack.across) * SPARE
    wide = max(stack.across)
    putty = site.catalogue.find("putty-structural")
    kg = math.pi * wide * wide / 4 * PUTTY_KG_M2
    resin, wet = site.catalogue.find(c.resin), wet_kg(cloth, area)
    return (
        consumed(c, ("cloth", "C", "plies"), cloth, squares, area * cloth.mass, at),
        consumed(c, ("resin", "R", "resin"), resin, wet * SPARE, wet, at),
        consumed(c, ("putty", "G", "fairing"), putty, kg, kg, at),
    )


def _taper(c: Patch) -> Finding:
    values = {"ground": Quantity(c.ground, "m"), "hole": Quantity(c.hole, "m", True),
              "long": Quantity(c.ratio * c.deep, "m")}  # fmt: skip
    text = (f"Ground away {{ground}} across: {c.ratio:g} times the depth, {{long}}, on every side of the "
            "hole.")  # fmt: skip
    if c.ratio >= SOUND - 1e-9:
        return Finding("PATCH-TAPER", "fine", c.id, "Its taper is long enough", text, values)
    fix = Fix("Taper of 12 times the depth", path=("fittings", c.id, "ratio"), value=SOUND)
    return Finding("PATCH-TAPER", "look", c.id, "A short taper", text, values,
                   "Under the water and where she is loaded 12 times the depth is right; 8 will do over "
                   "the waterline.", fixes=(fix,))  # fmt: skip


def _plies(c: Patch, cloth: Cloth, stack: Stack) -> Finding:
    """Their sizes in the order in which they are laid."""
    fill, covers = list(stack.across[: stack.filling]), list(stack.across[stack.filling :])
    laid = (fill if c.order == "smallest first" else fill[::-1]) + covers
    values = {f"d{k}": Quantity(d, "m") for k, d in enumerate(laid)}
    built = thick_m(cloth, stack.filling)
    values |= {"built": Quantity(built, "m", True), "deep": Quantity(c.deep, "m", True)}
    sizes = ", ".join(f"{{d{k}}}" for k in range(len(laid)))
    work = Working(
        "a ply: w / glass share / 1600 kg/m³; as wide as the taper at the middle of its thickness",
        (Input("cloth", Quantity(cloth.mass * 1000, "g/m2")),
         Input("plies", Quantity(stack.filling, "count")), Input("cover it", Quantity(c.covers, "count"))),
        Quantity(built, "m", True), "rules of the trade, “Repairs”",
    )  # fmt: skip
    why = ("the largest bonds to all of the taper and the next ones to it" if c.order == "largest first"
           else "each ply bonds to the taper round it, and nothing bridges")  # fmt: skip
    text = f"Rounds of {sizes}, laid in this order: {why}. They fill {{built}} of {{deep}}."
    if not c.covers:
        fix = Fix("One ply over all of it", path=("fittings", c.id, "covers"), value=1)
        return Finding("PATCH-PLIES", "look", c.id, "Nothing covers its edge", text, values,
                       "A ply over all of it keeps water out of the edge; it is faired afterwards.", work,
                       fixes=(fix,))  # fmt: skip
    return Finding("PATCH-PLIES", "fine", c.id, "Its plies, in order", text, values, working=work)


def _work(c: Patch) -> Finding:
    back = "Back the hole with a waxed sheet that follows the hull. " if c.hole else ""
    return Finding("PATCH-WORK", "look", c.id, "Grind with air and cover",
                   f"{back}Grind to dry, sound laminate; wipe it with solvent once, no more grinding "
                   f"after. {WET}", {})  # fmt: skip


def findings_of(c: Patch, cloth: Cloth, stack: Stack) -> list[Finding]:
    """All that is to be said of it; comes behind the hand."""
    return [_taper(c), _plies(c, cloth, stack), _work(c)]


def _ring(c: Patch, across: float, view: Literal["plan", "side"]) -> Shape:
    turns = [2 * math.pi * k / CIRCLE for k in range(CIRCLE)]
    r = across / 2
    ring = tuple([
        (c.x + r * math.cos(a), c.y + r * math.sin(a), c.z) if view == "plan"
        else (c.x + r * math.cos(a), c.y, c.z + r * math.sin(a)) for a in turns
    ])  # fmt: skip
    return Shape("form-line", ring, view=view)


def build(c: Patch, site: Site) -> Built:
    """Raises CoreError for a cloth that is none, and for too many plies."""
    cloth = _cloth(c, site.catalogue)
    stack = stack_of(c, cloth)
    shapes = [_ring(c, c.ground, "plan"), _ring(c, c.ground, "side")]
    if c.hole:
        shapes.append(_ring(c, c.hole, "plan"))
    return Built(
        c.id, (), (), _bought(c, site, cloth, stack), tuple(shapes), top_m=c.z,
        later=lambda: findings_of(c, cloth, stack), joined="laminate",
    )  # fmt: skip


class PatchKind(Kind[Patch]):
    key, title = "patch", "Repair of a laminate"
    choices = Patch
    letter = "I"
    brief = True
    entries = (
        Entry("patch", "Repair of a laminate, by plies", 0, "a hole or a crack ground to a taper: how "
                                                            "wide, "
              "how many plies, in which order", "fiberglass hole crack scarf fill transducer"),
    )  # fmt: skip
    about = (
        "A hole or crack in a moulded hull, ground to a taper of twelve times its depth and filled by "
        "rounds of cloth: how many, how wide, in which order, with cloth, resin and fairing. Either way of "
        "laying them, the largest or the smallest first, is a school of its own."
    )

    def extent(self, c: Patch, where: Where) -> Extent:
        r = c.ground / 2
        return Extent((c.x - r, c.x + r), (c.y - r, c.y + r), (c.z, c.z))

    def shift(self, c: Patch, by: Point) -> list[tuple[Path, float]]:
        places = ((0, "x", c.x), (1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + 0.3, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the bottom, where it was put or a third of her length from the transom."""
        low, high = placing.surface.outside.low, placing.surface.outside.high
        x, y = placing.at or (float(low[0]) + 0.35 * float(high[0] - low[0]), 0.3 * float(high[1]))
        floor = bottom_m(placing.surface, x, y)
        if floor is None:
            raise CoreError("there is no bottom there: pick a place inside the boat", "at")
        id_ = placing.id("repair")
        return {"kind": self.key, "id": id_, "name": f"Repair {id_.rsplit('-', 1)[1]}",
                "mark": placing.mark(self.letter), "x": round(x, 3), "y": round(y, 3),
                "z": round(floor, 4)}  # fmt: skip

    def facts(self, c: Patch) -> str:
        return "taper and plies"

    def build(self, c: Patch, site: Site) -> Built:
        return build(c, site)


KIND = PatchKind()
