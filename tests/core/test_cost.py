import math
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.document import StockRef
from stirrup.core.errors import CoreError
from stirrup.core.money.cost import Need, _programmed, _tried, cents, cheapest_packs, gather, price_up
from stirrup.core.parts.catalogue import count_at_pitch
from stirrup.core.parts.entries import Pack as PackOf
from stirrup.core.parts.entries import Section, Sheet
from stirrup.exchange.catalogue import starting

pytestmark = pytest.mark.usefixtures("searched_long")

STOCK = starting()


def Pack(quantity: float, price: Decimal) -> PackOf:
    return PackOf(quantity=quantity, price=price)


BOXES = (Pack(50, Decimal("11.00")), Pack(250, Decimal("44.00")))


@pytest.mark.parametrize(
    ("quantity", "counts", "price"),
    [
        (1, {50: 1}, "11.00"),
        (50, {50: 1}, "11.00"),
        (51, {50: 2}, "22.00"),
        (200, {50: 4}, "44.00"),  # as dear as one of 250, less left over
        (201, {250: 1}, "44.00"),
        (300, {250: 1, 50: 1}, "55.00"),
    ],
)
def test_cheapest_packs_by_hand(quantity: float, counts: dict, price: str) -> None:
    packs = cheapest_packs(quantity, BOXES)
    assert {int(p.quantity): n for p, n in packs} == counts
    assert sum(p.price * n for p, n in packs) == Decimal(price)


