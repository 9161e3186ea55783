"""Read cutting jobs and write layouts; the format is in docs/cut-job.md. Millimetres there, metres here."""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

import shapely
from pydantic import Field, ValidationError, model_validator
from shapely.geometry import Polygon

from stirrup.core.cutting.bars import BarJob, BarLayout, BarStock, Member
from stirrup.core.cutting.cut_job import CutJob, CutLayout, Part, Stock
from stirrup.core.document import Document
from stirrup.core.errors import CoreError
from stirrup.core.parts.model import Ring
from stirrup.core.plan.explain import first_error
from stirrup.exchange.jsontext import bytes_of, values_of

MOST_BYTES, MOST_PIECES = 8_000_000, 1500
FORMAT, LAYOUT, WHAT = "stirrup-cut-job", "stirrup-layout", "a cutting job"
MM = 1000.0
FURTHEST_MM = 1e5

Length = Annotated[float, Field(gt=0, le=FURTHEST_MM)]
Gap = Annotated[float, Field(ge=0, le=500)]
Cost = Annotated[float, Field(ge=0, le=1e9)]
Count = Annotated[int, Field(ge=1, le=MOST_PIECES)] | None
Key = Annotated[str, Field(min_length=1, max_length=120)]
At = Annotated[float, Field(ge=-FURTHEST_MM, le=FURTHEST_MM)]
Outline = Annotated[list[tuple[At, At]], Field(min_length=3, max_length=5000)]
Turn = Annotated[float, Field(ge=-360, le=360)]


def _ring(points: list[tuple[float, float]]) -> Ring:
    """As the core has it: metres, not closed."""
    out = tuple((x / MM, y / MM) for x, y in points)
    return out[:-1] if len(out) > 3 and out[0] == out[-1] else out


def _sound(outline: Outline, holes: list[Outline]) -> None:
    """Raises ValueError, in words, where it is not one area."""
    shape = Polygon(outline, holes)
    if not shape.is_valid:
        raise ValueError(f"the outline is none that can be cut: {shapely.is_valid_reason(shape)}")
    if shape.area < 1:
        raise ValueError("the outline has no area; accepted: 1 mm² or more")


class Sheet(Document):
    """A sheet that is sold: x runs along w, the grain."""

    id: Key
    w: Length
    h: Length
    cost: Cost = 0.0
    count: Count = None
    margin: Gap | None = None


class Offcut(Document):
    """What is on the rack."""

    id: Key
    polygon: Outline
    holes: list[Outline] = Field(default=[], max_length=200)
    cost: Cost = 0.0
    count: Count = 1
    margin: Gap | None = None

    @model_validator(mode="after")
    def _check(self) -> Offcut:
        _sound(self.polygon, self.holes)
        return self


class Panel(Document):
    """What is cut."""

    id: Key
    polygon: Outline
    holes: list[Outline] = Field(default=[], max_length=200)
    qty: Annotated[int, Field(ge=1, le=MOST_PIECES)] = 1
    rotations: Annotated[list[Turn], Field(min_length=1, max_length=72)] | Literal["free"] = [0.0]
    flip: bool = False

    @model_validator(mode="after")
    def _check(self) -> Panel:
        _sound(self.polygon, self.holes)
        return self


class SheetsFile(Document):
    """A job for sheets."""

    format: Literal["stirrup-cut-job"]
    version: Literal[1]
    kind: Literal["sheets"]
    name: Annotated[str, Field(max_length=200)] = ""
    kerf: Gap = 0.0
    spacing: Gap = 0.0
    straight_cuts: bool = False
    max_stages: Annotated[int, Field(ge=2, le=9)] = 3
    margin: Gap = 0.0
    sheets: list[Sheet] = Field(default=[], max_length=200)
    offcuts: list[Offcut] = Field(default=[], max_length=1000)
    panels: list[Panel] = Field(max_length=MOST_PIECES)

    @model_validator(mode="after")
    def _check(self) -> SheetsFile:
        _once("sheets and offcuts", [s.id for s in self.sheets] + [o.id for o in self.offcuts])
        _once("panels", [p.id for p in self.panels])
        _not_too_many(sum(p.qty for p in self.panels))
        return self


class BarEntry(Document):
    """Bars that are sold, or one on the rack."""

    id: Key
    length: Length
    cost: Cost = 0.0
    count: Count = None


class Rest(BarEntry):
    """A bar on the rack: one, if nothing else is said."""

    count: Count = 1


class MemberEntry(Document):
    """What is cut."""

    id: Key
    length: Length
    qty: Annotated[int, Field(ge=1, le=MOST_PIECES)] = 1


class SticksFile(Document):
    """A job for sticks."""

    format: Literal["stirrup-cut-job"]
    version: Literal[1]
    kind: Literal["sticks"]
    name: Annotated[str, Field(max_length=200)] = ""
    kerf: Gap = 0.0
    trim: Gap = 0.0
    stock: list[BarEntry] = Field(default=[], max_length=200)
    offcuts: list[Rest] = Field(default=[], max_length=1000)
    members: list[MemberEntry] = Field(max_length=MOST_PIECES)

    @model_validator(mode="after")
    def _check(self) -> SticksFile:
        _once("stock and offcuts", [s.id for s in self.stock] + [o.id for o in self.offcuts])
        _once("members", [m.id for m in self.members])
        _not_too_many(sum(m.qty for m in self.members))
        return self


