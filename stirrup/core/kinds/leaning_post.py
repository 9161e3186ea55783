"""Leaning post: a frame of welded tube behind the wheel, with a top to lean or sit on and a foot rail."""

from __future__ import annotations

import math
from functools import partial
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely import box
from shapely.geometry import Polygon

from stirrup.core.bodies.sitting import behind_wheel
from stirrup.core.contract.gives import Bolts, Built, Foot, Marked, Shape
from stirrup.core.contract.kind import Entry, Placing, Site
from stirrup.core.document import Id, Point, StockRef
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.crate_kind import CrateBase, CrateKind, foot_at, rocks
from stirrup.core.fittings.stock import CoverId
from stirrup.core.fittings.through_bolts import bolt_hole
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought, Frame, Member, Panel
from stirrup.core.quantities import Length
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"LEAN-HEIGHT": "height of a leaning post", "LEAN-HOLDS": "what holds a leaning post",
                   "LEAN-WELDED": "welds of a leaning post"}, acceptable=True)  # fmt: skip

TubeId = Annotated[Id, StockRef("section", wanted=(("shape", ("square tube",)),))]
PLATE = "al-4.8"
PLATE_M, BOLT_IN_M = 0.10, 0.015  # of a foot's plate; from its edge to a bolt's middle: working values
BOLTS_EACH, BOLT_M = 4, 0.006
SHARE_OF_STATURE = 0.49  # height that one leans at: working value
LOW_M, HIGH_M = 1.60, 1.95  # people whom one has to suit
# thrown against it: half the weight of somebody heavy; an M6 over a large washer: working values
THROWN_N, EACH_N = 0.5 * 110 * 9.81, 1500.0
LOOSE = "loose"


class LeaningPost(CrateBase):
    """Choices for a leaning post; its aft side is the one that is leaned on from before."""

    kind: Literal["leaning_post"] = "leaning_post"
    length: Length = Field(0.36, ge=0.2, le=0.9, title="Deep, aft to fore")
    width: Length = Field(0.80, ge=0.4, le=1.8, title="Wide")
    height: Length = Field(
        0.86, ge=0.5, le=1.2, title="Leaning height", description="over what it stands on"
    )
    tube: TubeId = Field("square-25x2", title="Tube")
    rail: bool = Field(True, title="Foot rail")
    rail_up: Length = Field(0.22, ge=0.08, le=0.5, title="Foot rail, up")
    cover: CoverId = Field("foam-mat", title="Cover of its top")


class Post:
    """A leaning post where it stands: its foot [m] and its stock."""

    def __init__(self, c: LeaningPost, site: Site) -> None:
        self.c, self.site = c, site
        self.foot = foot_at(c, site)
        self.sheet, self.plate = site.catalogue.sheet(c.skin), site.catalogue.sheet(PLATE)
        self.tube: Section = site.catalogue.section(c.tube)
        self.s = self.tube.a

    @property
    def top(self) -> float:
        return self.foot + self.c.height

    @property
    def legs(self) -> list[tuple[float, float]]:
        """Middles of its legs in plan: aft starboard, aft port, fore starboard, fore port."""
        a, b = (self.c.length - self.s) / 2, (self.c.width - self.s) / 2
        return [(self.c.x + u * a, self.c.y + v * b) for u in (-1, 1) for v in (-1, 1)]

    @property
    def frame(self) -> float:
        """Height of the middle of its upper tubes [m]."""
        return self.top - self.sheet.thickness - self.s / 2


def _tube(p: Post, key: str, code: str, word: str, ends: tuple[Point, Point], out: Point) -> Member:
    """A length of tube about the line between two places; out: square to it."""
    c, half = p.c, p.s / 2
    (ax, ay, az), (bx, by, bz) = ends
    low = ((ax - half * out[0], ay - half * out[1], az - half * out[2]),
           (bx - half * out[0], by - half * out[1], bz - half * out[2]))  # fmt: skip
    along = tuple((b - a) / math.dist(*ends) for a, b in zip(*ends, strict=True))
    across = (along[1] * out[2] - along[2] * out[1], along[2] * out[0] - along[0] * out[2],
              along[0] * out[1] - along[1] * out[0])  # fmt: skip
    bodies = partial(flat_body, low, p.s, p.s, across, out)
    return Member(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, p.tube,
                  math.dist(*ends), ends, role="frame", late_bodies=bodies)  # fmt: skip


