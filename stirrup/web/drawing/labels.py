"""Names on a drawing, none over another: inside their thing, beside it, or led there by a line.

Each name is asked for with the box of what it names. They are placed in the order asked for;
for each the cheapest of many places is taken that is clear of all other text. Lying over other
things costs, and so does every pixel of a leader.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from html import escape

import numpy as np
from numpy.typing import NDArray

from stirrup.core.loops import compiled
from stirrup.core.record import dataclass

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
Box = tuple[float, float, float, float]  # x0, y0, x1, y1 in pixels, y down

# advance of each letter from the space on, in hundredths of the type's size; the narrow face, 600
ADVANCE = (
    20.0, 26.9, 30.6, 60.6, 43.4, 77.2, 58.1, 15.2, 27.9, 27.9, 36.1, 43.9, 19.9, 32.5, 21.1, 38.6, 45.0,
    27.4, 42.5, 42.6, 45.9, 42.8, 42.9, 39.2, 43.4, 42.3, 25.2, 21.8, 43.9, 43.9, 43.9, 41.3, 75.9, 45.6,
    46.2, 45.7, 47.2, 43.5, 41.5, 46.2, 47.7, 22.4, 44.3, 47.7, 41.5, 53.8, 50.7, 46.7, 45.7, 45.5, 46.1,
    43.4, 45.2, 47.8, 47.1, 66.5, 46.0, 45.6, 40.6, 33.0, 38.6, 33.0, 41.3, 40.5, 20.6, 43.4, 43.7, 42.2,
    43.7, 42.6, 29.1, 43.1, 43.9, 21.5, 21.1, 43.3, 19.9, 66.5, 43.9, 43.2, 44.1, 44.1, 31.3, 39.8, 28.2,
    43.8, 41.5, 59.2, 41.7, 40.3, 36.8, 31.9, 17.1, 31.9, 48.0,
)  # fmt: skip
OTHER = 55.0  # of a letter that is not in the list
PAD = 3.0  # kept free about a name
LEADERS = (18.0, 34.0, 54.0, 80.0, 112.0, 150.0)  # from the thing's edge to the name
WAYS = 16
COVER, FAR, LED = 0.03, 0.35, 14.0  # cost of a covered pixel, of a pixel of way, of a leader at all


@lru_cache(8000)
def _advance(words: str) -> float:
    """Width of words, in hundredths of the type's size."""
    return sum(ADVANCE[ord(c) - 32] if 32 <= ord(c) < 127 else OTHER for c in words)


def width_px(words: str, size: float) -> float:
    """Width of words in the drawings' type at a size."""
    return _advance(words) * size / 100


@dataclass(frozen=True)
class Name:
    """A name asked for: words, the box of what it names, its style."""

    words: str
    box: Box
    css: str = "label"


@dataclass(frozen=True)
class Placed:
    """A name where it goes: its text box, and the leader's two ends if it needs one."""

    name: Name
    box: Box
    leader: tuple[float, float, float, float] | None


@compiled()
def _beside(box: Array, wide: float, high: float) -> tuple[Array, Array]:
    """Text boxes (n, 4) within a thing's box (4,) and beside it, and their cost (n,)."""
    x0, y0, x1, y1 = box
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    out, cost = np.empty((23, 4)), np.full(23, 4.0)
    count = 0
    if wide <= x1 - x0 and high <= y1 - y0:
        for share in (0.5, 0.3, 0.7, 0.15, 0.85):
            y = y0 + high / 2 + share * (y1 - y0 - high)
            for turn, x in enumerate((cx, x0 + wide / 2, x1 - wide / 2)):
                if turn == 0 or x1 - x0 - wide > 12:
                    out[count, 0], out[count, 1] = x, y
                    cost[count] = 2 * abs(share - 0.5) + (1.5 if turn else 0.0)
                    count += 1
    gap = 1.0
    for x, y in (
        (cx, y0 - high / 2 - gap), (cx, y1 + high / 2 + gap),
        (x1 + wide / 2 + 4, cy), (x0 - wide / 2 - 4, cy),
        (x0 + wide / 2, y0 - high / 2 - gap), (x1 - wide / 2, y0 - high / 2 - gap),
        (x0 + wide / 2, y1 + high / 2 + gap), (x1 - wide / 2, y1 + high / 2 + gap),
    ):  # fmt: skip
        out[count, 0], out[count, 1] = x, y
        count += 1
    for k in range(count):
        x, y = out[k, 0], out[k, 1]
        out[k] = (x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)
    return out[:count], cost[:count]


@compiled()
def _led_away(box: Array, wide: float, high: float) -> tuple[Array, Array]:
    """Text boxes (n, 4) that a leader goes to, and their cost (n,)."""
    x0, y0, x1, y1 = box
    count = WAYS * len(LEADERS)
    out, cost = np.empty((count, 4)), np.empty(count)
    k = 0
    for way in range(WAYS):
        along, down = np.cos(2 * np.pi * way / WAYS), np.sin(2 * np.pi * way / WAYS)
        for far in LEADERS:
            x = (x0 + x1) / 2 + along * ((x1 - x0) / 2 + far + wide / 2)
            y = (y0 + y1) / 2 + down * ((y1 - y0) / 2 + far + high / 2)
            out[k] = (x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)
            cost[k] = LED + FAR * far
            k += 1
    return out[:k], cost[:k]


