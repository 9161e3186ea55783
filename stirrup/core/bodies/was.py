"""Where a thing stood when she was found, of one that is moved: it is one thing in two places, weighed once
in each stage."""

from __future__ import annotations

from pydantic import Field

from stirrup.core.document import Document, Point
from stirrup.core.quantities import Angle


class Was(Document):
    """Its middle there (of structure the middle of its foot) [m], how it was turned, and what it leaves."""

    at: Point
    turn: Angle = Field(0.0, ge=-180, le=180, title="Was turned to port, degrees")
    holes: int = Field(0, ge=0, le=200, title="Old holes to close")
