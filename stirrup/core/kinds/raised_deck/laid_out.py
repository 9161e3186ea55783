"""A raised deck laid out in its hull: outline, framing, skin panels, faces."""

from __future__ import annotations

from collections.abc import Callable

from shapely import box
from shapely.affinity import translate
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from stirrup.core.contract.kind import Site
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Quantity, declare
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.edges import largest
from stirrup.core.fittings.ends import between_flanges
from stirrup.core.fittings.framing import Framing, frame, one_sided
from stirrup.core.fittings.landing import level_room
from stirrup.core.fittings.skin import (
    SHEET_MARGIN_M,
    Ground,
)
from stirrup.core.hull.slices import buttock, region, section
from stirrup.core.kinds.raised_deck.choices import RaisedDeck, gap_m
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Frame, Panel, panel_rings
from stirrup.core.record import dataclass

declare("layout", {"GRAIN": "grain of a wooden skin"})

FAR_DOWN_M = -20.0
FAR_M = 60.0
LEAST_M2 = 0.01  # a smaller deck is none
CLOSER = 0.75  # of the spacing, offered where the grain runs along the members: starting value


@dataclass(frozen=True)
class LaidOut:
    """Geometry shared by the steps of the build."""

    choices: RaisedDeck
    site: Site
    skin: Sheet
    section: Section
    hull: Polygon  # inside of the hull at the underside
    outline: Polygon  # finished deck, before hatches
    aft: float
    fore: float
    under: float

    @property
    def gap(self) -> float:
        return gap_m(self.choices, self.site.catalogue)

    @property
    def thickness(self) -> float:
        return self.skin.thickness

    @property
    def track_y(self) -> float:
        """Middle of the lengthwise member at the inner edge of one along a side [m]: behind its face."""
        c = self.choices
        return c.hand * (c.inner + self.thickness * c.face_inner + self.section.b / 2)

    @property
    def carried(self) -> tuple[float, float]:
        """Aft and fore end of what stands under the skin [m]: behind the faces."""
        c = self.choices
        return self.aft + self.thickness * c.face, self.fore - self.thickness * c.face_fore


def beside(c: RaisedDeck, shape: BaseGeometry) -> BaseGeometry:
    """What of a shape in plan lies beyond the inner edge of a deck along a side."""
    if not c.hand:
        return shape
    y0, y1 = sorted((c.hand * c.inner, c.hand * FAR_M))
    return shape.intersection(box(-FAR_M, y0, FAR_M, y1))


def lay_out(c: RaisedDeck, site: Site) -> LaidOut:
    """Outline of a deck in its hull. Raises CoreError where it meets no hull."""
    skin, section_of = site.catalogue.sheet(c.skin), site.catalogue.section(c.members)
    under = c.height - skin.thickness
    hull, room = level_room(site, c.height, under, gap_m(c, site.catalogue))
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
    outline = largest(beside(c, room.intersection(box(aft, -20, fore, 20))))
    if outline.is_empty or outline.area < LEAST_M2:
        where = f"{place}.inner" if c.hand else place
        raise CoreError("nothing is left of the deck's outline", where)
    # the mesh's columns leave points nearer than a scribed line is wide
    outline = largest(outline.simplify(0.0002))
    aft, fore = float(outline.bounds[0]), float(outline.bounds[2])
    return LaidOut(c, site, skin, section_of, hull, outline, aft, fore, under)


def framing_of(deck: LaidOut) -> Framing:
    """Places of all members: edges, hatch frames, equal bays between."""
    c, leg = deck.choices, deck.section.b
    aft, fore = deck.carried
    whole = frame(aft + leg / 2, fore - leg / 2, c.spacing, leg, deck.site.openings)
    return one_sided(whole, c.code, deck.track_y, c.hand) if c.hand else whole


def ground_of(deck: LaidOut, framing: Framing) -> Ground:
    """What the skin may be parted over."""
    source = deck.section
    inner = between_flanges(deck.site.surface, deck.under, source.b)
    return Ground(deck.outline, (*deck.site.openings, *deck.site.cuts), framing, inner, source.b)


