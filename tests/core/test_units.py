import pytest
from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.errors import CoreError
from stirrup.core.units import (
    GALLON_M3,
    SYSTEMS,
    length_text,
    read_angle_rad,
    read_density_kg_m3,
    read_length_m,
    read_mass_kg,
    read_temperature_c,
    read_volume_m3,
    write_area,
    write_density,
    write_length,
    write_mass,
    write_power,
    write_room,
)

MM, INCHES, FEET = SYSTEMS["mm"], SYSTEMS["in"], SYSTEMS["ft-in"]


@pytest.mark.parametrize(
    ("text", "metres"),
    [
        # by hand: 40.5 in x 25.4 = 1028.7 mm
        ("3' 4-1/2\"", 1.0287),
        ("3ft 4.5in", 1.0287),
        ('40 1/2"', 1.0287),
        ("40 1/2 in", 1.0287),
        ("40-1/2 inches", 1.0287),
        ("1028.7mm", 1.0287),
        ("1.03 m", 1.03),
        ("103 cm", 1.03),
        ("1 029 mm", 1.029),
        ("40½″", 1.0287),
        ("3′ 4½″", 1.0287),
        ("5' 3", 1.6002),
        ("6 ft", 1.8288),
        ("3/8 in", 0.009525),
        ("-2 3/8 in", -0.060325),
        ("−60 mm", -0.06),
        ('5/16"', 0.0079375),
        (".5 m", 0.5),
    ],
)
def test_lengths_are_read_as_people_write_them(text: str, metres: float) -> None:
    assert read_length_m(text, INCHES) == pytest.approx(metres, abs=1e-9)


@pytest.mark.parametrize(("units", "metres"), [(MM, 0.012), (INCHES, 0.3048), (FEET, 0.3048)])
def test_a_bare_number_takes_the_shops_unit(units, metres: float) -> None:
    assert read_length_m("12", units) == pytest.approx(metres)


@pytest.mark.parametrize(
    "text",
    ["", "abc", "12 furlongs", "3 in 2 ft", "1/0 in", "5 5", "nan", "inf mm", "1 2 3", "--3"],
)
def test_what_is_no_length_is_refused_with_what_was_read(text: str) -> None:
    with pytest.raises(CoreError, match="as a length; accepted"):
        read_length_m(text, MM)


@given(st.floats(-30, 30))
def test_millimetres_survive_writing_and_reading_within_half_a_step(value: float) -> None:
    assert read_length_m(write_length(value, MM), MM) == pytest.approx(value, abs=0.000501)


@given(st.floats(-30, 30), st.sampled_from([INCHES, FEET]), st.booleans())
def test_fractions_survive_writing_and_reading_within_half_a_step(value, units, finer) -> None:
    half_step = 0.0254 / 16 / 2 + 1e-9
    assert read_length_m(write_length(value, units, finer), units) == pytest.approx(value, abs=half_step)


@given(st.integers(0, 20), st.integers(0, 11), st.integers(0, 15))
def test_every_sixteenth_is_read_exactly(feet: int, inches: int, sixteenths: int) -> None:
    metres = (feet * 12 + inches + sixteenths / 16) * 0.0254
    assert read_length_m(f"{feet}' {inches}-{sixteenths}/16\"", MM) == pytest.approx(metres, abs=1e-12)
    assert read_length_m(write_length(metres, FEET), FEET) == pytest.approx(metres, abs=1e-12)


def test_a_fraction_is_reduced_and_split_for_drawing() -> None:
    text = length_text(1.0287, FEET)
    assert (text.feet, text.whole, text.top, text.bottom) == (3, "4", 1, 2)
    assert str(text) == "3' 4-1/2\""


def test_thin_stock_is_written_in_thousandths() -> None:
    assert write_length(0.00254, INCHES, finer=True) == "0.100 in"
    assert write_length(0.0025, MM, finer=True) == "2.5 mm"


def test_a_length_that_is_not_finite_is_refused() -> None:
    with pytest.raises(CoreError, match="finite"):
        write_length(float("nan"), MM)


@pytest.mark.parametrize(
    ("text", "kilograms"),
    [("85", 85.0), ("85 kg", 85.0), ("100 lb", 45.359237), ("12 lb 4 oz", 5.5565065325), ("250 g", 0.25)],
)
def test_masses_are_read(text: str, kilograms: float) -> None:
    # 1 lb = 0.45359237 kg, 1 oz = 1/16 lb, both by definition
    assert read_mass_kg(text, MM) == pytest.approx(kilograms, rel=1e-12)


def test_what_is_light_keeps_a_figure_and_nothing_is_nothing() -> None:
    # 40 g; a rivet of 2 g; a gram is 0.0022 lb
    assert [write_mass(m, MM) for m in (0.04, 0.002, 0.0, -0.0, 1e-9)] == [
        "0.04 kg", "0.002 kg", "0 kg", "0 kg", "0 kg"
    ]  # fmt: skip
    assert (write_mass(0.001, INCHES), write_mass(0.05, MM), write_mass(-0.04, MM)) == (
        "0.002 lb", "0.1 kg", "-0.04 kg"
    )  # fmt: skip


