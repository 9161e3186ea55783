"""Console, built: flat sheets on angles about a profile with a sloped dash and a top that sheds water."""

from stirrup.core.kinds.console_box.choices import ConsoleBox
from stirrup.core.kinds.console_box.kind import KIND

__all__ = ["KIND", "ConsoleBox"]
