"""Structure that goes: what it did for her, how it comes out, how long that takes, and what stays."""

from __future__ import annotations

from stirrup.core.bodies.existing import Existing
from stirrup.core.bodies.fate import FATES
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import is_gone

declare("layout", {"TAKEN-OUT": "structure that comes out"}, acceptable=True)

# minutes for a metre of what holds it, by one person with hand-held tools: starting values
MINUTES = {"riveted": 25.0, "welded": 45.0, "bonded": 35.0, "screwed": 10.0, "loose": 2.0}
BEGIN_MIN = 10.0  # to get at it and carry it away
HOW = {
    "riveted": "Drill its rivets' heads off and punch them out; those under water stay, or are set anew "
    "and sealed.",
    "welded": "Grind its welds flush from the side that stays; keep off the skin, and look what lies "
    "behind.",
    "bonded": "Cut its tabs along the edge with a shallow blade, then grind: mask, gloves, air.",
    "screwed": "Back its screws out; bag and label what goes back in.",
    "loose": "Lift it out.",
}
DID = {
    "thwart": "A thwart holds her sides apart and often carries foam. Brace the sides before it goes, and "
    "put in what does both.",
    "stringer": "A stringer carries her bottom. Prop the hull along it before it goes, and take one out at "
    "a time.",
    "rib": "A rib keeps her side from panting. Leave its neighbours in until the new work is fast.",
    "lip": "The lip is what keeps her sheer straight. Brace across before it is cut.",
    "well": "The well keeps water out that comes over the transom. Put something as high in its place.",
    "bulkhead": "A bulkhead keeps bottom and both sides in shape. Prop her at the keel and both chines "
    "there, and brace her across, before it goes.",
    "knee": "A knee keeps a corner square. Brace that corner before it goes.",
    "deck": "A deck or cap keeps her sheer from spreading. Brace across every metre before it is cut, and "
    "mark its line on both sides: it goes back on there.",
    "foam": "Foam holds thin skins and keeps her up when she is swamped. Weigh a piece: wet foam has lost "
    "both; put as much buoyancy back.",
    "other": "Look what it carried or kept apart before it goes.",
}


def held_m(c: Existing) -> float:
    """Length along which it is held: both of its long edges, the ends of what reaches across [m]."""
    along, across, up = (b - a for a, b in (c.extent.x, c.extent.y, c.extent.z))
    if c.kind == "thwart":
        return 2 * (along + up)
    if c.kind == "bulkhead":
        return across + 2 * up
    if c.kind == "knee":
        return across + up
    if c.kind == "rib":
        return 2 * up
    if c.kind in ("stringer", "lip"):
        return 2 * along
    return 2 * (along + across)


def hours_out(c: Existing) -> float:
    """Hands-on hours to take it out: starting values."""
    return (BEGIN_MIN + held_m(c) * MINUTES[c.held]) / 60


def taken_out(plan: Plan) -> list[Finding]:
    """Every piece of structure that goes."""
    return [_goes(c) for c in plan.existing if is_gone(c)]


def _goes(c: Existing) -> Finding:
    values = {"hours": Quantity(hours_out(c), "h"), "weighs": Quantity(c.weighs, "kg")}
    lighter = "she is {weighs} lighter by it" if c.weighs else "weigh it, and type that in"
    work = Working(
        "hours = (10 min + held along x minutes for a metre) / 60",
        (Input("held along", Quantity(held_m(c), "m")),
         Input("minutes for a metre", Quantity(MINUTES[c.held], ""), f"{c.held}: starting value")),
        Quantity(hours_out(c), "h"), "starting values",
    )  # fmt: skip
    return Finding("TAKEN-OUT", "look", c.id, f"{plain(c.title)} comes out",
                   f"{{hours}} of work; {lighter}. {HOW[c.held]} It "
                   f"{FATES[c.becomes]}.", values, DID[c.kind], work)  # fmt: skip
