"""How high an outboard hangs: the plate over its propeller against the bottom, with what is set back.

Screening: the boat on the water decides, by spray, grip in turns and the cooling water's telltale.
"""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.bodies.engine import RISE_FOR_SETBACK
from stirrup.core.bodies.item import ItemBase
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.things import is_gone

declare("layout", {"MOTOR-HEIGHT": "how high an outboard hangs"}, acceptable=True, pace="behind")

NEAR_M = 0.025  # a hole of the bracket up or down, and some more: working value
SPARE_M = 1e-9


def mount_findings(things: Sequence[Placed]) -> list[Finding]:
    """Of each outboard whose shaft and mount were measured. Source: docs/trade-rules.md, “Motors”."""
    out = []
    for thing in things:
        c = thing.choices
        if not isinstance(c, ItemBase) or not thing.kind.drives or is_gone(c):
            continue
        if c.shaft is not None and c.mounted is not None:
            out.append(_hangs(thing, c, c.shaft, c.mounted))
    return out


def _hangs(thing: Placed, c: ItemBase, shaft: float, mounted: float) -> Finding:
    plate, want = mounted - shaft, c.setback / RISE_FOR_SETBACK
    up = min(max(want - plate, 0.0), c.jack)  # as far as its jack plate brings it
    off = plate + up - want
    values = {"plate": Quantity(abs(plate), "m", True), "want": Quantity(want, "m", True),
              "off": Quantity(abs(off), "m", True), "up": Quantity(up, "m", True)}  # fmt: skip
    work = Working(
        "plate = mounting top - shaft; wanted over the bottom = set back / 8",
        (Input("mounting top over the keel", Quantity(mounted, "m", True)),
         Input("shaft", Quantity(shaft, "m", True)),
         Input("set back", Quantity(c.setback, "m", True)),
         Input("jack plate", Quantity(c.jack, "m", True))),
        Quantity(plate, "m", True), "rules of the trade, “Motors”",
    )  # fmt: skip
    side = "over" if plate >= 0 else "under"
    lies = (
        f"The plate over its propeller lies {{plate}} {side} the bottom at the keel; "
        "begin with {want} over it."
    )
    if abs(off) <= NEAR_M + SPARE_M:
        jacked = " {up} up on its jack plate it is there." if up > SPARE_M else ""
        return Finding("MOTOR-HEIGHT", "fine", thing.id, "The outboard hangs about right", lies + jacked,
                       values, working=work)  # fmt: skip
    name, right = plain(thing.title), round(want + shaft - (c.jack if off < 0 else 0.0), 4)
    values |= {"right": Quantity(right, "m", True)}
    fix = Fix("Mount it at {right}", path=("items", thing.id, "mounted"), value=right)
    if off < 0:
        at = " at the top of its travel" if c.jack else ""
        return Finding("MOTOR-HEIGHT", "look", thing.id, "The outboard hangs low",
                       f"{lies} {name} is {{off}} too low{at}: it drags, and spray climbs the transom.",
                       values, "Raise it a hole at a time and look at spray and grip.", work,
                       fixes=(fix,))  # fmt: skip
    return Finding("MOTOR-HEIGHT", "mend", thing.id, "The outboard hangs high",
                   f"{lies} {name} is {{off}} too high: its propeller takes air in turns, and the cooling "
                   "water may fail.", values, "Lower it, or take the longer shaft.", work,
                   fixes=(fix,))  # fmt: skip
