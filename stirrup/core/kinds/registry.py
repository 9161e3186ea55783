"""The kinds of things there are. A new kind adds its module and one line here."""

from __future__ import annotations

from collections.abc import Iterable
from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from stirrup.core.bodies.item import ItemBase
from stirrup.core.contract.base import FittingBase
from stirrup.core.contract.kind import Kind
from stirrup.core.kinds import (
    battery,
    battery_tray,
    bench,
    bilge_well,
    bow_motor,
    box,
    bulkhead,
    cable_run,
    chocks,
    console,
    console_box,
    cooler,
    cutout,
    deck_fitting,
    edge_run,
    engine_bed,
    face_door,
    fixture,
    floor,
    foam_fill,
    frame,
    hatch,
    knees,
    ladder,
    leaning_post,
    liner,
    lining,
    locker,
    locker_box,
    motor,
    moulded_dash,
    outboard,
    own_part,
    paint_zone,
    patch,
    pedestal_seat,
    pods,
    raised_deck,
    restraint_seat,
    screen,
    seat,
    seat_box,
    section_stringer,
    splash_well,
    step_box,
    stringer,
    structure,
    swim_step,
    tank,
    tank_cradle,
    tank_shell,
    transom,
    volume,
    well_box,
)
from stirrup.core.kinds.structure import as_obstacle
from stirrup.core.kinds.volume import BuoyantVolume

# in the order in which they are offered
KINDS: tuple[Kind[Any], ...] = (
    outboard.KIND,
    floor.KIND,
    raised_deck.KIND,
    hatch.KIND,
    bilge_well.KIND,
    face_door.KIND,
    step_box.KIND,
    console.KIND,
    console_box.KIND,
    screen.KIND,
    moulded_dash.KIND,
    seat.KIND,
    pedestal_seat.KIND,
    leaning_post.KIND,
    restraint_seat.KIND,
    bench.KIND,
    frame.KIND,
    seat_box.KIND,
    bow_motor.KIND,
    battery.KIND,
    battery_tray.KIND,
    tank.KIND,
    tank_cradle.KIND,
    cable_run.KIND,
    well_box.KIND,
    cooler.KIND,
    chocks.KIND,
    locker.KIND,
    locker_box.KIND,
    transom.KIND,
    pods.KIND,
    splash_well.KIND,
    swim_step.KIND,
    liner.KIND,
    stringer.KIND,
    section_stringer.KIND,
    engine_bed.KIND,
    patch.KIND,
    cutout.KIND,
    own_part.KIND,
    bulkhead.KIND,
    knees.KIND,
    foam_fill.KIND,
    edge_run.KIND,
    lining.KIND,
    paint_zone.KIND,
    ladder.KIND,
    fixture.KIND,
    deck_fitting.KIND,
    box.KIND,
    tank_shell.KIND,
    motor.KIND,
    structure.KIND,
    volume.KIND,
)

BY_KEY = {k.key: k for k in KINDS}
ITEMS = {k.key: k for k in KINDS if k.group == "items"}
_BY_CHOICES = {k.choices: k for k in KINDS if k.group != "items"}


def _union(models: Iterable[type]) -> Any:
    return reduce(or_, models)


if TYPE_CHECKING:
    Fitting = FittingBase
    Form = str
else:
    _FITTINGS = _union(k.choices for k in KINDS if k.group == "fittings")
    Fitting = Annotated[_FITTINGS, Field(discriminator="kind")]
    # the free thing first: it is what a thing is of which no more is said
    Form = Literal[tuple(sorted(ITEMS, key=lambda f: (f != "box", list(ITEMS).index(f))))]


def kind_of(thing: Any) -> Kind[Any]:
    """The kind of anything that stands in a plan."""
    return ITEMS[thing.form] if isinstance(thing, ItemBase) else _BY_CHOICES[type(thing)]


__all__ = [
    "BY_KEY",
    "ITEMS",
    "KINDS",
    "BuoyantVolume",
    "Fitting",
    "Form",
    "as_obstacle",
    "kind_of",
]