def test_power_is_written_in_kilowatts_or_horsepower() -> None:
    assert (write_power(55.927, MM), write_power(55.927, INCHES)) == ("55.9 kW", "75 hp")


@given(st.floats(0.1, 90))
def test_masses_survive_writing_and_reading(value: float) -> None:
    assert read_mass_kg(write_mass(value, MM), MM) == pytest.approx(value, abs=0.0501)


def test_volumes_angles_and_temperatures_are_read() -> None:
    assert read_volume_m3("1 gal", MM) == pytest.approx(0.003785411784, rel=1e-12)  # US gallon
    assert pytest.approx(0.003785411784, rel=1e-12) == GALLON_M3
    assert read_volume_m3("75", MM) == pytest.approx(0.075)
    assert read_angle_rad("180 deg") == pytest.approx(3.141592653589793)
    assert read_angle_rad("9.5°") == pytest.approx(0.16580627893946132)
    assert read_temperature_c("212 F") == pytest.approx(100.0)
    assert read_temperature_c("18") == pytest.approx(18.0)


# a pound is 0.45359237 kg, a cubic foot 0.3048 m cubed, 0.028316846592 m3: 16.018463 kg/m3
@pytest.mark.parametrize(
    ("text", "units", "density"),
    [
        ("2 lb/ft³", MM, 32.036927), ("2 lb", MM, 32.036927), ("2", INCHES, 32.036927),
        ("2 pcf", MM, 32.036927), ("62.4 lb/ft^3", MM, 999.55211), ("2 lb/cu ft", MM, 32.036927),
        ("32", MM, 32.0),
        ("32 kg/m³", INCHES, 32.0), ("0.9 g/cm3", INCHES, 900.0), ("1,025 kg/m3", FEET, 1025.0),
    ],
)  # fmt: skip
def test_densities_are_read_as_foam_is_sold(text, units, density) -> None:
    assert read_density_kg_m3(text, units) == pytest.approx(density, rel=1e-7)


@pytest.mark.parametrize("text", ["light", "2 lb/ft2", "32 kg", "2 lb/ft3 3 lb/ft3", "1,5"])
def test_what_is_no_density_is_refused(text: str) -> None:
    with pytest.raises(CoreError, match="as a density"):
        read_density_kg_m3(text, FEET)


def test_densities_rooms_and_areas_are_written_in_the_shops_units() -> None:
    assert [write_density(d, MM) for d in (32.036927, 1025.0, 0.0)] == ["32 kg/m³", "1025 kg/m³", "0 kg/m³"]
    assert [write_density(d, FEET) for d in (32.0, 1000.0)] == ["2 lb/ft³", "62.4 lb/ft³"]
    # 3.52 m3 are 124.3 cubic feet, 75 l are 2.65; 0.929 m2 are 10 square feet
    assert [write_room(v, MM) for v in (3.52, 0.075)] == ["3.52 m³", "75 l"]
    assert [write_room(v, FEET) for v in (3.52, 0.075)] == ["124 ft³", "2.6 ft³"]
    assert (write_area(0.92903, MM), write_area(0.92903, FEET)) == ("0.93 m²", "10.0 ft²")


@given(st.floats(1, 2000), st.sampled_from((MM, INCHES)))
def test_densities_survive_writing_and_reading_within_half_a_step(value, units) -> None:
    step = 0.1 if units is MM else 1.602
    assert read_density_kg_m3(write_density(value, units), units) == pytest.approx(
        value, abs=step / 2 + 1e-3
    )


def test_a_temperature_that_is_none_is_refused() -> None:
    with pytest.raises(CoreError, match="as a temperature"):
        read_temperature_c("warm")


@pytest.mark.parametrize("shop", ["mm", "in", "ft-in"])
@pytest.mark.parametrize(
    ("text", "metres"),
    [("1,029 mm", 1.029), ("1,234,567 mm", 1234.567), ("5 ft, 3 in", 63 * 0.0254), ("1,029.5 mm", 1.0295)],
)
def test_a_comma_before_three_digits_is_a_thousands_mark_in_every_shop(shop, text, metres) -> None:
    assert read_length_m(text, SYSTEMS[shop]) == pytest.approx(metres, abs=1e-9)


@pytest.mark.parametrize("shop", ["mm", "in", "ft-in"])
@pytest.mark.parametrize("text", ["2,5 cm", "1,0290 mm", "10,29 mm", "1029,5 mm", "0,35", "1,02"])
def test_any_other_comma_between_digits_is_refused_with_both_readings(shop, text) -> None:
    with pytest.raises(CoreError, match=r"could be .* or .*a point before decimals"):
        read_length_m(text, SYSTEMS[shop])


def test_masses_read_commas_the_same() -> None:
    assert read_mass_kg("1,200 lb", SYSTEMS["ft-in"]) == pytest.approx(1200 * 0.45359237)
    with pytest.raises(CoreError, match=r"2\.5 or 25"):
        read_mass_kg("2,5 kg", SYSTEMS["mm"])
