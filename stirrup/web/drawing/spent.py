"""What had been ordered day by day, as steps against what is planned and the budget; words stand beside."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

WIDE, HIGH, FOOT = 1000.0, 130.0, 4.0
TAIL = 0.06  # of the width, for the last step to be seen


def _days(rows: Sequence[tuple[str, Decimal]]) -> list[int]:
    """Numbers of the days; one that no calendar has counts as the day after the one before it."""
    out: list[int] = []
    for day, _ in rows:
        try:
            out.append(date.fromisoformat(day).toordinal())
        except ValueError:
            out.append(out[-1] + 1 if out else 0)
    return out


def spent_svg(
    rows: Sequence[tuple[str, Decimal]], net: Decimal, tax: Decimal, budget: Decimal | None
) -> str:
    """Steps of money by day (days in order, sums before tax); lines for what is planned, and the budget
    without the tax that it covers. Empty without days."""
    if not rows or net <= 0:
        return ""
    limit = None if budget is None else float(budget) * float(net / (net + tax))
    top = max(float(net), limit or 0.0, float(rows[-1][1])) * 1.06

    def y(amount: float) -> float:
        return HIGH - FOOT - amount / top * (HIGH - 2 * FOOT)

    days = _days(rows)
    span = max(days[-1] - days[0], 1) * (1 + TAIL)
    path, level = f"M0 {y(0):.1f}", y(0)
    for day, (_, amount) in zip(days, rows, strict=True):
        x = (day - days[0]) / span * WIDE
        path += f"L{x:.1f} {level:.1f}L{x:.1f} {y(float(amount)):.1f}"
        level = y(float(amount))
    path += f"L{WIDE:.0f} {level:.1f}"
    lines = f'<path class="planned" d="M0 {y(float(net)):.1f}H{WIDE:.0f}" />'
    if limit is not None:
        lines += f'<path class="limit" d="M0 {y(limit):.1f}H{WIDE:.0f}" />'
    area = f'<path class="area" d="{path}L{WIDE:.0f} {y(0):.1f}Z" />'
    return (
        f'<svg class="spent-line" viewBox="0 0 {WIDE:.0f} {HIGH:.0f}" preserveAspectRatio="none" '
        f'aria-hidden="true">{area}{lines}<path class="steps" d="{path}" /></svg>'
    )
