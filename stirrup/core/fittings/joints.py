"""Fasteners of a deck by joint, and their grip."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np

from stirrup.core.contract.base import Named
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Input, Mend, Quantity, Working, declare
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Fastener
from stirrup.core.parts.model import Bought, Member, Panel

declare("layout", {"GRIP": "grip of the fasteners"})

RIVETS_FOR_BRACKET = 4
SCREW_BITE_M = 0.003  # a screw must come this far through the member


class DeckLike(Named, Protocol):
    """What this module reads of a deck's choices."""

    @property
    def skin(self) -> str: ...
    @property
    def members(self) -> str: ...
    @property
    def fastener_pitch(self) -> float: ...
    @property
    def rivet(self) -> str: ...


def _along(panel: Panel) -> float:
    """Length of a face's top edge [m]."""
    x0, _, x1, _ = panel.polygon.bounds
    return float(x1 - x0)


def mean_place(members: Sequence[Member | Panel]) -> Point:
    """Centre of several parts by mass [m]."""
    mass = np.array([m.mass_kg for m in members])
    c = mass @ np.array([m.centre for m in members]) / mass.sum()
    return (float(c[0]), float(c[1]), float(c[2]))


def grip_finding(
    catalogue: Catalogue,
    place: str,
    joint: str,
    fastener: Fastener,
    layers: tuple[tuple[str, float], ...],
    choice: tuple[str, ...] = (),
) -> Finding:
    """Whether the fastener's grip range holds the sum of the layers.

    choice: where the plan says which fastener it is, if it does.
    """
    grip = sum(t for _, t in layers)
    if grip > fastener.grip_max + 1e-9:
        short, word = grip - fastener.grip_max, "short"
    elif grip < fastener.grip_min - 1e-9:
        short, word = fastener.grip_min - grip, "long"
    else:
        short, word = 0.0, ""
    better = catalogue.fastener_for(fastener.style, grip)
    take = (
        (Mend(f"Take {better.name}", path=choice, value=better.id),) if better and choice and word else ()
    )
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
        mends=take,
    )


def no_fastener(place: str, joint: str, grip: float) -> Finding:
    """That none of the stock holds layers of this sum [m]; nothing is then bought for the joint."""
    return Finding(
        "GRIP", "mend", place, f"{joint}: no fastener in stock holds it",
        "The layers add up to {grip}.", {"grip": Quantity(grip, "m", True)},
        "Bolt it, or change the thicknesses. Until then nothing is bought for it.",
    )  # fmt: skip


def fastened(
    c: DeckLike,
    thickness: float,
    members: list[Member],
    skins: list[Panel],
    faces: list[Panel],
    site: Site,
    jointed: Sequence[Member] = (),
) -> tuple[list[Bought], list[Finding]]:
    """Fasteners and brackets of a deck by joint: pitch gives the count, layers the length.

    A face is fastened along its top to the leg of the member behind it; how it meets the hull is
    left to the builder. jointed: members under a joint of the skin, with a row for each of its edges.
    """
    catalogue = site.catalogue
    wall = catalogue.section(c.members).t
    bracket = catalogue.plain("bracket-40")
    hull_skin = max(site.surface.thickness[k] for k in (site.surface.strips - 1,))
    sides = [m for m in members if m.role == "side"]
    beams = [m for m in members if m.role != "side"]
    metal = catalogue.sheet(c.skin).stuff.kind == "metal"
    skin_style = "rivet" if metal else "screw"
    ends = 2 * len(beams)
    joints = (
        ("hull", "Side angles to hull", sides, "rivet", "auto",
         (("hull side", hull_skin), ("angle", wall)),
         sum(count_at_pitch(m.length, c.fastener_pitch) for m in sides)),
        ("skin", "Skin to members", members, skin_style, c.rivet if metal else "auto",
         (("skin", thickness), ("member", wall))
         + (() if metal else (("screw point", SCREW_BITE_M),)),
         sum(count_at_pitch(m.length, c.fastener_pitch) for m in (*members, *jointed))),
        ("bracket", "Brackets to members", beams, "rivet", "auto",
         (("bracket", bracket.thickness), ("member", wall)), RIVETS_FOR_BRACKET * ends),
        ("face", "Face to its member", faces, skin_style, "auto",
         (("face", thickness), ("member", wall)) + (() if metal else (("screw point", SCREW_BITE_M),)),
         sum(count_at_pitch(_along(p), c.fastener_pitch) for p in faces)),
    )  # fmt: skip
    bought: list[Bought] = []
    findings: list[Finding] = []
    for key, title, on, style, chosen, layers, count in joints:
        if not on or not count:
            continue
        grip = sum(t for _, t in layers)
        item = catalogue.find(chosen) if chosen != "auto" else catalogue.fastener_for(style, grip)
        if not isinstance(item, Fastener):
            findings.append(no_fastener(c.id, title, grip))
            continue
        choice = ("fittings", c.id, "rivet") if key == "skin" and chosen != "auto" else ()
        findings.append(grip_finding(catalogue, c.id, title, item, layers, choice))
        bought.append(
            Bought(f"{c.id}/fasteners/{key}", f"{c.code}-R{key[0]}", f"{c.name}, {title.lower()}",
                   c.id, item, count, count * item.mass, mean_place(on), "fasteners")
        )  # fmt: skip
    if beams:
        bought.append(
            Bought(f"{c.id}/brackets", f"{c.code}-B", f"{c.name}, brackets", c.id, bracket,
                   ends, ends * bracket.mass, mean_place(beams))
        )  # fmt: skip
    return bought, findings
