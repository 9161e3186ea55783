"""A door in the upright face of a deck, with a box behind it or without."""

from stirrup.core.kinds.face_door.choices import FaceDoor
from stirrup.core.kinds.face_door.kind import KIND

__all__ = ["KIND", "FaceDoor"]
