"""Things as they are asked for at a counter: sizes in both systems, drills, lengths of pieces."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stirrup.core.money.shopping import ToBuy
from stirrup.core.parts.entries import Entry, Fastener, Section, Sheet
from stirrup.core.units import SYSTEMS, Units, write_length
from stirrup.web.present import amount

MOST_PIECES = 12  # told one by one
INCH_M, LONG_M, SAME_M = 0.0254, 0.5, 0.005
PLURAL = {"piece": "pieces", "sheet": "sheets", "stick": "sticks"}


def asked_for(line: ToBuy, pieces: Mapping[str, Sequence[float]], units: Units) -> list[str]:
    """What to say besides the name, one phrase each."""
    if line.line is None:
        return []
    item, out = line.line.item, _sizes(line.line.item, units)
    if line.line.one_key:
        out.append(f"keyed alike, {line.line.one_key} locks with one key")
    cut = pieces.get(line.item, ())
    if cut:
        shown = ", ".join(write_length(p, units) for p in cut[:MOST_PIECES])
        more = f" and {len(cut) - MOST_PIECES} more" if len(cut) > MOST_PIECES else ""
        out.append(f"for pieces of {shown}{more}")
    if isinstance(item, Fastener) and item.drill:
        out.append(f"drill {_both((item.drill,), units)}")
    return out


def _both(values: Sequence[float], units: Units) -> str:
    """Lengths [m] in the shop's units, and in the other ones as they may be known at the counter."""
    other = SYSTEMS["in" if units.length == "mm" else "mm"]
    return " = ".join(_times(values, u) for u in (units, other))


def _times(values: Sequence[float], units: Units) -> str:
    return " × ".join(write_length(_nominal(v, units), units, finer=True) for v in values)


def _nominal(value: float, units: Units) -> float:
    """A size as it is spoken of: a sheet of 2440 mm is 8 ft long."""
    inches = round(value / INCH_M)
    near = value > LONG_M and abs(inches * INCH_M - value) <= SAME_M
    return inches * INCH_M if near and units.length != "mm" else value


def _sizes(item: Entry, units: Units) -> list[str]:
    """Of sheets and sticks what they measure."""
    if isinstance(item, Sheet):
        sizes = (item.height, item.thickness) if item.roll else (item.width, item.height, item.thickness)
        return [f"{item.stuff.name}, {_both(sizes, units)}"]
    if isinstance(item, Section):
        legs = (item.a,) if item.shape == "round tube" else (item.a, item.b)
        wall = () if item.shape == "timber" else (item.t,)
        sticks = f"sticks of {_both((item.length,), units)}"
        return [f"{item.stuff.name}, {_both((*legs, *wall), units)}", sticks]
    if isinstance(item, Fastener) and item.grip_max:
        return [f"grip {_both((item.grip_min,), units)} to {_both((item.grip_max,), units)}"]
    return []


def packs_said(line: ToBuy) -> str:
    """How many packs of how much: 3 sheets, 2 × 50, 4.5 m."""
    unit = line.line.item.unit if line.line else "piece"
    said = []
    for pack, n in line.packs:
        if pack.quantity == 1 and unit in PLURAL:
            said.append(f"{n} {unit if n == 1 else PLURAL[unit]}")
        else:
            said.append(f"{n} × {amount(pack.quantity, unit)}")
    return ", ".join(said)
