"""Posts under the cross members of a deck: from the flange down to the bottom, or to a floor."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial

import numpy as np
from shapely import box
from shapely.geometry import Point as FlatPoint

from stirrup.core.contract.gives import Shape
from stirrup.core.document import Point, Point2
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.joints import Joint, held
from stirrup.core.hull.bottom import highest_m
from stirrup.core.kinds.raised_deck.laid_out import LaidOut
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bought, Member
from stirrup.core.record import dataclass
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

Bounds = tuple[float, float, float, float]

declare("layout", {"POSTS": "posts under a deck"}, acceptable=True)

SHORTEST_M = 0.04  # a shorter post is a block
AT_HEAD, AT_FOOT = 2, 4  # fasteners: through the leg; of the bracket at its foot
# a heavy person, twice, on one post; and three times that before it buckles: working values
LOAD_N, SAFETY = 110 * 2.0 * 9.81, 3.0
CARTRIDGE_M3, BED_M3 = 0.00029, 4e-6  # of adhesive; under one foot, which is not drilled through


@dataclass(frozen=True)
class Posts:
    """What posts add to a deck."""

    members: tuple[Member, ...] = ()
    bought: tuple[Bought, ...] = ()
    findings: tuple[Finding, ...] = ()
    solids: tuple[Solid, ...] = ()
    shapes: tuple[Shape, ...] = ()


def least_i_m4(section: Section) -> float:
    """Second moment of area about the weaker axis [m4]: of a tube outside less inside, of timber by its
    thin side; of an angle as of its leg alone, which is on the safe side."""
    a, b, t = section.a, section.b, section.t
    if section.shape == "square tube":
        wide, thin = max(a, b), min(a, b)
        return (wide * thin**3 - (wide - 2 * t) * (thin - 2 * t) ** 3) / 12
    if section.shape == "round tube":
        return math.pi / 64 * (a**4 - (a - 2 * t) ** 4)
    thin = min(a, b) if section.shape == "timber" else t
    return max(a, b) * thin**3 / 12


def _size(section: Section) -> Point2:
    """Along the boat and across it, as a post stands [m]."""
    return section.a, section.b if section.shape in ("square tube", "timber") else section.a


def buckles_n(section: Section, long: float) -> float | None:
    """Load at which a post with pinned ends buckles: Euler [N]; None where its stiffness is not known."""
    e = section.stuff.e_gpa
    return None if e is None else math.pi**2 * e * 1e9 * least_i_m4(section) / long**2


def _foot(deck: LaidOut, around: tuple[Point2, ...], at: Point2) -> float | None:
    """Height on which a post stands: the floor that was chosen where it is under it, else the bottom."""
    host = deck.site.host
    for floor in host.floors if host is not None else ():
        if floor.region.covers(FlatPoint(*at)):
            return floor.top_at(at[0]) - deck.site.rise * at[0]
    return highest_m(deck.site.surface, around)


def _meet(a: Bounds, b: Bounds) -> bool:
    """Whether two boxes in plan (x0, y0, x1, y1) meet or touch."""
    return a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]


def _post(deck: LaidOut, under: Member, source: Section, n: int, share: float) -> Member | None:
    """The n-th post, under one cross member at a share of its length; None where there is no room."""
    c = deck.choices
    if len(under.fills) < 2:
        return None
    leg, flange = (np.array(body) for body in under.fills[:2])
    wide, thick = _size(source)
    # beside the leg, under its flange
    forward = flange[:, 0].max() > leg[:, 0].max() + 1e-6
    x0 = float(leg[:, 0].max()) if forward else float(leg[:, 0].min()) - wide
    (_, ya, _), (_, yb, _) = under.path
    y = ya + share * (yb - ya)
    top = float(flange[:, 2].min())
    corners = tuple((x0 + wide * u, y + thick * (v - 0.5)) for u in (0, 1) for v in (0, 1))
    around = (x0, y - thick / 2, x0 + wide, y + thick / 2)
    if any(_meet(o.frame, around) for o in deck.site.openings):
        return None
    foot = _foot(deck, corners, (x0 + wide / 2, y))
    if foot is None or top - foot < SHORTEST_M:
        return None
    low: Point = (x0, y, foot)
    bodies = partial(flat_body, (low, (x0, y, top)), thick, wide, (0.0, 1.0, 0.0), (1.0, 0.0, 0.0))
    middle = x0 + wide / 2
    return Member(f"{c.id}/post/{n}", f"{c.code}-K{n}", f"{c.name}, post {n}", c.id, source, top - foot,
                  ((middle, y, foot), (middle, y, top)), late_bodies=bodies, role="post",
                  note="foot cut to the bottom" if deck.site.host is None else "")  # fmt: skip


def _told(deck: LaidOut, posts: Sequence[Member], source: Section) -> list[Finding]:
    c = deck.choices
    longest = max(posts, key=lambda m: m.length)
    holds = buckles_n(source, longest.length)
    if holds is None:
        return []
    need = SAFETY * LOAD_N
    values = {"long": Quantity(longest.length, "m"), "holds": Quantity(holds, "N"),
              "need": Quantity(need, "N"), "count": Quantity(len(posts), "count")}  # fmt: skip
    work = Working(
        "holds = π² E I / length², pinned ends",
        (Input("E", Quantity(source.stuff.e_gpa or 0.0, "GPa")),
         Input("length", Quantity(longest.length, "m"))),
        Quantity(holds, "N"), "Euler; rules of the trade, “Decks”",
    )  # fmt: skip
    text = "The longest of {count} is {long}: it buckles at {holds}, and {need} are wanted. A screening."
    if holds >= need:
        return [Finding("POSTS", "fine", c.id, "Its posts stand", text, values, working=work)]
    return [Finding("POSTS", "mend", c.id, "A post would buckle", text, values,
                    "Take a stouter section, or tie the posts to one another.", work)]  # fmt: skip


def standing(deck: LaidOut, members: Sequence[Member], number: int, every: int) -> list[Member]:
    """Posts that find room: so many under each cross member, or under every second or third of them."""
    source = deck.site.catalogue.section(deck.choices.post_of)
    there = [m for m in members if m.role == "cross" and len(m.path) == 2]
    made: list[Member] = []
    for cross in sorted(there, key=lambda m: m.path[0][0])[::every]:
        for k in range(1, number + 1):
            post = _post(deck, cross, source, len(made) + 1, k / (number + 1))
            if post is not None:
                made.append(post)
    return made


def posts_of(deck: LaidOut, members: Sequence[Member]) -> Posts:
    """What the posts that were chosen add to a deck."""
    c = deck.choices
    if not c.posts:
        return Posts()
    source = deck.site.catalogue.section(c.post_of)
    made = standing(deck, members, c.posts, c.post_every)
    if not made:
        none = Finding("POSTS", "look", c.id, "No room for a post",
                       "Under no cross member is there room for one.", {},
                       "Raise the deck, or leave its posts out.")  # fmt: skip
        return Posts(findings=(none,))
    bought, grips = _bought(deck, made, source)
    name, solids = f"a post of {plain(c.name)}", []
    for m in made:
        (px, py, low), (_, _, high) = m.path
        a, b = (v / 2 for v in _size(source))
        shape = Prism(box(px - a, py - b, px + a, py + b), low, high)
        solids.append(Solid(c.id, "structure", name, shape))
    shapes = tuple(Shape("face-side", m.path, view="side", closed=False) for m in made)
    return Posts(tuple(made), tuple(bought), (*_told(deck, made, source), grips), tuple(solids), shapes)


def _bought(deck: LaidOut, made: Sequence[Member], source: Section) -> tuple[list[Bought], Finding]:
    """Brackets, beds and fasteners of posts."""
    c, catalogue, count = deck.choices, deck.site.catalogue, len(made)
    x, y, z = np.mean([m.centre for m in made], axis=0)
    at: Point = (float(x), float(y), float(z))
    bracket, glue = catalogue.plain("bracket-40"), catalogue.plain("adhesive-ms")
    bed, wood = count * BED_M3 / CARTRIDGE_M3, source.shape == "timber"
    layers = (("leg", deck.section.t), ("post", source.b if wood else source.t))
    joint = Joint("posts", "Posts to members and brackets", at, "wood screw" if wood else "rivet", layers,
                  count * (AT_HEAD + AT_FOOT // 2))  # fmt: skip
    parts, grips = held(c, joint, catalogue)
    feet = Bought(f"{c.id}/post-feet", f"{c.code}-KB", f"{c.name}, brackets at the posts' feet", c.id,
                  bracket, count, count * bracket.mass, at)  # fmt: skip
    beds = Bought(f"{c.id}/post-beds", f"{c.code}-KG", f"{c.name}, adhesive under the posts' feet", c.id,
                  glue, bed, bed * glue.mass, at, "consumables")  # fmt: skip
    return [feet, beds, *parts], grips
