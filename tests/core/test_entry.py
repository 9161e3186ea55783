import pytest

from stirrup.core.errors import CoreError
from stirrup.core.hull.model import QuickStart
from stirrup.core.plan.changes import apply
from stirrup.core.plan.entry import FieldKind, kind_at, read_entry, read_text
from stirrup.core.units import SYSTEMS, Units
from tests.boats import DECK, HATCH, skiff_plan

INCHES, MM = SYSTEMS["in"], SYSTEMS["mm"]
PLAN = skiff_plan(
    fittings=[DECK, HATCH],
    items=[{"id": "cooler", "mass": {"value": 20.0, "centre": [2.0, 0.0, 0.3]}}],
    tanks=[{"id": "fuel", "size": [0.5, 0.4, 0.2], "floor_centre": [1, 0, 0.1], "liquid": "petrol"}],
    cases=[{"name": "one up", "crew": [{"at": [2, 0, 0.1]}], "fills": {"fuel": 0.5}}],
)


@pytest.mark.parametrize(
    ("path", "text", "value"),
    [
        ("fittings/deck/aft", "100 in", 2.54),
        ("fittings/deck/fore", "", None),
        ("fittings/deck/skin", "ply-12", "ply-12"),
        ("fittings/deck/face", "on", True),
        ("fittings/deck/face", "", False),
        ("fittings/deck/name", "Front deck", "Front deck"),
        ("hull/lines/keel/points/1/2", "1/2", 0.0127),
        ("items/cooler/mass/value", "100 lb", 45.359237),
        ("items/cooler/mass/centre/0", "1.5 m", 1.5),
        ("items/cooler/mass/status", "weighed", "weighed"),
        ("cases/one up/crew/0/mass", "90 kg", 90.0),
        ("cases/one up/crew/0/at/2", "500 mm", 0.5),
        ("cases/one up/fills/fuel", "75 %", 0.75),
        ("cases/one up/fills/fuel", "0.75", 0.75),
        ("items/cooler/density", "2 lb/ft3", 32.036927),
        ("water/density", "64", 1025.1816),  # a shop in pounds: to the cubic foot
        ("wishes/budget", "$ 1 850.50", "1850.50"),
        ("wishes/tax_percent", "8.25", "8.25"),
    ],
)
def test_typed_text_becomes_the_value_of_its_place(path: str, text: str, value) -> None:
    change = read_entry(PLAN, tuple(path.split("/")), text, INCHES)
    assert change.value == (pytest.approx(value) if isinstance(value, float) else value)
    assert change.path == tuple(path.split("/"))


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        ("fittings/deck/aft", "far", "read “far” as a length; accepted"),
        ("fittings/deck/height", "", "a value is needed"),
        ("fittings/deck/spacing", "1 mm", "accepted: 3 15/16 in to 59 1/16 in"),
        ("fittings/deck/skin", "gold !", "accepted: the id of an entry"),
        ("wishes/budget", "much", "as money"),
        ("cases/one up/fills/fuel", "half", "as a fill"),
        ("hull/mass/value", "1,5", "as a mass"),
        ("items/cooler/density", "inf", "as a density"),
        ("items/cooler/density", "9" * 400, "as a density"),
        # 900 and 1300 over 16.018463
        ("water/density", "1000", "as 1000 lb/ft³; accepted: 56.2 lb/ft³ to 81.2 lb/ft³"),
        ("wishes/tax_percent", "NaN", "as a number"),
        ("cases/one up/fills/fuel", "٣", "as a fill"),
        ("label/power_kw", "9" * 400, "accepted: 55"),
        ("fittings/deck/aft", "5³ mm", "as a length"),  # a raised figure is no figure of the number
        ("label/power_kw", "lots", "accepted: 55 kW or 75 hp"),
    ],
)
def test_what_cannot_be_read_says_what_was_read_and_what_is_accepted(path, text, words) -> None:
    with pytest.raises(CoreError, match=words) as caught:
        read_entry(PLAN, tuple(path.split("/")), text, INCHES)
    assert caught.value.place == path.replace("/", ".")


@pytest.mark.parametrize("path", ["sofa", "fittings/sofa/aft", "hull/lines", "fittings/deck/colour"])
def test_places_without_a_value_are_refused(path: str) -> None:
    with pytest.raises(CoreError):
        kind_at(PLAN, tuple(path.split("/")))


@pytest.mark.parametrize(
    ("text", "units", "kw"),
    [("55", MM, 55.0), ("55 kW", INCHES, 55.0), ("75 hp", MM, 55.927), ("75", INCHES, 55.927)],
)
def test_power_is_read_in_kilowatts_or_horsepower(text: str, units: Units, kw: float) -> None:
    # 1 hp = 550 ft·lbf/s = 0.7457 kW; the label is made by its first entry
    change = read_entry(PLAN, ("label", "power_kw"), text, units)
    assert (change.path, change.value) == (("label",), {"power_kw": pytest.approx(kw, abs=1e-3)})


def test_degrees_may_carry_their_sign() -> None:
    plan = PLAN.model_copy(update={"hull": PLAN.hull.model_copy(update={"quick": QuickStart()})})
    assert read_entry(plan, ("hull", "quick", "deadrise_aft"), "9.5°", INCHES).value == 9.5


def test_a_size_says_its_limits_in_shop_units() -> None:
    box = {"id": "box", "name": "box", "size": [0.4, 0.3, 0.3], "mass": {"value": 5, "centre": [1, 0, 0.2]}}
    plan = skiff_plan(items=[box])
    with pytest.raises(CoreError, match=r"read “-3” as -3 mm; accepted: 1 mm to 50 000 mm"):
        read_entry(plan, ("items", "box", "size", "2"), "-3", SYSTEMS["mm"])
    change = read_entry(plan, ("items", "box", "size", "2"), "250", SYSTEMS["mm"])
    assert apply(plan, change).items[0].size == (0.4, 0.3, 0.25)


@pytest.mark.parametrize(
    ("typed", "value"),
    [
        ("on", True),
        ("Yes", True),
        ("1", True),
        ("", False),
        ("off", False),
        ("NO", False),
        ("false", False),
    ],
)
def test_yes_and_no(typed: str, value: bool) -> None:
    assert read_text(typed, FieldKind("flag", "Lid"), SYSTEMS["mm"]) is value


def test_neither_yes_nor_no_is_refused() -> None:
    with pytest.raises(CoreError, match="read “perhaps”; accepted: yes or no"):
        read_text("perhaps", FieldKind("flag", "Lid"), SYSTEMS["mm"])
