"""A framing plan on one sheet of paper at a round scale: members from above, running dimensions."""

from __future__ import annotations

from collections.abc import Callable

from stirrup.core.contract.gives import Built
from stirrup.core.framing_plan import Datum, FramingPlan
from stirrup.core.parts.model import Member
from stirrup.core.units import Units, write_length
from stirrup.exchange.paper import MARGIN, PAPER, SCALES, Drawing, Pair, Words

Put = Callable[[float, float], Pair]

LEFT, BELOW, ABOVE = 40.0, 46.0, 22.0  # mm of paper about the frame
STEPS_HIGH = 44.0  # mm, for the order of fixing
ROW_MM = 4.2
TABLE = 205.0  # mm, beside the frame: where each member is set
COLUMNS = (0.0, 21.0, 70.0, 158.0, 186.0)
TRANSOM = Datum("transom", "the transom", 0.0)
ACROSS = ("cross", "bearer")
CLOSE_MM = 14.0  # running dimensions nearer than this take turns in height


def framing_sheet(
    plan: FramingPlan, built: Built, title: str, units: Units, datum: Datum = TRANSOM
) -> Drawing:
    """The sheet for the shop."""
    points = [p for s in plan.members for p in (*s.flange, *s.upright)]
    low, high = min(p[0] for p in points), max(p[0] for p in points)
    half = max(abs(p[1]) for p in points)
    scale = _scale(high - low, 2 * half)
    k = 1000 / scale
    sheet = Drawing(scale, f"{title}: framing 1:{scale}")
    middle = PAPER[1] - MARGIN - ABOVE - half * k

    def put(x: float, y: float) -> Pair:
        return (MARGIN + LEFT + (x - low) * k, middle + y * k)

    for panel in built.panels:
        if panel.level:
            ring = [panel.frame.at(u, v) for u, v in panel.outline]
            sheet.line([put(x, y) for x, y, _ in (*ring, ring[0])], "STATIONS")
    for placed in plan.members:
        for shape, layer in ((placed.flange, "HULL"), (placed.upright, "LINES")):
            sheet.line([put(*p) for p in (*shape, shape[0])], layer)
    sheet.line([put(low - 15 / k, 0), put(high + 8 / k, 0)], "STATIONS")
    _labels(sheet, plan, put)
    _running(sheet, plan, put, half, units, datum)
    _table(sheet, plan, put(high, 0)[0] + 22, units, datum)
    _lists(sheet, plan, units)
    sheet.words.append(Words((MARGIN, PAPER[1] - MARGIN), sheet.title, 5.0))
    return sheet


def _scale(long: float, wide: float) -> int:
    """Largest scale at which the frame leaves room for its words."""
    room = (PAPER[0] - 2 * MARGIN - LEFT - 22 - TABLE, PAPER[1] - 2 * MARGIN - ABOVE - BELOW - STEPS_HIGH)
    for scale in SCALES:
        if long * 1000 / scale <= room[0] and wide * 1000 / scale <= room[1]:
            return scale
    return SCALES[-1] * 2


def _labels(sheet: Drawing, plan: FramingPlan, put: Put) -> None:
    """The marks of the parts, each beside its own, so that no line runs through them."""
    for placed in plan.members:
        m = placed.part
        xs, ys = [p[0] for p in placed.flange], [p[1] for p in placed.flange]
        if isinstance(m, Member) and m.role == "side":
            x, y, _ = m.path[len(m.path) // 2]
            inward = -1.0 if y > 0 else 1.0
            at = put(x, y + inward * m.section.b)
            at, align = (at[0], at[1] + (-3.4 if y > 0 else 1.0)), 1
        elif m.role in ACROSS:
            at, align = put(max(xs), min(ys) + 0.66 * (max(ys) - min(ys))), -1
            at = (at[0] + 0.8, at[1])
        else:
            at, align = put((min(xs) + max(xs)) / 2, max(ys)), 0
            at = (at[0] + 6.0, at[1] + 0.8)
        sheet.words.append(Words(at, placed.label, 2.6, align))


def _running(sheet: Drawing, plan: FramingPlan, put: Put, half: float, units: Units, datum: Datum) -> None:
    """To each aft edge, below; from the centreline to each inner edge, at the left."""
    last, row = -1e9, 0
    for x in sorted({round(s.along[0].at, 4) for s in plan.of(*ACROSS)}):
        at = put(x, -half)
        row = (row + 1) % 3 if at[0] - last < CLOSE_MM else 0
        foot = at[1] - 5 - ROW_MM * row
        sheet.line([(at[0], at[1] - 1), (at[0], foot)], "DIMENSIONS")
        sheet.words.append(Words((at[0], foot - 3.4), write_length(datum.tell(x), units), 3.0, 0))
        last = at[0]
    sheet.words.append(Words((MARGIN, put(0, -half)[1] - 8.4), f"aft edges from {datum.words}", 2.6))
    told: set[float] = set()
    for placed in plan.members:
        if placed.role in ("side", *ACROSS):
            continue
        side = -1.0 if placed.side == "S" else 1.0
        inner = round(side * min(line.at for line in placed.across), 4)
        if inner in told:
            continue
        told.add(inner)
        at = put(placed.along[0].at, inner)
        sheet.line([(MARGIN + LEFT - 6, at[1]), at], "DIMENSIONS")
        words = write_length(abs(inner), units)
        sheet.words.append(Words((MARGIN + LEFT - 7, at[1] - 1.0), words, 3.0, 1))


def _table(sheet: Drawing, plan: FramingPlan, left: float, units: Units, datum: Datum) -> None:
    """Where each member is set, beside the drawing."""
    y = PAPER[1] - MARGIN - ABOVE
    heads = ("mark", f"from {datum.words}", "from the centreline", "leg", "length")
    for at, head in zip(COLUMNS, heads, strict=True):
        sheet.words.append(Words((left + at, y), head, 2.6))
    for placed in plan.members:
        rows = [
            ", ".join(f"{x.what} {write_length(datum.tell(x.at), units)}" for x in placed.along),
            ", ".join(f"{x.what} {write_length(x.at, units)}" for x in placed.across),
        ]
        cells = (placed.label, *rows, placed.leg, write_length(placed.length, units))
        y -= ROW_MM
        if y < MARGIN:
            break
        for at, text in zip(COLUMNS, cells, strict=True):
            sheet.words.append(Words((left + at, y), text, 2.4))


def _lists(sheet: Drawing, plan: FramingPlan, units: Units) -> None:
    """Heights, and the order of fixing, at the foot of the sheet."""
    y = MARGIN + STEPS_HIGH - 6
    for line in plan.heights:
        text = f"{line.what}: {write_length(line.at, units)} above the keel line"
        sheet.words.append(Words((MARGIN, y), text, 3.0))
        y -= ROW_MM
    for k, step in enumerate(plan.steps, start=1):
        sheet.words.append(Words((MARGIN, y), f"{k}. {step.what}: {', '.join(step.labels)}", 3.0))
        y -= ROW_MM
    notes = "thin line: leg, under its flange; print without fitting to the page"
    sheet.words.append(Words((PAPER[0] - MARGIN, MARGIN), notes, 2.6, 1))
