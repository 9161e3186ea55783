"""Numbers and findings as people read them: HTML with true fractions, and plain text."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterable, Mapping
from decimal import Decimal
from functools import lru_cache
from urllib.parse import quote, unquote

from markupsafe import Markup, escape

from stirrup.core.afloat.compare import Choice
from stirrup.core.afloat.report import FloatReport
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding, Fix, Input, Quantity
from stirrup.core.memo import ByIdentity
from stirrup.core.plan.changes import AnyChange
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.units import (
    LengthText,
    Units,
    length_text,
    write_arm_area,
    write_density,
    write_length,
    write_mass,
    write_moment,
    write_room,
    write_volume,
)
from stirrup.core.work.hours import Task
from stirrup.exchange.amounts import WRITTEN, written
from stirrup.exchange.summary import say

LEVEL_WORDS: Mapping[str, str] = {
    "stop": "stop",
    "mend": "mend",
    "look": "look",
    "unknown": "not known",
    "fine": "fine",
}


_AMOUNT = re.compile(r"(?<![\w.,/+-])(-?\d+(?:\.\d+)?) (m|kg)(?![\w²³·/])")
_QUOTED = re.compile("(“[^”]*”)")
EXAMPLES = "1029 mm"  # messages that show how a length may be typed stay as they are


def in_shop_units(text: str, units: Units) -> str:
    """A message of the core with its metres and kilograms in the reader's units.

    What was read, in quotation marks, stays as it was typed.
    """
    if EXAMPLES in text:
        return text

    def shown(found: re.Match[str]) -> str:
        value = float(found[1])
        return write_length(value, units) if found[2] == "m" else write_mass(value, units)

    parts = _QUOTED.split(text)
    return "".join(p if p.startswith("“") else _AMOUNT.sub(shown, p) for p in parts)


def fraction_html(text: LengthText) -> Markup:
    """A length with a drawn fraction; the plain form is what a screen reader says."""
    if not text.top:
        return Markup('<span class="q">{}</span>').format(str(text))
    whole = "" if text.whole == "0" and text.feet is None else text.whole
    feet = f"{text.feet}' " if text.feet is not None else ""
    unit = text.unit if text.feet is not None else f" {text.unit}"
    return Markup(
        '<span class="q"><span aria-hidden="true">{}{}{}<span class="fr">{}\u2044{}</span>{}</span>'
        '<span class="visually-hidden">{}</span></span>'
    ).format(text.sign, feet, whole, text.top, text.bottom, unit, str(text))


@lru_cache(4000)
def length_html(value_m: float, units: Units, finer: bool = False) -> Markup:
    """A length [m] in the reader's units."""
    return fraction_html(length_text(value_m, units, finer))


@lru_cache(4000)
def quantity_html(quantity: Quantity, units: Units) -> Markup:
    """Any quantity in the reader's units."""
    if quantity.unit == "m":
        return length_html(quantity.value, units, quantity.finer)
    said = say(quantity, units)
    # a name may be longer than a telephone is wide
    named = " " in quantity.unit
    return escape(said) if named else Markup('<span class="q">{}</span>').format(said)


def amount_html(value: float, unit: str, units: Units) -> Markup:
    """A number with its unit, lengths to the finer step."""
    return quantity_html(Quantity(value, unit, unit == "m"), units)


def sentence_html(template: str, values: Mapping[str, Quantity], units: Units) -> Markup:
    """A finding's sentence with its amounts put in."""
    shown = {key: quantity_html(q, units) for key, q in values.items()}
    return Markup(escape(template)).format(**shown) if template else Markup("")


# told again at every preview: most findings stay the objects they are while something is dragged
TEXTS, REMEDIES = ByIdentity(2000), ByIdentity(2000)


def finding_text(finding: Finding, units: Units) -> Markup:
    """Text of a finding."""
    return TEXTS.get(finding, units, lambda: sentence_html(finding.text, finding.values, units))


def finding_remedy(finding: Finding, units: Units) -> Markup:
    """Remedy of a finding, empty when there is none."""
    return REMEDIES.get(finding, units, lambda: sentence_html(finding.remedy, finding.values, units))


def fix_words(mend: Fix, finding: Finding, units: Units) -> Markup:
    """What the button of a remedy says."""
    return sentence_html(mend.words, finding.values, units)


