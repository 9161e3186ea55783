"""The window that a page is drawn for: words in drawings keep their size on paper and on glass.

The page tells the size of its window in a cookie; without one it is a desk's, or a telephone's when
the browser calls itself mobile. The widths are those that the style sheets give the drawings; what
they are off by, the page's own script makes up for in the size of the words, not in their places.
"""

from __future__ import annotations

import re
from contextvars import ContextVar

from starlette.requests import Request

from stirrup.core.record import dataclass

COOKIE = "stirrup-screen"
SIZE = re.compile(r"(\d{2,5})x(\d{2,5})")
FOLDS = 900  # px of window up to which the sheet stands under the drawing
SIDE_BY_SIDE = 720  # px up to which two pictures of a pair stand under one another
SHEET = 364.0
EDGES = 19.2  # of the drawing's column on a telephone
ROOM = 32.0  # the same at a desk


@dataclass(frozen=True)
class Screen:
    """Width and height of the window [px]."""

    width: int = 1280
    height: int = 800

    @property
    def folded(self) -> bool:
        """Whether everything stands in one column."""
        return self.width <= FOLDS

    @property
    def column(self) -> float:
        """Width of the drawing's column [px]."""
        return max(240.0, self.width - (EDGES if self.folded else SHEET + ROOM))

    @property
    def layout(self) -> float:
        """Width of profile and plan on the Layout page [px]: both stand over the strip."""
        if self.folded:
            return self.column
        wide = self.width - SHEET - 70.4
        return max(240.0, min(wide, (self.height - 210) * 1.42) if self.width >= 1100 else wide)

    @property
    def section(self) -> float:
        """Width of the section beside the plan [px]."""
        return self.column * 0.7 if self.folded else self.layout * 0.242

    @property
    def half(self) -> float:
        """Width of each of two pictures side by side, at a desk [px]."""
        return self.column if self.folded else self.column / 2

    @property
    def pair(self) -> float:
        """Width of two revisions beside one another [px]."""
        return self.column if self.width <= SIDE_BY_SIDE else self.column / 2 - 8

    @property
    def lines(self) -> tuple[float, float]:
        """Widths of the survey's long drawings, and of the body plan [px]."""
        return self.column, self.half

    @property
    def measure(self) -> tuple[float, float]:
        """The same while measuring: a telephone has them in one row over the form [px]."""
        if self.width > SIDE_BY_SIDE:
            return self.lines
        part = (self.width - EDGES) / 8
        return 3 * part, 2 * part

    @property
    def sheets(self) -> float:
        """Width of sheets and sticks on the Cuts page [px]."""
        page = min(960.0, self.width - (0 if self.folded else SHEET))
        return max(240.0, page - (26 if self.folded else 45))

    @property
    def scan(self) -> tuple[float, float]:
        """The same beside one another, as read from a scan [px]."""
        if self.width <= SIDE_BY_SIDE:
            return self.column, self.column
        return self.column * 0.6, self.column * 0.4

    @property
    def held(self) -> float:
        """Width of a prediction beside its measurement [px]."""
        return min(460.0, self.column if self.folded else self.column / 2 - 12)

    def share(self, part: float, gap: float = 14.4) -> float:
        """Width of a part of the Float page's column [px]; under one another when folded."""
        return self.column if self.folded else (self.column - gap) * part


DESK, TELEPHONE = Screen(), Screen(390, 844)
CURRENT: ContextVar[Screen] = ContextVar("screen", default=DESK)


def screen_of(request: Request) -> Screen:
    """The window of whoever asks."""
    found = SIZE.fullmatch(request.cookies.get(COOKIE, ""))
    if found:
        width, height = (min(max(int(v), 240), 8000) for v in found.groups())
        return Screen(width, height)
    return TELEPHONE if "Mobi" in request.headers.get("user-agent", "") else DESK
