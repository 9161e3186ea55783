"""Whether a transom carries its motor: how thick it is for its brackets, bolts, core and height."""

from __future__ import annotations

import math

from shapely.geometry import Point as FlatPoint

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.laminate import thick_m
from stirrup.core.kinds.transom.loads import (
    APART_M,
    DOWN_M,
    LOWER_M,
    PROOF_PA,
    STRESS_AREA_M2,
    UPPER_M,
    Asked,
    asked_of,
    stress_pa,
    strip_m,
)
from stirrup.core.kinds.transom.shape import Shape, motor_of, motor_y
from stirrup.core.parts.entries import Cloth, Sheet

declare(
    "layout",
    {
        "TRANSOM-THICK": "how thick a transom is for its motor",
        "TRANSOM-TOP": "a transom's height and its motor's",
        "TRANSOM-BOLTS": "bolts of a motor",
        "TRANSOM-BENDS": "whether a transom's core holds",
        "TRANSOM-WORK": "cautions of a transom",
    },
    acceptable=True,
    pace="behind",
)

THIN_M, THICK_M = 0.035, 0.070  # what the brackets of small outboards take: working values
WASHER_M, HOLE_M = 0.044, 0.013  # across; of a large washer M12 and its hole
PLATE_M = (0.40, 0.29)  # of one under all four nuts
CRUSH_PA = {"wood": 6e6, "composite": 4e6, "plastic": 4e6}
SAME_M = 0.003
BOLT_M = 0.012
SAFE = {"wood": 3.0, "metal": 1.5}  # rupture or yield over what is allowed
ELSE_SAFE = 3.0


def plate_of(s: Shape, site: Site) -> Sheet | None:
    """The plate on its inner face; None where there is none."""
    return site.catalogue.sheet(s.c.plate) if s.c.inside == "plate" else None


def total_m(s: Shape, site: Site) -> float:
    """What the motor's brackets go over [m]: skin, core, and its plate; laminate as its plies press it."""
    plate = plate_of(s, site)
    return s.c.outer + s.thick + (plate.thickness if plate else 0.0) + laminate_m(s, site)


def laminate_m(s: Shape, site: Site) -> float:
    """Of its inner face [m]."""
    cloth = site.catalogue.find(s.c.cloth)
    if s.c.inside != "laminated" or not isinstance(cloth, Cloth):
        return 0.0
    return thick_m(cloth, s.c.plies)


def pattern(s: Shape, site: Site, off: float = 0.0) -> tuple[Point2, ...]:
    """The motor's four holes in a sheet so far inside of its plane, drilled square to it: y, and up from
    its foot [m]."""
    y, top = motor_y(s.c, site), s.plane.up(s.c.top) - off * s.plane.lean
    upper, lower = top - DOWN_M, top - DOWN_M - APART_M
    rows = ((UPPER_M, upper), (LOWER_M, lower))
    return tuple((y + side * wide / 2, u) for wide, u in rows for side in (1, -1))


def has_room(s: Shape, site: Site) -> bool:
    """Whether all four holes lie in it, twice their own width from its edge."""
    room = s.outline.buffer(-2 * BOLT_M)
    return all(room.covers(FlatPoint(at)) for at in pattern(s, site))


def _thick(s: Shape, site: Site) -> Finding:
    total = total_m(s, site)
    values = {"total": Quantity(total, "m", True), "least": Quantity(THIN_M, "m", True),
              "most": Quantity(THICK_M, "m", True)}  # fmt: skip
    text = "With its skin it is {total} thick; brackets take {least} to {most}. Its motor's manual decides."
    if THIN_M <= total <= THICK_M:
        return Finding("TRANSOM-THICK", "fine", s.c.id, "Its motor's brackets go over it", text, values)
    if total < THIN_M:
        return Finding("TRANSOM-THICK", "mend", s.c.id, "Too thin for a motor", text, values,
                       "Another layer, or a pad over both faces where the motor hangs.")  # fmt: skip
    return Finding("TRANSOM-THICK", "mend", s.c.id, "Too thick for a motor's brackets", text, values,
                   "One layer less, or a rabbet where the brackets go over it.")  # fmt: skip


