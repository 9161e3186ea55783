"""What a lid hangs by: a continuous hinge, lift-off ones, or concealed ones whose corner needs its gap."""

from __future__ import annotations

import math

from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.fittings.joints import leaf_style, no_fastener
from stirrup.core.kinds.hatch.choices import Hatch
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Plain, Sheet
from stirrup.core.parts.model import Bought
from stirrup.core.record import dataclass

declare("layout", {"HINGE-CORNER": "whether a lid's edge clears its deck as it opens"}, acceptable=True)

SHORTER_M = 0.02
ITEMS = {"continuous": "hinge-piano", "lift-off": "hinge-lift-off", "concealed": "hinge-concealed"}
SCREWS_EACH = 6  # of a lift-off or concealed hinge: three on either leaf
FEW, MANY, LONG_M = 2, 3, 0.8  # hinges of a lid, and of one longer than that: working values
AXIS_DOWN_M = 0.008  # of a concealed hinge under the lid's top; the maker's drawing decides
STEP_M = 0.001  # a shop sets out no closer
MOST_INSIDE_M = 0.06


@dataclass(frozen=True)
class Hung:
    """The hinge of a lid: what is bought of it, and its screws."""

    item: Plain
    amount: float
    screws: int


def hung(c: Hatch, catalogue: Catalogue, side_m: float) -> Hung:
    """What a lid hangs by on a side so long [m]."""
    item = catalogue.plain(ITEMS[c.hinges])
    if c.hinges == "continuous":
        run = side_m - SHORTER_M
        return Hung(item, run, 2 * count_at_pitch(run, item.pitch))
    count = MANY if side_m > LONG_M else FEW
    if c.hinges == "lift-off":  # sold in pairs
        return Hung(item, math.ceil(count / 2), count * SCREWS_EACH)
    return Hung(item, count, count * SCREWS_EACH)


def hinge_bought(c: Hatch, by: Hung, at: Point) -> Bought:
    """The hinge, or all of them."""
    word = "hinge" if c.hinges == "continuous" else "hinges"
    return Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, {word}", c.id, by.item, by.amount,
                  by.amount * by.item.mass, at)  # fmt: skip


def swings_out_m(inside: float, down: float) -> float:
    """How far a lid's edge comes out as it opens: its axis `inside` of the edge and `down` under the top
    [m]. Source: docs/trade-rules.md, “Hatches”."""
    return math.hypot(inside, down) - inside


def least_inside_m(gap: float, down: float) -> float:
    """How far inside of the edge an axis has to lie for the edge to stay within its gap [m]."""
    return (down * down - gap * gap) / (2 * gap) if gap < down else 0.0


def corner_findings(c: Hatch, gap: float) -> list[Finding]:
    """Whether the edge of a lid on concealed hinges clears the deck. The pin of another one lies over the
    lid: its edge rises away."""
    if c.hinges != "concealed":
        return []
    if c.lies == "on the deck":
        return [Finding("HINGE-CORNER", "mend", c.id, "Concealed hinges need a lid that lies flush",
                        "Their axis lies under the lid, where the deck is.", {}, "Take a continuous hinge.",
                        fixes=(_continuous(c),))]  # fmt: skip
    out = swings_out_m(c.axis_inside, AXIS_DOWN_M)
    values = {"out": Quantity(out, "m", True), "gap": Quantity(gap, "m", True),
              "inside": Quantity(c.axis_inside, "m", True)}  # fmt: skip
    work = Working(
        "sqrt(e² + h²) - e, at most the gap",
        (Input("axis inside of the edge, e", Quantity(c.axis_inside, "m", True)),
         Input("axis under the top, h", Quantity(AXIS_DOWN_M, "m", True), "the maker's drawing decides")),
        Quantity(out, "m", True), "rules of the trade, “Hatches”",
    )  # fmt: skip
    under = " Behind its axis the lid goes down: leave the landing out there."
    if out <= gap + 1e-9:
        return [Finding("HINGE-CORNER", "fine", c.id, "The lid's edge clears the deck",
                        "As it opens its edge comes out by {out}; its gap is {gap}." + under, values,
                        working=work)]  # fmt: skip
    # the gap as it is written, so that what is offered clears it
    farther = math.ceil(least_inside_m(gap, AXIS_DOWN_M) / STEP_M) * STEP_M
    fixes = [_continuous(c)]
    if farther <= MOST_INSIDE_M:
        values |= {"farther": Quantity(farther, "m", True)}
        fixes.insert(0, Fix("Set the axis {farther} inside of the edge",
                            path=("fittings", c.id, "axis_inside"), value=round(farther, 4)))  # fmt: skip
    return [Finding("HINGE-CORNER", "mend", c.id, "The lid's edge binds as it opens",
                    "With its axis {inside} inside of the edge it comes out by {out}; its gap is {gap}."
                    + under, values, "Set the axis further inside, widen the gap, or take a continuous "
                    "hinge.", work, fixes=tuple(fixes))]  # fmt: skip


def _continuous(c: Hatch) -> Fix:
    return Fix("Take a continuous hinge", path=("fittings", c.id, "hinges"), value="continuous")


def hinge_held(c: Hatch, catalogue: Catalogue, stock: Sheet) -> list[Finding]:
    """Whether there is a fastener for hinge and lid: through metal, into anything else."""
    grip, style = stock.thickness + catalogue.plain(ITEMS[c.hinges]).thickness, leaf_style(stock)
    found = catalogue.fastener_for(style, grip)
    return [] if found is not None else [no_fastener(c.id, "Hinge to lid", grip)]
