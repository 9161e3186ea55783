"""Gas struts for a hinged lid: which of the catalogue's, and where both its ends go.

All in the plane across the hinge: its axis is the origin, u points to the lid's free edge when it is
shut, w up. The lid turns about the axis by an angle from 0, shut. The strut is all out when the lid is
open, so that it stops there. Sources: sums of moments about the hinge; a gas spring's force rises as it
goes in, and falls with the cold as the gas law says, 0.35 % for each kelvin.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from stirrup.core.parts.entries import Strut
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

G = 9.81
RISES = 1.3  # from all out to all in: makers give 1.2 to 1.4
PER_KELVIN = 0.0035  # of the force at 20 °C
COLD_C, WARM_C = 0.0, 35.0  # what it is tried at: working values
IN_HAND = 0.15  # of the lid's moment, at the coldest, when it is open
MOST_CLOSE_N = 80.0  # at the lid's edge, to shut it
MOST_LIFT_N = 120.0  # at the lid's edge, to open it: one hand
LEFT_IN_M = 0.005  # a strut is not pushed in to its very end
STEP_DEG = 5.0
ON_LID = tuple(np.round(np.arange(0.22, 0.72, 0.04), 3).tolist())  # of the lid, from the hinge
HANGS_M = 0.02  # of a ball stud under the lid
SIDE_M = 0.03  # of a stud from the ends of what it is screwed to
DEPTHS = 7


@dataclass(frozen=True)
class Lid:
    """A lid across its hinge: mass [kg], its centre from the axis towards the free edge and up [m], from
    the axis to the free edge, its thickness [m]; how far down studs may go, from and to [m]; how far
    it opens, degrees; how far what it lies on slopes up towards the free edge, degrees."""

    mass: float
    centre: tuple[float, float]
    deep: float
    thickness: float
    studs: tuple[float, float]
    opens: float
    slope: float = 0.0


@dataclass(frozen=True)
class Chosen:
    """A strut and where it goes: on the lid from the hinge and down, on the frame from the hinge and down
    [m]; how many; angles, and at each the force of the hand at the lid's edge, up positive, without
    a strut, cold and warm [N]; its moment over the lid's when open and cold."""

    strut: Strut
    count: int
    on_lid: tuple[float, float]
    on_frame: tuple[float, float]
    angles: tuple[float, ...]
    bare: tuple[float, ...]
    cold: tuple[float, ...]
    warm: tuple[float, ...]
    holds: float

    @property
    def lift_n(self) -> float:
        """The most that has to be lifted, cold."""
        return max(self.cold)

    @property
    def close_n(self) -> float:
        """The most that has to be pushed down to shut it, warm."""
        return max(0.0, -min(self.warm))


def weight_moment(lid: Lid, angles: Array) -> Array:
    """Moment of the lid about its hinge that shuts it [N m], at angles [deg]."""
    turned = np.radians(angles + lid.slope)
    r, h = lid.centre
    return np.asarray(lid.mass * G * (r * np.cos(turned) - h * np.sin(turned)))


def strut_arm(lid: Array, frame: Array, angles: Array) -> tuple[Array, Array]:
    """Length of a strut [m] and the arm with which it opens the lid [m], (n, angles).

    lid: (n, 2) stud on the shut lid; frame: (n, 2) stud on the frame, both (u, w).
    """
    c, s = np.cos(np.radians(angles)), np.sin(np.radians(angles))
    u = lid[:, :1] * c - lid[:, 1:] * s
    w = lid[:, :1] * s + lid[:, 1:] * c
    long = np.hypot(u - frame[:, :1], w - frame[:, 1:])
    return long, (w * frame[:, :1] - u * frame[:, 1:]) / long


def force(strut: Array, extended: Array, stroke: Array, long: Array, celsius: float) -> Array:
    """Force of struts [N]: (n, 1) each of their figures, (n, angles) lengths."""
    share = (extended - long) / stroke
    return strut * (1 + (RISES - 1) * share) * (1 - PER_KELVIN * (20.0 - celsius))