@given(
    st.integers(1, 900),
    st.integers(5, 60),
    st.integers(61, 400),
    st.integers(100, 4000),
    st.integers(100, 9000),
)
@settings(max_examples=60, deadline=None)
def test_packs_hold_the_need_and_no_pair_of_counts_is_cheaper(q, small, large, p1, p2) -> None:
    packs = (Pack(small, Decimal(p1) / 100), Pack(large, Decimal(p2) / 100))
    chosen = cheapest_packs(q, packs)
    assert sum(p.quantity * n for p, n in chosen) >= q
    paid = sum(p.price * n for p, n in chosen)
    for a in range(q // small + 2):
        for b in range(q // large + 2):
            if a * small + b * large >= q:
                assert paid <= a * packs[0].price + b * packs[1].price


def test_five_packs_and_four_thousand_pieces_by_hand() -> None:
    """1 at 0.30, 10 at 2.50, 50 at 11, 250 at 44, 1000 at 160: 16 cents each in thousands, 17.6 in 250s.
    4 120 are four thousands, two fifties and two tens: 640 + 22 + 5 = 667.00; a fifth thousand and
    nothing else would be 800, and 250 in place of the rest 684."""
    packs = tuple(Pack(q, Decimal(p)) for q, p in
                  ((1, "0.30"), (10, "2.50"), (50, "11"), (250, "44"), (1000, "160")))  # fmt: skip
    chosen = cheapest_packs(4120, packs)
    assert {int(p.quantity): n for p, n in chosen} == {1000: 4, 50: 2, 10: 2}


@given(
    st.floats(1, 400),
    st.lists(
        st.tuples(st.integers(1, 120), st.integers(1, 5000)),
        min_size=2,
        max_size=3,
        unique_by=lambda t: t[0],
    ),
)
@settings(max_examples=60, deadline=None)
def test_the_programme_finds_what_trying_all_finds(quantity, sizes) -> None:
    ordered = sorted((Pack(q, Decimal(p) / 100) for q, p in sizes), key=lambda p: -p.quantity)
    tried, programmed = _tried(quantity, ordered), _programmed(quantity, ordered)

    def paid_and_held(counts: tuple[int, ...]) -> tuple[Decimal, float]:
        both = list(zip(ordered, counts, strict=True))
        return sum((p.price * n for p, n in both), Decimal(0)), sum(p.quantity * n for p, n in both)

    assert paid_and_held(programmed) == paid_and_held(tried)


def test_of_two_as_dear_the_programme_takes_what_leaves_less_over() -> None:
    """200 of boxes of 250 at 44.00 or 50 at 11.00: one of 250 leaves 50, four of 50 nothing."""
    assert _programmed(200, [Pack(250, Decimal("44.00")), Pack(50, Decimal("11.00"))]) == (0, 4)


def test_no_need_needs_no_packs() -> None:
    assert cheapest_packs(0, BOXES) == ()
    with pytest.raises(ValueError, match="at least one pack"):
        cheapest_packs(1, ())


def test_tax_is_taken_on_the_sum_and_rounded_half_up() -> None:
    needs = [Need("angle-40x40x3", 3, 0, ("deck",)), Need("latch-50", 1, 0, ("hatch",))]
    cost = price_up(needs, STOCK, Decimal(8), Decimal(200))
    # 3 x 39.00 + 18.50 = 135.50; 8 % = 10.84; total 146.34; left 53.66
    assert (cost.net, cost.tax, cost.total, cost.left) == tuple(
        Decimal(v) for v in ("135.50", "10.84", "146.34", "53.66")
    )
    assert cents(Decimal("0.125")) == Decimal("0.13")


def test_the_shops_price_replaces_the_starting_value() -> None:
    own = STOCK.priced({"latch-50": (Pack(1, Decimal("21.00")),)})
    cost = price_up([Need("latch-50", 2, 0, ())], own, Decimal(0), None)
    assert cost.total == Decimal("42.00")
    assert cost.left is None


def test_uses_are_summed_with_the_groups_spare() -> None:
    needs = gather(
        [("rivet-4.8x10", 100, "fasteners", "deck"), ("rivet-4.8x10", 20, "fasteners", "hatch"),
         ("latch-50", 1, "hardware", "hatch")]
    )  # fmt: skip
    assert needs[0].quantity == 120
    assert needs[0].spare == pytest.approx(12)  # 10 %
    assert needs[0].fittings == ("deck", "hatch")
    assert needs[1].spare == 0


def test_fasteners_are_the_shortest_whose_grip_holds() -> None:
    short, longer = STOCK.fastener_for("rivet", 0.005), STOCK.fastener_for("rivet", 0.0055)
    assert short is not None and short.id == "rivet-4.8x8"
    assert longer is not None and longer.id == "rivet-4.8x10"
    assert STOCK.fastener_for("rivet", 0.05) is None


def test_pitch_counts_have_one_at_each_end() -> None:
    assert count_at_pitch(1.0, 0.1) == 11
    assert count_at_pitch(1.0, 0.3) == 5
    assert count_at_pitch(0.01, 0.3) == 2


def test_mass_of_an_angle_per_metre() -> None:
    # (40 + 40 - 3) x 3 mm2 x 2700 kg/m3
    assert STOCK.section("angle-40x40x3").kg_per_m == pytest.approx(0.077 * 0.003 * 2700)


def test_the_catalogue_is_consistent() -> None:
    assert len(STOCK.entries) >= 250
    for item in STOCK.entries.values():
        assert item.packs and all(p.price > 0 for p in item.packs), item.id
        assert all(other in STOCK.entries for other in item.works_with), item.id
    stock = [*STOCK.of(Sheet), *STOCK.of(Section)]
    assert all(e.material in STOCK.materials and e.stuff.id == e.material for e in stock)


# mass of a metre by hand: area in mm2 x density / 1e6
@pytest.mark.parametrize(
    ("id_", "area", "density"),
    [
        ("angle-1-1_2x1_8in", (2 * 38.1 - 3.175) * 3.175, 2700),
        ("flat-40x5", 40 * 5, 2700),
        ("square-1x1_8in", 25.4**2 - (25.4 - 2 * 3.175) ** 2, 2700),
        ("tube-50x25x3", 50 * 25 - 44 * 19, 2690),
        ("round-25.4x3.2", math.pi / 4 * (25.4**2 - (25.4 - 6.4) ** 2), 2700),
        ("channel-40x20x3", 40 * 3 + 2 * (20 - 3) * 3, 2700),
        ("fir-38x89", 38 * 89, 500),
    ],
)
def test_mass_of_each_shape_of_section(id_: str, area: float, density: float) -> None:
    assert STOCK.section(id_).kg_per_m == pytest.approx(area * density / 1e6, rel=1e-3)


def test_a_shops_entries_lie_over_what_ships_and_keep_its_packs() -> None:
    own = STOCK.find("al-2.5").model_copy(update={"thickness": 0.00254, "packs": ()})
    over = STOCK.over([own])
    assert over.sheet("al-2.5").thickness == 0.00254
    assert over.find("al-2.5").packs == STOCK.find("al-2.5").packs
    assert STOCK.sheet("al-2.5").thickness == 0.0025 and over.key != STOCK.key
    # prices alone do not change what is built
    dear = STOCK.priced({"al-2.5": (Pack(1, Decimal("999.00")),)})
    assert (dear.stock_key == STOCK.stock_key) and dear.key != STOCK.key


def test_what_is_retired_is_found_but_not_offered() -> None:
    old = STOCK.over([STOCK.find("ply-9").model_copy(update={"retired": True})])
    ref = StockRef("sheet", wanted=(("kind", ("wood",)),))
    assert "ply-9" in {e.id for e in STOCK.offered(ref)} and old.sheet("ply-9").thickness == 0.009
    assert "ply-9" not in {e.id for e in old.offered(ref)}
    assert all(e.stuff.kind == "wood" for e in STOCK.offered(ref))


def test_items_of_the_wrong_kind_are_refused_by_name() -> None:
    for wrong in (
        lambda: STOCK.sheet("latch-50"),
        lambda: STOCK.section("ply-9"),
        lambda: STOCK.plain("ply-9"),
        lambda: STOCK.find("gold"),
    ):
        with pytest.raises(CoreError):
            wrong()


def test_locks_are_ordered_keyed_alike() -> None:
    """Two hatches and a third with locks: one key; a single one and those without have none to match."""
    catalogue = starting()
    for item, count, alike in (("latch-57-lock", 3.0, 3), ("latch-57-lock", 1.0, 0), ("latch-57", 3.0, 0)):
        (line,) = price_up((Need(item, count, 0.0, ("h",)),), catalogue, Decimal(0), None, True).lines
        assert line.one_key == alike


def test_needs_say_who_needs_how_much() -> None:
    """Two latches for one hatch and one for another; of sheets only who uses them."""
    uses = [*[("latch", 1.0, "hardware", "h1")] * 2, ("latch", 1.0, "hardware", "h2"),
            ("sheet", 0.0, "hardware", "d1"), ("sheet", 2.0, "hardware", "")]  # fmt: skip
    latch, sheet = gather(uses)
    assert latch.reasons == (("h1", 2.0), ("h2", 1.0)) and latch.quantity == 3.0
    assert sheet.reasons == (("d1", 0.0),) and sheet.quantity == 2.0
    assert Need("x", 1.0, 0.0, ("a", "b")).reasons == (("a", 0.0), ("b", 0.0))
