"""A door in the upright face of a deck: it laps its hole, or lies flush on a frame of flats behind it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon, box

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Handle, Opening, Shape
from stirrup.core.contract.kind import (
    FINE_M,
    OTHER_SIDE,
    Entry,
    Kind,
    Path,
    Placing,
    Site,
    Sizes,
    off_centre,
)
from stirrup.core.document import Document, Id, Point, Point2, ThingRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.crate import HINGE_SHORTER_M
from stirrup.core.fittings.door import swung
from stirrup.core.fittings.joints import Joint, held, leaf_style, mean_place
from stirrup.core.fittings.latching import SCREWS_IN_LATCH, latch_grip, latch_offset_m, latch_place
from stirrup.core.fittings.stock import LatchId, LidId
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Latch, Section, Sheet
from stirrup.core.parts.model import Bought, Frame, Member, Panel, panel_rings
from stirrup.core.quantities import Length
from stirrup.core.space.room import Room, sector
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

declare("layout", {"DOOR-RIM": "face left round a door"}, acceptable=True)

LAP_M = 0.020  # of one that laps its hole, on each side: working value
LANDING_M = 0.020  # of a flush one on the flats behind its face: working value
GAP_M = 0.0025  # round a flush one: working value
RIM_M = 0.040  # of face left round its hole, and under the deck's members: working value
FLAT = "flat-40x3"
PITCH_M = 0.075  # between fasteners of the flats: working value
CORNER_M = 0.020  # rounded corners of hole and door: no crack starts there

Side = Literal["port", "starboard", "top", "bottom"]
FACE: dict[str, tuple[str, float]] = {"aft": ("face", -1.0), "fore": ("face-fore", 1.0)}  # its key, way out


class FaceDoor(FittingBase):
    """Choices for a door in a face."""

    kind: Literal["face_door"] = "face_door"
    deck: Annotated[Id, ThingRef("face", "lies in")] = Field(title="In the face of")
    face: Literal["aft", "fore"] = Field("aft", title="Face")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    z: Length = Field(ge=0, le=5, title="Middle above keel line")
    clear_width: Length = Field(0.40, ge=0.08, le=2, title="Clear opening, across")
    clear_height: Length = Field(0.20, ge=0.08, le=1, title="Clear opening, up")
    lies: Literal["laps its hole", "flush"] = Field("laps its hole", title="It lies")
    sheet: LidId = Field("as the deck", title="Door of")
    hinge: Side = Field("bottom", title="Hinged")
    latch: LatchId = Field("latch-50", title="Latch")

    @property
    def beside(self) -> float:
        """From the clear opening to the edge of the hole in the face [m]."""
        return LANDING_M if self.lies == "flush" else 0.0


def _rectangle(y: float, z: float, wide: float, high: float, corner: float) -> Polygon:
    """A rectangle across the boat and up with rounded corners [m]."""
    core = box(y - wide / 2, z - high / 2, y + wide / 2, z + high / 2)
    r = min(corner, wide / 2 - 1e-4, high / 2 - 1e-4)
    return core if r <= 1e-4 else core.buffer(-r, join_style="mitre").buffer(r, quad_segs=8)


def _hole(c: FaceDoor) -> Polygon:
    """What is cut out of the face, across and up."""
    size = (c.clear_width + 2 * c.beside, c.clear_height + 2 * c.beside)
    return _rectangle(c.y, c.z, *size, CORNER_M)


@dataclass(frozen=True)
class Hung:
    """A door where it hangs: its face, the way out of it, middle of the door, its size, its sheet."""

    c: FaceDoor
    site: Site
    face: Panel
    out: float
    at: Point
    size: Point2
    sheet: Sheet
    latch: Latch
    flat: Section

    @property
    def outer(self) -> float:
        """x of its outer side [m]."""
        return self.at[0] + self.out * self.sheet.thickness / 2

    @property
    def upright(self) -> bool:
        """Whether its hinge stands upright."""
        return self.c.hinge in ("port", "starboard")

    @property
    def toward(self) -> Point2:
        """From its middle to its hinge, across and up, unit."""
        return {"port": (1.0, 0.0), "starboard": (-1.0, 0.0), "top": (0.0, 1.0), "bottom": (0.0, -1.0)}[
            self.c.hinge
        ]

    @property
    def reach(self) -> float:
        """From its hinge to the edge opposite to it [m]."""
        return self.size[0] if self.upright else self.size[1]

    @property
    def run(self) -> float:
        """Length of its hinge [m]."""
        return (self.size[1] if self.upright else self.size[0]) - HINGE_SHORTER_M

    @property
    def hinge(self) -> Point:
        """Middle of its hinge, on its outer side."""
        a, b = self.toward
        return (self.outer, self.at[1] + a * self.size[0] / 2, self.at[2] + b * self.size[1] / 2)


def _hang(c: FaceDoor, site: Site) -> Hung:
    """Raises CoreError where its deck has no such face."""
    key, out = FACE[c.face]
    host = site.host
    face = next((p for p in host.panels if p.key == f"{c.deck}/{key}"), None) if host is not None else None
    if face is None:
        raise CoreError(f"its deck has no {c.face} face: give it one, or place the door elsewhere",
                        f"fittings.{c.id}.face")  # fmt: skip
    catalogue = site.catalogue
    sheet = face.sheet if c.sheet == "as the deck" else catalogue.sheet(c.sheet)
    flush = c.lies == "flush"
    more = 2 * (LANDING_M - GAP_M) if flush else 2 * LAP_M
    # flush with the outer side of its face, or before it
    off = (
        (face.sheet.thickness - sheet.thickness) / 2
        if flush
        else (face.sheet.thickness + sheet.thickness) / 2
    )
    x = face.frame.origin[0] + out * off
    return Hung(c, site, face, out, (x, c.y, c.z), (c.clear_width + more, c.clear_height + more), sheet,
                catalogue.latch(c.latch), catalogue.section(FLAT))  # fmt: skip


def _latch_m(h: Hung) -> float:
    """From the door's edge opposite to the hinge to the middle of its latch [m]."""
    landing, gap = (LANDING_M, GAP_M) if h.c.lies == "flush" else (LAP_M, 0.0)
    return latch_offset_m(landing, gap, h.latch)


