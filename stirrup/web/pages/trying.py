"""A panel tried in the boat: gaps typed at its marks become what is cut; forgotten again."""

from __future__ import annotations

from typing import Any

import numpy as np

from stirrup.core.cutting.refit import marks_of, refitted
from stirrup.core.errors import CoreError
from stirrup.core.parts.model import Panel
from stirrup.core.plan.changes import AddThing, RemoveThing, SetValue, Together
from stirrup.core.plan.fitted import MOST_GAP_M, Fitted
from stirrup.core.plan.model import Plan
from stirrup.core.units import Units, read_length_m, write_length
from stirrup.web.pages.frame import OpenBuild

EDGES = ("low", "high")


def known_fit(plan: Plan, key: str) -> Fitted | None:
    """What was read of a panel."""
    return next((f for f in plan.fitted if f.id == key), None)


def gaps_at(known: Fitted | None, places: tuple[float, ...]) -> list[tuple[float, float]]:
    """Gaps that a panel has taken over already, at places along it [m]."""
    if known is None:
        return [(0.0, 0.0)] * len(places)
    at = [m.at for m in known.marks]
    rows = [np.interp(places, at, [getattr(m, edge) for m in known.marks]) for edge in EDGES]
    return [(float(a), float(b)) for a, b in zip(*rows, strict=True)]


def _marks(opened: OpenBuild, panel: Panel, known: Fitted | None) -> tuple[bool, tuple[float, ...]]:
    """Its marks: those that it was read at first, once it was."""
    if known is not None:
        return known.upright, tuple(m.at for m in known.marks)
    return marks_of(panel, opened.units.length != "mm")


def trying_context(opened: OpenBuild, panel: Panel) -> dict[str, Any]:
    """Marks of a panel with what it has taken over."""
    known = known_fit(opened.plan, panel.key)
    upright, places = _marks(opened, panel, known)
    rows = [
        {"at": at, "low": low, "high": high}
        for at, (low, high) in zip(places, gaps_at(known, places), strict=True)
    ]
    return {"trying": {"upright": upright, "rows": rows, "known": known, "most": MOST_GAP_M}}


def _read(text: str, units: Units, mark: int, edge: str, upright: bool) -> float:
    names = ("left", "right") if upright else ("lower", "upper")
    if not text.strip():
        return 0.0
    try:
        gap = read_length_m(text, units)
    except CoreError as error:
        place = f"mark {mark + 1}, {names[edge == 'high']} edge"
        raise CoreError(f"{place}: {error.message}", f"{edge}-{mark}") from None
    if abs(gap) > MOST_GAP_M:
        most = write_length(MOST_GAP_M, units)
        raise CoreError(f"mark {mark + 1}, {names[edge == 'high']} edge: read {write_length(gap, units)}; "
                        f"accepted: up to {most} either way", f"{edge}-{mark}")  # fmt: skip
    return gap


def fitting_change(opened: OpenBuild, panel: Panel, typed: dict[str, str]) -> Together:
    """The panel drawn out by what was typed, on top of what it had taken over. Raises CoreError."""
    known = known_fit(opened.plan, panel.key)
    upright, places = _marks(opened, panel, known)
    had = gaps_at(known, places)
    marks, any_gap = [], False
    for k, at in enumerate(places):
        low, high = (_read(typed.get(f"{e}-{k}", ""), opened.units, k, e, upright) for e in EDGES)
        any_gap = any_gap or bool(low or high)
        if max(abs(had[k][0] + low), abs(had[k][1] + high)) > MOST_GAP_M:
            most = write_length(MOST_GAP_M, opened.units)
            raise CoreError(f"mark {k + 1}: with what was read before it is off by more than {most}; "
                            "measure the boat again there", f"low-{k}")  # fmt: skip
        marks.append(
            {"at": round(at, 5), "low": round(had[k][0] + low, 5), "high": round(had[k][1] + high, 5)}
        )
    if not any_gap:
        raise CoreError("type a gap at one mark at least; accepted: a length such as 3 mm, or -2 mm where "
                        "it was too large", "low-0")  # fmt: skip
    told = [(m["at"], m["low"] - h[0], m["high"] - h[1]) for m, h in zip(marks, had, strict=True)]
    if refitted(panel, upright, told) is panel:
        raise CoreError("that leaves nothing of it at some mark; look at the signs", "low-0")
    value: Any = {"id": panel.key, "thing": panel.fitting, "upright": upright, "marks": marks}
    step = AddThing(path=("fitted",), value=value) if known is None else SetValue(
        path=("fitted", panel.key), value=value)  # fmt: skip
    return Together(changes=(step,), words=f"{panel.label}: cut by how it was tried"[:200])


def forgotten(opened: OpenBuild, panel: Panel) -> RemoveThing | None:
    """The panel as it was planned again; None where nothing was read of it."""
    return RemoveThing(path=("fitted", panel.key)) if known_fit(opened.plan, panel.key) else None
