"""Addresses and lists that templates go through: parts of pages, columns, modules, queries."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from urllib.parse import quote, urlencode

from markupsafe import Markup, escape

from stirrup.core.findings import Finding
from stirrup.core.next_reading import Wanted
from stirrup.web.present import slug, step

# key, route, title
SURVEY_SHEETS = (
    ("readings", "survey", "Lines and readings"),
    ("condition", "condition", "Condition, label, wishes"),
)
FLOAT_SHEETS = (
    ("afloat", "float", "How she sits"),
    ("ledger", "ledger", "Ledger"),
    ("compare", "compare", "Pods, collars or nothing"),
    ("capacity", "capacity", "Capacity and swamped"),
    ("measured", "measured", "Measured on the boat"),
)
MONEY_SHEETS = (
    ("cost", "money", "What it costs"),
    ("lists", "shopping", "Shopping lists"),
    ("bought", "bought", "Ordered and there"),
    ("quotes", "quotes", "Quotes and bills"),
    ("came", "came_to", "What she came to"),
)
# sorted by, title, class of the ledger's columns
LEDGER_COLUMNS = (
    ("name", "what", ""),
    ("order", "how known", "left"),
    ("mass", "mass", ""),
    ("spread", "± 1σ", ""),
    ("", "from transom", "minor-col"),
    ("", "to port", "minor-col"),
    ("", "height", "minor-col"),
    ("trim", "trim", ""),
    ("list", "list", ""),
)
# edges that several things are brought in line by, and their plurals
EDGES = (
    ("aft", "aft edges"),
    ("middle along", "middles"),
    ("fore", "fore edges"),
    ("port", "port edges"),
    ("middle across", "middles across"),
    ("starboard", "starboard edges"),
    ("bottom", "bottoms"),
    ("top", "tops"),
)
# modules that a page of a build asks for, told to the browser before it finds them
_SCRIPTS = (
    *("plain", "fields", "drag", "place", "body", "choose", "arrange", "snap", "palette", "server"),
    *("refresh", "preview", "stale", "live", "zoom", "keys", "where", "screen", "picks", "speak"),
    *("roving", "fold", "nest", "search", "drag_loop", "merge", "hand", "redraw"),
)
MODULES = (*(f"js/{name}.js" for name in _SCRIPTS), "vendor/idiomorph/idiomorph.min.js")


_NAMED = re.compile(r"\{\w+\}")
# path of each route, by its name: told once by the application, which knows the pages
_PATHS: dict[str, str] = {}


def know(routes: Iterable[tuple[str, str]]) -> None:
    """Name and path of each route that `to` may be asked for."""
    _PATHS.update(routes)


def query(**values: object) -> str:
    """A query of what is not empty."""
    return "?" + urlencode({k: v for k, v in values.items() if v}, quote_via=quote)


def to(route: str, *parts: object, **asked: object) -> str:
    """Address of a route: what its path names, in order, and a query of what is not empty.

    Raises KeyError for a route that is not there, ValueError where the path names more or less.
    """
    pieces = _NAMED.split(_PATHS[route])
    filled = [
        f"{piece}{quote(str(part), safe='')}" for piece, part in zip(pieces, (*parts, ""), strict=True)
    ]
    return "".join(filled) + (query(**asked) if any(asked.values()) else "")


def photo(build: int, name: str) -> str:
    """Address of a photo, by the name that the plan has for it."""
    return to("photo", build, name.removeprefix("photo-"))


def kept(values: Mapping[str, str], but: str = "") -> Markup:
    """What a link keeps of the query it stands in, to be put behind it."""
    rest = urlencode({k: v for k, v in values.items() if k != but})
    return escape("&" + rest) if rest else Markup("")


def remedies(build: int, finding: Finding) -> str:
    """Where the remedies of a finding are worked out."""
    return to("remedies", build, code=finding.code, place=finding.place, other=finding.other)


def reading_field(wanted: Wanted) -> str:
    """The field of a reading that is worth taking."""
    axis = 1 if wanted.axis == "half-width" else 2
    group = "starboard" if getattr(wanted, "starboard", False) else "lines"
    return slug(f"hull/{group}/{step(wanted.line)}/points/{wanted.station}/{axis}")


def batten(middle: float, width: float = 1280.0) -> str:
    """Path of a batten sprung over the page that one is on, in the drawing's own units."""
    c, low, end = middle, 0.4 * middle, middle + 0.4 * (width - middle)
    return (
        f"M0 12C{low:.0f} 12 {c - 90} 14 {c - 55} 10S{c - 22} 4 {c} 4S{c + 33} 7 {c + 55} 10"
        f"S{end:.0f} 13 {width:.0f} 12"
    )
