"""Tables as they go out: CSV that is never taken for formulas, or a spreadsheet of text and numbers."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Any, Literal

from stirrup.exchange.csvtext import safe

Cell = str | int | float | Decimal
Form = Literal["csv", "xlsx"]
MEDIA: dict[Form, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
WIDEST = 60  # of a column, in letters


def written(rows: Iterable[Sequence[Cell]], form: Form) -> bytes:
    """A table, its first row the names of its columns."""
    return _xlsx(rows) if form == "xlsx" else _csv(rows)


def _csv(rows: Iterable[Sequence[Cell]]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    for row in rows:
        writer.writerow([safe(c) if isinstance(c, str) else str(c) for c in row])
    return ("\ufeff" + out.getvalue()).encode()


def _xlsx(rows: Iterable[Sequence[Cell]]) -> bytes:
    # loaded when first needed
    from openpyxl import Workbook
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book: Any = Workbook()
    sheet: Any = book.active
    widths: dict[int, int] = {}
    for number, row in enumerate(rows, start=1):
        for k, value in enumerate(row, start=1):
            cell = sheet.cell(number, k, value)
            if isinstance(value, str):
                cell.data_type = "s"  # also what begins as a formula does
            if number == 1:
                cell.font = Font(bold=True)
            widths[k] = min(WIDEST, max(widths.get(k, 8), len(str(value)) + 2))
    for k, wide in widths.items():
        sheet.column_dimensions[get_column_letter(k)].width = wide
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
