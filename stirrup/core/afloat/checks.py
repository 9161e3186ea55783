"""Checks of the floating positions and of the budget. Limits are the shop's working limits."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal

from stirrup.core.afloat.report import FloatReport
from stirrup.core.findings import Finding, Input, Level, Quantity, Working, declare
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.things import is_gone
from stirrup.core.record import dataclass

declare(
    "float",
    {
        "FLOOD": "openings over the water",
        "FREEBOARD": "least freeboard",
        "MOMENT": "what is left of her side for a moment",
        "NO-FLOAT": "whether she floats",
        "WATER-IN": "water over an opening",
        "TRIM": "trim at rest",
        "LIST": "list at rest",
    },
    pace="behind",
)
declare("money", {"BUDGET": "the budget"})
declare("layout", {"POWER": "power at the transom"})

FREEBOARD_LOOK_M = 0.20  # least freeboard under which waves of a small lake come near
FLOOD_LOOK_M = 0.10
MOMENT_LOOK_M = 0.10  # least that is left while somebody climbs in, under which a ripple is enough
LIST_LOOK_DEG = 2.0
TRIM_LOOK_DEG = 3.0
# what follows from a lean: levels are weighed by what can happen, not by the angle alone
TRIM_MEND_DEG = 7.0
WATER_IN_STOP_DEG, WATER_IN_LOOK_DEG = 12.0, 16.0  # with the usual people aboard; starting values
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
            "freeboard = height over the water of the lowest point of both sheers",
            (
                Input("x, y, z of the point", Quantity(0, f"{x:.3f}, {y:.3f}, {z:.3f} m")),
                Input("trim", Quantity(report.trim_deg, "deg")),
                Input("list", Quantity(report.list_deg, "deg")),
                Input("water over the keel line's origin", Quantity(report.draft_at_origin_m, "m")),
            ),
            Quantity(board, "m"),
            SOURCE,
        ),
    )


def _moment(report: FloatReport) -> Finding:
    """How much is left of her side while it lasts: least of both sheers and of all openings."""
    board = report.freeboard_least_m
    x, y, _ = report.freeboard_least_at_m
    place = "the sheer on the " + ("port" if y > 0 else "starboard") + " side, {x} from the transom,"
    opening = min(report.floods, key=lambda f: f.height_m, default=None)
    if opening is not None and opening.height_m < board:
        board, place = opening.height_m, opening.name
    level: Level = "mend" if board <= 0 else "look" if board < MOMENT_LOOK_M else "fine"
    where = "under" if board <= 0 else "over"
    values = {"x": Quantity(x, "m"), "board": Quantity(abs(board), "m")}
    return Finding(
        "MOMENT", level, report.case,
        f"{report.case}: {'water comes in' if board <= 0 else 'what is left of her side'}",
        f"{place[0].upper()}{place[1:]} is {{board}} {where} still water; {{limit}} is the working limit.",
        {**values, "limit": Quantity(MOMENT_LOOK_M, "m")},
        "" if level == "fine" else "Say so to everybody who comes aboard, or raise that edge.",
        Working(
            "height over the water of the lowest point of both sheers and of the openings",
            (
                Input("list", Quantity(report.list_deg, "deg")),
                Input("trim", Quantity(report.trim_deg, "deg")),
                Input("water over the keel line's origin", Quantity(report.draft_at_origin_m, "m")),
            ),
            Quantity(board, "m"),
            "still water, nobody moves: screening. " + SOURCE,
        ),
    )  # fmt: skip


def _attitude(report: FloatReport) -> list[Finding]:
    """List and trim beyond the limits."""
    out = []
    for what, value, limit, ways in (
        ("list", report.list_deg, LIST_LOOK_DEG, ("to port", "to starboard")),
        ("trim", report.trim_deg, TRIM_LOOK_DEG, ("by the stern", "by the bow")),
    ):
        if abs(value) > limit:
            out.append(
                Finding(
                    what.upper(),
                    "mend" if what == "trim" and abs(value) > TRIM_MEND_DEG else "look",
                    report.case,
                    f"{report.case}: {what} {ways[0] if value > 0 else ways[1]}",
                    "{value}; {limit} is the working limit.",
                    {"value": Quantity(abs(value), "deg"), "limit": Quantity(limit, "deg")},
                    "Move the heaviest thing that may slide the other way.",
                )
            )
    return out


def _water_in(report: FloatReport, people: int) -> list[Finding]:
    """How far she may heel with her people where they usually are."""
    found = report.water_in
    if found is None or found.heel_deg >= WATER_IN_LOOK_DEG:
        return []
    level: Level = "stop" if found.heel_deg < WATER_IN_STOP_DEG else "look"
    return [
        Finding(
            "WATER-IN", level, report.case,
            f"{report.case}: water comes in early",
            f"With {people_words(people)} aboard {{heel}} more to {found.side} bring {found.name} to the "
            "water; {limit} is the working limit.",
            {"heel": Quantity(found.heel_deg, "deg"), "limit": Quantity(WATER_IN_LOOK_DEG, "deg")},
            "Move weight down or to the other side, take some off, or raise that edge.",
            Working(
                "heel = atan(height over the water / distance to the side of the waterplane's middle)",
                (Input("lowest there", Quantity(0, f"{found.name}, {found.side}")),),
                Quantity(found.heel_deg, "deg"),
                "geometry of a small turn; the righting arm on Float has the exact figure. " + SOURCE,
            ),
        )
    ]  # fmt: skip


def people_words(people: int) -> str:
    """ "1 person", "3 people"."""
    return "1 person" if people == 1 else f"{people} people"


def power_findings(plan: Plan) -> list[Finding]:
    """The motors that drive her against the maker's label. Nothing where either is not known."""
    most = plan.label.power_kw if plan.label else None
    there = [i for i in plan.items if kind_of(i).drives and not is_gone(i) and i.power]
    if most is None or not there:
        return []
    power = sum(i.power or 0.0 for i in there)
    over = power > most + 0.05
    values = {"power": Quantity(power, "kW"), "most": Quantity(most, "kW")}
    return [
        Finding(
            "POWER", "stop" if over else "fine", there[0].id,
            "More power than the maker's label allows" if over else "Power within the maker's label",
            "{power} at the transom; the label says {most}.", values,
            "Take a smaller motor: the label decides, and insurers look at it." if over else "",
            Working(
                "sum of the outboards' power against the label",
                tuple(Input(i.title, Quantity(i.power or 0.0, "kW"), "typed") for i in there),
                Quantity(power, "kW"), "the maker's capacity label",
            ),
        )
    ]  # fmt: skip


