from decimal import Decimal

import pytest

from stirrup.core.findings import Finding, Fix, Quantity, Working
from stirrup.core.units import SYSTEMS
from stirrup.exchange.catalogue import starting
from stirrup.exchange.summary import say
from stirrup.web import present
from stirrup.web.forms import entry_title, option_title
from stirrup.web.pages.layout import alike

MM, FEET = SYSTEMS["mm"], SYSTEMS["ft-in"]


def test_fractions_are_drawn_and_also_said_plainly() -> None:
    html = present.length_html(1.0287, FEET)
    assert '<span class="fr">1\u20442</span>' in html
    assert '<span class="visually-hidden">3&#39; 4-1/2&#34;</span>' in html
    assert present.length_html(1.0287, MM) == '<span class="q">1 029 mm</span>'


@pytest.mark.parametrize(
    ("degrees", "trim", "leaning"),
    [(1.44, "1.4° aft", "1.4° port"), (-0.86, "0.9° fwd", "0.9° stbd"), (0.04, "level", "upright")],
)
def test_angles_are_told_with_their_way(degrees, trim, leaning) -> None:
    assert present.trim_words(degrees) == trim
    assert present.list_words(degrees) == leaning


def test_money_is_grouped_and_exact() -> None:
    assert present.money(Decimal("1064.02")) == "$\u00a01\u00a0064.02"
    assert present.round_money(Decimal("1850"), "") == "1\u00a0850"
    assert present.money(None) == "not set"


def test_sentences_escape_what_people_typed_and_put_amounts_in() -> None:
    values = {"gap": Quantity(0.0127, "m"), "name": Quantity(0, "<b>rivet</b>")}
    html = present.sentence_html("{name} & {gap}", values, FEET)
    assert "&lt;b&gt;rivet&lt;/b&gt;" in html and " &amp; " in html
    assert "1\u20442" in html


@pytest.mark.parametrize(
    ("quantity", "text"),
    [
        (Quantity(1.5, "m"), "1 500 mm"),
        (Quantity(0.0025, "m", True), "2.5 mm"),
        (Quantity(12.34, "kg"), "12.3 kg"),
        (Quantity(3.14159, "deg"), "3.1°"),
        (Quantity(4, "count"), "4"),
        (Quantity(1234.5, "money"), "1 234.50"),
        (Quantity(2.5, "m3"), "2.50 m³"),
        (Quantity(0.25, "m2"), "0.25 m²"),
        (Quantity(32.0, "kg/m3"), "32 kg/m³"),
        (Quantity(0, "any words"), "any words"),
    ],
)
def test_quantities_are_said_in_the_readers_units(quantity, text) -> None:
    assert say(quantity, MM) == text


def test_amounts_of_pieces_are_whole_when_bought() -> None:
    assert present.amount(30.3, "piece", whole=True) == "31"
    assert present.amount(3.267, "m2") == "3.27 m²"
    assert present.amount(4, "stick") == "4"


def test_added_and_removed_mass_carry_their_sign() -> None:
    assert present.signed_mass(143, MM) == "+ 143 kg"
    assert present.signed_mass(-5.25, MM) == "− 5.2 kg"


def test_paths_survive_names_with_any_signs() -> None:
    name = "two / three, 50% (aft)"
    assert present.steps(f"cases/{present.step(name)}/fills/fuel") == ("cases", name, "fills", "fuel")
    assert present.slug("a b/c") != present.slug("a_b/c")


def test_choices_have_short_names() -> None:
    entries = starting().entries
    assert entry_title(entries["al-2.5"]) == "2.5 mm 5052"
    assert entry_title(entries["rivet-4.8x8"]) == "grip 1.5–5 mm"
    assert entry_title(entries["angle-40x40x3"]) == "angle 40×40×3"
    assert option_title("as the deck") == "as the deck"


@pytest.mark.parametrize(
    ("text", "system", "shown"),
    [
        ("it brings the chine to 0.381 m, too near", "in", "it brings the chine to 15 in, too near"),
        ("take at least 1000.0 kg out.", "in", "take at least 2205 lb out."),
        ("take at least 1000.0 kg out.", "mm", "take at least 1000 kg out."),
        ("read “0.381 m” as wide", "in", "read “0.381 m” as wide"),
        (
            "read “x”; accepted: 40 1/2 in, 1029 mm, 1.03 m",
            "in",
            "read “x”; accepted: 40 1/2 in, 1029 mm, 1.03 m",
        ),
        ("x is 1e+06 m", "in", "x is 1e+06 m"),
        ("0.163 m·rad of 2.4 m³, 12 km", "in", "0.163 m·rad of 2.4 m³, 12 km"),
    ],
)
def test_messages_speak_the_shops_units_but_quote_what_was_typed(text, system, shown) -> None:
    assert present.in_shop_units(text, SYSTEMS[system]) == shown


def test_three_of_a_kind_about_one_thing_become_one_entry() -> None:
    def rib(k: int, place: str = "deck", **more) -> Finding:
        return Finding("DECK-NOTCH", "look", place, f"Notched round rib {k}", "", **more)

    other = Finding("STEP", "look", "deck", "High step", "")
    told = alike([rib(1), other, rib(2), rib(3), rib(9, "stern")])
    assert [(t.first.title, len(t.more)) for t in told] == [
        ("Notched round rib 1", 2), ("High step", 0), ("Notched round rib 9", 0),
    ]  # fmt: skip
    assert [o.title for o in told[0].more] == ["Notched round rib 2", "Notched round rib 3"]
    # two are told apart, and so is what has a button
    assert [len(t.more) for t in alike([rib(1), rib(2)])] == [0, 0]
    pressed = rib(3, fixes=(Fix("Move it", "deck"),))
    assert [len(t.more) for t in alike([rib(1), rib(2), pressed])] == [0, 0, 0]
    # nor does an answer that can be taken back, or a working that can be opened, get lost in a group
    known = [rib(k, accepted=f"accepted-{k}") for k in range(3)]
    working = Working("a + b", (), Quantity(1.0, "m"), "hand")
    opened = [rib(k, working=working) for k in range(3)]
    assert [len(t.more) for t in alike([*known, *opened])] == [0] * 6
