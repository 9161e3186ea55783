"""A door in the upright face of a deck: it laps its hole, or lies flush on a frame of flats behind it."""

from __future__ import annotations

from functools import lru_cache

from shapely import box
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import FINE_M, Site
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.door import swung
from stirrup.core.fittings.joints import Joint, held, leaf_style, mean_place
from stirrup.core.fittings.latching import SCREWS_IN_LATCH, latch_grip, latch_place
from stirrup.core.kinds.face_door.bin import bin_of
from stirrup.core.kinds.face_door.choices import LANDING_M, FaceDoor
from stirrup.core.kinds.face_door.hung import (
    CORNER_M,
    FACE,
    GAP_M,
    LAP_M,
    PITCH_M,
    RIM_M,
    Hung,
    hang,
    hole_of,
    latch_m,
)
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Frame, Member, Panel, Ring, panel_rings
from stirrup.core.space.room import Room, sector
from stirrup.core.space.rounded import rounded
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {"DOOR-RIM": "face left round a door", "DOOR-NEAR": "face left between two doors"},
    acceptable=True,
)


@lru_cache(512)
def _rings(size: Point2, corner: float, latch: Point2, radius: float) -> tuple[Ring, tuple[Ring, ...]]:
    """Outline and hole of a door about its middle: the same wherever its face is moved."""
    hole = FlatPoint(latch).buffer(radius, quad_segs=16)
    return panel_rings(rounded(0.0, 0.0, *size, corner).difference(hole))


def _panel(h: Hung) -> Panel:
    """The door with the hole of its latch, about its middle."""
    c, (a, b) = h.c, h.toward
    corner = CORNER_M + (LAP_M if c.lies != "flush" else -GAP_M)
    far = h.reach / 2 - latch_m(h)
    outline, holes = _rings(h.size, corner, (-a * far, -b * far), h.latch.body / 2)
    turns = (0, 90, 180, 270) if h.sheet.stuff.kind == "metal" else (0, 180)
    return Panel(f"{c.id}/door", f"{c.code}-D", f"{c.name}, door", c.id, h.sheet, outline, holes,
                 Frame(h.at, (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), turns)  # fmt: skip


def _flats(h: Hung) -> list[Member]:
    """Behind the face round the hole of a flush door: the upright ones between the level ones."""
    c = h.c
    if c.lies != "flush":
        return []
    back = h.back
    inside = h.flat.a / 2 - LANDING_M  # their middles stand off the hole's edge by this
    wide, high = c.clear_width + 2 * c.beside, c.clear_height + 2 * c.beside
    level = wide + 2 * (h.flat.a - LANDING_M)
    upright = high - 2 * LANDING_M
    out = []
    rows = (("top", (0.0, 1.0), level), ("bottom", (0.0, -1.0), level), ("port", (1.0, 0.0), upright),
            ("starboard", (-1.0, 0.0), upright))  # fmt: skip
    for word, (a, b), long in rows:
        y, z = c.y + a * (wide / 2 + inside), c.z + b * (high / 2 + inside)
        du, dv = (long / 2 * abs(b), long / 2 * abs(a))
        ends = ((back, y - du, z - dv), (back, y + du, z + dv))
        across: Point = (0.0, abs(a), abs(b))
        bodies = flat_body(ends, h.flat.a, h.flat.t, across, (-h.out, 0.0, 0.0))
        code, name = f"{c.code}-X{word[0].upper()}", f"{c.name}, flat {word}"
        out.append(Member(f"{c.id}/flat/{word}", code, name, c.id, h.flat, long, ends, bodies=bodies,
                          role="frame"))  # fmt: skip
    return out


def _bought(h: Hung, flats: list[Member]) -> tuple[list[Bought], list[Finding]]:
    c, catalogue = h.c, h.site.catalogue
    hinge, gasket = catalogue.plain("hinge-piano"), catalogue.plain("gasket-12")
    around = 2 * (h.size[0] + h.size[1])
    out = [
        Bought(f"{c.id}/latch", f"{c.code}-K", f"{c.name}, latch", c.id, h.latch, 1, h.latch.mass, h.at),
        Bought(f"{c.id}/hinge", f"{c.code}-H", f"{c.name}, hinge", c.id, hinge, h.run, h.run * hinge.mass,
               h.hinge),
        Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket", c.id, gasket, around,
               around * gasket.mass, h.at),
    ]  # fmt: skip
    holes = 2 * count_at_pitch(h.run, hinge.pitch) + SCREWS_IN_LATCH
    joints = [Joint("hinge", "Hinge and latch to door", h.hinge, leaf_style(h.sheet),
                    (("sheet", h.sheet.thickness), ("hinge", hinge.thickness)), holes)]  # fmt: skip
    if flats:
        rows = sum(count_at_pitch(m.length, PITCH_M) for m in flats)
        layers = (("face", h.face.sheet.thickness), ("flat", h.flat.t))
        metal = h.face.sheet.stuff.kind == "metal"
        joints.append(Joint("flats", "Flats to face", mean_place(flats), "rivet" if metal else "screw",
                            layers, rows))  # fmt: skip
    found = [held(c, joint, catalogue) for joint in joints]
    return [*out, *(p for parts, _ in found for p in parts)], [f for _, f in found]


