"""Bound things follow: what a change brings along for every bond of the plan."""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.arrange.move import edge_to
from stirrup.core.contract.extent import AXIS_OF, DATUMS
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.plan.arrangement import Bond
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together, apply, touches
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of, level_of

CLOSE_M = 5e-5
ROUNDS = 12  # the longest chain of bonds that is followed in one step
_BEYOND = (("behind", "ahead of"), ("to starboard of", "to port of"), ("under", "above"))


def bond_words(plan: Plan, bond: Bond, distance: str) -> str:
    """ "its aft edge 20 mm behind the fore edge of Console"; distance: written in shop units."""
    of = (
        f"the {bond.to}" if bond.to in DATUMS else f"the {_edge(bond.to_edge)} of {title_of(plan, bond.to)}"
    )
    if abs(bond.distance) < CLOSE_M:
        return f"{_edge(bond.edge)} on {of}"
    return f"{_edge(bond.edge)} {distance} {_BEYOND[AXIS_OF[bond.edge]][bond.distance > 0]} {of}"


def _edge(name: str | None) -> str:
    if name is None:
        return "edge"
    return "middle" if name.startswith("middle") else name if name in ("top", "bottom") else f"{name} edge"


def new_bond(
    plan: Plan, surface: HullSurface, thing: str, edge: str, to: str, to_edge: str | None
) -> AnyChange:
    """Bind an edge where it is now; a bond of the same edge is replaced. Raises CoreError."""
    distance = extent_of(plan, surface, thing).edge(edge) - level_of(plan, surface, to, to_edge)
    taken = {b.id for b in plan.arrangement.bonds}
    number = next(k for k in range(1, len(taken) + 2) if f"bond-{k}" not in taken)
    old = next((b for b in plan.arrangement.bonds if b.thing == thing and b.edge == edge), None)
    value = {"id": old.id if old else f"bond-{number}", "thing": thing, "edge": edge, "to": to,
             "to_edge": to_edge, "distance": round(distance, 4)}  # fmt: skip
    words = f"{title_of(plan, thing)}: {_edge(edge)} bound"
    if old is not None:
        change: AnyChange = SetValue(path=("arrangement", "bonds", old.id), value=value)
    else:
        change = AddThing(path=("arrangement", "bonds"), value=value)
    return Together(changes=(change,), words=words)


def _placed_by(change: AnyChange) -> set[str]:
    """Ids of the things that a change itself is about."""
    return {path[1] for path in touches(change) if len(path) > 1}


def with_bonds(plan: Plan, surface_of: Callable[[], HullSurface], change: AnyChange) -> AnyChange:
    """The change with all that follows from the plan's bonds, as one step.

    A thing that the change itself moves stays bound at its new distance; every other one is
    brought back to its distance, unless it is locked. Raises CoreError as `apply` does.
    """
    bonds = plan.arrangement.bonds
    if not bonds or {p[0] for p in touches(change)} == {"arrangement"}:
        return change
    surface = surface_of()
    own = _placed_by(change)
    after = apply(plan, change)
    more: list[AnyChange] = []
    for _ in range(ROUNDS):
        step = _one_round(after, surface, own)
        if not step:
            break
        more += step
        after = apply(after, Together(changes=tuple(step)))
    if not more:
        return change
    parts = change.changes if isinstance(change, Together) else (change,)
    words = change.words if isinstance(change, Together) else ""
    return Together(changes=(*parts, *more), words=words)


def _one_round(plan: Plan, surface: HullSurface, own: set[str]) -> list[AnyChange]:
    out: list[AnyChange] = []
    touched: set[str] = set()
    for bond in plan.arrangement.bonds:
        if bond.thing in touched or bond.to in touched:
            continue  # seen again in the next round, where it stands then
        try:
            wanted = level_of(plan, surface, bond.to, bond.to_edge) + bond.distance
            off = extent_of(plan, surface, bond.thing).edge(bond.edge) - wanted
        except CoreError:
            continue
        if abs(off) < CLOSE_M:
            continue
        if bond.thing in own or plan.arrangement.of(bond.thing).locked:
            distance = round(bond.distance + off, 4)
            out.append(SetValue(path=("arrangement", "bonds", bond.id, "distance"), value=distance))
        else:
            out += edge_to(plan, surface, bond.thing, bond.edge, wanted)
        touched.add(bond.thing)
    return out
