"""A small SVG writer: paths in boat coordinates, labels that do not cover one another."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from hashlib import blake2s
from html import escape, unescape

from stirrup.core.kept import Attached
from stirrup.core.units import LengthText, Units, length_text
from stirrup.web.drawing.labels import width_px

Pair = tuple[float, float]
TYPE_PX = 15.0  # of all words in drawings as they are seen
TAG = re.compile(r"<[^>]*>")
SMALLER = {"station-number": 0.87}  # of the type; see drawing.css
CROWDED = 1.6  # times the type's usual size
GRAB_EM = 1.5  # radius about a small thing where a finger gets hold of it: 45 px across
PAD_EM = 0.12  # kept free about words
# places about a point, from its middle to the words' baseline, in units of the type
ABOVE_OR_BELOW: tuple[Pair, ...] = ((0, -0.5), (0, 1.25), (0, -1.4), (0, 2.15))
FAN: tuple[Pair, ...] = (
    *ABOVE_OR_BELOW, (0, -2.6), (0, 3.3),
    *((x, y) for x in (1.5, -1.5, 3, -3, 5, -5, 8, -8) for y in (0.3, -0.9, 1.5, -2.1, 2.7)),
)  # fmt: skip


def svg_length(value_m: float, units: Units, finer: bool = False) -> str:
    """A length as SVG text content, with the fraction in its own tspan."""
    text: LengthText = length_text(value_m, units, finer)
    if not text.top:
        return escape(str(text))
    whole = "" if text.whole == "0" and text.feet is None else text.whole
    feet = f"{text.feet}' " if text.feet is not None else ""
    unit = text.unit if text.feet is not None else f" {text.unit}"
    fraction = f'<tspan class="fr">{text.top}\u2044{text.bottom}</tspan>'
    return f"{escape(text.sign + feet + whole)}{fraction}{escape(unit)}"


def type_of(width: float, wide_px: float) -> float:
    """Size of words in a drawing `width` units across that is `wide_px` wide on the page."""
    return TYPE_PX * width / wide_px if wide_px else TYPE_PX


def _width(content: str, size: float) -> float:
    """Width of SVG text content at a size."""
    return width_px(unescape(TAG.sub("", content)), size)


class Drawn(str):
    """A finished drawing, which pages show as it is: its own tag, and the pieces that it was put together
    from, each of elements or of the beginning or end of a group."""

    tag: str
    pieces: Sequence[str]

    def __html__(self) -> str:
        return self


@dataclass
class Canvas:
    """One view: boat coordinates (a, b) in metres to units of the drawing, b upward.

    origin: (0, 0) in the drawing; scale: its units for each metre. wide_px: how wide it is on the
    page, which its words are sized for; 0: a pixel for each unit.
    """

    width: float
    height: float
    origin: Pair
    scale: float
    kind: str
    title: str
    parts: list[str] = field(default_factory=list)
    taken: list[tuple[float, float, float, float]] = field(default_factory=list)
    wide_px: float = 0.0

    @property
    def type(self) -> float:
        """Size of the words, in units of the drawing."""
        return type_of(self.width, self.wide_px)

    @property
    def crowded(self) -> bool:
        """Whether the drawing is so small that only marks have room, as on a telephone."""
        return self.type > CROWDED * TYPE_PX

    def at(self, a: float, b: float) -> Pair:
        """Pixel of a point."""
        return (self.origin[0] + a * self.scale, self.origin[1] - b * self.scale)

    def kept(self, shelf: Attached, key: object, draw: Callable[[Canvas], None]) -> None:
        """Draw what follows from one thing alone, and is kept with it; shelf: its own, key: what it is.

        draw: on a sheet of the same frame.
        """

        def drawn() -> str:
            sheet = Canvas(self.width, self.height, self.origin, self.scale, self.kind, "",
                           wide_px=self.wide_px)  # fmt: skip
            draw(sheet)
            return "".join(sheet.parts)

        frame = (self.kind, self.origin, self.scale, self.type)
        self.parts.append(shelf.get(("drawn", *frame, key), drawn))

    def path(
        self, points: Iterable[Sequence[float]], css: str, closed: bool = True, extra: str = ""
    ) -> None:
        """A polyline or polygon through points (a, b)."""
        at = self.at
        pixels = ["%.1f %.1f" % at(p[0], p[1]) for p in points]  # noqa: UP031 (quickest)
        if len(pixels) < 2:
            return
        d = "M" + "L".join(pixels) + ("Z" if closed else "")
        self.parts.append(f'<path class="{css}" d="{d}"{extra}/>')

    def line(self, a: Pair, b: Pair, css: str, extra: str = "") -> None:
        """A straight line between two points."""
        (x1, y1), (x2, y2) = self.at(*a), self.at(*b)
        self.parts.append(
            f'<line class="{css}" x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}"{extra}/>'
        )

    def circle(self, at: Pair, radius_px: float, css: str, title: str = "") -> None:
        """A dot of a size in pixels."""
        x, y = self.at(*at)
        told = f"<title>{escape(title)}</title>" if title else ""
        self.parts.append(
            f'<circle class="{css}" cx="{x:.1f}" cy="{y:.1f}" r="{radius_px:.1f}">{told}</circle>'
        )

    def disc(self, at: Pair, radius_m: float, css: str) -> None:
        """A circle of a size in metres."""
        self.circle(at, max(1.5, radius_m * self.scale), css)

    def words(
        self, x: float, y: float, content: str, css: str = "label halo", anchor: str = "middle",
        ways: Sequence[Pair] = ((0, 0),),
    ) -> bool:  # fmt: skip
        """Words at the first of several places that is clear of others; left out when none is.

        x, y: in the drawing; `content` is SVG, escape what people typed. ways: from there to the
        words' baseline, in units of the type. Words stay inside of the drawing.
        """
        size = self.type * next((f for word, f in SMALLER.items() if word in css), 1.0)
        wide = _width(content, size)
        before = {"start": 0.0, "middle": wide / 2, "end": wide}[anchor]
        pad = PAD_EM * size
        for dx, dy in ways:
            left = min(max(x + dx * size - before, 1.0), self.width - wide - 1.0)
            base = y + dy * size
            box = (left - pad, base - 0.8 * size, left + wide + pad, base + 0.25 * size)
            if left >= 1.0 and box[1] >= 0 and box[3] <= self.height and self._clear(box):
                self.taken.append(box)
                self.parts.append(
                    f'<text class="{css}" text-anchor="{anchor}" x="{left + before:.1f}" '
                    f'y="{base:.1f}">{content}</text>'
                )
                return True
        return False

    def _clear(self, box: tuple[float, float, float, float]) -> bool:
        x0, y0, x1, y1 = box
        for t in self.taken:  # noqa: SIM110 (a plain loop is twice as quick, and runs for every name)
            if x1 >= t[0] and x0 <= t[2] and y1 >= t[1] and y0 <= t[3]:
                return False
        return True

    def label(self, at: Pair, words: str, css: str = "label") -> bool:
        """Words beside a point where nothing else is written; left out when all is taken."""
        x, y = self.at(*at)
        aside = width_px(words, 1.0) / 2 + 0.6
        ways = (*ABOVE_OR_BELOW[:2], (aside, 0.3), (-aside, 0.3), *ABOVE_OR_BELOW[2:])
        return self.words(x, y, escape(words), f"{css} halo", "middle", ways)

    def box(self, low: Pair, high: Pair) -> tuple[float, float, float, float]:
        """Pixels of a box between two corners in boat coordinates."""
        (x0, y0), (x1, y1) = self.at(*low), self.at(*high)
        return (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))

    def reserve(self, at: Pair, half_wide_px: float, half_high_px: float) -> None:
        """Keep labels away from a place."""
        x, y = self.at(*at)
        self.taken.append((x - half_wide_px, y - half_high_px, x + half_wide_px, y + half_high_px))

    def dimension(self, a: float, b: float, level: float, units: Units, words: str = "") -> None:
        """A dimension line between two values of the first axis, at a level of the second."""
        (x1, y), (x2, _) = self.at(a, level), self.at(b, level)
        self.parts.append(
            f'<path class="dim" d="M{x1:.1f} {y - 5:.1f}V{y + 5:.1f}M{x2:.1f} {y - 5:.1f}V{y + 5:.1f}'
            f'M{x1:.1f} {y:.1f}H{x2:.1f}"/>'
        )
        tail = f" {escape(words)}" if words else ""
        said = svg_length(b - a, units)
        half = _width(said, 1.0) / 2
        beyond = (x2 - x1) / 2 / self.type + half + 0.5
        # a word that makes it clearer goes before the amount does
        ways = ((0, 0.3), (beyond, 0.3), (-beyond, 0.3), (0, -0.5))
        for text in dict.fromkeys((said + tail, said)):
            if self.words((x1 + x2) / 2, y, text, "dim-text halo", "middle", ways):
                return

    def svg(self, described_by: str = "") -> Drawn:
        """The finished drawing; px per metre and origin go along for the pointer, and a mark that
        tells it from any other."""
        told = f' aria-describedby="{described_by}"' if described_by else ""
        frame = (
            f'class="view view-{self.kind}" viewBox="0 0 {self.width:.0f} {self.height:.0f}" '
            f'font-size="{self.type:.2f}" data-wide="{self.wide_px or self.width:.0f}" '
            f'role="group" aria-label="{escape(self.title)}"{told} data-view="{self.kind}" '
            f'data-scale="{self.scale:.6f}" data-ox="{self.origin[0]:.3f}" '
            f'data-oy="{self.origin[1]:.3f}"'
        )
        drawn = "".join(self.parts)
        mark = blake2s(f"{frame}{drawn}".encode(), digest_size=6).hexdigest()
        tag = f'<svg {frame} data-of="{mark}">'
        out = Drawn(f"{tag}{drawn}</svg>")
        out.tag, out.pieces = tag, self.parts
        return out
