"""What holds a lid open: a stay, or gas struts chosen from the catalogue with where their ends go."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from stirrup.core.contract.base import Named
from stirrup.core.contract.shown import Chart, Curve
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.strut import Chosen, Lid, choose
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Plain, Strut
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.record import dataclass

declare("layout", {"STRUT": "struts of a lid"}, acceptable=True)

Support = Literal["none", "stay", "one strut", "two struts"]
COUNTS: dict[str, int] = {"one strut": 1, "two struts": 2}


@dataclass(frozen=True)
class Supported:
    """What is bought to hold lids open, what was found, and how the hand feels it."""

    bought: tuple[Bought, ...] = ()
    findings: tuple[Finding, ...] = ()
    charts: tuple[Chart, ...] = ()


def lid_about(
    parts: Sequence[Panel | Bought | Member], hinge: Point, way: Point2, deep: float, thickness: float,
    studs: tuple[float, float], opens: float,
) -> Lid:  # fmt: skip
    """A lid across its hinge from what it is made of; way: from the hinge to its free edge, in plan."""
    mass = sum(p.mass_kg for p in parts)
    out = sum(
        p.mass_kg * ((p.centre[0] - hinge[0]) * way[0] + (p.centre[1] - hinge[1]) * way[1]) for p in parts
    )
    up = sum(p.mass_kg * (p.centre[2] - hinge[2]) for p in parts)
    # a move of the whole must not look like another lid
    return Lid(round(mass, 4), (round(out / mass, 5), round(up / mass, 5)), round(deep, 5),
               round(thickness, 5), (round(studs[0], 5), round(studs[1], 5)), opens)  # fmt: skip


def supported(
    c: Named, support: Support, lid: Lid, at: Point, catalogue: Catalogue, lids: int = 1
) -> Supported:
    """What holds lids open that are all alike. at: their middle [m]."""
    if support == "none" or lids == 0:
        return Supported()
    if support == "stay":
        stay = catalogue.plain("stay-lid")
        return Supported((_part(c, "stay", "Y", "lid stay", stay, lids, at),))
    struts = tuple(s for s in catalogue.of(Strut) if not s.retired)
    found = choose(lid, struts, (COUNTS[support],))
    if found is None:
        return Supported(findings=(_none(c, support, lid, struts),))
    stud = catalogue.plain("strut-mount")
    return Supported(
        (_part(c, "strut", "Y", "gas struts", found.strut, lids * found.count, at),
         _part(c, "stud", "YS", "ball studs", stud, 2 * lids * found.count, at)),
        (_holds(c, found, lid),),
        (_chart(found),),
    )  # fmt: skip


def _part(c: Named, key: str, code: str, word: str, entry: Plain | Strut, count: int, at: Point) -> Bought:
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, at)  # fmt: skip


def _holds(c: Named, found: Chosen, lid: Lid) -> Finding:
    values = {
        "name": Quantity(0, found.strut.name), "a": Quantity(found.on_lid[0], "m"),
        "b": Quantity(found.on_frame[0], "m"), "down": Quantity(found.on_frame[1], "m"),
        "lift": Quantity(max(found.lift_n, 0.0), "N"), "close": Quantity(found.close_n, "N"),
        "opens": Quantity(lid.opens, "deg"),
    }  # fmt: skip
    work = Working(
        "hand = (lid's moment - struts' moment) / edge",
        (Input("lid with all on it", Quantity(lid.mass, "kg")),
         Input("its centre from the hinge", Quantity(lid.centre[0], "m")),
         Input("edge from the hinge", Quantity(lid.deep, "m")),
         Input("force, all out at 20 °C", Quantity(found.strut.force, "N"), "maker"),
         Input("open and cold, of the lid's moment", Quantity(round(min(found.holds, 99.0), 2), "times"))),
        Quantity(max(found.lift_n, 0.0), "N"), "rules of the trade, “Lids and struts”",
    )  # fmt: skip
    many = "One" if found.count == 1 else "Two, one at each side,"
    return Finding(
        "STRUT", "fine", c.id, "Struts hold the lid",
        f"{many} {{name}}: on the lid {{a}} from the hinge, on the frame {{b}} from it and {{down}} under "
        "it. It opens to {opens}, lifts with {lift} and shuts with {close} at its edge.",
        values, working=work,
    )  # fmt: skip


def _none(c: Named, support: Support, lid: Lid, struts: tuple[Strut, ...]) -> Finding:
    """That no strut holds it, with what does."""
    both = support == "one strut" and choose(lid, struts, (2,)) is not None
    two = (Fix("Take two struts", path=("fittings", c.id, "support"), value="two struts"),) if both else ()
    stay = Fix("Take a stay", path=("fittings", c.id, "support"), value="stay")
    return Finding(
        "STRUT", "mend", c.id, "No strut in the catalogue suits this lid",
        "It weighs {mass} with all on it. None goes under it that holds it open in the cold and still can "
        "be shut with one hand.", {"mass": Quantity(lid.mass, "kg")},
        "Take two, a lighter lid, or a stay.", fixes=(*two, stay),
    )  # fmt: skip


def _chart(found: Chosen) -> Chart:
    return Chart(
        "Hand at the lid's edge", "opened", found.angles, "lift, or push down", "N",
        (Curve("without strut", found.bare, True), Curve("0 °C", found.cold), Curve("35 °C", found.warm)),
    )  # fmt: skip
