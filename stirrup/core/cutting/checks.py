"""What cannot be cut from its stock, and so is on no shopping list."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.cutting.sheets import SheetLayout
from stirrup.core.cutting.sticks import StickLayout
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.record import dataclass

declare("layout", {"OVERSIZE": "parts larger than their stock"})

SIZES = ("length", "width")
SOURCE = "sizes of the stock as the catalogue has them"


@dataclass(frozen=True)
class _TooBig:
    """A part and what its stock has room for [m]; of a panel as it lies on the sheet: along the
    sheet, then across."""

    label: str
    sizes: tuple[float, ...]
    room: tuple[float, ...]
    turns: bool = True  # whether it may lie across the sheet too


def _finding(fitting: str, stock: str, parts: list[_TooBig], remedy: str) -> Finding:
    worst = max(parts, key=lambda p: p.sizes)
    values = {name: Quantity(size, "m") for name, size in zip(SIZES, worst.sizes, strict=False)}
    values |= {f"most_{n}": Quantity(size, "m") for n, size in zip(SIZES, worst.room, strict=False)}
    flat = len(worst.sizes) == 2
    size = "{length} × {width}" if flat else "{length}"
    way = " along and across the grain" if flat and not worst.turns else ""
    room = "{most_length} × {most_width}" if flat else "{most_length}"
    rows = tuple(
        Input(f"{plain(p.label)}, {n}", Quantity(v, "m"))
        for p in parts
        for n, v in zip(SIZES, p.sizes, strict=False)
    )
    labels = ", ".join(plain(p.label) for p in parts)
    return Finding(
        "OVERSIZE",
        "stop",
        fitting,
        "Larger than its sheet" if flat else "Longer than its stick",
        f"{labels}: {size}{way}; the largest that comes out of {stock} is {room}. "
        "Until this is mended it is neither on the cut list nor in the cost.",
        values,
        remedy,
        Working(
            "a part comes out of one sheet or stick, in a turn that its material allows",
            rows,
            Quantity(worst.room[0], "m"),
            SOURCE,
        ),
    )


def oversize_findings(
    catalogue: Catalogue, sheets: Iterable[SheetLayout], sticks: Iterable[StickLayout]
) -> list[Finding]:
    """One stop for each fitting and stock of which a part is too large."""
    out = []
    for layout in sheets:
        if not layout.unplaced:
            continue
        job = layout.job
        room = (job.width - 2 * job.margin, job.height - 2 * job.margin)
        big: dict[str, list[_TooBig]] = {}
        for blank in job.blanks:
            if blank.id in layout.unplaced:
                x0, y0, x1, y1 = blank.box
                sizes = (x1 - x0, y1 - y0)
                if 90 in blank.rotations:
                    sizes = (max(sizes), min(sizes))
                part = _TooBig(blank.label, sizes, room, 90 in blank.rotations)
                big.setdefault(blank.id.split("/")[0], []).append(part)
        remedy = (
            "Split it on a member or make it smaller; where the grain has to run one way, "
            "try a stock without grain."
        )
        out += [_finding(f, catalogue.find(job.stock).name, parts, remedy) for f, parts in big.items()]
    for bars in sticks:
        if not bars.unplaced:
            continue
        long: dict[str, list[_TooBig]] = {}
        for piece in bars.job.pieces:
            if piece.id in bars.unplaced:
                most = bars.job.length - 2 * bars.job.trim
                part = _TooBig(piece.id.split("/")[-1], (piece.length,), (most,))
                long.setdefault(piece.id.split("/")[0], []).append(part)
        remedy = "Choose a stock with longer sticks, or make the part in two with a joint over a support."
        stock = catalogue.find(bars.job.stock).name
        out += [_finding(f, stock, parts, remedy) for f, parts in long.items()]
    return out
