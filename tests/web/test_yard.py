"""The yard's cards: kept with their revision, and made anew when anything that they depend on changes."""

import re
from decimal import Decimal

import pytest

from stirrup.core.errors import CoreError
from stirrup.store import cards, shop
from stirrup.store.models import Build, Card
from stirrup.store.session import reading
from stirrup.web.pages import frame, yard
from tests.boats import DECK, derive, skiff_plan
from tests.web.conftest import make_build

SKIN = "al-2.5"


def shown(site, build: int, address: str = "/") -> str:
    """The boat's part of the yard."""
    page = site.client.get(address).text
    return next(p for p in page.split('<li class="boat"') if f'"/b/{build}/layout"' in p)


@pytest.fixture
def counted(monkeypatch) -> list[str]:
    """Names of the plans that the yard works out."""
    made: list[str] = []
    real = yard.derive

    def counting(plan, *args, **more):
        made.append(plan.name)
        return real(plan, *args, **more)

    monkeypatch.setattr(yard, "derive", counting)
    return made


def test_a_yard_that_was_shown_is_shown_again_without_working_anything_out(app, site, counted) -> None:
    build = make_build(app, skiff_plan(name="Card One", fittings=[DECK]))
    first = shown(site, build)
    assert counted.count("Card One") == 1
    assert shown(site, build) == first and counted.count("Card One") == 1


def test_a_card_says_what_the_boat_says(app, site) -> None:
    plan = skiff_plan(name="Card Two", fittings=[DECK])
    build = make_build(app, plan)
    derived = derive(plan)
    for _ in range(2):  # worked out, then as it was kept
        words = re.sub(r"<[^>]*>", " ", shown(site, build))
        assert f"{derived.added_kg:.1f} kg" in words
        assert "Card Two" in words
    with reading():
        kept = Card.get(Card.build == build)
    assert kept.number == 1 and Decimal(kept.shown["total"]) == derived.cost.total
    assert kept.shown["trim_deg"] == pytest.approx(derived.case("planned, empty").report.trim_deg)


def test_a_change_an_undo_and_another_price_make_it_anew(app, site, counted) -> None:
    build = make_build(app, skiff_plan(name="Card Three", fittings=[DECK]))
    before = shown(site, build)
    move = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.5}
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": move})
    assert shown(site, build) != before and counted.count("Card Three") == 2
    site.post(f"/api/builds/{build}/undo", {})
    assert shown(site, build) == before
    with reading():
        owner = Build.get_by_id(build).shop_id
    try:
        shop.set_price(owner, SKIN, Decimal("731.00"))
        assert shown(site, build) != before
    finally:
        shop.forget_entry(owner, SKIN)
    assert shown(site, build) == before


def test_what_there_is_no_time_for_comes_behind_the_page(app, site, counted, monkeypatch) -> None:
    monkeypatch.setattr(yard, "AT_ONCE_S", 0.0)
    build = make_build(app, skiff_plan(name="Card Late", fittings=[DECK]))
    assert "Being worked out" in shown(site, build) and f'data-card="/b/{build}/card"' in shown(site, build)
    assert "Card Late" in shown(site, build) and "Card Late" not in counted
    card = site.client.get(f"/b/{build}/card").text
    assert "Wants attention" in card and counted.count("Card Late") == 1
    # it is kept, and the page has it from now on
    assert "Wants attention" in shown(site, build) and "data-card" not in shown(site, build)
    assert counted.count("Card Late") == 1
    # without scripts all of them are asked for
    other = make_build(app, skiff_plan(name="Card Later"))
    assert "?whole=1" in site.client.get("/").text
    assert "Wants attention" in shown(site, other, "/?whole=1")
    assert site.client.get("/b/999999/card").status_code == 404


def test_a_boat_that_cannot_be_worked_out_leaves_the_others_alone(app, site, monkeypatch) -> None:
    build, other = (make_build(app, skiff_plan(name=f"Card {n}")) for n in ("Sunk", "Sound"))
    real = yard.derive

    def broken(plan, *args, **more):
        if plan.name == "Card Sunk":
            raise CoreError("the lines enclose no volume", "hull")
        return real(plan, *args, **more)

    monkeypatch.setattr(yard, "derive", broken)
    assert "the lines enclose no volume" in shown(site, build)
    assert "Wants attention" in shown(site, other) and "Wants attention" not in shown(site, build)
    assert "the lines enclose no volume" in site.client.get(f"/b/{build}/card").text


def test_another_version_of_the_program_makes_it_anew(app, site, counted, monkeypatch) -> None:
    build = make_build(app, skiff_plan(name="Card Four"))
    shown(site, build)
    monkeypatch.setattr(cards, "version", lambda: "another")
    shown(site, build)
    assert counted.count("Card Four") == 2


def test_units_are_those_of_the_reader_not_of_the_card(app, site) -> None:
    build = make_build(app, skiff_plan(name="Card Five", fittings=[DECK]), units="mm")
    assert " kg" in shown(site, build)
    with reading():
        owner = Build.get_by_id(build).shop_id
    shop.set_units(owner, "ft-in")
    try:
        assert " lb" in shown(site, build) and " kg" not in shown(site, build)
    finally:
        shop.set_units(owner, "mm")


def test_the_boats_changed_last_are_worked_out_before_anybody_asks(app, monkeypatch) -> None:
    older, newer = (make_build(app, skiff_plan(name=f"Warm {k}")) for k in (1, 2))
    asked: list[int] = []

    def open_one(build: int) -> None:
        asked.append(build)
        if build == newer:
            raise RuntimeError("this one cannot be opened")

    monkeypatch.setattr(frame, "open_build", open_one)
    frame.warm_up(2)
    # the latest first, and one that fails keeps nobody from the next
    assert asked == [newer, older]
