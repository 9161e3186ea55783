"""Read and write quantities the way people in a boat shop write them.

Everything inside the core is SI. This module is the border: text in, SI out, and back.
Definitions: 1 in = 25.4 mm and 1 lb = 0.45359237 kg exactly (international yard and
pound agreement, 1959); 1 US gallon = 231 in3 exactly.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from fractions import Fraction
from typing import Literal

from stirrup.core.errors import CoreError
from stirrup.core.record import dataclass

INCH_M = 0.0254
FOOT_M = 0.3048
HP_KW = 0.745699872  # mechanical horsepower: 550 ft·lbf/s
POUND_KG = 0.45359237
LEAST_MASS = 0.0005  # in the shop's unit; what weighs less is nothing
GALLON_M3 = 231 * INCH_M**3
FOOT2_M2, FOOT3_M3 = FOOT_M**2, FOOT_M**3
POUND_PER_FOOT3 = POUND_KG / FOOT3_M3  # kg/m3

Length = Literal["ft-in", "in", "mm"]
Mass = Literal["lb", "kg"]

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_SIGNS = {"′": "'", "’": "'", "″": '"', "”": '"', "“": '"', "−": "-", "–": "-", "\u00a0": " "}
_SIGNS |= {"\u202f": " ", "\u2009": " ", "⁄": "/", "''": '"', "º": "°"}

_NUMBER = r"(?:\d{1,3}(?: \d{3})+(?:\.\d+)?(?![\d/])|\d+\.?\d*|\.\d+)"
_MIXED = rf"(?:\d+[ -]+\d+/\d+|\d+/\d+|{_NUMBER})"

LENGTH_UNITS: Mapping[str, float] = {
    "mm": 0.001,
    "cm": 0.01,
    "m": 1.0,
    "in": INCH_M,
    "inch": INCH_M,
    "inches": INCH_M,
    '"': INCH_M,
    "ft": FOOT_M,
    "foot": FOOT_M,
    "feet": FOOT_M,
    "'": FOOT_M,
}
MASS_UNITS: Mapping[str, float] = {
    "kg": 1.0,
    "g": 0.001,
    "t": 1000.0,
    "lb": POUND_KG,
    "lbs": POUND_KG,
    "oz": POUND_KG / 16,
}
VOLUME_UNITS: Mapping[str, float] = {
    "l": 0.001,
    "litre": 0.001,
    "litres": 0.001,
    "ml": 1e-6,
    "m3": 1.0,
    "gal": GALLON_M3,
    "gallon": GALLON_M3,
    "gallons": GALLON_M3,
    "ft3": FOOT3_M3,
    "qt": GALLON_M3 / 4,
}
DENSITY_UNITS: Mapping[str, float] = {
    **dict.fromkeys(("kg/m3", "kg/m³", "kg/m^3"), 1.0),
    **dict.fromkeys(("g/cm3", "g/cm³", "g/cm^3", "kg/l"), 1000.0),
    # of foam people say pounds alone, and mean those to the cubic foot
    **dict.fromkeys(
        ("lb/ft3", "lb/ft³", "lb/ft^3", "lbs/ft3", "lbs/ft³", "lb/cu ft", "pcf", "lb"), POUND_PER_FOOT3
    ),
}
POWER_UNITS: Mapping[str, float] = {"kw": 1.0, "w": 0.001, "hp": HP_KW}
ANGLE_UNITS: Mapping[str, float] = {
    "deg": math.pi / 180,
    "°": math.pi / 180,
    "degrees": math.pi / 180,
    "rad": 1.0,
}


@dataclass(frozen=True)
class Units:
    """What the shop reads and writes: length form, finest fraction of an inch, mass."""

    length: Length = "mm"
    mass: Mass = "kg"
    denominator: int = 16

    @property
    def key(self) -> str:
        return self.length

    @property
    def step_m(self) -> float:
        """The shop's nudge: 1 mm, or the finest fraction of an inch [m]."""
        return 0.001 if self.length == "mm" else INCH_M / self.denominator

    @property
    def many_steps(self) -> int:
        """Nudges that are taken at once with Shift: to a centimetre, or to a whole inch."""
        return 10 if self.length == "mm" else self.denominator

    @property
    def small_m(self) -> float:
        """What she is sunk or trimmed by in figures: 10 mm, or an inch [m]."""
        return 0.01 if self.length == "mm" else INCH_M

    @property
    def walk_m(self) -> float:
        """How far the section walks at once: 50 mm or 2 in [m]."""
        return 0.05 if self.length == "mm" else 2 * INCH_M


