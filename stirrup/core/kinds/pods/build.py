"""Pods built: their plates, seams or laminate, and what is to be said of them."""

from __future__ import annotations

from functools import partial
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from shapely import box

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.gives import Built, Handle
from stirrup.core.contract.gives import Shape as Drawn
from stirrup.core.contract.kind import Site
from stirrup.core.contract.seam import Seam
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.laminate import SPARE, WELD, WET, laid, resin, wire
from stirrup.core.kinds.pods import bolted, extras
from stirrup.core.kinds.pods.choices import LEAST_WIDE_M, Pods
from stirrup.core.kinds.pods.shape import ALL_FACES, FACES, Pod, lay_out
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel
from stirrup.core.space.shapes import Swept
from stirrup.core.space.solid import Solid

declare(
    "layout",
    {
        "PODS-LIFT": "what pods carry", "PODS-ROOM": "room for the motor between pods",
        "PODS-JOINT": "how pods are joined", "PODS-TRAY": "what stands between and behind "
        "pods", "PODS-INSIDE": "inside of pods",
        "PODS-WORK": "cautions of pods",
    },
    acceptable=True,
    pace="behind",
)  # fmt: skip

Array = NDArray[np.float64]
KG_PER_M_WELD = 0.09  # of wire, all round, one pass from outside: working value
BESIDE_MOTOR_M = 0.28  # from its middle to a pod: it turns and tilts between them. Working value
CODES = {"bottom": "B", "top": "T", "starboard side": "C", "port side": "D", "aft end": "E",
         "fore end": "A"}  # fmt: skip
METAL = ("welded", "bolted")  # of which the boxes are welded


def _moved(pod: Pod, name: str, t: float) -> Array:
    """Corners of a plate: bottom and top go over the edges of the others, the sides over the aft end's."""
    corners = pod.corners.copy()
    if name in ("bottom", "top"):
        return corners[list(ALL_FACES[name])]
    fore_low, fore_high = corners[[1, 3]], corners[[5, 7]]
    slope = (corners[2, 2] - corners[0, 2]) / (corners[2, 1] - corners[0, 1])
    # over the plate of the bottom, on both of their faces
    low = corners[[0, 0, 2, 2], 2] + t * (np.hypot(1.0, slope) + abs(slope))
    high = corners[4, 2] - t
    for i in range(8):
        side, fore = i >> 1 & 1, i & 1
        z = high if i >> 2 & 1 else low[2 * side]
        share = (z - fore_low[side, 2]) / (fore_high[side, 2] - fore_low[side, 2])
        x = fore_low[side, 0] + share * (fore_high[side, 0] - fore_low[side, 0])
        corners[i, 0] = x if fore else corners[i, 0] + (t if name != "aft end" else 0.0)
        corners[i, 2] = z
    if name in ("aft end", "fore end"):
        # between the sides, where the bottom is so much higher or lower
        end = 0 if name == "aft end" else 1
        for side, way in ((0, 1.0), (1, -1.0)):
            corners[[2 * side + end, 2 * side + end + 4], 1] += way * t
            corners[2 * side + end, 2] += way * t * slope
    return corners[list(ALL_FACES[name])]


def plate(c: Pods, pod: Pod, name: str, sheet: Sheet) -> Panel:
    """One plate in its true shape, its outer side on the pod's outside."""
    at = _moved(pod, name, sheet.thickness)
    along = (at[1] - at[0]) / np.linalg.norm(at[1] - at[0])
    normal = np.cross(along, at[3] - at[0])
    normal /= np.linalg.norm(normal)
    if normal @ (pod.corners.mean(axis=0) - at[0]) < 0:
        normal = -normal
    across = np.cross(normal, along)
    origin = at[0] + normal * sheet.thickness / 2
    flat = [(float((p - at[0]) @ along), float((p - at[0]) @ across)) for p in at]
    side, word = ("P", "port pod") if pod.hand > 0 else ("S", "starboard pod")
    (ox, oy, oz), (ax, ay, az), (bx, by, bz) = (row.tolist() for row in (origin, along, across))
    frame = Frame((ox, oy, oz), (ax, ay, az), (bx, by, bz))
    label = f"{c.code}-{side}{CODES[name]}"
    key = f"{c.id}/{side.lower()}/{name.replace(' ', '-')}"
    turns = (0, 90, 180, 270)
    return Panel(key, label, f"{c.name}, {word}, {name}", c.id, sheet, tuple(flat), (), frame, turns)


def seam_m(pod: Pod) -> float:
    """All edges of a pod, those against the transom too [m]."""
    edges = {tuple(sorted(pair)) for ring in FACES.values() for pair in pairwise((*ring, ring[0]))}
    return float(sum(np.linalg.norm(pod.corners[a] - pod.corners[b]) for a, b in edges))


