"""The angles under a level panel: along the sides, across, and beside its openings; each as fitted."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from stirrup.core.contract.base import Named
from stirrup.core.document import Point
from stirrup.core.fittings.bent import bent_bodies, cut_and_opened
from stirrup.core.fittings.edges import (
    path_length_m,
    side_path,
)
from stirrup.core.fittings.ends import (
    LEAST_ANGLE_DEG,
    SQUARE,
    End,
    Joint,
    Sides,
    between_flanges,
    bodies,
)
from stirrup.core.fittings.framing import SAME_M, Beam, Framing, Track
from stirrup.core.fittings.skin import Batten
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kept import Attached, kept_property
from stirrup.core.memo import ByIdentity
from stirrup.core.parts.entries import Section
from stirrup.core.parts.model import Bent, EndCut, Member
from stirrup.core.record import dataclass
from stirrup.core.space.many import Eights

Array = NDArray[np.float64]
Body = tuple[Point, ...]

END_CLEARANCE_M = 0.0015  # at each end of a member, so that it goes in
LEAST_MEMBER_M = 0.06
SAW_M = 0.01  # of a stick that is lost at its ends
# cross members in a hull of a section, by all that they follow from: most stay where they are while an edge
# of their deck is moved
ACROSS = ByIdentity(400)


class Chosen(Named, Protocol):
    """What this module reads of a panel's choices."""

    @property
    def members(self) -> str: ...


@dataclass(frozen=True)
class Place:
    """Where members go: hull, its inside at the panel's underside (z `under`), the x range behind
    the faces, whether there is a face aft and fore, their section, and how thick a bracket is."""

    choices: Chosen
    surface: HullSurface
    hull: Polygon
    under: float
    carried: tuple[float, float]
    faces: tuple[bool, bool]

    source: Section
    bracket_m: float
    hand: float = 0.0  # along port +1, starboard -1, from side to side 0

    @kept_property
    def sides(self) -> Sides:
        joint = Joint(self.bracket_m, END_CLEARANCE_M)
        return Sides(self.surface, self.under, self.source, joint)

    @property
    def middle(self) -> float:
        """Height of the members' middle lines [m]."""
        return self.under - self.source.a / 2


def under_deck(place: Place, framing: Framing, joints: Sequence[Batten] = ()) -> list[Member]:
    """All members under a panel, as cut and as fitted; joints: where its skin is parted over a batten."""
    legs = dict(zip(framing.stations, _legs(place, framing), strict=True))
    return [
        *_side_angles(place), *_cross_members(place, framing, legs), *_tracks(place, framing, legs),
        *_battens(place, joints, legs),
    ]  # fmt: skip


def _legs(place: Place, framing: Framing) -> list[float]:
    """On which edge the leg of each cross member is, fore +1, aft -1: a face is fastened to it,
    else where the hull is wider."""
    legs = [place.sides.widens(b.x) for b in framing.beams]
    if place.faces[0]:
        legs[0] = -1.0
    if place.faces[1]:
        legs[-1] = 1.0
    return legs


def _track_at(framing: Framing, x: float, y: float) -> Track:
    return next(t for t in framing.tracks if t.y == y and t.aft - SAME_M <= x <= t.fore + SAME_M)


def _cross_members(place: Place, framing: Framing, legs: dict[float, float]) -> list[Member]:
    """Between the side angles, every corner clear of them, interrupted by hatch openings. Those at a place
    where one lay a step ago are the same objects, with all that follows from them."""
    c, out = place.choices, list[Member]()
    there = ACROSS.get(place.surface, place.source, lambda: Attached(400))
    of = (c.id, c.code, c.name, place.under, place.bracket_m)
    for beam in framing.beams:
        inner = {y: _track_at(framing, beam.x, y).leg for ys in beam.between for y in ys if y is not None}
        of_beam = (beam.key, beam.x, beam.between, legs[beam.x], *inner.values())
        out += there.get((of, of_beam), partial(_across, place, beam, legs[beam.x], inner))
    return out


