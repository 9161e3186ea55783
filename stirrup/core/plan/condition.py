"""What a survey finds wrong, and what is done about it. Who reads: the condition sheet."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import Field

from stirrup.core.document import Document, Id, Point
from stirrup.core.quantities import Length

Wrong = Literal[
    "wet", "rotten", "cracked", "corroded", "old hole", "water lay here", "dry laminate", "bad bond",
    "wrong fastener", "bad weld",
]  # fmt: skip
WRONG: tuple[str, ...] = get_args(Wrong)

# the usual way with each; what a maker or a surveyor says goes before it
REMEDY: dict[str, str] = {
    "wet": "Open it until the core is dry to the touch and light in colour, let it dry for weeks under a "
    "tent, renew what is soft.",
    "rotten": "Cut back to sound wood and a hand further; find where the water came in before anything is "
    "closed.",
    "cracked": "Drill the ends of the crack (metal) or grind it to a taper (laminate): repair of a "
    "laminate, or weld by a qualified welder.",
    "corroded": "Clean to bright metal and measure what is left of the thickness; find the metal, wire or "
    "wet timber that did it.",
    "old "
    "hole": "Weld it shut (metal), or taper both sides and fill with laminate; putty alone does not hold.",
    "water lay here": "Give it a fall and a limber, or close it off dry with a plug to look in.",
    "dry "
    "laminate": "White, rough fibre that a nail lifts: grind it off to what is wetted through and laminate "
    "anew; no resin soaks in afterwards.",
    "bad "
    "bond": "Tap it: a dull sound marks how far. Cut the tab off, grind both sides, bed and tab it anew.",
    "wrong "
    "fastener": "Out with it; drill for the next size in the right alloy, isolate mixed metals, set it "
    "wet.",
    "bad weld": "Grind it out to sound metal, clean, and have it welded anew; cold laps and pores leak and "
    "crack.",
}


class Place(Document):
    """Something found in the survey: where, what kind, what was removed there."""

    id: Id
    kind: Wrong = "wet"
    at: Point
    size: Length = Field(0.1, gt=0, le=10, title="About this large across")
    note: str = Field("", max_length=200)
    photo: Id | None = None
    removed: Id | None = Field(None, description="id of the item that was taken out here")
