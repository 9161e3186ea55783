"""Forms generated from the document models: one field for each choice, in shop units."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from pydantic import BaseModel

from stirrup.core.contract.base import FittingBase
from stirrup.core.document import MassPoint
from stirrup.core.parts.catalogue import EMPTY, Catalogue
from stirrup.core.parts.entries import EntryBase, Fastener, Latch, Section, Sheet
from stirrup.core.plan.entry import NUMBERS, WRITTEN, FieldKind, in_units, kind_of_field, limits_text
from stirrup.core.record import dataclass
from stirrup.core.units import Units, write_mass

USUAL_SHANK_M = 0.0048
SHORT = {
    "5052-H32": "5052",
    "ply-light": "light ply",
    "ply-fir": "fir ply",
    "pvc-board": "PVC board",
}
# what tells a fitting from others is no choice of its form
HIDDEN = {*FittingBase.model_fields, "kind"}


@dataclass(frozen=True)
class Field:
    """One field of a form: where it goes, what it shows."""

    path: str
    title: str
    kind: str
    value: str
    read_as: str = ""  # the same value in the other unit, beside it
    options: tuple[tuple[str, str], ...] = ()
    limits: str = ""
    placeholder: str = ""

    @property
    def wide(self) -> bool:
        """Whether it wants a line of its own."""
        return self.kind in ("text", "flag") or any(len(title) > LONG_OPTION for _, title in self.options)


LONG_OPTION = 20  # letters
LONG_M = 2.6  # a longer sheet says so


def entry_title(item: EntryBase) -> str:
    """Name of an entry, short enough for a half-width field."""
    if isinstance(item, Sheet):
        long = ", off a roll" if item.roll else f", {item.width:.2f} m" if item.width > LONG_M else ""
        return f"{round(item.thickness * 1000, 1):g} mm {SHORT.get(item.material, item.stuff.name)}{long}"
    if isinstance(item, Fastener):
        low, high = item.grip_min * 1000, item.grip_max * 1000
        shank = "" if abs(item.diameter - USUAL_SHANK_M) < 1e-9 else f"{item.diameter * 1000:g} mm, "
        return f"{shank}grip {low:g}–{high:g} mm"
    if isinstance(item, Section):
        return item.name.removesuffix(" mm").replace(" x ", "×")
    if isinstance(item, Latch):
        return item.name.split(",")[0] + f" {item.body * 1000:.0f}"
    return item.name


def option_title(value: str) -> str:
    """Words for a choice."""
    return value.replace("_", " ").replace("-", " ")


def _options(kind: FieldKind, value: Any, catalogue: Catalogue) -> tuple[tuple[str, str], ...]:
    """What a field may be set to; of the catalogue, what it offers and what stands there now."""
    out = [(c, option_title(c)) for c in kind.choices]
    if kind.ref is not None:
        out += [(e.id, entry_title(e)) for e in catalogue.offered(kind.ref)]
        if value not in dict(out):
            known = catalogue.entries.get(str(value))
            out.append((str(value), entry_title(known) if known else f"{value}: not in the catalogue"))
    return tuple(out)


def show_value(value: Any, kind: FieldKind, units: Units) -> str:
    """A stored value as text in an input."""
    if value is None:
        return ""
    if kind.kind == "mass":
        return write_mass(float(value), units, 2)
    if kind.kind in WRITTEN:
        return in_units(float(value), kind.kind, units)
    if kind.kind == "share":
        return f"{float(value) * 100:.0f} %"
    if kind.kind in NUMBERS:
        return f"{float(value):g}"
    return str(value)


def _other(value: Any, kind: FieldKind, units: Units) -> str:
    """How the value reads in millimetres, for shops in inches."""
    if kind.kind != "length" or value is None or units.length == "mm":
        return ""
    return f"{value * 1000:,.0f}".replace(",", "\u202f")


def make_field(
    path: str, value: Any, kind: FieldKind, units: Units, title: str = "", catalogue: Catalogue = EMPTY
) -> Field:
    """A form field for a value at a path."""
    return Field(
        path,
        title or kind.title,
        "choice" if kind.kind == "stock" else kind.kind,
        show_value(value, kind, units),
        _other(value, kind, units),
        _options(kind, value, catalogue),
        limits_text(kind, units),
        kind.note if kind.optional else "",
    )


def fields_of(
    model: BaseModel, path: str, units: Units, skip: Collection[str] = HIDDEN,
    catalogue: Catalogue = EMPTY,
) -> list[Field]:  # fmt: skip
    """Fields of a fitting's choices, in their order."""
    out = []
    for name, info in type(model).model_fields.items():
        if name in skip:
            continue
        kind = kind_of_field(name, info)
        out.append(make_field(f"{path}/{name}", getattr(model, name), kind, units, "", catalogue))
    return out


def mass_fields(mass: MassPoint, path: str, units: Units) -> list[Field]:
    """Value, status and centre of a mass."""
    fields = type(mass).model_fields
    value = kind_of_field("value", fields["value"])
    status = kind_of_field("status", fields["status"])
    length = FieldKind("length", "")
    names = ("From transom", "To port", "Above keel line")
    return [
        make_field(f"{path}/value", mass.value, value, units, "Mass"),
        make_field(f"{path}/status", mass.status, status, units, "Known how"),
        *(make_field(f"{path}/centre/{k}", mass.centre[k], length, units, names[k]) for k in range(3)),
    ]
