"""The catalogue: all entries by id, immutable, handed in from outside.

What ships are starting values: the maker's data sheet decides, and a shop's own entries and prices lie
over them. A plan carries the entries that it names, so that it means the same in another shop.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterable, Mapping
from typing import TypeVar

from stirrup.core.document import StockRef
from stirrup.core.errors import CoreError
from stirrup.core.kept import Attached, kept_property
from stirrup.core.parts.entries import (
    UNKNOWN,
    Entry,
    EntryBase,
    Fastener,
    Latch,
    Line,
    Material,
    Pack,
    Plain,
    Section,
    Sheet,
    least_pack,
)

E = TypeVar("E", bound=EntryBase)
S = TypeVar("S", Sheet, Section)
USUAL_M = {"rivet": 0.0048, "screw": 0.0042}  # shanks that joints are made with unless told otherwise


class Catalogue:
    """Entries and materials by id. Two with the same content are told to be the same by `key`."""

    def __init__(self, materials: Iterable[Material], entries: Iterable[Entry]) -> None:
        self.materials: Mapping[str, Material] = {m.id: m for m in materials}
        self.entries: Mapping[str, Entry] = {e.id: self._known(e) for e in entries}

    def _known(self, entry: Entry) -> Entry:
        """The entry with what it is made of."""
        if not isinstance(entry, Sheet | Section):
            return entry
        return entry.model_copy(update={"stuff": self.materials.get(entry.material, UNKNOWN)})

    @kept_property
    def key(self) -> str:
        """Tells catalogues apart by their content, prices and all."""
        return self._digest(set())

    @kept_property
    def stock_key(self) -> str:
        """The same without prices: what a build depends on."""
        return self._digest({"packs"})

    def _digest(self, without: set[str]) -> str:
        out = hashlib.sha256()
        for m in self.materials.values():
            out.update(m.model_dump_json().encode())
        for e in self.entries.values():
            out.update(e.model_dump_json(exclude=without).encode())
        return out.hexdigest()[:24]

    def over(self, entries: Iterable[Entry], materials: Iterable[Material] = ()) -> Catalogue:
        """This one with other entries over its own; packs of an entry that has none stay, and what is not
        said of a material."""
        new = dict(self.entries)
        for e in entries:
            old = new.get(e.id)
            keep = old is not None and not e.packs
            new[e.id] = e.model_copy(update={"packs": old.packs}) if keep and old is not None else e
        stuff = {**self.materials, **{m.id: self._filled(m) for m in materials}}
        return Catalogue(stuff.values(), new.values())

    def _filled(self, m: Material) -> Material:
        own = self.materials.get(m.id)
        unsaid = [name for name, value in m if value is None]
        return m if own is None else m.model_copy(update={n: getattr(own, n) for n in unsaid})

    def meaning(self, entries: Iterable[Entry], materials: Iterable[Material] = ()) -> Catalogue:
        """This one with what a plan says its entries are; prices stay those of this one."""
        new = []
        for e in entries:
            own = self.entries.get(e.id)
            new.append(e if own is None or not own.packs else e.model_copy(update={"packs": own.packs}))
        return self.over(new, materials) if new else self

    def priced(self, own: Mapping[str, tuple[Pack, ...]]) -> Catalogue:
        """This one with a shop's own packs and prices; ids that it does not have are left out."""
        new = [self.entries[i].model_copy(update={"packs": p}) for i, p in own.items() if i in self.entries]
        return self.over(new) if new else self

    def find(self, id_: str) -> Entry:
        """An entry by id. Raises CoreError."""
        if id_ not in self.entries:
            raise CoreError(f"the catalogue has no “{id_}”: add it, or choose something else")
        return self.entries[id_]

    def _of(self, id_: str, kind: type[E], word: str) -> E:
        entry = self.find(id_)
        if not isinstance(entry, kind):
            raise CoreError(f"“{id_}” is not {word}")
        return entry

    @staticmethod
    def _made(entry: S) -> S:
        """The entry; CoreError where nobody knows what it is made of, as nothing of it can be weighed."""
        if entry.stuff is UNKNOWN:
            raise CoreError(f"“{entry.id}” is of “{entry.material}”, which the catalogue does not know")
        return entry

    def sheet(self, id_: str) -> Sheet:
        """Sheet stock by id. Raises CoreError."""
        return self._made(self._of(id_, Sheet, "a sheet"))

    def section(self, id_: str) -> Section:
        """Section stock by id. Raises CoreError."""
        return self._made(self._of(id_, Section, "a section"))

    def plain(self, id_: str) -> Plain:
        """Hardware, cover or sealant by id. Raises CoreError."""
        return self._of(id_, Plain, "hardware, a cover or a sealant")

    def line(self, id_: str) -> Line:
        """A cable or hose by id. Raises CoreError."""
        return self._of(id_, Line, "a cable or hose")

    def latch(self, id_: str) -> Latch:
        """A latch by id. Raises CoreError."""
        return self._of(id_, Latch, "a latch")

    def of(self, kind: type[E]) -> tuple[E, ...]:
        """All entries of a class that are offered, in the catalogue's order."""
        return self._offered.get(
            kind, lambda: tuple(e for e in self.entries.values() if isinstance(e, kind) and not e.retired)
        )

    @kept_property
    def _offered(self) -> Attached:
        return Attached(100)

    def offered(self, ref: StockRef) -> tuple[Entry, ...]:
        """Entries that a field may name, in the catalogue's order."""
        return tuple(
            e
            for e in self.entries.values()
            if e.group == ref.group
            and not e.retired
            and all(getattr(e, name, None) in values for name, values in ref.wanted)
        )

    def fastener_for(self, style: str, grip_m: float) -> Fastener | None:
        """Shortest fastener of a style and the usual shank whose grip range holds `grip_m`, or None."""
        fits = [
            f
            for f in self.of(Fastener)
            if f.style == style
            and abs(f.diameter - USUAL_M.get(style, f.diameter)) < 1e-9
            and f.grip_min - 1e-9 <= grip_m <= f.grip_max + 1e-9
        ]
        return min(fits, key=lambda f: f.grip_max, default=None)

    def is_wood(self, sheet_id: str) -> bool:
        """Whether a sheet is of wood; False for one that is not known."""
        entry = self.entries.get(sheet_id)
        return isinstance(entry, Sheet) and entry.stuff.kind == "wood"

    def thickness_m(self, sheet_id: str) -> float:
        """Thickness of a sheet [m]; 0 for one that is not known."""
        entry = self.entries.get(sheet_id)
        return entry.thickness if isinstance(entry, Sheet) else 0.0

    def whole_for(self, form: str) -> Entry | None:
        """What a thing of a form costs when nothing more is said of it."""
        return self.entries.get(f"whole-{form.replace(' ', '-')}")


EMPTY = Catalogue((), ())


def count_at_pitch(length_m: float, pitch_m: float) -> int:
    """Fasteners along a line at no more than this pitch, one at each end; none where it has no holes."""
    return 0 if pitch_m <= 0 else max(2, math.ceil(length_m / pitch_m - 1e-9) + 1)


__all__ = ["EMPTY", "Catalogue", "count_at_pitch", "least_pack"]
