"""Battery tray: what holds a battery down and sideways, and covers its terminals."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely import affinity
from shapely.geometry import Polygon, box

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.gives import Bolts, Built, Marked, Shape
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, Point, Point2, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.angles import angle_bodies
from stirrup.core.fittings.carried_kind import CarriedKind
from stirrup.core.fittings.stock import AngleId
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought, Member
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"HOLD-DOWN": "what holds a battery", "TERMINALS": "cover of a battery's terminals"},
        acceptable=True)  # fmt: skip

Way = Literal["angles and strap", "tray with clamp", "box with lid and strap"]

PLAY_M = 0.003  # between the battery and what stands round it: working value
UP: Point = (0.0, 0.0, 1.0)
G = 9.81
TIMES = 2.0  # of its weight, sideways, that it has to be held against
SCREW_N = 500.0  # sideways, of a screw of 4.2 mm in 2.5 mm of sheet or 12 mm of wood: working value
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


@dataclass(frozen=True)
class Foot:
    """Where a battery stands: its middle and foot, size, turn, and what it weighs."""

    at: Point
    size: tuple[float, float, float]
    turn: float
    mass: float

    def place(self, u: float, v: float) -> Point2:
        """A place given along and across the battery, in plan."""
        a = math.radians(self.turn)
        x, y, _ = self.at
        return (x + u * math.cos(a) - v * math.sin(a), y + u * math.sin(a) + v * math.cos(a))

    def way(self, u: float, v: float) -> Point:
        """A level direction given along and across the battery, on the boat's axes."""
        a = math.radians(self.turn)
        return (u * math.cos(a) - v * math.sin(a), u * math.sin(a) + v * math.cos(a), 0.0)

    def turned(self, shape: Polygon) -> Polygon:
        """A shape given along and across the battery, in plan."""
        x, y, _ = self.at
        return affinity.translate(affinity.rotate(shape, self.turn, origin=(0, 0)), x, y)


def _foot(c: BatteryTray, site: Site) -> Foot:
    item = site.host_choices
    if not isinstance(item, ItemBase) or item.size is None:
        raise CoreError("its battery has no size yet: give it one first", f"fittings.{c.id}.battery")
    x, y, z = item.mass.centre
    return Foot((x, y, z - item.size[2] / 2), item.size, item.turn, item.mass.value)


def _fence(c: BatteryTray, foot: Foot, source: Section) -> tuple[list[Member], list[Prism]]:
    """Four angles, legs up against the battery, flanges out on the floor: the two long ones from corner
    to corner, the other two between them."""
    a, b = foot.size[0] / 2 + PLAY_M, foot.size[1] / 2 + PLAY_M
    t, wide, low = source.t, source.b, foot.at[2]
    members, bodies = [], []
    for k, (long, sign) in enumerate(((True, 1), (True, -1), (False, 1), (False, -1)), 1):
        half = a + wide if long else b
        ends = [foot.place(s * half, sign * b) if long else foot.place(sign * a, s * half) for s in (-1, 1)]
        aft, fore = ((*p, low + source.a / 2) for p in ends)
        out = foot.way(0.0, sign) if long else foot.way(sign, 0.0)
        heel = ((*ends[0], low), (*ends[1], low))
        members.append(
            Member(f"{c.id}/angle/{k}", f"{c.code}-V{k}", f"{c.name}, angle {k}", c.id, source, 2 * half,
                   (aft, fore), late_bodies=partial(angle_bodies, source, heel, UP, out), role="frame")
        )  # fmt: skip
        near, far = (b, b + wide) if long else (a, a + wide)
        for deep, high in ((t, source.a), (far - near, t)):
            flat = box(-half, near, half, near + deep) if long else box(near, -half, near + deep, half)
            flat = flat if sign > 0 else affinity.scale(flat, -1, -1, origin=(0, 0))
            bodies.append(Prism(foot.turned(flat), low, low + high))
    return members, bodies


