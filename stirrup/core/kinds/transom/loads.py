"""What a motor asks of the transom that carries it: thrust, moment, pull of its bolts. A screening."""

from __future__ import annotations

import math

from stirrup.core.record import dataclass

WATER = 1000.0  # kg/m3: fresh water, in which it pulls no less than in salt by a working value's width
SHARE = 0.65  # of the ideal thrust at rest: typical of small outboards
SHIFT = 1.5  # for shifting into gear
SLAM_G = 3.0  # on the road and in waves
UNDER_PLATE_M = 0.165  # propeller shaft under the plate over it: working value
# the usual pattern: upper pair, lower pair, and how far under it; the upper pair under the mounting top
UPPER_M, LOWER_M, APART_M, DOWN_M = 0.327, 0.251, 0.203, 0.050
STRESS_AREA_M2 = 84.3e-6  # of M12
PROOF_PA = 450e6  # of A4-70
G = 9.81


def thrust_n(power_w: float, propeller: float) -> float:
    """Thrust at rest by momentum theory: k (2 ρ A P²)^(1/3) [N]; propeller: its diameter [m].

    Source: W. J. M. Rankine's actuator disc at zero speed, with k for what a small outboard loses.
    """
    area = math.pi / 4 * propeller**2
    return SHARE * math.cbrt(2 * WATER * area * power_w**2)


@dataclass(frozen=True)
class Asked:
    """What the transom has to take: thrust with its shock [N], its lever from the bolts to the propeller
    shaft [m], the motor's weight in a slam [N] and how far behind the transom it acts [m]."""

    thrust: float
    lever: float
    slam: float
    behind: float

    @property
    def by_thrust(self) -> float:
        return self.thrust * self.lever

    @property
    def by_slam(self) -> float:
        return self.slam * self.behind

    @property
    def moment(self) -> float:
        """The greater of both [N m]."""
        return max(self.by_thrust, self.by_slam)

    @property
    def pull(self) -> float:
        """On one of its two upper bolts [N]: the moment over the pattern's height, and of the thrust its
        quarter."""
        return self.moment / APART_M / 2 + (self.thrust / 4 if self.by_thrust >= self.by_slam else 0.0)


def asked_of(power_w: float, shaft: float, propeller: float, mass: float, behind: float) -> Asked:
    """Loads of a motor: shaft from its mounting top to its plate [m]."""
    lever = shaft + UNDER_PLATE_M - DOWN_M - APART_M / 2
    return Asked(SHIFT * thrust_n(power_w, propeller), lever, mass * SLAM_G * G, max(behind, 0.0))


def strip_m(breadth: float) -> float:
    """Breadth of a transom that carries its motor [m]: three times the upper pair, if there is so much."""
    return min(3 * UPPER_M, breadth)


def stress_pa(moment: float, breadth: float, thick: float) -> float:
    """Of the outer fibre of a flat strip: M / (b t² / 6) [Pa]."""
    return moment / (breadth * thick**2 / 6)
