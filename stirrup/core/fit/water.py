"""Which way water runs on a floor while she lies at rest: its own fall and her trim together."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence

from stirrup.core.afloat.report import FloatReport
from stirrup.core.contract.gives import Floor
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.plan.model import PLANNED_EMPTY
from stirrup.core.plan.placed import Placed

declare("layout", {"FLOOR-DRAINS": "which way water runs on a floor"}, acceptable=True, pace="behind")

LEAST_FALL_DEG = 0.5
MOST_FALL_DEG = 5.0  # that a floor is offered
SPARE_DEG = 0.1


def drains(things: Iterable[Placed], reports: Mapping[str, FloatReport]) -> list[Finding]:
    """Of each floor, whether water runs aft on it, where the bilge is, as she lies planned and empty."""
    report = reports.get(PLANNED_EMPTY)
    if report is None:
        return []
    return [
        _runs(thing, floor, report.trim_deg)
        for thing in things
        if not thing.built.stays
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