SYSTEMS: Mapping[str, Units] = {
    "ft-in": Units("ft-in", "lb"),
    "in": Units("in", "lb"),
    "mm": Units("mm", "kg"),
}


def _clean(text: str) -> str:
    for sign, plain in _SIGNS.items():
        text = text.replace(sign, plain)
    for sign, plain in _VULGAR.items():
        text = text.replace(sign, f" {plain}")
    return re.sub(r"\s+", " ", text).strip().lower()


THOUSANDS = re.compile(r"(?<![\d.,/])(\d{1,3}(?:,\d{3})+)(?![\d,])")
COMMA = re.compile(r"(\d+),(\d+)")


def _without_marks(plain: str, text: str, what: str) -> str:
    """Text without thousands marks: a comma before exactly three digits. Any other comma between
    digits could be a decimal point or a mark out of place, and is refused. Raises CoreError."""
    plain = THOUSANDS.sub(lambda m: m[1].replace(",", ""), plain)
    odd = COMMA.search(plain)
    if odd:
        raise CoreError(
            f"read “{text}” as {what}: “{odd[0]}” could be {odd[1]}.{odd[2]} or {odd[1]}{odd[2]}; "
            "accepted: a point before decimals, a comma or a space before three digits"
        )
    return plain


def _mixed(text: str) -> float:
    """A number with an optional fraction: '40 1/2', '4-1/2', '3/8', '1 029', '1.03'."""
    whole, _, fraction = text.replace("-", " ").rpartition(" ") if "/" in text else ("", "", "")
    if "/" in text:
        top, _, bottom = (fraction or text).partition("/")
        if int(bottom) == 0:
            raise ValueError("a fraction needs a denominator above 0")
        return (float(whole) if whole.strip() else 0.0) + int(top) / int(bottom)
    return float(text.replace(" ", ""))


def _read(text: str, units: Mapping[str, float], default: str, what: str, examples: str) -> float:
    """Sum of number-unit terms, larger units first; a bare number takes `default`."""
    plain = _without_marks(_clean(text), text, what)
    refuse = CoreError(f"read “{text}” as {what}; accepted: {examples}")
    if not plain or len(plain) > 60:
        raise refuse
    sign = -1.0 if plain.startswith("-") else 1.0
    rest = (plain[1:] if plain[0] in "+-" else plain).strip()
    names = "|".join(re.escape(u) for u in sorted(units, key=len, reverse=True))
    total, largest = 0.0, math.inf
    while rest:
        match = re.match(rf"({_MIXED})\s*({names})?(?![a-z])\.?[\s,-]*", rest)
        if not match:
            raise refuse
        unit = match[2]
        if unit is None:
            # 5' 3 means five feet three inches; anything else bare takes the shop's unit
            unit = "in" if largest == FOOT_M else default
            if math.isfinite(largest) and largest != FOOT_M:
                raise refuse
        factor = units[unit]
        if factor >= largest:
            raise refuse
        try:
            total += _mixed(match[1]) * factor
        except ValueError as error:
            raise refuse from error
        largest, rest = factor, rest[match.end() :]
    if not math.isfinite(total):
        raise refuse
    # 350 x 0.001 is not 0.35: what people type has no more than twelve places
    return round(sign * total, 12)


def read_length_m(text: str, units: Units) -> float:
    """Length [m] from text such as 3' 4-1/2", 3ft 4.5in, 40 1/2", 1029mm, 1.03 m.

    A bare number is in inches, or in millimetres for a metric shop.
    Raises CoreError naming what was read and what is accepted.
    """
    default = "mm" if units.length == "mm" else "in"
    examples = "3' 4-1/2\", 40 1/2 in, 1029 mm, 1.03 m"
    return _read(text, LENGTH_UNITS, default, "a length", examples)


