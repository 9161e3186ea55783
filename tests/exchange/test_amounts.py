"""Amounts as they are written in a country, by what its own standards say."""

from __future__ import annotations

from decimal import Decimal

import pytest

from stirrup.core.errors import CoreError
from stirrup.core.plan.entry import read_money
from stirrup.core.plan.model import Wishes
from stirrup.exchange.amounts import written

# expected: what the country's locale data give, with hard spaces
EXPECTED = [
    ("plain", "$", "1064.02", "$ 1 064.02"), ("en-US", "$", "1234567.5", "$1,234,567.50"),
    ("en-GB", "£", "1064.02", "£1,064.02"), ("de-DE", "€", "1064.02", "1.064,02 €"),
    ("de-CH", "CHF", "1064.02", "CHF 1'064.02"), ("fr-FR", "€", "1064.02", "1\u202f064,02 €"),
    ("nb-NO", "kr", "1064.02", "1 064,02 kr"), ("pt-BR", "R$", "1064.02", "R$ 1.064,02"),
    ("pl-PL", "zł", "999.9", "999,90 zł"),
]  # fmt: skip


@pytest.mark.parametrize(("locale", "currency", "amount", "text"), EXPECTED)
def test_amounts_as_in_a_country(locale: str, currency: str, amount: str, text: str) -> None:
    assert written(Decimal(amount), currency, locale) == text.replace(" ", "\u00a0")


def test_every_country_that_is_offered_can_be_written() -> None:
    for locale in Wishes.model_fields["amounts"].annotation.__args__:  # type: ignore[union-attr]
        for amount in ("0", "-0.004", "-12.5", "1000000"):
            text = written(Decimal(amount), "$", locale)
            assert "$" in text and " " not in text
            digits = "".join(c for c in text if c.isdigit())
            assert digits == f"{abs(Decimal(amount)):.2f}".replace(".", "")
            assert ("-" in text) is (amount == "-12.5") or locale == "plain"
        whole = written(Decimal("1999.5"), "", locale, 0)
        assert "".join(c for c in whole if c.isdigit()) == "2000"


@pytest.mark.parametrize(
    ("text", "value"),
    [("1850", "1850"), ("1850.50", "1850.50"), ("1850,5", "1850.5"), ("$ 1 850.50", "1850.50"),
     ("12,50 €", "12.50"), ("1'200.00", "1200.00")],
)  # fmt: skip
def test_amounts_as_they_are_typed(text: str, value: str) -> None:
    assert read_money(text) == Decimal(value)


@pytest.mark.parametrize("text", ["1,850", "1.850,50", "ten", "1,2,3", "", "12 for 3 x"])
def test_what_could_be_two_amounts_is_none(text: str) -> None:
    with pytest.raises(CoreError, match="as money; accepted"):
        read_money(text)
