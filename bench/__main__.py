"""Print the table of measured speeds."""

from __future__ import annotations

import sys

from bench import afloat, core, cuts, money, pages, shell
from bench.measure import Table, reference_ms
from stirrup.collector import settle


def main() -> int:
    """Measure everything, or what is named; “people” is a part of the pages."""
    wanted = sys.argv[1:] or ["core", "cuts", "afloat", "shell", "pages", "fittings", "money"]
    settle()  # as the server does
    table = Table()
    print(f"{'what':64} {'promised':>10} {'measured':>9}")
    parts = {"core": core.run, "cuts": cuts.run, "afloat": afloat.run, "shell": shell.run,
             "pages": pages.run, "people": pages.people, "fittings": pages.fittings,
             "money": money.run}  # fmt: skip
    unknown = [name for name in wanted if name not in parts]
    if unknown:
        print(f"no part “{unknown[0]}”; parts: {', '.join(parts)}", file=sys.stderr)
        return 2
    for name, measure in parts.items():
        if name in wanted:
            table.add("reference work", None, reference_ms())
            measure(table)
    table.add("reference work", None, reference_ms())
    return 0


if __name__ == "__main__":
    sys.exit(main())
