"""Checks of the floating positions and of the budget. Limits are the shop's working limits."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Finding, Input, Quantity, Working

FREEBOARD_LOOK_M = 0.20  # least freeboard under which waves of a small lake come near
FLOOD_LOOK_M = 0.10
LIST_LOOK_DEG = 2.0
TRIM_LOOK_DEG = 3.0
SOURCE = "working limit of the shop; screening, not a certificate"


def _freeboard(report: FloatReport) -> Finding:
    board = report.freeboard_least_m
    level = "stop" if board <= 0 else "mend" if board < FREEBOARD_LOOK_M / 2 else "look"
    level = "fine" if board >= FREEBOARD_LOOK_M else level
    x, y, z = report.freeboard_least_at_m
    side = "port" if y > 0 else "starboard"
    return Finding(
        "FREEBOARD",
        level,  # type: ignore[arg-type]
        report.case,
        f"{report.case}: sheer under water" if board <= 0 else f"{report.case}: least freeboard",
        "{board} at {x} from the transom, " + side + " side; {limit} is the working limit.",
        {
            "board": Quantity(board, "m"),
            "x": Quantity(x, "m"),
            "limit": Quantity(FREEBOARD_LOOK_M, "m"),
        },
        "" if level == "fine" else "Move weight away from that side and end, or take some off.",
        Working(
            "freeboard = n·r - d, at the lowest point of both sheers",
            (
                Input("x, y, z of the point", Quantity(0, f"{x:.3f}, {y:.3f}, {z:.3f} m")),
                Input("trim", Quantity(report.trim_deg, "deg")),
                Input("list", Quantity(report.list_deg, "deg")),
                Input("d, draft at the origin", Quantity(report.draft_at_origin_m, "m")),
            ),
            Quantity(board, "m"),
            SOURCE,
        ),
    )


def _attitude(report: FloatReport) -> list[Finding]:
    out = []
    for what, value, limit, ways in (
        ("list", report.list_deg, LIST_LOOK_DEG, ("to port", "to starboard")),
        ("trim", report.trim_deg, TRIM_LOOK_DEG, ("by the stern", "by the bow")),
    ):
        if abs(value) > limit:
            out.append(
                Finding(
                    what.upper(),
                    "look",
                    report.case,
                    f"{report.case}: {what} {ways[0] if value > 0 else ways[1]}",
                    "{value}; {limit} is the working limit.",
                    {"value": Quantity(abs(value), "deg"), "limit": Quantity(limit, "deg")},
                    "Move the heaviest thing that may slide the other way.",
                )
            )
    return out


def float_findings(
    cases: Iterable[tuple[str, FloatReport | None, str]], budget: Decimal | None, total: Decimal
) -> list[Finding]:
    """Findings of every load case, and of the money against the budget."""
    out: list[Finding] = []
    for name, report, error in cases:
        if report is None:
            text = error.replace("{", "(").replace("}", ")")
            out.append(Finding("NO-FLOAT", "stop", name, f"{name}: does not float", text + "."))
            continue
        out.append(_freeboard(report))
        out += _attitude(report)
        for flood in report.floods:
            if flood.height_m < FLOOD_LOOK_M:
                under = flood.height_m <= 0
                out.append(
                    Finding("FLOOD", "stop" if under else "look", name,
                            f"{name}: {flood.name} {'under water' if under else 'close to the water'}",
                            "Its edge is {height} " + ("under" if under else "above") + " the water.",
                            {"height": Quantity(abs(flood.height_m), "m")},
                            "Raise the edge, or move weight forward.")
                )  # fmt: skip
    if budget is not None:
        over = total - budget
        out.append(
            Finding("BUDGET", "mend" if over > 0 else "fine", "money",
                    "Over budget" if over > 0 else "Within budget",
                    "{over} over: {total} of {budget}." if over > 0 else "{total} of {budget}.",
                    {"over": Quantity(float(over), "money"), "total": Quantity(float(total), "money"),
                     "budget": Quantity(float(budget), "money")},
                    "See the Money page for the dearest lines." if over > 0 else "")
        )  # fmt: skip
    return out
