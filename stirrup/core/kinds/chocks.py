"""Chocks of a cooler or a loose box: it is set down between them, strapped, and lifted out again."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.gives import Built, Marked
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import plain
from stirrup.core.fittings.carried_kind import CarriedKind
from stirrup.core.fittings.holding import SCREW_N, Fastened, Foot, fence, holds, part, ring, shapes
from stirrup.core.fittings.stock import AngleId
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Section
from stirrup.core.quantities import Length, Mass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

PLAY_M = 0.006  # so that it goes down between them by hand: working value


class Chocks(FittingBase):
    """Choices for the place of a loose box."""

    kind: Literal["chocks"] = "chocks"
    thing: Annotated[Id, ThingRef("loose", "is carried by")] = Field(title="For")
    filled: Mass = Field(0.0, ge=0, le=300, title="In it, when full")
    angle: AngleId = Field("angle-25x25x3", title="Chocks of")
    pitch: Length = Field(0.12, ge=0.02, le=0.4, title="Screws every")
    strap: bool = Field(True, title="Strap over it")


def _foot(c: Chocks, site: Site) -> Foot:
    item = site.host_choices
    if not isinstance(item, ItemBase) or item.size is None:
        raise CoreError(
            "what goes between them has no size yet: give it one first", f"fittings.{c.id}.thing"
        )
    x, y, z = item.mass.centre
    return Foot((x, y, z - item.size[2] / 2), item.size, item.turn, item.mass.value + c.filled)


def build(c: Chocks, site: Site) -> Built:
    """Four angles with their screws, and a strap. Raises CoreError without a size of what goes in."""
    foot = _foot(c, site)
    source = site.catalogue.section(c.angle)
    members, bodies = fence(c, foot, source, PLAY_M)
    counts = [count_at_pitch(m.length, c.pitch) for m in members]
    screw = site.catalogue.find("screw-4.2x16")
    parts = [part(c, "screws", "R", "screws", screw, sum(counts), foot.at, "fasteners")]
    if c.strap:
        parts.append(part(c, "strap", "Y", "strap", site.catalogue.plain("strap-tie"), 1, foot.at))
    around = ring(foot, PLAY_M + source.b)
    low, region = foot.at[2], Polygon(around)
    held = holds(c, foot, Fastened(min(counts), "screws of one chock", SCREW_N, c.pitch), "full")
    return Built(
        c.id, (), tuple(members), tuple(parts), shapes(foot, around, (0.0,) if c.strap else ()), (),
        (held,), low + source.a, region,
        solids=(Solid(c.id, "body", plain(c.name), Prism(region, low, low + source.a),
                      pieces=tuple(bodies)),),
        marked=(Marked(low, corners=around, turn=foot.turn),),
    )  # fmt: skip


class ChocksKind(CarriedKind[Chocks]):
    key, title = "chocks", "Chocks of a cooler or box"
    choices = Chocks
    letter = "Q"
    round_it, what = "thing", "cooler or box"
    entries = (
        Entry("chocks", "Chocks and strap of a cooler or box", 4, "keeps it where it was weighed, and lets "
              "it be lifted out", "hold-down cleats tie-down"),
    )  # fmt: skip
    about = (
        "Goes round a cooler or a loose box: angles between which it is set down, a strap over it. Its "
        "screws are held against twice what it weighs full, sideways."
    )

    def around(self, c: Chocks, where: Where) -> tuple[float, float, float, float]:
        """By its play and the angle's flange."""
        entry = where.catalogue.entries.get(c.angle)
        out = PLAY_M + (entry.b if isinstance(entry, Section) else 0.025)
        return (out, out, 0.0, 0.0)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("loose") else "goes round a cooler or box: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Round the one that is chosen, else the first that has a size."""
        there = [t for t in placing.all_of("loose") if t.size is not None]
        if not there:
            raise CoreError("it goes round a cooler or box: place one first", "fittings")
        chosen = next((t for t in there if t.id == placing.host), there[0])
        return {"kind": self.key, "id": placing.id("chocks"), "name": f"Chocks of {chosen.title}"[:80],
                "mark": placing.mark(self.letter), "thing": chosen.id}  # fmt: skip

    def build(self, c: Chocks, site: Site) -> Built:
        return build(c, site)


KIND = ChocksKind()
