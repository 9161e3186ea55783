"""Fasteners of a deck by joint, and their grip."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal, Protocol

from stirrup.core.contract.base import Named
from stirrup.core.contract.kind import Site
from stirrup.core.cutting.member_marking import HoleRow, row
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.parts.catalogue import Catalogue, count_at_pitch
from stirrup.core.parts.entries import Fastener, Sheet
from stirrup.core.parts.model import Bought, Member, Panel
from stirrup.core.record import dataclass

declare("layout", {"GRIP": "grip of the fasteners"})

RIVETS_FOR_BRACKET = 4
EDGE_M = 0.020  # of the outer hole of a row from the end of its member: usual value
SCREW_BITE_M = 0.003  # a screw must come this far through the member

Style = Literal["rivet", "screw", "wood screw"]


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
    each = [(m.mass_kg, m.centre) for m in members]
    total = sum(mass for mass, _ in each)
    x, y, z = (sum(mass * at[axis] for mass, at in each) / total for axis in range(3))
    return (x, y, z)


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
    take = (Fix(f"Take {better.name}", path=choice, value=better.id),) if better and choice and word else ()
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
        fixes=take,
    )


def no_fastener(place: str, joint: str, grip: float) -> Finding:
    """That none of the stock holds layers of this sum [m]; nothing is then bought for the joint."""
    return Finding(
        "GRIP", "mend", place, f"{joint}: no fastener in stock holds it",
        "The layers add up to {grip}.", {"grip": Quantity(grip, "m", True)},
        "Bolt it, or change the thicknesses. Until then nothing is bought for it.",
    )  # fmt: skip


@dataclass(frozen=True)
class Joint:
    """What is held to what: its layers by name and thickness [m], how many fasteners, and their middle;
    chosen: an entry's id, or auto for what fits."""

    key: str
    title: str
    at: Point
    style: Style
    layers: tuple[tuple[str, float], ...]
    count: int
    chosen: str = "auto"

    @property
    def grip(self) -> float:
        return sum(t for _, t in self.layers)


def leaf_style(sheet: Sheet) -> Style:
    """How a hinge's leaf is fastened to a sheet: through metal, into anything else."""
    return "rivet" if sheet.stuff.kind == "metal" else "wood screw"


def _middle(parts: Sequence[Member | Panel]) -> Point:
    """Their centre by mass; of none the origin, as nothing is fastened there."""
    return mean_place(parts) if parts else (0.0, 0.0, 0.0)


def _rows(lengths: Iterable[float], pitch: float) -> int:
    """Fasteners of rows of these lengths, each with its own ends."""
    return sum(count_at_pitch(length, pitch) for length in lengths)


def _joints(c: DeckLike, thickness: float, members: Sequence[Member], faces: Sequence[Panel], site: Site,
            jointed: Sequence[Member]) -> tuple[Joint, ...]:  # fmt: skip
    """The joints of a deck. A face is fastened along its top to the leg of the member behind it."""
    catalogue, pitch = site.catalogue, c.fastener_pitch
    wall = catalogue.section(c.members).t
    sides = [m for m in members if m.role == "side"]
    beams = [m for m in members if m.role != "side"]
    metal = catalogue.sheet(c.skin).stuff.kind == "metal"
    style: Literal["rivet", "screw"] = "rivet" if metal else "screw"
    point = () if metal else (("screw point", SCREW_BITE_M),)
    hull_skin = site.surface.thickness[site.surface.strips - 1]
    bracket = catalogue.plain("bracket-40").thickness
    return (
        Joint(
            "hull",
            "Side angles to hull",
            _middle(sides),
            "rivet",
            (("hull side", hull_skin), ("angle", wall)),
            _rows((m.length for m in sides), pitch),
        ),
        Joint(
            "skin",
            "Skin to members",
            _middle(members),
            style,
            (("skin", thickness), ("member", wall), *point),
            _rows((m.length for m in (*members, *jointed)), pitch),
            c.rivet if metal else "auto",
        ),
        Joint(
            "bracket",
            "Brackets to members",
            _middle(beams),
            "rivet",
            (("bracket", bracket), ("member", wall)),
            RIVETS_FOR_BRACKET * 2 * len(beams),
        ),
        Joint(
            "face",
            "Face to its member",
            _middle(faces),
            style,
            (("face", thickness), ("member", wall), *point),
            _rows((_along(p) for p in faces), pitch),
        ),
    )


def held(c: Named, joint: Joint, catalogue: Catalogue) -> tuple[list[Bought], Finding]:
    """The fasteners of a joint, and whether they grip."""
    auto = joint.chosen == "auto"
    item = catalogue.fastener_for(joint.style, joint.grip) if auto else catalogue.find(joint.chosen)
    if not isinstance(item, Fastener):
        return [], no_fastener(c.id, joint.title, joint.grip)
    choice = ("fittings", c.id, "rivet") if joint.key == "skin" and not auto else ()
    key, name = f"{c.id}/fasteners/{joint.key}", f"{c.name}, {joint.title.lower()}"
    mass = joint.count * item.mass
    part = Bought(
        key, f"{c.code}-R{joint.key[0]}", name, c.id, item, joint.count, mass, joint.at, "fasteners"
    )
    return [part], grip_finding(catalogue, c.id, joint.title, item, joint.layers, choice)


def fastened(
    c: DeckLike,
    thickness: float,
    members: list[Member],
    faces: list[Panel],
    site: Site,
    jointed: Sequence[Member] = (),
) -> tuple[list[Bought], list[Finding]]:
    """Fasteners and brackets of a deck by joint: pitch gives the count, layers the length.

    How a face meets the hull is left to the builder. jointed: members under a joint of the skin,
    with a row for each of its edges.
    """
    joints = [j for j in _joints(c, thickness, members, faces, site, jointed) if j.count]
    rows = [held(c, j, site.catalogue) for j in joints]
    bought, findings = [part for parts, _ in rows for part in parts], [f for _, f in rows]
    beams = [m for m in members if m.role != "side"]
    if beams:
        bracket, ends = site.catalogue.plain("bracket-40"), 2 * len(beams)
        bought.append(
            Bought(f"{c.id}/brackets", f"{c.code}-B", f"{c.name}, brackets", c.id, bracket,
                   ends, ends * bracket.mass, mean_place(beams))
        )  # fmt: skip
    return bought, findings


def hole_rows(member: Member, bought: Iterable[Bought], pitch: float) -> tuple[HoleRow, ...]:
    """Holes along a member for the fasteners that are bought for it: of the skin in its flange, of the hull
    in the leg of one at the side. Through both layers at once they fit; a drill through the member alone is
    for marking."""
    of = {b.key.rsplit("/", 1)[-1]: b.entry for b in bought if f"{member.fitting}/fasteners/" in b.key}
    rows = []
    for face, joint, what in (("flange", "skin", "skin"), ("leg", "hull", "hull")):
        item = of.get(joint)
        if not isinstance(item, Fastener) or (joint == "hull" and member.role != "side"):
            continue
        count = count_at_pitch(member.length, pitch)
        copes = member.copes if face == "flange" else (0.0, 0.0)
        rows.append(row(face, what, item.drill, member.length, count, EDGE_M, copes))
    return tuple(rows)
