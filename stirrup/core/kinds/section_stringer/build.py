"""A stringer of a section built, and what is to be said of it."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise

from stirrup.core.contract.dam import Dam
from stirrup.core.contract.gives import Built, Handle, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.beam import stiffness_of
from stirrup.core.fittings.joints import grip_finding, no_fastener
from stirrup.core.fittings.laminate import STITCH_KG_PER_M, WELD, wire
from stirrup.core.kinds.section_stringer.choices import SectionStringer
from stirrup.core.kinds.section_stringer.laid import STATIONS, Laid, lay, strips_of
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Fastener
from stirrup.core.parts.model import Bought, Member
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "SECTION-BENDS": "how a section follows the bottom",
        "SECTION-JOINT": "how a section is joined",
        "SECTION-STIFF": "how stiff a section is",
        "SECTION-WORK": "cautions of a section",
    },
    acceptable=True,
    pace="behind",
)

BUTT_M = 0.002
SHORT_M = 1e-6
ROWS = {"hat": 2, "angle": 1, "channel": 1}  # of rivets: through the flanges that lie on the bottom


def members_of(laid: Laid) -> list[Member]:
    """It, or its lengths butted where a stick ends."""
    c, stick = laid.c, laid.section.length
    count = max(1, math.ceil(laid.long / stick - 1e-9))
    out = []
    for n in range(count):
        low, high = laid.long * n / count, laid.long * (n + 1) / count
        inside = [k for k in range(STATIONS) if low - 1e-9 <= laid.s[k] <= high + 1e-9]
        between = [float(laid.s[k]) for k in inside if low + SHORT_M < laid.s[k] < high - SHORT_M]
        path = tuple(laid.middle_at(s) for s in (low, *between, high))
        suffix, word = (f"/{n + 1}", f", length {n + 1}") if count > 1 else ("", "")
        out.append(Member(
            f"{c.id}/stringer{suffix}", f"{c.code}-S{n + 1 if count > 1 else ''}", f"{c.name}{word}", c.id,
            laid.section, high - low - (BUTT_M if n else 0.0), path, role="side",
            ends_at=("aft end", "fore end"), late_bodies=partial(_bodies, laid, inside),
            note=f"bend to the bottom: {laid.sag * 1000:.0f} mm off straight" if laid.sag > 0.002 else "",
        ))  # fmt: skip
    return out


def _bodies(laid: Laid, ks: list[int]) -> tuple[tuple[Point, ...], ...]:
    """Boxes round it from station to station."""
    half = laid.wide / 2
    return tuple(
        tuple(laid.at(k, side * half, up) for k in (a, b) for side in (-1, 1) for up in (0.0, laid.high))
        for a, b in pairwise(ks)
    )


def _bought(laid: Laid, site: Site) -> tuple[list[Bought], list[Finding]]:
    c, section = laid.c, laid.section
    at = laid.at(STATIONS // 2, 0.0, laid.high / 2)
    if c.joined == "welded":
        return [wire(c, site.catalogue, laid.long, STITCH_KG_PER_M, at)], []
    rows = ROWS.get(section.shape, 0)
    if not rows:
        return [], []
    skin = site.surface.thickness[0]
    rivet = site.catalogue.fastener_for("solid rivet", skin + section.t)
    if not isinstance(rivet, Fastener):
        return [], [no_fastener(c.id, "Section to bottom", skin + section.t)]
    count = rows * count_at_pitch(laid.long, c.pitch)
    told = grip_finding(site.catalogue, c.id, "Section to bottom", rivet,
                        (("bottom", skin), ("section", section.t)))  # fmt: skip
    return [Bought(f"{c.id}/rivets", f"{c.code}-R", f"{c.name}, rivets", c.id, rivet, count,
                   count * rivet.mass, at, "fasteners")], [told]  # fmt: skip


def _bends(laid: Laid) -> Finding:
    """Whether it springs to the bottom: R = E h / 2 yield."""
    stuff, c = laid.section.stuff, laid.c
    values = {"sag": Quantity(laid.sag, "m", True), "long": Quantity(laid.long, "m")}
    if laid.sag <= STRAIGHT_M:
        return Finding("SECTION-BENDS", "fine", c.id, "The bottom is straight under it",
                       "{long} of it lies within {sag} of straight.", values)  # fmt: skip
    if stuff.e_gpa is None or stuff.yield_mpa is None:
        return Finding("SECTION-BENDS", "look", c.id, "Nobody knows how far it springs",
                       "The catalogue has no modulus or yield for it; the bottom is {sag} off straight.",
                       values, "Bend a trial length over your knee first.")  # fmt: skip
    springs = stuff.e_gpa * 1e9 * laid.high / (2 * stuff.yield_mpa * 1e6)
    values |= {"radius": Quantity(laid.radius, "m"), "springs": Quantity(springs, "m")}
    work = Working(
        "springs to R = E h / (2 x yield)",
        (Input("E", Quantity(stuff.e_gpa, "GPa")), Input("h", Quantity(laid.high, "m", True), "its height"),
         Input("yield", Quantity(stuff.yield_mpa, "MPa"))),
        Quantity(springs, "m"), "bending of a bar",
    )  # fmt: skip
    text = "The bottom is {sag} off straight, with a radius of {radius}; it springs to {springs}."
    if laid.radius >= springs:
        return Finding("SECTION-BENDS", "fine", c.id, "It springs to the bottom", text, values, "", work)
    return Finding("SECTION-BENDS", "look", c.id, "It has to be bent to the bottom", text, values,
                   "Roll it, or slot its web from the top every 100 mm, bend it down and weld the slots; "
                   "or take a lower section, or lengths.", work)  # fmt: skip


STRAIGHT_M = 0.002  # a weld or a bead closes that


def _joint(laid: Laid, site: Site) -> Finding:
    c, section = laid.c, laid.section
    values = {"long": Quantity(laid.long, "m"), "pitch": Quantity(c.pitch, "m", True)}
    if c.joined == "welded":
        return Finding("SECTION-JOINT", "fine", c.id, "How it is welded",
                       "{long} stitched on both sides in turn; its ends tapered, so that they do not start "
                       "a crack in the bottom.", values)  # fmt: skip
    if section.shape not in ROWS:
        return Finding("SECTION-JOINT", "mend", c.id, "It has no flange to rivet through",
                       f"{plain(section.name)} is closed, or stands on its edge.", values,
                       "Take an angle, a channel or a hat, or have it welded.")  # fmt: skip
    return Finding("SECTION-JOINT", "fine", c.id, "How it is riveted",
                   "Solid rivets every {pitch}, wet-set in sealant: under water a blind rivet leaks. "
                   "Somebody holds the bucking bar outside.", values)  # fmt: skip


def _stiff(laid: Laid) -> Finding:
    section, c = laid.section, laid.c
    if section.stuff.e_gpa is None:
        return Finding("SECTION-STIFF", "look", c.id, "Nobody knows how stiff it is",
                       "The catalogue has no modulus of elasticity for it.", {},
                       "Take the maker's value.")  # fmt: skip
    ei = round(stiffness_of(strips_of(section, section.stuff.e_gpa * 1e9), None).ei)
    values = {"ei": Quantity(ei, "N m²"), "high": Quantity(laid.high, "m", True)}
    work = Working(
        "E I by strips about their own neutral line (Steiner)",
        (Input("E", Quantity(section.stuff.e_gpa, "GPa")), Input("section", Quantity(0, section.name))),
        Quantity(ei, "N m²"), "rules of the trade, “Stringers”",
    )  # fmt: skip
    return Finding("SECTION-STIFF", "fine", c.id, "How stiff it is",
                   "{ei}, {high} high; the bottom, which works with it, is left out.", values,
                   working=work)  # fmt: skip


def _later(laid: Laid, site: Site) -> list[Finding]:
    work = Finding("SECTION-WORK", "look", laid.c.id, "Look what lies on the other side",
                   WELD if laid.c.joined == "welded" else
                   "Ear and eye protection; drill only where nothing lies behind, and deburr both sides.",
                   {})  # fmt: skip
    return [_bends(laid), _joint(laid, site), _stiff(laid), *_bought(laid, site)[1], work]


def _shapes(laid: Laid) -> tuple[Shape, ...]:
    half, last, middle = laid.wide / 2, STATIONS - 1, STATIONS // 2
    marks = range(0, STATIONS, 4)
    plan = [laid.at(0, half, 0), laid.at(last, half, 0), laid.at(last, -half, 0), laid.at(0, -half, 0)]
    side = [laid.at(k, 0.0, 0.0) for k in marks] + [laid.at(k, 0.0, laid.high) for k in reversed(marks)]
    across = [laid.at(middle, s * half, up) for s, up in ((-1, 0), (1, 0), (1, laid.high), (-1, laid.high))]
    return (
        Shape("form-wall", tuple(plan), thin=True),
        Shape("form-wall", tuple(side), view="side", thin=True),
        Shape("form-body", tuple(across), view="across"),
    )  # fmt: skip


def build(c: SectionStringer, site: Site) -> Built:
    """Raises CoreError where there is no bottom under it."""
    laid = lay(c, site.surface, site.catalogue.section(c.section))
    half, last = laid.wide / 2, STATIONS - 1
    bodies = _bodies(laid, list(range(0, STATIONS, 4)))
    ends = [laid.at(k, s * half, 0.0) for k in (0, last) for s in (-1, 1)]
    low, high = float(laid.foot[:, 2].min()), float(laid.foot[:, 2].max()) + laid.high
    whole = Swept(tuple((x, y, z) for x, y, _ in ends for z in (low, high)))

    def end(k: int) -> tuple[Point, Point]:
        return laid.at(k, half, laid.high), laid.at(k, -half, laid.high)

    path = tuple(laid.at(k, 0.0, 0.0) for k in range(0, STATIONS, 4))
    seams = (Seam(c.code, "along the bottom", path, laid.long),) if c.joined == "welded" else ()
    return Built(
        c.id, (), tuple(members_of(laid)), tuple(_bought(laid, site)[0]), _shapes(laid),
        (Handle("aft", "x", end(0), "aft end", "aft"), Handle("fore", "x", end(last), "fore end", "fore")),
        (), high,
        solids=(Solid(c.id, "structure", plain(c.name), whole, pieces=tuple(Swept(b) for b in bodies)),),
        dams=(Dam(tuple(laid.at(k, 0.0, 0.0) for k in range(STATIONS))),),
        later=partial(_later, laid, site), joined="weld" if c.joined == "welded" else "", seams=seams,
    )  # fmt: skip
