"""Raised deck: level, fitted to the inside of the hull, on side angles and cross members."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field, model_validator
from shapely.geometry import Polygon, box

from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Mend, Quantity
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.contract import Built, FittingBase, FittingKind, Handle, Shape, Site
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.edges import (
    breadth_at,
    largest,
)
from stirrup.core.fittings.ends import between_flanges
from stirrup.core.fittings.framing import SAME_M, Framing, frame, support_findings
from stirrup.core.fittings.joints import fastened
from stirrup.core.fittings.landing import Level, existing_findings, level_room, lip_finding
from stirrup.core.fittings.skin import (
    SHEET_MARGIN_M,
    Ground,
    battens,
    joint_finding,
    joints,
    piece,
    pieces,
)
from stirrup.core.fittings.under_deck import Place, under_deck
from stirrup.core.hull.slices import region, section
from stirrup.core.parts.catalogue import MATERIALS, plain, sheet, stick
from stirrup.core.parts.model import Bought, Frame, Member, Panel, panel_rings

SheetId = Literal["al-2.0", "al-2.5", "al-3.2", "ply-9", "ply-12", "ply-fir-12", "pvc-12", "pvc-19"]
StickId = Literal["angle-25x25x3", "angle-40x40x3", "angle-50x50x5"]
CoverId = Literal["none", "carpet", "vinyl", "foam-mat", "non-skid"]
RivetId = Literal["auto", "rivet-4.8x8", "rivet-4.8x10", "rivet-4.8x12", "rivet-4.8x16"]

CLOSER = 0.75  # of the spacing, offered where the grain runs along the members: starting value
AFT_WRAP_M = 0.05  # a wrapped cover is turned under the aft edge by this much


class RaisedDeck(FittingBase):
    """Choices for a raised deck."""

    kind: Literal["raised_deck"] = "raised_deck"
    aft: float | None = Field(
        None, ge=-2, le=40, title="Aft edge, from transom", description="[m]; empty: along the transom"
    )
    fore: float | None = Field(None, ge=-2, le=40, title="Fore edge", description="[m]; empty: to the bow")
    height: float = Field(gt=0, le=5, title="Top above keel line", description="[m]")
    skin: SheetId = Field("al-2.5", title="Skin")
    grain: Literal["as it fits", "along the boat"] = Field("as it fits", title="Grain of a wooden skin")
    side_gap: float | None = Field(
        None,
        ge=0,
        le=0.1,
        title="Gap to side",
        description="[m]; empty: 5 mm for metal, else 3 mm and the wrapped cover",
    )
    members: StickId = Field("angle-40x40x3", title="Members")
    spacing: float = Field(0.35, ge=0.1, le=1.5, title="Cross members every", description="[m]")
    fastener_pitch: float = Field(0.075, ge=0.02, le=0.4, title="Fasteners every", description="[m]")
    rivet: RivetId = Field("auto", title="Rivet, skin to member")
    cover: CoverId = Field("none", title="Cover")
    face: bool = Field(True, title="Face under the aft edge")
    face_fore: bool = Field(False, title="Face under the fore edge")
    face_foot: float | None = Field(
        None, ge=0, le=5, title="Foot of a face", description="[m]; empty: down to the hull"
    )

    @model_validator(mode="after")
    def _long_enough(self) -> RaisedDeck:
        if self.fore is not None and self.aft is not None and self.fore < self.aft + 0.15:
            raise ValueError(
                f"fore edge {self.fore:g} m and aft edge {self.aft:g} m: "
                "the fore edge must lie at least 0.15 m forward of the aft edge"
            )
        return self

    def ends_m(self, hull: Polygon) -> tuple[float, float]:
        """Aft and fore edge over the hull's inside at this height [m]: an edge left open, or set
        beyond the hull, follows transom or bow."""
        x0, _, x1, _ = hull.bounds
        aft = x0 if self.aft is None else max(self.aft, x0)
        return float(aft), float(x1 if self.fore is None else min(self.fore, x1))

    @property
    def idle(self) -> frozenset[str]:
        """The grain of what has none; the foot of no face."""
        wooden = MATERIALS[sheet(self.skin).material].kind == "wood"
        faced = self.face or self.face_fore
        return frozenset([*([] if wooden else ["grain"]), *([] if faced else ["face_foot"])])

    @property
    def gap_m(self) -> float:
        if self.side_gap is not None:
            return self.side_gap
        if MATERIALS[sheet(self.skin).material].kind == "metal":
            return 0.005
        wrap = plain(self.cover) if self.cover != "none" else None
        return 0.003 + (wrap.thickness if wrap and wrap.wraps else 0.0)


@dataclass(frozen=True)
class _Deck:
    """Geometry shared by the steps of the build."""

    choices: RaisedDeck
    site: Site
    hull: Polygon  # inside of the hull at the underside
    outline: Polygon  # finished deck, before hatches
    aft: float
    fore: float
    under: float

    @property
    def thickness(self) -> float:
        return sheet(self.choices.skin).thickness

    @property
    def carried(self) -> tuple[float, float]:
        """Aft and fore end of what stands under the skin [m]: behind the faces."""
        c = self.choices
        return self.aft + self.thickness * c.face, self.fore - self.thickness * c.face_fore


def _lay_out(c: RaisedDeck, site: Site) -> _Deck:
    under = c.height - sheet(c.skin).thickness
    hull, room = level_room(site, c.height, under, c.gap_m)
    place = f"fittings.{c.id}"
    if hull.is_empty:
        low, high = site.surface.outside.low[2], site.surface.outside.high[2]
        raise CoreError(
            f"a deck at {c.height:.3f} m meets no hull; the hull reaches from {low:.3f} to {high:.3f} m",
            f"{place}.height",
        )
    x0, _, x1, _ = hull.bounds
    aft, fore = c.ends_m(hull)
    if aft >= fore - 0.1:
        raise CoreError(
            f"from {aft:.3f} m to {fore:.3f} m there is no deck; at this height the hull is open from "
            f"{x0:.3f} m to {x1:.3f} m; an empty edge follows transom or bow",
            f"{place}.aft",
        )
    outline = largest(room.intersection(box(aft, -20, fore, 20)))
    if outline.is_empty:
        raise CoreError("nothing is left of the deck's outline", place)
    # the mesh's columns leave points nearer than a scribed line is wide
    outline = largest(outline.simplify(0.0002))
    return _Deck(c, site, hull, outline, float(outline.bounds[0]), float(outline.bounds[2]), under)


def _framing(deck: _Deck) -> Framing:
    """Places of all members: edges, hatch frames, equal bays between."""
    c, leg = deck.choices, stick(deck.choices.members).b
    aft, fore = deck.carried
    return frame(aft + leg / 2, fore - leg / 2, c.spacing, leg, deck.site.openings)


def _ground(deck: _Deck, framing: Framing) -> Ground:
    source = stick(deck.choices.members)
    inner = between_flanges(deck.site.surface, deck.under, source.b)
    return Ground(deck.outline, tuple(deck.site.openings), framing, inner, source.b)


def _keeps_grain(c: RaisedDeck) -> bool:
    """Whether the sheet's length has to lie along the boat."""
    return MATERIALS[sheet(c.skin).material].kind == "wood" and c.grain == "along the boat"


