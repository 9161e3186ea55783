"""A stringer of a metal section: laid on the bottom and bent to it, welded or riveted."""

from stirrup.core.kinds.section_stringer.choices import SectionStringer
from stirrup.core.kinds.section_stringer.kind import KIND

__all__ = ["KIND", "SectionStringer"]
