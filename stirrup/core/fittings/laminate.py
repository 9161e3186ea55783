"""Cloth and resin by their area, wire by the seam, and the cautions that go with either."""

from __future__ import annotations

from typing import Annotated

from stirrup.core.contract.base import Named
from stirrup.core.document import Id, Point, StockRef
from stirrup.core.fittings.done_ways import RESINS
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Cloth, Entry
from stirrup.core.parts.model import Bought

ClothId = Annotated[Id, StockRef("cloth")]
ResinId = Annotated[
    Id, StockRef("resin", wanted=(("chemistry", ("polyester", "vinyl ester", "epoxy")),)), RESINS
]

LAMINATE_KG_M3 = 1600.0  # stitched cloth and resin, by hand
WET = (
    "Dust mask P3 while grinding; vapour cartridges, gloves and goggles while it is wet. Nobody alone "
    "under a deck."
)
WELD = (
    "Fuel out of the boat, foam and wires clear of the heat, somebody on the other side with an "
    "extinguisher, an hour's watch. By a qualified welder."
)


GLUE_KG_M2 = 0.6  # thickened resin between two layers: working value
STITCH_KG_PER_M = 0.06  # of filler wire in a stitched fillet of 4 mm on both sides: working value
LAP_M = 0.025  # each ply of tape lies this much further out than the one under it: working value
SPARE = 1.1  # of cloth and tape, cut off


def tabs_m2(tape: Cloth, plies: int, long: float) -> float:
    """Tape along a length on one side, each ply a lap wider on either side than the one under it, with
    what is cut off [m2]."""
    return long * sum(tape.roll_width + 2 * LAP_M * k for k in range(plies)) * SPARE


def consumed(
    c: Named, named: tuple[str, str, str], entry: Entry, count: float, kg: float, at: Point
) -> Bought:
    """A consumable of a fitting; named: key, code and word for it."""
    key, code, word = named
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count, kg, at,
                  "consumables")  # fmt: skip


def wet_kg(cloth: Cloth, area: float) -> float:
    """Resin in an area of cloth, by its share of fibre [kg]: m (1 / share - 1)."""
    return area * cloth.mass * (1 / cloth.glass_share - 1)


def thick_m(cloth: Cloth, plies: int) -> float:
    """Of so many plies: mass of cloth and resin over the density of the laminate [m]."""
    return plies * cloth.mass / cloth.glass_share / LAMINATE_KG_M3


def laid(
    c: Named, catalogue: Catalogue, named: tuple[str, str, str], cloth_id: str, area: float, at: Point
) -> tuple[list[Bought], float]:
    """Cloth of an area [m2], and the resin that wets it [kg]; nothing of what is no cloth."""
    cloth = catalogue.find(cloth_id)
    if not isinstance(cloth, Cloth) or area <= 0:
        return [], 0.0
    return [consumed(c, named, cloth, area, area * cloth.mass, at)], wet_kg(cloth, area)


def resin(c: Named, catalogue: Catalogue, resin_id: str, kg: float, at: Point) -> list[Bought]:
    """So much resin; nothing of none."""
    entry = catalogue.find(resin_id)
    return [consumed(c, ("resin", "R", "resin"), entry, kg, kg, at)] if kg > 0 else []


def wire(c: Named, catalogue: Catalogue, metres: float, kg_per_m: float, at: Point) -> Bought:
    """Filler wire of a seam."""
    kg = metres * kg_per_m
    return consumed(c, ("wire", "W", "filler wire"), catalogue.find("wire-5356"), kg, kg, at)
