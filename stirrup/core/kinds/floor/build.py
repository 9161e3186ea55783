"""A floor built: skin, bearers, angles round openings, what holds it, and what it gives."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from shapely import box
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.contract.gives import Built, Floor, Framed, Marked, Opening, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.joints import SCREW_BITE_M, Joint, held, mean_place
from stirrup.core.fittings.landing import lip_finding
from stirrup.core.fittings.level_kind import level_handles
from stirrup.core.fittings.skin import Batten, joint_finding, pieces
from stirrup.core.fittings.underfoot import Skin, bays_of, underfoot
from stirrup.core.kinds.floor.bearers import bearer_panels, doubler_panels
from stirrup.core.kinds.floor.choices import FloorChoices
from stirrup.core.kinds.floor.laid_out import STRADDLE_M, LaidOut, lay_out
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Frame, Member, Panel, panel_rings
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare("layout", {"FLOOR-GIVES": "how far a floor gives"}, acceptable=True, pace="behind")
declare("layout", {"FLOOR-BEARS": "what a floor stands on"},
        acceptable=True)  # fmt: skip

OVER_JOINT_M = STRADDLE_M + 0.03  # a bearer this near a joint is that under its edge
DRAWN_M = 0.02  # thickness as drawn from the side
INTO_M = 0.012  # a screw goes at least this far into a bearer's edge
BUTTONS, BUTTON = 4, "turn-button"  # for each piece that lifts out
BEAD_M2 = 2 * 0.0000077  # of adhesive along a bearer's foot: fillets of 6 mm, (1 - π/4) r² on both sides
CARTRIDGE_M3 = 0.00029
DRY = 0.9  # of a cartridge's contents stays: the rest is nozzle and waste


def _skins(floor: LaidOut) -> list[Panel]:
    c, out = floor.choices, []
    frame = Frame((0.0, 0.0, c.height - floor.skin.thickness / 2))
    metal = floor.skin.stuff.kind == "metal"
    for number, shape in pieces(floor.ground, floor.parted):
        outline, holes = panel_rings(shape)
        label, name = f"{c.code}-S{number}", f"{c.name}, skin {number}"
        turns = (0, 90, 180, 270) if metal else (0, 180)
        out.append(
            Panel(f"{c.id}/skin/{number}", label, name, c.id, floor.skin, outline, holes, frame, turns)
        )
    return out


def _angles(floor: LaidOut) -> list[Member]:
    """Round each opening an angle on the bearer or beside it: lid and skin land on its flange."""
    half, out = floor.angle.b / 2, []
    for o in floor.site.openings:
        x0, y0, x1, y1 = o.frame
        # the athwart ones between the lengthwise ones' legs, all four with their flanges inward
        out += [
            _angle(floor, o, "aft", (x0, y0 + half, y1 - half), True),
            _angle(floor, o, "fore", (x1, y0 + half, y1 - half), True),
            _angle(floor, o, "port", (y1, x0 - half, x1 + half), False),
            _angle(floor, o, "starboard", (y0, x0 - half, x1 + half), False),
        ]
    return out


def _angle(
    floor: LaidOut, o: Opening, side: str, where: tuple[float, float, float], athwart: bool
) -> Member:
    """One angle: where its middle lies, from where to where; its leg on the edge away from the opening."""
    c, source, under = floor.choices, floor.angle, floor.under
    at, low, high = where
    a, b, t, z = source.a, source.b, source.t, under - source.a / 2
    outer = at + b / 2 if side in ("fore", "port") else at - b / 2
    leg = (outer - t, outer) if side in ("fore", "port") else (outer, outer + t)
    flange = (at - b / 2, at + b / 2)

    def body(edges: tuple[float, float], z0: float, z1: float) -> tuple[Point, ...]:
        spans = (edges, (low, high)) if athwart else ((low, high), edges)
        return tuple((x, y, h) for x in spans[0] for y in spans[1] for h in (z0, z1))

    ends = ((at, high), (at, low)) if athwart else ((low, at), (high, at))
    path = tuple((x, y, z) for x, y in ends)
    return Member(
        f"{c.id}/angle/{o.guest}/{side}", f"{c.code}-{o.code}{side[0].upper()}",
        f"{c.name}, {o.code} angle {side}", c.id, source, high - low, path,
        bodies=(body(leg, under - a, under - t), body(flange, under - t, under)),
        ends_at=("port end", "starboard end") if athwart else ("aft end", "fore end"),
        role="cross" if athwart else "",
    )  # fmt: skip


def _joints(
    floor: LaidOut, skins: Sequence[Panel], bearers: Sequence[Panel], angles: Sequence[Member]
) -> list[Joint]:
    """Skin to bearers unless it lifts out, and angles to what they lie on."""
    c, out = floor.choices, []
    tops = [p.polygon.bounds[2] - p.polygon.bounds[0] for p in bearers]
    if c.fixed == "screwed down":
        rows = sum(count_at_pitch(long, c.fastener_pitch) for long in tops)
        layers = (("skin", floor.skin.thickness), ("into the bearer", INTO_M))
        out.append(Joint("skin", "Skin to bearers", mean_place(list(skins)), "screw", layers, rows))
    if angles:
        rows = sum(count_at_pitch(m.length, c.fastener_pitch) for m in angles)
        layers = (("angle", floor.angle.t), ("into the bearer", INTO_M - SCREW_BITE_M))
        out.append(Joint("angle", "Angles to bearers", mean_place(list(angles)), "screw", layers, rows))
    return out


def _bought(
    floor: LaidOut, skins: Sequence[Panel], bearers: Sequence[Panel], angles: Sequence[Member]
) -> tuple[list[Bought], list[Finding]]:
    c, catalogue = floor.choices, floor.site.catalogue
    rows = [held(c, joint, catalogue) for joint in _joints(floor, skins, bearers, angles)]
    out = [p for parts, _ in rows for p in parts]
    if bearers:
        out.append(_bed(floor, bearers))
    if c.fixed == "lifts out":
        entry, count = catalogue.plain(BUTTON), BUTTONS * len(skins)
        out.append(Bought(f"{c.id}/buttons", f"{c.code}-Q", f"{c.name}, turn buttons", c.id, entry, count,
                          count * entry.mass, mean_place(list(skins))))  # fmt: skip
    if c.cover != "none":
        x, y, _ = mean_place(skins)
        area = sum(p.polygon.area for p in skins)
        out += covered(c, catalogue, c.cover, area, (x, y, c.height))
    return out, [f for _, f in rows]


def _bed(floor: LaidOut, bearers: Sequence[Panel]) -> Bought:
    """Adhesive along the bearers' feet: no holes through the bottom."""
    c, entry = floor.choices, floor.site.catalogue.plain("adhesive-ms")
    run = sum(p.polygon.length - (p.polygon.bounds[2] - p.polygon.bounds[0]) for p in bearers)
    count = run * BEAD_M2 / CARTRIDGE_M3
    return Bought(f"{c.id}/bed", f"{c.code}-G", f"{c.name}, adhesive under bearers", c.id, entry, count,
                  count * entry.mass * DRY, mean_place(list(bearers)), "consumables")  # fmt: skip


