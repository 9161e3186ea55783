"""Step box: one step up, built like a crate over corner posts; under a hinged lid it takes gear.

Without a lid cleats along both long walls hold the top; with one they hold a bottom instead.
"""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from stirrup.core.contract.gives import Built, Floor, Shape
from stirrup.core.contract.kind import Entry, Site
from stirrup.core.fittings.crate import Crate, hold_of, shapes
from stirrup.core.fittings.crate_kind import CrateBase, CrateKind, crate, made, standing_built
from stirrup.core.fittings.stock import CoverId
from stirrup.core.quantities import Length


class StepBox(CrateBase):
    """Choices for a step box."""

    kind: Literal["step_box"] = "step_box"
    length: Length = Field(0.35, ge=0.1, le=2, title="Top, along")
    width: Length = Field(0.45, ge=0.1, le=2, title="Top, across")
    height: Length = Field(0.20, ge=0.05, le=0.6, title="Height", description="over what it stands on")
    lid: bool = Field(False, title="Top is a hinged lid")
    cover: CoverId = Field("non-skid", title="Cover of its top")


def _shapes(c: StepBox, b: Crate) -> tuple[Shape, ...]:
    """A crate; treads across, so that a step is told from a box."""
    out, (x0, y0), y1 = shapes(b), b.corners[0], b.corners[2][1]
    for k in () if c.lid else (0.25, 0.5, 0.75):
        x = x0 + k * c.length
        out.append(Shape("form-line", ((x, y0 + 0.03, b.top), (x, y1 - 0.03, b.top)), closed=False))
    return tuple(out)


def build(c: StepBox, site: Site) -> Built:
    """Panels, posts, cleats, fasteners, hinge and brackets of a step box. Raises CoreError outside
    of the boat."""
    b = crate(c, site, lids=int(c.lid), bottom=c.lid)
    return standing_built(
        c, b, made(c, b, site),
        shapes=_shapes(c, b),
        floors=(Floor(b.region, b.top, b.top - b.t, broad=False),),
        hold=hold_of(b) if c.lid else None,
    )  # fmt: skip


class StepBoxKind(CrateKind[StepBox]):
    key, title = "step_box", "Step box"
    choices = StepBox
    letter, stem = "B", "step"
    offers = frozenset(["floor"])
    share, before_deck = 0.55, True
    entries = (
        Entry("step_box", "Step box", 1, "halves a high step onto a deck; under a lid it takes gear",
              "stair tread stool crate"),
    )  # fmt: skip
    about = (
        "A crate of sheet over corner posts that one steps on: loose or bracketed down, its top fixed "
        "or a hinged lid over a bottom on cleats. It goes along with the floor it stands on."
    )

    def build(self, c: StepBox, site: Site) -> Built:
        return build(c, site)


KIND = StepBoxKind()
