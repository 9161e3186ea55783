"""Bought or made: a thing beside the other kinds that do the same job, and beside those of its own that
the catalogue has, each tried in its place.

The other one takes the place and, as far as it has them, the sizes of the first; it keeps its id, so
that what stands on it or follows it stays with it. What came with the boat is taken out for it. Nothing is
stored.
"""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from stirrup.core.arrange.palette import place
from stirrup.core.arrange.size import edges_of, resized
from stirrup.core.contract.extent import AXIS_OF, LOW_EDGES
from stirrup.core.derive import Derived
from stirrup.core.errors import CoreError
from stirrup.core.instead import Made, made, tried
from stirrup.core.kinds.registry import KINDS, kind_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Whole, price_of_least
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue, Together, apply
from stirrup.core.plan.model import Plan
from stirrup.core.plan.suggest import free_id
from stirrup.core.plan.things import path_of, title_of
from stirrup.core.plan.where import extent_of

KEPT = ("name", "steers")  # what it goes on being
MOST_OFFERED = 14


def others(plan: Plan, id_: str) -> dict[str, str]:
    """Of each other kind that does the same job, the palette's entry; none for what came with the boat."""
    thing = plan.thing(id_)
    if thing is None or getattr(thing, "stage", "added") != "added" or plan.arrangement.of(id_).locked:
        return {}
    own = kind_of(thing)
    jobs = {e.job for e in own.entries} - {""}
    out: dict[str, str] = {}
    for kind in KINDS:
        for entry in kind.entries:
            if kind is not own and entry.job in jobs:
                out.setdefault(kind.key, entry.key)
    return out


def offered(plan: Plan, id_: str, catalogue: Catalogue) -> list[Whole]:
    """Those of an item's form that the catalogue has with what they weigh, the lightest first."""
    item = next((i for i in plan.items if i.id == id_), None)
    if item is None or item.stage == "removed" or plan.arrangement.of(id_).locked:
        return []
    if not kind_of(item).alike:
        return []
    found = (e for e in catalogue.of(Whole) if e.form == item.form and e.mass > 0)
    return sorted(found, key=lambda e: e.mass)[:MOST_OFFERED]


def bought_or_made(derived: Derived, id_: str, shop: Catalogue) -> list[Made]:
    """The thing as it is, then each other kind in its place, then those of its own in the catalogue; empty
    where there is none."""
    other, listed = others(derived.plan, id_), offered(derived.plan, id_, shop)
    if not other and not listed:
        return []
    out = [made(derived, id_, None, None, kind_of(derived.plan.thing(id_)).title)]
    for entry in other.values():
        try:
            change = swapped(derived, id_, entry)
        except (CoreError, ValueError):
            continue
        found = tried(derived, id_, change, shop)
        if found is not None:
            after, step = found
            out.append(made(after, id_, None, step, kind_of(after.plan.thing(id_)).title))
    for whole in listed:
        change, new = _taken(derived.plan, id_, whole)
        found = tried(derived, new, change, shop)
        if found is not None:
            out.append(made(found[0], new, None, found[1], whole.name))
    return out


def _taken(plan: Plan, id_: str, whole: Whole) -> tuple[AnyChange, str]:
    """The change that puts one of the catalogue's in an item's place, standing on the same foot; and its
    id, which is a new one where the first came with the boat and is taken out."""
    item = next(i for i in plan.items if i.id == id_)
    now: dict[str, Any] = item.model_dump(mode="json")
    x, y, z = item.mass.centre
    if whole.size is not None:
        foot = z - item.size[2] / 2 if item.size is not None else z - whole.size[2] / 2
        z = round(foot + whole.size[2] / 2, 4)
    mass = {"value": whole.mass, "centre": [x, y, z], "status": "maker"}
    size = whole.size or item.size
    now |= {"name": whole.name[:80], "mass": mass, "size": size and list(size), "stage": "added",
            "owned": False, "in_hull_mass": False, "price": str(price_of_least(whole)),
            "power": whole.power if whole.power is not None else item.power}  # fmt: skip
    words = f"{title_of(plan, id_)}: {whole.name} in its place"[:200]
    if item.stage == "added":
        return Together(changes=(SetValue(path=("items", id_), value=now),), words=words), id_
    now["id"] = free_id(plan, id_)
    out = SetValue(path=("items", id_, "stage"), value="removed")
    return Together(changes=(out, AddThing(path=("items",), value=now)), words=words), now["id"]


def swapped(derived: Derived, id_: str, entry: str) -> AnyChange:
    """The change that puts another kind of thing in a thing's place. Raises CoreError, ValueError."""
    plan, surface, thing = derived.plan, derived.surface, derived.plan.thing(id_)
    where = extent_of(plan, surface, id_)
    at = (sum(where.x) / 2, sum(where.y) / 2)
    first = place(plan, surface, derived.footing, entry, at=at)
    value = dict(first.value)
    value |= {"id": id_, **{k: getattr(thing, k) for k in KEPT if k in value and getattr(thing, k, None)}}
    gone = RemoveThing(path=path_of(plan, id_))
    after = apply(plan, Together(changes=(gone, AddThing(path=first.path, value=value))))
    # twice: an edge may have to wait for the one across from it
    for edge in (*edges_of(after, id_), *edges_of(after, id_)):
        low, high = (where.x, where.y, where.z)[AXIS_OF[edge]]
        with suppress(CoreError, ValueError):
            after = apply(after, resized(after, surface, id_, edge, low if edge in LOW_EDGES else high))
    now = after.thing(id_)
    tall = None if now is None else kind_of(now).tall(now)
    if tall is not None:
        with suppress(CoreError, ValueError):
            high = round(where.z[1] - where.z[0], 4)
            after = apply(after, SetValue(path=(*path_of(after, id_), *tall), value=high))
            now = after.thing(id_)
    if now is None:
        raise CoreError(f"“{id_}” is not there any more", id_)
    title, kind = title_of(plan, id_), kind_of(now).title.lower()
    final = AddThing(path=first.path, value=now.model_dump(mode="json"))
    return Together(changes=(gone, final), words=f"{title}: {kind} in its place")