def _studs(lid: Lid, struts: tuple[Strut, ...]) -> tuple[Array, Array, Array]:
    """Every pair of studs with a strut that is all out when the lid is open: (n, 2), (n, 2), index (n,)."""
    hangs = lid.thickness + HANGS_M
    every = np.meshgrid(
        np.array(ON_LID) * lid.deep, np.linspace(*lid.studs, DEPTHS), np.arange(len(struts)), indexing="ij"
    )
    a, depth, which = every[0].ravel(), every[1].ravel(), every[2].ravel().astype(int)
    angle = math.radians(lid.opens)
    u, w = a * math.cos(angle) + hangs * math.sin(angle), a * math.sin(angle) - hangs * math.cos(angle)
    out = np.array([s.extended for s in struts])[which]
    aside2 = out**2 - (w + depth) ** 2
    there = aside2 > 0
    aside = np.sqrt(np.where(there, aside2, 0.0))
    on_lid, on_frame, index = [], [], []
    for sign in (1.0, -1.0):
        b = u + sign * aside
        ok = there & (b >= SIDE_M) & (b <= lid.deep - SIDE_M)
        on_lid.append(np.column_stack([a[ok], np.full(ok.sum(), -hangs)]))
        on_frame.append(np.column_stack([b[ok], -depth[ok]]))
        index.append(which[ok])
    return np.concatenate(on_lid), np.concatenate(on_frame), np.concatenate(index)


@lru_cache(maxsize=256)
def choose(lid: Lid, struts: tuple[Strut, ...], counts: tuple[int, ...]) -> Chosen | None:
    """The strut with which the hand has least to do, of those that hold the lid; None where none does.

    It holds the open lid in the cold with 15 % in hand, is never over its centre, is not pushed in
    to its end, and can be shut and lifted with one hand.
    """
    if not struts or lid.deep <= 2 * SIDE_M:
        return None
    angles = np.append(np.arange(0.0, lid.opens, STEP_DEG), lid.opens)
    on_lid, on_frame, which = _studs(lid, struts)
    if len(which) == 0:
        return None
    push, out, stroke = (
        np.array([[value] for value in values])[which]
        for values in zip(*((s.force, s.extended, s.stroke) for s in struts), strict=True)
    )
    long, arm = strut_arm(on_lid, on_frame, angles)
    weight = weight_moment(lid, angles)
    room = (long >= out - stroke + LEFT_IN_M) & (long <= out + 1e-9)
    fits = room.all(axis=1) & (arm > 0).all(axis=1)
    best: tuple[float, Chosen] | None = None
    for count in counts:
        cold, warm = (
            (weight - count * force(push, out, stroke, long, c) * arm) / lid.deep for c in (COLD_C, WARM_C)
        )
        shut = max(weight[-1], 0.0)
        moment = count * force(push, out, stroke, long, COLD_C)[:, -1] * arm[:, -1]
        good = fits & (moment >= (1 + IN_HAND) * shut) & (moment > 0)
        lift, close = cold.max(axis=1), -warm.min(axis=1)
        good &= (close <= MOST_CLOSE_N) & (lift <= MOST_LIFT_N)
        if not good.any():
            continue
        score = np.where(good, np.maximum(lift, 0.0) + np.maximum(close, 0.0) + 10.0 * count, np.inf)
        k = int(np.argmin(score))
        if best is None or score[k] < best[0]:
            holds = float(moment[k] / shut) if shut > 0 else math.inf
            on, at = on_lid[k].tolist(), on_frame[k].tolist()
            one = Chosen(
                struts[int(which[k])], count, (on[0], -on[1]), (at[0], -at[1]),
                tuple(angles.tolist()), tuple((weight / lid.deep).tolist()),
                tuple(cold[k].tolist()), tuple(warm[k].tolist()), holds,
            )  # fmt: skip
            best = (float(score[k]), one)
    return best[1] if best else None
