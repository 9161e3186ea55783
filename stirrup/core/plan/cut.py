"""Parts that are cut already, as they were when somebody ticked them: what is in the shop stays as it is,
whatever the plan says later."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from stirrup.core.document import Document, Id
from stirrup.core.quantities import Length

MOST_CORNERS, MOST_HOLES, MOST_CUT = 4000, 200, 3000
Far = Annotated[float, Field(ge=-100, le=100)]  # m
Corner = tuple[Far, Far]


class CutPart(Document):
    """One part as it was cut: whose, its label, its stock, and its outline and holes in its own axes [m],
    or its length [m] and how its ends are sawn. ends: of an outline that is folded, its bends."""

    id: str = Field(min_length=1, max_length=100, description="key of the part")
    thing: Id
    label: str = Field(min_length=1, max_length=60)
    stock: str = Field(min_length=1, max_length=80)
    outline: tuple[Corner, ...] = Field((), max_length=MOST_CORNERS)
    holes: tuple[tuple[Corner, ...], ...] = Field((), max_length=MOST_HOLES)
    length: Length = Field(0.0, ge=0, le=50)
    ends: str = Field("", max_length=200)


def check_cut(cut: tuple[CutPart, ...], ids: set[str]) -> None:
    """Raise ValueError for a part that is cut twice, one of a thing that is not there, and one without
    a shape."""
    seen: set[str] = set()
    for k, part in enumerate(cut):
        if part.id in seen:
            raise ValueError(f"cut[{k}].id: “{part.id}” is used twice")
        seen.add(part.id)
        if part.thing not in ids:
            raise ValueError(f"cut[{k}].thing: nothing has the id “{part.thing}”")
        if (len(part.outline) > 2) == (part.length > 0):
            raise ValueError(f"cut[{k}]: give either an outline of three corners and more, or a length")
        if any(len(h) < 3 for h in part.holes):
            raise ValueError(f"cut[{k}].holes: a hole has three corners and more")
