"""What follows from a change that is not made: asked for at every step of a hand that drags.

At first only what keeps up with it; a moment later, when it rests, what comes behind. What the page
holds already is not sent again, see `web.drawing.patch`.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import Any, Literal

from fastapi import APIRouter
from fastapi.responses import JSONResponse
from pydantic import Field

from stirrup.core.arrange.snap import Snap
from stirrup.core.buying import Spent
from stirrup.core.derive import Derived, derive, derive_live, followed_by
from stirrup.core.errors import GivenUpError
from stirrup.core.memo import ByIdentity, Memo, Scratch, passing, swept
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.changes import apply
from stirrup.core.plan.model import PLANNED_EMPTY, LoadCase, Plan
from stirrup.core.units import Units
from stirrup.store.glance import Glance, at_a_glance
from stirrup.web.drawing.patch import patch
from stirrup.web.gate import GateRoute
from stirrup.web.pages.api import ChangeAsked, change_of, moved_texts, new_case, value_text
from stirrup.web.pages.arranging import guides
from stirrup.web.pages.floating import float_views
from stirrup.web.pages.frame import Viewer, chosen_case, strip_context, viewer_of, worked_out, worst_afloat
from stirrup.web.pages.layout import (
    MOST_DRAGGED,
    VIEWS,
    Listed,
    ViewName,
    chosen_ids,
    drawings_for,
    findings_for,
    thing_facts,
)
from stirrup.web.pages.survey import chosen_line, line_drawings
from stirrup.web.problems import PROBLEMS, Problem
from stirrup.web.render import fragment, macro
from stirrup.web.screen import CURRENT

router = APIRouter(route_class=GateRoute, prefix="/api", responses=PROBLEMS)

MOST_HANDS = 60  # that drag at the same time; one more only loses what it knew behind it
IDLE_S = 30.0  # after so long nobody holds anything any more
LOOK_S = 0.5
# drawings of stored revisions: what an answer is told against
BASES = Memo(60)
# most findings stay the objects they are from one step to the next
ENTRIES = ByIdentity(2000)


class PreviewAsked(ChangeAsked):
    """A change to be looked at. pace: "live" is what keeps up with a hand, "behind" is everything.

    hand: tells the windows that drag from one another; step: counts what it asks for, a later one
    makes whoever works at an earlier one give up. has: mark of each drawing that the page holds.
    listing: whether the findings are told, and what it costs is counted anew: nobody reads what changes at
    every step. views: drawings of the layout that are told, None for all: the one that the hand is in is
    drawn at every step, the others now and then.
    """

    pace: Literal["live", "behind"] = "behind"
    hand: str = Field("", max_length=40)
    step: int = Field(0, ge=0)
    has: dict[str, str] | None = None
    listing: bool = True
    views: list[ViewName] | None = Field(None, max_length=len(VIEWS))


@dataclass
class Hand:
    """A window that drags: its latest step, what was found behind it last, of which revision, and what it
    cost when that was counted last."""

    step: int = 0
    seen: float = 0.0
    number: int = -1
    known: Derived | None = None
    spent: tuple[int, Spent] | None = None
    scratch: Scratch = field(default_factory=Scratch)
    glance: tuple[float, Glance] | None = None

    def look(self, build_id: int, asked: PreviewAsked) -> Glance:
        """What a step needs of the store, looked up twice a second while the hand moves: nothing is stored
        here, and who stores something tells the page."""
        now = time.monotonic()
        if asked.pace == "live" and self.glance is not None:
            since, there = self.glance
            if there.number == asked.base and now - since < LOOK_S:
                return there
        found = at_a_glance(build_id)
        self.glance = now, found
        return found


@dataclass
class Hands:
    """Every window that drags now. What is forgotten here costs a soft figure, nothing else."""

    lock: threading.Lock = field(default_factory=threading.Lock)
    of: dict[tuple[int, str], Hand] = field(default_factory=dict)

    def at(self, build_id: int, asked: PreviewAsked) -> Hand:
        """The hand that asks, gone on to its step."""
        if not asked.hand:
            return Hand()
        key = (build_id, asked.hand)
        with self.lock:
            hand = self.of.pop(key, None) or Hand()
            hand.seen = now = time.monotonic()
            self.of[key] = hand
            # the one that asked longest ago is the first
            while len(self.of) > MOST_HANDS or now - next(iter(self.of.values())).seen > IDLE_S:
                del self.of[next(iter(self.of))]
            hand.step = max(hand.step, asked.step)
            if asked.pace == "live":
                hand.scratch.step()
            return hand


HANDS = Hands()
# one at a time: many threads that compute only take turns, each slower than all in a row
WORKING = threading.Semaphore(1)


def _ask(hand: Hand, asked: PreviewAsked) -> None:
    """Raises GivenUpError when the hand has gone on."""
    if hand.step > asked.step:
        raise GivenUpError


def _followed(
    plan: Plan, own: Catalogue, hand: Hand, asked: PreviewAsked, number: int, before: Derived, case: str
) -> Derived:
    """What follows from a plan, as far as is asked for."""
    if asked.pace == "behind":
        ask = partial(_ask, hand, asked) if asked.hand else (lambda: None)
        try:
            found = derive(plan, own, quick=True, ask=ask)
        except GivenUpError:
            raise Problem(409, "The hand has gone on", "Nobody waits for this.", code="given up") from None
        if asked.hand:
            hand.known, hand.number = found, number
        return found
    known = hand.known if hand.known is not None and hand.number == number else before
    worst = worst_afloat(known)
    names = [case, *([worst.name] if worst else [])]
    counted = None if asked.listing or hand.spent is None or hand.spent[0] != number else hand.spent[1]
    live = derive_live(plan, own, names, counted)
    hand.spent = number, live.spent
    return followed_by(live, known)


Draw = Callable[[Derived, LoadCase, tuple[Snap, ...]], Mapping[str, str]]


def _draw(asked: PreviewAsked, who: Viewer, wanted: Sequence[ViewName] = VIEWS) -> Draw:
    """How the page that asks draws its views. wanted: which ones of the layout's."""

    def draw(derived: Derived, case: LoadCase, snaps: tuple[Snap, ...]) -> Mapping[str, str]:
        if asked.page == "survey":
            line = chosen_line(derived, asked.line)
            return line_drawings(derived, who.units, line, CURRENT.get().lines, asked.side)
        if asked.page == "float":
            return float_views(derived, case, who.units)
        return drawings_for(
            derived, case, who.units, asked.sel, asked.at, snaps, asked.room, asked.frame, wanted
        )

    return draw


