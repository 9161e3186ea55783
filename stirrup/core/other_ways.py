"""Other ways of making a thing: each that its kind knows, tried on the plan beside what there is.

Nothing is stored. What it weighs, costs and takes follows from the plan; what it risks is the kind's word.
"""

from __future__ import annotations

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.kind import Path
from stirrup.core.contract.schools import as_the_build
from stirrup.core.contract.ways import Value, Way, ways_of
from stirrup.core.derive import Derived
from stirrup.core.instead import Made, made, tried
from stirrup.core.kinds.registry import kind_of
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.changes import AnyChange, SetValue, Together
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Tried:
    """A way of making a thing, and what came of it: None where it cannot be built so."""

    way: Way
    made: Made | None


@dataclass(frozen=True)
class Question:
    """A choice that is made in several ways: its title, the way it is made now, the others."""

    title: str
    now: Tried
    others: tuple[Tried, ...]


def asked(thing: FittingBase, catalogue: Catalogue) -> list[str]:
    """The choices of a thing that are made in several ways, those it does not use left out."""
    idle = kind_of(thing).idle(thing, catalogue)
    return [name for name in ways_of(type(thing)) if name not in idle]


def other_ways(derived: Derived, id_: str, shop: Catalogue) -> list[Question]:
    """Each way of making a thing that its kind knows, beside the one it is made in. Empty where it knows
    one only, and where there is no such thing."""
    thing = derived.plan.fitting(id_)
    if thing is None:
        return []
    settled, marked = as_the_build(thing, derived.plan.schools), ways_of(type(thing))
    as_it_is, out = made(derived, id_, None, None), []
    for name in asked(thing, derived.catalogue):
        value = getattr(settled, name)
        now = next((w for w in marked[name].each if w.value == value), Way(value, ""))
        others = [_tried(derived, id_, name, w, shop) for w in marked[name].each if w.value != value]
        title = type(thing).model_fields[name].title or name
        out.append(Question(title, Tried(now, as_it_is), tuple(others)))
    return out


def _tried(derived: Derived, id_: str, name: str, way: Way, shop: Catalogue) -> Tried:
    change = change_to(("fittings", id_), name, way)
    found = tried(derived, id_, change, shop)
    return Tried(way, None if found is None else made(found[0], id_, None, found[1]))


def change_to(path: Path, name: str, way: Way) -> AnyChange:
    """The change that makes a thing in another way."""

    def one(field: str, value: Value) -> SetValue:
        return SetValue(path=(*path, field), value=value)

    if not way.also:
        return one(name, way.value)
    changes = (*(one(field, value) for field, value in way.also), one(name, way.value))
    return Together(changes=changes, words=f"made in another way: {way.value}")
