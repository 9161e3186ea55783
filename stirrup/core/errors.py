"""Errors of the core. Their text is written for the person who typed the input."""

from __future__ import annotations


class CoreError(ValueError):
    """Input that cannot be computed with: says where, what was read, what is accepted.

    `place` is a dotted path into the build file, or the name of the quantity.
    """

    def __init__(self, message: str, place: str = "") -> None:
        super().__init__(f"{place}: {message}" if place else message)
        self.place = place
        self.message = message


class NoEquilibriumError(Exception):
    """The boat has no floating equilibrium: she sinks, capsizes or stands on end.

    `excess_kg` is how much has to come off before she floats, where that is the reason.
    """

    def __init__(self, message: str, excess_kg: float | None = None) -> None:
        super().__init__(message)
        self.excess_kg = excess_kg


class GivenUpError(Exception):
    """Nobody waits for the result any more."""
