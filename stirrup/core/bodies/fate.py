"""What becomes of a thing that goes: sold, used again, or waste."""

from __future__ import annotations

from typing import Literal

Fate = Literal["waste", "sold", "used again", "kept"]
FATES: dict[str, str] = {
    "waste": "goes to waste",
    "sold": "is sold",
    "used again": "is used again in her: clean it, and keep its parts together",
    "kept": "is kept for another job",
}
OF_GOING = frozenset({"becomes", "brings"})  # choices that only something that goes has
