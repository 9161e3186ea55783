"""How a piece of stock is taken apart by cuts from edge to edge: which and in which order."""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.record import dataclass

Rect = tuple[float, float, float, float]
TOUCH_M = 1e-6


@dataclass(frozen=True)
class StraightCut:
    """One cut of a stage: `across` 0 runs along y at this x, 1 along x at this y; from where to where.

    fence: from the clean edge before it to this cut [m]; `trims` when what is in between is waste. The
    tool takes its width on the far side of what is kept.
    """

    stage: int
    across: int
    at: float
    start: float
    end: float
    fence: float
    trims: bool

    def holds(self, boxes: Sequence[Rect]) -> list[int]:
        """Which boxes lie on the piece that it takes off, by their numbers from 0; none of a trim."""
        k, other = self.across, 1 - self.across
        low, high = self.at - self.fence - TOUCH_M, self.at + TOUCH_M
        return [
            n
            for n, b in enumerate(boxes)
            if low <= b[k] and b[k + 2] <= high
            and self.start - TOUCH_M <= b[other] and b[other + 2] <= self.end + TOUCH_M
        ]  # fmt: skip


def cuts_of(boxes: Sequence[Rect], whole: Rect, kerf: float) -> tuple[StraightCut, ...] | None:
    """The fewest stages of cuts that leave each box on its own; None where edge-to-edge cuts cannot.

    boxes, whole: least x and y, greatest x and y [m]. One cut parts two boxes that are a kerf apart.
    """
    found = [c for c in (_apart(tuple(boxes), whole, first, 1, kerf) for first in (0, 1)) if c is not None]
    return min(found, key=lambda cuts: (max((c.stage for c in cuts), default=0), len(cuts)), default=None)


def stages_of(boxes: Sequence[Rect], whole: Rect) -> int | None:
    """How many stages it takes; None where edge-to-edge cuts cannot."""
    cuts = cuts_of(boxes, whole, 0.0)
    return None if cuts is None else max((c.stage for c in cuts), default=0)


def _apart(
    boxes: tuple[Rect, ...], region: Rect, across: int, stage: int, kerf: float
) -> tuple[StraightCut, ...] | None:
    """Cuts one way, then what is between them the other way."""
    groups = _groups(boxes, across)
    if len(groups) == 1 and len(boxes) > 1 and stage > 1:
        return None  # neither way parts them: the stage before has parted all that it could
    cuts, inside, other = list[StraightCut](), list[StraightCut](), 1 - across
    clean, far = region[across], region[across + 2]
    ends = region[other], region[other + 2]
    for group in groups:
        low, high = min(b[across] for b in group), max(b[across + 2] for b in group)
        if low - clean > TOUCH_M:
            cuts.append(StraightCut(stage, across, low, *ends, low - clean, True))
        if far - high > TOUCH_M:
            cuts.append(StraightCut(stage, across, high, *ends, high - low, False))
        clean = high + kerf
        inner = (low, region[1], high, region[3]) if across == 0 else (region[0], low, region[2], high)
        if len(group) == 1 and _fills(group[0], inner):
            continue
        rest = _apart(tuple(group), inner, other, stage + 1, kerf)
        if rest is None:
            return None
        inside += rest
    return (*cuts, *inside)


def _fills(box: Rect, region: Rect) -> bool:
    return all(abs(a - b) <= TOUCH_M for a, b in zip(box, region, strict=True))


def _groups(boxes: tuple[Rect, ...], across: int) -> list[list[Rect]]:
    """The boxes that a cut this way cannot part, in their order."""
    out: list[list[Rect]] = []
    end = float("-inf")
    for box in sorted(boxes, key=lambda b: b[across]):
        if out and box[across] < end - TOUCH_M:
            out[-1].append(box)
        else:
            out.append([box])
        end = max(end, box[across + 2])
    return out