def keeps_grain(deck: LaidOut) -> bool:
    """Whether the sheet's length has to lie along the boat."""
    return deck.skin.stuff.kind == "wood" and deck.choices.grain == "along the boat"


def skin_panels(deck: LaidOut, shapes: list[tuple[str, Polygon]]) -> list[Panel]:
    """The skin's panels with their holes, level at the deck's height."""
    c = deck.choices
    frame = Frame((0.0, 0.0, c.height - deck.thickness / 2))
    metal = deck.skin.stuff.kind == "metal"
    panels = []
    for number, shape in shapes:
        outline, holes = panel_rings(shape)
        rotations = (0, 90, 180, 270) if metal or _grain_turned(deck, outline) else (0, 180)
        label, name = f"{c.code}-S{number}", f"{c.name}, skin {number}"
        key = f"{c.id}/skin/{number}"
        panel = Panel(key, label, name, c.id, deck.skin, outline, holes, frame, rotations)
        panels.append(panel.cut_from(shape))
    return panels


def _grain_turned(deck: LaidOut, outline: tuple[tuple[float, float], ...]) -> bool:
    """Whether a wooden skin's grain has to run across the boat: it is wider than the sheet."""
    wide = outline_span(outline) > deck.skin.height - 2 * SHEET_MARGIN_M
    return wide and deck.choices.grain == "as it fits" and deck.skin.stuff.kind == "wood"


def grain_finding(deck: LaidOut, skins: list[Panel]) -> list[Finding]:
    """A wooden skin is stiffest along its outer grain; members stand athwart, so along the boat."""
    c = deck.choices
    turned = [p for p in skins if _grain_turned(deck, p.outline)]
    if not turned:
        return []
    labels, closer = ", ".join(plain_text(p.label) for p in turned), round(c.spacing * CLOSER, 3)
    return [
        Finding(
            "GRAIN", "look", c.id, "The grain runs across the boat",
            f"{labels}: {{wide}} across, and the sheet is {{sheet}}. Between the members the skin is "
            "weaker that way.",
            {"wide": Quantity(max(outline_span(p.outline) for p in turned), "m"),
             "sheet": Quantity(deck.skin.height, "m"), "closer": Quantity(closer, "m")},
            "Take closer members or a thicker skin, or keep the grain along the boat: the skin is then "
            "parted along the boat too, over battens.",
            fixes=(Fix("Members every {closer}", path=("fittings", c.id, "spacing"), value=closer),
                   Fix("Keep the grain along the boat", path=("fittings", c.id, "grain"),
                        value="along the boat")),
        )
    ]  # fmt: skip


def outline_span(outline: tuple[tuple[float, float], ...]) -> float:
    """Extent of an outline along its second axis [m]."""
    return max(p[1] for p in outline) - min(p[1] for p in outline)


def _inside_at(deck: LaidOut, x: float) -> Polygon:
    """The hull's inside across the boat at x, in (y, z)."""
    return largest(region(section(deck.site.surface.inside, x), 0))


@dataclass(frozen=True)
class End:
    """A face: key and code of its panel, word for it, x of its middle, which way is in under the deck."""

    key: str
    code: str
    word: str
    x: float
    inward: float


def ends_of(deck: LaidOut) -> list[End]:
    """The faces under the ends of a deck that it has."""
    c, half = deck.choices, deck.thickness / 2
    ends = ((c.face, End("face", "F", "face", deck.aft + half, 1.0)),
            (c.face_fore, End("face-fore", "FF", "fore face", deck.fore - half, -1.0)))  # fmt: skip
    return [end for wanted, end in ends if wanted]


