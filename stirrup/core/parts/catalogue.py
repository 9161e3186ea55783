"""Materials, stock and hardware with starting values.

Everything here is a *starting value*: the maker's data sheet decides, and prices are
replaced by the shop's price list. Densities: handbook of the trade, chapter 5.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Literal

from stirrup.core.errors import CoreError

Kind = Literal["metal", "wood", "plastic"]
Hatching = Literal["metal", "wood", "plastic", "foam"]


@dataclass(frozen=True)
class Pack:
    """A way an item is sold: this much of it, at this price before tax."""

    quantity: float
    price: Decimal


@dataclass(frozen=True)
class Item:
    """Anything that can be bought. `unit` counts the need: piece, m, m2, kg, sheet, stick."""

    id: str
    name: str
    unit: str
    packs: tuple[Pack, ...]


@dataclass(frozen=True)
class Material:
    id: str
    name: str
    kind: Kind
    density: float  # kg/m3


@dataclass(frozen=True)
class Sheet(Item):
    """Sheet stock; x runs along `width`, the grain or rolling direction [m]."""

    material: str = ""
    thickness: float = 0.0
    width: float = 2.44
    height: float = 1.22


@dataclass(frozen=True)
class Stick(Item):
    """Angle: legs a and b, wall t; `length` of one stick [m]."""

    material: str = ""
    a: float = 0.0
    b: float = 0.0
    t: float = 0.0
    length: float = 6.1

    @property
    def kg_per_m(self) -> float:
        """Mass of an angle for each metre: (a + b - t) t ρ."""
        return (self.a + self.b - self.t) * self.t * MATERIALS[self.material].density


@dataclass(frozen=True)
class Fastener(Item):
    """Blind rivet or screw: shank, grip range [m], mass [kg], drill [m]."""

    style: Literal["rivet", "screw"] = "rivet"
    diameter: float = 0.0
    grip_min: float = 0.0
    grip_max: float = 0.0
    mass: float = 0.0
    drill: float = 0.0


@dataclass(frozen=True)
class Latch(Item):
    """Lid latch: round body through the lid, tongue under the frame [m, kg]."""

    body: float = 0.0  # diameter of the hole
    underside: float = 0.0  # diameter of the body below the lid
    grip_min: float = 0.0
    grip_max: float = 0.0
    tongue: float = 0.0  # height of the tongue under the lid's top
    mass: float = 0.0


@dataclass(frozen=True)
class Plain(Item):
    """Hardware, cover or consumable with a mass for each unit and a thickness [kg, m].

    stiff: a pack is one bar; a piece comes out of one of them, remainders do not add up.
    """

    mass: float = 0.0
    thickness: float = 0.0
    wraps: bool = False
    pitch: float = 0.0
    stiff: bool = False


def _packs(*pairs: tuple[float, str]) -> tuple[Pack, ...]:
    return tuple(Pack(quantity, Decimal(price)) for quantity, price in pairs)


MATERIALS: Mapping[str, Material] = {
    m.id: m
    for m in (
        Material("5052-H32", "5052-H32 sheet", "metal", 2680),
        Material("5086-H116", "5086-H116 sheet", "metal", 2660),
        Material("6061-T6", "6061-T6 extrusion", "metal", 2700),
        Material("ply-light", "marine plywood, light tropical", "wood", 500),
        Material("ply-fir", "marine plywood, fir", "wood", 600),
        Material("pvc-board", "expanded PVC board", "plastic", 620),
        Material("hdpe", "HDPE sheet", "plastic", 955),
    )
}

_SHEETS = (
    ("al-2.0", "2.0 mm (0.080 in) 5052 sheet", "5052-H32", 0.0020, "138.00"),
    ("al-2.5", "2.5 mm (0.100 in) 5052 sheet", "5052-H32", 0.0025, "172.00"),
    ("al-3.2", "3.2 mm (0.125 in) 5052 sheet", "5052-H32", 0.0032, "216.00"),
    ("ply-9", "9 mm light marine plywood", "ply-light", 0.009, "78.00"),
    ("ply-12", "12 mm light marine plywood", "ply-light", 0.012, "96.00"),
    ("ply-fir-12", "12 mm fir marine plywood", "ply-fir", 0.012, "84.00"),
    ("pvc-12", "12 mm expanded PVC board", "pvc-board", 0.012, "148.00"),
    ("pvc-19", "19 mm expanded PVC board", "pvc-board", 0.019, "212.00"),
)
_STICKS = (
    ("angle-25x25x3", "angle 25 x 25 x 3 mm", 0.025, 0.025, 0.003, "24.00"),
    ("angle-40x40x3", "angle 40 x 40 x 3 mm", 0.040, 0.040, 0.003, "39.00"),
    ("angle-50x50x5", "angle 50 x 50 x 5 mm", 0.050, 0.050, 0.005, "74.00"),
)
# bought whole, by the form of the thing; what is dear differs most, so type what yours costs
_WHOLE = (
    ("seat", "seat with its pedestal", "135.00"),
    ("bench", "bench seat", "160.00"),
    ("console", "console, moulded", "390.00"),
    ("screen", "windscreen", "145.00"),
    ("battery", "deep-cycle battery", "165.00"),
    ("cooler", "cooler", "120.00"),
    ("locker", "dry box", "85.00"),
    ("tank", "tank", "140.00"),
    ("outboard", "outboard motor", "4200.00"),
    ("bow motor", "bow motor with its mount", "690.00"),
)
# closed-end aluminium blind rivets, steel-free mandrel; grip ranges as commonly listed
_RIVETS = (
    ("rivet-4.8x8", "blind rivet 4.8 mm, grip 1.5 to 5 mm", 0.0048, 0.0015, 0.0050, "11.00"),
    ("rivet-4.8x10", "blind rivet 4.8 mm, grip 5 to 6.5 mm", 0.0048, 0.0050, 0.0065, "11.50"),
    ("rivet-4.8x12", "blind rivet 4.8 mm, grip 6.5 to 8 mm", 0.0048, 0.0065, 0.0080, "12.50"),
    ("rivet-4.8x16", "blind rivet 4.8 mm, grip 8 to 12 mm", 0.0048, 0.0080, 0.0120, "14.00"),
)
_SCREWS = (
    ("screw-4.2x16", "stainless self-drilling screw 4.2 x 16", 0.0040, 0.0095, "8.00"),
    ("screw-4.2x25", "stainless self-drilling screw 4.2 x 25", 0.0095, 0.0180, "9.50"),
    ("screw-4.2x32", "stainless self-drilling screw 4.2 x 32", 0.0180, 0.0250, "11.00"),
)


def whole_id(form: str) -> str:
    """Catalogue id of a thing that is bought whole, by its form; there may be none."""
    return f"whole-{form.replace(' ', '-')}"


def _catalogue() -> dict[str, Item]:
    items: list[Item] = [
        Sheet(i, name, "sheet", _packs((1, price)), material, t) for i, name, material, t, price in _SHEETS
    ]
    items += [
        Stick(i, name, "stick", _packs((1, price)), "6061-T6", a, b, t)
        for i, name, a, b, t, price in _STICKS
    ]
    items += [
        Fastener(i, name, "piece", _packs((50, price), (250, f"{float(price) * 4:.2f}")),
                 "rivet", d, low, high, 0.0016, 0.0049)
        for i, name, d, low, high, price in _RIVETS
    ]  # fmt: skip
    items += [
        Fastener(i, name, "piece", _packs((50, price), (100, f"{float(price) * 1.8:.2f}")),
                 "screw", 0.0042, low, high, 0.0028, 0.0)
        for i, name, low, high, price in _SCREWS
    ]  # fmt: skip
    items += [
        Latch("latch-50", "slam latch, 50 mm body", "piece", _packs((1, "18.50")),
              0.050, 0.062, 0.0020, 0.0060, 0.020, 0.13),
        Latch("latch-57", "turn latch, 57 mm body", "piece", _packs((1, "26.00")),
              0.057, 0.068, 0.0060, 0.0160, 0.026, 0.21),
        Latch("latch-65", "metal slam latch, 65 mm body", "piece", _packs((1, "41.00")),
              0.065, 0.078, 0.0060, 0.0190, 0.030, 0.34),
        Plain("hinge-piano", "continuous hinge 38 mm, stainless", "m", _packs((1.8, "27.00")),
              0.52, 0.0012, pitch=0.05, stiff=True),
        Plain("bracket-40", "angle bracket 40 mm, 3 mm aluminium", "piece",
              _packs((1, "1.90"), (20, "30.00")), 0.026, 0.003),
        Plain("gasket-12", "foam gasket 12 x 5 mm, self-adhesive", "m", _packs((5, "8.40")), 0.02),
        Plain("carpet", "marine carpet", "m2", _packs((1.83, "21.00"), (9.15, "92.00")),
              0.75, 0.006, wraps=True),
        Plain("vinyl", "boat vinyl", "m2", _packs((1.83, "34.00")), 1.9, 0.0024, wraps=True),
        Plain("foam-mat", "closed-cell foam mat, self-adhesive", "m2", _packs((2.2, "118.00")),
              1.0, 0.006),
        Plain("non-skid", "non-skid paint", "m2", _packs((6, "44.00")), 0.35, 0.0005),
        Plain("contact-glue", "contact adhesive, wet weight", "kg", _packs((0.9, "23.00")), 1.0),
        Plain("bedding", "bedding sealant, cartridge 300 ml", "piece", _packs((1, "13.50")), 0.40),
    ]  # fmt: skip
    items += [Item(whole_id(form), name, "piece", _packs((1, price))) for form, name, price in _WHOLE]
    return {item.id: item for item in items}


CATALOGUE: Mapping[str, Item] = _catalogue()


@dataclass(frozen=True)
class Prices:
    """The shop's own packs and prices by item id; the catalogue's where it has none."""

    own: Mapping[str, tuple[Pack, ...]] = field(default_factory=dict)

    def packs(self, item_id: str) -> tuple[Pack, ...]:
        """Packs of an item: the shop's own, else the catalogue's."""
        return self.own.get(item_id) or find(item_id).packs

    def each(self, item_id: str) -> Decimal:
        """Price of the smallest pack: what one sheet or stick costs."""
        return min(self.packs(item_id), key=lambda p: p.quantity).price


def find(item_id: str) -> Item:
    """Item of the catalogue. Raises CoreError naming what there is."""
    if item_id not in CATALOGUE:
        raise CoreError(f"no item “{item_id}” in the catalogue; it has {', '.join(CATALOGUE)}")
    return CATALOGUE[item_id]


def sheet(item_id: str) -> Sheet:
    """Sheet stock by id. Raises CoreError."""
    item = find(item_id)
    if not isinstance(item, Sheet):
        raise CoreError(f"“{item_id}” is not a sheet; sheets: {', '.join(ids(Sheet))}")
    return item


def stick(item_id: str) -> Stick:
    """Stick stock by id. Raises CoreError."""
    item = find(item_id)
    if not isinstance(item, Stick):
        raise CoreError(f"“{item_id}” is not a stick; sticks: {', '.join(ids(Stick))}")
    return item


def plain(item_id: str) -> Plain:
    """Hardware, cover or consumable by id. Raises CoreError."""
    item = find(item_id)
    if not isinstance(item, Plain):
        raise CoreError(f"“{item_id}” is not plain hardware")
    return item


def ids(kind: type[Item]) -> tuple[str, ...]:
    """Ids of all items of a kind, in the catalogue's order."""
    return tuple(i for i, item in CATALOGUE.items() if isinstance(item, kind))


def fastener_for(style: str, grip_m: float) -> Fastener | None:
    """Shortest fastener of a style whose grip range holds `grip_m`, or None."""
    fits = [
        f
        for f in CATALOGUE.values()
        if isinstance(f, Fastener) and f.style == style and f.grip_min - 1e-9 <= grip_m <= f.grip_max + 1e-9
    ]
    return min(fits, key=lambda f: f.grip_max, default=None)


def count_at_pitch(length_m: float, pitch_m: float) -> int:
    """Fasteners along a line at no more than this pitch, one at each end."""
    return max(2, math.ceil(length_m / pitch_m - 1e-9) + 1)
