"""Engine beds: where they run, and first ones under an engine that is there."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site, off_centre
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.girder import obstacle_of
from stirrup.core.hull.bottom import bottom_m
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.engine_bed.build import build
from stirrup.core.kinds.engine_bed.choices import EngineBed
from stirrup.core.parts.catalogue import Catalogue

NONE = "carry an engine that stands in the boat: note it as found first"
PAST_M = 0.3  # of bed beyond the feet at either end, of first ones
SHARE = 0.9  # of an engine's breadth from foot to foot, of first ones
FLANGE_M, SHIMS_M = 0.005, 0.004
WELDED = {"core": "al-6.4", "layers": 1, "joined": "welded"}
LAMINATE = ("cloth", "plies", "resin", "gap")


class EngineBedKind(Kind[EngineBed]):
    key, title = "engine_bed", "Engine beds"
    choices = EngineBed
    letter = "J"
    carves = alone = True
    entries = (
        Entry("engine_bed", "Engine beds", 0, "a pair under an inboard or jet: bolts, torque, and how it "
                                              "lies "
              "to its drive", "inboard jet mount bearer stand"),
    )  # fmt: skip
    about = (
        "A pair of beds along the bottom for an engine that stands in the boat: cores in layers, each cut "
        "to the bottom under it, laminated over or welded; a relief in their tops; angles or coach screws "
        "at the feet. Three times its weight and its torque are held against bolts and core, and gaps at "
        "the coupling say what goes under its feet. By the makers' instructions of engine and drive."
    )

    def extent(self, c: EngineBed, where: Where) -> Extent:
        half = c.across / 2 + c.layers * where.catalogue.thickness_m(c.core) / 2
        floor = bottom_m(where.surface, (c.aft + c.fore) / 2, c.y)
        low = float(where.surface.inside.low[2]) if floor is None else floor
        return Extent((c.aft, c.fore), (c.y - half, c.y + half), (min(low, c.top - 0.01), c.top))

    def shift(self, c: EngineBed, by: Point) -> list[tuple[Path, float]]:
        out: list[tuple[Path, float]] = []
        if abs(by[0]) > FINE_M / 2:
            ends = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
            out += reversed(ends) if by[0] > 0 else ends
            out.append((("feet",), c.feet + by[0]))
            if c.relief is not None:
                out.append((("relief",), c.relief + by[0]))
        if abs(by[1]) > FINE_M / 2:
            out.append((("y",), c.y + by[1]))
        if abs(by[2]) > FINE_M / 2:
            out.append((("top",), c.top + by[2]))
        return out

    def edge_choice(self, edge: str) -> Path | None:
        return (edge,) if edge in ("aft", "fore", "top") else None

    def mirror(self, value: dict[str, Any]) -> None:
        value["y"] = off_centre(value["y"], f"fittings.{value['id']}")
        value["gap_port"], value["gap_starboard"] = value.get("gap_starboard"), value.get("gap_port")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError(
            "each engine has one pair: place them for the other engine", f"fittings.{value['id']}"
        )

    def missing(self, entry: str, offered: Callable[[str], bool]) -> str:
        return "" if offered("motor") else NONE

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Under the engine that is chosen, else the first that stands in her: as high as its foot."""
        inner = float(placing.surface.inside.low[0])
        standing = (m for m in placing.all_of("motor") if isinstance(m, ItemBase) and m.form == "motor")
        engines = [m for m in standing if m.mass.centre[0] > inner]
        if not engines:
            raise CoreError(NONE, "fittings")
        engine = next((m for m in engines if m.id == placing.host), engines[0])
        x, y, z = engine.mass.centre
        long, wide, high = engine.size or (0.9, 0.6, 0.6)
        apart, across = round(0.6 * long, 3), round(SHARE * wide, 3)
        half = apart / 2 + PAST_M
        aft = max(x - half, inner + 0.02)
        welded = WELDED if placing.hull_of == "metal" else {}
        return {
            "kind": self.key, "id": placing.id("beds"), "name": "Engine beds",
            "mark": placing.mark(self.letter), "engine": engine.id, "aft": round(aft, 3),
            "fore": round(x + half, 3), "y": round(y, 4), "feet": round(x, 3), "apart": apart,
            "across": across, "top": round(z - high / 2 - FLANGE_M - SHIMS_M, 4), **welded,
        }  # fmt: skip

    def idle(self, c: EngineBed, catalogue: Catalogue) -> frozenset[str]:
        """Laminate of what is welded; the size of a relief that is not there; the angle of none."""
        out = set(LAMINATE) if c.joined == "welded" else set()
        if c.relief is None:
            out |= {"relief_long", "relief_deep"}
        if c.held == "coach screws":
            out.add("angle")
        return frozenset(out)

    def facts(self, c: EngineBed) -> str:
        return f"two, {c.layers} layers each" if c.layers > 1 else "two"

    def stands_as(self, c: EngineBed, surface: HullSurface, catalogue: Catalogue) -> tuple[Obstacle, ...]:
        clad = catalogue.section(c.angle).t if c.held == "bolts through an angle" else 0.0
        return tuple(obstacle_of(c.one(hand), surface, catalogue, clad) for hand in (1.0, -1.0))

    def build(self, c: EngineBed, site: Site) -> Built:
        return build(c, site)


KIND = EngineBedKind()