def _holds(c: BatteryTray, foot: Foot, count: int, each: float, what: str) -> Finding:
    """Whether the screws of one side hold twice its weight."""
    need, have = TIMES * foot.mass * G, count * each
    values = {"need": Quantity(need, "N"), "have": Quantity(have, "N"), "count": Quantity(count, "count")}
    work = Working(
        "need = 2 x weight, sideways; have = fasteners of one side x what each holds",
        (Input("battery", Quantity(foot.mass, "kg")), Input("fasteners", Quantity(count, "count")),
         Input("each", Quantity(each, "N"), "working value")),
        Quantity(have, "N"), "rules of the trade, “Batteries”",
    )  # fmt: skip
    text = f"Sideways it pushes with {{need}} at worst; {{count}} {what} hold {{have}}."
    if have >= need:
        return Finding(
            "HOLD-DOWN", "fine", c.id, "Held against twice its weight", text, values, working=work
        )
    closer = max(0.02, math.floor(c.pitch / 2 * 1000) / 1000)
    fix = Fix("Screws every {closer}", path=("fittings", c.id, "pitch"), value=closer)
    return Finding(
        "HOLD-DOWN", "mend", c.id, "A wave would tear it loose", text,
        {**values, "closer": Quantity(closer, "m")}, "Closer screws, or bolts with backing.", work,
        fixes=(fix,) if c.way == "angles and strap" else (),
    )  # fmt: skip


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


def _part(c: BatteryTray, key: str, code: str, word: str, entry: Any, count: int, at: Point,
          group: Literal["hardware", "fasteners"] = "hardware") -> Bought:  # fmt: skip
    return Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                  count * entry.mass, at, group)  # fmt: skip


def build(c: BatteryTray, site: Site) -> Built:
    """Angles and strap round a battery, or the bought tray or box, with what fastens it. Raises
    CoreError without a size of the battery."""
    foot, catalogue = _foot(c, site), site.catalogue
    made = c.way == "angles and strap"
    members, bodies = _fence(c, foot, catalogue.section(c.angle)) if made else ([], [])
    find = catalogue.plain
    at = foot.at
    if made:
        counts = [count_at_pitch(m.length, c.pitch) for m in members]
        screw = catalogue.find("screw-4.2x16")
        parts = [_part(c, "strap", "Y", "strap", find("strap-battery"), 1, at),
                 _part(c, "screws", "R", "screws", screw, sum(counts), at, "fasteners")]  # fmt: skip
        # the weaker of the sides it may be thrown against
        held = _holds(c, foot, min(counts), SCREW_N, "screws of one angle")
    else:
        entry = find("tray-battery" if c.way == "tray with clamp" else "box-battery")
        parts = [_part(c, "tray", "Y", entry.name, entry, 1, at)]
        for key, code, id_ in (
            ("bolts", "R", "bolt-m6x30"),
            ("nuts", "RN", "nut-m6"),
            ("washers", "RW", "washer-m6"),
        ):
            parts.append(_part(c, key, code, key, catalogue.find(id_), BOLTS, at, "fasteners"))
        held = _holds(c, foot, BOLTS, BOLT_N, "bolts")
    out = catalogue.section(c.angle).b + PLAY_M if made else OUT_M
    ring = _ring(foot, out)
    region = Polygon(ring)
    solids = (Solid(c.id, "body", plain(c.name), Prism(region, at[2], at[2] + _high(c, site)),
                    pieces=tuple(bodies)),) if bodies else ()  # fmt: skip
    return Built(
        c.id, (), tuple(members), tuple(parts), _shapes(foot, ring), (), (held, *_terminals(c, foot)),
        at[2] + _high(c, site), region, solids=solids,
        bolts=Bolts(ring, at[2], (at[0], at[1])),
        marked=(Marked(at[2], corners=ring, turn=foot.turn),),
    )  # fmt: skip


def _high(c: BatteryTray, site: Site) -> float:
    return site.catalogue.section(c.angle).a


def _ring(foot: Foot, out: float) -> tuple[Point2, ...]:
    a, b = foot.size[0] / 2 + out, foot.size[1] / 2 + out
    return tuple(foot.place(u, v) for u, v in ((-a, -b), (a, -b), (a, b), (-a, b)))


def _shapes(foot: Foot, ring: tuple[Point2, ...]) -> tuple[Shape, ...]:
    low, (x, y, z) = foot.at[2], foot.at
    xs, ys = [p[0] for p in ring], [p[1] for p in ring]
    up = low + 0.025
    strap = (foot.place(0.0, -foot.size[1] / 2), foot.place(0.0, foot.size[1] / 2))
    return (
        Shape("form-line", tuple((px, py, low) for px, py in ring)),
        Shape("form-hinge", tuple((px, py, z + foot.size[2]) for px, py in strap), closed=False),
        Shape("form-line", ((min(xs), y, low), (max(xs), y, low), (max(xs), y, up), (min(xs), y, up)),
              view="side"),
        Shape("form-line", ((x, min(ys), low), (x, max(ys), low), (x, max(ys), up), (x, min(ys), up)),
              view="across"),
    )  # fmt: skip


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
