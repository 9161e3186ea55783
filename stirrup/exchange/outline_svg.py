"""Shapes and paths of an SVG drawing as runs of points, with all that turns and scales them."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Iterator, Sequence
from typing import Any
from xml.etree import ElementTree

from fontTools.misc.transform import Transform
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path.parser import parse_path

from stirrup.core.document import Point2
from stirrup.core.errors import CoreError
from stirrup.exchange.outline_limits import FLAT_MM, UNITS_MM, Read, check_count, check_points, left_out

PX_MM = 25.4 / 96
SVG_MM = {"": PX_MM, "px": PX_MM, "mm": 1.0, "cm": 10.0, "in": 25.4, "pt": 25.4 / 72, "pc": 25.4 / 6}
NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
MOST_CHORDS = 400
MOST_GROUPS = 200_000  # that are looked into, drawn or not
Runs = list[list[Point2]]


def read_svg(content: bytes, name: str, unit: str) -> Read:
    """Raises CoreError for what is no SVG, defines entities, or draws too much."""
    if re.search(rb"<!\s*ENTITY", content, re.IGNORECASE):
        raise CoreError(f"“{name}” defines words of its own (ENTITY); accepted: SVG without them", "file")
    try:
        root = ElementTree.fromstring(content)
    except (ElementTree.ParseError, ValueError, LookupError, RecursionError):
        raise CoreError(f"“{name}” cannot be read; accepted: SVG", "file") from None
    if _tag(root) != "svg":
        raise CoreError(f"“{name}” is no SVG: it begins with {_tag(root)[:40]}", "file")
    mm, said = _step(root)
    step = UNITS_MM[unit] / 1000 if unit else mm / 1000
    runs: Runs = []
    left: dict[str, int] = {}
    points = 0
    for count, (element, turn) in enumerate(_drawn(root)):
        check_count(count, name)
        what = _tag(element)
        try:
            found = _runs_of(element, turn, step)
        except (ValueError, TypeError, IndexError, OverflowError, ZeroDivisionError):
            found, what = None, f"{what} that cannot be read"
        if found is None:
            left[what] = left.get(what, 0) + 1
            continue
        points += sum(map(len, found))
        check_points(points, name)
        runs += [r for r in found if all(math.isfinite(v) for p in r for v in p)]
    return Read(runs, said, left_out(left))


def _tag(element: ElementTree.Element) -> str:
    return str(element.tag).rpartition("}")[2]


HIDDEN = ("defs", "symbol", "clipPath", "mask", "pattern", "marker", "metadata", "title", "desc", "style",
          "namedview", "script", "linearGradient", "radialGradient")  # fmt: skip
GROUPS = ("svg", "g", "a", "switch")


def _drawn(root: ElementTree.Element) -> Iterator[tuple[ElementTree.Element, Transform]]:
    """What is drawn, each with all that turns it; walked without recursion, so that no depth harms."""
    stack, seen = [(root, Transform())], 0
    while stack and seen < MOST_GROUPS:
        element, turn = stack.pop()
        seen += 1
        tag = _tag(element)
        if tag in HIDDEN or "display:none" in element.get("style", "").replace(" ", ""):
            continue
        turn = turn.transform(transform_of(element.get("transform", "")))
        if tag in GROUPS:
            stack += [(child, turn) for child in reversed(element)]
        else:
            yield element, turn


def transform_of(text: str) -> Transform:
    """An SVG transform: matrix, translate, scale, rotate, skewX and skewY, in any number."""
    out = Transform()
    for name, inside in re.findall(r"([a-zA-Z]+)\s*\(([^)]*)\)", text):
        v = [float(n) for n in re.findall(NUMBER, inside)]
        if name == "matrix" and len(v) == 6:
            out = out.transform(v)
        elif name == "translate" and v:
            out = out.translate(v[0], v[1] if len(v) > 1 else 0.0)
        elif name == "scale" and v:
            out = out.scale(v[0], v[1] if len(v) > 1 else v[0])
        elif name == "rotate" and v:
            x, y = (v[1], v[2]) if len(v) > 2 else (0.0, 0.0)
            out = out.translate(x, y).rotate(math.radians(v[0])).translate(-x, -y)
        elif name == "skewX" and v:
            out = out.skew(math.radians(v[0]), 0)
        elif name == "skewY" and v:
            out = out.skew(0, math.radians(v[0]))
    return out


def _step(root: ElementTree.Element) -> tuple[float, str]:
    """Millimetres in one step of the drawing: its width over its view box; and whether it says so."""
    size = re.fullmatch(rf"\s*({NUMBER})\s*([a-z]*)\s*", root.get("width", ""))
    view = [float(n) for n in re.findall(NUMBER, root.get("viewBox", ""))]
    if size is None or size[2] not in SVG_MM:
        return PX_MM, ""
    wide = float(size[1]) * SVG_MM[size[2]]
    told = "mm" if size[2] not in ("", "px") else ""
    if len(view) == 4 and view[2] > 0 and wide > 0:
        return wide / view[2], told
    return SVG_MM[size[2]] if size[2] in ("", "px") else PX_MM, told


def _number(element: ElementTree.Element, name: str) -> float:
    found = re.match(rf"\s*({NUMBER})\s*([a-z]*)", element.get(name, "0"))
    if found is None:
        raise ValueError(name)
    return float(found[1]) * (SVG_MM[found[2]] / PX_MM if found[2] in SVG_MM and found[2] else 1.0)


def _runs_of(element: ElementTree.Element, turn: Transform, step: float) -> Runs | None:
    """Runs of one element [m], y up; None for what is no line."""
    tag = _tag(element)
    d = _path_of(element, tag)
    if d is None:
        return None
    pen = RecordingPen()
    parse_path(d, pen)
    flat = FLAT_MM / 1000 / step
    return [[(x * step, -y * step) for x, y in run] for run in _pieces(pen.value, turn, flat)]


SIZES = ("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "x1", "y1", "x2", "y2")


def _path_of(element: ElementTree.Element, tag: str) -> str | None:
    """The element as path data; None for what is none."""
    at = {k: _number(element, k) for k in SIZES if k in element.attrib}
    get = at.get
    if tag == "path":
        return element.get("d", "")
    if tag in ("polygon", "polyline"):
        return f"M{element.get('points', '')}" + ("z" if tag == "polygon" else "")
    if tag == "line":
        return f"M{get('x1', 0)},{get('y1', 0)}L{get('x2', 0)},{get('y2', 0)}"
    if tag in ("circle", "ellipse"):
        rx, ry = get("r", get("rx", 0.0)), get("r", get("ry", 0.0))
        x, y = get("cx", 0.0), get("cy", 0.0)
        return (
            f"M{x - rx},{y}A{rx},{ry} 0 1 1 {x + rx},{y}A{rx},{ry} 0 1 1 {x - rx},{y}z" if rx and ry else ""
        )
    if tag == "rect":
        return _rect(get("x", 0.0), get("y", 0.0), get("width", 0.0), get("height", 0.0),
                     get("rx", get("ry", 0.0)), get("ry", get("rx", 0.0)))  # fmt: skip
    return None


def _rect(x: float, y: float, w: float, h: float, rx: float, ry: float) -> str:
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    if not (rx and ry):
        return f"M{x},{y}h{w}v{h}h{-w}z"
    a = f"a{rx},{ry} 0 0 1 "
    return (f"M{x + rx},{y}h{w - 2 * rx}{a}{rx},{ry}v{h - 2 * ry}{a}{-rx},{ry}h{2 * rx - w}{a}{-rx},{-ry}"
            f"v{2 * ry - h}{a}{rx},{-ry}z")  # fmt: skip


def _pieces(drawn: Iterable[tuple[str, Sequence[Any]]], turn: Transform, flat: float) -> Runs:
    """Pen strokes as runs of points, curves by chords that lie within `flat` of them."""
    runs: Runs = []
    for word, points in drawn:
        at = [turn.transformPoint(p) for p in points if p is not None]
        if word == "moveTo":
            runs.append([at[0]])
        elif word == "lineTo":
            runs[-1].append(at[0])
        elif word == "curveTo":
            runs[-1] += _curve(runs[-1][-1], at, flat)
        elif word == "qCurveTo":
            a, (b, c) = runs[-1][-1], at
            thirds = [tuple(p + (q - p) * 2 / 3 for p, q in zip(end, b, strict=True)) for end in (a, c)]
            runs[-1] += _curve(a, [*thirds, c], flat)
        elif word == "closePath":
            runs[-1].append(runs[-1][0])
            # what comes after it without a move starts where this one did
            runs.append([runs[-1][0]])
    return [r for r in runs if len(r) > 1]


def _curve(a: Point2, rest: Sequence[Sequence[float]], flat: float) -> list[Point2]:
    """A cubic curve by chords, without its first point. A chord over 1/n of it lies within
    max |second difference| * 6 / (8 n²) of it."""
    p = [tuple(map(float, a)), *(tuple(map(float, q)) for q in rest)]
    second = max(math.hypot(*(p[k][i] - 2 * p[k + 1][i] + p[k + 2][i] for i in (0, 1))) for k in (0, 1))
    n = min(MOST_CHORDS, max(1, math.ceil(math.sqrt(0.75 * second / flat))))
    out = []
    for k in range(1, n + 1):
        t = k / n
        w = ((1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3)
        out.append((sum(c * q[0] for c, q in zip(w, p, strict=True)),
                    sum(c * q[1] for c, q in zip(w, p, strict=True))))  # fmt: skip
    return out
