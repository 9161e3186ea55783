"""What `./run derive` prints: parts, ledger, floats, findings, needs and cost as plain data."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from decimal import Decimal
from typing import Any

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding, Quantity
from stirrup.core.money.cost import Cost
from stirrup.core.units import (
    SYSTEMS,
    Units,
    write_area,
    write_density,
    write_length,
    write_mass,
    write_moment,
    write_power,
    write_room,
)
from stirrup.exchange.amounts import HARD, WRITTEN, written

NEWTONS_IN_LBF = 4.4482216


def say(quantity: Quantity, units: Units) -> str:
    """A quantity as plain text in the reader's units."""
    value, unit = quantity.value, quantity.unit
    if unit == "m":
        return write_length(value, units, quantity.finer)
    if unit == "kg":
        return write_mass(value, units)
    if unit == "deg":
        return f"{value:z.1f}°"
    if unit == "N":
        return f"{value / NEWTONS_IN_LBF:.0f} lbf" if units.mass == "lb" else f"{value:.0f} N"
    if unit == "h":
        return f"about {value:.0f} h" if value >= 20 else f"about {value:.1f} h"
    if unit == "count":
        return f"{value:g}"
    if unit == "money":
        return written(Decimal(repr(value)), "", WRITTEN.get()).replace(HARD, " ")
    if unit == "m2":
        return write_area(value, units)
    if unit == "m3":  # of the water, too, which a working multiplies by its density
        return f"{value:z.2f} m³" if units.length == "mm" else write_room(value, units)
    if unit == "kg·m":
        return write_moment(value, units)
    if unit == "kW":
        return write_power(value, units)
    if unit == "kg/m3":
        return write_density(value, units)
    return unit if value == 0 else f"{value:g} {unit}"


def sentence(finding: Finding, units: Units) -> str:
    """Text and remedy of a finding with the amounts put in."""
    values = {k: say(q, units) for k, q in finding.values.items()}
    text = f"{finding.text} {finding.remedy}" if finding.remedy else finding.text
    return text.format(**values)


def _parts(built: Sequence[Built]) -> dict[str, Any]:
    return {
        "panels": [
            {"key": p.key, "label": p.label, "name": p.name, "stock": p.stock,
             "outline_m": p.outline, "holes_m": p.holes, "mass_kg": p.mass_kg,
             "bends": [{"from_m": b.start, "to_m": b.end, "angle_deg": b.angle_deg,
                        "inside_radius_m": b.radius, "turn": b.turn, "up": b.up} for b in p.bends],
             "centre_m": p.centre}
            for b in built for p in b.panels
        ],
        "members": [
            {"key": m.key, "label": m.label, "name": m.name, "stock": m.stock,
             "length_m": m.length, "slots_m": m.slots, "opening_deg": m.opening_deg,
             "mass_kg": m.mass_kg, "centre_m": m.centre}
            for b in built for m in b.members
        ],
        "bought": [
            {"key": x.key, "label": x.label, "name": x.name, "item": x.item,
             "quantity": x.quantity, "mass_kg": x.mass_kg, "centre_m": x.centre}
            for b in built for x in b.bought
        ],
    }  # fmt: skip


def _needs(cost: Cost) -> list[dict[str, Any]]:
    return [
        {"item": line.item.id, "name": line.item.name, "unit": line.item.unit,
         "quantity": line.need.quantity, "spare": line.need.spare,
         "packs": [{"holds": p.quantity, "price": str(p.price), "count": n}
                   for p, n in line.packs],
         "cost": str(line.cost)}
        for line in cost.lines
    ]  # fmt: skip


def summary(derived: Derived) -> dict[str, Any]:
    """Everything derived, as JSON values; SI, money as text."""
    units, cost = SYSTEMS["mm"], derived.cost
    return {
        "name": derived.plan.name,
        "added_kg": derived.added_kg,
        "parts": _parts(derived.built),
        "ledger": [asdict(e) for e in derived.planned],
        "cases": [
            c.report.as_json() if c.report else {"case": c.name, "error": c.error} for c in derived.cases
        ],
        "findings": [
            {
                "code": f.code,
                "level": f.level,
                "place": f.place,
                "title": f.title,
                "text": sentence(f, units),
            }
            for f in derived.findings
        ],
        "needs": _needs(cost),
        "cost": {
            "net": str(cost.net),
            "tax": str(cost.tax),
            "total": str(cost.total),
            "budget": None if cost.budget is None else str(cost.budget),
        },
    }
