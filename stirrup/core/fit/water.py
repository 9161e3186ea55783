"""Which way water runs while she lies at rest, on a floor and on the bottom beside what runs along it: the
fall as built and her trim together."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise

from stirrup.core.afloat.report import FloatReport
from stirrup.core.contract.dam import Dam
from stirrup.core.contract.gives import Floor
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.plan.placed import Placed

declare(
    "layout",
    {
        "FLOOR-DRAINS": "which way water runs on a floor",
        "BESIDE-DRAINS": "which way water runs beside a stringer",
    },
    acceptable=True,
    pace="behind",
)

LEAST_FALL_DEG = 0.5
MOST_FALL_DEG = 5.0  # that a floor is offered
SPARE_DEG = 0.1
LEAST_STANDS_M = 0.1  # a flat stretch that is shorter holds a spoonful
OUTLET_M = 0.04  # of a limber hole that is offered


def drains(things: Iterable[Placed], reports: Mapping[str, FloatReport]) -> list[Finding]:
    """Of each floor and of all that runs along the bottom, whether water runs aft, where the bilge is, as
    she lies planned and empty."""
    report = reports.get(PLANNED_EMPTY)
    if report is None:
        return []
    there = [t for t in things if not t.built.stays]
    beside = [f for t in there if t.built.dams and (f := _beside(t, report.trim_deg)) is not None]
    return beside + [
        _runs(thing, floor, report.trim_deg)
        for thing in there
        for floor in thing.built.floors
        # rain runs off a raised deck all round
        if floor.broad and floor.below is None and not floor.region.is_empty
    ]


def _runs(thing: Placed, floor: Floor, trim_deg: float) -> Finding:
    """Source: docs/trade-rules.md, “Floors”."""
    own = math.degrees(math.atan(floor.rise))
    real = own + trim_deg
    values = {"real": Quantity(abs(real), "deg"), "least": Quantity(LEAST_FALL_DEG, "deg"),
              "case": Quantity(abs(trim_deg), "deg")}  # fmt: skip
    work = Working(
        "fall aft = its own fall + trim, bow up",
        (Input("its own fall", Quantity(own, "deg")),
         Input("trim, bow up", Quantity(trim_deg, "deg"), PLANNED_EMPTY)),
        Quantity(real, "deg"), "rules of the trade, “Floors”",
    )  # fmt: skip
    trims = f"she trims {{case}} by the {'stern' if trim_deg >= 0 else 'bow'}"
    name = plain(thing.title)
    if real >= LEAST_FALL_DEG - 1e-9:
        return Finding("FLOOR-DRAINS", "fine", thing.id, "Water runs aft",
                       f"Planned and empty {trims}: {name} falls aft by {{real}}; {{least}} are enough.",
                       values, working=work)  # fmt: skip
    wanted = round(LEAST_FALL_DEG - trim_deg + SPARE_DEG, 1)
    fixes: Sequence[Fix] = ()
    if "fall" in type(thing.choices).model_fields and wanted <= MOST_FALL_DEG:
        values |= {"wanted": Quantity(wanted, "deg")}
        path = (thing.kind.group, thing.id)
        key = "lies" if not floor.rise else "fall"
        value = "falls aft" if not floor.rise else wanted
        text = "Let it fall aft" if not floor.rise else "Let it fall aft by {wanted}"
        fixes = (Fix(text, path=(*path, key), value=value),)
    stands = real > -LEAST_FALL_DEG
    return Finding(
        "FLOOR-DRAINS", "look", thing.id, "Water stands on it" if stands else "Water runs forward",
        f"Planned and empty {trims}: "
        + (f"{name} falls by {{real}} {'aft' if real >= 0 else 'forward'}; {{least}} let water run off."
           if stands else f"{name} falls forward by {{real}}, away from the bilge."),
        values,
        "Let it fall aft, trim her further by the stern, or put a drain where the water gathers.", work,
        fixes=tuple(fixes),
    )  # fmt: skip


def flat_stretches(dam: Dam, trim_deg: float, least_deg: float) -> list[tuple[float, float]]:
    """Where the bottom along it falls aft by less than `least_deg` as she trims (bow up +): from, to, from
    its aft end in plan [m]. Stretches through which its outlets let water are left out."""
    up, limit = math.tan(math.radians(trim_deg)), math.tan(math.radians(least_deg))
    out: list[tuple[float, float]] = []
    s = 0.0
    for (x0, y0, z0), (x1, y1, z1) in pairwise(dam.foot):
        long = math.hypot(x1 - x0, y1 - y0)
        if (z1 - z0) + (x1 - x0) * up < limit * long - 1e-9:
            joins = bool(out) and abs(out[-1][1] - s) < 1e-9
            out = [*out[:-1], (out[-1][0], s + long)] if joins else [*out, (s, s + long)]
        s += long
    return [(a, b) for a, b in out
            if b - a >= LEAST_STANDS_M and not any(a <= q <= b for q in dam.outlets)]  # fmt: skip


def _beside(thing: Placed, trim_deg: float) -> Finding | None:
    """Source: docs/trade-rules.md, “Stringers”."""
    stands = [(d, *max(found, key=lambda ab: ab[1] - ab[0]))
              for d in thing.built.dams
              if (found := flat_stretches(d, trim_deg, LEAST_FALL_DEG))]  # fmt: skip
    trims = f"Planned and empty she trims {{case}} by the {'stern' if trim_deg >= 0 else 'bow'}"
    values = {"case": Quantity(abs(trim_deg), "deg"), "least": Quantity(LEAST_FALL_DEG, "deg")}
    if not stands:
        return Finding("BESIDE-DRAINS", "fine", thing.id, "Water beside it runs off",
                       f"{trims}: the bottom along it falls aft by {{least}} at least, or holes let the "
                       "water through where it lies flatter.", values)  # fmt: skip
    dam, low, high = max(stands, key=lambda found: found[2] - found[1])
    start = dam.foot[0][0]
    values |= {"from": Quantity(start + low, "m"), "to": Quantity(start + high, "m"),
               "wide": Quantity(OUTLET_M, "m", True)}  # fmt: skip
    path = (thing.kind.group, thing.id)
    fixes: tuple[Fix, ...] = ()
    if "limber" in type(thing.choices).model_fields:
        every = getattr(thing.choices, "limber_every", None)
        if not thing.choices.limber:
            fixes = (Fix("Limber holes of {wide}", path=(*path, "limber"), value=OUTLET_M),)
        elif every is not None and every / 2 >= LEAST_STANDS_M:
            fixes = (Fix("Limber holes twice as close", path=(*path, "limber_every"),
                         value=round(every / 2, 3)),)  # fmt: skip
    return Finding(
        "BESIDE-DRAINS", "look", thing.id, "Water stands beside it",
        f"{trims}: from {{from}} to {{to}} from the transom the bottom along it falls aft by less than "
        "{least}, and no hole lets the water through.",
        values, "Let it through there: a limber hole, or a gap in the bed or between stitches.",
        fixes=fixes,
    )  # fmt: skip
