"""Same again in another material: a thing made of other sheets that are about as stiff, compared.

Nothing is stored: each is put on the plan, all that follows is derived, and what comes of it stands
beside what there is. About as stiff: bending stiffness goes with E t³.
"""

from __future__ import annotations

from decimal import Decimal

from stirrup.core.arrange.followers import Around, followed
from stirrup.core.contract.base import FittingBase
from stirrup.core.derive import PLANNED_EMPTY, Derived, derive
from stirrup.core.document import StockRef
from stirrup.core.errors import CoreError
from stirrup.core.memo import passing
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.plan.changes import AnyChange, SetValue, apply
from stirrup.core.record import dataclass
from stirrup.core.work.hours import effort

ENOUGH = 0.8  # of the stiffness there is, that another sheet must have
TO_MEND = ("stop", "mend")


@dataclass(frozen=True)
class Made:
    """A thing as it comes out of one sheet: what it weighs [kg] and takes [h], what the whole build costs,
    her trim empty [deg], how many findings want mending; the change that makes it so."""

    sheet: Sheet | None
    kg: float
    hours: float
    cost: Decimal
    trim_deg: float | None
    to_mend: int
    change: AnyChange | None = None
    title: str = ""  # of its kind, where that is another one


def sheet_field(thing: FittingBase) -> tuple[str, StockRef] | None:
    """The choice that says which sheet a thing is mostly made of; None for what is made of none."""
    for name, info in type(thing).model_fields.items():
        for mark in info.metadata:
            if isinstance(mark, StockRef) and mark.group == "sheet":
                return name, mark
    return None


def as_stiff(catalogue: Catalogue, now: Sheet, ref: StockRef) -> list[Sheet]:
    """Of every other material the thinnest sheet that is about as stiff, the lightest first.

    Materials whose modulus nobody gives are left out, as is everything where that of `now` is not known.
    """
    need = _stiffness(now)
    if need is None:
        return []
    best: dict[str, Sheet] = {}
    for sheet in catalogue.offered(ref):
        if not isinstance(sheet, Sheet) or sheet.material == now.material:
            continue
        stiff = _stiffness(sheet)
        if stiff is None or stiff < ENOUGH * need:
            continue
        known = best.get(sheet.material)
        if known is None or sheet.thickness < known.thickness - 1e-9:
            best[sheet.material] = sheet
    return sorted(best.values(), key=lambda s: s.thickness * s.stuff.density)


def _stiffness(sheet: Sheet) -> float | None:
    e = sheet.stuff.e_gpa
    return None if e is None else e * sheet.thickness**3


def instead(derived: Derived, id_: str, shop: Catalogue) -> list[Made]:
    """The thing as it is, then in other sheets that are about as stiff; those that it cannot be made of
    are left out. Empty for what is made of no sheet, or of one that follows from another thing."""
    thing = derived.plan.fitting(id_)
    found = sheet_field(thing) if thing is not None else None
    if thing is None or found is None:
        return []
    name, ref = found
    now = derived.catalogue.entries.get(str(getattr(thing, name)))
    if not isinstance(now, Sheet):
        return []
    out = [made(derived, id_, now, None)]
    for sheet in as_stiff(shop, now, ref):
        change = SetValue(path=("fittings", id_, name), value=sheet.id)
        found_so = tried(derived, id_, change, shop)
        if found_so is not None:
            out.append(made(found_so[0], id_, sheet, found_so[1]))
    return out


def tried(
    derived: Derived, id_: str, change: AnyChange, shop: Catalogue
) -> tuple[Derived, AnyChange] | None:
    """All that follows from a change of a thing, and the change with what goes along; None where the thing
    cannot be built so."""
    try:
        step = followed(derived.plan, Around(lambda: derived.surface, shop), change)
        with passing():
            after = derive(apply(derived.plan, step), shop, quick=True)
    except (CoreError, ValueError):
        return None
    spoilt = any(f.code == "CANNOT-BUILD" and f.place == id_ for f in after.findings)
    return None if spoilt else (after, step)


def made(
    derived: Derived, id_: str, sheet: Sheet | None, change: AnyChange | None, title: str = ""
) -> Made:
    """What comes of a thing as it is in a plan."""
    built = derived.fitting(id_)
    report = derived.case(PLANNED_EMPTY).report
    return Made(
        sheet,
        sum(e.mass_kg for e in derived.planned if id_ in (e.source, e.id)),
        effort([built]).hours if built else 0.0,
        derived.cost.total,
        report.trim_deg if report else None,
        sum(f.level in TO_MEND for f in derived.findings),
        change,
        title,
    )
