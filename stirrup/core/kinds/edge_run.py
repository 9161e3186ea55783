"""What runs along an edge of the hull: rub rail, collar, keel guard; its length, and what it carries."""

from __future__ import annotations

import math
from functools import partial
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator
from shapely import box

from stirrup.core.contract.base import FittingBase, Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built, Shape
from stirrup.core.contract.kind import FINE_M, Entry, Floats, Kind, Path, Placing, Site
from stirrup.core.contract.ways import Way, ways
from stirrup.core.document import Id, Point, StockRef
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.hull.along import chine_of, lines_at
from stirrup.core.hull.mesh import HullSurface, hexahedron
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.model import Bought
from stirrup.core.quantities import Length
from stirrup.core.record import dataclass

declare("layout", {"EDGE-LENGTH": "length along an edge", "EDGE-HELD": "how it is held along an edge"},
        acceptable=True, pace="behind")  # fmt: skip

Array = NDArray[np.float64]
PartId = Annotated[Id, StockRef("hardware", wanted=(("unit", ("m",)),))]

STEP_M = 0.25  # between points of its run
SHORTEST_M = 0.2
SPARE = 1.03  # cut off at ends and corners
FIRST_M = 0.15  # of the foremost fixing from its fore end: usual value
BEAD_M2, CARTRIDGE_M3 = 5e-5, 0.00029  # of adhesive along one that is glued: two beads of 5 mm

HELD = ways(
    Way("fastened", "holds by itself at once and comes off again; a row of holes to bed"),
    Way("glued", "no hole; clean and dry skin, days of cure before load, off only in pieces"),
)


class EdgeRun(FittingBase):
    """Choices for what runs along an edge."""

    kind: Literal["edge_run"] = "edge_run"
    along: Literal["sheer", "chine", "keel"] = Field("sheer", title="Along the")
    reaches: Literal["on both sides", "port", "starboard"] = Field("on both sides", title="On")
    aft: Length = Field(ge=-2, le=40, title="Aft end, from transom")
    fore: Length = Field(ge=-2, le=40, title="Fore end")
    part: PartId = Field("fender-rub-38", title="What runs there")
    wide: Length = Field(0.03, ge=0.002, le=0.6, title="It stands out by")
    high: Length = Field(0.038, ge=0.002, le=0.8, title="It is high")
    held: Annotated[Literal["fastened", "glued"], HELD] = Field("fastened", title="Held")
    every: Length = Field(0.3, ge=0.03, le=1, title="Fixings every")
    carries: bool = Field(False, title="It carries: closed foam or a closed tube")

    @model_validator(mode="after")
    def _long(self) -> EdgeRun:
        if self.fore < self.aft + SHORTEST_M:
            raise ValueError(
                f"fore: read {self.fore:g} m, with its aft end at {self.aft:g} m; accepted: at least "
                f"{SHORTEST_M:g} m further forward"
            )
        return self

    @property
    def hands(self) -> tuple[int, ...]:
        """Port +1, starboard -1; along the keel once."""
        if self.along == "keel":
            return (1,)
        return {"on both sides": (1, -1), "port": (1,), "starboard": (-1,)}[self.reaches]


@dataclass(frozen=True)
class Run:
    """Along one side: port +1, points of the edge (n, 3) aft to fore [m]."""

    hand: int
    points: Array

    @property
    def long(self) -> float:
        """Along its points [m]."""
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())

    @property
    def middle(self) -> Array:
        """Of its stretches, by their length."""
        long = np.linalg.norm(np.diff(self.points, axis=0), axis=1)
        return np.asarray(np.average((self.points[1:] + self.points[:-1]) / 2, axis=0, weights=long))


def runs_of(c: EdgeRun, surface: HullSurface) -> list[Run]:
    """Raises CoreError where the hull has no such edge there."""
    xs = np.linspace(c.aft, c.fore, max(2, math.ceil((c.fore - c.aft) / STEP_M) + 1))
    out = []
    for hand in c.hands:
        lines = lines_at(surface, hand, xs)
        number = {"sheer": len(lines) - 1, "keel": 0, "chine": chine_of(lines)}[c.along]
        if c.along == "chine" and number == 0:
            raise CoreError("the hull has no chine between keel and sheer", f"fittings.{c.id}.along")
        points = lines[number]
        if c.along == "keel":
            points = points * np.array([1.0, 0.0, 1.0])
        points = points[~np.isnan(points).any(axis=1)]
        if len(points) >= 2 and Run(hand, points).long >= SHORTEST_M / 2:
            out.append(Run(hand, points))
    if not out:
        raise CoreError(f"from {c.aft:.3f} to {c.fore:.3f} m the hull has no such edge",
                        f"fittings.{c.id}.aft")  # fmt: skip
    return out