def _rim(h: Hung) -> Finding:
    """How much of its face is left round its hole."""
    c, hole = h.c, hole_of(h.c)
    around = Polygon([h.face.frame.at(u, v)[1:] for u, v in h.face.outline])
    inside = around.covers(hole)
    left = float(around.exterior.distance(hole)) if inside else 0.0
    values = {"left": Quantity(left, "m"), "least": Quantity(RIM_M, "m")}
    text = "{left} of the face are left round its hole; {least} are needed."
    if left >= RIM_M - 1e-9:
        return Finding("DOOR-RIM", "fine", c.id, "Enough face left round it", text, values)
    fixes = []
    room = around.buffer(-RIM_M, join_style="mitre")
    _, z0, _, z1 = room.bounds if not room.is_empty else (0.0, 0.0, 0.0, 0.0)
    high = c.clear_height + 2 * c.beside
    if z1 - z0 >= high:
        z = min(max(c.z, z0 + high / 2), z1 - high / 2)
        if abs(z - c.z) > FINE_M:
            values["z"] = Quantity(z, "m")
            fixes.append(Fix("Put its middle at {z}", path=("fittings", c.id, "z"), value=round(z, 4)))
    title = "Little face left" if inside else "Its hole runs out of the face"
    return Finding("DOOR-RIM", "mend", c.id, title, text, values, "Make it smaller, or move it inward.",
                   fixes=tuple(fixes))  # fmt: skip


def _near(h: Hung) -> list[Finding]:
    """What of the face is left between its hole and the next door's."""
    c, (key, _) = h.c, FACE[h.c.face]
    others = [o for o in h.site.walled if o.wall == key and o.guest != c.id]
    if not others:
        return []
    hole = hole_of(c)
    near = [(float(hole.distance(o.cutout)), o) for o in others]
    left, other = min(near, key=lambda pair: (pair[0], pair[1].guest))
    values = {"left": Quantity(left, "m"), "least": Quantity(RIM_M, "m")}
    name = plain(other.code)
    if left >= RIM_M - 1e-9:
        return [Finding("DOOR-NEAR", "fine", c.id, "Enough face between it and the next door",
                        f"{{left}} are left to {name}; {{least}} are needed.", values)]  # fmt: skip
    return [Finding("DOOR-NEAR", "stop" if left <= 0 else "mend", c.id,
                    "Two doors in one place" if left <= 0 else "Two doors are close",
                    f"{{left}} of the face are left between it and {name}; {{least}} are needed.", values,
                    "Move one of them, or make them smaller.", other=other.guest)]  # fmt: skip


def _swing(h: Hung) -> Prism | Swept:
    """What it sweeps, a quarter turn out."""
    (_, _, z), (wide, high) = h.at, h.size
    if h.upright:
        away = -h.toward[0]
        return swung((h.outer, h.hinge[1]), (0.0, away), (h.out, 0.0), wide, (z - high / 2, z + high / 2))
    start, end = (0.0, 90.0) if h.c.hinge == "bottom" else (-90.0, 0.0)
    return sector(h.hinge, (0.0, 1.0), (h.out, 0.0), wide / 2, high, start, end)


def _shapes(h: Hung) -> tuple[Shape, ...]:
    """From above a line at its face, from the side too, across its outline, hinge and latch."""
    (x, y, z), (wide, high) = h.at, h.size
    x = h.outer
    a, b = wide / 2, high / 2
    ring = ((x, y - a, z - b), (x, y + a, z - b), (x, y + a, z + b), (x, y - a, z + b))
    (hx, hy, hz), (ta, tb) = h.hinge, h.toward
    du, dv = abs(tb) * h.run / 2, abs(ta) * h.run / 2
    far = h.reach / 2 - latch_m(h)
    spot = (x, y - ta * far, z - tb * far)
    dot = tuple((x, spot[1] + p, spot[2] + q) for p, q in ((-0.02, 0), (0, -0.02), (0.02, 0), (0, 0.02)))
    return (
        Shape("form-hinge", ((x, y - a, z), (x, y + a, z)), closed=False),
        Shape("form-hinge", ((x, y, z - b), (x, y, z + b)), view="side", closed=False),
        Shape("form-line", ring, view="across"),
        Shape("form-hinge", ((hx, hy - du, hz - dv), (hx, hy + du, hz + dv)), view="across", closed=False),
        Shape("form-line", dot, view="across"),
    )


def build(c: FaceDoor, site: Site) -> Built:
    """Door, flats, hinge, latch, gasket and the box behind it. Raises CoreError without a face, and for a
    box that cannot be folded."""
    h = hang(c, site)
    panel, flats, kept = _panel(h), _flats(h), bin_of(h)
    bought, told = _bought(h, flats)
    landing = LANDING_M if c.lies == "flush" else LAP_M
    gap = GAP_M if c.lies == "flush" else 0.0
    findings = [
        _rim(h), *_near(h),
        latch_grip(c.id, "The door's sheets", [("door", h.sheet.thickness)], h.latch, site.catalogue),
        latch_place(c.id, "door", (landing, "of this sort of door"), gap, h.latch, latch_m(h)),
        *told, *kept.findings,
    ]  # fmt: skip
    name, half = plain(c.name), h.sheet.thickness / 2
    places = [panel.frame.at(u, v) for u, v in panel.outline]
    slab = Swept(tuple((px + s * half, py, pz) for s in (-1, 1) for px, py, pz in places))
    room = Room(c.id, "door swings", _swing(h), name=name, hosts=(c.deck,))
    (y, z), (wide, high) = (c.y, c.z), h.size
    handles = (
        Handle("y", "y", ((h.outer, y, z - high / 2), (h.outer, y, z + high / 2)), "door"),
        Handle("z", "z", ((h.outer, y - wide / 2, z), (h.outer, y + wide / 2, z)), "door"),
    )
    return Built(
        c.id, (panel, *kept.panels), tuple(flats), (*bought, *kept.bought),
        (*_shapes(h), *kept.shapes), handles, tuple(findings), z + high / 2,
        box(h.at[0] - half, y - wide / 2, h.at[0] + half, y + wide / 2),
        solids=(Solid(c.id, "lid", name, slab), *kept.solids), rooms=(room,), hold=kept.hold,
        foot=kept.foot,
    )  # fmt: skip