def _seams(c: Pods, pods: tuple[Pod, Pod]) -> tuple[Seam, ...]:
    """All edges of each, tight from outside."""
    if c.joined != "welded":
        return ()  # boxes that are bolted on are welded on the bench
    out = []
    for pod in pods:
        side, word = ("P", "port") if pod.hand > 0 else ("S", "starboard")
        path = tuple((float(x), float(y), float(z)) for x, y, z in pod.corners)
        out.append(Seam(f"{c.code}-{side}", f"all edges of the {word} pod", path, seam_m(pod), "all round"))
    return tuple(out)


def _bought(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet, site: Site) -> list[Bought]:
    stock, middle = site.catalogue, np.mean([p.corners.mean(axis=0) for p in pods], axis=0)
    at: Point = (float(middle[0]), 0.0, float(middle[2]))
    if c.joined in METAL:
        out = [wire(c, stock, sum(map(seam_m, pods)), KG_PER_M_WELD, at)]
    else:
        area = sum(p.polygon.area for pod in pods for p in plates(c, pod, sheet))
        cloth, wet = laid(c, stock, ("cloth", "C", "laminate"), c.cloth, area * c.plies * SPARE, at)
        out = [*cloth, *resin(c, stock, c.resin, wet, at)]
    plug = stock.find("plug-transom")
    return [*out, Bought(f"{c.id}/plugs", f"{c.code}-Q", f"{c.name}, drain plugs", c.id, plug, 2,
                         2 * plug.mass, at)]  # fmt: skip


def plates(c: Pods, pod: Pod, sheet: Sheet) -> list[Panel]:
    """Its five plates, or six where it is a box of its own."""
    names = ALL_FACES if c.joined == "bolted" else FACES
    return [plate(c, pod, name, sheet) for name in names]


def _lift(c: Pods, pods: tuple[Pod, Pod], kg: float) -> Finding:
    litres = sum(p.solid.volume_m3 for p in pods) * 1000
    aft = float(min(p.corners[:, 0].min() for p in pods))
    values = {"litres": Quantity(litres, "litres"), "kg": Quantity(kg, "kg"), "long": Quantity(c.long, "m"),
              "carries": Quantity(litres - kg, "kg")}  # fmt: skip
    work = Working(
        "carries = litres x 1 kg - mass, all under water",
        (Input("both pods", Quantity(litres, "litres")), Input("their plates", Quantity(kg, "kg")),
         Input("aft end from transom", Quantity(aft, "m"))),
        Quantity(litres - kg, "kg"), "Archimedes; rules of the trade, “Pods”",
    )  # fmt: skip
    return Finding("PODS-LIFT", "fine", c.id, "What they carry",
                   "{litres} in both, {kg} of plates: under water they carry {carries} at the very stern. "
                   "Her trim with them is in the strip; look at it with fuel and people aft.", values,
                   working=work)  # fmt: skip


def _room(c: Pods, motor: ItemBase | None) -> list[Finding]:
    if motor is None:
        return []
    gap = min(c.inner - motor.mass.centre[1], c.inner + motor.mass.centre[1])
    values = {"gap": Quantity(gap, "m", True), "least": Quantity(BESIDE_MOTOR_M, "m", True)}
    if gap >= BESIDE_MOTOR_M - 1e-9:
        return [Finding("PODS-ROOM", "fine", c.id, "The motor turns between them",
                        "{gap} from its middle to the nearer pod; {least} are the least. Turn it hard over "
                        "and tilt it before you tack them.", values, other=motor.id)]  # fmt: skip
    right = round(BESIDE_MOTOR_M + abs(motor.mass.centre[1]), 3)
    fix = Fix("Inner sides {right} out", path=("fittings", c.id, "inner"), value=right)
    room = right + LEAST_WIDE_M <= c.outer
    return [Finding("PODS-ROOM", "mend", c.id, "The motor strikes a pod",
                    "{gap} from its middle to the nearer pod; it needs {least} to turn and tilt.",
                    {**values, "right": Quantity(right, "m", True)}, "Set their inner sides further out.",
                    other=motor.id, fixes=(fix,) if room else ())]  # fmt: skip


HELD: dict[str, Literal["", "laminate", "weld"]] = {
    "welded": "weld", "glassed over": "laminate", "bolted": ""
}  # fmt: skip
JOINED = {
    "welded": "{long} of seams, all round: tack both pods, weld by turns on either side so that the "
              "transom stays flat.",
    "glassed over": "{long} of edges, filleted and glassed inside before the last side goes on, then "
                    "outside.",
}  # fmt: skip


