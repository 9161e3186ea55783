"""What is worked out beside the requests: how things are cut from what is bought, by sheet and by stick."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from stirrup.core.cutting.sheets import SheetJob, SheetLayout, Told, lay_out
from stirrup.core.cutting.sticks import StickJob, StickLayout, lay_out_sticks

Job = SheetJob | StickJob
Layout = SheetLayout | StickLayout
# a settled layout of a job, or None while it is not known yet: what `work_out` gives at once, others
# look up and have it worked out elsewhere
Layouts = Callable[[Job], Layout | None]


def work_out(job: Job, told: Told | None = None) -> Layout:
    """The settled layout of a job; takes up to some seconds. told: how far a search for sheets is."""
    return lay_out(job, told=told) if isinstance(job, SheetJob) else lay_out_sticks(job)


def at_once(job: Job) -> Layout:
    """The settled layout of a job with as much searching as every job gets."""
    if not isinstance(job, SheetJob) or job.usual is job:
        return work_out(job)
    return replace(lay_out(job.usual), job=job)


def estimate(job: Job) -> Layout:
    """A layout at once, to count by. Of sticks it is the settled one where it is known to be the best."""
    return lay_out(job, True) if isinstance(job, SheetJob) else lay_out_sticks(job, True)
