"""What the rack is good for: which leftovers hold a part, and which things can be cut from it alone.

Nothing is stored and nothing is reserved: each thing is asked as if the whole rack were there for it.
"""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from stirrup.core.buying import blank_of, cut_outline
from stirrup.core.contract.gives import Built
from stirrup.core.cutting.sheets import RestSheet, SheetJob, lay_out
from stirrup.core.cutting.sticks import Piece, RestStick, StickJob, lay_out_sticks
from stirrup.core.derive import Derived
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Section, Sheet
from stirrup.core.parts.model import Member, Panel
from stirrup.core.plan.cutting import Cutting, SheetRest, StickRest
from stirrup.core.plan.things import title_of
from stirrup.core.record import dataclass

NOTHING_M = 1e-6  # a sheet that is not bought
SAME_M = 0.0002


@dataclass(frozen=True)
class FromRack:
    """A thing and what of it the rack holds: how many of its parts that are still to be cut, and the labels
    of those it does not."""

    thing: str
    title: str
    parts: int
    missing: tuple[str, ...]

    @property
    def whole(self) -> bool:
        return not self.missing


def same_sheet(catalogue: Catalogue, one: str, other: str) -> bool:
    """Whether two stocks are sheets of one material and thickness, whatever their size."""
    a, b = catalogue.entries.get(one), catalogue.entries.get(other)
    return one == other or (
        isinstance(a, Sheet) and isinstance(b, Sheet) and a.material == b.material
        and abs(a.thickness - b.thickness) < SAME_M
    )  # fmt: skip


def same_stick(catalogue: Catalogue, one: str, other: str) -> bool:
    """Whether two stocks are sticks of one section and material, whatever their length."""
    a, b = catalogue.entries.get(one), catalogue.entries.get(other)
    return one == other or (
        isinstance(a, Section) and isinstance(b, Section)
        and (a.shape, a.material) == (b.shape, b.material)
        and max(abs(a.a - b.a), abs(a.b - b.b), abs(a.t - b.t)) < SAME_M
    )  # fmt: skip


def _missing_panels(derived: Derived, rests: Iterable[SheetRest], panels: list[Panel]) -> set[str]:
    """Keys of panels that the rack does not hold, laid out together."""
    cutting = derived.plan.cutting
    there = tuple(RestSheet(r.id, r.width, r.height, r.count, r.outline, r.holes) for r in rests)
    if not there:
        return {p.key for p in panels}
    blanks = tuple(blank_of(p, cut_outline(p, derived.plan, derived.surface)) for p in panels)
    job = SheetJob(
        panels[0].stock, NOTHING_M, NOTHING_M, blanks, Decimal(0), cutting.kerf,
        cutting.margin, there, cutting.straight,
    )  # fmt: skip
    return set(lay_out(job).unplaced)


def _missing_members(cutting: Cutting, rests: Iterable[StickRest], members: list[Member]) -> set[str]:
    there = tuple(RestStick(r.id, r.length, r.count) for r in rests)
    if not there:
        return {m.key for m in members}
    pieces = tuple(Piece(m.key, m.length) for m in members)
    job = StickJob(members[0].stock, max(r.length for r in there), pieces, Decimal(1), cutting.stick_kerf,
                   cutting.trim, there)  # fmt: skip
    layout = lay_out_sticks(job)
    bought = {key for k, bar in enumerate(layout.bars) if not layout.rest(k) for key in bar}
    return bought | set(layout.unplaced)


def _of(derived: Derived, built: Built, finished: frozenset[str]) -> FromRack | None:
    cutting, catalogue = derived.plan.cutting, derived.catalogue
    panels, members = dict[str, list[Panel]](), dict[str, list[Member]]()
    for panel in built.panels:
        if panel.key not in finished:
            panels.setdefault(panel.stock, []).append(panel)
    for member in built.members:
        if member.key not in finished:
            members.setdefault(member.stock, []).append(member)
    if not panels and not members:
        return None
    gone = set[str]()
    for stock, those in panels.items():
        sheets = (r for r in cutting.sheets if same_sheet(catalogue, r.stock, stock))
        gone |= _missing_panels(derived, sheets, those)
    for stock, long in members.items():
        sticks = (r for r in cutting.sticks if same_stick(catalogue, r.stock, stock))
        gone |= _missing_members(cutting, sticks, long)
    every: list[Panel | Member] = [p for those in panels.values() for p in those]
    every += [m for long in members.values() for m in long]
    labels = tuple(p.label for p in every if p.key in gone)
    return FromRack(built.fitting, title_of(derived.plan, built.fitting), len(every), labels)


def from_rack(derived: Derived) -> list[FromRack]:
    """Of each thing with parts still to be cut, what the rack holds of it: whole things first, then those
    of which least is missing."""
    plan = derived.plan
    finished = plan.cutting.finished(c.id for c in plan.cut)
    found = [f for b in derived.built if (f := _of(derived, b, finished)) is not None]
    return sorted(found, key=lambda f: (len(f.missing) / f.parts, -f.parts))


def holding(derived: Derived, panel: Panel) -> list[SheetRest]:
    """The leftovers on which a panel goes by itself, the smallest first."""
    cutting = derived.plan.cutting
    fitting = (r for r in cutting.sheets if same_sheet(derived.catalogue, r.stock, panel.stock))
    held = [r for r in fitting if not _missing_panels(derived, [r], [panel])]
    return sorted(held, key=lambda r: r.width * r.height)
