"""From one bulkhead to the next: how even her bays are, and what a bulkhead that moves does to the rooms on
either side of it. What ties her across is asked of each kind; the transom ties her too.
"""

from __future__ import annotations

from shapely import box

from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import largest
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.hull.slices import region, section
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import every, is_gone, path_of, title_of
from stirrup.core.record import dataclass

declare("layout", {"BAYS": "bays between bulkheads"}, acceptable=True, pace="behind")

UNEVEN = 1.5  # of a bay to the shorter one beside it: working value
LONG_M = 1.2  # a bottom that is carried by stringers goes so far without more: working value
OLD_M = 1.0  # a bulkhead that goes this near is the one that this one comes for
SAME_M = 0.005
STRIPS = 8
FAR_M = 20.0


@dataclass(frozen=True)
class Tie:
    """What ties her across at x [m]."""

    id: str
    x: float


def ties(plan: Plan, gone: bool = False) -> list[Tie]:
    """What ties her across, from aft; or what did and goes."""
    found: list[Tie] = []
    for thing in every(plan):
        if is_gone(thing) == gone and (x := kind_of(thing).ties_across(thing)) is not None:
            found.append(Tie(thing.id, x))
    return sorted(found, key=lambda t: (t.x, t.id))


def _area_m2(surface: HullSurface, x: float, top: float) -> float:
    """Of the inside at x, up to a height."""
    try:
        shape = largest(region(section(surface.inside, x), 0))
    except CoreError:
        return 0.0
    return float(shape.intersection(box(-FAR_M, -FAR_M, FAR_M, top)).area)


def room_m3(surface: HullSurface, x0: float, x1: float, top: float) -> float:
    """Of the inside between two stations up to a height, by Simpson's rule."""
    if x1 - x0 < 1e-6:
        return 0.0
    step = (x1 - x0) / STRIPS
    areas = [_area_m2(surface, x0 + k * step, top) for k in range(STRIPS + 1)]
    inner = 4 * sum(areas[1:-1:2]) + 2 * sum(areas[2:-1:2])
    return (areas[0] + inner + areas[-1]) * step / 3


def bays(plan: Plan, surface: HullSurface) -> list[Finding]:
    """Of each bulkhead that is put in: its bays, and how it stands to the one that goes."""
    there = ties(plan)
    new = {f.id for f in plan.fittings}
    if not any(t.id in new for t in there):
        return []
    old, aft = ties(plan, gone=True), float(surface.inside.low[0])
    fore = float(surface.inside.high[0])
    out: list[Finding] = []
    for k, tie in enumerate(there):
        if tie.id not in new:
            continue
        behind = there[k - 1].x if k else aft
        ahead = there[k + 1].x if k + 1 < len(there) else None
        further = (there[k - 2].x if k > 1 else aft) if k else None
        out.append(_bays(plan, tie, (behind, further), ahead, fore))
        near = min(
            (o for o in old if abs(o.x - tie.x) <= OLD_M), key=lambda o: abs(o.x - tie.x), default=None
        )
        if near is not None and abs(near.x - tie.x) > SAME_M:
            out.append(_moved(plan, surface, tie, near, fore if ahead is None else ahead))
    return out


def _bays(
    plan: Plan, tie: Tie, aft: tuple[float, float | None], ahead: float | None, fore: float
) -> Finding:
    """The two bays of a bulkhead. Ahead of the foremost one the bow's own shape ties her: its bay aft is
    held against the one behind that. aft: what ties her behind it, and behind that."""
    behind, further = aft
    a, b = tie.x - behind, (fore if ahead is None else ahead) - tie.x
    values = {"aft": Quantity(a, "m"), "fore": Quantity(b, "m"), "most": Quantity(LONG_M, "m")}
    work = Working(
        "a bay = from one to the next; uneven: over 1.5 times the other, and over 1.2 m",
        (Input("aft of it", Quantity(a, "m")), Input("ahead of it", Quantity(b, "m"))),
        Quantity(max(a, b) / max(min(a, b), 1e-6), ""), "rules of the trade, “Bulkheads”",
    )  # fmt: skip
    if ahead is None:
        if a <= LONG_M or (further is not None and a <= UNEVEN * (behind - further)):
            return Finding("BAYS", "fine", tie.id, "The bay aft of it is short enough",
                           "{aft} aft of it; ahead of it {fore} to the stem, which her bow ties.", values,
                           working=work)  # fmt: skip
        return Finding("BAYS", "look", tie.id, "A long bay aft of it",
                       "{aft} aft of it without a bulkhead; over {most} her stringers have to carry it.",
                       values, "See what the stringers' own check says, or set another bulkhead between.",
                       work)  # fmt: skip
    long, short = max(a, b), min(a, b)
    if long <= LONG_M or long <= UNEVEN * short:
        return Finding("BAYS", "fine", tie.id, "Its bays are even enough",
                       "{aft} aft of it, {fore} ahead of it.", values, working=work)  # fmt: skip
    middle = (behind + ahead) / 2
    thing = plan.thing(tie.id)
    sets = kind_of(thing).shift(thing, (middle - tie.x, 0.0, 0.0))
    fixes = tuple(Fix("Set it in the middle of both", path=(*path_of(plan, tie.id), *path),
                      value=round(value, 3)) for path, value in sets[:1])  # fmt: skip
    return Finding("BAYS", "look", tie.id, "Its bays are uneven",
                   "{aft} aft of it, {fore} ahead of it: the long one is where her bottom pants.", values,
                   "Move it towards the middle, or set another one into the long bay.", work,
                   fixes=fixes)  # fmt: skip


def _moved(plan: Plan, surface: HullSurface, tie: Tie, old: Tie, ahead: float) -> Finding:
    """What its room ahead gains or loses, and how far the bottom there goes untied."""
    thing = plan.thing(tie.id)
    top = float(getattr(thing, "top", 0.0)) or surface.sheer_at(tie.x, 1.0)[2]
    low, high = sorted((tie.x, old.x))
    litres = room_m3(surface, low, high, top)
    aft = tie.x < old.x
    values = {"by": Quantity(high - low, "m"), "room": Quantity(litres, "m3"),
              "was": Quantity(ahead - old.x, "m"), "now": Quantity(ahead - tie.x, "m")}  # fmt: skip
    text = (
        f"It stands {{by}} {'aft' if aft else 'forward'} of {plain(title_of(plan, old.id))}, which goes. "
        f"The room ahead of it {'gains' if aft else 'loses'} {{room}}, and the one aft of it as much the "
        f"other way; her bottom ahead of it goes {{now}} to the next, where it went {{was}}."
    )
    longer = aft and ahead - tie.x > LONG_M
    return Finding("BAYS", "look" if longer else "fine", tie.id,
                   f"Moved {'aft' if aft else 'forward'}: what that does", text, values,
                   "Carry the bow's bottom by the stringers or a knee where the old one stood."
                   if longer else "", other=old.id)  # fmt: skip
