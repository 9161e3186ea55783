"""How the things of a plan stand to one another: bound, grouped, locked, hidden, accepted.

Positions themselves stay with the things; what is here only says what follows when one moves.
"""

from __future__ import annotations

from functools import cached_property
from typing import Literal

from pydantic import Field, model_validator

from stirrup.core.contract.extent import AXIS_OF, DATUMS, Edge
from stirrup.core.document import Document, Id
from stirrup.core.quantities import Length


class Bond(Document):
    """An edge that keeps its distance to another edge or a datum, and follows it.

    distance: from the other edge, positive forward, to port or up [m].
    """

    id: Id
    thing: Id
    edge: Edge
    to: str = Field(min_length=1, max_length=60)
    to_edge: Edge | None = None
    distance: Length = Field(0.0, ge=-40, le=40, title="Distance")

    @model_validator(mode="after")
    def _one_axis(self) -> Bond:
        axis = AXIS_OF[self.edge]
        if self.to in DATUMS:
            if DATUMS[self.to] != axis or self.to_edge is not None:
                raise ValueError(f"the {self.edge} edge cannot be measured from the {self.to}")
        elif self.to_edge is None or AXIS_OF[self.to_edge] != axis:
            raise ValueError(f"the {self.edge} edge needs an edge across the same way to keep to")
        if self.to == self.thing:
            raise ValueError("a thing cannot be bound to itself")
        return self


class Arranged(Document):
    """What is set for one thing; its id is the thing's."""

    id: Id
    locked: bool = Field(
        False, title="Locked", description="is not moved by hand or by what it is bound to"
    )
    hidden: bool = Field(
        False, title="Hidden", description="is not drawn; it weighs and costs all the same"
    )
    group: str = Field("", max_length=40, title="Group", description="things of one group move together")


NOTHING_SET = Arranged(id="none")


class Sub(Document):
    """A group that is made as one: built outside and dropped in, or fitted, taken out together, finished.
    One whose group is taken apart says nothing."""

    id: Id
    group: str = Field(min_length=1, max_length=40)
    way: Literal["built outside", "fitted, then taken out"] = "built outside"


class Accepted(Document):
    """A finding that is known and meant: which check, about which things, and why."""

    id: Id
    code: str = Field(min_length=1, max_length=40)
    thing: str = Field(min_length=1, max_length=80)
    other: str = Field("", max_length=80)
    reason: str = Field(min_length=1, max_length=200, title="Reason")


class Arrangement(Document):
    """All of it. Names of things that are not in the plan are errors, see the plan."""

    things: tuple[Arranged, ...] = Field((), max_length=500)
    bonds: tuple[Bond, ...] = Field((), max_length=200)
    accepted: tuple[Accepted, ...] = Field((), max_length=300)
    subs: tuple[Sub, ...] = Field((), max_length=60)

    @cached_property
    def _known(self) -> dict[str, Arranged]:
        return {t.id: t for t in self.things}

    def of(self, id_: str) -> Arranged:
        """What is set for a thing; nothing is when it is not listed."""
        return self._known.get(id_, NOTHING_SET)

    @cached_property
    def hidden(self) -> frozenset[str]:
        """What is not drawn."""
        return frozenset(t.id for t in self.things if t.hidden)

    def together(self, id_: str) -> tuple[str, ...]:
        """The thing with all of its group, itself first."""
        group = self.of(id_).group
        return (id_, *(t.id for t in self.things if group and t.group == group and t.id != id_))

    def bound(self, id_: str) -> tuple[Bond, ...]:
        """Bonds that a thing follows."""
        return tuple(b for b in self.bonds if b.thing == id_)


def check_arrangement(arrangement: Arrangement, ids: set[str]) -> None:
    """Raise ValueError for names that are not there, twice the same, and bonds in a ring."""
    for group in ("things", "bonds", "accepted", "subs"):
        seen: set[str] = set()
        for k, entry in enumerate(getattr(arrangement, group)):
            if entry.id in seen:
                raise ValueError(f"arrangement.{group}[{k}].id: “{entry.id}” is used twice")
            seen.add(entry.id)
    for k, thing in enumerate(arrangement.things):
        if thing.id not in ids:
            raise ValueError(f"arrangement.things[{k}].id: nothing has the id “{thing.id}”")
    follows: dict[tuple[str, int], set[tuple[str, int]]] = {}
    for k, bond in enumerate(arrangement.bonds):
        if bond.thing not in ids:
            raise ValueError(f"arrangement.bonds[{k}].thing: nothing has the id “{bond.thing}”")
        if bond.to not in ids and bond.to not in DATUMS:
            raise ValueError(
                f"arrangement.bonds[{k}].to: nothing has the id “{bond.to}”; accepted: an id, "
                f"{', '.join(DATUMS)}"
            )
        axis = AXIS_OF[bond.edge]
        follows.setdefault((bond.thing, axis), set()).add((bond.to, axis))
    for start in follows:
        reached, ahead = set(), set(follows[start])
        while ahead:
            here = ahead.pop()
            if here == start:
                raise ValueError(f"arrangement.bonds: “{start[0]}” would follow itself in a ring")
            if here not in reached:
                reached.add(here)
                ahead |= follows.get(here, set())