def _across(place: Place, beam: Beam, leg: float, inner: dict[float, float]) -> list[Member]:
    """The pieces of a cross member, from starboard. inner: on which edge the leg of each track is that it
    ends at, by the y of its middle."""
    c, source, sides, z = place.choices, place.source, place.sides, place.middle
    note = (
        f"to {source.t:.4f} angle, {sides.joint.bracket:.4f} bracket and "
        f"{sides.joint.play:.4f} play at each end, square to the side"
    )

    def end(y: float | None, sign: float) -> End:
        if y is None:
            return sides.end(beam.x, sign, leg)
        return sides.inner(beam.x, leg, y, sign, inner[y])

    def ends(low: float | None, high: float | None) -> tuple[End, End]:
        # towards starboard everything is measured the other way
        port = end(high, 1.0)
        alike = low is high is None and place.surface.mirrored
        return port, port.mirrored() if alike else end(low, -1.0)

    # by its long points, and by its middle line: between an inner edge and a side that leans inward corners
    # may pass one another
    pieces = [
        (port, other)
        for port, other in (ends(low, high) for low, high in beam.between)
        if port.long + other.long > LEAST_MEMBER_M and port.middle + other.middle > LEAST_MEMBER_M / 2
    ]
    members = []
    for k, (port, other) in enumerate(reversed(pieces), start=1):
        key = f"{beam.key}.{k}" if len(pieces) > 1 else beam.key
        members.append(
            Member(
                f"{c.id}/cross/{key}", f"{c.code}-{key}", f"{c.name}, cross member {key}", c.id,
                source, port.long + other.long,
                ((beam.x, port.middle, z), (beam.x, -other.middle, z)), note=note, role="cross",
                ends=(port.cut, other.cut), copes=(port.cope, other.cope),
                bodies=bodies(port, other),
            )
        )  # fmt: skip
    return members


def _side_angles(place: Place) -> list[Member]:
    """Along both sides between the faces, as far forward as both their flanges have room."""
    aft, fore = place.carried
    room = between_flanges(place.surface, place.under, place.source.b)
    if not room.is_empty:
        fore = min(fore, float(room.bounds[2]))
    if place.hand < 0:
        return _along(place, aft, fore, -1, "starboard", "AS")
    port = _along(place, aft, fore, 1, "port", "AP")
    if place.hand > 0:
        return port
    if place.surface.mirrored:
        return [*port, *(_to_starboard(m) for m in port)]
    return [*port, *_along(place, aft, fore, -1, "starboard", "AS")]


def _along(place: Place, aft: float, fore: float, side: int, word: str, code: str) -> list[Member]:
    path = side_path(place.hull, aft, fore, side)
    return _bent(place, path, word, code) if len(path) >= 2 else []


def _to_starboard(m: Member) -> Member:
    """The same angle on the other side of a symmetrical hull."""

    def other(text: str, port: str, starboard: str) -> str:
        head, _, tail = text.rpartition(port)  # the last one: before it is what somebody typed
        return f"{head}{starboard}{tail}"

    return replace(
        m,
        key=other(m.key, "/port", "/starboard"),
        label=other(m.label, "-AP", "-AS"),
        name=other(m.name, " port", " starboard"),
        path=tuple((x, -y, z) for x, y, z in m.path),
        late_bodies=partial(_mirrored, m),
        late_bent=lambda: Bent(m.slots, m.opening_deg),
    )


def _mirrored(m: Member) -> Sequence[Body]:
    fills = m.fills
    if isinstance(fills, Eights):
        return fills.mirrored()
    return tuple(tuple((x, -y, z) for x, y, z in body) for body in fills)


