"""Hands-on hours: counts times minutes, checked by hand."""

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.parts.entries import Fastener, Latch
from stirrup.core.parts.model import Bent, Bought, Frame, Member, Panel
from stirrup.core.work.hours import effort, operation_of
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, derive, skiff_plan

STOCK = starting()
SQUARE = ((0.0, 0.0), (0.6, 0.0), (0.6, 0.4), (0.0, 0.4))


def panel(stock: str) -> Panel:
    return Panel("d/s", "D-S", "skin", "d", STOCK.sheet(stock), SQUARE, (), Frame((0.0, 0.0, 0.0)))


def bought(item: str, quantity: float) -> Bought:
    return Bought(f"d/{item}", "D-B", item, "d", STOCK.find(item), quantity, 0.0, (0.0, 0.0, 0.0))


def member(slots: tuple[float, ...]) -> Member:
    path = ((0.0, 0.0, 0.0), (1.0, 0.0, 0.0))
    return Member("d/m", "D-M", "member", "d", STOCK.section("angle-40x40x3"), 1.0, path,
                  late_bent=lambda: Bent(slots))  # fmt: skip


def test_a_fitting_is_the_sum_of_its_operations() -> None:
    made = Built(
        "d", (panel("al-2.5"),), (member((0.2, 0.4, 0.6)), member(())),
        (bought("rivet-4.8x8", 50), bought("latch-50", 1), bought("hinge-piano", 0.5)),
    )  # fmt: skip
    # edge 2 x (0.6 + 0.4) = 2 m at 5 min; 1 panel 20; 2 members 24; 3 relief cuts 4.5;
    # 50 rivets 60; latch 25; hinge 0.5 m at 30 = 15: 158.5 min
    found = effort([made])
    assert found.hours == pytest.approx(158.5 / 60)
    assert found.range_h == pytest.approx((158.5 / 60 * 0.7, 158.5 / 60 * 1.3))
    assert [t.operation.words.split()[0] for t in found.tasks][:2] == ["rivets", "latches"]


@pytest.mark.parametrize(("stock", "minutes"), [("al-3.2", 30.0), ("ply-12", 25.0), ("pvc-12", 24.0)])
def test_metal_takes_longer_to_saw_than_wood_and_plastic(stock: str, minutes: float) -> None:
    # 2 m of edge at 5, 2.5 or 2 min, and 20 min to offer it up
    assert effort([Built("d", (panel(stock),))]).hours * 60 == pytest.approx(minutes)


def test_holes_are_sawn_too() -> None:
    hole = ((0.1, 0.1), (0.2, 0.1), (0.2, 0.2), (0.1, 0.2))
    whole = Panel("d/s", "D-S", "skin", "d", STOCK.sheet("al-2.5"), SQUARE, (hole,), Frame((0.0, 0.0, 0.0)))
    more = effort([Built("d", (whole,))]).hours - effort([Built("d", (panel("al-2.5"),))]).hours
    assert more * 60 == pytest.approx(0.4 * 5.0)


def test_everything_in_the_catalogue_that_is_fitted_takes_time() -> None:
    """Of what builders take: fasteners and latches have minutes of their own."""
    taken = ("hinge-piano", "bracket-40", "gasket-12", "carpet", "vinyl", "foam-mat", "non-skid", "bedding")
    assert all(STOCK.find(i).minutes > 0 and STOCK.find(i).task for i in taken)
    assert not [e.id for e in STOCK.entries.values() if e.minutes and not e.task]
    assert all(operation_of(bought(e.id, 1)) for e in (*STOCK.of(Fastener), *STOCK.of(Latch)))
    assert operation_of(bought("screw-4.2x16", 1)) != operation_of(bought("rivet-4.8x8", 1))


def test_nothing_made_takes_no_time() -> None:
    assert effort([]).hours == 0.0
    assert effort([Built("d")]).tasks == ()


def test_a_longer_deck_takes_longer() -> None:
    long, short = (skiff_plan(fittings=[DECK | {"aft": aft}]) for aft in (2.6, 3.2))
    assert effort(derive(short).built).hours < effort(derive(long).built).hours
