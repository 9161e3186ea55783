"""`./run layout`: a cutting job laid out, from the shell.

Exit 0 when everything lies, 2 with one line on standard error when the job is wrong, 4 when something goes
on no stock: the rest is laid out all the same. Ctrl-C, or the end of the time, gives the best so far.
"""

from __future__ import annotations

import argparse
import json
import signal
import sys
import time
from collections import Counter
from dataclasses import replace
from typing import NoReturn

from stirrup.core.cutting.bars import BarJob, BarLayout, lay_out_bars
from stirrup.core.cutting.cut_job import CutJob, CutLayout
from stirrup.core.cutting.nest.fill import Budget
from stirrup.core.cutting.nest.misfit import misfits
from stirrup.core.cutting.nest.search import Search
from stirrup.core.errors import CoreError
from stirrup.exchange.cut_job import layout_data, read

WRONG, UNPLACED = 2, 4
SECONDS, MOST_SECONDS, MOST_WORK = 5.0, 24 * 3600.0, 10**9


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise CoreError(message, self.prog)


def _number(text: str) -> float:
    value = float(text)
    if not 0 < value <= MOST_SECONDS:
        raise argparse.ArgumentTypeError(f"read {text}; accepted: more than 0 to {MOST_SECONDS:g} seconds")
    return value


def _whole(text: str) -> int:
    value = int(text)
    if not 0 <= value <= MOST_WORK:
        raise argparse.ArgumentTypeError(f"read {text}; accepted: 0 to {MOST_WORK}")
    return value


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="./run layout")
    parser.add_argument("job", help="cutting job, or - for standard input")
    how_long = parser.add_mutually_exclusive_group()
    how_long.add_argument("--seconds", type=_number, help=f"time to search [{SECONDS:g}]")
    how_long.add_argument(
        "--work", type=_whole, help="units of work: the same seed and work, the same layout"
    )
    parser.add_argument("--straight-cuts", action="store_true", help="edge-to-edge cuts only")
    parser.add_argument("--seed", type=_whole, default=0, help="another seed, another search")
    parser.add_argument("--json", action="store_true", help="one JSON value instead of a table")
    return parser


def _told_to_stop() -> list[bool]:
    """A list that is no longer empty once somebody wants the best so far."""
    told: list[bool] = []
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: told.append(True))
    return told


def lay_out(job: CutJob | BarJob, args: argparse.Namespace) -> CutLayout | BarLayout:
    """The layout within the time or the work allowed."""
    told, units = _told_to_stop(), float("inf")
    end = float("inf")
    if args.work is not None:
        units = args.work
    else:
        end = time.monotonic() + (args.seconds or SECONDS)

    def stop() -> bool:
        return bool(told) or time.monotonic() > end

    if isinstance(job, BarJob):
        return lay_out_bars(job, quick=args.work == 0, stop=stop)
    if args.straight_cuts:
        job = replace(job, straight=True)
    return Search(job, Budget(units, stop), args.seed).run()


def _table(layout: CutLayout | BarLayout) -> None:
    """For people."""
    if isinstance(layout, BarLayout):
        for number, bar in enumerate(layout.bars, start=1):
            print(f"{number:3} {bar.stock:24} {', '.join(bar.pieces)}")
    else:
        for number, one in enumerate(layout.bins, start=1):
            pieces = Counter(x.part for x in one.lays)
            said = ", ".join(f"{i} x {n}" if n > 1 else i for i, n in pieces.items())
            print(f"{number:3} {one.stock:24} {said}")
        print(f"used {layout.utilisation:.1%} of the stock")
    proven = layout.cost <= (layout.bound if isinstance(layout, BarLayout) else layout.bound.cost) + 1e-6
    print(f"cost {layout.cost:g}{', none can cost less' if proven and not layout.unplaced else ''}")


def main(argv: list[str] | None = None) -> int:
    """Run the command; returns the exit code."""
    try:
        args = _parser().parse_args(argv)
        start = time.monotonic()
        layout = lay_out(read(args.job), args)
        if args.json:
            print(json.dumps(layout_data(layout, time.monotonic() - start), allow_nan=False, indent=1))
        else:
            _table(layout)
    except CoreError as error:
        print(str(error).replace("\n", " "), file=sys.stderr)
        return WRONG
    except BrokenPipeError:
        return 0
    if not layout.unplaced:
        return 0
    if isinstance(layout, CutLayout):
        why = [m.text for m in misfits(layout)]
    else:
        lengths = {m.id: m.length for m in layout.job.members}
        most = max((s.length for s in layout.job.stocks), default=0.0) - 2 * layout.job.trim
        why = [
            f"{i}: {(lengths[i] - most) * 1000:.1f} mm too long for the longest bar, with its trim"
            if lengths[i] > most
            else f"{i}: no bar is left that it goes on"
            for i in Counter(layout.unplaced)
        ]
    print(f"no place for {'; '.join(why)}", file=sys.stderr)
    return UNPLACED


if __name__ == "__main__":
    sys.exit(main())