def sections(c: EdgeRun, run: Run) -> Array:
    """Four corners at each point, (n, 4, 3): inner low, outer low, inner high, outer high; in order of the
    bits of a hexahedron across and up."""
    half, at = c.high / 2, run.points
    if c.along == "keel":
        low, high, left, right = -c.wide, 0.0, -half, half
    else:
        low, high = -half, half
        left, right = (0.0, c.wide) if run.hand > 0 else (-c.wide, 0.0)
    offs = np.array([[0, left, low], [0, right, low], [0, left, high], [0, right, high]])
    return np.asarray(at[:, None, :] + offs[None, :, :])


def _bought(c: EdgeRun, runs: list[Run], site: Site) -> list[Bought]:
    entry, long = site.catalogue.plain(c.part), sum(r.long for r in runs)
    x, y, z = np.average([r.middle for r in runs], axis=0, weights=[r.long for r in runs])
    at: Point = (float(x), float(y), float(z))
    out = [Bought(f"{c.id}/run", f"{c.code}-L", f"{c.name}, {entry.name}", c.id, entry, long * SPARE,
                  long * entry.mass, at)]  # fmt: skip
    if c.held == "glued":
        glue = site.catalogue.plain("adhesive-ms")
        count = long * BEAD_M2 / CARTRIDGE_M3
        out.append(Bought(f"{c.id}/glue", f"{c.code}-G", f"{c.name}, adhesive", c.id, glue, count,
                          count * glue.mass, at, "consumables"))  # fmt: skip
    else:
        screw = site.catalogue.fastener_for("screw", 0.004)
        count = sum(fixings(r.long, c.every) for r in runs)
        if screw is not None:
            out.append(Bought(f"{c.id}/screws", f"{c.code}-F", f"{c.name}, fixings", c.id, screw, count,
                              count * screw.mass, at, "fasteners"))  # fmt: skip
    return out


def fixings(long: float, every: float) -> int:
    """Of a run: the foremost 150 mm from its end, the others no further apart than asked."""
    return max(2, math.ceil(max(long - FIRST_M, 0.0) / every - 1e-9) + 1)


def _findings(c: EdgeRun, runs: list[Run], litres: float) -> list[Finding]:
    long = sum(r.long for r in runs)
    values = {"long": Quantity(long, "m"), "each": Quantity(runs[0].long, "m"),
              "first": Quantity(FIRST_M, "m", True), "every": Quantity(c.every, "m", True),
              "litres": Quantity(litres, "litres")}  # fmt: skip
    work = Working(
        "length along the hull's own line, point by point",
        tuple(Input("port" if r.hand > 0 else "starboard", Quantity(r.long, "m")) for r in runs),
        Quantity(long, "m"), "rules of the trade, “Along an edge”",
    )  # fmt: skip
    carried = " It carries {litres} where water reaches it." if litres else ""
    out = [Finding("EDGE-LENGTH", "fine", c.id, "How long it is",
                   f"{{long}} along the {c.along}, {{each}} on each side it runs.{carried} "
                   "Begin at the bow.", values, working=work)]  # fmt: skip
    if c.held == "glued":
        ends = "" if c.along == "keel" else " Ends are fastened as well."
        return [*out, Finding("EDGE-HELD", "look", c.id, "Let it cure before it is loaded",
                              "Bright and dry ground, in the shade; a day to three before anybody leans "
                              f"on it or she goes in, by the maker's sheet.{ends}", {})]  # fmt: skip
    if c.along == "keel":
        fix = Fix("Glue it", path=("fittings", c.id, "held"), value="glued")
        return [*out, Finding("EDGE-HELD", "mend", c.id, "Nobody drills her keel for a guard",
                              "Each screw along the keel is a hole under water.", values, "Glue it.",
                              fixes=(fix,))]  # fmt: skip
    return [*out, Finding("EDGE-HELD", "fine", c.id, "How it is fastened",
                          "The foremost fixing {first} from its end, then every {every}, each hole "
                          "sealed.", values)]  # fmt: skip


def build(c: EdgeRun, site: Site) -> Built:
    """Raises CoreError where the hull has no such edge there."""
    runs = runs_of(c, site.surface)
    litres = sum(f.solid.volume_m3 for f in _floats(c, runs)) * 1000
    points = np.concatenate([sections(c, r).reshape(-1, 3) for r in runs])
    x0, y0, _ = points.min(axis=0).tolist()
    x1, y1, top = points.max(axis=0).tolist()
    return Built(
        c.id, (), (), tuple(_bought(c, runs, site)), tuple(s for r in runs for s in _shapes(c, r)), (),
        (), top, box(x0, y0, x1, y1), later=partial(_findings, c, runs, litres),
    )  # fmt: skip


