"""Entries of the catalogue that a plan names are carried in it: it means the same in another shop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from stirrup.core.document import StockRef
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import UNKNOWN, Entry, Section, Sheet
from stirrup.core.plan.changes import AddThing, AnyChange, SetValue, Together, apply, touches
from stirrup.core.plan.model import Carried, Plan


def named_by(thing: Any) -> Iterator[str]:
    """Ids of entries that a thing's choices name."""
    for name, info in type(thing).model_fields.items():
        for mark in info.metadata:
            if isinstance(mark, StockRef) and (value := getattr(thing, name)) not in (None, *mark.also):
                yield str(value)


def missing_in(plan: Plan, catalogue: Catalogue) -> list[Entry]:
    """Entries that a plan names and does not carry yet; those that nobody knows are left out."""
    known = {e.id for e in plan.catalogue.entries}
    naming = (*plan.fittings, *plan.cutting.sheets, *plan.cutting.sticks)
    named = [i for f in naming for i in named_by(f)] + [d.stock for d in plan.cutting.done]
    wanted = dict.fromkeys(i for i in named if i not in known)
    return [catalogue.entries[i] for i in wanted if i in catalogue.entries]


def _as_written(entry: Entry) -> Entry:
    """An entry as a file has it: what it is made of is found by its material's id."""
    return entry.model_copy(update={"stuff": UNKNOWN}) if isinstance(entry, Sheet | Section) else entry


def carried(plan: Plan, catalogue: Catalogue) -> Plan:
    """The plan with every entry that it names."""
    more = missing_in(plan, catalogue)
    if not more:
        return plan
    known = {m.id for m in plan.catalogue.materials}
    stuff = {
        e.stuff.id: e.stuff for e in more if isinstance(e, Sheet | Section) and e.stuff.id not in known
    }
    new = Carried(
        materials=(*plan.catalogue.materials, *stuff.values()),
        entries=(*plan.catalogue.entries, *(_as_written(e) for e in more)),
    )
    return plan.model_copy(update={"catalogue": new})


def carrying(plan: Plan, catalogue: Catalogue, change: AnyChange) -> AnyChange:
    """The change, and with it the entries that the plan names from then on."""
    parts = change.changes if isinstance(change, Together) else (change,)
    if not any(group in ("fittings", "cutting") for group, *_ in touches(change)):
        return change
    if all(isinstance(part, SetValue) and isinstance(part.value, float | int) for part in parts):
        return change  # a number names nothing: at every step of a hand
    after = apply(plan, change)
    new = carried(after, catalogue)
    if new is after:
        return change
    old_stuff, old = set(plan.catalogue.materials), {e.id for e in plan.catalogue.entries}
    more: list[AnyChange] = [
        AddThing(path=("catalogue", "materials"), value=m.model_dump(mode="json"))
        for m in new.catalogue.materials
        if m not in old_stuff
    ]
    more += [
        AddThing(path=("catalogue", "entries"), value=e.model_dump(mode="json"))
        for e in new.catalogue.entries
        if e.id not in old
    ]
    words = change.words if isinstance(change, Together) else ""
    return Together(changes=(*parts, *more), words=words)
