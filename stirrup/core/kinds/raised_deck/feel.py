"""Whether a raised deck feels firm: its skin between the members, the members between what holds them."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from stirrup.core.findings import Finding, Fix, Input, Level, Quantity, Working, declare, plain
from stirrup.core.fittings.beam import SAFE, bends_nm, kept, sags_m, under_skin
from stirrup.core.fittings.edges import breadths_at
from stirrup.core.fittings.framing import SAME_M, Framing
from stirrup.core.fittings.plate import FINE, PERSON_N, SPRINGY, stiffness_nm
from stirrup.core.fittings.skin import Joints
from stirrup.core.fittings.underfoot import Skin, bays_of, underfoot
from stirrup.core.kinds.raised_deck.laid_out import LaidOut
from stirrup.core.kinds.raised_deck.posts import standing
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Member
from stirrup.core.record import dataclass

declare("layout", {"DECK-GIVES": "how far a deck gives", "MEMBER-GIVES": "how far members give"},
        acceptable=True, pace="behind")  # fmt: skip

MOST_POSTS = 3
NEAR_M = 0.06  # a post this near along the boat stands under a member
# a member, how long it is between what holds it up; distance and breadth of skin to its neighbours [m]
Stretch = tuple[Member, float, tuple[float, float] | None]


@dataclass(frozen=True)
class Frame:
    """What carries the skin: where members stand, where the skin is parted, the members."""

    deck: LaidOut
    framing: Framing
    parted: Joints
    members: Sequence[Member]

    @property
    def faced(self) -> tuple[float, ...]:
        """x of the members that a face carries all along [m]."""
        c, x = self.deck.choices, self.framing.stations
        return (*(x[:1] if c.face else ()), *(x[-1:] if c.face_fore else ()))

    def shared(self, x: float, middle: float, long: float) -> tuple[float, float] | None:
        """Distance of a cross member's farther neighbour, and the breadth of the skin that runs on over it
        to both, of the half of its length about its middle [m]; None where it runs on to neither."""
        stations = self.framing.stations
        k = min(range(len(stations)), key=lambda i: abs(stations[i] - x))
        if not 0 < k < len(stations) - 1 or any(abs(x - p) < SAME_M for p in self.parted.athwart):
            return None
        low, high = stations[k - 1], stations[k + 1]
        strip, at, end = 0.0, middle - long / 4, middle + long / 4
        holes = [o.frame for o in self.deck.site.openings if o.frame[0] < high and o.frame[2] > low]
        for left, right in sorted((f[1], f[3]) for f in holes):
            strip += max(0.0, min(left, end) - at)
            at = min(max(at, right), end)
        return max(x - low, high - x), strip + max(0.0, end - at)


@dataclass(frozen=True)
class Span:
    """The longest stretch of a member between what holds it up [m], how far it gives and what part of
    the moment at which it yields is used (0 where that is not known)."""

    member: Member
    long: float
    kept: float
    gives: float
    used: float

    @property
    def worst(self) -> float:
        """1 where it is just firm."""
        return max(self.gives * FINE / self.long, self.used * SAFE)

    @property
    def level(self) -> Level:
        if self.worst <= 1:
            return "fine"
        return "look" if self.gives <= self.long / SPRINGY and self.used <= 1 else "mend"


def firmness(frame: Frame, posts: Sequence[Member]) -> list[Finding]:
    """How firm a deck is: its skin, then its members on their sides and posts."""
    return [*skin_gives(frame), *members_give(frame, posts)]


def skin_gives(frame: Frame) -> list[Finding]:
    """How far the skin gives in the bay where it gives most."""
    deck, stations = frame.deck, frame.framing.stations
    middles = np.array([(a + b) / 2 for a, b in pairwise(stations)])
    low, high = breadths_at(deck.outline, middles)
    breadths = [float(v) for v in np.nan_to_num(high - low)]
    skin = Skin(deck.choices.id, deck.skin, True, deck.choices.spacing, "Cross members")
    told = underfoot(skin, bays_of(stations, breadths, frame.parted.athwart), deck.site.catalogue)
    if told is None:
        return []
    return [Finding("DECK-GIVES", told.level, deck.choices.id, told.title, told.text, told.values,
                    told.remedy, told.working, fixes=told.fixes)]  # fmt: skip


def _stretch(frame: Frame, member: Member, posts: Sequence[Member]) -> tuple[float, float] | None:
    """From where to where the longest stretch of a member reaches between its ends and the posts under
    it [m]; None where a face carries all of it."""
    (x0, y0, _), (x1, y1, _) = member.path
    deck, across = frame.deck, abs(x1 - x0) < SAME_M
    if across and any(abs(x0 - x) < SAME_M for x in frame.faced):
        return None
    c = deck.choices
    if not across and c.face_inner and c.hand and abs(y0 - deck.track_y) < SAME_M:
        return None
    low, high = sorted((y0, y1) if across else (x0, x1))
    at = [p.path[0][1] for p in posts if across and abs(p.path[0][0] - x0) < NEAR_M]
    marks = [low, *sorted(y for y in at if low < y < high), high]
    return max(pairwise(marks), key=lambda ends: ends[1] - ends[0])


def _stretches(frame: Frame, posts: Sequence[Member]) -> list[Stretch]:
    """The longest one of each member that is not carried all along, and what it shares with neighbours."""
    out: list[Stretch] = []
    for member in frame.members:
        if member.role not in ("cross", "") or len(member.path) != 2:
            continue
        ends = _stretch(frame, member, posts)
        if ends is None:
            continue
        long = ends[1] - ends[0]
        across = member.role == "cross"
        beside = frame.shared(member.path[0][0], sum(ends) / 2, long) if across else None
        out.append((member, long, beside))
    return out


def _worst(frame: Frame, section: Section, stretches: Sequence[Stretch]) -> Span | None:
    """The stretch that is farthest from firm with members of a section; None where none is free, or
    nobody knows how stiff it is."""
    deck = frame.deck
    stiff = under_skin(section, deck.skin, deck.choices.spacing)
    skin = stiffness_nm(deck.skin)
    if stiff is None:
        return None
    spans = []
    for member, long, beside in stretches:
        share = 1.0 if beside is None or skin is None else kept(long, stiff.ei, skin, *beside)
        used = 0.0 if stiff.moment is None else share * bends_nm(long) / stiff.moment
        spans.append(Span(member, long, share, share * sags_m(long, stiff.ei), used))
    return max(spans, key=lambda s: s.worst, default=None)


def _posts_asked(frame: Frame) -> int | None:
    """The fewest posts under each cross member with which all are firm; None where no number does it, or
    something is in their way."""
    deck = frame.deck
    c = deck.choices
    if c.post_every > 1:
        return None
    for n in range(c.posts + 1, MOST_POSTS + 1):
        stood = standing(deck, frame.members, n, 1)
        span = _worst(frame, deck.section, _stretches(frame, stood))
        if span is not None and span.level == "fine":
            return n
    return None


def _mends(frame: Frame, stretches: Sequence[Stretch]) -> tuple[Fix, ...]:
    """The fewest posts, and the lightest angle, with which it would be firm; each tried."""
    deck, fixes = frame.deck, []
    c = deck.choices
    number = _posts_asked(frame)
    if number is not None:
        one = "A post under each cross member"
        words = one if number == 1 else f"{number} posts under each cross member"
        fixes.append(Fix(words, path=("fittings", c.id, "posts"), value=number))
    angles = [s for s in deck.site.catalogue.of(Section) if s.shape == "angle"]
    for section in sorted(angles, key=lambda s: s.kg_per_m):
        span = _worst(frame, section, stretches)
        if span is not None and span.level == "fine" and section.id != c.members:
            fixes.append(Fix(f"Take {section.name}", path=("fittings", c.id, "members"), value=section.id))
            break
    return tuple(fixes)


def members_give(frame: Frame, posts: Sequence[Member]) -> list[Finding]:
    """How far the member gives that is farthest from firm, between sides, other members and posts."""
    deck = frame.deck
    if deck.section.stuff.e_gpa is None:
        return [Finding("MEMBER-GIVES", "look", deck.choices.id, "Nobody knows how stiff its members are",
                        "The catalogue has no modulus of elasticity for them.", {},
                        "Take the maker's table of spans, or stand on one across two blocks.")]  # fmt: skip
    stretches = _stretches(frame, posts)
    span = _worst(frame, deck.section, stretches)
    if span is None:
        return []
    return [_told(frame, span, () if span.level == "fine" else _mends(frame, stretches))]


def _working(deck: LaidOut, span: Span) -> Working:
    stiff = under_skin(deck.section, deck.skin, deck.choices.spacing)
    inputs = [Input("L", Quantity(span.long, "m"), "its longest stretch"),
              Input("P", Quantity(PERSON_N, "N"), "somebody heavy, moving"),
              Input("it keeps of it", Quantity(round(span.kept, 2), "count"),
                    "the rest goes through the skin to its neighbours")]  # fmt: skip
    if stiff is not None:
        source = f"{plain(deck.section.name)}, and the metal skin that works with it"
        inputs.append(Input("E I", Quantity(round(stiff.ei), "N m²"), source))
    if stiff is not None and stiff.moment is not None:
        moment = Quantity(round(stiff.moment), "N m")
        inputs.append(Input("it yields at", moment, "P (L / 4 - c / 8) with twice his weight, 1.5 in hand"))
    return Working("P (8 L³ - 4 L c² + c³) / 384 E I on its ends, c = 0.2 m", tuple(inputs),
                   Quantity(span.gives, "m", True), "a beam; rules of the trade, “Underfoot”")  # fmt: skip


def _told(frame: Frame, span: Span, fixes: tuple[Fix, ...]) -> Finding:
    place, level = frame.deck.choices.id, span.level
    values = {"gives": Quantity(span.gives, "m", True), "long": Quantity(span.long, "m"),
              "most": Quantity(span.long / FINE, "m", True),
              "used": Quantity(round(100 * span.used), "count")}  # fmt: skip
    label = plain(span.member.label)
    text = (f"{label} gives {{gives}} over {{long}} under somebody heavy; up to {{most}} feels firm. "
            "Twice his weight takes it to {used} % of what bends it for good; up to 67 % is sound. "
            "A screening.")  # fmt: skip
    work = _working(frame.deck, span)
    if level == "fine":
        return Finding(
            "MEMBER-GIVES", level, place, "Its members are stiff enough", text, values, working=work
        )
    springy, bent = span.gives > span.long / FINE, span.used > 1
    title = {"look": "A member is springy" if springy else "A member has little in hand",
             "mend": "A member would bend for good" if bent else "A member gives too far"}  # fmt: skip
    return Finding("MEMBER-GIVES", level, place, title[level], text, values,
                   "Posts under it, closer members, or stouter ones.", work, fixes=fixes)  # fmt: skip