def _skin_panels(deck: _Deck, shapes: list[tuple[str, Polygon]]) -> list[Panel]:
    c = deck.choices
    frame = Frame((0.0, 0.0, c.height - deck.thickness / 2))
    metal = MATERIALS[sheet(c.skin).material].kind == "metal"
    panels = []
    for number, shape in shapes:
        outline, holes = panel_rings(shape)
        rotations = (0, 90, 180, 270) if metal or _grain_turned(c, outline) else (0, 180)
        label, name = f"{c.code}-S{number}", f"{c.name}, skin {number}"
        panels.append(
            Panel(f"{c.id}/skin/{number}", label, name, c.id, c.skin, outline, holes, frame, rotations)
        )
    return panels


def _grain_turned(c: RaisedDeck, outline: tuple[tuple[float, float], ...]) -> bool:
    """Whether a wooden skin's grain has to run across the boat: it is wider than the sheet."""
    wide = outline_span(outline) > sheet(c.skin).height - 2 * SHEET_MARGIN_M
    return wide and c.grain == "as it fits" and MATERIALS[sheet(c.skin).material].kind == "wood"


def _grain_finding(c: RaisedDeck, skins: list[Panel]) -> list[Finding]:
    """A wooden skin is stiffest along its outer grain; members stand athwart, so along the boat."""
    turned = [p for p in skins if _grain_turned(c, p.outline)]
    if not turned:
        return []
    labels, closer = ", ".join(plain_text(p.label) for p in turned), round(c.spacing * CLOSER, 3)
    return [
        Finding(
            "GRAIN", "look", c.id, "The grain runs across the boat",
            f"{labels}: {{wide}} across, and the sheet is {{sheet}}. Between the members the skin is "
            "weaker that way.",
            {"wide": Quantity(max(outline_span(p.outline) for p in turned), "m"),
             "sheet": Quantity(sheet(c.skin).height, "m"), "closer": Quantity(closer, "m")},
            "Take closer members or a thicker skin, or keep the grain along the boat: the skin is then "
            "parted along the boat too, over battens.",
            mends=(Mend("Members every {closer}", path=("fittings", c.id, "spacing"), value=closer),
                   Mend("Keep the grain along the boat", path=("fittings", c.id, "grain"),
                        value="along the boat")),
        )
    ]  # fmt: skip


def outline_span(outline: tuple[tuple[float, float], ...]) -> float:
    """Extent of an outline along its second axis [m]."""
    return max(p[1] for p in outline) - min(p[1] for p in outline)


