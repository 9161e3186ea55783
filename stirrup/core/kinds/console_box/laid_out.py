"""A console where it stands: its profile on the boat, its sheet, and what its panels share."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point, Point2
from stirrup.core.fittings.crate import POST
from stirrup.core.fittings.crate_kind import foot_at
from stirrup.core.kinds.console_box.choices import ConsoleBox
from stirrup.core.kinds.console_box.profile import Side, sides
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.folding import Bend
from stirrup.core.parts.model import Frame, Panel, Ring
from stirrup.core.record import dataclass

RIM_M = 0.06  # of sheet round an opening: working value


@dataclass(frozen=True)
class Console:
    """A console where it stands: its foot [m], stock, and the sides of its profile."""

    c: ConsoleBox
    site: Site
    foot: float
    sheet: Sheet
    post: Section
    sides: tuple[Side, ...]

    @property
    def t(self) -> float:
        return self.sheet.thickness

    @property
    def aft(self) -> float:
        """x of its aft face [m]."""
        return self.c.x - self.c.length / 2

    @property
    def between(self) -> float:
        """Between its side plates [m]."""
        return self.c.width - 2 * self.t

    def place(self, x: float, y: float, z: float) -> Point:
        """A place given from its aft face, its middle and its foot, on the boat's axes."""
        return (self.aft + x, self.c.y + y, self.foot + z)

    def side(self, name: str) -> Side:
        """The side of a name."""
        return next(s for s in self.sides if s.name == name)


def lay_out(c: ConsoleBox, site: Site) -> Console:
    """A console on its site. Raises CoreError outside of the boat."""
    sheet = site.catalogue.sheet(c.skin)
    post = site.catalogue.section(POST)
    return Console(c, site, foot_at(c, site), sheet, post, sides(c, sheet.thickness))


def panel_of(
    k: Console, key: str, code: str, word: str, ring: Ring, cut: Sequence[Ring], frame: Frame,
    bends: tuple[Bend, ...] = (), flats: tuple[Panel, ...] = (),
) -> Panel:  # fmt: skip
    """A panel of its sheet; of a folded one with its bends, and its flats as they stand."""
    c = k.c
    turns = (0, 90, 180, 270) if k.sheet.stuff.kind == "metal" else (0, 180)
    return Panel(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, k.sheet, ring, tuple(cut),
                 frame, turns, bends=bends, flats=flats)  # fmt: skip


def opening(k: Console) -> Point2:
    """Clear opening of the cover, across and up [m]."""
    high = k.side(k.c.access).length if k.c.access != "none" else 0.0
    return (max(k.between - 2 * RIM_M, 0.0), max(high - 2 * RIM_M, 0.0))
