"""A liner of one sheet: its strips laid flat beside one another, slit where they do not meet, bent at their
common edges."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.fittings.edges import largest
from stirrup.core.kinds.liner.laid_out import Piece
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
JOIN_M = 2e-4  # edges as near as that are one
SLIT_M = 1e-3  # what is wider is cut out


@dataclass(frozen=True)
class Wrapped:
    """Strips of one length laid flat as one: outline; by common edge how wide it is slit at its widest and
    how far it is bent; name of each edge."""

    flat: Polygon
    pieces: tuple[Piece, ...]
    slits_m: tuple[float, ...]
    bends_deg: tuple[float, ...]
    edges: tuple[str, ...]

    @property
    def slit_m(self) -> float:
        """The widest of them."""
        return max(self.slits_m, default=0.0)


def _placed(edge: Array, other: Array, onto: tuple[Array, Array]) -> tuple[Array, Array]:
    """Both edges of a strip turned and moved so that the ends of the first come to lie on two points, with
    the strip to the left of the way from one to the other."""
    a, b = edge[0], edge[-1]
    p, q = onto
    turn = math.atan2(*(q - p)[::-1]) - math.atan2(*(b - a)[::-1])
    c, s = math.cos(turn), math.sin(turn)
    by = np.array([[c, -s], [s, c]])
    rows = [(row - a) @ by.T + p for row in (edge, other)]
    along = (q - p) / np.linalg.norm(q - p)
    left = np.array([-along[1], along[0]])
    if float(((rows[1] - p) @ left).mean()) < 0:
        # mirrored about the line that they share
        rows = [row - 2 * np.outer((row - p) @ left, left) for row in rows]
    return rows[0], rows[1]


def _off(edge: Array, line: tuple[Array, Array]) -> Array:
    """How far points are to the left of a line (n,) [m]."""
    p, q = line
    along = (q - p) / np.linalg.norm(q - p)
    return np.asarray((edge - p) @ np.array([-along[1], along[0]]))


def _normal(piece: Piece) -> Array:
    """Mean normal of a strip under the hull, downward."""
    along = piece.lower[-1] - piece.lower[0]
    out = (piece.upper - piece.lower).mean(axis=0)
    n = np.cross(along, out)
    n = n / np.linalg.norm(n)
    return np.asarray(n if n[2] < 0 else -n)


def _bend_deg(a: Piece, b: Piece) -> float:
    return math.degrees(math.acos(min(1.0, abs(float(_normal(a) @ _normal(b))))))


def wrapped(pieces: list[Piece]) -> Wrapped | None:
    """All strips of one length, from the keel out on both sides, in one; None where they do not make one.

    The keel's edge lies along the u axis, port to the left. Where a common edge is bent the other way on
    either side a slit is left between them; where they would lie on one another they are drawn apart.
    """
    sides = [[p for p in pieces if p.hand == hand] for hand in (1, -1)]
    if not all(sides) or any(p.hand == 0 for p in pieces):
        return None
    long = float(np.linalg.norm(np.diff(sides[0][0].lower[[0, -1]], axis=0)))
    base = (np.zeros(2), np.array([long, 0.0]))
    shapes: list[Polygon] = []
    slits, bends, edges = [], [_bend_deg(sides[0][0], sides[1][0])], ["keel"]
    gaps: list[float] = []
    for hand, strips in zip((1.0, -1.0), sides, strict=True):
        line, before, shift = base, None, np.zeros(2)
        for strip in strips:
            lower, upper = _placed(*strip.laid, line)
            # what was laid before ends at its own edge; of the keel at the axis
            there = _off(lower, line)
            had = np.zeros(len(there))
            if before is not None:
                here, then = np.linspace(0, 1, len(there)), np.linspace(0, 1, len(before))
                had = np.interp(here, then, _off(before, line))
            gap = there - had
            apart = max(0.0, -float(gap.min()))
            along = (line[1] - line[0]) / np.linalg.norm(line[1] - line[0])
            shift = np.array([-along[1], along[0]]) * apart
            lower, upper = lower + shift, upper + shift
            wide = float(gap.max()) + apart
            if before is None:
                gaps.append(wide)
            else:
                slits.append(wide)
                bends.append(_bend_deg(strips[strips.index(strip) - 1], strip))
                edges.append(f"{strip.strip}, {'port' if hand > 0 else 'starboard'}")
            ring = np.concatenate([lower, upper[::-1]]) * np.array([1.0, hand])
            shapes.append(Polygon(ring.tolist()))
            before, line = upper, (upper[0], upper[-1])
    if not all(s.is_valid for s in shapes):
        return None
    whole = unary_union([s.buffer(JOIN_M, join_style="mitre") for s in shapes])
    flat = largest(largest(whole).buffer(-JOIN_M, join_style="mitre"))
    if flat.area < 0.97 * sum(s.area for s in shapes):
        return None
    return Wrapped(flat, tuple(pieces), (sum(gaps), *slits), tuple(bends), tuple(edges))
