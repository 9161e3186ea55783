"""What a hull is of, by the name that was typed."""

from __future__ import annotations

from typing import Literal

# words found in the name
METAL = ("5052", "5083", "5086", "6061", "alumin", "steel")
MOULDED = ("laminate", "fiberglass", "glass", "grp")


def made_of(name: str) -> Literal["metal", "moulded", ""]:
    """Of metal or moulded; "" where the name says neither, or both."""
    word = name.lower()
    metal, moulded = (any(w in word for w in words) for words in (METAL, MOULDED))
    if metal == moulded:
        return ""
    return "metal" if metal else "moulded"
