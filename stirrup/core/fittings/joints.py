"""Fasteners of a deck by joint, their grip, and the way in past the gunwale's lip."""

from __future__ import annotations

import math
from typing import Protocol

import numpy as np
from shapely.geometry import Polygon

from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Quantity, Working
from stirrup.core.fittings.contract import Site
from stirrup.core.fittings.edges import breadths_at
from stirrup.core.parts.catalogue import (
    MATERIALS,
    Fastener,
    count_at_pitch,
    fastener_for,
    find,
    plain,
    sheet,
    stick,
)
from stirrup.core.parts.model import Bought, Member, Panel

RIVETS_FOR_BRACKET = 4
SCREW_BITE_M = 0.003  # a screw must come this far through the member


class DeckLike(Protocol):
    """What this module reads of a deck's choices."""

    id: str
    name: str
    skin: str
    members: str
    fastener_pitch: float
    rivet: str

    @property
    def code(self) -> str: ...


def mean_place(members: list[Member]) -> Point:
    """Centre of several members by mass [m]."""
    mass = np.array([m.mass_kg for m in members])
    c = mass @ np.array([m.centre for m in members]) / mass.sum()
    return (float(c[0]), float(c[1]), float(c[2]))


def grip_finding(
    place: str, joint: str, fastener: Fastener, layers: tuple[tuple[str, float], ...]
) -> Finding:
    """Whether the fastener's grip range holds the sum of the layers."""
    grip = sum(t for _, t in layers)
    if grip > fastener.grip_max + 1e-9:
        short, word = grip - fastener.grip_max, "short"
    elif grip < fastener.grip_min - 1e-9:
        short, word = fastener.grip_min - grip, "long"
    else:
        short, word = 0.0, ""
    better = fastener_for(fastener.style, grip)
    remedy = f"Take {better.name}." if better else "Change the layers; no stock length holds this."
    return Finding(
        "GRIP",
        "mend" if word else "fine",
        place,
        f"{joint}: {'fastener too ' + word if word else 'fasteners grip'}",
        "The layers add up to {grip}; {name} holds {low} to {high}"
        + (", {short} too " + word + "." if word else "."),
        {
            "grip": Quantity(grip, "m", True),
            "low": Quantity(fastener.grip_min, "m", True),
            "high": Quantity(fastener.grip_max, "m", True),
            "short": Quantity(short, "m", True),
            "name": Quantity(0, fastener.name),
        },
        remedy if word else "",
        Working(
            "grip = sum of all layers",
            tuple(Input(name, Quantity(t, "m", True), "stock") for name, t in layers),
            Quantity(grip, "m", True),
            "grip range: starting value, the maker's data sheet decides",
        ),
    )


def _no_fastener(place: str, joint: str, grip: float) -> Finding:
    return Finding(
        "GRIP", "mend", place, f"{joint}: no fastener in stock holds it",
        "The layers add up to {grip}.", {"grip": Quantity(grip, "m", True)},
        "Bolt it, or change the thicknesses.",
    )  # fmt: skip


def fastened(
    c: DeckLike, thickness: float, members: list[Member], skins: list[Panel], site: Site
) -> tuple[list[Bought], list[Finding]]:
    """Fasteners and brackets of a deck by joint: pitch gives the count, layers the length."""
    wall = stick(c.members).t
    bracket = plain("bracket-40")
    hull_skin = max(site.surface.thickness[k] for k in (site.surface.strips - 1,))
    sides = [m for m in members if "/side/" in m.key]
    beams = [m for m in members if "/side/" not in m.key]
    metal = MATERIALS[sheet(c.skin).material].kind == "metal"
    skin_style = "rivet" if metal else "screw"
    ends = 2 * len(beams)
    joints = (
        ("hull", "Side angles to hull", sides, "rivet", "auto",
         (("hull side", hull_skin), ("angle", wall)),
         sum(count_at_pitch(m.length, c.fastener_pitch) for m in sides)),
        ("skin", "Skin to members", members, skin_style, c.rivet if metal else "auto",
         (("skin", thickness), ("member", wall))
         + (() if metal else (("screw point", SCREW_BITE_M),)),
         sum(count_at_pitch(m.length, c.fastener_pitch) for m in members)),
        ("bracket", "Brackets to members", beams, "rivet", "auto",
         (("bracket", bracket.thickness), ("member", wall)), RIVETS_FOR_BRACKET * ends),
    )  # fmt: skip
    bought: list[Bought] = []
    findings: list[Finding] = []
    for key, title, on, style, chosen, layers, count in joints:
        if not on or not count:
            continue
        grip = sum(t for _, t in layers)
        item = find(chosen) if chosen != "auto" else fastener_for(style, grip)
        if not isinstance(item, Fastener):
            findings.append(_no_fastener(c.id, title, grip))
            continue
        findings.append(grip_finding(c.id, title, item, layers))
        bought.append(
            Bought(f"{c.id}/fasteners/{key}", f"{c.code}-R{key[0]}", f"{c.name}, {title.lower()}",
                   c.id, item.id, count, count * item.mass, mean_place(on), "fasteners")
        )  # fmt: skip
    if beams:
        bought.append(
            Bought(f"{c.id}/brackets", f"{c.code}-B", f"{c.name}, brackets", c.id, "bracket-40",
                   ends, ends * bracket.mass, mean_place(beams))
        )  # fmt: skip
    return bought, findings


