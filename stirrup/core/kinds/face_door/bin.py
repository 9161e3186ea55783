"""The box behind a door: folded of one sheet, its flanges riveted to the back of the face."""

from __future__ import annotations

from shapely import box

from stirrup.core.contract.gives import Foot, Hold, Shape
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Quantity, declare, plain
from stirrup.core.fittings.folded_tray import Tray, folded, outer_size
from stirrup.core.fittings.joints import Joint, held
from stirrup.core.kinds.face_door.hung import PITCH_M, Hung
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Panel
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"BOX-FOLDS": "a box folded of one sheet"}, acceptable=True)

FLANGE_M = 0.025  # from the inner face of a wall: working value
TAB_RIVETS = 2  # at the least in each of its four corners


@dataclass(frozen=True)
class Bin:
    """All that a box behind a door is; nothing of it where there is none."""

    panels: tuple[Panel, ...] = ()
    bought: tuple[Bought, ...] = ()
    findings: tuple[Finding, ...] = ()
    solids: tuple[Solid, ...] = ()
    shapes: tuple[Shape, ...] = ()
    hold: Hold | None = None
    foot: Foot | None = None


def bin_of(h: Hung) -> Bin:
    """The box behind a door as its clear opening wide and high. Raises CoreError where its sheet does not
    fold."""
    c = h.c
    if not c.deep:
        return Bin()
    sheet = h.site.catalogue.sheet(c.box_of)
    size = outer_size((c.clear_width, c.clear_height, c.deep), sheet.thickness)
    head = h.back - (h.out * h.flat.t if c.lies == "flush" else 0.0)
    at: Point = (head - h.out * size[2], c.y, c.z)
    tray = Tray(c, sheet, size, FLANGE_M, at, (0.0, h.out, 0.0), (0.0, 0.0, 1.0))
    panel = folded(tray, "box", "B", "box behind it")
    bought, told = _riveted(h, tray)
    solid = _solid(h, tray)
    middle: Point = (head - h.out * c.deep / 2, c.y, c.z)
    return Bin(
        (panel,), tuple(bought), (_folds(h, tray, panel), *told), (solid,), _shapes(tray),
        Hold(middle, (tray.inner[2], tray.inner[0], tray.inner[1]), wall=0.0), _foot(solid),
    )  # fmt: skip


def _foot(solid: Solid) -> Foot | None:
    """Its corners: whether all of it is inside of the hull is looked at as of what stands there."""
    if not isinstance(solid.shape, Prism):
        return None
    x0, y0, _, x1, y1, _ = solid.shape.bounds
    return Foot(solid.shape, ((x0, y0), (x1, y0), (x1, y1), (x0, y1)))


def _riveted(h: Hung, tray: Tray) -> tuple[list[Bought], list[Finding]]:
    """Its flanges to the face, through the flats of a flush door; its tabs to its walls."""
    c, metal = h.c, h.face.sheet.stuff.kind == "metal"
    flats = (("flat", h.flat.t),) if c.lies == "flush" else ()
    along = 2 * (count_at_pitch(2 * tray.long, PITCH_M) + count_at_pitch(2 * tray.short, PITCH_M))
    foot, head = tray.tab
    corners = 4 * max(TAB_RIVETS, count_at_pitch(head - foot, PITCH_M))
    joints = (
        Joint("box", "Box to face", h.at, "rivet" if metal else "screw",
              (("face", h.face.sheet.thickness), *flats, ("flange", tray.t)), along),
        Joint("corners", "Corners of its box", tray.place(0.0, 0.0, tray.size[2] / 2), "rivet",
              (("wall", tray.t), ("tab", tray.t)), corners),
    )  # fmt: skip
    rows = [held(c, joint, h.site.catalogue) for joint in joints]
    return [p for parts, _ in rows for p in parts], [f for _, f in rows]


def _folds(h: Hung, tray: Tray, panel: Panel) -> Finding:
    """Whether its blank comes out of a sheet."""
    u0, v0, u1, v1 = panel.polygon.bounds
    long, wide = max(u1 - u0, v1 - v0), min(u1 - u0, v1 - v0)
    sheet = tray.sheet
    values = {
        "long": Quantity(long, "m"), "wide": Quantity(wide, "m"),
        "radius": Quantity(tray.radius, "m", True), "bends": Quantity(len(panel.bends), "count"),
    }  # fmt: skip
    text = ("Laid flat it is {long} by {wide}, with {bends} bends about an inside radius of {radius}. A "
            "brake with fingers takes its walls; without one they are separate sheets.")  # fmt: skip
    if long <= max(sheet.width, sheet.height) and wide <= min(sheet.width, sheet.height):
        return Finding("BOX-FOLDS", "fine", h.c.id, "Its box comes out of one sheet", text, values)
    return Finding("BOX-FOLDS", "mend", h.c.id, "Its box is larger than a sheet", text, values,
                   "Make it less deep, or smaller.")  # fmt: skip


def _solid(h: Hung, tray: Tray) -> Solid:
    """Its base and walls, what is inside left free."""
    (a, b, deep), t, c = tray.size, tray.t, h.c
    x0, x1 = sorted((tray.at[0], tray.at[0] + h.out * deep))
    y0, y1, low, high = c.y - a / 2, c.y + a / 2, c.z - b / 2, c.z + b / 2
    bx0, bx1 = sorted((tray.at[0], tray.at[0] + h.out * t))
    plan = box(x0, y0, x1, y1)
    pieces = (
        Prism(box(bx0, y0, bx1, y1), low, high),
        Prism(plan, low, low + t), Prism(plan, high - t, high),
        Prism(box(x0, y0, x1, y0 + t), low, high), Prism(box(x0, y1 - t, x1, y1), low, high),
    )  # fmt: skip
    return Solid(c.id, "wall", plain(c.name), Prism(plan, low, high), pieces=pieces)


def _shapes(tray: Tray) -> tuple[Shape, ...]:
    """Its outline from above and from the side."""
    a, b, deep = tray.size
    plan = tuple(
        tray.place(u, 0.0, w) for u, w in ((-a / 2, 0.0), (a / 2, 0.0), (a / 2, deep), (-a / 2, deep))
    )
    side = tuple(
        tray.place(0.0, v, w) for v, w in ((-b / 2, 0.0), (b / 2, 0.0), (b / 2, deep), (-b / 2, deep))
    )
    return (Shape("form-line", plan), Shape("form-line", side, view="side"))
