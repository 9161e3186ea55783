"""A person's measures and joints from stature, seen from the side.

Shares of stature: docs/trade-rules.md, “People”.
"""

from __future__ import annotations

import math

from stirrup.core.document import Point2
from stirrup.core.plan.model import Person
from stirrup.core.record import dataclass

KNEE_BACK = 0.245  # height of the back of the knee over the foot rest
BUTTOCK_KNEE = 0.275  # back of the buttock to the back of the knee
SITTING_EYE = 0.455  # over the seat
STANDING_EYE = 0.935
SITTING_ELBOW = 0.14  # over the seat
STANDING_ELBOW = 0.63
REACH = 0.42  # grip ahead of the back
SHOULDERS = 0.26  # width
# for the drawing, and for what the rules do not give: working values
HIP = 0.50
SHOULDER = 0.80
SITTING_SHOULDER = 0.34
SITTING_HEAD = 0.52
THIGH_M = 0.14  # thickness over the seat
KNEELING_HIP = 0.27


STATURES = {"short": 1.55, "middling": 1.75, "tall": 1.90}  # [m]; docs/trade-rules.md, “People”


ARM_REACH_M = REACH * STATURES["middling"]  # how far in somebody middling takes hold of a thing


@dataclass(frozen=True)
class Pose:
    """Joints in (x, z) of the boat [m]: feet to head; eye and hand besides."""

    foot: Point2
    knee: Point2
    hip: Point2
    shoulder: Point2
    elbow: Point2
    hand: Point2
    head: Point2
    eye: Point2


def foot_of(stature: float, seat_m: float, floor_m: float) -> tuple[float, float]:
    """How far ahead of the knee the heel is, and how far the knee is above the seat [m].

    A seat lower than the back of the knee: the shank leans forward until its heel is on the
    floor. A higher one: the foot hangs.
    """
    shank, rise = KNEE_BACK * stature, seat_m - floor_m
    if rise >= shank:
        return (0.0, 0.0)
    # half of what the seat is too low lifts the knee, the rest is taken by leaning the shank
    lift = 0.5 * (shank - rise)
    down = min(shank, max(0.0, rise + lift))
    return (math.sqrt(max(0.0, shank * shank - down * down)), lift)


def pose(person: Person, floor_m: float | None = None) -> Pose:
    """The joints of somebody facing forward.

    floor_m: what a seated person's feet stand on; None: as high as the legs like it.
    """
    x, _, z = person.at
    s = person.stature
    if person.posture == "standing":
        return Pose((x, z), (x + 0.01 * s, z + 0.285 * s), (x, z + HIP * s), (x, z + SHOULDER * s),
                    (x - 0.02 * s, z + STANDING_ELBOW * s), (x + 0.11 * s, z + 0.52 * s),
                    (x + 0.01 * s, z + 0.93 * s), (x + 0.05 * s, z + STANDING_EYE * s))  # fmt: skip
    if person.posture == "kneeling":
        hip = (x - 0.02 * s, z + KNEELING_HIP * s)
        return Pose((x - 0.24 * s, z + 0.03 * s), (x, z + 0.03 * s), hip, (x + 0.10 * s, z + 0.55 * s),
                    (x + 0.18 * s, z + 0.40 * s), (x + 0.30 * s, z + 0.30 * s),
                    (x + 0.15 * s, z + 0.67 * s), (x + 0.19 * s, z + 0.67 * s))  # fmt: skip
    if person.posture == "lying":
        return Pose((x - 0.5 * s, z + 0.06), (x - 0.22 * s, z + 0.09), (x, z + 0.09),
                    (x + 0.30 * s, z + 0.09),
                    (x + 0.12 * s, z + 0.06), (x - 0.02 * s, z + 0.06),
                    (x + 0.43 * s, z + 0.10), (x + 0.43 * s, z + 0.16))  # fmt: skip
    floor = z - KNEE_BACK * s if floor_m is None else floor_m
    ahead, lift = foot_of(s, z, floor)
    # `at` is the middle of the seat under the body: the back is about 0.11 of stature abaft it
    back = x - 0.11 * s
    knee = (back + BUTTOCK_KNEE * s + 0.02, z + lift + 0.05)
    hanging = z - floor > KNEE_BACK * s
    foot = (knee[0] + ahead, z - KNEE_BACK * s if hanging else floor)
    shoulder = (back + 0.07 * s, z + SITTING_SHOULDER * s)
    return Pose(foot, knee, (back + 0.06 * s, z + 0.06), shoulder,
                (back + 0.10 * s, z + SITTING_ELBOW * s), (back + 0.30 * s, z + 0.19 * s),
                (back + 0.09 * s, z + 0.45 * s), (back + 0.13 * s, z + SITTING_EYE * s))  # fmt: skip


def top_m(person: Person) -> float:
    """Height of the top of the head [m]."""
    share = {"standing": 1.0, "kneeling": 0.74, "seated": SITTING_HEAD, "lying": 0.0}[person.posture]
    return person.at[2] + (share * person.stature if share else 0.25)
