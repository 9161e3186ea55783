"""How far a member gives under somebody, with what of its skin works with it."""

from __future__ import annotations

from stirrup.core.fittings.plate import PATCH_M, PERSON_N
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.record import dataclass

# a heavy person again, with a share for what is dropped and jumped: for strength
STRENGTH_N = PERSON_N * 2.0 / 1.2
SAFE = 1.5  # yield over what is allowed
EACH_SIDE_T = 30.0  # of thin metal that works with a member, on each side: thicknesses of it


@dataclass(frozen=True)
class Strip:
    """A rectangle of a cross-section: E [Pa], width, from low to high over any level line [m]."""

    e: float
    wide: float
    low: float
    high: float


@dataclass(frozen=True)
class Stiff:
    """Bending stiffness E I [N m2], and at what moment its lower edge yields [N m]; None where that is
    not known."""

    ei: float
    moment: float | None


def works_m(skin: Sheet, spacing: float) -> float:
    """Breadth of a skin that works with the member it is riveted to [m]: of metal the lesser of the
    spacing and 30 thicknesses on either side; of anything that is only screwed or riveted on, none.
    Source: docs/trade-rules.md, “Underfoot”."""
    metal = skin.stuff.kind == "metal" and skin.stuff.e_gpa is not None
    return min(spacing, 2 * EACH_SIDE_T * skin.thickness) if metal else 0.0


def angle_strips(section: Section, e: float) -> list[Strip]:
    """An angle as it stands under a skin, its flange b at the top (z = 0), its leg a down [m]."""
    a, b, t = section.a, section.b, section.t
    return [Strip(e, b, -t, 0.0), Strip(e, t, -a, -t)]


def stiffness_of(strips: list[Strip], yields: float | None) -> Stiff:
    """E I about the neutral line of strips that are fastened to one another (Steiner).

    yields: of what the lowest strip is made of [Pa].
    """
    ea = [s.e * s.wide * (s.high - s.low) for s in strips]
    middle = sum(k * (s.low + s.high) / 2 for k, s in zip(ea, strips, strict=True)) / sum(ea)
    ei = sum(
        k * ((s.high - s.low) ** 2 / 12 + ((s.low + s.high) / 2 - middle) ** 2)
        for k, s in zip(ea, strips, strict=True)
    )
    lowest = min(strips, key=lambda s: s.low)
    # σ = E M y / EI at the lowest edge
    moment = None if yields is None else yields * ei / (lowest.e * (middle - lowest.low))
    return Stiff(ei, moment)


def under_skin(section: Section, skin: Sheet, spacing: float) -> Stiff | None:
    """An angle with the skin that works with it; None where nobody knows how stiff it is."""
    e, yields = section.stuff.e_gpa, section.stuff.yield_mpa
    if e is None:
        return None
    strips, wide = angle_strips(section, e * 1e9), works_m(skin, spacing)
    if wide > 0:
        strips.append(Strip((skin.stuff.e_gpa or 0.0) * 1e9, wide, 0.0, skin.thickness))
    return stiffness_of(strips, None if yields is None else yields * 1e6)


def sags_m(span: float, ei: float, force: float = PERSON_N, patch: float = PATCH_M[1]) -> float:
    """Middle of a beam that lies on its ends, under a force spread over a patch there [m].

    P (8 L³ - 4 L c² + c³) / 384 E I, which is P L³ / 48 E I for a point and 5 P L³ / 384 E I all along.
    """
    c = min(patch, span)
    return force * (8 * span**3 - 4 * span * c**2 + c**3) / (384 * ei)


def kept(span: float, ei: float, skin: float, apart: float, strip: float) -> float:
    """What a member keeps of a load on its middle; the rest goes to its neighbours on either side through
    the skin that runs on over all three, 1/3 to 1.

    skin: bending stiffness of the skin [N m]; apart: from each neighbour; strip: breadth of the skin
    between them [m], L / 2 where it has no openings: along half a wave sin² is 1/2 in the mean. Three
    springs k = 48 E I / L³ under it, ks = 48 D strip / (2 apart)³: the neighbours take P / (1.5 + k / ks).
    """
    if strip <= 0:
        return 1.0
    k, ks = 48 * ei / span**3, 48 * skin * strip / (2 * apart) ** 3
    return 1 - 1 / (1.5 + k / ks)


def bends_nm(span: float, force: float = STRENGTH_N, patch: float = PATCH_M[1]) -> float:
    """Greatest moment in it: P (L / 4 - c / 8) [N m]."""
    return force * (span / 4 - min(patch, span) / 8)