def foot_of(deck: LaidOut, end: End) -> float:
    """The foot of a face: as chosen, else the bottom of the boat there [m]."""
    c = deck.choices
    if c.face_foot is not None:
        return c.face_foot - deck.site.rise * end.x
    inside = _inside_at(deck, end.x)
    return FAR_DOWN_M if inside.is_empty else float(inside.bounds[1])


def fitted(deck: LaidOut, x: float, foot: float, head: float) -> Polygon:
    """What an upright panel across the boat at x fills from a foot to a head [m], in (y, z)."""
    thickness, c = deck.thickness, deck.choices
    whole, *sides = (_inside_at(deck, x + by) for by in (0.0, -thickness / 2, thickness / 2))
    shape = whole.buffer(-deck.gap, join_style="mitre").intersection(box(-20, foot, 20, head))
    for side in sides:  # where the hull narrows within its thickness, the gap may not do
        shape = shape if side.covers(shape) else shape.intersection(side)
    if c.hand:
        y0, y1 = sorted((c.hand * c.inner, c.hand * FAR_M))
        shape = shape.intersection(box(y0, -FAR_M, y1, FAR_M))
    return largest(shape.simplify(0.0002))


def face_panels(deck: LaidOut, begins: Callable[[End], float | None]) -> list[Panel]:
    """Upright panels under the edges that have one, fitted to the hull's inside there. begins: where one
    begins over its room for toes [m], None for one that goes down to its foot."""
    c, panels = deck.choices, []
    for end in ends_of(deck):
        over = begins(end)
        # down to the hull, whatever its bottom is there
        foot = over if over is not None else FAR_DOWN_M if c.face_foot is None else foot_of(deck, end)
        if foot >= deck.under:
            continue
        shape = fitted(deck, end.x, foot, deck.under)
        for door in deck.site.doors:
            if door.wall == end.key:
                shape = largest(shape.difference(translate(door.cutout, yoff=-deck.site.rise * end.x)))
        if shape.is_empty or shape.area < 1e-3:
            continue
        outline, holes = panel_rings(shape)
        frame = Frame((end.x, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        panel = Panel(f"{c.id}/{end.key}", f"{c.code}-{end.code}", f"{c.name}, {end.word}", c.id, deck.skin,
                      outline, holes, frame)  # fmt: skip
        panels.append(panel.cut_from(shape))
    return panels


def along(deck: LaidOut, y: float, low: float | None, high: float) -> Polygon:
    """What an upright panel along the boat at y fills between the faces under the ends of a deck, in
    (x, z): from a height, or from where a face has its foot, up to another [m]."""
    c, t, rise = deck.choices, deck.thickness, deck.site.rise
    x0, x1 = deck.carried
    rooms = [largest(region(buttock(deck.site.surface.inside, y + by), 1)) for by in (0.0, -t / 2, t / 2)]
    foot = FAR_DOWN_M if c.face_foot is None else c.face_foot
    over = Polygon([(x0, foot - rise * x0), (x1, foot - rise * x1), (x1, FAR_M), (x0, FAR_M)])
    between = over.intersection(box(x0, FAR_DOWN_M if low is None else low, x1, high))
    shape = rooms[0].buffer(-deck.gap, join_style="mitre").intersection(between)
    for side in rooms[1:]:
        shape = shape.intersection(side)
    return largest(shape.simplify(0.0002))


def inner_face(deck: LaidOut, begins: float | None = None) -> list[Panel]:
    """The upright panel under the inner edge of a deck along a side, between those under its ends, fitted
    to the bottom there. begins: where it begins over its room for toes [m]."""
    c = deck.choices
    if not c.hand or not c.face_inner:
        return []
    y = c.hand * (c.inner + deck.thickness / 2)
    shape = along(deck, y, begins, deck.under)
    if shape.is_empty or shape.area < 1e-3:
        return []
    outline, holes = panel_rings(shape)
    frame = Frame((0.0, y, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    return [Panel(f"{c.id}/face-inner", f"{c.code}-FI", f"{c.name}, inner face", c.id, deck.skin, outline,
                  holes, frame)]  # fmt: skip
