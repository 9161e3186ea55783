"""A door in a face where it hangs."""

from __future__ import annotations

from shapely.geometry import Polygon

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point, Point2
from stirrup.core.errors import CoreError
from stirrup.core.fittings.crate import HINGE_SHORTER_M
from stirrup.core.fittings.latching import latch_offset_m
from stirrup.core.kinds.face_door.choices import LANDING_M, FaceDoor
from stirrup.core.parts.entries import Latch, Section, Sheet
from stirrup.core.parts.model import Panel
from stirrup.core.record import dataclass
from stirrup.core.space.rounded import rounded

FACE: dict[str, tuple[str, float]] = {"aft": ("face", -1.0), "fore": ("face-fore", 1.0)}  # its key, way out
LAP_M = 0.020  # of one that laps its hole, on each side: working value
GAP_M = 0.0025  # round a flush one: working value
RIM_M = 0.040  # of face left round its hole, and under the deck's members: working value
FLAT = "flat-40x3"
PITCH_M = 0.075  # between fasteners of the flats: working value
CORNER_M = 0.020  # rounded corners of hole and door: no crack starts there


def hole_of(c: FaceDoor) -> Polygon:
    """What is cut out of the face, across and up."""
    size = (c.clear_width + 2 * c.beside, c.clear_height + 2 * c.beside)
    return rounded(c.y, c.z, *size, CORNER_M)


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
    def back(self) -> float:
        """x of the inner side of its face [m]."""
        return self.face.frame.origin[0] - self.out * self.face.sheet.thickness / 2

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


def hang(c: FaceDoor, site: Site) -> Hung:
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


def latch_m(h: Hung) -> float:
    """From the door's edge opposite to the hinge to the middle of its latch [m]."""
    landing, gap = (LANDING_M, GAP_M) if h.c.lies == "flush" else (LAP_M, 0.0)
    return latch_offset_m(landing, gap, h.latch)
