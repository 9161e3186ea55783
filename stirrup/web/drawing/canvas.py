"""A small SVG writer: paths in boat coordinates, labels that do not cover one another."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from html import escape

from stirrup.core.units import LengthText, Units, length_text
from stirrup.web.drawing.labels import width_px

Pair = tuple[float, float]
TYPE_PX = 16.0  # of all words in drawings, see drawing.css


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


@dataclass
class Canvas:
    """One view: boat coordinates (a, b) in metres to pixels, b upward.

    origin: pixel of (0, 0); scale: pixels for each metre.
    """

    width: float
    height: float
    origin: Pair
    scale: float
    kind: str
    title: str
    parts: list[str] = field(default_factory=list)
    taken: list[tuple[float, float, float, float]] = field(default_factory=list)

    def at(self, a: float, b: float) -> Pair:
        """Pixel of a point."""
        return (self.origin[0] + a * self.scale, self.origin[1] - b * self.scale)

    def path(
        self, points: Iterable[Sequence[float]], css: str, closed: bool = True, extra: str = ""
    ) -> None:
        """A polyline or polygon through points (a, b)."""
        pixels = ["%.1f %.1f" % self.at(p[0], p[1]) for p in points]  # noqa: UP031 (quickest)
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

    def text(self, at: Pair, content: str, css: str, dx: float = 0, dy: float = 0) -> None:
        """Text at a point; `content` is SVG, escape what people typed."""
        x, y = self.at(*at)
        self.parts.append(f'<text class="{css}" x="{x + dx:.1f}" y="{y + dy:.1f}">{content}</text>')

    def _clear(self, box: tuple[float, float, float, float]) -> bool:
        x0, y0, x1, y1 = box
        for t in self.taken:  # noqa: SIM110 (a plain loop is twice as quick, and runs for every name)
            if x1 >= t[0] and x0 <= t[2] and y1 >= t[1] and y0 <= t[3]:
                return False
        return True

    def label(self, at: Pair, words: str, css: str = "label") -> bool:
        """Words beside a point where nothing else is written; left out when all is taken."""
        x, y = self.at(*at)
        wide, high = 7.0 * len(words) + 6, 15.0
        for dx, dy in (
            (0, -8),
            (0, 20),
            (wide / 2 + 10, 5),
            (-wide / 2 - 10, 5),
            (0, -22),
            (0, 34),
        ):
            box = (x + dx - wide / 2, y + dy - high, x + dx + wide / 2, y + dy + 3)
            inside = box[0] > 2 and box[2] < self.width - 2 and box[1] > 2 and box[3] < self.height
            if inside and self._clear(box):
                self.taken.append(box)
                self.parts.append(
                    f'<text class="{css} halo" text-anchor="middle" x="{x + dx:.1f}" '
                    f'y="{y + dy:.1f}">{escape(words)}</text>'
                )
                return True
        return False

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
        middle = (x1 + x2) / 2
        half = width_px(f"{length_text(b - a, units)}{tail}", TYPE_PX) / 2 + 4
        self.taken.append((middle - half, y - 10, middle + half, y + 10))
        self.parts.append(
            f'<text class="dim-text halo" text-anchor="middle" x="{middle:.1f}" y="{y + 4.5:.1f}">'
            f"{svg_length(b - a, units)}{tail}</text>"
        )

    def svg(self, described_by: str = "") -> str:
        """The finished drawing; px per metre and origin go along for the pointer."""
        told = f' aria-describedby="{described_by}"' if described_by else ""
        return (
            f'<svg class="view view-{self.kind}" viewBox="0 0 {self.width:.0f} {self.height:.0f}" '
            f'role="group" aria-label="{escape(self.title)}"{told} data-view="{self.kind}" '
            f'data-scale="{self.scale:.6f}" data-ox="{self.origin[0]:.3f}" '
            f'data-oy="{self.origin[1]:.3f}">{"".join(self.parts)}</svg>'
        )