def _bolted(c: Pods, pods: tuple[Pod, Pod]) -> Finding:
    """How they are joined."""
    values = {"count": Quantity(bolted.bolts(pods), "count"), "every": Quantity(bolted.PITCH_M, "m", True)}
    return Finding(
        "PODS-JOINT", "look", c.id, "Each bolt is a hole under or near the water",
        "{count} bolts M8 at {every} or closer through flange and transom, each one bedded, with a wide "
        "washer inside; between other metals isolated. They come off again, and the old transom carries "
        "them: look for wet stains inside after the first runs.", values,
    )  # fmt: skip


def _joint(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet) -> Finding:
    metal = sheet.stuff.kind == "metal"
    values = {"long": Quantity(sum(map(seam_m, pods)), "m")}
    if metal and c.joined == "bolted":
        return _bolted(c, pods)
    if metal != (c.joined in METAL):
        right = "welded" if metal else "glassed over"
        fix = Fix(f"Have them {right}", path=("fittings", c.id, "joined"), value=right)
        return Finding("PODS-JOINT", "mend", c.id, f"This sheet is not {c.joined}",
                       f"{plain(sheet.name)} is {right}, on a hull of its own kind.", values,
                       f"Have them {right}, or take another sheet.", fixes=(fix,))  # fmt: skip
    return Finding("PODS-JOINT", "fine", c.id, "How they are joined",
                   f"{JOINED[c.joined]} The old transom carries them.", values)  # fmt: skip


def _inside(c: Pods) -> Finding:
    if c.inside == "sealed dry":
        return Finding("PODS-INSIDE", "look", c.id, "Prove them tight before paint",
                       "A little air, no more than a hand pump gives, and soapy water on every seam. The "
                       "plug of each comes out on land, every time.", {})  # fmt: skip
    return Finding("PODS-INSIDE", "look", c.id, "Drained and aired: they fill when she is swamped",
                   "They carry her afloat, and nothing once water stands over their vents: so it is "
                   "counted. Drain at the lowest corner, vent at the highest.", {})  # fmt: skip


def _work(c: Pods) -> Finding:
    if c.joined in METAL:
        return Finding("PODS-WORK", "look", c.id, "Nobody welds a closed box",
                       f"The plug out while it is hot, or it bursts. {WELD}", {})  # fmt: skip
    return Finding("PODS-WORK", "look", c.id, "Grind and glass with air and cover", WET, {})


def _findings(
    c: Pods, pods: tuple[Pod, Pod], sheet: Sheet, motor: ItemBase | None, kg: float
) -> list[Finding]:
    return [_lift(c, pods, kg), *_room(c, motor), _joint(c, pods, sheet), *extras.findings(c), _inside(c),
            _work(c)]  # fmt: skip


def _drawn(pod: Pod) -> tuple[Drawn, ...]:
    side = pod.face("port side" if pod.hand > 0 else "starboard side")
    return (Drawn("form-body", pod.face("top")), Drawn("form-body", side, view="side"),
            Drawn("form-body", pod.face("aft end"), view="across"))  # fmt: skip


def build(c: Pods, site: Site) -> Built:
    """Raises CoreError where there is no bottom to be flush with."""
    sheet, pods = site.catalogue.sheet(c.skin), lay_out(c, site.surface)
    plated = [p for pod in pods for p in plates(c, pod, sheet)]
    added = [*extras.doublers(c, pods, sheet, site), *extras.rails(c, pods, sheet),
             *extras.tray(c, pods, sheet), *bolted.flanges(c, pods, sheet)]  # fmt: skip
    panels = (*plated, *added)
    held, told = bolted.bought(c, pods, sheet, site)
    bought = [*_bought(c, pods, sheet, site), *extras.bought(c, pods, site), *held]
    found = site.named(c.motor)
    motor = found[0] if found is not None and isinstance(found[0], ItemBase) else None
    kg = sum(p.mass_kg for p in panels) + sum(b.mass_kg for b in bought)
    aft = float(pods[0].corners[:, 0].min())
    fore = float(pods[0].corners[:, 0].max())
    bodies = [tuple((float(x), float(y), float(z)) for x, y, z in pod.corners) for pod in pods]
    name = plain(c.name)
    solids = tuple(Solid(c.id, "structure", name, Swept(body), company="motor") for body in bodies)
    return Built(
        c.id, panels, (), tuple(bought), tuple(d for pod in pods for d in _drawn(pod)),
        (Handle("top", "z", ((aft, 0.0, c.top), (fore, 0.0, c.top)), "top", "top"),),
        tuple(told), c.top, box(aft, c.inner, fore, c.outer), solids=solids,
        later=partial(_findings, c, pods, sheet, motor, kg),
        joined=HELD[c.joined],
        seams=_seams(c, pods), climbs=() if (climb := extras.ladder_at(c, pods)) is None else (climb,),
    )  # fmt: skip