@compiled()
def _best(
    boxes: Array, cost: Array, full: Array, things: Array, own: Array, bounds: Array
) -> tuple[float, int]:
    """Cost and number of the cheapest of text boxes (n, 4) within `bounds` that share nothing with
    `full` (m, 4); what they share with `things` (k, 4) other than `own` costs. Infinite when all
    are taken."""
    least, best = np.inf, 0
    for i in range(len(boxes)):
        x0, y0, x1, y1 = boxes[i]
        if x0 < bounds[0] or y0 < bounds[1] or x1 > bounds[2] or y1 > bounds[3] or cost[i] >= least:
            continue
        free = True
        for t in range(len(full)):
            if min(x1, full[t, 2]) > max(x0, full[t, 0]) and min(y1, full[t, 3]) > max(y0, full[t, 1]):
                free = False
                break
        if not free:
            continue
        covered = 0.0
        for t in range(len(things)):
            wide = min(x1, things[t, 2]) - max(x0, things[t, 0])
            high = min(y1, things[t, 3]) - max(y0, things[t, 1])
            if wide > 0 and high > 0 and not (things[t] == own).all():
                covered += wide * high
        score = cost[i] + COVER * covered
        if score < least:
            least, best = score, i
    return least, best


@compiled()
def _in_turn(
    own: Array, wide: Array, high: float, full: Array, count: int, soft: Array, bounds: Array
) -> Ints:
    """Places of names one after the other. own: (n, 4) box of what each names; wide: (n,) of its words;
    full: (m + n, 4), of which the first `count` are taken: the boxes of the names come behind them. Of
    each name: the row of its box, or -1; and whether a leader goes to it (n, 2)."""
    out = np.zeros((len(own), 2), np.int64)
    for k in range(len(own)):
        boxes, cost = _beside(own[k], wide[k], high)
        score, best = _best(boxes, cost, full[:count], soft, own[k], bounds)
        if score > LED + FAR * LEADERS[0]:  # else no place that a leader goes to is cheaper
            away, cost = _led_away(own[k], wide[k], high)
            far, there = _best(away, cost, full[:count], soft, own[k], bounds)
            if far < score:
                boxes, score, best = away, far, there
                out[k, 1] = 1
        if np.isinf(score):
            out[k, 0] = -1
            continue
        full[count] = boxes[best]
        out[k, 0] = count
        count += 1
    return out


def place(
    names: Sequence[Name], taken: Sequence[Box], things: Sequence[Box], bounds: Box, size: float
) -> list[Placed]:
    """Names in places clear of `taken` and of one another, within `bounds`.

    things: boxes of what is drawn, rather not written over. size: of the type, px. What finds no
    place at all is left out: the drawing's text lists it.
    """
    own = np.array([name.box for name in names], dtype=float).reshape(-1, 4)
    wide = np.array([width_px(name.words, size) + 2 * PAD for name in names], dtype=float)
    full = np.array([*taken, *(name.box for name in names)], dtype=float).reshape(-1, 4)
    soft = np.array(things, dtype=float).reshape(-1, 4)
    edges = np.array(bounds, dtype=float)
    found = _in_turn(own, wide, size * 1.2, full, len(taken), soft, edges)
    boxes: list[Box] = [(x0, y0, x1, y1) for x0, y0, x1, y1 in full.tolist()]
    return [
        Placed(name, boxes[row], _leader(name.box, boxes[row]) if led else None)
        for name, (row, led) in zip(names, found.tolist(), strict=True)
        if row >= 0
    ]


def _leader(thing: Box, text: Box) -> Box:
    """From the text's nearest edge to a place a little inside of the thing."""
    cx, cy = (thing[0] + thing[2]) / 2, (thing[1] + thing[3]) / 2
    near = (min(max(cx, text[0]), text[2]), min(max(cy, text[1] + 2), text[3] - 2))
    dx, dy = near[0] - cx, near[1] - cy
    reach = max(
        abs(dx) / max(1.0, (thing[2] - thing[0]) / 2), abs(dy) / max(1.0, (thing[3] - thing[1]) / 2)
    )
    share = 0.8 / reach if reach > 0 else 0.0
    return (near[0], near[1], cx + dx * share, cy + dy * share)


def svg(placed: Sequence[Placed], size: float) -> str:
    """The names and their leaders."""
    parts = []
    for p in placed:
        if p.leader is not None:
            a, b, c, d = p.leader
            parts.append(
                f'<path class="leader" d="M{a:.1f} {b:.1f}L{c:.1f} {d:.1f}"/>'
                f'<circle class="leader-end" cx="{c:.1f}" cy="{d:.1f}" r="2"/>'
            )
    for p in placed:
        x, y = (p.box[0] + p.box[2]) / 2, p.box[3] - 0.35 * size
        parts.append(
            f'<text class="{p.name.css} halo" text-anchor="middle" x="{x:.1f}" y="{y:.1f}">'
            f"{escape(p.name.words)}</text>"
        )
    return "".join(parts)
