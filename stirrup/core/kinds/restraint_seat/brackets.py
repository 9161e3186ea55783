"""Six brackets of a restraint seat: each folded from a piece of plate, its foot outward under the seat."""

from __future__ import annotations

from functools import cached_property

from stirrup.core.contract.kind import Site
from stirrup.core.errors import CoreError
from stirrup.core.fittings.crate import rectangle
from stirrup.core.fittings.through_bolts import along_floor, bolt_hole
from stirrup.core.kinds.restraint_seat.choices import SHARE_APART, RestraintSeat
from stirrup.core.parts.entries import Sheet
from stirrup.core.parts.folding import Bend, laid_flat, least_radius_m, setback_m
from stirrup.core.parts.model import Frame, Panel, Ring
from stirrup.core.record import dataclass

SHARES = (-SHARE_APART, 0.0, SHARE_APART)  # of the shell's depth: where its pairs of brackets are
FOOT_M = 0.07  # of a bracket's foot, from the shell outward
BOLT_M = 0.008
BOLT_UP_M = 0.06  # of a bolt through the shell's side, over its foot: working value
EDGE_M = 0.016  # from a bolt to an edge: twice its thickness
OVER_M = 0.01  # of a plate under the floor, beyond the bracket's foot
LEAST_UP_M = 0.02  # left under the shell
SHELL_M = 0.004  # thickness of its side
SQUARE_DEG = 90.0


@dataclass(frozen=True)
class Bracket:
    """One of them: its number, to port (+1) or starboard (-1), x of its middle [m], height of its bolt
    and of its upper edge over the floor [m]."""

    number: int
    hand: int
    x: float
    bolt: float
    high: float


@dataclass(frozen=True)
class Set:
    """A restraint seat where it stands: height of its foot [m], its plate, how thick the floor is (0 where
    nothing is bolted through), the floor's underside under its middle and its rise."""

    c: RestraintSeat
    foot: float
    plate: Sheet
    radius: float
    floor: float
    under: tuple[float, float]

    @property
    def t(self) -> float:
        return self.plate.thickness

    @cached_property
    def brackets(self) -> tuple[Bracket, ...]:
        """From aft forward, starboard before port."""
        out: list[Bracket] = []
        for share in SHARES:
            ahead, up = self.c.at(share * self.c.depth, BOLT_UP_M)
            out += [Bracket(len(out) + k, hand, self.c.x + ahead, up, up + EDGE_M)
                    for k, hand in ((1, -1), (2, 1))]  # fmt: skip
        return tuple(out)

    @property
    def apart(self) -> float:
        """From the aft pair to the fore one [m]."""
        return self.brackets[-1].x - self.brackets[0].x


def lay_out(c: RestraintSeat, site: Site, foot: float) -> Set:
    """Raises CoreError for plate that does not fold, and a shell that would stand in the floor."""
    plate = site.catalogue.sheet(c.plate)
    radius = least_radius_m(plate)
    if radius is None:
        raise CoreError(f"{plate.name} is not folded; accepted: plate that takes a bend",
                        f"fittings.{c.id}.plate")  # fmt: skip
    if c.rear < LEAST_UP_M - 1e-9:
        least = c.slots_at - c.rear + LEAST_UP_M
        raise CoreError(
            f"read {c.slots_at:.3f} m; accepted: at least {least:.3f} m, so that {LEAST_UP_M:g} m are left "
            "under its shell", f"fittings.{c.id}.slots_at",
        )  # fmt: skip
    host = site.host
    there = host.floors[0] if host is not None and host.floors else None
    thick = there.top_m - there.under_m if there is not None else 0.0
    under = (there.top_at(c.x) - thick, there.rise) if there is not None else (foot, 0.0)
    return Set(c, foot, plate, radius, thick, under)


def _foot_holes(s: Set) -> list[tuple[float, float]]:
    """Bolts of a foot: along it from its middle, and from its outer edge to the middle of its flat [m]."""
    along, flat = s.c.bracket / 2 - EDGE_M, FOOT_M - setback_m(SQUARE_DEG, s.radius + s.t)
    return [(u, flat / 2) for u in (-along, along)] if s.c.joined == "bolted" else []


def bracket_panel(s: Set, b: Bracket) -> Panel:
    """One bracket by its flat pattern: from the outer edge of its foot to its upper edge."""
    c, wide = s.c, s.c.bracket
    strip = laid_flat((FOOT_M, b.high), (SQUARE_DEG,), s.radius, s.t)
    back, (_, f1), (u0, u1) = setback_m(SQUARE_DEG, s.radius + s.t), *strip.flats
    side = c.y + b.hand * c.width / 2
    inward = (0.0, -float(b.hand), 0.0)
    foot = Frame((b.x, side + b.hand * (back + FOOT_M) / 2, s.foot + s.t / 2), (1.0, 0.0, 0.0), inward)
    upright = Frame((b.x, side + b.hand * s.t / 2, s.foot + (back + b.high) / 2), (1.0, 0.0, 0.0),
                    (0.0, 0.0, 1.0))  # fmt: skip
    in_foot = tuple(bolt_hole(at, BOLT_M) for at in _foot_holes(s))
    bolt_v = u0 + b.bolt - back
    cut = (*in_foot, bolt_hole((0.0, bolt_v), BOLT_M))

    def panel(ring: Ring, holes: tuple[Ring, ...], frame: Frame) -> Panel:
        return Panel(f"{c.id}/bracket/{b.number}", f"{c.code}-K{b.number}", f"{c.name}, bracket {b.number}",
                     c.id, s.plate, ring, holes, frame, (0, 90, 180, 270))  # fmt: skip

    flats = (
        panel(rectangle(wide, f1), tuple(_down(r, f1 / 2) for r in in_foot), foot),
        panel(rectangle(wide, u1 - u0), (_down(cut[-1], (u0 + u1) / 2),), upright),
    )
    whole = panel(((-wide / 2, 0.0), (wide / 2, 0.0), (wide / 2, strip.length), (-wide / 2, strip.length)),
                  cut, foot)  # fmt: skip
    bend = Bend((-wide / 2, strip.bends[0]), (wide / 2, strip.bends[0]), SQUARE_DEG, s.radius, 1, True,
                "the outer edge of its foot")  # fmt: skip
    return Panel(whole.key, whole.label, whole.name, c.id, s.plate, whole.outline, whole.holes, foot,
                 whole.rotations, bends=(bend,), flats=flats)  # fmt: skip


def _down(ring: Ring, by: float) -> Ring:
    return tuple((u, v - by) for u, v in ring)


def plate_panels(s: Set) -> list[Panel]:
    """A plate under the floor below each bracket's foot, with the holes of its bolts."""
    c, out = s.c, []
    if not s.floor or c.joined != "bolted":
        return []
    z, rise = s.under
    for b in s.brackets:
        y = c.y + b.hand * (c.width / 2 + FOOT_M / 2)
        frame = Frame((b.x, y, z + rise * (b.x - c.x) - s.t / 2), *along_floor(0.0, rise))
        # from the foot's outer edge to the plate's own middle
        holes = tuple(bolt_hole((u, b.hand * (FOOT_M / 2 - v)), BOLT_M) for u, v in _foot_holes(s))
        ring = rectangle(c.bracket + 2 * OVER_M, FOOT_M + 2 * OVER_M)
        out.append(Panel(f"{c.id}/plate/{b.number}", f"{c.code}-P{b.number}",
                         f"{c.name}, plate under bracket {b.number}", c.id, s.plate, ring, holes, frame,
                         (0, 90, 180, 270)))  # fmt: skip
    return out
