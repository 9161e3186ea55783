"""Buoyant volumes as things of the layout: placed, moved, mirrored, counted when she is swamped."""

from typing import Any

import pytest

from stirrup.core.arrange.palette import place
from stirrup.core.errors import CoreError
from stirrup.core.kinds.volume import KIND, BuoyantVolume
from stirrup.core.plan.changes import apply
from stirrup.core.plan.copies import another
from stirrup.core.plan.model import Plan
from stirrup.core.studies import swamped_of
from tests.boats import derive, plan, skiff_plan

BLOCK = {"id": "foam", "name": "foam, port", "density": 32.0,
         "box": {"size": [0.6, 0.3, 0.2], "floor_centre": [1.5, 0.5, 0.1]}}  # fmt: skip
BY_LINES = {"id": "pod", "density": 0.0, "lines": [
    {"name": n, "along": "straight", "points": [[-0.4, y, z], [0.0, y, z]]}
    for n, y, z in (("a", 0.2, 0.1), ("b", 0.6, 0.1), ("c", 0.6, 0.5), ("d", 0.2, 0.5))
]}  # fmt: skip


def boat(*volumes: dict[str, Any]) -> Plan:
    return plan(buoyancy=list(volumes))


def test_a_first_one_lies_in_the_boat_and_carries_her_when_she_is_swamped() -> None:
    """0.6 x 0.25 x 0.2 m: 30 litres more in a boat full of water."""
    bare = skiff_plan()
    here = derive(bare)
    after = apply(bare, place(bare, here.surface, here.footing, "volume"))
    (block,) = after.buoyancy
    assert block.box is not None and block.box.size == (0.6, 0.25, 0.2) and block.stage == "added"
    gained = swamped_of(derive(after)).present_m3 - swamped_of(here).present_m3
    assert gained == pytest.approx(0.03, rel=1e-6)


def test_it_is_moved_drawn_out_and_copied_like_any_thing() -> None:
    there = boat(BLOCK)
    beside = apply(there, another(there, "foam")).buoyancy[1]
    assert beside.box is not None and beside.box.floor_centre == pytest.approx((2.12, 0.5, 0.1))
    other = apply(there, another(there, "foam", mirrored=True)).buoyancy[1]
    assert other.box is not None and other.box.floor_centre == (1.5, -0.5, 0.1)
    assert other.name == "foam, starboard"
    sizes = KIND.sizes(BuoyantVolume.model_validate(BLOCK))
    assert sizes.floor and sizes.size[0] == ("box", "size", "0")


def test_it_is_drawn_in_three_views_where_it_lies() -> None:
    built = next(b for b in derive(boat(BLOCK)).things if b.id == "foam").built
    views = {s.view: s.ring for s in built.shapes}
    assert set(views) == {"plan", "side", "across"}
    xs, ys = [p[0] for p in views["plan"]], [p[1] for p in views["plan"]]
    assert (min(xs), max(xs)) == pytest.approx((1.2, 1.8)) and (min(ys), max(ys)) == pytest.approx(
        (0.35, 0.65)
    )


def test_one_given_by_lines_says_why_it_is_not_copied() -> None:
    value = BuoyantVolume.model_validate(BY_LINES).model_dump(mode="json")
    for change in (KIND.mirror, KIND.put_beside):
        with pytest.raises(CoreError, match="given by lines"):
            change(value)
    with pytest.raises(CoreError):
        KIND.sizes(BuoyantVolume.model_validate(BY_LINES))
