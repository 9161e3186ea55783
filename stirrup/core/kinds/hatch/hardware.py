"""Hinge, latch, gasket of a hatch: where they go, whether the latch grips, what is bought."""

from __future__ import annotations

from shapely.geometry import Polygon

from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Quantity
from stirrup.core.fittings.joints import leaf_style
from stirrup.core.fittings.latching import SCREWS_IN_LATCH, latch_grip
from stirrup.core.fittings.runners import RUNNER_CUT_M
from stirrup.core.kinds.hatch.choices import Hatch, Side, over_m
from stirrup.core.kinds.hatch.hinges import hinge_bought, hung
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Latch, Sheet
from stirrup.core.parts.model import Bought

COVER_CRUSHED = 0.4  # what carpet keeps of its thickness under a flange

TOWARDS: dict[Side, tuple[int, int]] = {
    "aft": (-1, 0),
    "fore": (1, 0),
    "port": (0, 1),
    "starboard": (0, -1),
}


def grip_finding(c: Hatch, catalogue: Catalogue, cover: str, lid_m: float, latch: Latch) -> Finding:
    """Whether the latch holds lid, runner and crushed cover; lid: thickness [m]."""
    layers = [("lid", lid_m)]
    if c.runner and not c.runner_cut_back:
        layers.append(("runner", c.runner))
    if cover != "none":
        layers.append(("cover x 0.4", catalogue.plain(cover).thickness * COVER_CRUSHED))
    bare = sum(t for name, t in layers if name != "runner")
    thinner = None
    if c.runner and not c.runner_cut_back and bare <= latch.grip_max:
        path = ("fittings", c.id, "runner_cut_back")
        fix = Fix("Cut the runner back {cut} round it", path=path, value=True)
        thinner = ("Cut the runner back {cut} from the middle of the latch.", fix)
    cut = {"cut": Quantity(latch.underside / 2 + RUNNER_CUT_M, "m")}
    return latch_grip(c.id, "Lid and what is under it", layers, latch, catalogue, thinner, cut)


def hinge_line(c: Hatch, length: float, width: float, z: float) -> tuple[Point, ...]:
    """The hinge's line along its side of the lid, at height z [m]."""
    dx, dy = TOWARDS[c.hinge]
    x, y = c.x + dx * length / 2, c.y + dy * width / 2
    hx, hy = abs(dy) * length / 2, abs(dx) * width / 2
    return ((x - hx, y - hy, z), (x + hx, y + hy, z))


def landing_is(c: Hatch, landing: float) -> str:
    """Where the width of a landing comes from."""
    if abs(landing - over_m(c, 0.0)) >= 1e-9:
        return "with the shared member"
    return "with the gutter" if c.lies == "flush, over a gutter" else "chosen"


def hardware(
    c: Hatch,
    catalogue: Catalogue,
    lid: Polygon,
    length: float,
    width: float,
    latch_at: Point,
    top: float,
    stock: Sheet,
    latch: Latch,
) -> tuple[Bought, ...]:
    """Latch, hinge, gasket and their fasteners, with what they weigh and where."""
    by = hung(c, catalogue, width if c.hinge in ("aft", "fore") else length)
    line = hinge_line(c, length, width, top)
    hinge_at: Point = ((line[0][0] + line[1][0]) / 2, (line[0][1] + line[1][1]) / 2, top)
    fastener = catalogue.fastener_for(leaf_style(stock), stock.thickness + by.item.thickness)
    gasket = catalogue.plain("gasket-12")
    out = [
        Bought(f"{c.id}/latch", f"{c.code}-K", f"{c.name}, latch", c.id, latch, 1, latch.mass,
               latch_at),
        hinge_bought(c, by, hinge_at),
        Bought(f"{c.id}/gasket", f"{c.code}-Z", f"{c.name}, gasket", c.id, gasket, lid.length,
               lid.length * gasket.mass, (c.x, c.y, top - stock.thickness)),
    ]  # fmt: skip
    if fastener is not None:
        count = by.screws + SCREWS_IN_LATCH
        out.append(
            Bought(f"{c.id}/fasteners", f"{c.code}-R", f"{c.name}, hinge and latch fasteners", c.id,
                   fastener, count, count * fastener.mass, hinge_at, "fasteners")
        )  # fmt: skip
    return tuple(out)
