"""Compiles the inner loops now, so that no first question has to wait for them: for the set-up."""

from __future__ import annotations

import sys
from pathlib import Path

from stirrup.cli import main as command
from stirrup.core.cutting.bars import whole_bars
from stirrup.core.cutting.programme import Counted
from stirrup.core.cutting.sheets import Blank, SheetJob, lay_out
from stirrup.web.drawing.labels import Name, place


def main() -> int:
    """How a demo boat floats, a name on a drawing, two layouts; returns the exit code."""
    build = Path(__file__).parent / "demo" / "teal-mule.stirrup.json"
    code = command(["float", str(build)])
    place([Name("a", (0.0, 0.0, 9.0, 9.0))], [], [], (0.0, 0.0, 99.0, 99.0), 12.0)
    three = tuple(Blank(str(k), "", ((0.0, 0.0), (1.0, 0.0), (0.0, 0.7))) for k in range(3))
    lay_out(SheetJob("ply", 2.44, 1.22, three))
    whole_bars(Counted((40, 30), (3, 3), (100,), (1.0,), (9.0,)))
    return code


if __name__ == "__main__":
    sys.exit(main())
