"""Battery tray: what holds a battery down and sideways, and covers its terminals."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.gives import Bolts, Built, Marked
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.carried_kind import CarriedKind
from stirrup.core.fittings.holding import SCREW_N, Fastened, Foot, fence, holds, part, ring, shapes
from stirrup.core.fittings.stock import AngleId
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Section
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"TERMINALS": "cover of a battery's terminals"}, acceptable=True)

Way = Literal["angles and strap", "tray with clamp", "box with lid and strap"]

PLAY_M = 0.003  # between the battery and what stands round it: working value
BOLT_N = 1500.0  # the same of an M6 with washers through a deck: working value
BOLTS = 4
BOLTED = (("bolts", "R", "bolt-m6x30"), ("nuts", "RN", "nut-m6"), ("washers", "RW", "washer-m6"))
OUT_M = 0.03  # of a bought tray or box beyond the battery: working value
INSIDE_BOX_M = (0.340, 0.180, 0.245)  # of the box in the catalogue: up to group 31


class BatteryTray(FittingBase):
    """Choices for what holds a battery."""

    kind: Literal["battery_tray"] = "battery_tray"
    battery: Annotated[Id, ThingRef("battery", "is carried by")] = Field(title="For battery")
    way: Way = Field("angles and strap", title="Held by")
    angle: AngleId = Field("angle-25x25x3", title="Angle round it")
    pitch: Length = Field(0.08, ge=0.02, le=0.4, title="Screws every")


def _foot(c: BatteryTray, site: Site) -> Foot:
    item = site.host_choices
    if not isinstance(item, ItemBase) or item.size is None:
        raise CoreError("its battery has no size yet: give it one first", f"fittings.{c.id}.battery")
    x, y, z = item.mass.centre
    return Foot((x, y, z - item.size[2] / 2), item.size, item.turn, item.mass.value)


def _terminals(c: BatteryTray, foot: Foot) -> list[Finding]:
    """Whether they are covered, and whether it goes into the box."""
    if c.way != "box with lid and strap":
        return [Finding("TERMINALS", "look", c.id, "Its terminals lie open",
                        "A spanner across them welds itself: boots over both posts, or a box. Gas from "
                        "charging must get out upward.", {}, "Cover them, or take the box.",
                        fixes=(Fix("Take the box with lid", path=("fittings", c.id, "way"),
                                   value="box with lid and strap"),))]  # fmt: skip
    over = max(s - room for s, room in zip(foot.size, INSIDE_BOX_M, strict=True))
    if over > 1e-9:
        return [Finding("TERMINALS", "mend", c.id, "It does not go into the box",
                        "It is {over} larger than the inside of a box for group 31.",
                        {"over": Quantity(over, "m")}, "Take angles and a strap, and cover both posts.",
                        fixes=(Fix("Take angles and a strap", path=("fittings", c.id, "way"),
                                   value="angles and strap"),))]  # fmt: skip
    return [Finding("TERMINALS", "fine", c.id, "Its terminals are covered",
                    "The box's lid covers both; leave its vents free.")]  # fmt: skip


def build(c: BatteryTray, site: Site) -> Built:
    """Angles and strap round a battery, or the bought tray or box, with what fastens it. Raises
    CoreError without a size of the battery."""
    foot, catalogue = _foot(c, site), site.catalogue
    made = c.way == "angles and strap"
    members, bodies = fence(c, foot, catalogue.section(c.angle), PLAY_M) if made else ([], [])
    find = catalogue.plain
    at = foot.at
    if made:
        counts = [count_at_pitch(m.length, c.pitch) for m in members]
        screw = catalogue.find("screw-4.2x16")
        parts = [part(c, "strap", "Y", "strap", find("strap-battery"), 1, at),
                 part(c, "screws", "R", "screws", screw, sum(counts), at, "fasteners")]  # fmt: skip
        # the weaker of the sides it may be thrown against
        held = holds(c, foot, Fastened(min(counts), "screws of one angle", SCREW_N, c.pitch), "battery")
    else:
        entry = find("tray-battery" if c.way == "tray with clamp" else "box-battery")
        parts = [part(c, "tray", "Y", entry.name, entry, 1, at)]
        for key, code, id_ in (
            ("bolts", "R", "bolt-m6x30"),
            ("nuts", "RN", "nut-m6"),
            ("washers", "RW", "washer-m6"),
        ):
            parts.append(part(c, key, code, key, catalogue.find(id_), BOLTS, at, "fasteners"))
        held = holds(c, foot, Fastened(BOLTS, "bolts", BOLT_N), "battery")
    out = catalogue.section(c.angle).b + PLAY_M if made else OUT_M
    around = ring(foot, out)
    region = Polygon(around)
    solids = (Solid(c.id, "body", plain(c.name), Prism(region, at[2], at[2] + _high(c, site)),
                    pieces=tuple(bodies)),) if bodies else ()  # fmt: skip
    return Built(
        c.id, (), tuple(members), tuple(parts), shapes(foot, around), (), (held, *_terminals(c, foot)),
        at[2] + _high(c, site), region, solids=solids,
        bolts=Bolts(around, at[2], (at[0], at[1])),
        marked=(Marked(at[2], corners=around, turn=foot.turn),),
    )  # fmt: skip


def _high(c: BatteryTray, site: Site) -> float:
    return site.catalogue.section(c.angle).a


class BatteryTrayKind(CarriedKind[BatteryTray]):
    key, title = "battery_tray", "Battery tray"
    choices = BatteryTray
    letter = "Y"
    round_it, what = "battery", "battery"
    entries = (
        Entry("battery_tray", "Battery tray or box", 3, "holds it against twice its weight, and covers its "
              "terminals", "hold-down strap clamp box"),
    )  # fmt: skip
    about = (
        "Goes round a battery: angles and a strap, or a bought tray or box. Its fasteners are held against "
        "twice the battery's weight sideways, and its terminals are looked at."
    )

    def around(self, c: BatteryTray, where: Where) -> tuple[float, float, float, float]:
        """By the angle's flange, or by a bought tray."""
        out = OUT_M
        if c.way == "angles and strap":
            entry = where.catalogue.entries.get(c.angle)
            out = PLAY_M + (entry.b if isinstance(entry, Section) else OUT_M)
        return (out, out, 0.0, 0.0)

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("battery") else "goes round a battery: place one first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Round the battery that is chosen, else round one that has none."""
        batteries = list(placing.all_of("battery"))
        if not batteries:
            raise CoreError("a tray goes round a battery: place one first", "fittings")
        chosen = next((b for b in batteries if b.id == placing.host), batteries[0])
        id_ = placing.id("tray")
        return {"kind": self.key, "id": id_, "name": f"Tray of {chosen.title}"[:80],
                "mark": placing.mark(self.letter), "battery": chosen.id}  # fmt: skip

    def idle(self, c: BatteryTray, catalogue: Any) -> frozenset[str]:
        return frozenset() if c.way == "angles and strap" else frozenset(["angle", "pitch"])

    def build(self, c: BatteryTray, site: Site) -> Built:
        return build(c, site)


KIND = BatteryTrayKind()
