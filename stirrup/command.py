"""`./run`'s headless commands: which do without the compiler is settled before anything is loaded."""

from __future__ import annotations

import gc
import sys

from stirrup.core import loops

# what asks each inner loop some dozen times: all of its work takes less than loading the compiler
ONCE = ("float", "righting", "lines", "take-out", "schema")


def main() -> int:
    """Run the command that stands in the arguments; returns its exit code."""
    gc.disable()  # it is over before there is anything to collect
    loops.CHOICE.plain = sys.argv[1:2] != [] and sys.argv[1] in ONCE
    from stirrup.cli import main as command

    return command()


if __name__ == "__main__":
    sys.exit(main())
