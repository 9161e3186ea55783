"""The hull as the build file states it."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from stirrup.core.document import Document, MassPoint, Name, Point
from stirrup.core.quantities import Angle, Length

Thickness = Annotated[Length, Field(ge=0, le=0.2)]


Known = Literal["measured", "scanned", "estimated"]
# 1 sigma of a reading [m] by how it is known: a careful tape, a scan's sections, a guess
READING_SPREAD_M: dict[Known, float] = {"measured": 0.003, "scanned": 0.005, "estimated": 0.030}


class KnuckleLine(Document):
    """One line along the hull, aft to fore, port side.

    Across, the skin between this line and the one before it is straight, or bulged by
    `bulge_below` (sagitta of a circular arc, outward positive, one number or one for
    each station). `known` says how the readings are known, one word or one for each
    station; `spread` is their 1 sigma where it is not what the word stands for.
    """

    name: Name
    along: Literal["smooth", "straight"] = "smooth"
    points: tuple[Point, ...] = Field(min_length=2, max_length=200, description="[m]")
    bulge_below: float | tuple[float, ...] = Field(0.0, description="[m]")
    known: Known | tuple[Known, ...] = "measured"
    spread: Annotated[float, Field(gt=0, le=1)] | None = Field(None, description="1 sigma [m]")

    @model_validator(mode="after")
    def _ordered(self) -> KnuckleLine:
        for k, (a, b) in enumerate(zip(self.points, self.points[1:], strict=False)):
            if not b[0] > a[0]:
                raise ValueError(
                    f"line “{self.name}”, station {k + 2}: x is {b[0]:g} m after {a[0]:g} m; "
                    "x must increase from aft to fore"
                )
        bulge = self.bulge_below
        if isinstance(bulge, tuple) and len(bulge) != len(self.points):
            raise ValueError(
                f"line “{self.name}”: bulge_below has {len(bulge)} values for "
                f"{len(self.points)} stations; give one number or one for each station"
            )
        if isinstance(self.known, tuple) and len(self.known) != len(self.points):
            raise ValueError(
                f"line “{self.name}”: known has {len(self.known)} words for "
                f"{len(self.points)} stations; give one word or one for each station"
            )
        return self

    def known_at(self, k: int) -> Known:
        """How reading k is known."""
        return self.known[k] if isinstance(self.known, tuple) else self.known

    def spread_at(self, k: int) -> float:
        """1 sigma of reading k [m]."""
        known = self.known_at(k)
        own = self.spread if known != "measured" else None
        return own if own is not None else READING_SPREAD_M[known]


class Skin(Document):
    """Skin thickness by region [m]: bottom below the chine, side above it, transom."""

    bottom: Thickness = Field(0.003, title="Bottom skin")
    side: Thickness = Field(0.003, title="Side skin")
    transom: Thickness | None = Field(None, title="Transom", description="empty: as the side")


class Flood(Document):
    """A place besides the sheer where water first comes in."""

    name: Name
    at: Point


Shape = Literal["flat bottom, square bow", "flat bottom, pointed", "vee", "jet, centre pad", "round bilge"]


class QuickStart(Document):
    """Shape family and tape readings from which a first hull is made."""

    shape: Shape = Field("vee", title="Shape")
    length: Length = Field(4.5, ge=1.5, le=15, title="Length over all")
    beam: Length = Field(1.8, ge=0.5, le=5, title="Greatest beam")
    bottom: Length = Field(
        1.4,
        ge=0.2,
        le=5,
        title="Bottom width at transom",
        description="round bilge: to where bottom and side would meet",
    )
    side_aft: Length = Field(0.55, ge=0.1, le=3, title="Side height at transom")
    side_middle: Length = Field(0.58, ge=0.1, le=3, title="Side height amidships")
    side_bow: Length = Field(0.75, ge=0.1, le=4, title="Side height at bow")
    deadrise_aft: Angle = Field(9.0, ge=0, le=30, title="Deadrise at transom, degrees")
    deadrise_middle: Angle = Field(12.0, ge=0, le=35, title="Deadrise amidships, degrees")
    transom_rake: Angle = Field(8.0, ge=-20, le=35, title="Transom leans aft, degrees")
    bow_rake: Angle = Field(25.0, ge=0, le=65, title="Bow leans forward, degrees")

    @model_validator(mode="after")
    def _possible(self) -> QuickStart:
        if self.bottom > self.beam:
            raise ValueError(f"bottom: {self.bottom:g} m is wider than the greatest beam, {self.beam:g} m")
        rise = math.tan(math.radians(self.deadrise_aft)) * self.bottom / 2
        if rise > 0.8 * self.side_aft and not self.shape.startswith("flat"):
            raise ValueError(
                f"deadrise_aft: it brings the chine to {rise:.3f} m, too near the sheer at "
                f"{self.side_aft:g} m; less deadrise or a higher side"
            )
        return self


def _check_family(lines: tuple[KnuckleLine, ...], where: str, side: float = 1.0) -> None:
    count = len(lines[0].points)
    for line in lines:
        if len(line.points) != count:
            raise ValueError(
                f"{where} line “{line.name}” has {len(line.points)} points and "
                f"“{lines[0].name}” has {count}; every line needs the same number of points"
            )
        for k, point in enumerate(line.points):
            if side * point[1] < 0:
                raise ValueError(
                    f"{where} line “{line.name}”, station {k + 1}: half-width is {point[1]:g} m; "
                    "half-widths are 0 or more"
                )
    chine = next((line for line in reversed(lines) if line.name == "chine"), None)
    if chine is not None and chine is not lines[-1]:
        lowest = min(p[2] for p in chine.points)
        for k, point in enumerate(lines[-1].points):
            if point[2] < lowest:
                raise ValueError(
                    f"{where} line “{lines[-1].name}”, station {k + 1}: height {point[2]:g} m is "
                    f"below the lowest chine point, {lowest:g} m; the sheer lies above the chine"
                )


class Diagonals(Document):
    """Tape from each upper transom corner to the bow eye: a twisted hull shows here."""

    port: Length | None = Field(None, gt=0, le=30, title="Port corner to bow eye")
    starboard: Length | None = Field(None, gt=0, le=30, title="Starboard corner to bow eye")


class Hull(Document):
    """Knuckle lines from keel to sheer, skin, mass and openings.

    `quick`: the tape readings of the quick start; estimated stations follow them.
    """

    material: str = Field("5052-H32", max_length=60)
    skin: Skin = Skin()
    mass: MassPoint
    lines: tuple[KnuckleLine, ...] = Field(min_length=2, max_length=40)
    starboard: tuple[KnuckleLine, ...] | None = Field(None, min_length=2, max_length=60)
    floods: tuple[Flood, ...] = ()
    diagonals: Diagonals = Diagonals()
    quick: QuickStart | None = None

    @model_validator(mode="after")
    def _consistent(self) -> Hull:
        _check_family(self.lines, "hull")
        if self.starboard is not None:
            # half-widths, or true coordinates: all of one sign
            true = all(p[1] <= 0 for line in self.starboard for p in line.points)
            _check_family(self.starboard, "starboard", -1.0 if true else 1.0)
            if [x.name for x in self.starboard] != [x.name for x in self.lines]:
                raise ValueError("starboard lines must carry the names of the port lines, in order")
            if len(self.starboard[0].points) != len(self.lines[0].points):
                raise ValueError("starboard lines need as many points as the port lines")
        return self

    @property
    def side_from(self) -> int:
        """Number of the first strip that is side skin; without a chine all is bottom."""
        names = [line.name for line in self.lines]
        return len(names) - 1 - names[::-1].index("chine") if "chine" in names else len(names)
