"""What kinds of crates answer alike: what they stand on, how they are moved and sized, a first place."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import replace
from typing import Annotated, Any, Generic, Literal, NamedTuple, TypeVar

from pydantic import Field
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase, Named, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Bolts, Built, Floor, Foot, Marked
from stirrup.core.contract.kind import Path, Placing, Site, Sizes
from stirrup.core.document import Id, Point, Point2, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.crate import POST, Crate, corners_of, hardware, hinge_at, members, panels
from stirrup.core.fittings.lid_support import COUNTS, Support, Supported, lid_about, supported
from stirrup.core.fittings.standing_kind import StandingKind
from stirrup.core.fittings.stock import CoverId, SheetId
from stirrup.core.hull.bottom import bottom_m, highest_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass
from stirrup.core.space.room import Room, lid_sweep
from stirrup.core.space.solid import Solid

declare("layout", {"BOX-FOOT": "how it stands"})

EVEN_M = 0.005  # what its foot rocks less than this is packed
BESIDE_M = 0.15  # between a box and its copy
PLAY_M = 0.01  # under the members of a deck
STUDS_M, STUD_M = 0.25, 0.02  # how far down studs may go in a box, and from how far under its lid
LEAST_HIGH_M = 0.12  # of a box that is made lower to go under one
BEFORE_M = 0.02  # left between a first one and the edge that it stands before

HeldWays = Literal["loose", "bracketed down"]


class CrateBase(FittingBase):
    """Choices that crates share."""

    kind: str = ""
    on: Annotated[Id | None, ThingRef("floor", "stands on")] = Field(
        None, title="Stands on", description="empty: the bottom of the boat"
    )
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    length: Length = Field(0.35, ge=0.1, le=3, title="Along")
    width: Length = Field(0.45, ge=0.1, le=3, title="Across")
    height: Length = Field(0.20, ge=0.05, le=1.6, title="Height", description="over what it stands on")
    skin: SheetId = Field("al-2.5", title="Sheet")
    held: HeldWays = Field("bracketed down", title="Held")
    cover: CoverId = Field("none", title="Cover of its top")

    @property
    def at(self) -> Point2:
        """Its middle in plan."""
        return (self.x, self.y)

    @property
    def size(self) -> tuple[float, float, float]:
        """Along, across, up [m]."""
        return (self.length, self.width, self.height)

    @property
    def corners(self) -> tuple[Point2, ...]:
        """Of its foot in plan, counterclockwise from aft to starboard."""
        return corners_of(self.at, self.size)


C = TypeVar("C", bound=CrateBase)


def foot_m(c: Named, corners: tuple[Point2, ...], surface: HullSurface, host_top: float | None) -> float:
    """Height at which something stands on the corners of its foot [m]. Raises CoreError outside of the
    boat."""
    foot = host_top if host_top is not None else highest_m(surface, corners)
    if foot is None:
        raise CoreError("there is nothing to stand on there", f"fittings.{c.id}.x")
    return foot


def stands_m(c: Named, ring: tuple[Point2, ...], on: str | None, where: Where) -> float:
    """The same for where it stands: on its host's top, else on the bottom; as high as the boat's lowest
    point where there is nothing, so that it is seen where it was put [m]."""
    host = where.extent(on) if on else None
    top = None if host is None else max(host.top_at(x) for x, _ in ring)
    try:
        return foot_m(c, ring, where.surface, top)
    except CoreError:
        return float(where.surface.inside.low[2])


def foot_at(c: CrateBase, site: Site) -> float:
    """Height at which it stands on its site [m]. Raises CoreError outside of the boat."""
    host = site.host
    top = host.floors[0].highest(c.corners) if host is not None and host.floors else None
    return foot_m(c, c.corners, site.surface, top)


def crate(c: CrateBase, site: Site, **more: Any) -> Crate:
    """The crate of some choices on its site; more: what a kind says of it. Raises CoreError."""
    sheet, post = site.catalogue.sheet(c.skin), site.catalogue.section(POST)
    return Crate(c, c.at, c.size, foot_at(c, site), sheet, post, site.catalogue,
                 held=c.held != "loose", **more)  # fmt: skip


@dataclass(frozen=True)
class Made:
    """Parts and findings of a crate."""

    panels: tuple[Panel, ...]
    members: tuple[Member, ...]
    bought: tuple[Bought, ...]
    findings: tuple[Finding, ...]


def made(c: CrateBase, b: Crate, site: Site) -> Made:
    """Sheets, posts, cleats, hardware and cover of a crate, and how it stands."""
    posts = members(b)
    bought, findings = hardware(b, posts)
    if c.cover != "none":
        bought += covered(c, site.catalogue, c.cover, c.length * c.width, (c.x, c.y, b.top))
    return Made(tuple(panels(b)), tuple(posts), tuple(bought), (*findings, *rocks(c, site, b.foot)))


def rocks(c: CrateBase, site: Site, foot: float) -> list[Finding]:
    """Whether it stands on an even floor."""
    if site.host is not None:
        region = site.host.floors[0].region if site.host.floors else Polygon()
        if region.covers(Polygon(c.corners)):
            return [_on_floor(c, site.host.floors[0])]
        return [
            Finding("BOX-FOOT", "mend", c.id, "Stands past the edge of its floor",
                    "A corner of its foot hangs over the edge.", {},
                    "Move it inward, or make it smaller.")
        ]  # fmt: skip
    heights = [bottom_m(site.surface, x, y) for x, y in c.corners]
    gap = foot - min((h for h in heights if h is not None), default=foot)
    if gap <= EVEN_M and None not in heights:
        return [Finding("BOX-FOOT", "fine", c.id, "Stands flat", "The bottom is even under its foot.")]
    return [
        Finding("BOX-FOOT", "look", c.id, "The bottom is not even under it",
                "At its lowest corner {gap} is left under its walls.", {"gap": Quantity(gap, "m")},
                "Scribe its walls to the bottom, pack them, or set it on a floor.")
    ]  # fmt: skip


def _on_floor(c: CrateBase, floor: Floor) -> Finding:
    """How what stands upright stands on a floor that may fall."""
    gap = floor.highest(c.corners) - min(floor.top_at(x) for x, _ in c.corners)
    if not floor.rise:
        return Finding("BOX-FOOT", "fine", c.id, "Stands flat", "All of its foot is on its floor.")
    lower = "aft" if floor.rise > 0 else "fore"
    values = {"gap": Quantity(gap, "m", True)}
    if gap <= EVEN_M:
        return Finding("BOX-FOOT", "fine", c.id, "Stands flat once it is packed",
                       f"Its floor falls: pack its {lower} edge up by {{gap}}.", values)  # fmt: skip
    return Finding("BOX-FOOT", "look", c.id, "Its floor falls under it",
                   f"Set plumb, its {lower} edge stands {{gap}} over the floor.", values,
                   f"Cut its walls to the fall, or pack the {lower} edge.")  # fmt: skip


def standing(c: CrateBase, b: Crate) -> dict[str, Any]:
    """How it stands in the boat, as fields of Built: body, foot, bolts, what is marked out."""
    return {
        "top_m": b.top,
        "region": b.region,
        "solids": (Solid(c.id, "body", plain(c.name), b.body, lent=True),),
        "foot": None if c.on else Foot(b.body, ()),
        "bolts": Bolts(c.corners, b.foot, c.at) if b.held else None,
        "marked": (Marked(b.foot, corners=c.corners),) if b.held else (),
    }


def lid_support(c: CrateBase, support: Support, opens: float, b: Crate, parts: Made) -> Supported:
    """What holds its lids open: studs under them and on the walls between the two long ones."""
    top = [p for p in parts.panels if p.level and p.centre[2] > b.under][: max(b.lids, 1)]
    share = [replace(p, mass_kg=p.mass_kg / b.lids) for p in parts.bought if p.group == "cover" and b.lids]
    if not b.lids:
        return Supported()
    u = -1.0 if b.hinge in ("fore", "port") else 1.0
    way = (0.0, u) if b.turned else (u, 0.0)
    cap, down = b.cap.thickness, min(STUDS_M, 0.7 * b.size[2])
    lid = lid_about([*top[:1], *share], hinge_at(b), way, b.deep, cap, (cap + STUD_M, down), opens)
    return supported(c, support, lid, (*b.at, b.top), b.catalogue, b.lids)


def lids_idle(lids: int, support: Support) -> frozenset[str]:
    """Choices of lids that change nothing: of none where it is hinged and how it is held; how far one
    opens that nothing stops."""
    if not lids:
        return frozenset(["hinge", "support", "opens"])
    return frozenset() if support in COUNTS else frozenset(["opens"])


def lid_room(c: CrateBase, b: Crate) -> tuple[Room, ...]:
    """What its lids sweep; none without a lid."""
    if not b.lids:
        return ()
    swing = lid_sweep(b.region, b.hinge, b.top)
    what = "lid swings" if b.lids == 1 else "lids swing"
    return (Room(c.id, what, swing, name=plain(c.name), body=b.body, hosts=(c.on,) if c.on else ()),)


class First(NamedTuple):
    """First size of a crate [m], and where: share of the boat's length, [m] to port; low: on the bottom,
    under a deck if there is one."""

    size: tuple[float, float, float]
    share: float
    side: float = 0.0
    low: bool = False


class CrateKind(StandingKind[C], Generic[C]):
    """A crate on a floor or on the bottom. Its first size and place are data of the kind."""

    stem = ""
    first_size: tuple[float, float, float] = (0.35, 0.45, 0.20)
    share = 0.5  # of the boat's length, where a first one usually stands
    side = 0.0  # [m] to port
    before_deck = False  # a first one stands before the aft edge of the highest deck

    def extent(self, c: C, where: Where) -> Extent:
        foot = stands_m(c, c.corners, c.on, where)
        (x0, y0), (x1, y1) = c.corners[0], c.corners[2]
        return Extent((x0, x1), (y0, y1), (foot, foot + c.height))

    def sizes(self, c: C) -> Sizes:
        return Sizes((("length",), ("width",), None), (("x",), ("y",), None))

    def tall(self, c: C) -> Path | None:
        return ("height",)

    def put_beside(self, value: dict[str, Any]) -> None:
        value["x"] = round(value["x"] + value["length"] + BESIDE_M, 4)

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Where such a one usually stands, on what is there; or where it was put."""
        size, share, side, low = self.first_of(entry)
        length, width, height = size
        decks = [b.floors[0] for _, b in placing.built("floor") if b.floors and b.floors[0].broad]
        if self.before_deck and placing.at is None and decks:
            placing.at = self._before(max(decks, key=lambda f: f.top_m).region.bounds[0], size, placing)
        x, y, z = placing.spot(size, share, side, low)
        id_ = placing.id(self.stem)
        return {
            "kind": self.key, "id": id_, "name": f"{self._called(entry)} {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "on": floor_under(placing, (x, y, z)),
            "x": round(x, 3), "y": round(y, 3), "length": length, "width": width,
            "height": _headroom(placing, (x, y, z), height),
            **self.first_choices(entry),
        }  # fmt: skip

    def reads(self, c: C, host: Built) -> Hashable | None:
        """How high its floor lies, and whether all of its foot is on it: see `foot_at` and `rocks`."""
        if not host.floors:
            return ("no floor",)
        floor = host.floors[0]
        return ("floor", floor.highest(c.corners), floor.rise, floor.region.covers(Polygon(c.corners)))

    def first_of(self, entry: str) -> First:
        """Its first size, and where."""
        return First(self.first_size, self.share, self.side)

    def _called(self, entry: str) -> str:
        """What the palette's entry is called."""
        return next(e.title for e in self.entries if e.key == entry).split(",")[0]

    def first_choices(self, entry: str) -> dict[str, Any]:
        """Further choices of a first one."""
        return {}

    def _before(self, edge: float, size: tuple[float, float, float], placing: Placing) -> Point2:
        """Before an edge, as near to the middle as there is room."""
        length, width, _ = size
        before = round(edge - length / 2 - BEFORE_M, 3)
        asides = (0.0, *(s * k * width / 2 for k in range(1, 6) for s in (1, -1)))
        free = (y for y in asides if placing.free((before, y), size))
        return (before, next(free, 0.0))


