"""What is asked of the arrangement: move, snap, bind, line up, group, lock, hide, paste."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from stirrup.core.arrange import as_it_stands, line_up, setting
from stirrup.core.arrange.bonds import new_bond
from stirrup.core.arrange.move import edge_to, moved, refuse_locked
from stirrup.core.arrange.size import resized
from stirrup.core.arrange.snap import Snap, snapped, snapped_edge
from stirrup.core.contract.extent import AXIS_OF, DATUMS
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fit.accepting import acceptance
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.changes import AnyChange, RemoveThing, SetValue, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.stood import SHAPES
from stirrup.core.plan.things import title_of
from stirrup.core.plan.where import extent_of, level_of
from stirrup.core.units import INCH_M, Units, read_length_m, write_length

Act = Literal[
    "move", "edge", "from", "bind", "free", "line up", "spread", "lock", "unlock", "hide", "show", "group",
    "ungroup", "accept", "ask again", "stands", "forget", "as one",
]  # fmt: skip
Number = Field(0.0, ge=-60, le=60)


class Arrange(BaseModel):
    """One act on things: `x`, `y`, `z`, `near` for moves; `edge`, `to`, `to_edge`, `text` for
    exact entry; `path` (the code), `to`, `to_edge` (the things), `text` (the reason) to accept."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
    act: Act
    things: list[str] = Field(default_factory=list, max_length=200)
    x: float = Number
    y: float = Number
    z: float = Number
    near: float = Field(0.0, ge=0, le=0.5)
    path: str = Field("", max_length=200)
    value: float = Number
    edge: str = Field("", max_length=40)
    to: str = Field("", max_length=80)
    to_edge: str = Field("", max_length=80)
    text: str = Field("", max_length=200)
    bind: bool = False
    axis: Literal[0, 1] = 0


def grid_m(units: Units) -> float:
    """The shop's grid for dragging: 25 mm, or an inch [m]."""
    return 0.025 if units.length == "mm" else INCH_M


def arranged(
    plan: Plan, surface: HullSurface, asked: Arrange, units: Units
) -> tuple[AnyChange, tuple[Snap, ...]]:
    """The change that is asked for, and what was caught on the way. Raises CoreError."""
    things = list(dict.fromkeys(asked.things))
    if asked.act == "accept":
        if not asked.text.strip():
            raise CoreError("give the reason: it is kept with the finding", "reason")
        return acceptance(plan, asked.path, asked.to, asked.to_edge, asked.text), ()
    if asked.act == "ask again":
        return RemoveThing(path=("arrangement", "accepted", asked.path)), ()
    if asked.act == "forget":
        return RemoveThing(path=("stood", asked.path)), ()
    if asked.act not in ("edge", "free") and not things:
        raise CoreError("choose something first", "sel")
    if asked.act == "move":
        by = (asked.x, asked.y, asked.z)
        caught: tuple[Snap, ...] = ()
        if asked.near > 0:
            by, caught = snapped(plan, surface, things, by, asked.near, grid_m(units))
        return moved(plan, things, by, move_words(plan, things, by, units)), caught
    if asked.act == "edge":
        return _edge(plan, surface, asked, units)
    if asked.act in ("from", "bind"):
        return _from(plan, surface, asked, things[0], units), ()
    if asked.act == "as one":
        return setting.as_one(plan, things[0], asked.text), ()
    if asked.act == "stands":
        return _stands(plan, surface, asked, things[0], units), ()
    if asked.act == "free":
        return RemoveThing(path=("arrangement", "bonds", asked.path)), ()
    if asked.act == "line up":
        return line_up.lined_up(plan, surface, things, asked.edge), ()
    if asked.act == "spread":
        return line_up.spread(plan, surface, things, asked.axis), ()
    return _set(plan, asked.act, things), ()


WAYS = (("aft", "forward"), ("to starboard", "to port"), ("down", "up"))


def move_words(plan: Plan, things: list[str], by: Point, units: Units) -> str:
    """One line of the history: "Console: moved 120 mm forward, 30 mm to port"."""
    who = title_of(plan, things[0]) if len(things) == 1 else f"{len(things)} things"
    steps = [f"{write_length(abs(d), units)} {WAYS[k][d > 0]}" for k, d in enumerate(by) if abs(d) > 5e-5]
    return f"{who}: moved {', '.join(steps)}"[:200]


def _set(plan: Plan, act: str, things: list[str]) -> AnyChange:
    if act in ("lock", "unlock"):
        return setting.locked(plan, things, act == "lock")
    if act in ("hide", "show"):
        return setting.hidden(plan, things, act == "hide")
    return setting.grouped(plan, things) if act == "group" else setting.ungrouped(plan, things)


