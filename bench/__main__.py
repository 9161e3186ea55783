"""Print the table of measured speeds."""

from __future__ import annotations

import sys

from bench import afloat, core, pages
from bench.measure import Table
from stirrup.collector import settle


def main() -> int:
    """Measure everything, or only what is named: core, afloat, pages."""
    wanted = sys.argv[1:] or ["core", "afloat", "pages"]
    settle()  # as the server does
    table = Table()
    print(f"{'what':64} {'promised':>10} {'measured':>9}")
    if "core" in wanted:
        core.run(table)
    if "afloat" in wanted:
        afloat.run(table)
    if "pages" in wanted:
        pages.run(table)
    return 0


if __name__ == "__main__":
    sys.exit(main())
