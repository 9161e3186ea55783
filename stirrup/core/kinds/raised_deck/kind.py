"""Raised deck: level, fitted to the inside of the hull, on side angles and cross members."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any

from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Besides, Entry, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.fittings.edges import inside_region
from stirrup.core.fittings.level_kind import LevelKind
from stirrup.core.kinds.raised_deck.build import build
from stirrup.core.kinds.raised_deck.choices import RaisedDeck, idle_choices
from stirrup.core.kinds.raised_deck.stepped import NONE, besides, step_of
from stirrup.core.parts.catalogue import Catalogue

STERN_SHARE = 0.1
OTHER = {"along port": "along starboard", "along starboard": "along port"}
REACH_M = 0.3  # ahead of where a first one begins
ONE_ONLY = "a deck reaches from side to side: place another one, it takes its outline from the hull"


class RaisedDeckKind(LevelKind[RaisedDeck]):
    key, title = "raised_deck", "Raised deck"
    choices = RaisedDeck
    letter = "D"
    offers = frozenset(["floor", "opening", "face"])
    one_only = ONE_ONLY
    about = (
        "Level or rising forward, from side to side or along one side, its outline from the inside of the "
        "hull, on side angles and cross members; its hatches decide where members go. A face may stand "
        "back over the feet of whoever stands before it."
    )
    entries = (
        Entry("raised_deck", "Raised deck", 1, "takes its outline from the hull; what stands on it comes "
              "after", "casting platform bow stern"),
        Entry("deck step", "Step before a deck", 1, "a lower deck half as high under the foot of its face, "
              "as wide as the boat", "stepped stair tread two levels"),
    )  # fmt: skip

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """A step before a deck that is there. Else over the foremost third, a little over half way up the
        side; or about where it was put, its aft edge along the transom near the stern."""
        if entry == "deck step":
            id_ = placing.id("step")
            number = id_.rsplit("-", 1)[1]
            return {"kind": self.key, "id": id_, "name": f"Step {number}",
                    "mark": placing.mark(self.letter), **step_of(placing, _ground(placing))[1]}  # fmt: skip
        surface = placing.surface
        low, high = surface.outside.low, surface.outside.high
        sheer = min(float(p[2]) for p in surface.lines[0][-1])
        height = round(max(0.05, 0.72 * sheer), 2)
        shape = inside_region(surface, height - 0.003)
        x1 = shape.bounds[2] if not shape.is_empty else float(high[0])
        aft = round(float(low[0]) + 0.62 * (x1 - float(low[0])), 2)
        fore = round(x1 - 0.25, 2)
        stern = False
        at = None if placing.at is None else placing.at[0]
        if at is None and _there_is_one(placing, aft):
            at = float(low[0]) + STERN_SHARE * (x1 - float(low[0]))  # the next one goes to the stern
        if at is not None and at < aft:
            middle = (float(low[0]) + x1) / 2
            half = 0.16 * (x1 - float(low[0]))
            stern = at < middle - half
            aft = round(float(low[0]) if stern else at - half, 2)
            fore = round(max(aft + 2 * half, at + 0.1), 2)
        id_ = placing.id("deck")
        return {
            "kind": self.key, "id": id_, "name": f"Deck {id_.rsplit('-', 1)[1]}",
            "mark": placing.mark(self.letter), "aft": None if stern else aft, "fore": fore,
            "height": height,
            # what is looked at stands under the edge that people see
            "face": not stern, "face_fore": stern,
            "face_foot": _on_floor(placing, fore if stern else aft, height),
        }  # fmt: skip

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return NONE if entry == "deck step" and not offered("face") else ""

    def besides(self, entry: str, value: dict[str, Any], placing: Placing) -> Sequence[Besides]:
        if entry != "deck step":
            return ()
        return besides(step_of(placing, _ground(placing))[0], value, placing.bond())

    def lone(self, c: RaisedDeck) -> bool:
        return not c.hand

    def breadth(self, c: RaisedDeck, hull: tuple[float, float]) -> tuple[float, float]:
        """From its inner edge on, where it lies along a side."""
        if not c.hand:
            return hull
        return (min(c.inner, hull[1]), hull[1]) if c.hand > 0 else (hull[0], max(-c.inner, hull[0]))

    def shift(self, c: RaisedDeck, by: Point) -> list[tuple[Path, float]]:
        out = super().shift(c, by)
        if c.hand and abs(by[1]) > FINE_M / 2:
            out.append((("inner",), c.inner + c.hand * by[1]))
        return out

    def mirror(self, value: dict[str, Any]) -> None:
        """One along a side, along the other."""
        if value["reaches"] not in OTHER:
            super().mirror(value)
        value["reaches"] = OTHER[value["reaches"]]

    def put_beside(self, value: dict[str, Any]) -> None:
        """One along a side once more, ahead of itself."""
        if value["reaches"] not in OTHER or value["aft"] is None or value["fore"] is None:
            super().put_beside(value)
        long = value["fore"] - value["aft"]
        value["aft"], value["fore"] = value["fore"], round(value["fore"] + long, 4)

    def idle(self, c: RaisedDeck, catalogue: Catalogue) -> frozenset[str]:
        return idle_choices(c, catalogue)

    def build_level(self, c: RaisedDeck, site: Site) -> Built:
        """Its parts and findings, level in its hull."""
        return build(c, site)


def _on_floor(placing: Placing, x: float, height: float) -> float | None:
    """Height at which a face ends that would stand in a floor; None where there is none under it [m]."""
    tops = [
        f.top_at(x)
        for _, built in placing.built("floor")
        for f in built.floors
        if not f.region.is_empty and f.region.bounds[0] <= x <= f.region.bounds[2] and f.top_at(x) < height
    ]
    # whole millimetres, over it
    return math.ceil(max(tops) * 1000 - 1e-6) / 1000 if tops else None


def _ground(placing: Placing) -> Callable[[float, float], float]:
    """What one stands on at a place under a height: the floor there, else the lowest of the boat [m]."""

    def find(x: float, under: float) -> float:
        floor = _on_floor(placing, x, under)
        return float(placing.surface.inside.low[2]) if floor is None else floor

    return find


def _there_is_one(placing: Placing, x: float) -> bool:
    """Whether a deck lies there already, rather than a floor."""
    return any(
        f.below is not None and f.region.bounds[0] <= x + REACH_M and f.region.bounds[2] > x + REACH_M
        for _, built in placing.built("floor")
        for f in built.floors
        if not f.region.is_empty
    )


KIND = RaisedDeckKind()
