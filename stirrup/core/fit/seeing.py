"""What the helmsman sees: the water ahead over the bow, and a screen's edge in his line of sight.

Limits: docs/trade-rules.md, “People”; what it leaves open is marked as a working value.
"""

from __future__ import annotations

from stirrup.core.contract.gives import Pane
from stirrup.core.findings import Finding, Fix, Level, Quantity, declare
from stirrup.core.fit.body import STATURES, pose
from stirrup.core.fit.crew import Aboard, number, who, working
from stirrup.core.fit.sight import Outlook, pane_over_m, sight_line
from stirrup.core.plan.placed import Placed

declare(
    "layout",
    {"EYE-LINE": "water hidden by the bow", "SCREEN": "a screen's edge in the line of sight"},
    acceptable=True,
    pace="behind",
)

BLIND_LENGTHS = 3.0  # working value: farther than this is worth a look
SCREEN_EDGE_M = 0.05  # working value: an edge this near the level line of sight cuts the view
CLEAR_EDGE_M = SCREEN_EDGE_M + 0.001  # where a remedy puts it


def _hidden_from(one: Aboard, outlook: Outlook) -> list[tuple[str, Quantity]]:
    """How much water somebody short, middling and tall would not see from the same place."""
    out = []
    for word, stature in STATURES.items():
        person = one.person.model_copy(update={"stature": stature})
        line = sight_line(pose(person, one.floor_m).eye, person.at[1], outlook)
        hidden = Quantity(0, "all of it") if line.blind_m is None else number(line.blind_m)
        out.append((f"hidden from somebody {word} there", hidden))
    return out


def eye_line(one: Aboard, outlook: Outlook, console: Placed, quick: bool = False) -> Finding:
    """How much water ahead of her is hidden from whoever steers at a console."""
    line = sight_line(one.pose.eye, one.person.at[1], outlook)
    trim = outlook.trim_deg
    values = {
        "trim": Quantity(trim, "deg"),
        "blind": number(line.blind_m or 0.0),
        "lengths": Quantity(round(line.lengths or 0.0, 1), "count"),
    }
    told = working(
        "ray from the eye over the highest point ahead, down to the water; running trim is typed in",
        [
            ("eye over the keel line", number(line.eye[1])),
            ("hidden by a point at", number(line.over[1])),
            ("from the transom", number(line.over[0])),
            ("bow up, with the running trim", values["trim"]),
            *([] if quick else _hidden_from(one, outlook)),
        ],
        values["blind"],
    )
    if line.blind_m is None:
        return Finding(
            "EYE-LINE",
            "mend",
            console.id,
            "Bow hides the water",
            f"{who(one)}: with the bow {{trim}} up no water is seen ahead.",
            values,
            "Raise the seat, or bring weight forward so that she runs flatter.",
            told,
        )
    level: Level = "fine" if (line.lengths or 0) <= BLIND_LENGTHS else "look"
    title = "Sees the water ahead" if level == "fine" else "Bow hides much of the water"
    text = f"{who(one)}: with the bow {{trim}} up the water is hidden for {{blind}} ahead of the stem, "
    return Finding(
        "EYE-LINE",
        level,
        console.id,
        title,
        text + "{lengths} boat lengths.",
        values,
        "" if level == "fine" else "Raise the seat, or bring weight forward.",
        told,
    )


def screen_edge(one: Aboard, trim_deg: float, screen: Placed, pane: Pane) -> Finding:
    """Whether one looks clearly over a screen or clearly through it. trim: bow up when she runs."""
    top = pane.top_m
    over = pane_over_m(one.pose.eye, pane, trim_deg)
    values = {
        "off": number(abs(over)),
        "lower": number(CLEAR_EDGE_M + over),
        "higher": number(CLEAR_EDGE_M - over),
        "play": number(SCREEN_EDGE_M),
    }
    if abs(over) < SCREEN_EDGE_M:
        return Finding(
            "SCREEN",
            "look",
            screen.id,
            "The screen's edge cuts the view",
            f"{who(one)}: its upper edge is {{off}} {'over' if over > 0 else 'under'} the level line "
            "of sight; {play} or more either way is good.",
            values,
            "Make it {lower} lower to look over it, or {higher} higher to look through it.",
            fixes=tuple(
                Fix(words, screen.id, edge="top", value=top - over + clear)
                for words, clear in (
                    ("Make it {lower} lower", -CLEAR_EDGE_M),
                    ("Make it {higher} higher", CLEAR_EDGE_M),
                )
            ),
        )
    way = "through" if over > 0 else "over"
    text = (
        f"{who(one)}: its upper edge is {{off}} {'over' if over > 0 else 'under'} the level line of sight."
    )
    return Finding("SCREEN", "fine", screen.id, f"Looks {way} the screen", text, values)
