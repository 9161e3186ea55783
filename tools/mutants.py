"""How much of what the code means do the tests notice?

`PYTHONPATH=. .venv/bin/python tools/mutants.py COUNT [--seed N] [--list]`, in a clone that nobody
works in: single meaningful changes (a sign, a comparison, a limit by 10 %, a dropped abs, min for max,
and for or) are made one after the other at places drawn by a seed over core and exchange; each is
run against the tests that name its module, then against all tests of the core. What survives is
printed with file, line and change. Not part of the test run: a hundred take an hour.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
FOLDERS = ("stirrup/core", "stirrup/exchange")
OTHER = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
TURNED = {ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<"}
NAMES = {"min": "max", "max": "min", "floor": "ceil", "ceil": "floor", "sin": "cos", "cos": "sin"}
LONGEST_S = 900
CORE = ["tests/core", "tests/exchange"]
JOBS = os.environ.get("JOBS", "2")


@dataclass(frozen=True)
class Change:
    """A piece of a file's text and what stands there instead."""

    path: Path
    line: int
    start: int
    end: int
    new: str
    what: str

    def __str__(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.line}: {self.what}"


class Places(ast.NodeVisitor):
    """All changes that a file offers."""

    def __init__(self, path: Path) -> None:
        self.path, self.text = path, path.read_text()
        lines = self.text.encode().splitlines(keepends=True)
        self.starts = [0]
        for line in lines:
            self.starts.append(self.starts[-1] + len(line))
        self.found: list[Change] = []
        self.visit(ast.parse(self.text))

    def _at(self, line: int, column: int) -> int:
        return self.starts[line - 1] + column

    def _add(self, node: ast.expr, new: str) -> None:
        start = self._at(node.lineno, node.col_offset)
        end = self._at(node.end_lineno or 0, node.end_col_offset or 0)
        old = self.text.encode()[start:end].decode()
        what = f"{old[:60]} -> {new[:60]}"
        self.found.append(Change(self.path, node.lineno, start, end, new, what))

    def _between(self, left: ast.expr, right: ast.expr, new: str, node: ast.expr) -> None:
        """Changes the operator between two operands."""
        start = self._at(left.end_lineno or 0, left.end_col_offset or 0)
        end = self._at(right.lineno, right.col_offset)
        gap = self.text.encode()[start:end].decode()
        core = gap.strip("() \n")
        if "#" in gap or not core:
            return
        whole = ast.get_source_segment(self.text, node) or ""
        replaced = gap.replace(core, new, 1)
        self.found.append(
            Change(self.path, node.lineno, start, end, replaced, f"{whole[:70]}: {core} -> {new}")
        )

    def visit_BinOp(self, node: ast.BinOp) -> None:
        if type(node.op) in OTHER and not self._is_text(node):
            self._between(node.left, node.right, OTHER[type(node.op)], node)
        self.generic_visit(node)

    @staticmethod
    def _is_text(node: ast.AST) -> bool:
        texts = (n for n in ast.walk(node) if isinstance(n, ast.Constant | ast.JoinedStr))
        return any(isinstance(n, ast.JoinedStr) or isinstance(n.value, str) for n in texts)

    def visit_Compare(self, node: ast.Compare) -> None:
        if len(node.ops) == 1 and type(node.ops[0]) in TURNED:
            self._between(node.left, node.comparators[0], TURNED[type(node.ops[0])], node)
        self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> None:
        new = "or" if isinstance(node.op, ast.And) else "and"
        self._between(node.values[0], node.values[1], new, node)
        self.generic_visit(node)

    def visit_Call(self, node: ast.Call) -> None:
        if isinstance(node.func, ast.Name) and node.func.id == "abs":
            self._add(node, f"({ast.unparse(node.args[0])})")
        name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
        if name in NAMES and node.args:
            self._add(node.func, ast.unparse(node.func)[: -len(name)] + NAMES[name])
        self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        if (
            isinstance(node.value, float)
            and node.value not in (0.0, 1.0, 0.5, 2.0)
            and abs(node.value) > 1e-3
        ):
            self._add(node, repr(node.value * 1.1))

    def visit_Subscript(self, node: ast.Subscript) -> None:
        self.visit(node.value)

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value is not None:
            self.visit(node.value)


def places() -> Iterator[Change]:
    for folder in FOLDERS:
        for path in sorted((ROOT / folder).rglob("*.py")):
            yield from Places(path).found


def first_tests(change: Change) -> list[str]:
    """Tests that name the module that is changed."""
    module = ".".join(change.path.relative_to(ROOT).with_suffix("").parts)
    files = [*(ROOT / "tests/core").glob("test_*.py"), *(ROOT / "tests/exchange").glob("test_*.py")]
    return [str(f) for f in sorted(files) if module in f.read_text()]


def noticed(change: Change) -> bool:
    """Whether a test fails with the change made; the file is put back."""
    before = change.path.read_bytes()
    change.path.write_bytes(before[: change.start] + change.new.encode() + before[change.end :])
    try:
        return any(tests and _fails(tests) for tests in (first_tests(change), CORE))
    finally:
        change.path.write_bytes(before)


def _fails(tests: list[str]) -> bool:
    # the same examples each time: what fails by chance would be taken for noticed
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-n", JOBS, "-p", "no:cacheprovider",
               "--hypothesis-seed", "1", *tests]  # fmt: skip
    try:
        done = subprocess.run(command, cwd=ROOT, capture_output=True, timeout=LONGEST_S, check=False)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


def say(text: str) -> None:
    sys.stdout.write(f"{text}\n")
    sys.stdout.flush()


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", type=int)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--list", action="store_true", help="print the changes and make none")
    parser.add_argument("--skip", type=int, default=0, help="of the changes drawn, those made before")
    args = parser.parse_args()
    if not args.list and _fails(CORE):
        parser.error("a test fails without any change")
    everything = list(places())
    drawn = random.Random(args.seed).sample(everything, min(args.count, len(everything)))
    seen = 0
    for k, change in enumerate(drawn[args.skip :], args.skip + 1):
        if args.list:
            say(str(change))
            continue
        found = noticed(change)
        seen += found
        say(f"{k:3d} {'seen    ' if found else 'SURVIVED'} {change}")
    if not args.list:
        made = len(drawn) - args.skip
        say(f"{seen} of {made} seen ({100 * seen / made:.0f} %), of {len(everything)} places")


if __name__ == "__main__":
    main()
