"""A raised deck built: its parts, its findings, and what it gives."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from stirrup.core.contract.gives import (
    Built,
    Marked,
    Overhead,
)
from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.cover import covered, wrapped_m
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.framing import SAME_M, framed, support_findings
from stirrup.core.fittings.joints import fastened, mean_place
from stirrup.core.fittings.landing import Level, existing_findings, lip_finding
from stirrup.core.fittings.skin import (
    battens,
    joint_finding,
    joints,
    piece,
    pieces,
)
from stirrup.core.fittings.under_deck import Place, under_deck
from stirrup.core.kinds.raised_deck.choices import RaisedDeck
from stirrup.core.kinds.raised_deck.feel import Frame, firmness
from stirrup.core.kinds.raised_deck.gives import floor, handles, shapes, side_shown, slab, walls
from stirrup.core.kinds.raised_deck.laid_out import (
    LaidOut,
    beside,
    face_panels,
    framing_of,
    grain_finding,
    ground_of,
    inner_face,
    keeps_grain,
    lay_out,
    skin_panels,
)
from stirrup.core.kinds.raised_deck.posts import posts_of
from stirrup.core.kinds.raised_deck.toes import inner_toe_top, toe_kick, toe_top
from stirrup.core.parts.model import Bought, Member, Panel

OVER_M = 0.05  # a deck lower than this over somebody's feet is what he stands on
AFT_WRAP_M = 0.05  # a wrapped cover is turned under the aft edge by this much


def _cover(deck: LaidOut, skins: list[Panel]) -> list[Bought]:
    c = deck.choices
    if c.cover == "none":
        return []
    area = sum(p.polygon.area for p in skins)
    x, y, _ = mean_place(skins)
    if wrapped_m(deck.site.catalogue, c.cover, c.edges):
        area += (deck.outline.bounds[3] - deck.outline.bounds[1]) * AFT_WRAP_M
    return covered(c, deck.site.catalogue, c.cover, area, (x, y, c.height))


def _lies_at(member: Member, x: float) -> bool:
    """Whether it runs athwart at a station, under the joint there."""
    return all(abs(p[0] - x) < SAME_M for p in member.path)


def _place(deck: LaidOut) -> Place:
    """Where members go under it."""
    c, bracket = deck.choices, deck.site.catalogue.plain("bracket-40").thickness
    return Place(c, deck.site.surface, deck.hull, deck.under, deck.carried, (c.face, c.face_fore),
                 deck.section, bracket, c.hand)  # fmt: skip


def _later(frame: Frame, posts: Sequence[Member], skins: Sequence[Panel]) -> list[Finding]:
    """How firm it is, and whether its skin comes into the boat."""
    deck = frame.deck
    return [*firmness(frame, posts), *lip_finding(deck.choices.id, skins, deck.site)]


def build(choices: RaisedDeck, site: Site) -> Built:
    """Parts, shapes and findings of a raised deck.

    Outline: the inside of the hull at the underside and at the top (the narrower counts)
    less the side gap; source: docs/trade-rules.md, “Decks”. Raises CoreError where
    the deck meets no hull or its skin cannot be cut from its sheets.
    """
    deck = lay_out(choices, site)
    framing = framing_of(deck)
    ground = ground_of(deck, framing)
    parted = joints(ground, deck.skin, keeps_grain(deck), f"fittings.{choices.id}.skin")
    under_joints = battens(ground, parted)
    skins = skin_panels(deck, pieces(ground, parted))
    faces = [*face_panels(deck, partial(toe_top, deck)), *inner_face(deck, inner_toe_top(deck))]
    kick = toe_kick(deck)
    walled = [*faces, *kick.upright]
    members = under_deck(_place(deck), framing, under_joints)
    jointed = [m for m in members if m.role == "batten" or any(_lies_at(m, x) for x in parted.athwart)]
    posts = posts_of(deck, members)
    bought, findings = fastened(choices, deck.thickness, members, faces, site, jointed)
    findings += [*posts.findings, *kick.findings, *grain_finding(deck, skins)]
    findings += joint_finding(choices.id, ground, parted, under_joints)
    bought += [*posts.bought, *kick.bought, *_cover(deck, skins)]
    foot = largest(beside(choices, piece(deck.hull, deck.aft, deck.fore)))
    level = Level(choices.id, foot, deck.under, choices.height, deck.section.a)
    findings += existing_findings(level, framing.stations, site)
    findings += support_findings(choices.id, framing, choices.spacing, ground.flange, ground.inner)
    return Built(
        choices.id,
        (*skins, *faces, *kick.panels),
        (*members, *posts.members, *kick.members),
        tuple(bought),
        (*shapes(deck, skins, walled), *kick.shapes, *posts.shapes),
        handles(deck),
        tuple(findings),
        choices.height,
        deck.outline,
        solids=(slab(choices, deck, members), *walls(deck, walled), *kick.solids, *posts.solids),
        floors=(floor(deck),),
        framed=framed(framing, site.openings),
        overhead=(
            Overhead(deck.outline, deck.under, choices.height, OVER_M, "mend", "a deck",
                     f"underside of {plain_text(choices.name)}", "Raise it, or sit elsewhere."),
        ),
        marked=(Marked(choices.height, deck.outline),),
        details=side_shown(deck, framing),
        later=partial(_later, Frame(deck, framing, parted, members), posts.members, skins),
    )  # fmt: skip
