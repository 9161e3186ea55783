"""Pods that are bolted on: boxes closed by a sixth plate, with flanges outside that bolts go through."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.joints import no_fastener
from stirrup.core.fittings.through_bolts import shortest_bolt
from stirrup.core.hull.mesh import AFT
from stirrup.core.kinds.pods.choices import Pods
from stirrup.core.kinds.pods.shape import Pod
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.model import Bought, Frame, Panel

Array = NDArray[np.float64]
FLANGE_M = 0.05  # wide: a bolt's head and a spanner; working value
FOOT_M = 0.005  # over the edge of the bottom plate
PITCH_M = 0.10  # of bolts through a bedded flange; working value
BOLT_M = 0.008
BED_M = 0.003  # of sealant, and the washer
SEALANT_M3_PER_M = 0.010 * 0.003  # a bead pressed to 10 x 3 mm
CARTRIDGE_M3 = 0.00029


def _tuple(row: Array) -> Point:
    x, y, z = (float(v) for v in row)
    return (x, y, z)


def edges(pod: Pod) -> tuple[tuple[str, Array, Array, Array], ...]:
    """Edges of a pod on the transom that have a flange: name, its ends, and which way the flange goes."""
    corners, hand = pod.corners, float(pod.hand)
    inner, outer = ((1, 5), (3, 7)) if pod.hand > 0 else ((3, 7), (1, 5))
    up = corners[5] - corners[1]
    up = up / np.linalg.norm(up)
    port, off = np.array([0.0, 1.0, 0.0]), FOOT_M * up
    return (
        ("inner", corners[inner[0]] + off, corners[inner[1]], -hand * port),
        ("outer", corners[outer[0]] + off, corners[outer[1]], hand * port),
        ("top", corners[5], corners[7], up),
    )


def flanges(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet) -> list[Panel]:
    """Strips round the fore end of each, flat on the transom."""
    if c.joined != "bolted":
        return []
    out = []
    for pod in pods:
        letter, word = ("P", "port") if pod.hand > 0 else ("S", "starboard")
        for n, (name, a, b, way) in enumerate(edges(pod), start=1):
            along = (b - a) / np.linalg.norm(b - a)
            aft = np.cross(along, way)
            aft = aft / np.linalg.norm(aft) * (-1.0 if aft[0] > 0 else 1.0)
            middle = (a + b) / 2 + way * FLANGE_M / 2 + aft * sheet.thickness / 2
            out.append(Panel(f"{c.id}/{letter.lower()}/flange-{n}", f"{c.code}-{letter}F{n}",
                             f"{c.name}, flange, {word} pod, {name}", c.id, sheet,
                             rectangle(float(np.linalg.norm(b - a)), FLANGE_M), (),
                             Frame(_tuple(middle), _tuple(along), _tuple(way)),
                             (0, 90, 180, 270)))  # fmt: skip
    return out


def bolts(pods: tuple[Pod, Pod]) -> int:
    """How many go through the flanges of both."""
    return sum(count_at_pitch(float(np.linalg.norm(b - a)) - FLANGE_M, PITCH_M)
               for pod in pods for _, a, b, _ in edges(pod))  # fmt: skip


def grip_m(c: Pods, sheet: Sheet, site: Site) -> float:
    """Flange, bed, transom, and the doubler where there is one [m]."""
    return site.surface.thickness[AFT] + sheet.thickness * (2 if c.doublers else 1) + BED_M


def bought(c: Pods, pods: tuple[Pod, Pod], sheet: Sheet, site: Site) -> tuple[list[Bought], list[Finding]]:
    """Bolts and nuts by what they hold together, sealant under the flanges and the fore ends."""
    if c.joined != "bolted":
        return [], []
    stock, count = site.catalogue, bolts(pods)
    x, _, z = np.mean([p.corners[[1, 3, 5, 7]].mean(axis=0) for p in pods], axis=0)
    at: Point = (float(x), 0.0, float(z))
    grip = grip_m(c, sheet, site)
    bolt = shortest_bolt(stock, BOLT_M, grip)
    long = sum(float(np.linalg.norm(b - a)) for pod in pods for _, a, b, _ in edges(pod))
    seal, used = stock.plain("adhesive-ms"), math.ceil(2 * long * SEALANT_M3_PER_M / CARTRIDGE_M3)
    out = [Bought(f"{c.id}/bed", f"{c.code}-G", f"{c.name}, sealant under the flanges", c.id, seal, used,
                  used * seal.mass, at, "consumables")]  # fmt: skip
    if bolt is None:
        return out, [no_fastener(c.id, "bolts of the pods", grip)]
    rows = (("bolts", "Z", "bolts through the transom", bolt), ("nuts", "ZN", "nuts", stock.find("nut-m8")),
            ("washers", "ZW", "washers under the nuts", stock.find("washer-m8")))  # fmt: skip
    held = [Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, count,
                   count * entry.mass, at, "fasteners")
            for key, code, word, entry in rows]  # fmt: skip
    return [*held, *out], []
