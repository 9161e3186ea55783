"""The frame of strips under a lid that stiffens it, inside of its landing."""

from __future__ import annotations

from typing import Protocol

from shapely import box
from shapely.geometry import Point as ShapelyPoint
from shapely.geometry import Polygon

from stirrup.core.contract.base import Named
from stirrup.core.document import Point2
from stirrup.core.findings import Finding, Quantity, declare
from stirrup.core.fittings.edges import largest
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Latch, Sheet
from stirrup.core.parts.model import Frame, Panel, panel_rings

declare("layout", {"RUNNER": "runners under a lid"})

RUNNER_M = 0.04  # width of a strip: starting value
PLAY_M = 0.003  # between a strip and the members that carry the lid
RUNNER_CUT_M = 0.006  # a runner is cut back by body radius plus this
LEAST_M = 0.03  # a shorter rest of a strip is left out
BOARDS = ("ply-9", "ply-12", "pvc-12", "pvc-19")
PLANED_M = 0.0005  # a board that much off is packed or planed


Rectangle = tuple[float, float, float, float]  # x0, y0, x1, y1 [m]


class Lid(Named, Protocol):
    """What this module reads of a hatch's choices."""

    @property
    def corner(self) -> float: ...
    @property
    def runner(self) -> float: ...
    @property
    def runner_cut_back(self) -> bool: ...


def board(catalogue: Catalogue, thickness_m: float) -> Sheet:
    """The board next in thickness; of two alike the first of the list."""
    return min((catalogue.sheet(b) for b in BOARDS), key=lambda s: abs(s.thickness - thickness_m))


def _strips(clear: Rectangle, corner: float) -> list[tuple[str, Polygon]]:
    """Two strips across, two between them along, with the opening's corners; one board where they
    would meet. clear: what the members leave of the opening [m]."""
    x0, y0, x1, y1 = (v + s * PLAY_M for v, s in zip(clear, (1, 1, -1, -1), strict=True))
    along, across = (x1 - x0) / 2, (y1 - y0) / 2
    radius = min(max(corner - PLAY_M, 0.0), along, across)
    opening = box(x0, y0, x1, y1)
    if radius > 0:
        sharp = opening.buffer(-radius * 0.999999, join_style="mitre")
        opening = opening & sharp.buffer(radius, quad_segs=16)
    if min(along, across) <= RUNNER_M:
        return [("1", opening)]
    w = RUNNER_M
    strips = [
        ("aft", box(x0, y0, x0 + w, y1)),
        ("fore", box(x1 - w, y0, x1, y1)),
        ("port", box(x0 + w, y1 - w, x1 - w, y1)),
        ("starboard", box(x0 + w, y0, x1 - w, y0 + w)),
    ]
    return [(key, largest(strip & opening)) for key, strip in strips]


def runner_panels(
    catalogue: Catalogue, c: Lid, clear: Rectangle, latch_at: Point2, latch: Latch, top: float
) -> list[Panel]:
    """Strips of the runner, drilled for the latch or cut back round it; clear: between the members;
    top: of the runner, where the lid's underside is [m]. None without a runner."""
    if not c.runner:
        return []
    radius = latch.underside / 2 + RUNNER_CUT_M if c.runner_cut_back else latch.body / 2
    hole = ShapelyPoint(*latch_at).buffer(radius, quad_segs=16)
    stock = board(catalogue, c.runner)
    out = []
    for key, strip in _strips(clear, c.corner):
        rest = strip.difference(hole)
        pieces = [p for p in getattr(rest, "geoms", [rest]) if _worth(p)]
        for k, piece in enumerate(pieces, 1):
            end = f"{key}.{k}" if len(pieces) > 1 else key
            code = end[0].upper() + (f".{k}" if len(pieces) > 1 else "")
            outline, holes = panel_rings(piece)
            out.append(
                Panel(f"{c.id}/runner/{end}", f"{c.code}-U{code}", f"{c.name}, runner {end}", c.id,
                      stock, outline, holes, Frame((0.0, 0.0, top - c.runner / 2)), (0, 90, 180, 270))
            )  # fmt: skip
    return out


def _worth(piece: Polygon) -> bool:
    x0, y0, x1, y1 = piece.bounds
    return bool(max(x1 - x0, y1 - y0) >= LEAST_M)


def runner_findings(catalogue: Catalogue, c: Lid) -> list[Finding]:
    """Whether a board of the asked thickness is in stock."""
    if not c.runner or abs(board(catalogue, c.runner).thickness - c.runner) <= PLANED_M:
        return []
    nearest = board(catalogue, c.runner).thickness
    return [
        Finding(
            "RUNNER", "look", c.id, "No board as thick as the runner",
            "{asked} was asked; the nearest board in stock is {nearest}, and that is cut and counted.",
            {"asked": Quantity(c.runner, "m", True), "nearest": Quantity(nearest, "m", True)},
            "Plane or pack it at the latch, or ask for the board's own thickness.",
        )
    ]  # fmt: skip
