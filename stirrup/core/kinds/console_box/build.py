"""A console built: its sheets, angles, opening, shelf and helm, and what it gives."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from itertools import pairwise

from shapely import box
from shapely.geometry import Polygon
from shapely.ops import unary_union

from stirrup.core.contract.gives import Bolts, Built, Foot, Helm, Marked, Shape
from stirrup.core.contract.kind import Site
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, plain
from stirrup.core.fittings.angles import Late, angle_bodies, bent_flat
from stirrup.core.fittings.cover import covered
from stirrup.core.fittings.crate import (
    BRACKETS,
    CLEAT_SHORT_M,
    DOWN,
    IN_BRACKET,
    PITCH_M,
    rectangle,
    style_of,
)
from stirrup.core.fittings.crate_kind import rocks
from stirrup.core.fittings.joints import Joint, held, mean_place
from stirrup.core.kinds.console_box.choices import FLANGE_M, ConsoleBox
from stirrup.core.kinds.console_box.dash import dash_findings, holes, row, sheds
from stirrup.core.kinds.console_box.extras import (
    chase_findings,
    dash_bought,
    extra_bought,
    extra_rooms,
    extra_shapes,
    rest_member,
)
from stirrup.core.kinds.console_box.folded import fold_findings, folds, riveted_m, sides, wrap
from stirrup.core.kinds.console_box.laid_out import Console, lay_out, opening, panel_of
from stirrup.core.kinds.console_box.profile import outline
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought, Frame, Member, Panel, Ring
from stirrup.core.space.shapes import Prism, Swept
from stirrup.core.space.solid import Solid

STRIP = "flat-40x3"
FOREMOST = 3  # of the bends: it takes an angle
LAP_M = 0.015  # of a cover over its opening: working value
COVER_PITCH_M = 0.15  # between the screws of a cover: working value
SHELF_UP_M = 0.15
WHEEL_M, WHEEL_OFF_M = 0.17, 0.10  # radius of the wheel, and how far it stands off the dash
CODES = {"aft": "A", "dash": "I", "top": "T", "fore": "F"}


def _panels(k: Console) -> list[Panel]:
    """Two side plates over the whole profile; aft face, dash, top and fore wall between them. Folded, these
    four are one."""
    c, out = k.c, []
    if folds(k):
        return [wrap(k), *sides(k), *_cover(k), *_shelf(k)]
    for key, code, hand in (("port", "P", 1), ("starboard", "S", -1)):
        at = k.place(0.0, hand * (c.width / 2 - k.t / 2), 0.0)
        frame = Frame(at, (1.0, 0.0, 0.0), (0.0, 0.0, 1.0))
        out.append(panel_of(k, key, code, f"{key} side", outline(c)[::-1], (), frame))
    for side in k.sides:
        (x, z), (dx, dz), off = side.middle, side.along, k.t / 2
        frame = Frame(k.place(x + off * side.out[0], 0.0, z + off * side.out[1]), (0.0, 1.0, 0.0),
                      (dx, 0.0, dz))  # fmt: skip
        cut: tuple[Ring, ...] = ()
        if side.name == "dash":
            cut = holes(c, side, k.between)
        elif side.name == c.access:
            cut = (rectangle(*opening(k)),)
        word = {"aft": "aft face", "fore": "fore wall"}.get(side.name, side.name)
        ring = rectangle(k.between, side.length)
        out.append(panel_of(k, side.name, CODES[side.name], word, ring, cut, frame))
    return out + _cover(k) + _shelf(k)


def _cover(k: Console) -> list[Panel]:
    """The cover of its opening, outside on it."""
    if k.c.access == "none":
        return []
    side, (wide, high) = k.side(k.c.access), opening(k)
    (x, z), off = side.middle, 1.5 * k.t
    at = k.place(x + off * side.out[0], 0.0, z + off * side.out[1])
    frame = Frame(at, (0.0, 1.0, 0.0), (side.along[0], 0.0, side.along[1]))
    ring = rectangle(wide + 2 * LAP_M, high + 2 * LAP_M)
    return [panel_of(k, "cover", "D", "cover of its opening", ring, (), frame)]


def _shelf(k: Console) -> list[Panel]:
    if not k.c.shelf:
        return []
    deep = k.c.length - 2 * k.t
    frame = Frame(k.place(k.c.length / 2, 0.0, SHELF_UP_M + k.t / 2))
    return [panel_of(k, "shelf", "B", "shelf", rectangle(deep, k.between), (), frame)]


def _members(k: Console) -> list[Member]:
    """An angle along each side plate on every side, a strip under each bend, an angle under the foremost
    edge; two angles under a shelf."""
    rest = rest_member(k)
    rest_of = [rest] if rest is not None else []
    return [*_ledges(k), *rest_of] if folds(k) else [*_frame(k), *_ledges(k), *rest_of]


def _frame(k: Console) -> list[Member]:
    strip, back = k.site.catalogue.section(STRIP), CLEAT_SHORT_M / 2
    half, number, out = k.between / 2, 0, []
    for side in k.sides:
        (x0, z0), (x1, z1), (dx, dz) = side.start, side.end, side.along
        low, high = (x0 + back * dx, z0 + back * dz), (x1 - back * dx, z1 - back * dz)
        for word, hand in (("port", 1), ("starboard", -1)):
            number += 1
            ends = (k.place(low[0], hand * half, low[1]), k.place(high[0], hand * half, high[1]))
            bodies: Late = partial(
                angle_bodies, k.post, ends, (0.0, -float(hand), 0.0), _level(side.out, -1.0)
            )
            out += _member(k, f"angle/{number}", f"V{number}", f"angle {side.name} {word}", k.post, ends,
                           bodies)  # fmt: skip
    for number, (side, ahead) in enumerate(pairwise(k.sides), 1):
        section = k.post if number == FOREMOST else strip
        word = "angle" if section is k.post else "strip"
        (x, z), reach = side.end, half - back
        ends = (k.place(x, reach, z), k.place(x, -reach, z))
        back_on, on = _level(side.along, -1.0), _level(ahead.along)
        if section is k.post:
            bodies = partial(angle_bodies, section, ends, on, back_on)
        else:
            into = (_level(side.out, -1.0), _level(ahead.out, -1.0))
            bodies = partial(bent_flat, section, ends, (back_on, on), into)
        word += f" under bend {number}"
        out += _member(k, f"bend/{number}", f"X{number}", word, section, ends, bodies)
    return out


def _ledges(k: Console) -> list[Member]:
    half, back, out = k.between / 2, CLEAT_SHORT_M / 2, []
    for number, hand in enumerate((1, -1) if k.c.shelf else (), 1):
        aft, fore = (k.place(x, hand * half, SHELF_UP_M) for x in (k.t + back, k.c.length - k.t - back))
        bodies = partial(angle_bodies, k.post, (aft, fore), DOWN, (0.0, -float(hand), 0.0))
        out += _member(k, f"ledge/{number}", f"N{number}", f"angle under the shelf {number}", k.post,
                       (aft, fore), bodies)  # fmt: skip
    return out


def _level(way: Point2, sign: float = 1.0) -> Point:
    """A direction of the profile, or against it, on the boat's axes."""
    return (sign * way[0], 0.0, sign * way[1])


