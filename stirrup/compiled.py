"""Compiles the inner loops now, so that no first question has to wait for them: for the set-up."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
from shapely import box as rectangle

from stirrup.cli import main as command
from stirrup.core.cutting.bars import whole_bars
from stirrup.core.cutting.bevels import met_going, skin_of
from stirrup.core.cutting.programme import Counted
from stirrup.core.cutting.sheets import Blank, SheetJob, lay_out
from stirrup.core.fit.way_in import spread
from stirrup.core.fittings.bent import stretches
from stirrup.core.fittings.edges import breadth_at
from stirrup.core.hull.bottom import lowest_m
from stirrup.core.hull.mesh import box_solid
from stirrup.core.hull.slices import section
from stirrup.core.space.shapes import Prism, Swept, exits
from stirrup.web.drawing.labels import Name, place


def afloat() -> None:
    """How a demo boat floats."""
    build = Path(__file__).parent / "demo" / "teal-mule.stirrup.json"
    if code := command(["float", str(build)]):
        sys.exit(code)


def shapes() -> None:
    """A body in another one, a cut through one, an edge along a hull and at its skin, what lies under a
    place, a name on a drawing."""
    corners = tuple((x, y, z + 0.1 * x) for x in (0.0, 1.0) for y in (0.0, 1.0) for z in (0.0, 1.0))
    exits(Swept(corners), Prism(rectangle(0.5, 0.5, 2.0, 2.0), 0.0, 1.0))
    whole = box_solid((0.0, 0.0, 0.0), (1.0, 1.0, 1.0))
    lowest_m(whole.corners, whole.normals2, 0.5, np.array([0.5]))
    section(whole, 0.5)
    skin = skin_of(whole)
    met_going(skin.corners, skin.normals, np.array([[0.5, 0.5, 0.5]]), np.array([[1.0, 0.0, 0.0]]))
    breadth_at(rectangle(0.0, 0.0, 1.0, 1.0), 0.5)
    path = np.array([[0.0, 1.0], [0.5, 1.0], [1.0, 0.9]])
    stretches(path, path, 1.0, 0.4, (0.04, 0.04, 0.003))
    spread(np.array([[True, False]]), np.array([0]), np.array([1]))
    place([Name("a", (0.0, 0.0, 9.0, 9.0))], [], [], (0.0, 0.0, 99.0, 99.0), 12.0)


def layouts() -> None:
    """Panels on a sheet, members on a stick."""
    three = tuple(Blank(str(k), "", ((0.0, 0.0), (1.0, 0.0), (0.0, 0.7))) for k in range(3))
    lay_out(SheetJob("ply", 2.44, 1.22, three))
    whole_bars(Counted((40, 30), (3, 3), (100,), (1.0,), (9.0,)))


PARTS: dict[str, Callable[[], None]] = {"afloat": afloat, "shapes": shapes, "layouts": layouts}


def main() -> int:
    """All parts, each in a process of its own, as many at a time as there are cores; or those that are
    named, here. Returns the exit code."""
    if names := sys.argv[1:]:
        for name in names:
            PARTS[name]()
        return 0
    with ThreadPoolExecutor(os.cpu_count() or 1) as crew:
        done = crew.map(
            lambda name: subprocess.run([sys.executable, "-m", "stirrup.compiled", name]), PARTS
        )
        return max(one.returncode for one in done)


if __name__ == "__main__":
    sys.exit(main())