def _base(asked: PreviewAsked, who: Viewer, draw: Draw, before: Derived) -> Mapping[str, str] | None:
    """The drawings of the stored revision; None for whoever cannot put an answer together."""
    if asked.has is None:
        return None
    look = (asked.page, asked.line, asked.side, asked.case, asked.sel, asked.at, asked.room, asked.frame)
    key = (id(before), look, who.units, CURRENT.get())

    def drawn() -> tuple[Derived, Mapping[str, str]]:
        return before, draw(before, chosen_case(before, asked.case), ())

    return BASES.get(key, drawn)[1]


@router.post("/builds/{build_id}/preview", name="api_preview")
def preview(build_id: int, asked: PreviewAsked) -> JSONResponse:
    """Drawings, findings and strip for a change that is not made."""
    hand = HANDS.at(build_id, asked)
    with WORKING:
        seen = hand.look(build_id, asked)
        who = viewer_of(seen.shop_id, seen.shop_name, seen.units)
        before = worked_out(seen.plan, who, seen.catalogue)
        base = _base(asked, who, _draw(asked, who), before)
        draw = _draw(asked, who, VIEWS if asked.views is None else asked.views)
        with passing(hand.scratch):
            answer = JSONResponse(_answer(asked, hand, seen, who, before, draw, base))
        swept(hand.scratch)
        return answer


def _answer(
    asked: PreviewAsked, hand: Hand, seen: Glance, who: Viewer, before: Derived, draw: Draw,
    base: Mapping[str, str] | None,
) -> dict[str, Any]:  # fmt: skip
    change, snaps = change_of(asked, seen.plan, who.units, seen.catalogue)
    plan = apply(seen.plan, change)
    name = new_case(change) or asked.case or PLANNED_EMPTY
    derived = _followed(plan, seen.catalogue, hand, asked, seen.number, before, name)
    case = chosen_case(derived, name)
    views: Mapping[str, Any] = draw(derived, case, snaps)
    if base is not None and asked.has is not None:
        views = {slot: patch(base[slot], view, asked.has.get(slot, "")) for slot, view in views.items()}
    strip = {**strip_context(derived, case, who.units, before), "brief": True}
    body: dict[str, Any] = {
        "number": seen.number,
        "read_as": value_text(plan, asked, change, who.units),
        "strip": fragment("partials/strip.html", strip),
        "views": views,
    }
    if asked.page not in ("survey", "float"):
        body["snaps"] = guides(snaps)
        body["fields"] = moved_texts(plan, asked, change, who.units)
        chosen = chosen_ids(plan, asked.sel)
        if asked.listing:
            body["facts"] = thing_facts(derived, chosen[0], who.units) if len(chosen) == 1 else ""
            body["findings"] = _told(findings_for(derived, chosen)[:MOST_DRAGGED], who.units)
    return body


def _told(findings: Sequence[Listed], units: Units) -> list[str]:
    """Entries of the list of findings; where there is none, one that says so."""

    def entry(of: Listed | None) -> str:
        return macro("partials/finding_brief.html", "entry", of, units)

    return [
        entry(one) if one.more else ENTRIES.get(one.first, units, partial(entry, one)) for one in findings
    ] or [entry(None)]
