"""Room for toes under a deck's face: its foot stands back, under a soffit, so that one can stand close.

Under the ends of a deck from side to side; along a side under its inner face.
"""

from __future__ import annotations

from functools import partial
from typing import Literal

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Shape
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Quantity, declare
from stirrup.core.findings import plain as plain_text
from stirrup.core.fittings.angles import angle_bodies
from stirrup.core.fittings.crate import POST
from stirrup.core.fittings.edges import breadth_at, inside_region, largest
from stirrup.core.fittings.joints import Joint, held, mean_place
from stirrup.core.kinds.raised_deck.laid_out import (
    FAR_M,
    End,
    LaidOut,
    along,
    beside,
    ends_of,
    fitted,
    foot_of,
)
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.model import Bought, Frame, Member, Panel, panel_rings
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"TOES": "room for toes under a face"}, acceptable=True)

DEEP_M, HIGH_M = 0.06, 0.08  # of a toe under a face, at least: working values
INTO_M = 0.03  # of the soffit beyond the panel that stands back, for the angle behind it
FINE_M = 1e-6
SHORT_M = 0.005  # an angle ends this far from the side at either end


@dataclass(frozen=True)
class Toe:
    """The lower end of a face that stands back: the height of its soffit's top, and the x of the panel
    under it [m]."""

    end: End
    top: float
    back: float


def _toes(deck: LaidOut) -> list[Toe]:
    """One for each face that has it."""
    c = deck.choices
    if not c.toe or c.hand:  # along a side one stands at its inner face
        return []
    out = []
    for end in ends_of(deck):
        top = toe_top(deck, end)
        if top is not None:
            out.append(Toe(end, top, end.x + end.inward * c.toe))
    return out


@dataclass(frozen=True)
class Kick:
    """All that the faces of a deck have of it: upright are the panels that stand back."""

    panels: tuple[Panel, ...] = ()
    members: tuple[Member, ...] = ()
    bought: tuple[Bought, ...] = ()
    findings: tuple[Finding, ...] = ()
    solids: tuple[Solid, ...] = ()
    shapes: tuple[Shape, ...] = ()

    @property
    def upright(self) -> tuple[Panel, ...]:
        return tuple(p for p in self.panels if not p.level)


def toe_kick(deck: LaidOut) -> Kick:
    """The toe kick of each of its faces; source: docs/trade-rules.md, “Decks”. Raises CoreError for stock
    that the catalogue does not have."""
    panels = [*_panels(deck), *_inner_panels(deck)]
    members = [*_members(deck), *_inner_members(deck)]
    parts, found = _fastened(deck, members)
    solids, shapes = _soffits(deck, panels)
    return Kick(tuple(panels), tuple(members), tuple(parts), (*found, *_findings(deck)), tuple(solids),
                tuple(shapes))  # fmt: skip


def toe_top(deck: LaidOut, end: End) -> float | None:
    """Where a face begins over its room for toes [m]; None without, and where no face would be left."""
    c = deck.choices
    if not c.toe or c.hand:
        return None
    top = foot_of(deck, end) + c.toe_high
    return top if top <= deck.under - c.toe_high else None


def inner_toe_top(deck: LaidOut) -> float | None:
    """The same for the inner face of a deck along a side, over the highest place of its foot."""
    c = deck.choices
    if not c.toe or not c.hand or not c.face_inner:
        return None
    standing = along(deck, _back_m(deck), None, deck.under)
    if standing.is_empty:
        return None
    x0, _, x1, _ = standing.bounds
    middle = (x0 + x1) / 2
    lows = [breadth_at(standing, x) for x in (x0 + FINE_M, middle, x1 - FINE_M)]
    off = deck.gap if c.face_foot is None else 0.0  # its foot keeps off the bottom
    top = max(low[0] for low in lows if low is not None) - off + c.toe_high
    return top if top <= deck.under - c.toe_high else None


def _back_m(deck: LaidOut) -> float:
    """y of the middle of the panel that stands back from the inner face [m]."""
    c = deck.choices
    return c.hand * (c.inner + c.toe + deck.thickness / 2)