def _tightest(panel: Polygon, site: Site) -> tuple[float, float] | None:
    """Breadth of the panel and clear width between the lips where these fit worst [m]."""
    lips = [o for o in site.obstacles if o.kind == "lip"]
    if not lips:
        return None
    x0, _, x1, _ = panel.bounds
    marks = x0 + (x1 - x0) * np.linspace(0.002, 0.998, 13)
    low, high = breadths_at(panel, marks)
    edges = [np.abs(np.array(breadths_at(lip.footprint, marks))).min(axis=0) for lip in lips]
    clear = 2 * np.fmin.reduce(edges)
    ratio = (high - low) / clear
    if np.isnan(ratio).all():
        return None
    worst = int(np.nanargmax(ratio))
    return float(high[worst] - low[worst]), float(clear[worst])


def lip_finding(place: str, panels: list[Panel], site: Site) -> list[Finding]:
    """Whether every finished skin panel passes between the gunwale lips: flat, tilted, or not.

    Lowered straight down where it belongs. Tilted by a so that breadth·cos(a) fits the
    opening, its low edge hangs breadth·sin(a) below the lip and must stay off the bottom.
    Screening: both sides of the boat taken alike; source: triangle geometry.
    """
    pairs = [p for panel in panels if (p := _tightest(Polygon(panel.outline), site)) is not None]
    if not pairs:
        return []
    breadth, clear = max(pairs, key=lambda p: p[0] / p[1])
    lips = [o for o in site.obstacles if o.kind == "lip"]
    inputs = (
        Input("panel breadth", Quantity(breadth, "m")),
        Input("clear between the lips", Quantity(clear, "m"), "survey"),
    )
    values = {"breadth": Quantity(breadth, "m"), "clear": Quantity(clear, "m")}
    if breadth <= clear:
        return [
            Finding("LIP", "fine", place, "Passes the gunwale lip flat",
                    "{breadth} across, {clear} between the lips.", values)
        ]  # fmt: skip
    tilt = math.acos(clear / breadth)
    drop = breadth * math.sin(tilt)
    room = min(o.high for o in lips) - float(site.surface.inside.low[2])
    values |= {"tilt": Quantity(math.degrees(tilt), "deg"), "drop": Quantity(drop, "m"),
               "room": Quantity(room, "m")}  # fmt: skip
    working = Working(
        "tilt = acos(clear / breadth); low edge = breadth · sin(tilt)",
        (*inputs, Input("lip above the bottom", Quantity(room, "m"), "survey")),
        Quantity(drop, "m"),
        "triangle geometry; screening, the straight way in",
    )
    if drop < room:
        return [
            Finding("LIP", "look", place, "Goes in past the lip tilted",
                    "{breadth} across and {clear} between the lips: tilt it {tilt}; the low edge "
                    "then hangs {drop} down, and there is {room}.", values, working=working)
        ]  # fmt: skip
    return [
        Finding("LIP", "mend", place, "Does not pass the gunwale lip in one piece",
                "{breadth} across and {clear} between the lips: tilted, the low edge would hang "
                "{drop} down, and there is {room}.", values,
                "Split the skin along the centreline, or cut the lip back.", working)
    ]  # fmt: skip
