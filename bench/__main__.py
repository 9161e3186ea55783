"""Print the table of measured speeds."""

from __future__ import annotations

import sys

from bench import afloat, core, cuts, pages, shell
from bench.measure import Table, reference_ms
from stirrup.collector import settle


def main() -> int:
    """Measure everything, or what is named; “people” is a part of the pages."""
    wanted = sys.argv[1:] or ["core", "cuts", "afloat", "shell", "pages", "fittings"]
    settle()  # as the server does
    table = Table()
    print(f"{'what':64} {'promised':>10} {'measured':>9}")
    parts = {"core": core.run, "cuts": cuts.run, "afloat": afloat.run, "shell": shell.run,
             "pages": pages.run, "people": pages.people, "fittings": pages.fittings}  # fmt: skip
    for name, measure in parts.items():
        if name in wanted:
            table.add("reference work", None, reference_ms())
            measure(table)
    table.add("reference work", None, reference_ms())
    return 0


if __name__ == "__main__":
    sys.exit(main())
