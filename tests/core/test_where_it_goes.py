"""Where the money goes: every cent is somebody's, and the shares are the total."""

from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.where_it_goes import STOCK, shared, where_it_goes, work_cost
from stirrup.demo.seed import FILES, demo_plan
from tests.boats import DECK, derive, plan


def money(text: str) -> Decimal:
    return Decimal(text)


def test_by_hand() -> None:
    """100.00 in three: 33.33 each, and the cent that is left to the first by name."""
    assert shared(money("100.00"), {"c": 1, "a": 1, "b": 1}) == {
        "a": money("33.34"), "b": money("33.33"), "c": money("33.33")
    }  # fmt: skip
    # 1 : 2 of 10.00: 3.333 and 6.667; the greater remainder has the cent
    assert shared(money("10.00"), {"a": 1.0, "b": 2.0}) == {"a": money("3.33"), "b": money("6.67")}
    # 0.05 in four: 1 cent each, and one over
    assert sum(shared(money("0.05"), dict.fromkeys("abcd", 1.0)).values()) == money("0.05")
    assert shared(money("7.00"), {}) == {STOCK: money("7.00")}
    assert shared(money("7.00"), {"a": 0.0}) == {STOCK: money("7.00")}
    assert shared(money("0.00"), {"a": 1.0}) == {}


@given(
    st.integers(0, 10_000_000),
    st.dictionaries(st.text("abcdefgh", min_size=1, max_size=3), st.floats(0, 1e6), max_size=30),
)
def test_no_cent_is_lost_or_made(cents: int, weights: dict[str, float]) -> None:
    amount = Decimal(cents) / 100
    out = shared(amount, weights)
    assert sum(out.values(), Decimal(0)) == amount
    assert all(v >= 0 and v == v.quantize(Decimal("0.01")) for v in out.values())
    # nobody is a cent or more off his exact share; in fractions, since the smallest weight there is
    # (5e-324) times an amount is nothing in floating point
    parts = {k: Fraction(w) for k, w in weights.items() if w > 0}
    for k, w in parts.items():
        share = Fraction(amount) * w / sum(parts.values())
        assert abs(Fraction(out.get(k, 0)) - share) < Fraction(1, 100) + Fraction(1, 10**9)


@pytest.mark.slow
@pytest.mark.parametrize("name", FILES)
def test_the_shares_of_a_boat_are_her_cost(name: str) -> None:
    derived = derive(demo_plan(name))
    shares = where_it_goes(derived.cost, derived.built)
    assert sum((s.net for s in shares), Decimal(0)) == derived.cost.net
    assert sum((s.total for s in shares), Decimal(0)) == derived.cost.total
    assert [s.total for s in shares] == sorted((s.total for s in shares), reverse=True)
    known = {t.id for g in ("fittings", "items", "tanks", "buoyancy") for t in getattr(derived.plan, g)}
    assert {s.id for s in shares} <= known | {STOCK}


def test_a_sheet_goes_by_area() -> None:
    """Two decks of one sheet's stock, twice as long: twice the share of their sheets."""
    small: dict[str, Any] = {**DECK, "id": "small", "mark": "D2", "aft": 0.5, "fore": 1.0, "face": False,
                             "height": 0.4}  # fmt: skip
    large = {**small, "id": "large", "mark": "D3", "aft": 1.5, "fore": 2.5}
    derived = derive(plan(fittings=[small, large]))
    line = next(x for x in derived.cost.lines if x.item.unit == "sheet")
    area = {b.fitting: sum(p.polygon.area for p in b.panels) for b in derived.built}
    out = shared(line.cost, area)
    assert float(out["large"] / out["small"]) == pytest.approx(area["large"] / area["small"], rel=1e-3)


def test_what_is_owned_costs_nobody_anything() -> None:
    item = {"id": "seat", "form": "seat", "stage": "added", "price": "100",
            "mass": {"value": 10, "centre": [1, 0, 0.5]}}  # fmt: skip
    bought, owned = (derive(plan(items=[{**item, "owned": o}])) for o in (False, True))
    assert [(s.id, s.net) for s in where_it_goes(bought.cost, bought.built)] == [("seat", Decimal(100))]
    assert where_it_goes(owned.cost, owned.built) == ()


@pytest.mark.parametrize(
    ("hours", "rate", "cost"),
    [(58.84, "45", "2646.00"), (58.86, "45", "2650.50"), (0.1, "0.05", "0.01"), (0.0, "45", "0.00"),
     (3.3, "12.35", "40.76")],
)  # fmt: skip
def test_what_work_costs(hours: float, rate: str, cost: str) -> None:
    """58.8 h x 45 = 2646; 0.1 x 0.05 = 0.005, half up; 3.3 x 12.35 = 40.755."""
    assert work_cost(hours, money(rate)) == money(cost)
