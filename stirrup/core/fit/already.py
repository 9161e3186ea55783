"""What is cut already against what the plan says now: still right, to be trimmed, or too small."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

import shapely
from shapely import affinity
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fittings.edges import largest
from stirrup.core.memo import Memo
from stirrup.core.parts.model import Member, Panel
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, Together, bundled
from stirrup.core.plan.cut import CutPart
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass

declare("layout", {"CUT": "what is cut already"})

SAME_M = 0.001  # nobody cuts closer by hand: working value
MET_M = 0.0001
COMPARED = Memo(500)
Part = Panel | Member
NO_HOLE = Polygon()


@dataclass(frozen=True)
class Differs:
    """How a part that is cut differs from the one that is wanted: by how much it is too small in some
    place, and too large [m]; holes that are still to be made, and that should not be there; words: what
    else is not the same."""

    short: float = 0.0
    over: float = 0.0
    missing: int = 0
    needless: int = 0
    words: str = ""

    @property
    def same(self) -> bool:
        """Whether it can be fitted as it is."""
        return max(self.short, self.over) <= SAME_M and not (self.missing or self.needless or self.words)

    @property
    def spoilt(self) -> bool:
        """Whether no tool makes it right."""
        return self.short > SAME_M or bool(self.needless or self.words)


def as_cut(part: Part) -> CutPart:
    """A part as it is now, for the record."""
    who = {"id": part.key, "thing": part.fitting, "label": part.label, "stock": part.stock}
    if isinstance(part, Panel):
        return CutPart(**who, outline=part.outline, holes=part.holes, ends=part.bends_words)
    return CutPart(**who, length=round(part.length, 6), ends=part.ends_words)


def _beyond_m(a: Polygon, b: Polygon) -> float:
    """How far a reaches out of b, at most [m]: its corners tell, the sides between them are straight."""
    return float(shapely.distance(b, shapely.points(shapely.get_coordinates(a))).max())


def _on_edge(a: Polygon, b: Polygon) -> int:
    """How many corners of a lie on the edge of b."""
    corners = shapely.points(shapely.get_coordinates(a.exterior)[:-1])
    return int((shapely.distance(b.exterior, corners) <= MET_M).sum())


def _laid_over(cut: Polygon, wanted: Polygon) -> tuple[float, float, Polygon]:
    """How far the cut outline is short of the wanted one and over it, and where it is laid for that:
    without turning it, and so that as many corners of both as can be lie on the other's edge."""
    (ax0, ay0, ax1, ay1), (bx0, by0, bx1, by1) = cut.bounds, wanted.bounds
    ways = [(0.0, 0.0), *((x, y) for x in (bx0 - ax0, bx1 - ax1) for y in (by0 - ay0, by1 - ay1))]
    ways.append(((bx0 + bx1 - ax0 - ax1) / 2, (by0 + by1 - ay0 - ay1) / 2))
    tried = []
    for way in ways:
        there = affinity.translate(cut, *way)
        met = _on_edge(wanted, there) + _on_edge(there, wanted)
        tried.append((met, _beyond_m(wanted, there), _beyond_m(there, wanted), there))
    _, short, over, laid = min(tried, key=lambda t: (-t[0], max(t[1], t[2])))
    return short, over, laid


def _panels_differ(panel: Panel, cut: CutPart) -> Differs:
    wanted = Polygon(panel.outline)
    was = largest(shapely.make_valid(Polygon(cut.outline)))
    if was.is_empty:
        return Differs(words="its outline on record encloses nothing")
    short, over, laid = _laid_over(was, wanted)
    (x, y, _, _), (x0, y0, _, _) = laid.bounds, was.bounds
    made = [largest(shapely.make_valid(affinity.translate(Polygon(h), x - x0, y - y0))) for h in cut.holes]
    needed, found = [Polygon(h) for h in panel.holes], 0
    for hole in made:
        twin = max(needed, key=lambda n: n.intersection(hole).area, default=NO_HOLE)
        if twin.intersection(hole).area <= 0:
            continue
        needed.remove(twin)
        found += 1
        # where a hole is too large there is too little left
        short, over = max(short, _beyond_m(hole, twin)), max(over, _beyond_m(twin, hole))
    return Differs(short, over, len(needed), len(made) - found)