def _shapes(c: EdgeRun, run: Run) -> tuple[Shape, ...]:
    at = sections(c, run)
    lower, upper = at[:, 0].tolist(), at[:, 1].tolist()
    ring = tuple((float(x), float(y), float(z)) for x, y, z in (*lower, *reversed(upper)))
    foot, head = at[:, 1].tolist(), at[:, 3].tolist()
    side = tuple((float(x), float(y), float(z)) for x, y, z in (*foot, *reversed(head)))
    return (Shape("form-body", ring), Shape("form-body", side, view="side"))


def _floats(c: EdgeRun, runs: list[Run]) -> tuple[Floats, ...]:
    """Stretch by stretch, each a closed body of eight corners."""
    if not c.carries:
        return ()
    out = []
    for run in runs:
        for k, (a, b) in enumerate(pairwise(sections(c, run))):
            # by bits: aft or fore, then across, then up
            corners = np.array([(b if i & 1 else a)[i >> 1] for i in range(8)])
            out.append(Floats(f"{'p' if run.hand > 0 else 's'}{k}", hexahedron(corners)))
    return tuple(out)


class EdgeRunKind(Kind[EdgeRun]):
    key, title = "edge_run", "Along an edge of the hull"
    choices = EdgeRun
    letter = "I"
    spans = alone = buoyant = True
    entries = (
        Entry("rub rail", "Rub rail along the sheer", 3, "covers the cap's edge: after decks and linings",
              "fender gunwale strip"),
        Entry("collar", "Foam collar along the sheer", 0, "carries her in a roll: tried before it is "
              "bought", "fender sponson tube stability"),
        Entry("keel guard", "Guard along the keel", 0, "takes the ramp and the gravel, glued while she is "
              "turned over", "skid protector"),
    )  # fmt: skip
    about = (
        "A rub rail, foam collar or keel guard along one of the hull's own lines: its length by that line, "
        "fixings or adhesive, the foremost one near the bow. A closed one carries, where water reaches it, "
        "in every load case."
    )

    def extent(self, c: EdgeRun, where: Where) -> Extent:
        try:
            points = np.concatenate([sections(c, r).reshape(-1, 3) for r in runs_of(c, where.surface)])
        except CoreError:
            return Extent((c.aft, c.fore), (-0.1, 0.1), (0.0, c.high))
        (x0, y0, z0), (x1, y1, z1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        return Extent((x0, x1), (y0, y1), (z0, z1))

    def shift(self, c: EdgeRun, by: Point) -> list[tuple[Path, float]]:
        if abs(by[0]) <= FINE_M / 2:
            return []
        ends: list[tuple[Path, float]] = [(("aft",), c.aft + by[0]), (("fore",), c.fore + by[0])]
        return ends[::-1] if by[0] > 0 else ends

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("choose the side on which it runs", f"fittings.{value['id']}.reaches")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("place another one, along another edge", f"fittings.{value['id']}")

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """All along her sheer, or from the transom to where her keel begins to rise."""
        line = placing.surface.lines[0][0 if entry == "keel guard" else -1]
        low, high = float(line[:, 0].min()), float(line[:, 0].max())
        aft, fore = round(low + 0.02, 3), round(low + 0.97 * (high - low), 3)
        value = {"kind": self.key, "aft": aft, "fore": fore, "mark": placing.mark(self.letter)}
        more: dict[str, dict[str, Any]] = {
            "rub rail": {"id": placing.id("rub-rail"), "name": "Rub rail"},
            "collar": {"id": placing.id("collar"), "name": "Collar", "part": "collar-foam", "wide": 0.15,
                       "high": 0.15, "held": "glued", "carries": True},
            "keel guard": {"id": placing.id("keel-guard"), "name": "Keel guard", "along": "keel",
                           "part": "guard-keel-100", "wide": 0.006, "high": 0.1, "held": "glued",
                           "fore": round(low + 0.75 * (high - low), 3)},
        }  # fmt: skip
        return {**value, **more[entry]}

    def idle(self, c: EdgeRun, catalogue: Catalogue) -> frozenset[str]:
        out = {"reaches"} if c.along == "keel" else set()
        return frozenset(out | ({"every"} if c.held == "glued" else set()))

    def floats(self, c: EdgeRun, surface: HullSurface) -> tuple[Floats, ...]:
        return _floats(c, runs_of(c, surface)) if c.carries else ()

    def facts(self, c: EdgeRun) -> str:
        return f"along the {c.along}"

    def build(self, c: EdgeRun, site: Site) -> Built:
        return build(c, site)


KIND = EdgeRunKind()
