"""Tables as text: what spreadsheets, old machines and hostile hands make of CSV."""

from __future__ import annotations

import csv
import io

from stirrup.core.errors import CoreError
from stirrup.core.text import unfit

# text that a spreadsheet would run as a formula is quoted
RISKY = ("=", "+", "-", "@", "\t", "\r")
MOST_CELL = 2000


def safe(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(RISKY) else text


def meant(text: str) -> str:
    """What `safe` was given: its quote is taken off again."""
    return text[1:] if text.startswith("'") and text[1:].startswith(RISKY) else text


def rows_of(text: str) -> list[list[str]]:
    """Cells of a table separated by commas, semicolons or tabs; any machine's line ends.

    Raises CoreError, naming the row, for what is no table.
    """
    why = unfit(text)
    if why:
        raise CoreError(f"the table holds {why}")
    plain = text.replace("\r\n", "\n").replace("\r", "\n")
    first = plain.lstrip("\n").split("\n", 1)[0]  # cells further down may hold the others
    sample = first if any(d in first for d in ",;\t") else plain[:4000]
    delimiter = max(";\t,", key=sample.count)  # of as many commas, those may stand in numbers
    reader = csv.reader(io.StringIO(plain), delimiter=delimiter, skipinitialspace=True)
    rows = []
    try:
        for row in reader:
            cells = [cell.strip() for cell in row]
            longest = max(map(len, cells), default=0)
            if longest > MOST_CELL:
                raise CoreError(
                    f"row {reader.line_num}: a cell of {longest} letters; accepted: up to {MOST_CELL}"
                )
            rows.append(cells)
    except csv.Error as error:
        long = f"a cell is too long; accepted: up to {MOST_CELL} letters"
        why = long if "larger" in str(error) else str(error)
        raise CoreError(f"row {reader.line_num}: this is no table: {why}") from None
    return rows
