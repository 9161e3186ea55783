"""A rebuilt transom: where it stands, and a first one."""

from __future__ import annotations

from typing import Any

from stirrup.core.contract.base import Where
from stirrup.core.contract.extent import Extent
from stirrup.core.contract.gives import Built
from stirrup.core.contract.kind import FINE_M, Entry, Kind, Path, Placing, Site
from stirrup.core.document import Point
from stirrup.core.errors import CoreError
from stirrup.core.fittings.edges import inside_region
from stirrup.core.kinds.transom.build import build
from stirrup.core.kinds.transom.choices import Transom
from stirrup.core.kinds.transom.shape import plane_of, sheer_m
from stirrup.core.parts.catalogue import Catalogue

NOTCH_M = 0.75  # of a first one: room for a motor to turn in
LAMINATE, PLATE, BOLTED = ("cloth", "plies"), ("plate",), ("tape",)


class TransomKind(Kind[Transom]):
    key, title = "transom", "Transom, rebuilt"
    choices = Transom
    letter = "W"
    spans = True
    alone = True
    entries = (
        Entry("transom", "Transom, its core rebuilt", 0, "carries the motor: before anything that lies "
              "against it", "core stern rot motor board"),
    )  # fmt: skip
    about = (
        "Its core in layers against the skin that stays, cut to the inside of the hull with a gap to bed "
        "it in and to the height at which its motor hangs. Laminated, plated or bare inside; tabbed "
        "or bolted in; the motor's four holes. Bolts and core are held against thrust at rest and a slam "
        "of three times its weight: a screening."
    )

    def extent(self, c: Transom, where: Where) -> Extent:
        sheer = sheer_m(where.surface)
        plane, thick = plane_of(where.surface, sheer), c.layers * where.catalogue.thickness_m(c.core)
        high = max(sheer, c.top)
        xs = [plane.x(z) for z in (plane.low, high)]
        room = inside_region(where.surface, min(c.top, sheer - 1e-3))
        sides = (0.0, 0.0) if room.is_empty else (float(room.bounds[1]), float(room.bounds[3]))
        return Extent((min(xs), max(xs) + thick * plane.long), sides, (plane.low, c.top))

    def shift(self, c: Transom, by: Point) -> list[tuple[Path, float]]:
        """Up and down: its place is at the stern."""
        return [(("top",), c.top + by[2])] if abs(by[2]) > FINE_M / 2 else []

    def edge_choice(self, edge: str) -> Path | None:
        return ("top",) if edge == "top" else None

    def mirror(self, value: dict[str, Any]) -> None:
        raise CoreError("it lies across the centreline: there is no other side", f"fittings.{value['id']}")

    def put_beside(self, value: dict[str, Any]) -> None:
        raise CoreError("a boat has one transom", f"fittings.{value['id']}")

    def first(self, entry: str, placing: Placing) -> dict[str, Any]:
        """As high as its motor is mounted, else as it is."""
        motors = placing.all_of("motor")
        motor = next((m for m in motors if m.id == placing.host), motors[0] if motors else None)
        sheer, keel = sheer_m(placing.surface), float(placing.surface.lines[0][0][0][2])
        mounted = getattr(motor, "mounted", None)
        top = round(sheer if mounted is None else keel + mounted, 4)
        out = {
            "kind": self.key, "id": placing.id("transom"), "name": "Transom",
            "mark": placing.mark(self.letter), "top": top,
            "notch": NOTCH_M if abs(top - sheer) > 0.01 else 0.0,
        }  # fmt: skip
        if placing.hull_of == "metal":
            out |= {"joined": "bolted in", "inside": "bare"}
        return out if motor is None else {**out, "motor": motor.id}

    def idle(self, c: Transom, catalogue: Catalogue) -> frozenset[str]:
        """What belongs to another inner face or joint, or to a motor that is not there."""
        out: set[str] = set()
        out |= set() if c.inside == "laminated" else set(LAMINATE)
        out |= set() if c.inside == "plate" else set(PLATE)
        out |= set() if c.joined == "tabbed" else set(BOLTED)
        out |= set() if c.notch else {"corner"}
        if c.motor is None:
            out |= {"motor_held", "backing", "propeller"}
        elif c.motor_held == "clamped":
            out.add("backing")
        wood = catalogue.is_wood(c.core)
        if c.inside != "laminated" and c.joined != "tabbed" and not wood:
            out.add("resin")
        return frozenset(out)

    def facts(self, c: Transom) -> str:
        return f"{c.layers} layers"

    def build(self, c: Transom, site: Site) -> Built:
        return build(c, site)


KIND = TransomKind()