@dataclass(frozen=True)
class Meant:
    """What a case stands for: people aboard, whether they are where people usually are, and
    whether she is afloat in it at all. loaded: something is planned for her, or she has a label;
    momentary: it lasts as long as somebody climbs in, and leaning is what she does then."""

    people: int = 0
    usual: bool = True
    afloat: bool = True
    loaded: bool = True
    momentary: bool = False


def _not_afloat(name: str, error: str, meant: Meant) -> Finding:
    """No position of rest. Nobody can clear a stop on a bare hull that nobody loads so."""
    text = error.replace("{", "(").replace("}", ")")
    if meant.people:
        text = f"with {people_words(meant.people)} aboard {text}"
    usual = meant.usual and not meant.momentary
    level: Level = "stop" if usual else "mend" if meant.loaded else "look"
    remedy = "" if usual else "Tell everybody aboard to keep off one rail."
    if meant.momentary:
        remedy = "She bears nobody there: say so to everybody who comes aboard."
    return Finding("NO-FLOAT", level, name, f"{name}: does not float", f"{text}.", {}, remedy)


def float_findings(
    cases: Iterable[tuple[str, FloatReport | None, str]],
    budget: Decimal | None,
    total: Decimal,
    meanings: Mapping[str, Meant] | None = None,
) -> list[Finding]:
    """Findings of every load case, and of the money against the budget.

    meanings: of the cases, by name; a case without one is an ordinary one without people.
    """
    out: list[Finding] = []
    for name, report, error in cases:
        meant = (meanings or {}).get(name, Meant())
        if not meant.afloat:
            continue
        if report is None:
            out.append(_not_afloat(name, error, meant))
            continue
        if meant.momentary:
            out.append(_moment(report))
            continue
        if meant.people and meant.usual:
            out += _water_in(report, meant.people)
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
