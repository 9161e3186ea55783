"""What goes into a dash: one row of instruments over the wheel, each with its hole and what is behind."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import combinations

from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Quantity, declare
from stirrup.core.fittings.crate import rectangle
from stirrup.core.kinds.console_box.choices import ConsoleBox
from stirrup.core.kinds.console_box.profile import Side
from stirrup.core.parts.model import Ring, panel_rings
from stirrup.core.record import dataclass

declare("layout", {"DASH": "what goes into a dash", "TOP-WET": "water on a console's top"}, acceptable=True)

APART_M = 0.015  # between bezels, and from the dash's upper edge: working value
CABLES_M = 0.03  # behind an instrument, for its cables: working value
HUB_M = 0.06  # radius of the helm's bezel: working value
HELM_HOLE_M = 0.075  # for a tilt helm's body; the maker's template decides
HELM_DEEP_M = 0.13
CIRCLE = 24
SHEDS_DEG = 2.0  # least fall of a top that water runs off


@dataclass(frozen=True)
class Instrument:
    """Bezel and hole, across and up [m], how deep it is behind; round: the hole is a circle."""

    name: str
    bezel: Point2
    hole: Point2
    deep: float
    item: str  # of the catalogue
    round: bool = False


# sizes are starting values: the maker's template decides
DISPLAYS = {
    "180 mm": Instrument("display", (0.230, 0.145), (0.205, 0.120), 0.09, "display-180"),
    "230 mm": Instrument("display", (0.290, 0.175), (0.262, 0.148), 0.10, "display-230"),
}
GAUGES = {
    "52 mm": Instrument("gauge", (0.062, 0.062), (0.053, 0.053), 0.08, "gauge-52", True),
    "85 mm": Instrument("gauge", (0.098, 0.098), (0.086, 0.086), 0.10, "gauge-85", True),
}
PANEL = Instrument("switch panel", (0.120, 0.130), (0.100, 0.110), 0.07, "switch-panel")
GLOVE = Instrument("glove box", (0.260, 0.145), (0.235, 0.120), 0.16, "glove-insert")


def wanted(c: ConsoleBox) -> list[Instrument]:
    """The instruments in their order from starboard to port: the display in the middle."""
    gauges = [GAUGES[c.gauge]] * c.gauges
    middle = [DISPLAYS[c.display]] if c.display != "none" else []
    half = len(gauges) // 2
    return [*gauges[:half], *middle, *gauges[half:], *([PANEL] * c.panel), *([GLOVE] * c.glove)]


@dataclass(frozen=True)
class Placed:
    """An instrument with its middle on the dash: across from its middle, up from its foot [m]."""

    what: Instrument
    at: Point2


def row(c: ConsoleBox, dash: Side) -> list[Placed]:
    """The instruments side by side under the dash's upper edge, the row about its middle."""
    things = wanted(c)
    width = sum(i.bezel[0] for i in things) + APART_M * max(len(things) - 1, 0)
    high = max((i.bezel[1] for i in things), default=0.0)
    up, across, out = dash.length - APART_M - high / 2, -width / 2, []
    for thing in things:
        out.append(Placed(thing, (across + thing.bezel[0] / 2, up)))
        across += thing.bezel[0] + APART_M
    return out


def holes(c: ConsoleBox, dash: Side, wide: float) -> tuple[Ring, ...]:
    """Holes of instruments and helm that lie on the dash whole, about its middle [m]."""
    rings = [_ring(p.what.hole, p.what.round, (p.at[0], p.at[1] - dash.length / 2)) for p in row(c, dash)]
    if c.wheel:
        rings.append(_ring((HELM_HOLE_M, HELM_HOLE_M), True, (0.0, c.wheel_up - dash.length / 2)))
    a, b = wide / 2, dash.length / 2
    return _joined([r for r in rings if all(abs(u) < a and abs(v) < b for u, v in r)])


def _joined(rings: Sequence[Ring]) -> tuple[Ring, ...]:
    """Holes that run into one another are one hole: a finding says that they clash."""
    shapes = [Polygon(r) for r in rings]
    if not any(a.intersects(b) for a, b in combinations(shapes, 2)):
        return tuple(rings)
    whole = unary_union(shapes)
    return tuple(panel_rings(part)[0] for part in getattr(whole, "geoms", [whole]))


