"""Engine beds built: the pair of cores with what bonds them, angles or pads at the feet, bolts."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import TypeVar

from shapely.geometry import Polygon

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.gives import Built, Handle, Marked, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, plain
from stirrup.core.fittings.angles import angle_bodies
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.girder import Run, dam_of, run_of
from stirrup.core.fittings.girder_made import bonded, layers_of, notched, seams_of, shapes_of, solid_of
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.through_bolts import shortest_bolt
from stirrup.core.kinds.engine_bed.choices import ACROSS, BESIDE_FOOT_M, FOOT_M, EngineBed
from stirrup.core.kinds.engine_bed.loads import findings_of
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.record import dataclass
from stirrup.core.space.solid import Solid

SIDES = (("port", "P", 1.0), ("starboard", "S", -1.0))
FLANGE_M = 0.012  # of a foot's own flange under its nut: working value
SIDE_BOLTS, FOOT_BOLTS = 2, 2  # through the bed at each angle, and through each foot
UP: Point = (0.0, 0.0, 1.0)

P = TypeVar("P", Panel, Bought)


@dataclass(frozen=True)
class Beds:
    """Both beds in their boat: port first."""

    c: EngineBed
    site: Site
    engine: ItemBase
    sheet: Sheet
    angle: Section
    runs: tuple[Run, Run]

    def top_at(self, x: float) -> float:
        """Height of their tops where they are not tapered [m]."""
        return self.c.top + math.tan(math.radians(self.c.rises)) * (x - self.c.aft)

    @property
    def on_top(self) -> float:
        """Of the angle's flange between bed and foot [m]."""
        return self.angle.t if self.c.held == "bolts through an angle" else 0.0


def beds_of(c: EngineBed, site: Site) -> Beds:
    """Raises CoreError without an engine, for one that hangs outside, and where there is no room."""
    engine = site.host_choices
    if not isinstance(engine, ItemBase):
        raise CoreError("its engine is not in the plan", f"fittings.{c.id}.engine")
    if engine.form != "motor":
        raise CoreError("that one hangs outside: beds are for an engine that stands in the boat",
                        f"fittings.{c.id}.engine")  # fmt: skip
    sheet = site.catalogue.sheet(c.core)
    if c.layers * sheet.thickness > c.across - 0.05:
        raise CoreError(f"read {c.across:g} m from foot to foot across; the beds are "
                        f"{c.layers * sheet.thickness:.3f} m thick "
                        f"each", f"fittings.{c.id}.across")  # fmt: skip
    one, other = (run_of(c.one(hand), site.surface, c.layers * sheet.thickness) for _, _, hand in SIDES)
    return Beds(c, site, engine, sheet, site.catalogue.section(c.angle), (one, other))


def _sided(part: P, c: EngineBed, side: str, letter: str) -> P:
    """A part of one bed, told apart from that of the other."""
    key, label = part.key.split("/", 1)[1], part.label.split("-", 1)[1]
    name = f"{c.name}, {side} bed,{part.name.removeprefix(c.name + ',')}"
    return replace(part, key=f"{c.id}/{side}/{key}", label=f"{c.code}-{letter}{label}", name=name)


def _relieved(b: Beds, outline: Polygon) -> Polygon:
    """Less the relief in its top."""
    c = b.c
    if c.relief is None:
        return largest(outline)
    return notched(outline, (c.relief - c.aft, b.top_at(c.relief)), c.relief_long, c.relief_deep)


def _angles(b: Beds) -> list[Member]:
    """At each foot one, its leg down the inner side of the bed, its flange out over the bed's top."""
    c, a = b.c, b.angle
    if c.held != "bolts through an angle":
        return []
    half, out = FOOT_M[0] / 2 + BESIDE_FOOT_M, []
    for run, (side, letter, hand) in zip(b.runs, SIDES, strict=True):
        inner = c.y + hand * (c.across / 2 - run.thick / 2)
        for n, (x, word) in enumerate(zip(c.places, ("aft", "fore"), strict=True), 1):
            heel = tuple((x + s * half, inner - hand * a.t, b.top_at(x + s * half) + a.t) for s in (-1, 1))
            way: Point = (0.0, hand, 0.0)
            path = (heel[0], heel[1])
            bodies = partial(angle_bodies, a, path, (0.0, 0.0, -1.0), way)
            out.append(Member(f"{c.id}/angle/{side}/{n}", f"{c.code}-{letter}A{n}",
                              f"{c.name}, angle of the {side} {word} foot", c.id, a, math.dist(*path), path,
                              role="frame", late_bodies=bodies,
                              ends_at=("aft end", "fore end")))  # fmt: skip
    return out


