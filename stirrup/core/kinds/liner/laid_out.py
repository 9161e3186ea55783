"""Where a liner lies under the bottom: strips between the hull's own lines, in lengths of the sheet, each
laid flat."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from stirrup.core.contract.kind import Site
from stirrup.core.errors import CoreError
from stirrup.core.fittings.skin import SHEET_MARGIN_M
from stirrup.core.hull.along import chine_of, line_at, lines_at
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kept import kept_property
from stirrup.core.kinds.liner.choices import SHORTEST_M, Liner
from stirrup.core.parts.entries import Sheet
from stirrup.core.record import dataclass
from stirrup.core.space.develop import area_and_centre, unrolled

Array = NDArray[np.float64]
STEP_M = 0.10  # between rulings
ON_CENTRE_M = 0.01  # a keel line further out has a flat between its sides
LEAST_WIDE_M = 0.01  # where a strip has run out
PLAY_M = 0.003  # between two plates, so that they may grow


@dataclass(frozen=True)
class Piece:
    """One plate: which strip, on which side (0: on the centreline), its edges under the hull (n, 3) [m] and
    laid flat (n, 2), and its outline."""

    strip: str
    hand: int
    lower: Array
    upper: Array
    laid: tuple[Array, Array]
    flat: Polygon

    @property
    def stretch_m(self) -> float:
        """How much longer or shorter it is laid flat than under the hull, along lines between its edges:
        a strip that can be bent into place is as long. Edges and rulings keep their lengths."""
        worst = 0.0
        for share in (0.25, 0.5, 0.75):
            there, flat = (a + share * (b - a) for a, b in ((self.lower, self.upper), self.laid))
            long = [float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) for line in (there, flat)]
            worst = max(worst, abs(long[1] - long[0]))
        return worst

    @kept_property
    def _lies(self) -> tuple[float, Array]:
        return area_and_centre(self.lower, self.upper)

    @property
    def area_m2(self) -> float:
        """As it lies under the hull."""
        return self._lies[0]

    @property
    def middle(self) -> Array:
        """Centre of its area there."""
        return self._lies[1]


@dataclass(frozen=True)
class LaidOut:
    """A liner on its hull."""

    choices: Liner
    sheet: Sheet
    pieces: tuple[Piece, ...]

    @property
    def area_m2(self) -> float:
        """Of all plates."""
        return sum(p.area_m2 for p in self.pieces)


def _strips(c: Liner, surface: HullSurface, xs: Array, hand: int) -> Iterator[tuple[str, Array, Array]]:
    """Strips of one side from the keel out: name, inner and outer edge."""
    lines = lines_at(surface, hand, xs)
    chine = chine_of(lines)
    for number in range(chine):
        yield f"bottom {number + 1}", lines[number], lines[number + 1]
    if chine and c.up:
        inner, outer = lines[chine], lines[chine + 1]
        way = outer - inner
        long = np.linalg.norm(way, axis=1)
        share = np.minimum(1.0, c.up / np.where(long > 1e-6, long, 1.0))
        yield "side", inner, inner + way * share[:, None]


def _piece(name: str, hand: int, a: Array, b: Array) -> Piece | None:
    """What of a strip there is: where both of its edges are, and it has any breadth."""
    there = ~(np.isnan(a).any(axis=1) | np.isnan(b).any(axis=1))
    there &= np.linalg.norm(np.nan_to_num(b - a), axis=1) > LEAST_WIDE_M
    a, b = a[there], b[there]
    if len(a) < 2:
        return None
    flat = unrolled(a, b)
    ring = Polygon([*flat.lower.tolist(), *flat.upper[::-1].tolist()])
    sound = ring.is_valid and ring.area > 1e-3
    return Piece(name, hand, a, b, (flat.lower, flat.upper), ring) if sound else None


def _ends(c: Liner, surface: HullSurface) -> tuple[float, float]:
    keel = surface.lines[0][0]
    aft, fore = max(c.aft, float(keel[:, 0].min())), min(c.fore, float(keel[:, 0].max()))
    if fore < aft + SHORTEST_M:
        raise CoreError(f"from {c.aft:.3f} to {c.fore:.3f} m there is no bottom to line",
                        f"fittings.{c.id}.aft")  # fmt: skip
    return aft, fore


def lay_out(c: Liner, site: Site) -> LaidOut:
    """Plates of a liner. Raises CoreError where there is no bottom."""
    sheet, surface = site.catalogue.sheet(c.skin), site.surface
    aft, fore = _ends(c, surface)
    longest = sheet.width - 2 * SHEET_MARGIN_M - 2 * PLAY_M
    # rulings run aslant where the bow narrows: a plate is a little longer laid flat
    count = max(1, math.ceil((fore - aft) * 1.03 / longest - 1e-9))
    pieces: list[Piece] = []
    for a, b in pairwise(np.linspace(aft, fore, count + 1).tolist()):
        low, high = a + PLAY_M / 2 * (a > aft), b - PLAY_M / 2 * (b < fore)
        xs = np.linspace(low, high, max(2, math.ceil((high - low) / STEP_M) + 1))
        keels = [line_at(surface.lines[side][0], xs) for side in (0, 1)]
        if float(np.nanmax(keels[0][:, 1])) > ON_CENTRE_M:
            middle = _piece("centre", 0, keels[1], keels[0])
            pieces += [middle] if middle is not None else []
        for hand in (1, -1):
            found = (_piece(name, hand, p, q) for name, p, q in _strips(c, surface, xs, hand))
            pieces += [p for p in found if p is not None]
    if not pieces:
        raise CoreError("the hull has no bottom strips to line", f"fittings.{c.id}.aft")
    return LaidOut(c, sheet, tuple(pieces))
