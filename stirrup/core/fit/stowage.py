"""Where gear has its home: whether it goes in, how full its home is, and what has none.

A box is full long before its litres are: what is put in by hand leaves gaps. Working value: three
quarters of them.
"""

from __future__ import annotations

from collections.abc import Sequence

from stirrup.core.contract.gives import Hold
from stirrup.core.findings import Finding, Input, Quantity, Working, declare, plain
from stirrup.core.fit.gear import lies_in
from stirrup.core.plan.model import Gear, Plan
from stirrup.core.plan.placed import Placed

declare(
    "layout",
    {"HOMES": "gear that has no home", "HOME-FITS": "gear in its home", "HOME-FULL": "how full a home is"},
    acceptable=True,
    pace="behind",
)

FULL = 0.75
LITRE = 0.001


def stowage_findings(plan: Plan, things: Sequence[Placed]) -> list[Finding]:
    """What is to be said of the gear's homes; nothing where none of it has one."""
    gear = plan.wishes.gear
    if not any(g.home for g in gear):
        return []
    there = {t.id: t for t in things}
    out: list[Finding] = []
    for id_ in dict.fromkeys(g.home for g in gear if g.home):
        mine = [g for g in gear if g.home == id_]
        thing = there.get(id_)
        if thing is None or not takes_gear(thing):
            out.append(_gone(mine, id_ if thing is not None else ""))
        elif thing.built.hold is not None:
            out += _in_box(thing, thing.built.hold, mine)
    return out + _homeless(gear)


def takes_gear(thing: Placed) -> bool:
    """Whether it has room for gear: a box with a lid or door, or a deck with room under it."""
    built = thing.built
    return built.hold is not None or any(f.below is not None for f in built.floors)


def _names(gear: Sequence[Gear]) -> str:
    return ", ".join(plain(g.name) for g in gear)


def _gone(mine: Sequence[Gear], place: str) -> Finding:
    return Finding(
        "HOME-FITS", "mend", place or mine[0].id, "Its home takes no gear",
        f"{_names(mine)}: what they were put into is gone, or has neither lid nor door.", {},
        "Choose another home for them, on the gear list.",
    )  # fmt: skip


def _in_box(thing: Placed, hold: Hold, mine: Sequence[Gear]) -> list[Finding]:
    large = [g for g in mine if not lies_in(g, hold)]
    out = [
        Finding("HOME-FITS", "mend", thing.id, "Does not go into its home",
                f"{plain(g.name)} is {{long}} by {{wide}} by {{high}}; inside are {{a}} by {{b}} by {{c}}.",
                {"long": Quantity(g.length, "m"), "wide": Quantity(g.width, "m"),
                 "high": Quantity(g.height, "m"), "a": Quantity(hold.clear[0], "m"),
                 "b": Quantity(hold.clear[1], "m"), "c": Quantity(hold.clear[2], "m")},
                "Make it larger, or choose another home for it.")
        for g in large
    ]  # fmt: skip
    return [*out, _fullness(thing, hold, [g for g in mine if g not in large])]


def _fullness(thing: Placed, hold: Hold, mine: Sequence[Gear]) -> Finding:
    a, b, c = hold.clear
    room = a * b * c / LITRE
    taken = sum(g.length * g.width * g.height for g in mine) / LITRE
    left = FULL * room - taken
    work = Working(
        "left = 3/4 of the inside - what is stowed",
        (Input("inside", Quantity(round(room, 1), "litres")),
         Input("stowed", Quantity(round(taken, 1), "litres"))),
        Quantity(round(left, 1), "litres"), "working value: what is put in by hand leaves gaps",
    )  # fmt: skip
    values = {
        "left": Quantity(round(abs(left), 1), "litres"),
        "kg": Quantity(sum(g.mass for g in mine), "kg"),
    }
    if left < 0:
        return Finding(
            "HOME-FULL", "look", thing.id, "Fuller than gear can be packed",
            f"{_names(mine)}: {{kg}}. They are {{left}} more than can be packed by hand.", values,
            "Give something another home, or make it larger.", work,
        )  # fmt: skip
    return Finding(
        "HOME-FULL", "fine", thing.id, "Room for what is stowed in it",
        f"{_names(mine) or 'Nothing'}: {{kg}}. {{left}} are left.", values, working=work,
    )  # fmt: skip


def _homeless(gear: Sequence[Gear]) -> list[Finding]:
    without = [g for g in gear if not g.home]
    if not without:
        return [Finding("HOMES", "fine", gear[0].id, "Everything has a home",
                        "{count} things, {kg} in all, count in every load case but the maker's label.",
                        {"count": Quantity(len(gear), "count"),
                         "kg": Quantity(sum(g.mass for g in gear), "kg")})]  # fmt: skip
    return [Finding("HOMES", "look", without[0].id, "Gear without a home",
                    f"{_names(without)}: {{kg}} that lie about, and count in no load case.",
                    {"kg": Quantity(sum(g.mass for g in without), "kg")},
                    "Give them a home on the gear list, or leave them ashore.")]  # fmt: skip