def _inner_panels(deck: LaidOut) -> list[Panel]:
    """The panel that stands back from the inner face, and the soffit over it."""
    top, c, t = inner_toe_top(deck), deck.choices, deck.thickness
    if top is None:
        return []
    back = _back_m(deck)
    standing = along(deck, back, None, top - t)
    if standing.is_empty or standing.area < 1e-4:
        return []
    x0, x1 = deck.carried
    y0, y1 = sorted((c.hand * c.inner, back + c.hand * (t / 2 + INTO_M)))
    level = _level(deck, top, box(x0, y0, x1, y1))
    upright = Frame((0.0, back, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
    return _two(deck, ("-inner", "I", "inner face"), standing, upright, level, top)


def _inner_members(deck: LaidOut) -> list[Member]:
    """Angles along its corners, between the ends of what stands there."""
    top, c, t = inner_toe_top(deck), deck.choices, deck.thickness
    if top is None:
        return []
    source, back = deck.site.catalogue.section(POST), _back_m(deck)
    inward: Point = (0.0, c.hand, 0.0)
    out: list[Member] = []
    corners = ((c.hand * (c.inner + t), top, 1.0), (back + c.hand * t / 2, top - t, -1.0))
    for number, (y, z, up) in enumerate(corners, 1):
        whole = along(deck, y, None, deck.under)
        level = whole.intersection(
            box(-FAR_M, z + up * source.a / 2 - FINE_M, FAR_M, z + up * source.a / 2)
        )
        if level.is_empty or level.bounds[2] - level.bounds[0] < 4 * SHORT_M:
            continue
        ends = ((level.bounds[0] + SHORT_M, y, z), (level.bounds[2] - SHORT_M, y, z))
        bodies = partial(angle_bodies, source, ends, (0.0, 0.0, up), inward)
        out.append(Member(f"{c.id}/toe-angle-inner/{number}", f"{c.code}-AI{number}",
                          f"{c.name}, toe angle {number}", c.id, source, ends[1][0] - ends[0][0], ends,
                          role="frame", late_bodies=bodies))  # fmt: skip
    return out


def _level(deck: LaidOut, top: float, over: Polygon) -> Polygon:
    """A soffit under a height, within an outline in plan."""
    rooms = [inside_region(deck.site.surface, z) for z in (top, top - deck.thickness)]
    shape = rooms[0].intersection(rooms[1]).buffer(-deck.gap).intersection(over)
    return largest(shape).simplify(0.0002)


def _two(
    deck: LaidOut,
    names: tuple[str, str, str],
    standing: Polygon,
    upright: Frame,
    level: Polygon,
    top: float,
) -> list[Panel]:
    """The panel that stands back and its soffit; names: ends of their keys and codes, of which face."""
    c, flat, out = deck.choices, Frame((0.0, 0.0, top - deck.thickness / 2)), []
    two: tuple[tuple[str, str, str, Polygon, Frame, Literal["", "soffit"]], ...] = (
        ("toe", "K", "toe kick", standing, upright, ""),
        ("soffit", "U", "soffit", level, flat, "soffit"),
    )
    for key, code, word, shape, frame, role in two:
        if shape.is_empty:
            continue
        outline, holes = panel_rings(shape)
        out.append(Panel(f"{c.id}/{key}{names[0]}", f"{c.code}-{code}{names[1]}",
                         f"{c.name}, {word} of the {names[2]}", c.id, deck.skin, outline, holes,
                         frame, role=role))  # fmt: skip
    return out


def _panels(deck: LaidOut) -> list[Panel]:
    """The panel that stands back, and the soffit over it, of each face."""
    out = []
    for toe in _toes(deck):
        t, end = deck.thickness, toe.end
        standing = fitted(deck, toe.back, foot_of(deck, end), toe.top - t)
        if standing.is_empty or standing.area < 1e-4:
            continue
        x0, x1 = sorted((end.x - end.inward * t / 2, toe.back + end.inward * (t / 2 + INTO_M)))
        upright = Frame((toe.back, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
        level = _level(deck, toe.top, box(x0, -FAR_M, x1, FAR_M))
        out += _two(deck, (end.key[4:], end.code[1:], end.word), standing, upright, level, toe.top)
    return out


def _members(deck: LaidOut) -> list[Member]:
    """Angles in the corners that face, soffit and toe kick make, behind them."""
    c, t, source = deck.choices, deck.thickness, deck.site.catalogue.section(POST)
    out: list[Member] = []
    for toe in _toes(deck):
        end = toe.end
        inward: Point = (end.inward, 0.0, 0.0)
        corners = (
            (end.x + end.inward * t / 2, toe.top, 1.0),
            (toe.back + end.inward * t / 2, toe.top - t, -1.0),
        )
        for number, (x, z, up) in enumerate(corners, 1):
            across = _between(deck, x, z + up * source.a / 2)
            if across is None:
                continue
            ends = ((x, across[1], z), (x, across[0], z))
            bodies = partial(angle_bodies, source, ends, (0.0, 0.0, up), inward)
            key, code = f"{c.id}/toe-angle{end.key[4:]}/{number}", f"{c.code}-A{end.code[1:]}{number}"
            out.append(Member(key, code, f"{c.name}, toe angle {number}", c.id, source,
                              across[1] - across[0], ends, role="frame", late_bodies=bodies))  # fmt: skip
    return out


def _between(deck: LaidOut, x: float, z: float) -> tuple[float, float] | None:
    found = breadth_at(largest(beside(deck.choices, inside_region(deck.site.surface, z))), x)
    if found is None or found[1] - found[0] < 4 * SHORT_M:
        return None
    return found[0] + deck.gap + SHORT_M, found[1] - deck.gap - SHORT_M


def _fastened(deck: LaidOut, members: list[Member]) -> tuple[list[Bought], list[Finding]]:
    """Fasteners of these angles, both legs."""
    if not members:
        return [], []
    metal = deck.skin.stuff.kind == "metal"
    rows = 2 * sum(count_at_pitch(m.length, deck.choices.fastener_pitch) for m in members)
    layers = (("sheet", deck.thickness), ("angle", members[0].section.t))
    joint = Joint("kick", "Toe kick to its angles", mean_place(members), "rivet" if metal else "screw",
                  layers, rows)  # fmt: skip
    parts, found = held(deck.choices, joint, deck.site.catalogue)
    return parts, [found]


def _soffits(deck: LaidOut, panels: list[Panel]) -> tuple[list[Solid], list[Shape]]:
    """Soffits as what is in the way, and from the side. What stands under one is a wall like a face."""
    name, half = f"the soffit of {plain_text(deck.choices.name)}", deck.thickness / 2
    solids, shapes = [], []
    for p in panels:
        if not p.level:
            continue
        z, (low, _, high, _) = p.frame.origin[2], p.polygon.bounds
        solids.append(Solid(deck.choices.id, "wall", name, Prism(p.polygon, z - half, z + half)))
        shapes.append(Shape("face-side", ((low, 0.0, z), (high, 0.0, z)), view="side", closed=False))
    return solids, shapes


def _findings(deck: LaidOut) -> list[Finding]:
    """Whether a foot goes under."""
    c = deck.choices
    if not c.toe or not c.toed:
        return []
    values = {"deep": Quantity(c.toe, "m"), "high": Quantity(c.toe_high, "m"),
              "need": Quantity(DEEP_M, "m"), "tall": Quantity(HIGH_M, "m")}  # fmt: skip
    if not _toes(deck) and inner_toe_top(deck) is None:
        return [Finding("TOES", "mend", c.id, "No face would be left over the toe kick",
                        "It would reach {high} up, more than half of the face.", values,
                        "Make it lower, or the deck higher.")]  # fmt: skip
    if c.toe >= DEEP_M - 1e-9 and c.toe_high - deck.thickness >= HIGH_M - 1e-9:
        return [Finding("TOES", "fine", c.id, "Toes go under its face",
                        "{deep} deep and {high} high: one stands close to the deck.", values)]  # fmt: skip
    return [Finding("TOES", "look", c.id, "Toes find no room",
                    "{deep} deep and {high} high, less the soffit; a boot needs {need} and {tall}.", values,
                    "Make it deeper or higher, or leave it out.")]  # fmt: skip