def _members(p: Post) -> list[Member]:
    """Four legs under two tubes across; two along between these, two lower ones, and the foot rail."""
    up, fore = (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)
    half, out = p.s / 2, []
    (xa, ys), (_, yp), (xf, _), _ = p.legs
    low, under = p.foot + p.plate.thickness, p.frame - half
    for n, (x, y) in enumerate(p.legs, 1):
        out.append(_tube(p, f"leg/{n}", f"V{n}", f"leg {n}", ((x, y, low), (x, y, under)), fore))
    for n, x in enumerate((xa, xf), 1):
        ends = ((x, yp + half, p.frame), (x, ys - half, p.frame))
        out.append(_tube(p, f"across/{n}", f"X{n}", f"upper tube across {n}", ends, up))
    rows = [("upper", p.frame)]
    if p.c.rail:
        rows.append(("lower", p.foot + p.c.rail_up))
    for word, z in rows:
        for n, y in enumerate((ys, yp), 1):
            ends = ((xa + half, y, z), (xf - half, y, z))
            code = f"{'N' if word == 'upper' else 'M'}{n}"
            out.append(_tube(p, f"{word}/{n}", code, f"{word} tube along {n}", ends, up))
    if p.c.rail:
        z = p.foot + p.c.rail_up
        out.append(_tube(p, "rail", "F", "foot rail", ((xf, yp - half, z), (xf, ys + half, z)), up))
    return out


def _panels(p: Post) -> list[Panel]:
    """Its top, and a plate with four holes under each leg."""
    c, t = p.c, p.plate.thickness
    metal = p.sheet.stuff.kind == "metal"
    top = Panel(f"{c.id}/top", f"{c.code}-T", f"{c.name}, top", c.id, p.sheet,
                rectangle(c.length, c.width), (), Frame((c.x, c.y, p.top - p.sheet.thickness / 2)),
                (0, 90, 180, 270) if metal else (0, 180))  # fmt: skip
    at = PLATE_M / 2 - BOLT_IN_M
    holes = tuple(bolt_hole((u, v), BOLT_M) for u, v in ((-at, -at), (at, -at), (at, at), (-at, at)))
    plates = [
        Panel(f"{c.id}/plate/{n}", f"{c.code}-P{n}", f"{c.name}, foot {n}", c.id, p.plate,
              rectangle(PLATE_M, PLATE_M), holes, Frame((x, y, p.foot + t / 2)), (0, 90, 180, 270))
        for n, (x, y) in enumerate(p.legs, 1)
    ]  # fmt: skip
    return [top, *plates]


def _bought(p: Post) -> list[Bought]:
    c, find, at = p.c, p.site.catalogue.find, (p.c.x, p.c.y, p.foot)
    out: list[Bought] = []
    if c.held != LOOSE:
        count = BOLTS_EACH * len(p.legs)
        for key, code, item, times in (
            ("bolts", "R", "bolt-m6x30", 1), ("nuts", "RN", "nut-m6", 1), ("washers", "RW", "washer-m6", 2),
        ):  # fmt: skip
            entry = find(item)
            out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {key}", c.id, entry,
                              times * count, times * count * entry.mass, at, "fasteners"))  # fmt: skip
    if c.cover != "none":
        out += covered(c, p.site.catalogue, c.cover, c.length * c.width, (c.x, c.y, p.top))
    return out


def _holds(p: Post) -> Finding:
    """How its bolts are pulled where somebody is thrown against its top: within its sizes they hold that.
    Source: docs/trade-rules.md, “Seats”."""
    c = p.c
    if c.held == LOOSE:
        return Finding("LEAN-HOLDS", "mend", c.id, "Nothing holds it",
                       "Whoever leans on it takes it along.", {},
                       "Bolt its feet through the floor.")  # fmt: skip
    deep = c.length - p.s
    pull = THROWN_N * c.height / deep / (2 * BOLTS_EACH)
    values = {"pull": Quantity(pull, "N"), "each": Quantity(EACH_N, "N"), "deep": Quantity(deep, "m")}
    work = Working(
        "pull = force x height / (distance of its legs x bolts of two feet)",
        (Input("force", Quantity(THROWN_N, "N"), "half the weight of 110 kg: working value"),
         Input("height", Quantity(c.height, "m")), Input("legs apart, aft to fore", Quantity(deep, "m")),
         Input("bolts", Quantity(2 * BOLTS_EACH, "count"))),
        Quantity(pull, "N"), "rules of the trade, “Seats”",
    )  # fmt: skip
    text = "Thrown against its top, somebody heavy pulls each bolt with {pull}; over a large washer it " \
           "holds {each}. A screening."  # fmt: skip
    return Finding("LEAN-HOLDS", "fine", c.id, "Its bolts hold", text, values, working=work)