def fix_json(mend: Fix) -> str:
    """A remedy as the attribute of the button that makes it: a change, or an act of arranging."""
    if mend.path:
        return json.dumps({"change": {"do": "set", "path": mend.path, "value": mend.value}})
    if mend.edge:
        value = round(float(mend.value), 4)
        return json.dumps(
            {"arrange": {"act": "edge", "path": f"items/{mend.thing}/edge/{mend.edge}", "value": value}}
        )
    x, y, z = (round(v, 4) for v in mend.by)
    return json.dumps({"arrange": {"act": "move", "things": [mend.thing], "x": x, "y": y, "z": z}})


def ring_text(ring: Iterable[tuple[float, float]]) -> str:
    """An outline in metres as the attribute of a button that shows it."""
    return " ".join(f"{a:.4f},{b:.4f}" for a, b in ring)


def step(name: str) -> str:
    """A name as one step of a path joined by slashes."""
    return quote(name, safe=" ,.()'")


def steps(path: str) -> tuple[str, ...]:
    """The steps of a path joined by slashes."""
    return tuple(unquote(part) for part in path.split("/"))


def change_json(change: AnyChange) -> str:
    """A change as the attribute of the button that makes it."""
    return json.dumps(change.model_dump(mode="json"), separators=(",", ":"))


def slug(path: str) -> str:
    """A path as an element's id."""
    return re.sub(r"[^A-Za-z0-9_-]", lambda m: f"_{ord(m[0]):x}" if m[0] != "/" else "-", path)


def money(amount: Decimal | None, currency: str = "$") -> str:
    """Money as the plan that is shown has it written: $ 1 064.02."""
    return "not set" if amount is None else written(amount, currency, WRITTEN.get())


def round_money(amount: Decimal | None, currency: str = "$") -> str:
    """Money in whole units, for headlines."""
    return "not set" if amount is None else written(amount, currency, WRITTEN.get(), 0)


def trim_words(degrees: float, digits: int = 1) -> str:
    """1.4° aft, 0.8° fwd, level."""
    if round(abs(degrees), digits) == 0:
        return "level"
    return f"{abs(degrees):.{digits}f}° {'aft' if degrees > 0 else 'fwd'}"


def list_words(degrees: float, digits: int = 1) -> str:
    """0.9° port, 0.9° stbd, upright."""
    if round(abs(degrees), digits) == 0:
        return "upright"
    return f"{abs(degrees):.{digits}f}° {'port' if degrees > 0 else 'stbd'}"


def signed_mass(value_kg: float, units: Units) -> str:
    """+ 143 kg."""
    sign = "−" if value_kg < 0 else "+"
    return f"{sign} {write_mass(abs(value_kg), units)}"


# as templates call them
mass, volume, room, density = write_mass, write_volume, write_room, write_density
moment, arm_area = write_moment, write_arm_area


def amount(value: float, unit: str, whole: bool = False) -> str:
    """A need in its own unit: 12, 3.4 m2; `whole` rounds pieces up."""
    if whole and unit in ("piece", "sheet", "stick"):
        value = math.ceil(value - 1e-9)
    shown = f"{value:.0f}" if abs(value - round(value)) < 1e-9 else f"{value:.2f}"
    names = {"m2": "m²", "piece": "", "sheet": "", "stick": ""}
    return f"{shown} {names.get(unit, unit)}".strip()


def input_row(item: Input, units: Units) -> Markup:
    """One line of a working."""
    return quantity_html(item.quantity, units)


COUNTED = "sheets and sticks from the layouts, the rest by packs"
ESTIMATED = "sheets counted roughly, until their layout is worked out"
ASIDE_M = 0.005  # a centre of gravity that moved less is where it was


def work_amount(task: Task, units: Units) -> Markup | str:
    """How much of an operation there is."""
    unit = task.operation.unit
    return length_html(task.count, units) if unit == "m" else amount(task.count, unit, unit == "piece")


def against_empty(report: FloatReport, derived: Derived, units: Units) -> Markup | str:
    """Where the centre of gravity lies against where it is when she is empty; nothing if it is there."""
    empty = derived.case(PLANNED_EMPTY).report
    by = 0.0 if empty is None else report.centre_m[0] - empty.centre_m[0]
    if abs(by) <= ASIDE_M:
        return ""
    way = "forward" if by > 0 else "aft"
    return Markup("; here it lies {} {} of where it is when she is empty").format(
        length_html(abs(by), units), way
    )


def volume_line(choice: Choice, currency: str, units: Units) -> str:
    """Litres, mass and cost of a choice of buoyancy; a blank for doing nothing."""
    if not choice.volume_m3:
        return "\N{NO-BREAK SPACE}"
    cost = [] if choice.cost is None else [round_money(choice.cost, currency)]
    return ", ".join([room(choice.volume_m3, units), mass(choice.added_kg, units), *cost])
