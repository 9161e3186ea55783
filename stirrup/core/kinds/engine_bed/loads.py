"""Whether an engine stands on its beds, what its bolts and the core bear, and how it lies to its drive."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.laminate import WELD, WET
from stirrup.core.kinds.engine_bed.choices import ACROSS, BESIDE_FOOT_M, FOOT_M

if TYPE_CHECKING:
    from stirrup.core.kinds.engine_bed.build import Beds

declare(
    "layout",
    {
        "BED-FEET": "where an engine's feet stand", "BED-HIGH": "how high an engine's beds are",
        "BED-BOLTS": "what an engine's bolts hold", "BED-CRUSH": "what an engine's feet press on",
        "BED-ALIGN": "how an engine lies to its drive", "BED-WORK": "cautions of an engine's beds",
    },
    acceptable=True,
    pace="behind",
)  # fmt: skip

G = 9.81
TIMES = 3.0  # of its mass, up or down: usual value
FEET, PER_FOOT, PER_ANGLE = 4, 2, 2
HIGH_M = 0.002  # a foot may hang or stand this far off: shims take it; working value
SCREW_N_MM = 25.0  # that a coach screw holds in wood, for each millimetre of its thread: working value
THREAD_MM = 60.0
EMBEDS_MPA = 10.0  # of wood at the side of a bolt: working value
EMBEDS_METAL_MPA = 120.0
CRUSH_MPA = {"wood": 2.0, "metal": 60.0, "plastic": 3.0, "composite": 3.0, "foam": 0.5}  # working values
ALIGNED = 0.001  # of the coupling's breadth that its gap may differ: usual value, 0.1 mm on 100


def torque_nm(power_kw: float, speed: float) -> float:
    """Reaction to full power at so many turns a minute [N m]: P / (2 π n)."""
    return power_kw * 1000 / (2 * math.pi * speed / 60)


def lifted_n(b: Beds) -> float:
    """The most that one foot is pulled up or pressed down with: a quarter of 3 g, and half of the torque
    over the feet's distance across [N]."""
    turned = torque_nm(b.engine.power or 0.0, b.c.speed) / b.c.across / 2
    return TIMES * b.engine.mass.value * G / FEET + turned


def _feet(b: Beds) -> Finding:
    c = b.c
    ends = (c.aft + c.taper, c.fore - c.taper)
    half = FOOT_M[0] / 2 + BESIDE_FOOT_M
    over = max(ends[0] - (c.places[0] - half), (c.places[1] + half) - ends[1])
    values = {"over": Quantity(abs(over), "m")}
    if over > 1e-9:
        return Finding("BED-FEET", "mend", c.id, "A foot stands beyond the beds' flat tops",
                       "It reaches {over} into a taper, or past an end.", values,
                       "Make the beds longer, or move the feet.")  # fmt: skip
    if c.relief is not None:
        room = min(abs(c.relief - x) for x in c.places) - c.relief_long / 2 - half
        if room < -1e-9:
            return Finding("BED-FEET", "mend", c.id, "A foot stands in the relief",
                           "They overlap by {over}.", {"over": Quantity(-room, "m")},
                           "Move the relief, or make it shorter.")  # fmt: skip
    return Finding("BED-FEET", "fine", c.id, "All its feet stand on the beds",
                   "{over} are left to a taper. Take the places of its feet off the engine, or off its "
                   "maker's drawing, before you cut.", values)  # fmt: skip


def _high(b: Beds) -> list[Finding]:
    """Whether the beds' tops with what lies on them come up to the engine's feet."""
    c, size = b.c, b.engine.size
    if size is None:
        return []
    stands = b.engine.mass.centre[2] - size[2] / 2
    have = b.top_at(c.feet) + b.on_top + c.shims
    off = round(stands - have, 5)
    top = round(c.top + off, 4)
    values = {"off": Quantity(abs(off), "m", True)}
    if abs(off) <= HIGH_M:
        return [Finding("BED-HIGH", "fine", c.id, "The engine stands on its beds",
                        "Tops, angles and shims come up to its feet within {off}. Its sump, and whatever "
                        "hangs under its feet, has to clear the bottom: measure it.", values)]  # fmt: skip
    values |= {"stands": Quantity(stands, "m"), "have": Quantity(have, "m"), "top": Quantity(top, "m")}
    word = "under" if off > 0 else "over"
    fixes = (Fix("Tops at {top}", path=("fittings", c.id, "top"), value=top),) if top > 0 else ()
    return [Finding("BED-HIGH", "mend", c.id, f"The beds end {word} the engine's feet",
                    f"Tops, angles and shims come to {{have}}, {{off}} {word} its feet at "
                    f"{{stands}}.", values,
                    "Set their tops by the shaft line, or correct where the engine stands.",
                    fixes=fixes)]  # fmt: skip


