"""Settings of Python's memory collector for long-running processes."""

from __future__ import annotations

import gc


def settle() -> None:
    """Keep what is loaded out of the collector's sight, and let it look less often.

    Derived builds are many small tuples without cycles: looking through all of them in
    the middle of a drag cost as much as the geometry itself.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
