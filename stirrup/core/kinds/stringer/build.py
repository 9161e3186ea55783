"""A stringer built: layers, glue and putty, its laminate or weld, and what is to be said of it."""

from __future__ import annotations

from functools import partial

import numpy as np
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.girder import Run, dam_of, site_run
from stirrup.core.fittings.girder_made import (
    LAP_M,
    LAPS_T,
    bonded,
    cap_of,
    doublers_of,
    layers_of,
    notched,
    seams_of,
    shapes_of,
    solid_of,
)
from stirrup.core.fittings.laminate import (
    WELD,
    thick_m,
)
from stirrup.core.kinds.stringer.choices import Stringer
from stirrup.core.parts.entries import Cloth, Sheet

declare(
    "layout",
    {
        "STRINGER-JOINT": "how a stringer is joined",
        "STRINGER-WATER": "water beside a stringer",
        "STRINGER-STIFF": "how stiff a stringer is",
        "STRINGER-NOTCH": "notch in a stringer",
        "STRINGER-WORK": "cautions of a stringer",
    },
    acceptable=True,
    pace="behind",
)

FORMER_PLIES = 3  # over foam: working value
LEFT_SHARE = 0.6  # of its height under a notch: working value
LAMINATE_GPA = 11.0  # stitched cloth and resin, by hand


def stiffness_nm2(run: Run, sheet: Sheet, cloth: Cloth | None) -> float | None:
    """E I of its middle about its own half height: core, webs and top of laminate [N m2]; None where its
    core's modulus is not known. The bottom, which works with it, is left out: on the safe side."""
    e, high = sheet.stuff.e_gpa, float(np.median(run.high))
    if e is None:
        return None
    t_core = sheet.thickness
    out = e * 1e9 * (run.thick - run.c.hollow) * high**3 / 12
    if run.c.hollow:
        # its cap, at half the height; the webs end under it
        out += e * 1e9 * run.c.hollow * t_core * ((high - t_core) / 2) ** 2
    if cloth is not None and run.c.joined == "laminated over":
        t = thick_m(cloth, run.c.plies)
        out += LAMINATE_GPA * 1e9 * (2 * t * high**3 / 12 + run.thick * t * (high / 2) ** 2)
    return out


def _joint(run: Run, c: Stringer, sheet: Sheet) -> Finding:
    metal = sheet.stuff.kind == "metal"
    a, b = run.bevels_deg
    values = {"aft": Quantity(a, "deg"), "fore": Quantity(b, "deg"), "long": Quantity(run.long, "m"),
              "lap": Quantity(LAP_M, "m"), "gap": Quantity(c.gap, "m", True)}  # fmt: skip
    if metal != (c.joined == "welded"):
        right = "welded" if metal else "laminated over"
        fix = Fix(f"Have it {right}", path=("fittings", c.id, "joined"), value=right)
        return Finding("STRINGER-JOINT", "mend", c.id, f"This core is not {c.joined}",
                       f"{plain(sheet.name)} is {right}, to a hull of its own kind.", values,
                       f"Have it {right}, or take another sheet.", fixes=(fix,))  # fmt: skip
    bevel = "Its lower edge is bevelled by {aft} aft and {fore} fore."
    if metal:
        return Finding("STRINGER-JOINT", "fine", c.id, "How it is welded",
                       f"{{long}} along the bottom, stitched on both sides in turn. {bevel}",
                       values)  # fmt: skip
    if c.layers == 1 and run.long > sheet.width and c.doubled:
        values["each"] = Quantity(LAPS_T * sheet.thickness, "m", True)
        return Finding("STRINGER-JOINT", "fine", c.id, "Its joints have doublers",
                       f"{{each}} of doubler to either side of a joint, its edges rounded so that cloth "
                       f"lies over them. {bevel}", values)  # fmt: skip
    if c.layers == 1 and run.long > sheet.width:
        fix = Fix("Put doublers behind its joints", path=("fittings", c.id, "doubled"), value=True)
        return Finding("STRINGER-JOINT", "look", c.id, "Its only layer is butted",
                       f"{{long}} is longer than the sheet, and nothing runs past the joint. {bevel}",
                       values, "Scarf it by eight times its thickness, put doublers behind its joints, or "
                       "take two thinner layers with their joints apart.", fixes=(fix,))  # fmt: skip
    if not c.gap:
        return Finding("STRINGER-JOINT", "look", c.id, "It stands hard on the bottom",
                       f"Without a bed its edge prints through the skin. {bevel}", values,
                       "Leave 3 to 6 mm for putty.")  # fmt: skip
    return Finding("STRINGER-JOINT", "fine", c.id, "How it is bedded",
                   f"{bevel} On {{gap}} of putty with a fillet along both sides, its top edges rounded by "
                   "10 mm, cloth over it and {lap} down on the bottom on either side.", values)  # fmt: skip


def _water(run: Run) -> Finding:
    c = run.c
    if c.limber:
        values = {"wide": Quantity(c.limber, "m", True), "every": Quantity(c.limber_every, "m")}
        return Finding("STRINGER-WATER", "fine", c.id, "Water runs through it",
                       "A limber hole of {wide} every {every}, its edges sealed.", values)  # fmt: skip
    fix = Fix("Limber holes of {wide}", path=("fittings", c.id, "limber"), value=0.04)
    return Finding("STRINGER-WATER", "look", c.id, "Water stands beside it",
                   "Without limber holes what lies outboard of it does not reach the bilge.",
                   {"wide": Quantity(0.04, "m", True)}, "Give it limber holes, or a drain at its aft end.",
                   fixes=(fix,))  # fmt: skip


