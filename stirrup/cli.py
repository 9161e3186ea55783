"""Headless commands: the same core as the pages, for scripts and for checking by hand.

Exit 0 when computed, 2 with one line on standard error when the input is wrong, 3 when
there is no floating equilibrium.
"""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any, NoReturn

from stirrup.core.afloat.cases import case_names, float_case, righting_case
from stirrup.core.afloat.ground import Footing
from stirrup.core.afloat.report import FloatReport
from stirrup.core.afloat.righting import DEFAULT_HEELS, RightingCurve
from stirrup.core.afloat.standard import case_by_name, load_cases
from stirrup.core.arrange.removal import GOES, STAYS, guests, removed
from stirrup.core.derive import derive, derive_footing, derive_vessel, fittings_of, sound_things
from stirrup.core.errors import CoreError, NoEquilibriumError
from stirrup.core.hull.slices import slice_axis
from stirrup.core.plan.changes import apply
from stirrup.core.plan.model import Plan
from stirrup.exchange import buildfile
from stirrup.exchange.catalogue import starting
from stirrup.exchange.summary import summary

WRONG, NO_FLOAT = 2, 3
AXES = {"section": 0, "waterplane": 2, "buttock": 1}  # across which axis the hull is cut


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise CoreError(message, self.prog)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="./run")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    for name, text in (
        ("float", "how she sits in each load case"),
        ("righting", "righting arm, flooding angle, range"),
        ("lines", "a section, waterplane or buttock as polylines"),
        ("derive", "parts, ledger, findings, needs, cost"),
    ):
        sub = commands.add_parser(name, help=text)
        sub.add_argument("build", help="build file, or - for standard input")
        sub.add_argument("--json", action="store_true", help="one JSON value instead of a table")
        if name in ("float", "righting"):
            which = sub.add_mutually_exclusive_group()
            which.add_argument("--case", help="name of one load case")
            which.add_argument("--all", action="store_true", help="the standard load cases too")
        if name == "righting":
            sub.add_argument("--heels", help="degrees, separated by commas")
        if name == "lines":
            plane = sub.add_mutually_exclusive_group(required=True)
            for word in ("section", "waterplane", "buttock"):
                plane.add_argument(f"--{word}", type=float, metavar="METRES")
            sub.add_argument("--inside", action="store_true", help="inside of the skin")
    out = commands.add_parser("take-out", help="the build file without some things")
    out.add_argument("build", help="build file, or - for standard input")
    out.add_argument("things", nargs="+", metavar="ID", help="what is taken out")
    out.add_argument(
        "--guest", action="append", default=[], metavar="ID=FATE",
        help=f"what becomes of what it carries: “{GOES}”, “{STAYS}”, or the id of another host",
    )  # fmt: skip
    commands.add_parser("schema", help="JSON Schema of the build file")
    return parser


def _print_json(value: object) -> None:
    print(json.dumps(value, allow_nan=False, indent=1, default=float))


def _names(args: argparse.Namespace, plan: Plan, footing: Footing) -> list[str]:
    """The one case asked for, every case there is, or the build file's own."""
    if args.case:
        return [args.case]
    return [c.name for c in load_cases(plan, footing)] if args.all else case_names(plan)


def _float_table(reports: list[FloatReport]) -> None:
    head = ("case", "mass kg", "trim °", "list °", "draft m", "freeboard m", "bow m", "GM m")
    print(f"{head[0]:28}" + "".join(f"{h:>14}" for h in head[1:]))
    for r in reports:
        s = r.spread
        cells = (
            f"{r.mass_kg:.1f} ±{s.mass_kg:.1f}",
            f"{r.trim_deg:.2f} ±{s.trim_deg:.2f}",
            f"{r.list_deg:.2f} ±{s.list_deg:.2f}",
            f"{r.draft_at_origin_m:.3f}",
            f"{r.freeboard_least_m:.3f} ±{s.freeboard_least_m:.3f}",
            f"{r.freeboard_bow_m:.3f}",
            f"{r.gm_transverse_m:.3f}",
        )
        print(f"{r.case[:27]:28}" + "".join(f"{c:>14}" for c in cells))


def _float(args: argparse.Namespace) -> int:
    plan = buildfile.read(args.build)
    vessel, things = derive_vessel(plan), sound_things(plan, starting())
    built, footing = fittings_of(things), derive_footing(vessel.surface, things)
    names = _names(args, plan, footing)
    results: list[dict[str, object]] = []
    reports, code = [], 0
    for name in names:
        try:
            report = float_case(plan, vessel, built, case_by_name(plan, footing, name))
            reports.append(report)
            results.append(report.as_json())
        except NoEquilibriumError as error:
            code = NO_FLOAT
            results.append({"case": name, "error": str(error)})
            print(f"{name}: {error}", file=sys.stderr)
    if args.json:
        if not (args.case and code):
            _print_json(results[0] if args.case else results)
    elif reports:
        _float_table(reports)
    return code


