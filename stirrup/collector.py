"""Settings of Python's memory collector for long-running processes."""

from __future__ import annotations

import gc


def loading() -> None:
    """No looking while modules are loaded: nothing of them ever goes, and each look at all of it takes
    as long as a tenth of the start. Until `settle`."""
    gc.disable()


def settle() -> None:
    """Keep what is loaded out of the collector's sight, and let it look less often.

    Derived builds are many small tuples without cycles: looking through all of them in
    the middle of a drag cost as much as the geometry itself.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
    gc.enable()
