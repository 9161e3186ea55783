"""Whether what is laminated or welded to the hull holds on what she is made of."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.findings import Finding, declare, plain
from stirrup.core.hull.material import made_of
from stirrup.core.plan.placed import Placed

declare("layout", {"HULL-JOINT": "what holds on her material"}, acceptable=True, pace="behind")


def hull_joints(material: str, things: Sequence[Placed]) -> list[Finding]:
    """Laminate on bare metal peels, nothing is welded to a moulded hull; where her material is not known
    nothing is said."""
    kind, out = made_of(material), []
    for thing in things:
        how = thing.built.joined
        if kind == "metal" and how == "laminate":
            text = f"She is of {plain(material)}: resin peels off it, and water gets behind."
            out.append(Finding("HULL-JOINT", "mend", thing.id, "Laminate does not hold on metal", text, {},
                               "Weld a metal sheet to her, or bolt it."))  # fmt: skip
        if kind == "moulded" and how == "weld":
            out.append(Finding("HULL-JOINT", "mend", thing.id, "Nothing is welded to a moulded hull",
                               f"She is of {plain(material)}.", {},
                               "Take wood or board, and tab it to her."))  # fmt: skip
    return out