def _top(s: Shape, motor: ItemBase) -> list[Finding]:
    """Whether motor and transom say the same height."""
    c, said = s.c, motor.mounted
    top = round(c.top - s.keel, 4)  # a motor is mounted so high over the keel itself
    if said is None:
        fix = Fix("Mount it at {top}", path=("items", motor.id, "mounted"), value=top)
        return [Finding("TRANSOM-TOP", "look", c.id, "Nobody said how high its motor hangs",
                        f"The transom is made for a mounting top of {{top}}; {plain(motor.name)} has none.",
                        {"top": Quantity(top, "m", True)}, "Tell the motor the same height.",
                        other=motor.id, fixes=(fix,))]  # fmt: skip
    values = {"top": Quantity(top, "m", True), "said": Quantity(said, "m", True),
              "off": Quantity(abs(top - said), "m", True)}  # fmt: skip
    if abs(top - said) <= SAME_M:
        return [Finding("TRANSOM-TOP", "fine", c.id, "It is as high as its motor hangs",
                        "Mounting top {top} over the keel, and the motor is planned for that.", values,
                        other=motor.id)]  # fmt: skip
    fixes = (Fix("Cut it at {said}", path=("fittings", c.id, "top"), value=round(said + s.keel, 4)),
             Fix("Mount the motor at {top}", path=("items", motor.id, "mounted"), value=top))  # fmt: skip
    return [Finding("TRANSOM-TOP", "mend", c.id, "Transom and motor differ in height",
                    "The transom is cut at {top}, the motor is planned at {said}: {off} apart.", values,
                    "Give both the same height, by the plate over the propeller.", other=motor.id,
                    fixes=fixes)]  # fmt: skip


def asked(s: Shape, motor: ItemBase) -> Asked | None:
    """What its motor asks; None where its power or shaft are not known."""
    if motor.power is None or motor.shaft is None:
        return None
    c = s.c
    face = s.plane.x(c.top) - c.outer * s.plane.long
    behind = face - motor.mass.centre[0]
    return asked_of(motor.power * 1000, motor.shaft, c.propeller, motor.mass.value, behind)


def _bolts(s: Shape, a: Asked) -> Finding:
    """Pull of an upper bolt against its proof load, and what its washer or plate presses on."""
    c, kind = s.c, s.core.stuff.kind
    proof = PROOF_PA * STRESS_AREA_M2
    one = math.pi / 4 * (WASHER_M**2 - HOLE_M**2)
    area = PLATE_M[0] * PLATE_M[1] / 4 if c.backing == "backing plate" else one
    crush = CRUSH_PA.get(kind)
    takes = proof if crush is None or c.inside == "plate" else min(proof, crush * area)
    values = {"pull": Quantity(a.pull, "N"), "takes": Quantity(takes, "N")}
    work = Working(
        "pull = moment / 0.203 m / 2, and a quarter of the thrust",
        (Input("thrust at rest x 1.5", Quantity(a.thrust, "N"), "momentum theory x 0.65"),
         Input("lever", Quantity(a.lever, "m", True), "bolts to propeller shaft"),
         Input("moment of the thrust", Quantity(a.by_thrust, "N m")),
         Input("moment of three times its weight", Quantity(a.by_slam, "N m")),
         Input("proof load of M12 A4-70", Quantity(proof, "N"))),
        Quantity(a.pull, "N"), "rules of the trade, “Transoms”",
    )  # fmt: skip
    text = "An upper bolt is pulled by {pull}; bolt, washer and core take {takes}. A screening."
    if a.pull <= takes:
        return Finding("TRANSOM-BOLTS", "fine", c.id, "Its motor's bolts hold", text, values, working=work)
    fix = Fix("A plate under its nuts", path=("fittings", c.id, "backing"), value="backing plate")
    return Finding("TRANSOM-BOLTS", "mend", c.id, "A bolt would pull into the core", text, values,
                   "Spread its pull by a plate under the nuts.", work,
                   fixes=() if c.backing == "backing plate" else (fix,))  # fmt: skip


