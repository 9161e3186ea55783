"""Who makes the change that is being stored: a name that somebody gave, for others to see."""

from __future__ import annotations

from contextvars import ContextVar

MOST_LETTERS = 40
AUTHOR: ContextVar[str] = ContextVar("author", default="")


def clean_name(text: str) -> str:
    """A typed name on one line, at most forty letters long; empty when nothing is left."""
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())[:MOST_LETTERS].strip()
