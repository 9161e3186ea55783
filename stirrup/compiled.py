"""Compiles the inner loops now, so that no first question has to wait for them: for the set-up."""

from __future__ import annotations

import sys
from pathlib import Path

from stirrup.cli import main as command
from stirrup.web.drawing.labels import Name, place


def main() -> int:
    """How a demo boat floats, and a name on a drawing; returns the exit code."""
    build = Path(__file__).parent / "demo" / "teal-mule.stirrup.json"
    code = command(["float", str(build)])
    place([Name("a", (0.0, 0.0, 9.0, 9.0))], [], [], (0.0, 0.0, 99.0, 99.0), 12.0)
    return code


if __name__ == "__main__":
    sys.exit(main())