def _faces(deck: _Deck) -> list[Panel]:
    """Upright panels under the edges that have one, fitted to the hull's inside there."""
    c, thickness = deck.choices, deck.thickness
    ends = ((c.face, "face", "F", "face", deck.aft + thickness / 2),
            (c.face_fore, "face-fore", "FF", "fore face", deck.fore - thickness / 2))  # fmt: skip
    panels = []
    for wanted, key, code, word, x in ends:
        if not wanted:
            continue
        whole = largest(region(section(deck.site.surface.inside, x), 0))
        foot = c.face_foot if c.face_foot is not None else -1.0
        shape = whole.buffer(-c.gap_m, join_style="mitre")
        shape = largest(shape.intersection(box(-20, foot, 20, deck.under)).simplify(0.0002))
        if shape.is_empty or shape.area < 1e-3:
            continue
        outline, holes = panel_rings(shape)
        frame = Frame((x, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        label, name = f"{c.code}-{code}", f"{c.name}, {word}"
        panels.append(Panel(f"{c.id}/{key}", label, name, c.id, c.skin, outline, holes, frame))
    return panels


def _cover(deck: _Deck, skins: list[Panel]) -> list[Bought]:
    c = deck.choices
    if c.cover == "none":
        return []
    weight = [p.polygon.area for p in skins]
    area = sum(weight)
    if plain(c.cover).wraps:
        area += (deck.outline.bounds[3] - deck.outline.bounds[1]) * AFT_WRAP_M
    x, y = np.average([p.centre[:2] for p in skins], axis=0, weights=weight)
    return covered(c, c.cover, area, (float(x), float(y), c.height))


def _handles(deck: _Deck) -> tuple[Handle, ...]:
    c = deck.choices
    z = c.height

    def athwart(x: float) -> tuple[Point, Point]:
        span = breadth_at(deck.outline, x) or (0.0, 0.0)
        return ((x, span[1], z), (x, span[0], z))

    return (
        Handle("aft", "x", athwart(deck.aft + 1e-4), "aft edge"),
        Handle("fore", "x", athwart(deck.fore - 1e-3), "fore edge"),
        Handle("height", "z", ((deck.aft, 0.0, z), (deck.fore, 0.0, z)), "height"),
    )


def _lies_at(member: Member, x: float) -> bool:
    """Whether it runs athwart at a station, under the joint there."""
    return all(abs(p[0] - x) < SAME_M for p in member.path)


def build(choices: RaisedDeck, site: Site) -> Built:
    """Parts, shapes and findings of a raised deck.

    Outline: the inside of the hull at the underside and at the top (the narrower counts)
    less the side gap; source: handbook of the trade, chapter 4. Raises CoreError where
    the deck meets no hull or its skin cannot be cut from its sheets.
    """
    deck = _lay_out(choices, site)
    framing = _framing(deck)
    ground = _ground(deck, framing)
    parted = joints(ground, sheet(choices.skin), _keeps_grain(choices), f"fittings.{choices.id}.skin")
    under_joints = battens(ground, parted)
    skins = _skin_panels(deck, pieces(ground, parted))
    faces = _faces(deck)
    faced = (choices.face, choices.face_fore)
    place = Place(choices, site.surface, deck.hull, deck.under, deck.carried, faced)
    members = under_deck(place, framing, under_joints)
    jointed = [m for m in members if "/batten/" in m.key or any(_lies_at(m, x) for x in parted.athwart)]
    bought, findings = fastened(choices, deck.thickness, members, skins, faces, site, jointed)
    findings += _grain_finding(choices, skins)
    findings += joint_finding(choices.id, ground, parted, under_joints)
    bought += _cover(deck, skins)
    level = Level(
        choices.id, piece(deck.hull, deck.aft, deck.fore), deck.under, choices.height,
        stick(choices.members).a,
    )  # fmt: skip
    findings += existing_findings(level, framing.stations, site)
    findings += lip_finding(choices.id, skins, site)
    findings += support_findings(choices.id, framing, choices.spacing, ground.flange, ground.inner)
    z = choices.height
    hatching = MATERIALS[sheet(choices.skin).material].kind
    shapes = [Shape("deck", tuple((x, y, z) for x, y in p.outline), hatching) for p in skins]
    shapes += [Shape("opening", tuple((x, y, z) for x, y in hole), "") for p in skins for hole in p.holes]
    shapes += [Shape("face", tuple(p.frame.at(u, v) for u, v in p.outline), hatching) for p in faces]
    return Built(
        choices.id,
        (*skins, *faces),
        tuple(members),
        tuple(bought),
        tuple(shapes),
        _handles(deck),
        tuple(findings),
        choices.height,
        deck.outline,
    )


KIND = FittingKind(RaisedDeck, "Raised deck", build)
