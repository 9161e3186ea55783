"""Pods: closed boxes behind the transom on either side of the motor."""

from stirrup.core.kinds.pods.choices import Pods
from stirrup.core.kinds.pods.kind import KIND

__all__ = ["KIND", "Pods"]