def _ring(size: Point2, round_: bool, at: Point2) -> Ring:
    if not round_:
        return rectangle(*size, at)
    # as wide in the middle of its sides as the hole
    r = size[0] / 2 / math.cos(math.pi / CIRCLE)
    return tuple(
        (at[0] + r * math.cos(2 * math.pi * k / CIRCLE), at[1] + r * math.sin(2 * math.pi * k / CIRCLE))
        for k in range(CIRCLE)
    )


def behind_m(c: ConsoleBox, dash: Side, t: float, up: float) -> float:
    """Room behind the dash square to it, from a height up its slope to the fore wall [m]."""
    x = dash.start[0] + up * dash.along[0]
    return (c.length - t - x) / -dash.out[0]


def dash_findings(c: ConsoleBox, dash: Side, t: float, wide: float) -> list[Finding]:
    """Whether all of it goes in: side by side, over the wheel, and behind; wide: between the angles."""
    placed = row(c, dash)
    if not placed and not c.wheel:
        return []
    out: list[Finding] = []
    for problem in (_beside(c, placed, wide), _over_wheel(c, placed, dash), _behind(c, placed, dash, t)):
        out += problem
    if out:
        return out
    names = "all of it" if placed else "the helm"
    return [Finding("DASH", "fine", c.id, "The dash takes what goes into it",
                    f"Side by side, clear of the wheel's hub and with room behind: {names}.")]  # fmt: skip


def _beside(c: ConsoleBox, placed: Sequence[Placed], wide: float) -> list[Finding]:
    need = sum(p.what.bezel[0] for p in placed) + APART_M * max(len(placed) - 1, 0)
    if need <= wide:
        return []
    return [Finding("DASH", "mend", c.id, "Instruments are wider than the dash",
                    "Side by side they need {need}; between its angles there are {wide}.",
                    {"need": Quantity(need, "m"), "wide": Quantity(wide, "m")},
                    "Fewer or smaller ones, or a wider console.")]  # fmt: skip


def _over_wheel(c: ConsoleBox, placed: Sequence[Placed], dash: Side) -> list[Finding]:
    """Whether the row stays clear of the hub, and all of it lies on the dash."""
    if not placed:
        return []
    low = min(p.at[1] - p.what.bezel[1] / 2 for p in placed)
    need = c.wheel_up + HUB_M + APART_M if c.wheel else APART_M
    if low >= need - 1e-9:
        return []
    more = need - low
    return [Finding("DASH", "mend", c.id, "Instruments reach down to the wheel's hub" if c.wheel else
                    "Instruments are higher than the dash",
                    "The row ends {low} up the dash; {need} is where it may.",
                    {"low": Quantity(max(low, 0.0), "m"), "need": Quantity(need, "m"),
                     "more": Quantity(more, "m")},
                    "Make the dash {more} longer, or set the wheel lower.")]  # fmt: skip


def _behind(c: ConsoleBox, placed: Sequence[Placed], dash: Side, t: float) -> list[Finding]:
    deep = [(p.what.deep + CABLES_M, behind_m(c, dash, t, p.at[1] + p.what.hole[1] / 2)) for p in placed]
    if c.wheel:
        deep.append((HELM_DEEP_M, behind_m(c, dash, t, c.wheel_up + HELM_HOLE_M / 2)))
    short = max((need - room for need, room in deep), default=0.0)
    if short <= 0:
        return []
    return [Finding("DASH", "mend", c.id, "No room behind the dash",
                    "Behind it {short} more are needed for an instrument and its cables.",
                    {"short": Quantity(short, "m")}, "Make the console deeper.")]  # fmt: skip


def sheds(c: ConsoleBox) -> list[Finding]:
    """Whether water runs off its top."""
    values = {"fall": Quantity(c.fall, "deg"), "least": Quantity(SHEDS_DEG, "deg")}
    if c.fall >= SHEDS_DEG - 1e-9:
        return [Finding("TOP-WET", "fine", c.id, "Water runs off its top",
                        "It falls {fall} forward; {least} are enough.", values)]  # fmt: skip
    return [Finding("TOP-WET", "look", c.id, "Water stands on its top",
                    "It falls {fall} forward; {least} let water run off.", values,
                    "Let it fall 2 to 5 degrees.")]  # fmt: skip