def _member(
    k: Console, key: str, code: str, word: str, section: Section, ends: tuple[Point, Point], bodies: Late
) -> list[Member]:
    """A piece between two places, unless the room between the posts leaves none."""
    c, long = k.c, math.dist(*ends)
    if long <= CLEAT_SHORT_M:
        return []
    return [Member(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, section, long, ends,
                   late_bodies=bodies, role="frame")]  # fmt: skip


def _bought(k: Console, members: Sequence[Member]) -> tuple[list[Bought], list[Finding]]:
    """Fasteners, brackets, what holds the cover, wheel and helm."""
    c, catalogue = k.c, k.site.catalogue
    style, point = style_of(k.sheet)
    joints = []
    if folds(k):
        rows = sum(count_at_pitch(m, PITCH_M) for m in riveted_m(k))
        joints.append(Joint("wrap", "Wrap to the flanges of the sides", wrap(k).centre, style,
                            (("wrap", k.t), ("flange", k.t), *point), rows))  # fmt: skip
    if members:
        rows = 2 * sum(count_at_pitch(m.length, PITCH_M) for m in members)
        joints.append(Joint("frame", "Sheets to angles and strips", mean_place(members), style,
                            (("sheet", k.t), ("angle", k.post.t), *point), rows))  # fmt: skip
    out: list[Bought] = []
    if c.held != "loose":
        bracket, at = catalogue.plain("bracket-40"), (c.x, c.y, k.foot)
        out.append(Bought(f"{c.id}/brackets", f"{c.code}-K", f"{c.name}, brackets", c.id, bracket, BRACKETS,
                          BRACKETS * bracket.mass, at))  # fmt: skip
        layers = (("bracket", bracket.thickness), ("sheet", k.t))
        joints.append(
            Joint("bracket", "Brackets to sides and floor", at, style, layers, BRACKETS * IN_BRACKET)
        )
    out += _screwed(k) + _helm_parts(k) + dash_bought(k) + extra_bought(k)
    if c.cover != "none":
        (x, z), top = k.side("top").middle, k.side("top")
        out += covered(c, catalogue, c.cover, k.between * top.length, k.place(x, 0.0, z))
    held_by = [held(c, joint, catalogue) for joint in joints]
    return [*out, *(p for parts, _ in held_by for p in parts)], [f for _, f in held_by]


