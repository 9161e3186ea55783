"""Bolts through a flange, a floor and what spreads their pull under it: holes, plates, lengths."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from shapely.geometry import Point as FlatPoint

from stirrup.core.document import Point, Point2
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Fastener
from stirrup.core.parts.model import Ring

PLAY_M = 0.0003  # of a hole round its bolt, on either side


@lru_cache(maxsize=2000)
def bolt_hole(at: Point2, bolt: float) -> Ring:
    """A hole for a bolt of so much across, in a panel's own axes [m]."""
    ring = FlatPoint(*at).buffer(bolt / 2 + PLAY_M, quad_segs=4).exterior.coords[:-1]
    return tuple((float(u), float(v)) for u, v in ring)


def shortest_bolt(catalogue: Catalogue, across: float, grip: float) -> Fastener | None:
    """The shortest bolt of a thickness that holds so much [m]."""
    bolts = (f for f in catalogue.of(Fastener) if f.style == "bolt" and abs(f.diameter - across) < 1e-9)
    return min(
        (f for f in bolts if f.grip_min <= grip <= f.grip_max), key=lambda f: f.grip_max, default=None
    )


def along_floor(turn: float, rise: float) -> tuple[Point, Point]:
    """Unit vectors along and across what is turned [rad] in a plane that rises forward."""
    long = math.hypot(1.0, rise)
    ahead, port = np.array([1.0, 0.0, rise]) / long, np.array([0.0, 1.0, 0.0])
    c, s = math.cos(turn), math.sin(turn)
    along, across = c * ahead + s * port, c * port - s * ahead
    return (float(along[0]), float(along[1]), float(along[2])), (
        float(across[0]), float(across[1]), float(across[2]))  # fmt: skip
