"""Learning from the real boat: what a weigh-in, a float check or an inclining says.

Each result is held against the ledger of the same load case, with both spreads, and can be
booked: the difference goes to the bare hull, whose mass is the ledger's usual guess.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.afloat.clip import cut
from stirrup.core.afloat.ledger import centre_spread_m
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.situation import Situation
from stirrup.core.document import MassPoint, Point
from stirrup.core.errors import CoreError
from stirrup.core.plan.measured import FloatCheck, Inclining, WeighIn
from stirrup.core.record import dataclass

Array = NDArray[np.float64]

G_TRIAL_M = 0.10  # the float check tries its G this much higher and lower


@dataclass(frozen=True)
class Held:
    """One figure: predicted and measured with their spreads (1 sigma), unit as in Quantity."""

    name: str
    unit: str
    predicted: float
    predicted_spread: float
    measured: float
    measured_spread: float

    @property
    def sigmas(self) -> float:
        """Difference in combined standard deviations."""
        both = math.hypot(self.predicted_spread, self.measured_spread)
        return abs(self.measured - self.predicted) / both if both > 0 else math.inf


# by kind: the formula, and what is assumed
FORMULAS = {
    "weigh_in": ("m = ΣF; X = ΣF x / m; Y = ΣF y / m; s(m) = s √n; s(X)² = Σ((x − X) s / m)²",
                 "statics; every scale with the same spread, independent"),
    "float_check": ("three freeboards give the water plane n·r = d; the hull below it gives V and B; "
                    "m = ρV; G lies on the upright through B, at the ledger's height Z",
                    "the mesh clipped at that plane; X and Y hang on Z as noted"),
    "inclining": ("GM = w a / (m tan φ); s(GM) = GM s(φ) / (sin φ cos φ)",
                  "small angles of an upright boat, the masses aboard at rest"),
}  # fmt: skip


@dataclass(frozen=True)
class Lesson:
    """What a measurement says: the figures it gives, and notes on how far to trust them."""

    id: str
    kind: str
    case: str
    figures: tuple[Held, ...]
    notes: tuple[str, ...] = ()

    @property
    def working(self) -> tuple[str, str]:
        """Formula and assumptions."""
        return FORMULAS[self.kind]


def weigh(check: WeighIn) -> tuple[float, float, float, float, float, float]:
    """Mass, X, Y and their spreads from scale readings: m = ΣF, X = ΣF x / m.

    First order: var(X) = Σ ((x - X) s / m)². Raises CoreError when all scales stand at one x.
    """
    force = np.array([s.force for s in check.scales])
    x, y = np.array([s.x for s in check.scales]), np.array([s.y for s in check.scales])
    if float(np.ptp(x)) < 0.2:
        raise CoreError("the scales stand at one distance from the transom; two places are needed", "x")
    mass = float(force.sum())
    cx, cy = float(force @ x) / mass, float(force @ y) / mass
    s = check.spread
    sx = s * float(np.linalg.norm(x - cx)) / mass
    sy = s * float(np.linalg.norm(y - cy)) / mass
    return mass, s * math.sqrt(len(force)), cx, sx, cy, sy


def _predicted(here: Situation) -> tuple[float, float, Array, Array]:
    centre = here.state.moment / here.load.mass_kg
    spread = math.sqrt(max(float(here.load.covariance[0, 0]), 0.0))
    return here.load.mass_kg, spread, centre, centre_spread_m(here.load)


def learn_weigh_in(check: WeighIn, here: Situation) -> Lesson:
    """A weigh-in against the ledger of its case. Raises CoreError."""
    mass, sm, x, sx, y, sy = weigh(check)
    pm, ps, centre, spread = _predicted(here)
    figures = [
        Held("mass", "kg", pm, ps, mass, sm),
        Held("centre from transom", "m", float(centre[0]), float(spread[0]), x, sx),
    ]
    if max(abs(s.y) for s in check.scales) > 0:
        figures.append(Held("centre to port", "m", float(centre[1]), float(spread[1]), y, sy))
    return Lesson(check.id, check.kind, check.case, tuple(figures))


def water_plane(check: FloatCheck, sheers: Array) -> tuple[Array, float]:
    """The water plane n·r = d through three points straight under the sheer [m].

    sheers: (2n, 3) port then starboard, aft to fore. The freeboards are taken along z, as a
    tape hangs in a boat that is nearly level. Raises CoreError when no plane results.
    """
    half = len(sheers) // 2
    bow = (sheers[half - 1] + sheers[-1]) / 2
    top = np.array([bow, sheers[0], sheers[half]])
    top[:, 2] -= np.array([check.bow, check.port, check.starboard])
    normal = np.cross(top[1] - top[0], top[2] - top[0])
    length = float(np.linalg.norm(normal))
    if length < 1e-9:
        raise CoreError("the three readings do not make a plane", "bow")
    n = normal / length * (1 if normal[2] > 0 else -1)
    return n, float(n @ top[0])


def _from_plane(here: Situation, n: Array, d: float, g_height: float) -> tuple[float, float, float]:
    """Mass, X and Y that the water plane tells, for G at a height: G lies over B along n."""
    part = cut(here.solid, n, d)
    if part.volume_m3 <= 0:
        raise CoreError("by these readings the boat is out of the water; is a freeboard too large", "bow")
    b = part.moment / part.volume_m3
    g = b + n * (g_height - b[2]) / n[2]
    return here.density * part.volume_m3, float(g[0]), float(g[1])


def learn_float_check(check: FloatCheck, here: Situation) -> Lesson:
    """Freeboards to mass and centre, with the height of G from the ledger. Raises CoreError."""
    pm, ps, centre, spread = _predicted(here)
    n, d = water_plane(check, here.sheers)
    height = float(centre[2])
    mass, x, y = _from_plane(here, n, d, height)
    rows = []
    for name in ("bow", "port", "starboard"):
        shifted = check.model_copy(update={name: getattr(check, name) + check.spread})
        rows.append(np.array(_from_plane(here, *water_plane(shifted, here.sheers), height)))
    slope = np.array(rows) - np.array([mass, x, y])
    sm, sx, sy = np.sqrt((slope**2).sum(axis=0)).tolist()
    _, x_high, y_high = _from_plane(here, n, d, height + G_TRIAL_M)
    notes = (
        f"with G {G_TRIAL_M * 1000:.0f} mm higher the centre would come out "
        f"{(x_high - x) * 1000:+.0f} mm along and {(y_high - y) * 1000:+.0f} mm across",
    )
    trim, heel = math.degrees(math.asin(n[0])), math.degrees(math.atan2(-n[1], n[2]))
    st, sh = _angle_spread(check, here.sheers)
    figures = (
        Held("mass", "kg", pm, ps, mass, sm),
        Held("centre from transom", "m", float(centre[0]), float(spread[0]), x, sx),
        Held("centre to port", "m", float(centre[1]), float(spread[1]), y, sy),
        Held("trim", "deg", math.degrees(here.state.trim), 0.0, trim, st),
        Held("list", "deg", math.degrees(here.state.heel), 0.0, heel, sh),
    )
    return Lesson(check.id, check.kind, check.case, figures, notes)


def _angle_spread(check: FloatCheck, sheers: Array) -> tuple[float, float]:
    """1 sigma of trim and list [deg] by finite differences of the three readings."""
    n0, _ = water_plane(check, sheers)
    total = np.zeros(2)
    for name in ("bow", "port", "starboard"):
        shifted = check.model_copy(update={name: getattr(check, name) + check.spread})
        n, _ = water_plane(shifted, sheers)
        total += np.degrees([n[0] - n0[0], n[1] - n0[1]]) ** 2
    trim, heel = np.sqrt(total).tolist()
    return trim, heel


def learn_inclining(check: Inclining, here: Situation, report: FloatReport) -> Lesson:
    """GM = w a / (m tan φ), and with it the height of G."""
    mass = here.load.mass_kg
    tangent = math.tan(math.radians(check.heel_deg))
    gm = check.mass * check.distance / (mass * tangent)
    share = math.radians(check.spread_deg) / (
        math.sin(math.radians(check.heel_deg)) * math.cos(math.radians(check.heel_deg))
    )
    _, ps, centre, spread = _predicted(here)
    sg = gm * math.hypot(share, ps / mass)
    height = float(centre[2]) + report.gm_transverse_m - gm
    figures = (
        Held("GM", "m", report.gm_transverse_m, float(spread[2]), gm, sg),
        Held("height of G", "m", float(centre[2]), float(spread[2]), height, sg),
    )
    notes = () if 2 <= check.heel_deg <= 6 else ("best with 2 to 6 degrees of heel",)
    return Lesson(check.id, check.kind, check.case, figures, notes)


def booked(lesson: Lesson, here: Situation, hull: MassPoint) -> MassPoint:
    """The bare hull's mass and centre that make the ledger agree with the measurement.

    Spread: of the measurement, with that of everything else in the case taken along.
    Raises CoreError when the hull would have no mass left.
    """
    by_name = {f.name: f for f in lesson.figures}
    if "mass" not in by_name:
        height = by_name["height of G"]
        shift = (height.measured - height.predicted) * here.load.mass_kg / hull.value
        x, y, z = hull.centre
        return hull.model_copy(update={"centre": (x, y, round(z + shift, 4))})
    total = by_name["mass"]
    value = hull.value + total.measured - total.predicted
    if value <= 0:
        raise CoreError("the bare hull would weigh nothing; check the readings and the case", "mass")
    centre = np.array(hull.centre) * hull.value
    before = here.state.moment
    for axis, name in enumerate(("centre from transom", "centre to port")):
        if name in by_name:
            centre[axis] += by_name[name].measured * total.measured - float(before[axis])
        else:
            centre[axis] *= value / hull.value
    centre[2] *= value / hull.value
    others = max(0.0, float(here.load.covariance[0, 0]) - hull.spread_kg**2)
    spread = math.hypot(total.measured_spread, math.sqrt(others))
    place: Point = tuple(round(float(c), 4) for c in centre / value)  # type: ignore[assignment]
    return MassPoint(
        value=round(value, 2), centre=place, status="weighed", spread=round(spread, 2),
        centre_spread=hull.centre_spread,
    )  # fmt: skip
