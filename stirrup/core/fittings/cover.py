"""Carpet, vinyl and mats on a deck and on its lids, with what glues them down."""

from __future__ import annotations

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.schools import Edges
from stirrup.core.document import Point
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Plain
from stirrup.core.parts.model import Bought

GLUE_KG_M2 = 0.30  # wet contact adhesive on both faces; starting value
GLUE_DRY_SHARE = 0.4  # of the wet adhesive stays in the boat; starting value


def turns_over(catalogue: Catalogue, cover: str) -> bool:
    """Whether a cover can be turned over edges: carpet and vinyl, no mat and no paint, and nothing that is
    no cover (whoever builds with it says so)."""
    entry = catalogue.entries.get(cover)
    return isinstance(entry, Plain) and entry.wraps


def wrapped_m(catalogue: Catalogue, cover: str, edges: Edges | None) -> float:
    """What a cover takes of the gap at an edge that it is turned over [m]; 0 where it ends flush."""
    return catalogue.plain(cover).thickness if edges != "flush" and turns_over(catalogue, cover) else 0.0


def covered(c: FittingBase, catalogue: Catalogue, cover: str, area_m2: float, at: Point) -> list[Bought]:
    """What covers an area of a fitting and the adhesive of a cover that is glued.

    area_m2: with what is turned over edges; at: middle of the face that is covered, (x, y, z) [m].
    """
    source = catalogue.plain(cover)
    centre: Point = (at[0], at[1], at[2] + source.thickness / 2)
    out = [
        Bought(f"{c.id}/cover", f"{c.code}-C", f"{c.name}, {source.name}", c.id, source, area_m2,
               area_m2 * source.mass, centre, "cover")
    ]  # fmt: skip
    if source.wraps:
        glue = area_m2 * GLUE_KG_M2
        out.append(
            Bought(f"{c.id}/glue", f"{c.code}-G", f"{c.name}, adhesive", c.id,
                   catalogue.plain("contact-glue"), glue,
                   glue * GLUE_DRY_SHARE, centre, "consumables")
        )  # fmt: skip
    return out
