"""Pods: where they stand, and a first pair."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Floats, Kind, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.pods.build import build
from stirrup.core.kinds.pods.choices import Pods
from stirrup.core.kinds.pods.shape import lay_out
from stirrup.core.parts.catalogue import Catalogue

OUT_SHARE, HIGH_SHARE, INNER_M = (
    0.92,
    0.6,
    0.30,
)  # of the bottom's half breadth and her side, for a first pair


class PodsKind(Kind[Pods]):
    key, title = "pods", "Pods behind the transom"
    choices = Pods
    letter = "P"
    spans = alone = buoyant = True
    entries = (
        Entry("pods", "Pods behind the transom", 0, "carry the motor's weight: before the transom's paint",
              "hull extension flotation stern tunnel"),
    )  # fmt: skip
    about = (
        "A closed box on either side of the motor, flush with the bottom, as high and as long as you like: "
        "five plates each in their true shape, seams or laminate, a drain plug; doublers inside the "
        "transom, spray rails, a tray between, tread and ladder. They carry her afloat; "
        "sealed ones when she is swamped too."
    )

    def extent(self, c: Pods, where: Where) -> Extent:
        try:
            corners = [p.corners for p in lay_out(c, where.surface)]
        except CoreError:
            aft = float(where.surface.outside.low[0])
            return Extent((aft - c.long, aft), (-c.outer, c.outer), (max(0.0, c.top - 0.3), c.top))
        xs, zs = ([float(v) for k in corners for v in k[:, axis]] for axis in (0, 2))
        return Extent((min(xs), max(xs)), (-c.outer, c.outer), (min(zs), c.top))

    def shift(self, c: Pods, by: Point) -> list[tuple[Path, float]]:
        """Up and down: they stand at the transom, on both sides."""
        return [(("top",), c.top + by[2])] if abs(by[2]) > FINE_M / 2 else []

    def edge_choice(self, edge: str) -> Path | None:
        return ("top",) if edge == "top" else None

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("they stand on both sides of the centreline already", f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("there is one pair behind a transom", f"fittings.{value['id']}")

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """Clear of the motor, out to near the chine, over half as high as her side."""
        surface = placing.surface
        motors = placing.all_of("motor")
        motor = next((m for m in motors if m.id == placing.host), motors[0] if motors else None)
        # the first line out of the keel at the transom: where the bottom ends
        outer = OUT_SHARE * max(float(line[0][1]) for line in surface.lines[0][:-1])
        aft = surface.lines[0][-1][0]
        keel = float(surface.lines[0][0][0][2])
        inner = INNER_M if outer > INNER_M + 0.1 else round(max(0.02, outer - 0.12), 3)
        out = {
            "kind": self.key, "id": placing.id("pods"), "name": "Pods", "mark": placing.mark(self.letter),
            "doublers": True,
            "inner": inner, "outer": round(max(outer, inner + 0.1), 3),
            "top": round(keel + HIGH_SHARE * (float(aft[2]) - keel), 3),
        }  # fmt: skip
        if placing.hull_of == "moulded":
            out |= {"skin": "ply-12", "joined": "glassed over"}
        return out if motor is None else {**out, "motor": motor.id}

    def idle(self, c: Pods, catalogue: Catalogue) -> frozenset[str]:
        return frozenset(("cloth", "plies", "resin") if c.joined != "glassed over" else ())

    def floats(self, c: Pods, surface: HullSurface) -> tuple[Floats, ...]:
        """Both of them; what is aired fills once she is swamped."""
        floods = c.inside != "sealed dry"
        return tuple(
            Floats("port" if p.hand > 0 else "starboard", p.solid, floods) for p in lay_out(c, surface)
        )

    def facts(self, c: Pods) -> str:
        return c.inside

    def build(self, c: Pods, site: Site) -> Built:
        return build(c, site)


KIND = PodsKind()
