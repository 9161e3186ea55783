"""What can be chosen of a hatch, and the sizes that follow from that alone."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field
from shapely.geometry import Polygon

from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.gives import Built, Hole, Opening
from stirrup.core.contract.schools import Edges, School
from stirrup.core.document import Id, ThingRef
from stirrup.core.fittings.cover import wrapped_m
from stirrup.core.fittings.in_deck import flange_m
from stirrup.core.fittings.lid_support import Support
from stirrup.core.fittings.runners import Rectangle
from stirrup.core.fittings.stock import LatchId, LidId
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.quantities import Angle, Length
from stirrup.core.record import dataclass
from stirrup.core.space.rounded import rounded

Side = Literal["aft", "fore", "port", "starboard"]
# flush on landings; the same with a gutter inside of these that takes the water; or on top, lapping it
Lies = Literal["flush", "flush, over a gutter", "on the deck"]

SKIN_HOLD_M = 0.012  # of a flange that the skin beside an opening is fastened to; starting value
FREE_PLAY_M = {"metal": 0.0015, "plastic": 0.0015, "wood": 0.0025, "composite": 0.0025, "foam": 0.0025}


class Hatch(FittingBase):
    """Choices for a hatch in a deck; `deck` is the one that carries it."""

    kind: Literal["hatch"] = "hatch"
    deck: Annotated[Id, ThingRef("opening", "lies in")] = Field(title="In deck")
    x: Length = Field(ge=-2, le=40, title="Middle, from transom")
    y: Length = Field(0.0, ge=-5, le=5, title="Middle, to port")
    clear_length: Length = Field(ge=0.1, le=2, title="Clear opening, along")
    clear_width: Length = Field(ge=0.1, le=2, title="Clear opening, across")
    corner: Length = Field(0.03, ge=0, le=0.3, title="Corner radius")
    lies: Lies = Field("flush", title="Its lid lies")
    landing: Length = Field(
        0.025, ge=0.008, le=0.1, title="Landing", description="each side; how far a lid laps its deck"
    )
    gutter: Length = Field(
        0.025, ge=0.015, le=0.06, title="Gutter, wide", description="inside of the landing"
    )
    lid: LidId = Field("as the deck", title="Lid")
    runner: Length = Field(
        0.0, ge=0, le=0.05, title="Runner under the lid", description="thick at the latch"
    )
    runner_cut_back: bool = Field(False, title="Runner cut back round the latch")
    hinge: Side = Field("fore", title="Hinge side")
    hinges: Literal["continuous", "lift-off", "concealed"] = Field("continuous", title="Hangs by")
    axis_inside: Length = Field(
        0.016, ge=0.004, le=0.06, title="Axis inside of the edge", description="of concealed hinges"
    )
    latch: LatchId = Field("latch-50", title="Latch")
    support: Support = Field("none", title="Held open by")
    opens: Angle = Field(80.0, ge=40, le=105, title="Opens to, degrees")
    edges: Annotated[Edges | None, School("edges")] = Field(None, title="Deck's cover at the lid's edge")


@dataclass(frozen=True)
class Carrier:
    """What a hatch itself depends on of the deck that carries it; its edges are not among it."""

    skin: str
    cover: str
    leg: float = 0.0  # how far its members hang under the skin [m]
    landing: float = 0.0  # how far they reach into the opening for the lid [m]


def carrier(host: object) -> Carrier:
    """What a hatch depends on of the choices of its host."""
    return Carrier(str(getattr(host, "skin", "al-2.5")), str(getattr(host, "cover", "none")))


def lid_stock(c: Hatch, deck: Carrier) -> str:
    """Sheet of the lid: its own, or the deck's."""
    return deck.skin if c.lid == "as the deck" else c.lid


def gap_m(c: Hatch, host: object, catalogue: Catalogue) -> float:
    """Edge gap: free play of the material plus a cover that wraps the lid's edge [m]; none round a lid
    that lies on its deck.

    Source: docs/trade-rules.md, “Hatches”.
    """
    if c.lies == "on the deck":
        return 0.0
    deck = carrier(host)
    play = FREE_PLAY_M[catalogue.sheet(lid_stock(c, deck)).stuff.kind]
    return play + wrapped_m(catalogue, deck.cover, c.edges)


def beside_m(c: Hatch) -> float:
    """From the edge of the clear opening to that of the cut-out in the deck [m]."""
    return {"flush": c.landing, "flush, over a gutter": c.landing + c.gutter, "on the deck": 0.0}[c.lies]


def over_m(c: Hatch, gap: float) -> float:
    """From the edge of the clear opening to that of the lid, with a gap round it [m]."""
    return c.landing if c.lies == "on the deck" else beside_m(c) - gap


def cutout_of(c: Hatch) -> Polygon:
    """Cut-out in the deck's skin: the clear opening and what is beside it all round."""
    beside = beside_m(c)
    length, width = c.clear_length + 2 * beside, c.clear_width + 2 * beside
    return rounded(c.x, c.y, length, width, c.corner + beside)


def lid_of(c: Hatch, gap: float) -> Polygon:
    """Outline of the lid, with a gap round it [m]."""
    over = over_m(c, gap)
    return rounded(c.x, c.y, c.clear_length + 2 * over, c.clear_width + 2 * over, c.corner + over)


def landing_m(c: Hatch, host: object, catalogue: Catalogue) -> float:
    """The landing that gets built: as chosen, as long as the flange still holds the skin beside it [m].
    A lid that lies on the deck needs none of it."""
    if c.lies == "on the deck":
        return 0.0
    return min(c.landing, flange_m(catalogue, host) - SKIN_HOLD_M)


def opening(c: Hatch, host: object, catalogue: Catalogue) -> Opening:
    """The members' flanges reach as far into the cut-out as the landing is wide, the rest holds the
    skin: so their middles stand a little beside its edge."""
    cutout = cutout_of(c)
    inward = landing_m(c, host, catalogue) - flange_m(catalogue, host) / 2
    x0, y0, x1, y1 = cutout.bounds
    lid = lid_of(c, 0.0) if c.lies == "on the deck" else None
    return Opening(c.id, c.code, cutout, (x0 + inward, y0 + inward, x1 - inward, y1 - inward), over=lid)


def clear_between(c: Hatch, deck: Built, host: object, catalogue: Catalogue) -> Rectangle:
    """What the deck's members leave of the clear opening [m]: a shared one may stand in it."""
    framed = next((f for f in deck.framed if f.guest == c.id), None)
    # a landing that the flange is too narrow for leaves more than was asked
    spare = 0.0 if c.lies == "on the deck" else c.landing - landing_m(c, host, catalogue)
    aft, starboard, fore, port = (max(p - spare, 0.0) for p in framed.past) if framed else (0.0,) * 4
    a, b = c.clear_length / 2, c.clear_width / 2
    return (c.x - a + aft, c.y - b + starboard, c.x + a - fore, c.y + b - port)


def past_edge(c: Hatch, between: Rectangle, side: Side) -> float:
    """How far a member stands past the clear opening's edge on a side [m]."""
    x0, y0, x1, y1 = between
    a, b = c.clear_length / 2, c.clear_width / 2
    return {"aft": x0 - (c.x - a), "starboard": y0 - (c.y - b), "fore": c.x + a - x1,
            "port": c.y + b - y1}[side]  # fmt: skip


def hole_of(between: Rectangle, deck: str) -> Hole:
    """The way through the deck that its members leave."""
    x0, y0, x1, y1 = between
    return Hole((x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0, deck)
