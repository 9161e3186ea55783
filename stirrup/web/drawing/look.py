"""What the drawings of the workspace shall show besides the plan itself."""

from __future__ import annotations

from stirrup.core.arrange.snap import Snap
from stirrup.core.record import dataclass


@dataclass(frozen=True)
class Look:
    """Chosen ids, where the section is cut [m], what a drag was caught by, the room to use things, the
    members under the decks."""

    chosen: tuple[str, ...] = ()
    section_x: float | None = None
    snaps: tuple[Snap, ...] = ()
    rooms: bool = False
    frame: bool = False


NOTHING = Look()
