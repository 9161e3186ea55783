"""Raised deck: level, fitted to the inside of the hull, on side angles and cross members."""

from stirrup.core.kinds.raised_deck.build import build
from stirrup.core.kinds.raised_deck.choices import RaisedDeck
from stirrup.core.kinds.raised_deck.kind import KIND

__all__ = ["KIND", "RaisedDeck", "build"]