def _screwed(k: Console) -> list[Bought]:
    """The cover's gasket, and screws in threaded rivets: it comes off again and again."""
    c, catalogue = k.c, k.site.catalogue
    cover = next(iter(_cover(k)), None)
    if cover is None:
        return []
    around = float(cover.polygon.length)
    count = 4 * math.ceil(around / 4 / COVER_PITCH_M)
    gasket = catalogue.plain("gasket-12")
    out = [Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket of the cover", c.id, gasket, around,
                  around * gasket.mass, cover.centre)]  # fmt: skip
    for key, code, entry_id in (("screws", "Q", "bolt-m5x16"), ("threads", "W", "rivnut-m5")):
        entry = catalogue.find(entry_id)
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {key} of the cover", c.id, entry,
                          count, count * entry.mass, cover.centre, "fasteners"))  # fmt: skip
    return out


def wheel_at(k: Console) -> Point2:
    """Middle of the wheel from the aft face and the foot [m]: it stands off the dash."""
    dash, up = k.side("dash"), k.c.wheel_up
    return (dash.start[0] + up * dash.along[0] + WHEEL_OFF_M * dash.out[0],
            dash.start[1] + up * dash.along[1] + WHEEL_OFF_M * dash.out[1])  # fmt: skip


def _helm_parts(k: Console) -> list[Bought]:
    c, out = k.c, []
    if not c.wheel:
        return []
    x, z = wheel_at(k)
    dash = k.side("dash")
    behind = (x - 1.5 * WHEEL_OFF_M * dash.out[0], z - 1.5 * WHEEL_OFF_M * dash.out[1])
    for key, code, entry_id, (px, pz) in (
        ("wheel", "G", "wheel-340", (x, z)),
        ("helm", "H", "helm-tilt", behind),
    ):
        entry = k.site.catalogue.plain(entry_id)
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {key}", c.id, entry, 1,
                          entry.mass, k.place(px, 0.0, pz)))  # fmt: skip
    return out


def _helm(k: Console) -> Helm:
    """What somebody steers at; its rim where the wheel is mounted."""
    c, top = k.c, k.foot + k.c.height
    if not c.wheel:
        return Helm((c.x, c.y), k.aft, k.foot, top)
    x, z = wheel_at(k)
    low = k.foot + z - WHEEL_M * k.side("dash").along[1]
    return Helm((c.x, c.y), k.aft + x, k.foot, top, low)