def _bent(place: Place, path: Array, word: str, code: str) -> list[Member]:
    """One side angle in as many pieces as its stick makes of it."""
    c, source, z = place.choices, place.source, place.middle
    length = path_length_m(path)
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])
    pieces = math.ceil(length / (source.length - SAW_M))
    members = []
    for k in range(pieces):
        suffix = f".{k + 1}" if pieces > 1 else ""
        low, high = length * k / pieces, length * (k + 1) / pieces
        within = along[(along > low + SAME_M) & (along < high - SAME_M)]
        marks = np.concatenate([[low], within, [high]])
        part = np.column_stack([np.interp(marks, along, path[:, axis]) for axis in (0, 1)])
        # the stick lies along the side, its end lies athwart
        run = part[1] - part[0]
        mitre = abs(math.degrees(math.atan2(run[1], run[0])))
        cut = EndCut(mitre, 0.0, "at the side") if mitre > LEAST_ANGLE_DEG and k == 0 else SQUARE
        members.append(
            Member(
                f"{c.id}/side/{word}{suffix}", f"{c.code}-{code}{suffix}",
                f"{c.name}, side angle {word}{suffix}", c.id, source, length / pieces,
                tuple((float(x), float(y), z) for x, y in part), ends=(cut, SQUARE),
                ends_at=("aft end", "fore end"), role="side",
                late_bodies=partial(bent_bodies, place.surface, place.under, source, part),
                late_bent=partial(cut_and_opened, place.surface, place.under, source, path, (low, high)),
            )
        )  # fmt: skip
    return members


def _tracks(place: Place, framing: Framing, legs: dict[float, float]) -> list[Member]:
    """Lengthwise members beside each hatch, from leg to leg of its frame members, flanges cut back."""
    c = place.choices
    made = [
        _lengthwise(
            place, legs, (t.aft, t.fore), t.y, t.leg, f"{c.id}/track/{t.guest}/{t.side}",
            f"{t.code}-T{t.side[0].upper()}", f"{t.code}, track {t.side}",
        )
        for t in framing.tracks
    ]  # fmt: skip
    return [m for m in made if m is not None]


def _battens(place: Place, joints: Sequence[Batten], legs: dict[float, float]) -> list[Member]:
    """Lengthwise members under the joints of a skin, one in each bay."""
    c = place.choices
    made = [
        _lengthwise(
            place, legs, (b.aft, b.fore), b.y, 1.0 if b.y > 0 else -1.0, f"{c.id}/batten/{k}",
            f"{c.code}-N{k}", f"{c.name}, batten {k}",
        )
        for k, b in enumerate(joints, start=1)
    ]  # fmt: skip
    return [replace(m, role="batten") for m in made if m is not None]


def _lengthwise(
    place: Place, legs: dict[float, float], between: tuple[float, float], y: float, leg: float,
    key: str, label: str, name: str,
) -> Member | None:  # fmt: skip
    """A member between the legs of two cross members, its own leg on its port (+1) or starboard
    edge; None where there is no room for one."""
    c, source, z = place.choices, place.source, place.middle
    a, b, t, under = source.a, source.b, source.t, place.under
    (fore, fore_cope), (back, aft_cope) = (
        place.sides.joint.against(sign * at, b, t, sign * legs[at])
        for at, sign in ((between[1], 1.0), (between[0], -1.0))
    )
    aft = -back
    if fore - aft <= LEAST_MEMBER_M:
        return None
    near = y + b / 2 - t if leg > 0 else y - b / 2
    upright = _box(aft, fore, near, near + t, under - a, under - t)
    flange = _box(aft + aft_cope, fore - fore_cope, y - b / 2, y + b / 2, under - t, under)
    return Member(
        key, label, name, c.id, source, fore - aft, ((aft, y, z), (fore, y, z)),
        ends=(SQUARE, SQUARE), ends_at=("aft end", "fore end"),
        copes=(aft_cope, fore_cope), bodies=(upright, flange),
    )  # fmt: skip


def _box(x0: float, x1: float, y0: float, y1: float, z0: float, z1: float) -> Body:
    """Corners of a box on the boat's axes."""
    return tuple((x, y, z) for x in (x0, x1) for y in (y0, y1) for z in (z0, z1))