def _panel(h: Hung) -> Panel:
    """The door with the hole of its latch, about its middle."""
    c, (a, b) = h.c, h.toward
    corner = CORNER_M + (LAP_M if c.lies != "flush" else -GAP_M)
    far = h.reach / 2 - _latch_m(h)
    hole = FlatPoint(-a * far, -b * far).buffer(h.latch.body / 2, quad_segs=16)
    outline, holes = panel_rings(_rectangle(0.0, 0.0, *h.size, corner).difference(hole))
    turns = (0, 90, 180, 270) if h.sheet.stuff.kind == "metal" else (0, 180)
    return Panel(f"{c.id}/door", f"{c.code}-D", f"{c.name}, door", c.id, h.sheet, outline, holes,
                 Frame(h.at, (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)), turns)  # fmt: skip


def _flats(h: Hung) -> list[Member]:
    """Behind the face round the hole of a flush door: the upright ones between the level ones."""
    c = h.c
    if c.lies != "flush":
        return []
    back = h.face.frame.origin[0] - h.out * h.face.sheet.thickness / 2
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
    c, hole = h.c, _hole(h.c)
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
    far = h.reach / 2 - _latch_m(h)
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
    """Door, flats, hinge, latch and gasket. Raises CoreError without a face."""
    h = _hang(c, site)
    panel, flats = _panel(h), _flats(h)
    bought, told = _bought(h, flats)
    landing = LANDING_M if c.lies == "flush" else LAP_M
    gap = GAP_M if c.lies == "flush" else 0.0
    findings = [
        _rim(h),
        latch_grip(c.id, "The door's sheets", [("door", h.sheet.thickness)], h.latch, site.catalogue),
        latch_place(c.id, "door", (landing, "of this sort of door"), gap, h.latch, _latch_m(h)), *told,
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
        c.id, (panel,), tuple(flats), tuple(bought), _shapes(h), handles, tuple(findings), z + high / 2,
        box(h.at[0] - half, y - wide / 2, h.at[0] + half, y + wide / 2),
        solids=(Solid(c.id, "wall", name, slab),), rooms=(room,),
    )  # fmt: skip


