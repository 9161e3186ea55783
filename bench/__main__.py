"""Print the table of measured speeds."""

from __future__ import annotations

import sys

from bench import afloat, core, pages, shell
from bench.measure import Table, reference_ms
from stirrup.collector import settle


def main() -> int:
    """Measure everything, or only what is named: core, afloat, shell, pages."""
    wanted = sys.argv[1:] or ["core", "afloat", "shell", "pages"]
    settle()  # as the server does
    table = Table()
    print(f"{'what':64} {'promised':>10} {'measured':>9}")
    for part in (core, afloat, shell, pages):
        if part.__name__.removeprefix("bench.") in wanted:
            table.add("reference work", None, reference_ms())
            part.run(table)
    table.add("reference work", None, reference_ms())
    return 0


if __name__ == "__main__":
    sys.exit(main())
