"""How firm a skin over members is underfoot, bay by bay, and what would make it firmer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field

from stirrup.core.findings import Fix, Input, Level, Quantity, Working
from stirrup.core.fittings.plate import FINE, PERSON_N, SPRINGY, given_m, stiffness_nm, stretched_m
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Sheet
from stirrup.core.record import dataclass

RUNS_ON, ENDS = 0.5, 0.0  # how far an edge is kept from turning: the skin runs on over it, or ends there
WIDEST_TIGHT_M = 0.4  # working value
STEP_M, LEAST_M = 0.01, 0.1  # between the distances that are tried; a closer member than this is not asked


@dataclass(frozen=True)
class Bay:
    """Skin between two members: from one to the other, its breadth along them, and how far both keep it
    from turning, their mean [m]."""

    width: float
    breadth: float
    held: float


@dataclass(frozen=True)
class Skin:
    """What is stood on: whose it is, where its choices of sheet and spacing are, the sheet, whether its
    edges cannot draw in, and the spacing asked [m]."""

    place: str
    sheet: Sheet
    fixed: bool
    spacing: float
    word: str = "Bearers"  # what closer ones are called

    @property
    def tight(self) -> bool:
        """Thin metal whose edges are held pulls tight; screws in wood give too much for that."""
        return self.fixed and self.sheet.stuff.kind == "metal"


def sags_m(bay: Bay, sheet: Sheet, tight: bool) -> float | None:
    """Deflection of a skin in a bay under a heavy person [m]; None where its stiffness is not known.

    Source: docs/trade-rules.md, “Underfoot”.
    """
    stiff = stiffness_nm(sheet)
    if stiff is None:
        return None
    bent = given_m(bay.width, max(bay.breadth, bay.width), stiff, held=bay.held)
    return stretched_m(bent, sheet.thickness) if tight else bent


def bays_of(stations: Sequence[float], breadths: Sequence[float], parted: Sequence[float]) -> list[Bay]:
    """Bays between members at x `stations` (n), with the skin's breadth in each (n - 1), parted over those
    at x `parted`; it ends over the first and the last [m]."""
    ends = {0, len(stations) - 1}
    ends |= {k for k, x in enumerate(stations) if any(abs(x - p) < 1e-3 for p in parted)}
    hold = [ENDS if k in ends else RUNS_ON for k in range(len(stations))]
    return [
        Bay(stations[k + 1] - stations[k], breadth, (hold[k] + hold[k + 1]) / 2)
        for k, breadth in enumerate(breadths)
    ]


def _over_m(skin: Skin, width: float) -> float:
    """Of what width a share may give [m]. A skin that pulls tight gives a smaller share the wider it
    spans, and is no firmer for that: a bay of 0.4 m is the widest that counts."""
    return min(width, WIDEST_TIGHT_M) if skin.tight else width


def _level(gives: float, over: float) -> Level:
    return "fine" if gives <= over / FINE else "look" if gives <= over / SPRINGY else "mend"


def _firm(skin: Skin, bay: Bay, sheet: Sheet) -> bool:
    sags = sags_m(bay, sheet, skin.tight)
    return sags is not None and sags <= _over_m(skin, bay.width) / FINE


def _closer(skin: Skin, bays: Sequence[Bay]) -> float | None:
    """The widest spacing at which all would be firm, by trying [m]: no bay is wider then, and any may be
    the one that is held least."""
    held, breadth = min(b.held for b in bays), max(b.breadth for b in bays)
    widest = max(b.width for b in bays)
    tried = round(min(skin.spacing, widest) / STEP_M) * STEP_M - STEP_M
    while tried >= LEAST_M:
        if _firm(skin, Bay(tried, breadth, held), skin.sheet):
            return round(tried, 3)
        tried -= STEP_M
    return None


def _stouter(skin: Skin, bays: Sequence[Bay], catalogue: Catalogue) -> Sheet | None:
    """The thinnest sheet of the same stuff that would be firm in every bay."""
    same = [s for s in catalogue.of(Sheet) if s.material == skin.sheet.material]
    for sheet in sorted(same, key=lambda s: s.thickness):
        if all(_firm(skin, bay, sheet) for bay in bays):
            return sheet
    return None


def _mends(skin: Skin, bays: Sequence[Bay], catalogue: Catalogue) -> tuple[Fix, ...]:
    closer, stouter = _closer(skin, bays), _stouter(skin, bays, catalogue)
    fixes = []
    if closer is not None:
        words = f"{skin.word} every {{closer}}"
        fixes.append(Fix(words, path=("fittings", skin.place, "spacing"), value=closer))
    if stouter is not None:
        fixes.append(Fix(f"Take {stouter.name}", path=("fittings", skin.place, "skin"), value=stouter.id))
    return tuple(fixes)


@dataclass(frozen=True)
class Verdict:
    """What a finding says of a skin, beside its code and whose it is."""

    level: Level
    title: str
    text: str
    values: dict[str, Quantity] = field(default_factory=dict)
    remedy: str = ""
    working: Working | None = None
    fixes: tuple[Fix, ...] = ()


NOT_KNOWN = Verdict(
    "look", "Nobody knows how stiff its skin is",
    "The catalogue has no modulus of elasticity for its sheet.",
    remedy="Take the maker's table of spans, or try a strip of it.",
)  # fmt: skip
TITLES = {"fine": "Firm to stand on", "look": "Springy to stand on", "mend": "Too thin to stand on"}


def underfoot(skin: Skin, bays: Sequence[Bay], catalogue: Catalogue) -> Verdict | None:
    """Whether the bay that gives most is firm to stand on; a screening. None where there is no bay."""
    if not bays:
        return None
    rows = [(sags_m(bay, skin.sheet, skin.tight), bay) for bay in set(bays)]
    known = [(gives, bay) for gives, bay in rows if gives is not None]
    if not known:
        return NOT_KNOWN
    gives, bay = max(known, key=lambda row: (row[0] / _over_m(skin, row[1].width), row[1].width))
    over = _over_m(skin, bay.width)
    level = _level(gives, over)
    fixes = () if level == "fine" else _mends(skin, bays, catalogue)
    values = {"gives": Quantity(gives, "m", True), "bay": Quantity(bay.width, "m"),
              "most": Quantity(over / FINE, "m", True)}  # fmt: skip
    closer = [f.value for f in fixes if f.path[-1] == "spacing" and isinstance(f.value, float)]
    if closer:
        values["closer"] = Quantity(closer[0], "m")
    return Verdict(
        level, TITLES[level],
        "Under somebody heavy it gives {gives} over {bay}; up to {most} feels firm. A screening.", values,
        "" if level == "fine" else f"{skin.word} closer together, or a thicker or stiffer skin.",
        _working(skin, bay, gives), fixes,
    )  # fmt: skip


def _working(skin: Skin, bay: Bay, gives: float) -> Working:
    how = "metal fastened all round pulls tight: Berger" if skin.tight else "by bending alone"
    return Working(
        f"w = Navier's series for 100 x 200 mm in the middle of a bay; {how}",
        (Input("bay", Quantity(bay.width, "m"), "the one that gives most"),
         Input("thickness", Quantity(skin.sheet.thickness, "m", True), "stock"),
         Input("held at its members", Quantity(bay.held, "count"), "runs on: 0.5; ends: 0; their mean"),
         Input("somebody heavy, moving", Quantity(PERSON_N / 9.81, "kg"), "working value")),
        Quantity(gives, "m", True), "rules of the trade, “Underfoot”",
    )  # fmt: skip
