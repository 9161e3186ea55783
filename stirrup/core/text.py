"""Which text can be kept: everything that people write, nothing that only breaks what reads it."""

from __future__ import annotations

import re

# NUL ends texts in many places, PostgreSQL refuses it; half of a pair is no character
UNFIT = re.compile("[\x00\ud800-\udfff]")


def unfit(text: str) -> str:
    """Why a text cannot be kept, in words; empty when it can."""
    found = UNFIT.search(text)
    if found is None:
        return ""
    what = "a NUL character" if found[0] == "\x00" else "half of a character"
    return f"{what} at place {found.start() + 1}; accepted: any text without it"