def _later(floor: LaidOut, skins: Sequence[Panel]) -> list[Finding]:
    """How firm it is, and whether its skin comes into the boat."""
    return [*_gives(floor), *lip_finding(floor.choices.id, skins, floor.site)]


def _gives(floor: LaidOut) -> list[Finding]:
    """How far it gives under somebody in the bay where it gives most."""
    c, stations = floor.choices, sorted(b.x for b in floor.bearers)
    skin = Skin(c.id, floor.skin, c.fixed == "screwed down", c.spacing)
    breadth = float(floor.outline.bounds[3] - floor.outline.bounds[1])
    ends = [x for x in stations if any(abs(x - p) < OVER_JOINT_M for p in floor.parted.athwart)]
    bays = bays_of(stations, [breadth] * (len(stations) - 1), ends)
    told = underfoot(skin, bays, floor.site.catalogue)
    if told is None:
        return []
    return [Finding("FLOOR-GIVES", told.level, c.id, told.title, told.text, told.values, told.remedy,
                    told.working, fixes=told.fixes)]  # fmt: skip


def _bears(floor: LaidOut, bearers: Sequence[Panel]) -> list[Finding]:
    """Whether each bearer has room to stand; where the bottom is too near there is nothing under it."""
    made = {p.frame.origin[0] for p in bearers}
    without = [b for b in floor.bearers if b.x not in made]
    if not without:
        return [Finding("FLOOR-BEARS", "fine", floor.choices.id, "All of it stands on bearers",
                        "{count} bearers stand on the bottom.",
                        {"count": Quantity(len(floor.bearers), "count")})]  # fmt: skip
    return [Finding("FLOOR-BEARS", "look", floor.choices.id, "The bottom is too near for a bearer",
                    "At {at} from the transom there is no room for one: the skin lies on the bottom there.",
                    {"at": Quantity(without[0].x, "m")},
                    "Raise the floor a little, or bed it on the bottom there.")]  # fmt: skip


