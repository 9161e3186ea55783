"""Leftovers on the racks of a shop's builds: seen from one of them, and taken over from another."""

from __future__ import annotations

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import AddThing, AnyChange, RemoveThing, SetValue
from stirrup.core.plan.cutting import Rest, SheetRest
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass
from stirrup.store import builds
from stirrup.store.session import writing

MOST_BUILDS = 40  # whose racks are looked at, the newest


@dataclass(frozen=True)
class Elsewhere:
    """A leftover of another build: its id and name, and the leftover."""

    build: int
    name: str
    rest: Rest


def leftovers_elsewhere(shop_id: int, build_id: int) -> list[Elsewhere]:
    """Leftovers on the racks of a shop's other builds."""
    out = []
    for other in builds.recent(shop_id, MOST_BUILDS):
        if other != build_id:
            stored = builds.load(shop_id, other)
            out += [Elsewhere(other, stored.plan.name, rest) for rest in stored.plan.cutting.rests]
    return out


def _group(rest: Rest) -> str:
    return "sheets" if isinstance(rest, SheetRest) else "sticks"


def _found(plan: Plan, rest_id: str) -> Rest:
    found = next((r for r in plan.cutting.rests if r.id == rest_id), None)
    if found is None:
        raise CoreError(f"it is not on the rack of {plan.name} any more", "rest")
    return found


def fetch_leftover(shop_id: int, build_id: int, other_id: int, rest_id: str) -> str:
    """One leftover comes from another build's rack onto this one's, one step in each; what is to be said of
    it. Raises CoreError where it is not there any more, NotThereError for a build that is none."""
    if build_id == other_id:
        raise CoreError("it is on this rack already", "rest")
    try:
        with writing():
            here, there = builds.load(shop_id, build_id), builds.load(shop_id, other_id)
            rest = _found(there.plan, rest_id)
            path = ("cutting", _group(rest))
            gone: AnyChange = RemoveThing(path=(*path, rest_id))
            if rest.count > 1:
                gone = SetValue(path=(*path, rest_id, "count"), value=rest.count - 1)
            taken = {r.id for r in here.plan.cutting.rests}
            id_ = next(n for k in range(1, len(taken) + 2) if (n := f"rest-{k}") not in taken)
            # its photo stays with the build that it was kept for
            plain = rest.model_dump(mode="json", exclude={"photo"})
            come = AddThing(path=path, value={**plain, "id": id_, "count": 1})
            steps = [
                (other_id, there.number, gone, f"a leftover goes to {here.plan.name}"),
                (build_id, here.number, come, f"a leftover comes from {there.plan.name}"),
            ]
            # always in the same order: two that fetch from one another wait, and do not wait for ever
            for id_of, base, change, words in sorted(steps, key=lambda s: s[0]):
                builds.commit(shop_id, id_of, base, change, lambda *_, told=words: told[:200], None)
    except builds.StaleEditError:
        raise CoreError("that rack was changed in another window meanwhile; try it again", "rest") from None
    return f"It is on this rack now, and gone from that of {there.plan.name}."