def read_mass_kg(text: str, units: Units) -> float:
    """Mass [kg] from text such as 85, 187 lb, 12 lb 4 oz, 85 kg. Raises CoreError."""
    return _read(text, MASS_UNITS, units.mass, "a mass", "85 kg, 187 lb, 12 lb 4 oz")


def read_volume_m3(text: str, units: Units) -> float:
    """Volume [m3] from text such as 75 l, 20 gal, 0.075 m3. Raises CoreError."""
    default = "l" if units.mass == "kg" else "gal"
    return _read(text, VOLUME_UNITS, default, "a volume", "75 l, 20 gal, 0.075 m3")


def read_density_kg_m3(text: str, units: Units) -> float:
    """Density [kg/m3] from text such as 32, 32 kg/m3, 2 lb/ft3, 0.9 g/cm3. Raises CoreError.

    A bare number is in pounds per cubic foot where masses are in pounds; foam is called by those.
    """
    default = "kg/m3" if units.mass == "kg" else "lb/ft3"
    return _read(text, DENSITY_UNITS, default, "a density", "32 kg/m3, 2 lb/ft3, 0.9 g/cm3")


def read_power_kw(text: str, units: Units) -> float:
    """Power [kW] from text such as 55 kW, 75 hp; a bare number is in horsepower where masses are in pounds.

    Raises CoreError.
    """
    default = "kw" if units.mass == "kg" else "hp"
    return round(_read(text, POWER_UNITS, default, "power", "55 kW or 75 hp"), 3)


def read_angle_rad(text: str) -> float:
    """Angle [rad] from text such as 9, 9.5°, 9 deg, 0.16 rad. Raises CoreError."""
    return _read(text, ANGLE_UNITS, "deg", "an angle", "9, 9.5°, 9 deg, 0.16 rad")


def read_temperature_c(text: str, default: Literal["c", "f"] = "c") -> float:
    """Temperature [degC] from text such as 18, 18 °C, 64 F. Raises CoreError."""
    match = re.fullmatch(r"([+-]?\d+\.?\d*)\s*°?\s*([cf]?)", _clean(text))
    if not match:
        raise CoreError(f"read “{text}” as a temperature; accepted: 18 °C, 64 °F")
    value, unit = float(match[1]), match[2] or default
    return (value - 32) / 1.8 if unit == "f" else value


@dataclass(frozen=True)
class LengthText:
    """A length split for display: '-', feet, whole inches or number, fraction, unit."""

    sign: str
    feet: int | None
    whole: str
    top: int
    bottom: int
    unit: str

    def __str__(self) -> str:
        fraction = f"{self.top}/{self.bottom}" if self.top else ""
        whole = "" if fraction and self.whole == "0" and self.feet is None else self.whole
        joined = "-".join(p for p in (whole, fraction) if p)
        if self.feet is not None:
            return f"{self.sign}{self.feet}' {joined}\""
        return f"{self.sign}{joined.replace('-', ' ')} {self.unit}"


def _grouped(value: int) -> str:
    return f"{value:,}".replace(",", " ")


