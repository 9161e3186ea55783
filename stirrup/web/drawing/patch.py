"""A drawing told as what is new in it: of another one that the page has already, which parts stay.

Parts are the elements right under the drawing's own. A page holds the drawing of the revision that it
shows, by the mark in `data-of`; each answer while something is dragged is told against that one and
against no other answer, so that one that is lost or late does no harm.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Any

from stirrup.web.drawing.canvas import Drawn

FIRST = re.compile(r"<svg[^>]*>")
# a whole element where it holds no other, else a tag: a drawing is mostly of the first kind
PIECE = re.compile(r"<[a-z]+[^>]*/>|<(text|title|circle|path)\b[^>]*>[^<]*</\1>|</?[a-z][^>]*>")
MARK = re.compile(r'data-of="([^"]*)"')


@lru_cache(64)
def parts_of(svg: str) -> tuple[str, tuple[str, ...]]:
    """The drawing's own tag, and its parts."""
    if isinstance(svg, Drawn):
        return svg.tag, tuple(_joined(svg.pieces))
    first = FIRST.match(svg)
    if first is None:
        return svg, ()
    return first[0], tuple(_joined((svg[first.end() :].removesuffix("</svg>"),)))


@lru_cache(8000)
def _taken_apart(text: str) -> tuple[tuple[str, ...], str, int]:
    """The elements that a text begins with, what is left of it, and how many it begins more than it ends:
    most pieces of a drawing are those of the one before."""
    parts, depth, begun = [], 0, 0
    for found in PIECE.finditer(text):
        piece = found[0]
        if piece[1] == "/":
            depth -= 1
        elif piece[-2] != "/" and found[1] is None:
            depth += 1
        if depth == 0:
            parts.append(text[begun : found.end()])
            begun = found.end()
    return tuple(parts), text[begun:], depth


def _joined(pieces: Iterable[str]) -> Iterator[str]:
    """Whole elements out of pieces that may begin or end a group."""
    begun: list[str] = []
    depth = 0
    for piece in pieces:
        parts, rest, more = _taken_apart(piece)
        if depth == 0 and not (rest or more):
            yield from parts
            continue
        begun.append(piece)
        depth += more
        if depth == 0:
            yield from _taken_apart("".join(begun))[0]
            begun = []


def _unmarked(tag: str) -> str:
    return MARK.sub("", tag)


@lru_cache(64)
def _places(base: tuple[str, ...]) -> dict[str, list[int]]:
    """Where each part of a drawing stands, in order."""
    places: dict[str, list[int]] = {}
    for k, part in enumerate(base):
        places.setdefault(part, []).append(k)
    return places


def steps_between(base: tuple[str, ...], now: tuple[str, ...]) -> list[list[int] | str]:
    """The parts of `now` in their order: [from, to) of those of `base` that stay, or a new one."""
    places, used = _places(base), dict[str, int]()
    out: list[list[int] | str] = []
    end, last = -1, [0, 0]  # of the run of parts that stay which is told just now
    for part in now:
        there, count = places.get(part), used.get(part, 0)
        # each part of the page can stand in one place only
        if there is None or count == len(there):
            out.append(part)
            end = -1
            continue
        used[part], k = count + 1, there[count]
        if k == end:
            last[1] = end = k + 1
        else:
            last = [k, k + 1]
            end = k + 1
            out.append(last)
    return out


def patch(base: str, now: str, has: str) -> Any:
    """What a page that holds the drawing marked `has` is told, so that it shows `now`.

    {of, now: steps} against `base`, which goes along where the page has another; the whole drawing
    where its frame is another one.
    """
    (old_tag, old), (tag, new) = parts_of(base), parts_of(now)
    mark = MARK.search(old_tag)
    if mark is None or _unmarked(old_tag) != _unmarked(tag):
        return now
    told: dict[str, Any] = {"of": mark[1], "now": steps_between(old, new)}
    if mark[1] != has:
        told["base"] = base
    return told