def _bolts(b: Beds) -> Finding:
    c, lift, d = b.c, lifted_n(b), ACROSS[b.c.bolt]
    through = c.held == "bolts through an angle"
    if through:
        bears = EMBEDS_METAL_MPA if b.sheet.stuff.kind == "metal" else EMBEDS_MPA
        each, count = bears * 1e6 * d * b.runs[0].thick, PER_ANGLE
    else:
        each, count = SCREW_N_MM * THREAD_MM, PER_FOOT
    have = each * count
    values = {"need": Quantity(lift, "N"), "have": Quantity(have, "N"), "count": Quantity(count, "count")}
    work = Working(
        "a foot: 3 g x mass / 4 + P / (2 π n) / (2 x feet apart across)",
        (Input("mass", Quantity(b.engine.mass.value, "kg")),
         Input("torque", Quantity(torque_nm(b.engine.power or 0.0, c.speed), "N m"),
               "of its power" if b.engine.power else "its power is not given"),
         Input("apart", Quantity(c.across, "m")),
         Input("each holds", Quantity(each, "N"), "working value")),
        Quantity(lift, "N"), "rules of the trade, “Engine beds”",
    )  # fmt: skip
    by = "bolts through the bed" if through else "coach screws"
    text = f"One foot pulls with {{need}} at worst; {{count}} {by} hold {{have}}. A screening."
    if have >= lift:
        return Finding("BED-BOLTS", "fine", c.id, "Its bolts hold it", text, values, working=work)
    fix = Fix("Bolts through an angle", path=("fittings", c.id, "held"), value="bolts through an angle")
    return Finding("BED-BOLTS", "mend", c.id, "Its bolts do not hold it", text, values,
                   "Larger bolts, thicker beds, or angles that are bolted through.", work,
                   fixes=() if through else (fix,))  # fmt: skip


def _crush(b: Beds) -> Finding:
    """What the core bears under a foot; an angle's flange spreads it to its own length."""
    c, force = b.c, lifted_n(b)
    long = FOOT_M[0] + (2 * BESIDE_FOOT_M if b.on_top else 0.0)
    wide = min(b.runs[0].thick, b.angle.b if b.on_top else FOOT_M[1])
    pressed = force / (long * wide) / 1e6
    most = CRUSH_MPA.get(b.sheet.stuff.kind, CRUSH_MPA["foam"])
    values = {"pressed": Quantity(pressed, "MPa"), "most": Quantity(most, "MPa"),
              "long": Quantity(long, "m"), "wide": Quantity(wide, "m")}  # fmt: skip
    text = "A foot presses with {pressed} on {long} by {wide} of core; up to {most} it keeps. A screening."
    if pressed <= most:
        return Finding("BED-CRUSH", "fine", c.id, "Its core bears the feet", text, values)
    return Finding("BED-CRUSH", "mend", c.id, "The feet press into the core", text, values,
                   "Thicker beds, or a core that is harder under the feet: foam never is.")  # fmt: skip


def _align(b: Beds) -> Finding:
    """By the gap at the coupling: what to put under its fore feet, and how far to push them aside."""
    c, pairs = b.c, ((b.c.gap_top, b.c.gap_bottom), (b.c.gap_port, b.c.gap_starboard))
    limit = ALIGNED * c.coupling
    values = {"limit": Quantity(limit, "m", True)}
    read = [a - z if a is not None and z is not None else None for a, z in pairs]
    if read[0] is None or read[1] is None:
        return Finding("BED-ALIGN", "look", c.id, "Not aligned yet",
                       "With the coupling's halves together and the boat afloat, feel the gap at top, "
                       "bottom, port and starboard: up to {limit} of difference is aligned. By the maker's "
                       "instructions.", values, "Type the four gaps here.")  # fmt: skip
    up, aside = (d / c.coupling * c.apart for d in (read[0], read[1]))
    values |= {"tall": Quantity(abs(read[0]), "m", True), "side": Quantity(abs(read[1]), "m", True),
               "up": Quantity(abs(up), "m", True), "aside": Quantity(abs(aside), "m", True)}  # fmt: skip
    text = "Its gap differs by {tall} from top to bottom and {side} from side to side; {limit} is allowed."
    if max(abs(read[0]), abs(read[1])) <= limit + 1e-9:
        return Finding("BED-ALIGN", "fine", c.id, "Aligned to its drive", text, values)
    ways = []
    if abs(read[0]) > limit + 1e-9:
        ways.append(f"{'put {up} under' if up > 0 else 'take {up} from under'} both fore feet")
    if abs(read[1]) > limit + 1e-9:
        ways.append(f"push its fore end {{aside}} to {'port' if aside > 0 else 'starboard'}")
    remedy = f"{'; '.join(ways)}, where the engine stands forward of its coupling. Then feel again."
    return Finding("BED-ALIGN", "mend", c.id, "Not aligned to its drive", text, values,
                   remedy[0].upper() + remedy[1:])  # fmt: skip


def _work(b: Beds) -> Finding:
    weigh = f"{plain(b.engine.title)} weighs {{kg}}: lift it by its own eyes, nobody under it. "
    return Finding("BED-WORK", "look", b.c.id, "Lifting, and what the beds are joined with",
                   weigh + (WELD if b.c.joined == "welded" else WET),
                   {"kg": Quantity(b.engine.mass.value, "kg")})  # fmt: skip


def findings_of(b: Beds) -> list[Finding]:
    """All that is to be said of them; comes behind the hand."""
    return [_feet(b), *_high(b), _bolts(b), _crush(b), _align(b), _work(b)]