def _once(where: str, ids: list[str]) -> None:
    twice = next((i for n, i in enumerate(ids) if i in ids[:n]), None)
    if twice is not None:
        raise ValueError(f"“{twice}” stands twice among the {where}; each id once")


def _not_too_many(pieces: int) -> None:
    if pieces > MOST_PIECES:
        raise ValueError(f"{pieces} pieces; accepted: at most {MOST_PIECES}")


JOBS: dict[str, type[SheetsFile] | type[SticksFile]] = {"sheets": SheetsFile, "sticks": SticksFile}


def parse(text: str | bytes) -> CutJob | BarJob:
    """The job in a text. Raises CoreError with one line: which panel, what was read, what is accepted."""
    data = values_of(text, WHAT, MOST_BYTES)
    if not isinstance(data, dict):
        raise CoreError("not a cutting job: the outermost value must be an object")
    if data.get("format") != FORMAT:
        raise CoreError(f"read {json.dumps(data.get('format'))}; accepted: “{FORMAT}”", "format")
    kind = data.get("kind")
    if not isinstance(kind, str) or kind not in JOBS:
        raise CoreError(f"read {json.dumps(kind)}; accepted: {', '.join(JOBS)}", "kind")
    try:
        # through text again: in Python's own values a whole number is no float
        file = JOBS[kind].model_validate_json(json.dumps(data), strict=True)
    except ValidationError as error:
        raise _named(first_error(error, data, root=JOBS[kind]), data) from None
    return _sheets(file) if isinstance(file, SheetsFile) else _sticks(file)


def _named(error: CoreError, data: dict[str, Any]) -> CoreError:
    """The error with the id of the panel or stock that it is in."""
    group, _, rest = error.place.partition("[")
    number = rest.partition("]")[0]
    rows = data.get(group)
    if number.isdigit() and isinstance(rows, list) and int(number) < len(rows):
        row = rows[int(number)]
        if isinstance(row, dict) and isinstance(row.get("id"), str):
            return CoreError(error.message, f"{error.place} (“{row['id'][:60]}”)")
    return error


def read(source: str) -> CutJob | BarJob:
    """The job in a file, or in standard input for “-”. Raises CoreError."""
    return parse(bytes_of(source, WHAT, MOST_BYTES))


def _sheets(file: SheetsFile) -> CutJob:
    def rectangle(w: float, h: float) -> Ring:
        return ((0.0, 0.0), (w / MM, 0.0), (w / MM, h / MM), (0.0, h / MM))

    def margin(value: float | None) -> float | None:
        return None if value is None else value / MM

    stocks = [Stock(s.id, rectangle(s.w, s.h), (), s.cost, s.count, margin(s.margin)) for s in file.sheets]
    stocks += [
        Stock(o.id, _ring(o.polygon), tuple(map(_ring, o.holes)), o.cost, o.count, margin(o.margin))
        for o in file.offcuts
    ]
    parts = [
        Part(p.id, _ring(p.polygon), tuple(map(_ring, p.holes)), p.qty,
             None if p.rotations == "free" else tuple(dict.fromkeys(float(r) for r in p.rotations)), p.flip)
        for p in file.panels
    ]  # fmt: skip
    return CutJob(
        file.name, tuple(stocks), tuple(parts), file.kerf / MM, file.spacing / MM, file.margin / MM,
        file.straight_cuts, file.max_stages,
    )  # fmt: skip


def _sticks(file: SticksFile) -> BarJob:
    stocks = [BarStock(s.id, s.length / MM, s.cost, s.count) for s in (*file.stock, *file.offcuts)]
    members = [Member(m.id, m.length / MM, m.qty) for m in file.members]
    return BarJob(file.name, tuple(stocks), tuple(members), file.kerf / MM, file.trim / MM)


def layout_data(layout: CutLayout | BarLayout, seconds: float) -> dict[str, Any]:
    """A layout as it is written."""
    out: dict[str, Any] = {"format": LAYOUT, "version": 1, "instance": layout.job.name}
    if isinstance(layout, BarLayout):
        bars = [{"stock": b.stock, "pieces": list(b.pieces)} for b in layout.bars]
        out |= {"bars": bars, "unplaced": list(layout.unplaced), "cost": round(layout.cost, 6)}
        bound = {"cost": round(layout.bound, 6)}
        return {**out, "bound": bound, "proven": layout.proven, "seconds": round(seconds, 3)}
    bins = [{"sheet": b.stock, "placements": [_placement(x) for x in b.lays]} for b in layout.bins]
    least = {"sheets": layout.bound.pieces, "cost": round(layout.bound.cost, 6)}
    return {
        **out, "bins": bins, "unplaced": list(layout.unplaced), "cost": round(layout.cost, 6),
        "utilisation": round(layout.utilisation, 6), "seconds": round(seconds, 3), "bound": least,
    }  # fmt: skip


def _placement(lay: Any) -> dict[str, Any]:
    """Positions to a thousandth of a micrometre: what was exactly a kerf apart stays so."""
    rotation = int(lay.rotation) if lay.rotation == int(lay.rotation) else lay.rotation
    out = {"panel": lay.part, "rotation": rotation, "x": round(lay.x * MM, 9), "y": round(lay.y * MM, 9)}
    return {**out, "flipped": True} if lay.flipped else out