def _shapes(k: Console) -> tuple[Shape, ...]:
    """From above with the edges of the dash; its profile; from aft with its dash and wheel."""
    c, half = k.c, k.c.width / 2
    ring = outline(c)
    out = [
        Shape("form-body", tuple(k.place(x, y, c.height) for x, y in
                                 ((0.0, -half), (c.length, -half), (c.length, half), (0.0, half)))),
        Shape("form-line", tuple(k.place(c.run, y, c.height) for y in (-half, half)), closed=False),
        Shape("form-body", tuple(k.place(x, 0.0, z) for x, z in ring), view="side"),
        Shape("form-body", tuple(k.place(0.0, y, z) for y, z in
                                 ((-half, 0.0), (half, 0.0), (half, c.height), (-half, c.height))),
              view="across"),
        Shape("form-line", tuple(k.place(0.0, y, c.height - c.drop) for y in (-half, half)), view="across",
              closed=False),
    ]  # fmt: skip
    return tuple(out + _dash_shapes(k) + _wheel_shapes(k) + extra_shapes(k))


def _dash_shapes(k: Console) -> list[Shape]:
    """The instruments as they are seen from aft."""
    out, (_, dz) = [], k.side("dash").along
    for one in row(k.c, k.side("dash")):
        (y, up), (wide, high) = one.at, one.what.bezel
        z = k.side("dash").start[1]
        ring = tuple(k.place(0.0, y + a * wide / 2, z + (up + b * high / 2) * dz)
                     for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1)))  # fmt: skip
        out.append(Shape("form-line", ring, view="across"))
    return out


def _wheel_shapes(k: Console) -> list[Shape]:
    if not k.c.wheel:
        return []
    (x, z), (dx, dz) = wheel_at(k), k.side("dash").along
    turns = [2 * math.pi * n / 24 for n in range(24)]
    rim = tuple(
        k.place(x + WHEEL_M * math.sin(a) * dx, WHEEL_M * math.cos(a), z + WHEEL_M * math.sin(a) * dz)
        for a in turns
    )
    side = (
        k.place(x - WHEEL_M * dx, 0.0, z - WHEEL_M * dz),
        k.place(x + WHEEL_M * dx, 0.0, z + WHEEL_M * dz),
    )
    return [Shape("form-wheel", rim), Shape("form-wheel", rim, view="across"),
            Shape("form-wheel", side, view="side", closed=False)]  # fmt: skip


def _solid(k: Console, region: Polygon) -> Solid:
    """The room around it, and its true profile."""
    c, half = k.c, k.c.width / 2
    corners = tuple(k.place(x, y, z) for y in (-half, half) for x, z in outline(c))
    more = extra_rooms(k)
    plan = box(*unary_union([region, *(m.footprint for m in more)]).bounds) if more else region
    around = Prism(plan, k.foot, k.foot + c.height)
    return Solid(c.id, "body", plain(c.name), around, pieces=(Swept(corners), *more))


def build(c: ConsoleBox, site: Site) -> Built:
    """Sheets, angles, strips, cover, shelf, wheel and helm of a console. Raises CoreError outside of the
    boat."""
    k = lay_out(c, site)
    panels, members = _panels(k), _members(k)
    bought, findings = _bought(k, members)
    region = Polygon(c.corners)
    wide = k.between - 2 * (FLANGE_M - k.t if folds(k) else k.post.a)
    held_down = c.held != "loose"
    return Built(
        c.id, tuple(panels), tuple(members), tuple(bought), _shapes(k),
        findings=(*findings, *rocks(c, site, k.foot), *dash_findings(c, k.side("dash"), k.t, wide),
                  *sheds(c), *fold_findings(k), *chase_findings(k)),
        top_m=k.foot + c.height,
        region=region,
        solids=(_solid(k, region),),
        helms=(_helm(k),),
        foot=None if c.on else Foot(Prism(region, k.foot, k.foot + c.height), ()),
        bolts=Bolts(c.corners, k.foot, c.at) if held_down else None,
        marked=(Marked(k.foot, corners=c.corners),) if held_down else (),
    )  # fmt: skip