def _shapes(floor: LaidOut, skins: Sequence[Panel], bearers: Sequence[Panel]) -> tuple[Shape, ...]:
    z, hatching = floor.choices.height, floor.skin.stuff.kind
    out = [Shape("deck", tuple((x, y, z) for x, y in p.outline), hatching) for p in skins]
    out += [Shape("opening", tuple((x, y, z) for x, y in hole)) for p in skins for hole in p.holes]
    for p in skins:
        low, high = min(u for u, _ in p.outline), max(u for u, _ in p.outline)
        side = ((low, 0.0, z), (high, 0.0, z), (high, 0.0, z - DRAWN_M), (low, 0.0, z - DRAWN_M))
        out.append(Shape("deck-side", side, view="side", thin=True))
        out.append(Shape("deck-line", side[:2], view="far", closed=False))
    for p in bearers:
        x, foot, head = p.frame.origin[0], p.polygon.bounds[1], p.polygon.bounds[3]
        out.append(Shape("face-side", ((x, 0.0, foot), (x, 0.0, head)), view="side", closed=False))
    return tuple(out)


def _solid(floor: LaidOut, uprights: Sequence[Panel]) -> Solid:
    """Skin less its openings, and its bearers."""
    c = floor.choices
    holes = [box(*o.cutout.bounds) for o in floor.site.openings]
    flat = floor.outline.difference(unary_union(holes)) if holes else floor.outline
    parts = [g for g in getattr(flat, "geoms", [flat]) if isinstance(g, Polygon) and not g.is_empty]
    low = min((p.polygon.bounds[1] for p in uprights), default=floor.under)
    around = Prism(parts[0] if len(parts) == 1 else floor.outline, low, c.height)
    skins = [Prism(part, floor.under, c.height) for part in parts]
    half = floor.bearer.thickness / 2
    stand = []
    for p in uprights:
        places = [p.frame.at(u, v) for u, v in p.outline]
        stand.append(Swept(tuple((x + side * half, y, z) for side in (-1, 1) for x, y, z in places)))
    return Solid(c.id, "floor", plain(c.name), around, pieces=(*skins, *stand))


def build(c: FloorChoices, site: Site) -> Built:
    """Skin, bearers, strips under joints, angles round openings, and what holds them.

    Outline: as a deck's. Source: docs/trade-rules.md, “Floors”. Raises CoreError where it meets no hull
    or its skin cannot be cut from its sheets.
    """
    floor = lay_out(c, site)
    skins, bearers, strips = _skins(floor), bearer_panels(floor), doubler_panels(floor)
    angles = _angles(floor)
    bought, findings = _bought(floor, skins, bearers, angles)
    there = [Batten(p.frame.origin[1], p.frame.origin[0] + p.polygon.bounds[0],
                    p.frame.origin[0] + p.polygon.bounds[2]) for p in strips]  # fmt: skip
    findings += joint_finding(c.id, floor.ground, floor.parted, there)
    findings += _bears(floor, bearers)
    aft, fore = floor.ends
    return Built(
        c.id, (*skins, *bearers, *strips), tuple(angles), tuple(bought), _shapes(floor, skins, bearers),
        level_handles(floor.outline, aft, fore, c.height), tuple(findings), c.height, floor.outline,
        solids=(_solid(floor, bearers),),
        floors=(Floor(floor.outline, c.height, floor.under),),
        framed=tuple(Framed(o.guest, (0.0, 0.0, 0.0, 0.0)) for o in site.openings),
        marked=(Marked(c.height, floor.outline),),
        later=partial(_later, floor, skins),
    )  # fmt: skip