def differs(part: Part, cut: CutPart) -> Differs:
    """How the part that is cut differs from the one of the plan."""
    if part.stock != cut.stock:
        return Differs(words=f"it is cut from {plain(cut.stock)}")
    if isinstance(part, Panel):
        if cut.outline and part.bends_words != cut.ends:
            return Differs(words="it is folded otherwise")
        if (part.outline, part.holes) == (cut.outline, cut.holes):
            return Differs()
        if not cut.outline:
            return Differs(words="it is cut from a stick")
        return COMPARED.get((part.outline, part.holes, cut), partial(_panels_differ, part, cut))
    by = part.length - cut.length
    sawn = "" if part.ends_words == cut.ends else f"its ends are sawn {plain(cut.ends) or 'square'}"
    # what is too long is sawn again anyhow
    words = sawn if by > -SAME_M and abs(by) <= SAME_M else ""
    return Differs(max(by, 0.0), max(-by, 0.0), words=words)


def _told(part: Part, found: Differs) -> Finding:
    """A part that is cut and not as it should be."""
    values, parts = {}, []
    if found.words:
        parts.append(found.words)
    if found.short > SAME_M:
        values["short"] = Quantity(found.short, "m", True)
        parts.append("it is {short} too small in some place")
    if found.over > SAME_M:
        values["over"] = Quantity(found.over, "m", True)
        parts.append("it stands {over} over in some place")
    for count, what in ((found.missing, "to be made still"), (found.needless, "where none should be")):
        if count:
            parts.append(f"{count} {'hole is' if count == 1 else 'holes are'} {what}")
    text = f"{plain(part.label)} is cut already, but the plan has changed: {', '.join(parts)}."
    place = part.fitting
    if found.spoilt:
        remedy = "Put the plan back as it was when it was cut, or cut it anew and take its tick away."
        return Finding("CUT", "mend", place, "Cut already, and wrong now", text, values, remedy)
    remedy = "Trim it before it is fitted; then tick it anew."
    return Finding("CUT", "look", place, "Cut already, to be trimmed", text, values, remedy)


def parts_of(built: Iterable[Built]) -> dict[str, Part]:
    """Everything that is cut from stock, by its key."""
    out: dict[str, Part] = {}
    for b in built:
        out |= {p.key: p for p in b.panels}
        out |= {m.key: m for m in b.members}
    return out


def already_findings(plan: Plan, built: Sequence[Built]) -> list[Finding]:
    """What is cut against what is wanted; of each thing how far one is."""
    if not plan.cut:
        return []
    there, out = parts_of(built), []
    right: dict[str, int] = {}
    for cut in plan.cut:
        part = there.get(cut.id)
        if part is None:
            out.append(_needless(cut))
        elif (found := differs(part, cut)).same:
            right[part.fitting] = right.get(part.fitting, 0) + 1
        else:
            out.append(_told(part, found))
    every = {b.fitting: len(b.panels) + len(b.members) for b in built}
    return out + [_right(thing, count, every[thing]) for thing, count in right.items()]


def _needless(cut: CutPart) -> Finding:
    text = f"{plain(cut.label)} is cut from {plain(cut.stock)}, and nothing in the plan is it now."
    return Finding("CUT", "look", cut.thing, "Cut, and not wanted any more", text,
                   remedy="Keep it for something else, and take its tick away.")  # fmt: skip


def _right(thing: str, count: int, every: int) -> Finding:
    values = {"count": Quantity(count, "count"), "every": Quantity(every, "count")}
    text = "{count} of {every} parts are cut, and as the plan has them."
    return Finding("CUT", "fine", thing, "Cut as planned", text, values)


def ticked(plan: Plan, built: Iterable[Built], keys: Sequence[str], done: bool) -> AnyChange | None:
    """The change that notes parts as cut, as they are now, or takes their ticks away; None where nothing
    changes."""
    there, known = parts_of(built), {c.id for c in plan.cut}
    gone = [RemoveThing(path=("cut", key)) for key in keys if key in known]
    fresh = [as_cut(there[key]) for key in keys if key in there and done]
    new = [AddThing(path=("cut",), value=c.model_dump(mode="json")) for c in fresh]
    changes: list[AnyChange] = [*gone, *new]
    if not changes:
        return None
    labels = [c.label for c in plan.cut if c.id in keys] if not done else [c.label for c in fresh]
    some = labels[0] if len(labels) == 1 else f"{len(labels)} parts"
    return Together(changes=tuple(bundled(changes)), words=f"{some}: {'cut' if done else 'not cut'}")
