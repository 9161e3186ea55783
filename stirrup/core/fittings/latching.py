"""Latches: whether one holds what it goes through, and where it goes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.parts.entries import Latch

declare("layout", {"LATCH-GRIP": "grip of the latch", "LATCH-PLACE": "where the latch goes",
                   "CATCH": "what the latch catches on"}, acceptable=True)  # fmt: skip

TUNED_M = 0.003  # that a slot takes up, either way: working value
CAUGHT_M = 0.008  # of the tongue under the landing: working value
WRENCH_ROOM_M = 0.011  # between a latch body and the frame: 10 to 12 mm
SCREWS_IN_LATCH = 4


def latch_offset_m(landing: float, gap: float, latch: Latch) -> float:
    """Centre of the latch body from the lid's edge [m].

    Landing covered by the lid + half the body below it + room for the wrench.
    Source: docs/trade-rules.md, “Hatches”.
    """
    return (landing - gap) + latch.underside / 2 + WRENCH_ROOM_M


def latch_grip(
    place: str, what: str, layers: Sequence[tuple[str, float]], latch: Latch, catalogue: Catalogue,
    thinner: tuple[str, Fix] | None = None, more: Mapping[str, Quantity] | None = None,
) -> Finding:  # fmt: skip
    """Whether a latch holds the sum of its layers [m]; what: they are called.

    thinner: what else makes too much less, in words and as a change; more: values for its words.
    """
    grip = sum(t for _, t in layers)
    working = Working(
        "grip = " + " + ".join(name for name, _ in layers),
        tuple(Input(name, Quantity(t, "m", True), "stock") for name, t in layers),
        Quantity(grip, "m", True),
        "grip range: starting value, the maker's data sheet decides",
    )
    values = {
        "grip": Quantity(grip, "m", True),
        "low": Quantity(latch.grip_min, "m", True),
        "high": Quantity(latch.grip_max, "m", True),
        "pad": Quantity(max(latch.grip_min - grip, 0.0), "m", True),
        **(more or {}),
    }
    text = f"{what} make {{grip}}; the body takes {{low}} to {{high}}."
    if latch.grip_min - 1e-9 <= grip <= latch.grip_max + 1e-9:
        return Finding("LATCH-GRIP", "fine", place, "Latch grips", text, values, working=working)
    fixes = []
    if grip < latch.grip_min:
        remedy = "Put a pad of {pad} under it, or take a thinner body."
    else:
        remedy = "Take a longer body."
        if thinner is not None:
            remedy, fix = thinner
            fixes.append(fix)
    others = [i for i in catalogue.of(Latch) if i.grip_min - 1e-9 <= grip <= i.grip_max + 1e-9]
    if others:
        remedy += f" Of the latches in stock, {others[0].name} holds it."
        fixes.append(Fix(f"Take {others[0].name}", path=("fittings", place, "latch"), value=others[0].id))
    title = "Latch sits outside its grip"
    return Finding("LATCH-GRIP", "mend", place, title, text, values, remedy, working, fixes=tuple(fixes))


def latch_place(place: str, what: str, landing: tuple[float, str], gap: float, latch: Latch,
                offset: float) -> Finding:  # fmt: skip
    """Where to drill for a latch; landing: as it is built, and where that comes from; offset: from the edge
    of what it is in [m]."""
    return Finding(
        "LATCH-PLACE",
        "fine",
        place,
        "Where to drill for the latch",
        f"Middle of the {{body}} hole {{offset}} from the {what}'s edge.",
        {"body": Quantity(latch.body, "m"), "offset": Quantity(offset, "m", True)},
        working=Working(
            "offset = (landing - gap) + underside / 2 + wrench room",
            (
                Input("landing", Quantity(landing[0], "m", True), landing[1]),
                Input("gap", Quantity(gap, "m", True)),
                Input("underside of the body", Quantity(latch.underside, "m", True), "maker"),
                Input("wrench room", Quantity(WRENCH_ROOM_M, "m", True), "starting value"),
            ),
            Quantity(offset, "m", True),
            "rules of the trade, “Hatches”",
        ),
    )


def latch_catch(place: str, landing: float, latch: Latch) -> Finding:
    """What the tongue catches on: how much is filled or taken off under the landing, and whether it
    reaches that. landing: thickness of what it catches under [m].

    Source: docs/trade-rules.md, “Hatches”.
    """
    fill = latch.catch_drop - landing
    inward = latch.underside / 2 + WRENCH_ROOM_M  # from the latch's middle to the landing's edge
    over = latch.reach - inward
    values = {"drop": Quantity(latch.catch_drop, "m", True), "landing": Quantity(landing, "m", True),
              "fill": Quantity(abs(fill), "m", True), "over": Quantity(over, "m", True),
              "block": Quantity(max(CAUGHT_M - over, 0.0), "m", True)}  # fmt: skip
    work = Working(
        "fill = tongue under the lid - landing; over = reach - (underside / 2 + wrench room)",
        (Input("tongue under the lid", Quantity(latch.catch_drop, "m", True), "maker"),
         Input("landing", Quantity(landing, "m", True)),
         Input("reach", Quantity(latch.reach, "m", True), "maker")),
        Quantity(fill, "m", True), "rules of the trade, “Hatches”",
    )  # fmt: skip
    if fill < -TUNED_M:
        return Finding("CATCH", "mend", place, "Its tongue comes over the landing",
                       "The tongue lies {drop} under the lid, and the landing is {landing}: trim {fill} "
                       "off the landing under it.", values,
                       "Trim it, or take a latch with a deeper tongue.", work)  # fmt: skip
    how = "Fill {fill} under the landing with a catch plate" if fill > TUNED_M else "It catches as it is"
    text = (
        f"{how}; set the plate in the middle of its slot, so that it is tuned both ways. Keep the body "
        "from turning: a rebate in wood, adhesive or a screw at an angle in sheet."
    )
    if latch.reach > 0 and over < CAUGHT_M:
        return Finding("CATCH", "look", place, "The lip is too far for its tongue",
                       text + " A catch block of {block} brings the lip to it.", values,
                       "Put the block on the landing, or take a latch that reaches further.",
                       work)  # fmt: skip
    return Finding("CATCH", "fine", place, "What the latch catches on", text, values, working=work)