def length_text(value_m: float, units: Units, finer: bool = False) -> LengthText:
    """Split a length [m] for display, rounded to 1 mm (0.1 if finer) or to the fraction
    (thousandths of an inch if finer and under one inch).

    Raises CoreError for a value that is not finite.
    """
    if not math.isfinite(value_m):
        raise CoreError(f"read {value_m} as a length; accepted: a finite number")
    if units.length == "mm":
        mm = round(abs(value_m) * 1000, 1 if finer else 0)
        sign = "-" if value_m < 0 and mm else ""
        tenth = f"{mm:.1f}".partition(".")[2] if finer else "0"
        text = _grouped(int(mm)) + (f".{tenth}" if tenth != "0" else "")
        return LengthText(sign, None, text, 0, 1, "mm")
    if finer and abs(value_m) < INCH_M:
        # thin stock is named in thousandths of an inch
        text = f"{abs(value_m) / INCH_M:.3f}"
        return LengthText("-" if value_m < 0 and float(text) else "", None, text, 0, 1, "in")
    bottom = units.denominator * (2 if finer else 1)
    steps = round(abs(value_m) / INCH_M * bottom)
    sign = "-" if value_m < 0 and steps else ""
    whole, part = divmod(steps, bottom)
    fraction = Fraction(part, bottom)
    if units.length == "ft-in" and whole >= 12:
        feet, whole = divmod(whole, 12)
        return LengthText(sign, feet, str(whole), fraction.numerator, fraction.denominator, '"')
    return LengthText(sign, None, str(whole), fraction.numerator, fraction.denominator, "in")


def write_length(value_m: float, units: Units, finer: bool = False) -> str:
    """Length as text that read_length_m reads back, within half of the finest step."""
    return str(length_text(value_m, units, finer))


def write_mass(value_kg: float, units: Units, digits: int = 1) -> str:
    """Mass as text with its unit; whole numbers from 100 upward, of what is light its first figure."""
    value = value_kg / POUND_KG if units.mass == "lb" else value_kg
    if abs(value) < LEAST_MASS:
        return f"0 {units.mass}"
    if abs(value) < 0.5 * 10**-digits:
        return f"{value:.1g} {units.mass}"
    return f"{value:.{0 if abs(value) >= 100 else digits}f} {units.mass}"


def write_power(value_kw: float, units: Units) -> str:
    """Power as text with its unit: kilowatts, or horsepower where masses are in pounds."""
    if units.mass == "kg":
        return f"{round(value_kw, 1):g} kW"
    return f"{round(value_kw / HP_KW, 1):g} hp"


def write_moment(value_kgm: float, units: Units) -> str:
    """A mass by its lever [kg·m] as text with its unit: kg·m, or lb·ft."""
    if units.mass == "kg":
        return f"{value_kgm:z.1f} kg·m"
    return f"{value_kgm / (POUND_KG * FOOT_M):z.0f} lb·ft"


def write_arm_area(value_m_rad: float, units: Units) -> str:
    """Area under a righting arm [m·rad] as text with its unit: m·rad, or ft·rad."""
    if units.length == "mm":
        return f"{value_m_rad:z.3f} m·rad"
    return f"{value_m_rad / FOOT_M:z.2f} ft·rad"


def write_volume(value_m3: float, units: Units) -> str:
    """A liquid's volume: litres, or US gallons where lengths are in feet and inches."""
    if units.length == "mm":
        return f"{value_m3 * 1000:.0f} litres"
    return f"{value_m3 / GALLON_M3:.1f} gal"


def write_room(value_m3: float, units: Units) -> str:
    """What a hull or a closed volume holds: litres, cubic metres from 1 upward, or cubic feet."""
    if units.length != "mm":
        feet3 = value_m3 / FOOT3_M3
        return f"{feet3:z.{0 if abs(feet3) >= 20 else 1}f} ft³"
    return f"{value_m3:z.2f} m³" if abs(value_m3) >= 1 else f"{value_m3 * 1000:z.0f} l"


def write_area(value_m2: float, units: Units) -> str:
    """An area: square metres, or square feet where lengths are in feet and inches."""
    return f"{value_m2:z.2f} m²" if units.length == "mm" else f"{value_m2 / FOOT2_M2:z.1f} ft²"


def write_density(value_kg_m3: float, units: Units) -> str:
    """Density as text with its unit: 32 kg/m³, 2 lb/ft³."""
    if units.mass == "kg":
        return f"{round(value_kg_m3, 1):g} kg/m³"
    return f"{round(value_kg_m3 / POUND_PER_FOOT3, 1):g} lb/ft³"


def write_angle_deg(value_deg: float, digits: int = 1) -> str:
    """Angle in degrees as text, with the degree sign."""
    return f"{value_deg:z.{digits}f}°"
