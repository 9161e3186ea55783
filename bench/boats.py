"""Made-up builds of eighty things: decks, hatches, items and tanks; and of eighty fittings."""

from __future__ import annotations

from typing import Any

from stirrup.core.plan.model import Plan
from stirrup.demo.seed import demo_plan
from stirrup.exchange.buildfile import from_data

DECKS = (
    ("bow", 3.60, 4.62, 0.46),
    ("mid-fore", 2.75, 3.50, 0.42),
    ("mid-aft", 1.50, 2.20, 0.40),
    ("aft", 0.04, 0.86, 0.45),
)
FORMS = ("battery", "cooler", "locker", "box", "seat")


def _hatches() -> list[dict[str, Any]]:
    out: list[dict[str, Any]] = []
    for name, aft, fore, _ in DECKS:
        for k in range(5):
            x, y = (aft + fore) / 2 + 0.16 * (-1) ** k * (k < 4), -0.4 + 0.2 * k
            out.append(
                {
                    "kind": "hatch",
                    "id": f"hatch-{name}-{k}",
                    "name": f"Hatch {name} {k}",
                    "mark": f"H{len(out) + 1}",
                    "deck": f"deck-{name}",
                    "x": round(x, 3),
                    "y": round(y * (0.5 if name == "bow" else 1), 3),
                    "clear_length": 0.14,
                    "clear_width": 0.12,
                }
            )
    return out


def crowded_plan() -> Plan:
    """The demo's hull with all of it; a few things in one another's way, as in life."""
    data: dict[str, Any] = demo_plan("sedge-hopper.stirrup.json").model_dump(mode="json")
    data["name"] = "Crowded"
    for key in OF_THINGS:
        data[key] = []
    data["fittings"] = [
        {
            "kind": "raised_deck",
            "id": f"deck-{name}",
            "name": f"Deck {name}",
            "mark": f"D{k + 1}",
            "aft": aft,
            "fore": fore,
            "height": height,
            "spacing": 0.35,
        }
        for k, (name, aft, fore, height) in enumerate(DECKS)
    ] + _hatches()
    items = [i for i in data["items"] if i["group"] == "motor"][:2]
    # a neat floor of boxes low enough to stand under the decks, a few of them turned
    for k in range(50 - len(items)):
        row, column = divmod(k, 12)
        low = 0.10 + 0.02 * (row in (0, 3)) + max(0.0, 0.32 * (column - 8) * 0.1)
        items.append(
            {
                "id": f"item-{k}",
                "name": f"thing {k}",
                "form": FORMS[k % 5],
                "size": [0.22, 0.20, 0.14],
                "stage": "added",
                "turn": 10.0 * (k % 4 == 3),
                "mass": {
                    "value": 4.0 + k % 5,
                    "centre": [
                        round(0.25 + 0.32 * column, 3),
                        round(-0.48 + 0.32 * row, 3),
                        round(low + 0.07, 3),
                    ],
                },
            }
        )
    data["items"] = items
    data["tanks"] += [
        {
            "id": f"tank-{k}",
            "name": f"tank {k}",
            "size": [0.3, 0.3, 0.1],
            "floor_centre": [1.8 + 0.35 * k, 0.0, 0.06],
            "liquid": "fresh water",
        }
        for k in range(4)
    ]
    return from_data(data)


LONG_X = (0.0, 2.0, 4.0, 6.0, 8.0, 9.5, 11.0, 12.0)
LONG_LINES: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = {  # half-breadths and heights [m]
    "keel": ((0.0,) * 8, (0.0, 0.0, 0.0, 0.0, 0.0, 0.02, 0.15, 0.6)),
    "chine": ((1.6, 1.7, 1.7, 1.7, 1.65, 1.45, 0.9, 0.03), (*(0.25,) * 5, 0.3, 0.45, 0.75)),
    "sheer": ((1.7, 1.8, 1.8, 1.8, 1.75, 1.55, 1.0, 0.04), (*(1.0,) * 5, 1.05, 1.15, 1.3)),
}
CRATES: tuple[dict[str, Any], ...] = (
    {"kind": "seat_box", "length": 0.45, "width": 0.32, "height": 0.4},
    {"kind": "locker_box", "length": 0.5, "width": 0.30, "height": 0.35},
    {"kind": "step_box", "length": 0.35, "width": 0.30, "height": 0.2},
    {"kind": "console_box", "length": 0.45, "width": 0.32, "height": 0.9},
)
OF_THINGS = ("cut", "stood", "fitted")  # what the demo says of things that are not in these boats
EMPTY_LISTS = ("items", "tanks", "buoyancy", "existing", "cases", "measured", "condition", *OF_THINGS)


def _fitted() -> list[dict[str, Any]]:
    """Two decks, six hatches in each, a floor and 65 boxes on it."""
    out: list[dict[str, Any]] = []
    for mark, aft in (("D1", 0.1), ("D2", 9.4)):
        out.append({"kind": "raised_deck", "id": f"deck-{mark}", "name": mark, "mark": mark, "aft": aft,
                    "fore": aft + 1.8, "height": 0.75})  # fmt: skip
        for k in range(6):
            name = f"H{len(out)}"
            out.append({"kind": "hatch", "id": name, "name": name, "mark": name, "deck": f"deck-{mark}",
                        "x": aft + 0.5 + 0.75 * (k // 3), "y": 0.55 * (k % 3 - 1), "clear_length": 0.3,
                        "clear_width": 0.25})  # fmt: skip
    out.append({"kind": "floor", "id": "floor", "name": "Floor", "mark": "F1", "aft": 2.1, "fore": 9.2,
                "height": 0.3})  # fmt: skip
    for k in range(65):
        row, column = divmod(k, 13)
        out.append({**CRATES[k % len(CRATES)], "id": f"box-{k}", "name": f"Box {k}", "mark": f"K{k + 1}",
                    "on": "floor", "x": round(2.4 + 0.53 * column, 3),
                    "y": round(-1.1 + 0.5 * row, 3)})  # fmt: skip
    return out


def fitted_plan() -> Plan:
    """Eighty fittings of mixed kinds side by side in a boat of 12 m."""
    data: dict[str, Any] = demo_plan("sedge-hopper.stirrup.json").model_dump(mode="json")
    lines = [
        {"name": name, "points": list(zip(LONG_X, *line, strict=True))} for name, line in LONG_LINES.items()
    ]
    data["hull"] |= {"lines": lines, "starboard": None}
    data |= {"name": "Fitted", "label": None, "arrangement": {}, **{name: [] for name in EMPTY_LISTS}}
    return from_data({**data, "fittings": _fitted()})