def _edge(
    plan: Plan, surface: HullSurface, asked: Arrange, units: Units
) -> tuple[AnyChange, tuple[Snap, ...]]:
    """An edge drawn to a value: of a deck by its choice, of anything else by its name."""
    path = tuple(asked.path.split("/"))
    value = asked.value
    caught: tuple[Snap, ...] = ()
    if len(path) == 4 and path[2] == "edge":
        id_, edge = path[1], path[3]
        if asked.near > 0 and edge in AXIS_OF:
            value, caught = snapped_edge(plan, surface, id_, AXIS_OF[edge], value, asked.near, edge)
        change = resized(plan, surface, id_, edge, value)
        words = f"{title_of(plan, id_)}: {edge} edge to {write_length(value, units)}"
        assert isinstance(change, Together)
        return change.model_copy(update={"words": words[:200]}), caught
    if len(path) != 3 or path[0] != "fittings":
        raise CoreError(f"read “{asked.path}”; accepted: fittings/ID/CHOICE or items/ID/edge/EDGE", "path")
    refuse_locked(plan, [path[1]])
    thing = plan.thing(path[1])
    edges = [e for e in AXIS_OF if thing is not None and kind_of(thing).edge_choice(e) == (path[2],)]
    if asked.near > 0 and edges:
        value, caught = snapped_edge(plan, surface, path[1], AXIS_OF[edges[0]], value, asked.near, edges[0])
    return SetValue(path=path, value=round(value, 4)), caught


def _stands(plan: Plan, surface: HullSurface, asked: Arrange, id_: str, units: Units) -> AnyChange:
    """Read off the boat: an edge so far from a datum or another edge, or how far it is out of level."""
    if not asked.text.strip():
        raise CoreError("type what you read; accepted: a length such as 1204 or 3 ft 11 3/8", "text")
    distance, title = read_length_m(asked.text, units), title_of(plan, id_)
    if asked.edge in SHAPES:
        change = as_it_stands.shaped(plan, id_, asked.edge, distance)
        words = f"{title}: {asked.text.strip()} {asked.edge}"
    else:
        at = distance + _level(plan, surface, asked)
        change = as_it_stands.stands(plan, surface, id_, asked.edge, at)
        words = f"{title}: {asked.edge} edge stands {asked.text.strip()} from {_target(plan, asked)}"
    return change.model_copy(update={"words": words[:200]})


def _level(plan: Plan, surface: HullSurface, asked: Arrange) -> float:
    """Coordinate of what an edge is measured from [m]. Raises CoreError for what runs across it."""
    if asked.edge not in AXIS_OF:
        raise CoreError(f"read “{asked.edge}”; accepted: {', '.join(AXIS_OF)}", "edge")
    to_edge = None if asked.to in DATUMS else asked.to_edge
    axis = DATUMS.get(asked.to, AXIS_OF.get(to_edge or "", -1))
    if axis != AXIS_OF[asked.edge]:
        raise CoreError(
            f"the {asked.edge} edge cannot be measured from “{asked.to} {asked.to_edge}”: "
            "they run across one another",
            "to",
        )
    return level_of(plan, surface, asked.to, to_edge)


def _from(plan: Plan, surface: HullSurface, asked: Arrange, id_: str, units: Units) -> AnyChange:
    """Exact entry: an edge so far from a datum or another edge, bound to it if wished."""
    level, to_edge = _level(plan, surface, asked), None if asked.to in DATUMS else asked.to_edge
    refuse_locked(plan, [id_])
    changes: list[AnyChange] = []
    title, words = title_of(plan, id_), ""
    if asked.text.strip():
        distance = read_length_m(asked.text, units)
        target = level + distance
        if abs(extent_of(plan, surface, id_).edge(asked.edge) - target) > 5e-5:
            changes += edge_to(plan, surface, id_, asked.edge, target)
        words = f"{title}: {asked.edge} edge {asked.text.strip()} from {_target(plan, asked)}"
    if asked.bind or asked.act == "bind":
        after = apply(plan, Together(changes=tuple(changes))) if changes else plan
        changes.append(new_bond(after, surface, id_, asked.edge, asked.to, to_edge))
        words = f"{title}: {asked.edge} edge bound to {_target(plan, asked)}"
    if not changes:
        raise CoreError("it is there already", "text")
    return Together(changes=tuple(changes), words=words[:200])


def _target(plan: Plan, asked: Arrange) -> str:
    return f"the {asked.to}" if asked.to in DATUMS else f"{asked.to_edge} of {title_of(plan, asked.to)}"


def guides(snaps: tuple[Snap, ...]) -> list[dict[str, Any]]:
    """What was caught, for the page to say."""
    return [{"axis": s.axis, "at": round(s.at, 4), "reason": s.reason} for s in snaps]