def _heels(text: str | None) -> tuple[float, ...]:
    if text is None:
        return DEFAULT_HEELS
    try:
        return tuple(float(part) for part in text.split(","))
    except ValueError:
        raise CoreError(f"read “{text}”; accepted: degrees such as 0,5,10", "--heels") from None


def _curve_json(curve: RightingCurve) -> dict[str, Any]:
    return {
        "case": curve.case,
        "heel_deg": curve.heel_deg,
        "gz_m": curve.gz_m,
        "flooding_deg": curve.flooding_deg,
        "range_deg": curve.range_deg,
    }


def _righting(args: argparse.Namespace) -> int:
    plan = buildfile.read(args.build)
    heels = _heels(args.heels)
    vessel, things = derive_vessel(plan), sound_things(plan, starting())
    built, footing = fittings_of(things), derive_footing(vessel.surface, things)
    names = _names(args, plan, footing)
    results: list[dict[str, Any]] = []
    code = 0
    for name in names:
        try:
            curve = righting_case(plan, vessel, built, case_by_name(plan, footing, name), heels)
            results.append(_curve_json(curve))
        except NoEquilibriumError as error:
            code = NO_FLOAT
            results.append({"case": name, "error": str(error)})
            print(f"{name}: {error}", file=sys.stderr)
    if args.json:
        if not (args.case and code):
            _print_json(results[0] if args.case else results)
        return code
    for row in results:
        if "error" in row:
            continue
        ends = [
            f"{word} {'none to 90°' if row[key] is None else format(row[key], '.1f') + '°'}"
            for word, key in (("flooding", "flooding_deg"), ("range", "range_deg"))
        ]
        print(f"{row['case']}: {', '.join(ends)}")
        for heel, gz in zip(row["heel_deg"], row["gz_m"], strict=True):
            print(f"  {heel:6.1f}°  {gz:8.4f} m")
    return code


def _lines(args: argparse.Namespace) -> int:
    plan = buildfile.read(args.build)
    surface = derive_vessel(plan).surface
    solid = surface.inside if args.inside else surface.outside
    word = next(w for w in AXES if getattr(args, w) is not None)
    at = float(getattr(args, word))
    polylines = [loop.tolist() for loop in slice_axis(solid, AXES[word], at)]
    if args.json:
        skin = "inside" if args.inside else "outside"
        _print_json({"plane": word, "at_m": at, "skin": skin, "polylines": polylines})
        return 0
    for number, line in enumerate(polylines, start=1):
        print(f"{word} at {at:g} m, line {number}, {len(line)} points; x y z in m")
        for x, y, z in line:
            print(f"  {x:9.4f} {y:9.4f} {z:9.4f}")
    if not polylines:
        print(f"{word} at {at:g} m does not meet the hull")
    return 0


def _derive(args: argparse.Namespace) -> int:
    data = summary(derive(buildfile.read(args.build), starting()))
    if args.json:
        _print_json(data)
        return 0
    print(f"{data['name']}: {data['added_kg']:+.1f} kg added, cost {data['cost']['total']}")
    for group in ("panels", "members", "bought"):
        print(f"\n{group}")
        for part in data["parts"][group]:
            amount = part.get("length_m", part.get("quantity"))
            size = "" if amount is None else f"{amount:10.3f}"
            print(f"  {part['label']:12} {part['name'][:44]:44} {size:>10} {part['mass_kg']:8.3f} kg")
    print("\nfindings")
    for f in data["findings"]:
        print(f"  {f['level']:8} {f['title']}: {f['text']}")
    print("\nneeds")
    for n in data["needs"]:
        packs = " + ".join(f"{p['count']} x {p['holds']:g}" for p in n["packs"])
        print(f"  {n['name'][:48]:48} {n['quantity']:9.2f} {n['unit']:6} {packs:>14} {n['cost']:>9}")
    return 0


def _take_out(args: argparse.Namespace) -> int:
    """The build file without some things, on standard output. Everything they carry is asked about."""
    plan = buildfile.read(args.build)
    fates = dict(text.split("=", 1) for text in args.guest if "=" in text)
    missing = [t for t in args.things if plan.thing(t) is None]
    if missing:
        raise CoreError(f"nothing has the id “{missing[0]}”", "ID")
    asked = [g for g in guests(plan, args.things) if g.id not in fates]
    if asked:
        told = "; ".join(f"--guest “{g.id}=...” ({', '.join(g.fates)})" for g in asked)
        raise CoreError(f"say what becomes of what is left without its host: {told}")
    print(buildfile.dump(apply(plan, removed(plan, args.things, fates))), end="")
    return 0


def main(argv: list[str] | None = None) -> int:
    """Run one headless command; returns the exit code."""
    try:
        args = _parser().parse_args(argv)
        if args.command == "schema":
            _print_json(buildfile.schema())
            return 0
        commands = {"float": _float, "righting": _righting, "lines": _lines, "derive": _derive,
                    "take-out": _take_out}  # fmt: skip
        return commands[args.command](args)
    except CoreError as error:
        print(str(error).replace("\n", " "), file=sys.stderr)
        return WRONG
    except BrokenPipeError:
        return 0


if __name__ == "__main__":
    sys.exit(main())