def _suits(p: Post) -> Finding:
    """Whom its height suits."""
    stature = p.c.height / SHARE_OF_STATURE
    values = {"stature": Quantity(stature, "m"), "low": Quantity(LOW_M, "m"), "high": Quantity(HIGH_M, "m")}
    if LOW_M <= stature <= HIGH_M:
        return Finding("LEAN-HEIGHT", "fine", p.c.id, "One leans well at it",
                       "It suits somebody of {stature} best.", values)  # fmt: skip
    word = "low" if stature < LOW_M else "high"
    best = round(SHARE_OF_STATURE * (LOW_M if stature < LOW_M else HIGH_M), 3)
    values["best"] = Quantity(best, "m")
    return Finding("LEAN-HEIGHT", "look", p.c.id, f"It is {word} to lean at",
                   "It suits somebody of {stature}; {low} to {high} are usual.", values,
                   "Make it {best} high.")  # fmt: skip


def _welded(members: list[Member], c: LeaningPost) -> Finding:
    ends = {"ends": Quantity(2 * len(members), "count")}
    return Finding("LEAN-WELDED", "look", c.id, "Its tubes are welded",
                   "{ends} ends. Tack it in the boat, weld it outside: heat, sparks and fuel do not go "
                   "together. By somebody who is qualified for aluminium, to the maker's and local rules.",
                   ends, "Have it welded, or buy one whole.")  # fmt: skip


def _shapes(p: Post) -> tuple[Shape, ...]:
    c = p.c
    (x0, y0), (x1, y1) = c.corners[0], c.corners[2]
    z0, z1, s = p.foot, p.top, p.s
    rail = p.foot + c.rail_up
    side = [((x, c.y, z0), (x, c.y, z1)) for x in (x0 + s / 2, x1 - s / 2)]
    across = [((c.x, y, z0), (c.x, y, z1)) for y in (y0 + s / 2, y1 - s / 2)]
    out = [
        Shape("form-body", ((x0, y0, z1), (x1, y0, z1), (x1, y1, z1), (x0, y1, z1))),
        Shape("form-body", ((x0, c.y, z1 - 2 * s), (x1, c.y, z1 - 2 * s), (x1, c.y, z1), (x0, c.y, z1)),
              view="side"),
        Shape("form-body", ((c.x, y0, z1 - 2 * s), (c.x, y1, z1 - 2 * s), (c.x, y1, z1), (c.x, y0, z1)),
              view="across"),
        *(Shape("form-line", line, view="side", closed=False) for line in side),
        *(Shape("form-line", line, view="across", closed=False) for line in across),
    ]  # fmt: skip
    if c.rail:
        out.append(Shape("form-line", ((x0, c.y, rail), (x1, c.y, rail)), view="side", closed=False))
        out.append(Shape("form-line", ((c.x, y0, rail), (c.x, y1, rail)), view="across", closed=False))
    return tuple(out)


def build(c: LeaningPost, site: Site) -> Built:
    """Tubes, top, feet, bolts and cover of a leaning post. Raises CoreError outside of the boat."""
    p = Post(c, site)
    members, region = _members(p), Polygon(c.corners)
    body = Prism(region, p.foot, p.top)
    # one looks and reaches through between its legs: its tubes and its top are in the way, not its room
    half = p.s / 2
    pieces = [Prism(region, p.frame - half, p.top)]
    pieces += [Prism(box(x - half, y - half, x + half, y + half), p.foot, p.top) for x, y in p.legs]
    bolted = c.held != LOOSE
    return Built(
        c.id, tuple(_panels(p)), tuple(members), tuple(_bought(p)), _shapes(p),
        findings=(_holds(p), _suits(p), _welded(members, c), *rocks(c, site, p.foot)),
        top_m=p.top, region=region,
        solids=(Solid(c.id, "body", plain(c.name), body, pieces=tuple(pieces), lent=True),),
        foot=None if c.on else Foot(body, ()),
        bolts=Bolts(c.corners, p.foot, c.at) if bolted else None,
        marked=(Marked(p.foot, corners=c.corners),) if bolted else (),
    )  # fmt: skip


class LeaningPostKind(CrateKind[LeaningPost]):
    key, title = "leaning_post", "Leaning post"
    choices = LeaningPost
    letter, stem = "L", "post"
    first_size, share, side = (0.36, 0.80, 0.86), 0.36, 0.0
    entries = (
        Entry("leaning_post", "Leaning post", 2, "one steers standing against it, feet on its rail",
              "seat lean helm tube frame standing"),
    )  # fmt: skip
    about = (
        "A frame of square tube with a top to lean on and a foot rail, on four feet that are bolted "
        "through the floor. Whom its height suits is told, and how its bolts are pulled by somebody thrown "
        "against it. Its tubes are welded outside of the boat by somebody who is qualified."
    )

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Behind the wheel, where there is one."""
        if placing.at is None:
            placing.at = behind_wheel(placing, self.first_size)
        return super().first(entry, placing)

    def idle(self, c: LeaningPost, catalogue: Any) -> frozenset[str]:
        return frozenset() if c.rail else frozenset(["rail_up"])

    def build(self, c: LeaningPost, site: Site) -> Built:
        return build(c, site)


KIND = LeaningPostKind()
