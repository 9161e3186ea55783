"""Amounts of money as they are written in a country: marks between thousands, before cents, the currency's
place. Plain: "$ 1 064.02"."""

from __future__ import annotations

from contextvars import ContextVar
from decimal import Decimal
from functools import lru_cache

PLAIN, HARD = "plain", "\u00a0"
# how the amounts of the plan that is shown are written; set where it is opened
WRITTEN: ContextVar[str] = ContextVar("written", default=PLAIN)


def written(amount: Decimal, currency: str, locale: str = PLAIN, digits: int = 2) -> str:
    """An amount with its currency, never broken over two lines. digits: behind the decimal mark."""
    if locale == PLAIN:
        return f"{currency} {amount:,.{digits}f}".replace(",", HARD).replace(" ", HARD).strip()
    from babel.numbers import format_decimal  # loaded when first needed

    tag, first, gap = _currency_of(locale)
    pattern = "#,##0" + ("." + "0" * digits if digits else "")
    number = format_decimal(abs(amount), format=pattern, locale=tag)
    parts = (currency, number) if first else (number, currency)
    text = (HARD if gap else "").join(p for p in parts if p)
    return ("-" if round(amount, digits) < 0 else "") + text.replace(" ", HARD)


@lru_cache(maxsize=40)
def _currency_of(locale: str) -> tuple[str, bool, bool]:
    """A locale as the library names it, whether the currency stands first there, and whether a gap
    parts the two."""
    from babel import Locale

    tag = locale.replace("-", "_")
    pattern = Locale.parse(tag).currency_formats["standard"].pattern.split(";")[0]
    return tag, pattern.startswith("¤"), HARD in pattern or " " in pattern
