"""What stands on and behind pods: doublers inside the transom, spray rails, tray, tread and ladder."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Quantity
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.crate import rectangle
from stirrup.core.hull.mesh import AFT
from stirrup.core.kinds.pods.choices import Pods
from stirrup.core.kinds.pods.shape import Pod
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel

Array = NDArray[np.float64]
DOUBLER_M, OVER_M = 0.10, 0.03  # wide; past the pod's side at its head and foot: working values
RAIL_M = 0.04  # of a spray rail out from the pod's outer side
TRAY_GAP_M = 0.01  # between tray and pods, so that water runs through
UP: Point = (0.0, 0.0, 1.0)


def _tuple(row: Array) -> Point:
    x, y, z = (float(v) for v in row)
    return (x, y, z)


def _sides(pod: Pod) -> tuple[tuple[str, int, int], ...]:
    """Inner and outer side by their fore corners, foot and head."""
    inner, outer = ((1, 5), (3, 7)) if pod.hand > 0 else ((3, 7), (1, 5))
    return (("inner", *inner), ("outer", *outer))


def doublers(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet, site: Site) -> list[Panel]:
    """Inside the transom, behind each side of each pod, along its lean."""
    if not c.doublers:
        return []
    skin = site.surface.thickness[AFT]
    out = []
    for pod in pods:
        letter, word = ("P", "port") if pod.hand > 0 else ("S", "starboard")
        for n, (side, low, high) in enumerate(_sides(pod), start=1):
            foot, head = pod.corners[low], pod.corners[high]
            up = (head - foot) / np.linalg.norm(head - foot)
            ahead = np.array([up[2], 0.0, -up[0]])
            middle = (foot + head) / 2 + ahead * (skin + sheet.thickness / 2)
            long = float(np.linalg.norm(head - foot)) - 2 * OVER_M
            if long < DOUBLER_M / 2:
                continue
            out.append(Panel(f"{c.id}/{letter.lower()}/doubler-{n}", f"{c.code}-{letter}D{n}",
                             f"{c.name}, doubler inside, {word} pod, {side} side", c.id, sheet,
                             rectangle(DOUBLER_M, long), (),
                             Frame(_tuple(middle), (0.0, 1.0, 0.0), _tuple(up)),
                             (0, 90, 180, 270)))  # fmt: skip
    return out


def rails(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet) -> list[Panel]:
    """Along the outer lower edge of each, level across."""
    if not c.rails:
        return []
    out = []
    for pod in pods:
        letter, word = ("P", "port") if pod.hand > 0 else ("S", "starboard")
        aft, fore = (2, 3) if pod.hand > 0 else (0, 1)
        a, b = pod.corners[aft], pod.corners[fore]
        along = (b - a) / np.linalg.norm(b - a)
        middle = (a + b) / 2 + np.array([0.0, pod.hand * RAIL_M / 2, sheet.thickness / 2])
        out.append(Panel(f"{c.id}/{letter.lower()}/rail", f"{c.code}-{letter}R", f"{c.name}, spray rail, "
                                                                                 f"{word}",
                         c.id, sheet, rectangle(float(np.linalg.norm(b - a)), RAIL_M), (),
                         Frame(_tuple(middle), _tuple(along), (0.0, 1.0, 0.0)), (0, 180)))  # fmt: skip
    return out


def tray(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet) -> list[Panel]:
    """A plate between their inner sides at the level of their tops."""
    if not c.tray:
        return []
    port = pods[0].corners
    aft, fore = float(port[4, 0]), float(port[5, 0])
    wide = 2 * (c.inner - TRAY_GAP_M)
    middle = ((aft + fore) / 2, 0.0, c.top - sheet.thickness / 2)
    return [Panel(f"{c.id}/tray", f"{c.code}-Y", f"{c.name}, tray between", c.id, sheet,
                  rectangle(fore - aft, wide), (), Frame(middle), (0, 90, 180, 270))]  # fmt: skip


def ladder_at(c: Pods, pods: tuple[Pod, Pod]) -> Point | None:
    """Where somebody climbs in: the middle of a pod's aft upper edge."""
    if c.ladder == "none":
        return None
    pod = pods[0] if c.ladder == "port" else pods[1]
    return _tuple((pod.corners[4] + pod.corners[6]) / 2)


def bought(c: Pods, pods: tuple[Pod, Pod], site: Site) -> list[Bought]:
    """Ladder and tread."""
    out: list[Bought] = []
    at = ladder_at(c, pods)
    if at is not None:
        entry = site.catalogue.find("ladder-3")
        out.append(
            Bought(f"{c.id}/ladder", f"{c.code}-L", f"{c.name}, ladder", c.id, entry, 1, entry.mass, at)
        )
    if c.cover != "none":
        area = sum((c.outer - c.inner) * float(p.corners[5, 0] - p.corners[4, 0]) for p in pods)
        top = np.mean([p.corners[4:].mean(axis=0) for p in pods], axis=0)
        out += covered(c, site.catalogue, c.cover, area, _tuple(top))
    return out


def findings(c: Pods) -> list[Finding]:
    """What is told of them."""
    if c.tray and c.motor is not None:
        fix = Fix("Leave the tray out", path=("fittings", c.id, "tray"), value=False)
        return [Finding("PODS-TRAY", "mend", c.id, "The motor hangs where the tray is",
                        "A tray between the pods closes the room that the motor turns and tilts in.", {},
                        "Leave it out, or hang the motor on a bracket behind it.", other=c.motor,
                        fixes=(fix,))]  # fmt: skip
    if c.doublers:
        values = {"wide": Quantity(DOUBLER_M, "m", True)}
        return [Finding("PODS-TRAY", "fine", c.id, "The transom is doubled where they pull on it",
                        "{wide} of doubler behind each side, inside; its ends rounded, so that they do not "
                        "start a crack.", values)]  # fmt: skip
    fix = Fix("Put doublers inside", path=("fittings", c.id, "doublers"), value=True)
    return [Finding("PODS-TRAY", "look", c.id, "Nothing doubles the transom behind them",
                    "Their sides end on a bare plate, which pants and cracks beside the weld.", {},
                    "Put doublers inside behind each side.", fixes=(fix,))]  # fmt: skip
