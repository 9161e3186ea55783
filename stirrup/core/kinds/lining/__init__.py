"""Lining of a side: panels on battens, or a cover glued to the hull, laid flat for cutting."""

from stirrup.core.kinds.lining.choices import Lining
from stirrup.core.kinds.lining.kind import KIND

__all__ = ["KIND", "Lining"]
