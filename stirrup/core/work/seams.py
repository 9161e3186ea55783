"""All welded seams of a boat in the order in which they are laid against distortion."""

from __future__ import annotations

from collections.abc import Iterable

from stirrup.core.contract.gives import Built
from stirrup.core.contract.seam import Seam
from stirrup.core.findings import Quantity
from stirrup.core.record import dataclass

STEP_M, OPEN_M, TACK_M = 0.05, 0.10, 0.10  # a stitch, what is left between two, tacks apart: working values
HOW = {  # in words, over `LENGTHS`
    "stitched": "{step} on, {open} open, on both sides in turn; from its middle to both ends, each stitch "
                "laid back towards the one before",
    "all round": "tacked every {tack}, then in lengths of {tack}, each laid back towards the one before, "
                 "opposite sides in turn",
}  # fmt: skip
LENGTHS = {"step": Quantity(STEP_M, "m", True), "open": Quantity(OPEN_M, "m", True),
           "tack": Quantity(TACK_M, "m", True)}  # fmt: skip


@dataclass(frozen=True)
class Numbered:
    """A seam with its number in the order, and the thing that it belongs to."""

    number: int
    thing: str
    seam: Seam

    @property
    def welded_m(self) -> float:
        """Of bead that is laid [m]: of a stitched one a third, on both sides."""
        share = 2 * STEP_M / (STEP_M + OPEN_M) if self.seam.how == "stitched" else 1.0
        return self.seam.long * share


def in_order(built: Iterable[Built]) -> list[Numbered]:
    """Thing by thing; of each from its middle outward, port and starboard in turn: what is drawn to one
    side is drawn back by the next."""
    out: list[Numbered] = []
    for thing in built:
        if not thing.seams:
            continue
        middle = sum(s.middle[0] for s in thing.seams) / len(thing.seams)
        row = sorted(thing.seams, key=lambda s: (round(abs(s.middle[0] - middle), 3), abs(s.middle[1]),
                                                 -s.middle[1]))  # fmt: skip
        for seam in row:
            out.append(Numbered(len(out) + 1, thing.fitting, seam))
    return out