def _stiff(run: Run, sheet: Sheet, site: Site) -> Finding:
    cloth = site.catalogue.find(run.c.cloth)
    ei = stiffness_nm2(run, sheet, cloth if isinstance(cloth, Cloth) else None)
    if ei is None:
        return Finding("STRINGER-STIFF", "look", run.c.id, "Nobody knows how stiff its core is",
                       "The catalogue has no modulus of elasticity for it.", {},
                       "Foam counts as a former: give it plies that are stiff enough alone.")  # fmt: skip
    high = float(np.median(run.high))
    work = Working(
        "E I = core E b h³ / 12 + laminate E (2 t h³ / 12 + b t (h / 2)²)",
        (Input("h", Quantity(high, "m", True), "the median of its height"),
         Input("b", Quantity(run.thick, "m", True), "its layers"),
         Input("plies", Quantity(run.c.plies, "count"))),
        Quantity(round(ei), "N m²"), "rules of the trade, “Stringers”",
    )  # fmt: skip
    if sheet.stuff.kind == "foam" and run.c.plies < FORMER_PLIES:
        return Finding("STRINGER-STIFF", "look", run.c.id, "Its plies carry it, and they are few",
                       "Foam is a former: {count} plies over it make {ei}; {least} at least are usual.",
                       {"ei": Quantity(round(ei), "N m²"), "count": Quantity(run.c.plies, "count"),
                        "least": Quantity(FORMER_PLIES, "count")}, "Lay more plies over it.",
                       work, fixes=(Fix("{least} plies", path=("fittings", run.c.id, "plies"),
                                        value=FORMER_PLIES),))  # fmt: skip
    return Finding("STRINGER-STIFF", "fine", run.c.id, "How stiff it is",
                   "{ei}, {high} high for most of its length: hold it against the one that comes out, "
                   "and twice as high is up to eight times as stiff.",
                   {"ei": Quantity(round(ei), "N m²"), "high": Quantity(high, "m", True)},
                   working=work)  # fmt: skip


def _notch(run: Run, c: Stringer) -> list[Finding]:
    """Whether enough is left under a notch in its top."""
    if not c.notch:
        return []
    high = float(np.interp(c.notch_at, run.s, run.high))
    left = max(high - c.notch_deep, 0.0)
    values = {"left": Quantity(left, "m", True), "high": Quantity(high, "m", True),
              "share": Quantity(LEFT_SHARE * 100, "%")}  # fmt: skip
    if not c.notch / 2 <= c.notch_at <= run.long - c.notch / 2:
        return [Finding("STRINGER-NOTCH", "mend", c.id, "Its notch is not within it",
                        "It lies past an end.", values, "Move it along.")]  # fmt: skip
    if left >= LEFT_SHARE * high:
        return [Finding("STRINGER-NOTCH", "fine", c.id, "Enough is left under its notch",
                        "{left} of {high} are left.", values)]  # fmt: skip
    return [Finding("STRINGER-NOTCH", "mend", c.id, "Little is left under its notch",
                    "{left} of {high} are left; under {share} it is a hinge there.", values,
                    "Make the notch shallower, or set the pump beside it.")]  # fmt: skip


def _work(id_: str, joined: str) -> Finding:
    if joined == "welded":
        return Finding("STRINGER-WORK", "look", id_, "Weld it away from fuel and foam", WELD, {})
    return Finding("STRINGER-WORK", "look", id_, "One at a time, the hull propped",
                   "Level the hull and prop it where the old one comes out, so that she keeps her shape; "
                   "the next one only when this one is cured. Dust mask P3 while grinding, vapour "
                   "cartridges and gloves while it is wet.", {})  # fmt: skip


def findings_of(run: Run, c: Stringer, sheet: Sheet, site: Site) -> list[Finding]:
    """All that is to be said of it; comes behind the hand."""
    return [
        *_notch(run, c),
        _joint(run, c, sheet),
        _water(run),
        _stiff(run, sheet, site),
        _work(run.c.id, run.c.joined),
    ]


def _cut(run: Run, c: Stringer, outline: Polygon) -> Polygon:
    """Less the notch in its top."""
    if not c.notch:
        return largest(outline)
    return notched(
        outline, (c.notch_at, float(np.interp(c.notch_at, run.s, run.top))), c.notch, c.notch_deep
    )


def build(c: Stringer, site: Site) -> Built:
    """Raises CoreError where there is no room for it."""
    run, sheet = site_run(c, site)
    panels = layers_of(run, sheet, partial(_cut, run, c))
    panels += cap_of(run, sheet)
    if c.doubled and c.layers == 1:
        panels += doublers_of(run, sheet, panels)
    last = len(run.x) - 1
    half = run.thick / 2
    top_line = (run.at(0, 0.0, float(run.top[0])), run.at(last, 0.0, float(run.top[-1])))

    def end(k: int) -> tuple[Point, Point]:
        z = float(run.top[k])
        return run.at(k, half, z), run.at(k, -half, z)

    return Built(
        c.id, tuple(panels), (), tuple(bonded(run, sheet, site, panels)), shapes_of(run),
        (Handle("aft", "x", end(0), "aft end", "aft"), Handle("fore", "x", end(last), "fore end", "fore"),
         Handle("top", "z", top_line, "top", "top")),
        (), float(run.top.max()), solids=(solid_of(run),), dams=(dam_of(run),),
        later=partial(findings_of, run, c, sheet, site),
        joined="weld" if c.joined == "welded" else "laminate",
        seams=seams_of(run, c.code, "along the bottom"),
    )  # fmt: skip