def floor_under(placing: Placing, at: Point) -> str | None:
    """Id of what offers the highest floor at or under a place; None on the bottom of the boat."""
    x, y, z = at
    under = [
        (f.top_at(x), t.id)
        for t, b in placing.built("floor")
        for f in b.floors
        if f.top_at(x) - z < EVEN_M + abs(f.rise) * BESIDE_M and f.region.covers(FlatPoint(x, y))
    ]
    return max(under)[1] if under else None


def _headroom(placing: Placing, at: Point, height: float) -> float:
    """A height that goes under the deck over a place, if it is under one and there is room [m]."""
    over = [
        f.below.free_m - at[2] - PLAY_M
        for _, b in placing.built("floor")
        for f in b.floors
        if f.below is not None and f.below.free_m > at[2] and f.region.covers(FlatPoint(at[0], at[1]))
    ]
    room = min(over, default=height)
    return round(min(height, room), 3) if room >= LEAST_HIGH_M else height


def standing_built(c: CrateBase, b: Crate, parts: Made, **more: Any) -> Built:
    """A crate as built; more: what a kind gives besides."""
    fields = {"panels": parts.panels, "members": parts.members, "bought": parts.bought,
              "findings": parts.findings, **standing(c, b), "rooms": lid_room(c, b)}  # fmt: skip
    return Built(c.id, **(fields | more))
