"""A step before a deck: a lower deck, half as high, that reaches under the foot of its face."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stirrup.core.contract.kind import Besides, Placing
from stirrup.core.errors import CoreError
from stirrup.core.kinds.raised_deck.choices import RaisedDeck

TREAD_M = 0.35  # of a step, fore and aft: a boot and room to turn; working value
UNDER_M = 0.04  # it reaches under the deck's face by this much: the face stands on it; working value
LEAST_M = 0.16  # a deck lower than this over what one stands on needs no step: working value
NONE = "a step goes before the free edge of a deck from side to side: place one first"


def step_of(placing: Placing, ground: Callable[[float, float], float]) -> tuple[RaisedDeck, dict[str, Any]]:
    """The deck that gets a step, and the step's choices but id, name and mark. ground: what one stands on
    at a place, under a height [m]. Raises CoreError where no deck has a free edge or is high enough."""
    decks = [c for c in placing.all_of("face") if isinstance(c, RaisedDeck) and not c.hand and _edges(c)]
    if not decks:
        raise CoreError(NONE, "fittings")
    deck = next((d for d in decks if d.id == placing.host), None) or _nearest(decks, placing)
    edge = _edge(deck, placing)
    x = deck.aft if edge == "aft" else deck.fore
    if x is None:  # see _edges
        raise CoreError(NONE, "fittings")
    out = -1.0 if edge == "aft" else 1.0
    top = deck.top_at(x)
    low = ground(x + out * TREAD_M / 2, top)
    if top - low < LEAST_M:
        raise CoreError(
            f"{deck.name} lies {top - low:.3f} m over what one stands on; from {LEAST_M:g} m on it needs a "
            "step", f"fittings.{deck.id}.height"
        )  # fmt: skip
    aft, fore = sorted((x + out * TREAD_M, x - out * UNDER_M))
    return deck, {
        "aft": round(aft, 4), "fore": round(fore, 4), "height": round((low + top) / 2, 3),
        "skin": deck.skin, "members": deck.members, "cover": deck.cover, "edges": deck.edges,
        "face": edge == "aft", "face_fore": edge == "fore",
        "face_foot": round(low, 4) if low > float(placing.surface.inside.low[2]) + 1e-6 else None,
    }  # fmt: skip


def besides(deck: RaisedDeck, value: dict[str, Any], bond: str) -> list[Besides]:
    """The deck's face ends on its step, and the step goes along with the deck's edge."""
    aft = bool(value["face"])
    edges = ("fore", "aft") if aft else ("aft", "fore")
    return [
        Besides(("fittings", deck.id, "face" if aft else "face_fore"), True),
        Besides(("fittings", deck.id, "face_foot"), value["height"]),
        Besides(("arrangement", "bonds"), {
            "id": bond, "thing": value["id"], "edge": edges[0], "to": deck.id, "to_edge": edges[1],
            "distance": UNDER_M if aft else -UNDER_M,
        }, added=True),
    ]  # fmt: skip


def _edges(c: RaisedDeck) -> list[str]:
    """Its edges that do not follow transom or bow."""
    return [edge for edge, x in (("aft", c.aft), ("fore", c.fore)) if x is not None]


def _edge(c: RaisedDeck, placing: Placing) -> str:
    """The edge that gets the step: the one with a face, else the one near the boat's middle; that where it
    was put."""
    edges = _edges(c)
    faced = [e for e in edges if (c.face if e == "aft" else c.face_fore)]
    low, high = placing.surface.outside.low, placing.surface.outside.high
    about = float(low[0] + high[0]) / 2 if placing.at is None else placing.at[0]
    among = faced if faced and placing.at is None else edges
    places = {"aft": c.aft, "fore": c.fore}
    return min(among, key=lambda e: abs((places[e] or 0.0) - about))


def _nearest(decks: list[RaisedDeck], placing: Placing) -> RaisedDeck:
    """The highest deck; the one whose edge is nearest to where it was put."""
    if placing.at is None:
        return max(decks, key=lambda d: d.height)
    about = placing.at[0]
    return min(decks, key=lambda d: min(abs(x - about) for x in (d.aft, d.fore) if x is not None))