class FaceDoorKind(Kind[FaceDoor]):
    key, title = "face_door", "Door in a face"
    choices = FaceDoor
    letter = "G"
    brief = True
    entries = (
        Entry("face_door", "Door in the face of a deck", 1, "what lies under a deck is got at without "
              "kneeling on it", "hatch upright locker access panel"),
    )  # fmt: skip
    about = (
        "In the upright face under a deck's edge: it laps its hole, or lies flush on flats behind it; "
        "hinge, latch with its place and grip, gasket. The face has its hole, and an arm gets in by it."
    )

    def asks(self, c: FaceDoor, host: Document, catalogue: Catalogue) -> Opening | None:
        a, b = c.clear_width / 2, c.clear_height / 2
        return Opening(c.id, c.code, _hole(c), (c.y - a, c.z - b, c.y + a, c.z + b), FACE[c.face][0])

    def extent(self, c: FaceDoor, where: Where) -> Extent:
        """Its clear opening, at the edge of its deck."""
        host = where.extent(c.deck)
        x = 0.0 if host is None else host.x[0 if c.face == "aft" else 1]
        a, b = c.clear_width / 2, c.clear_height / 2
        return Extent((x, x), (c.y - a, c.y + a), (c.z - b, c.z + b))

    def shift(self, c: FaceDoor, by: Point) -> list[tuple[Path, float]]:
        """In its face: across and up."""
        places = ((1, "y", c.y), (2, "z", c.z))
        return [((f,), v + by[k]) for k, f, v in places if abs(by[k]) > FINE_M / 2]

    def sizes(self, c: FaceDoor) -> Sizes:
        return Sizes((None, ("clear_width",), ("clear_height",)), (None, ("y",), ("z",)))

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        value["hinge"] = OTHER_SIDE.get(value["hinge"], value["hinge"])

    def put_beside(self, value: dict[str, Any]) -> None:
        value["y"] = round(value["y"] - value["clear_width"] - 2 * (RIM_M + LAP_M), 4)

    def missing(self, entry: str, offered: Any) -> str:
        return "" if offered("face") else "goes into the face under a deck's edge: place a deck first"

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """In the middle of the face of the deck that is chosen, else of one that has a face."""
        decks = [(c, b) for c, b in placing.built("face") if any("/face" in p.key for p in b.panels)]
        if not decks:
            raise CoreError("no deck has a face: give one a face under its edge first", "fittings")
        chosen = next((d for d in decks if d[0].id == placing.host), decks[0])
        deck, built = chosen
        face = next(p for p in built.panels if "/face" in p.key)
        ring = [face.frame.at(u, v) for u, v in face.outline]
        ys, zs = [p[1] for p in ring], [p[2] for p in ring]
        # clear of the lowest part, where the bottom comes up to it
        foot, head = min(zs) + 0.35 * (max(zs) - min(zs)), max(zs) - RIM_M - LAP_M
        high = min(0.20, max(head - foot, 0.08))
        y = 0.0 if placing.at is None else max(min(placing.at[1], max(ys) - 0.3), min(ys) + 0.3)
        id_ = placing.id("door")
        return {
            "kind": self.key, "id": id_, "name": f"Door {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "deck": deck.id,
            "face": "fore" if face.key.endswith("/face-fore") else "aft", "y": round(y, 3),
            "z": round(head - high / 2, 3), "clear_height": round(high, 3),
        }  # fmt: skip

    def build(self, c: FaceDoor, site: Site) -> Built:
        return build(c, site)


KIND = FaceDoorKind()