def _bends(s: Shape, a: Asked) -> Finding:
    """Stress of a strip of its core under the moment."""
    c, stuff = s.c, s.core.stuff
    if stuff.yield_mpa is None:
        return Finding("TRANSOM-BENDS", "look", c.id, "Nobody knows how strong its core is",
                       "The catalogue has no strength for it.", {},
                       "Ask its maker for transoms of this power.")  # fmt: skip
    x0, _, x1, _ = s.outline.bounds
    wide = strip_m(x1 - x0)
    stress = stress_pa(a.moment, wide, s.thick) / 1e6
    most = stuff.yield_mpa / SAFE.get(stuff.kind, ELSE_SAFE)
    values = {"stress": Quantity(round(stress, 2), "MPa"), "most": Quantity(round(most, 2), "MPa")}
    work = Working(
        "stress = moment / (b t² / 6)",
        (Input("moment", Quantity(a.moment, "N m")),
         Input("b", Quantity(wide, "m"), "three bolt spans at most"),
         Input("t", Quantity(s.thick, "m", True), "its core alone")),
        Quantity(stress, "MPa"), "rules of the trade, “Transoms”",
    )  # fmt: skip
    text = "A strip of its core is bent to {stress}; {most} are allowed. Skins are left out. A screening."
    if stress <= most:
        return Finding(
            "TRANSOM-BENDS", "fine", c.id, "Its core holds the motor", text, values, working=work
        )
    fix = Fix("One layer more", path=("fittings", c.id, "layers"), value=c.layers + 1)
    return Finding("TRANSOM-BENDS", "mend", c.id, "Its core is too weak for the motor", text, values,
                   "Another layer, a stronger sheet, or knees to the stringers.", work,
                   fixes=(fix,) if c.layers < 5 else ())  # fmt: skip


def findings_of(s: Shape, site: Site) -> list[Finding]:
    """All that is to be said of it; what comes behind the hand."""
    out, motor = [_work(s)], motor_of(s.c, site)
    if motor is None:
        return out
    out += [_thick(s, site), *_top(s, motor)]
    a = asked(s, motor)
    if a is None:
        return [*out, Finding("TRANSOM-BENDS", "look", s.c.id, "Nobody said what its motor does",
                              f"Power and shaft of {plain(motor.name)} are not in the plan.", {},
                              "Give them, and bolts and core are looked at.", other=motor.id)]  # fmt: skip
    if s.c.motor_held == "four bolts" and not has_room(s, site):
        out.append(Finding("TRANSOM-BOLTS", "mend", s.c.id, "No room for its motor's bolts",
                           "The usual four holes, 327 mm apart and 203 mm high, do not lie in it.", {},
                           "Make its mounting top higher or broader, or hang the motor elsewhere.",
                           other=motor.id))  # fmt: skip
        return [*out, _bends(s, a)]
    return [*out, *([_bolts(s, a)] if s.c.motor_held == "four bolts" else []), _bends(s, a)]


def _work(s: Shape) -> Finding:
    wood = s.core.stuff.kind == "wood"
    seal = "Seal every edge of the wood with three coats; " if wood else ""
    return Finding("TRANSOM-WORK", "look", s.c.id, "Before the old one comes out",
                   "The motor off by a hoist that is made for it, never two at the cowl; the sides "
                   "propped and tied to one another, since the transom holds them. Dust mask P3 while "
                   f"grinding, vapour cartridges and gloves while it is wet. {seal}drill each bolt's hole "
                   "larger, fill it, drill it anew.", {})  # fmt: skip
