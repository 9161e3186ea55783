"""The cut list as CSV: panels with their boxes, members with lengths and relief cuts."""

from __future__ import annotations

import csv
import io
import math

from stirrup.core.buying import scribe_notes
from stirrup.core.cutting.notes import member_notes, panel_notes, relief_note
from stirrup.core.derive import Derived
from stirrup.exchange.csvtext import safe

HEAD = ("label", "part", "stock", "length_mm", "width_mm", "pieces", "mass_kg", "notes", "cut")


def _mm(length_m: float) -> str:
    return f"{length_m * 1000:.0f}"


def _plain(notes: str) -> str:
    """Notes in signs that every program reads."""
    return notes.replace("°", " deg").replace("–", " to ")


def _is_cut(key: str, done: set[str]) -> str:
    return "yes" if key in done else ""


def cut_list(derived: Derived) -> str:
    """All panels and members of a build, one line each; boxes rounded up to 0.1 mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    done = {c.id for c in derived.plan.cut}
    scribed = scribe_notes(derived.sheets, derived.built, derived.plan, lambda x: f"{_mm(x)} mm")
    for built in derived.built:
        for p in built.panels:
            x0, y0, x1, y1 = p.polygon.bounds
            sides = sorted((x1 - x0, y1 - y0), reverse=True)
            length, width = (math.ceil(s * 1e4 - 1e-6) / 10 for s in sides)
            holes = [f"{len(p.holes)} holes"] if p.holes else []
            left = [scribed[p.key]] if p.key in scribed else []
            notes = "; ".join([*holes, *panel_notes(p, _mm), *left])
            writer.writerow([safe(p.label), safe(p.name), p.sheet.name, length, width, 1,
                             f"{p.mass_kg:.3f}", _plain(notes), _is_cut(p.key, done)])  # fmt: skip
        for m in built.members:
            said = [*member_notes(m, _mm), relief_note(m, _mm)]
            notes = _plain("; ".join(n for n in said if n))
            length = math.ceil(m.length * 1e4 - 1e-6) / 10
            writer.writerow([safe(m.label), safe(m.name), m.section.name, length, "", 1,
                             f"{m.mass_kg:.3f}", notes, _is_cut(m.key, done)])  # fmt: skip
    return out.getvalue()


def shopping_list(derived: Derived) -> str:
    """Needs, packs and cost as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("item", "needed", "unit", "spare", "packs", "cost"))
    for line in derived.cost.lines:
        packs = " + ".join(f"{n} x {p.quantity:g}" for p, n in line.packs)
        writer.writerow([safe(line.item.name), f"{line.need.quantity:g}", line.item.unit,
                         f"{line.need.spare:g}", packs, str(line.cost)])  # fmt: skip
    for thing, price in derived.cost.whole:
        writer.writerow([safe(thing.title), 1, "piece", 0, "1", "" if price is None else str(price)])
    writer.writerow(("total before tax", "", "", "", "", str(derived.cost.net)))
    writer.writerow(("tax", "", "", "", "", str(derived.cost.tax)))
    writer.writerow(("total", "", "", "", "", str(derived.cost.total)))
    return out.getvalue()