def _fastened(b: Beds) -> tuple[list[Bought], list[Finding]]:
    """What holds the feet, and the angles to the beds."""
    c, stock = b.c, b.site.catalogue
    at: Point = (c.feet, c.y, b.top_at(c.feet))
    feet = 4 * FOOT_BOLTS
    rows: list[tuple[str, str, str, str, float]] = []
    told = []
    size = c.bolt.lower()

    def bolted(key: str, code: str, word: str, grip: float, count: int) -> None:
        bolt = shortest_bolt(stock, ACROSS[c.bolt], grip)
        if bolt is None:
            told.append(no_fastener(c.id, word, grip))
            return
        rows.extend(((key, code, word, bolt.id, count), (f"{key}-nuts", f"{code}N", f"{word}, nuts",
                     f"nut-{size}", count), (f"{key}-washers", f"{code}W", f"{word}, washers",
                     f"washer-{size}", 2 * count)))  # fmt: skip

    if c.held == "coach screws":
        rows.append(("screws", "R", "coach screws of its feet", f"coach-{size}x80", feet))
    else:
        bolted("feet", "R", "bolts of its feet", FLANGE_M + c.shims + b.angle.t, feet)
        bolted("sides", "Q", "bolts through the beds", b.runs[0].thick + b.angle.t, 4 * SIDE_BOLTS)
    if c.shims:
        rows.append(("shims", "Z", "shims, a set for each foot", "shim-set", 4))
    out = []
    for key, code, word, item, count in rows:
        entry = stock.find(item)
        group = "hardware" if key == "shims" else "fasteners"
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                          count * entry.mass, at, group))  # type: ignore[arg-type]  # fmt: skip
    return out, told


def _solids(b: Beds) -> tuple[Solid, ...]:
    """Each bed for itself: what stands between them is in nothing's way."""
    out = []
    for run, (side, _, _) in zip(b.runs, SIDES, strict=True):
        whole = solid_of(run)
        out.append(replace(whole, id=b.c.id, name=f"the {side} bed of {plain(b.c.name)}"))
    return tuple(out)


def _shapes(b: Beds) -> tuple[Shape, ...]:
    """Both beds; the feet on them."""
    c, out = b.c, [s for run in b.runs for s in shapes_of(run)]
    u, v = FOOT_M[0] / 2, FOOT_M[1] / 2
    for x in c.places:
        for _, _, hand in SIDES:
            y, z = c.y + hand * c.across / 2, b.top_at(x)
            ring = tuple((x + s * u, y + t * v, z) for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1)))
            out.append(Shape("form-line", ring))
    return tuple(out)


def _marked(runs: Sequence[Run], c: EngineBed) -> tuple[Marked, ...]:
    """Where each stands on the bottom."""
    out = []
    for run, (side, _, _) in zip(runs, SIDES, strict=True):
        half, last = run.thick / 2, len(run.x) - 1
        ring = [run.at(k, s * half, 0.0)[:2] for k, s in ((0, -1), (last, -1), (last, 1), (0, 1))]
        out.append(Marked(float(run.bottom[:, 1].min()), corners=tuple(ring), what=f", {side} bed"))
    return tuple(out)


def build(c: EngineBed, site: Site) -> Built:
    """Raises CoreError without an engine that stands in the boat, and where there is no room."""
    b = beds_of(c, site)
    panels: list[Panel] = []
    bought: list[Bought] = []
    for run, (side, letter, _) in zip(b.runs, SIDES, strict=True):
        layers = layers_of(run, b.sheet, partial(_relieved, b))
        panels += [_sided(p, c, side, letter) for p in layers]
        bought += [_sided(p, c, side, letter) for p in bonded(run, b.sheet, site, layers)]
    angles = _angles(b)
    fastened, told = _fastened(b)
    run, last = b.runs[0], len(b.runs[0].x) - 1
    tops = tuple((c.aft if k == 0 else c.fore, c.y, float(run.top[k])) for k in (0, last))

    def end(k: int) -> tuple[Point, Point]:
        x, z = (c.aft if k == 0 else c.fore), float(run.top[k])
        return (x, c.y + c.across / 2, z), (x, c.y - c.across / 2, z)

    return Built(
        c.id, tuple(panels), tuple(angles), (*bought, *fastened), _shapes(b),
        (Handle("aft", "x", end(0), "aft ends", "aft"), Handle("fore", "x", end(last), "fore ends", "fore"),
         Handle("top", "z", (tops[0], tops[1]), "top", "top")),
        tuple(told), float(run.top.max()), solids=_solids(b), dams=tuple(map(dam_of, b.runs)),
        marked=_marked(b.runs, c),
        later=partial(findings_of, b), joined="weld" if c.joined == "welded" else "laminate",
        seams=tuple(s for run, (side, letter, _) in zip(b.runs, SIDES, strict=True)
                    for s in seams_of(run, f"{c.code}-{letter}", f"{side} bed along the bottom")),
    )  # fmt: skip
