"""What holds lids open: the lid of a hatch and of a locker weighed by hand, and what is told."""

import math
from typing import Any

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.fittings.lid_support import lid_about
from stirrup.core.fittings.strut import Lid, choose
from stirrup.core.parts.entries import Strut
from stirrup.core.plan.changes import SetValue, apply
from stirrup.exchange.catalogue import starting
from tests.boats import DECK, HATCH, derive, plan
from tests.core.test_locker_box import LOCKER

STRUTS = tuple(starting().of(Strut))
T = 0.0025


def hatch(**choices: Any) -> tuple[Derived, Built]:
    lid = {**HATCH, "x": 2.2, "clear_length": 0.5, "clear_width": 0.4, "corner": 0.0, **choices}
    derived = derive(plan(fittings=[{**DECK, "aft": 1.0, "fore": 3.5}, lid]))
    built = derived.fitting("hatch")
    assert built is not None
    return derived, built


def test_a_lid_across_its_hinge() -> None:
    """A hatch hinged fore: the lid is 547 by 447 mm, less the hole of the latch; its centre half way from
    the hinge, and the latch at 65.5 mm from the free edge."""
    _, built = hatch()
    panel = built.panels[0]
    latch = next(b for b in built.bought if b.key == "hatch/latch")
    deep = 0.5 + 2 * (0.025 - 0.0015)
    found = lid_about(
        [panel, latch], (2.2 + deep / 2, 0.0, 0.4), (-1.0, 0.0), deep, T, (0.0125, 0.0325), 80.0
    )
    density = panel.sheet.stuff.density
    # its corners are rounded by 23.5 mm, which takes as much on either side
    whole = deep * 0.447 - (4 - math.pi) * 0.0235**2
    hole = panel.polygon.area - whole
    lid_kg = whole * T * density
    assert found.mass == pytest.approx(lid_kg + hole * T * density + latch.mass_kg, abs=1e-4)
    far = deep - 0.0655
    moment = lid_kg * deep / 2 + (hole * T * density + latch.mass_kg) * far
    assert found.centre[0] == pytest.approx(moment / found.mass, abs=1e-4)


def test_a_hatch_gets_the_strut_that_suits_its_lid() -> None:
    derived, built = hatch(support="one strut", lid="ply-12")
    told = next(f for f in derived.findings if f.code == "STRUT")
    assert told.level == "fine"
    struts = {b.key: b for b in built.bought}
    assert struts["hatch/strut"].quantity == 1 and struts["hatch/stud"].quantity == 2
    entry = struts["hatch/strut"].entry
    assert isinstance(entry, Strut)
    # both ends where there is something to screw to: under the lid, and on the member's leg of 40 mm under
    # the deck's 2.5, 10 mm from its edges
    assert 0.0125 - 1e-9 <= told.values["down"].value <= 0.0325 + 1e-9
    assert 0.03 <= told.values["b"].value <= 0.547 and 0 < told.values["a"].value < 0.547
    assert built.charts[0].at[0] == 0.0 and built.charts[0].at[-1] == 80.0


def test_the_mirrored_lid_gets_the_mirrored_strut() -> None:
    port, _ = hatch(support="one strut", lid="ply-12", hinge="port", y=0.2)
    other, _ = hatch(support="one strut", lid="ply-12", hinge="starboard", y=-0.2)
    a, b = (next(f for f in d.findings if f.code == "STRUT") for d in (port, other))
    assert {k: v.value for k, v in a.values.items()} == {k: v.value for k, v in b.values.items()}


def test_none_and_a_stay() -> None:
    derived, built = hatch()
    assert not any(b.key in ("hatch/strut", "hatch/stay") for b in built.bought) and not built.charts
    assert not [f for f in derived.findings if f.code == "STRUT"]
    _, stayed = hatch(support="stay")
    assert next(b.quantity for b in stayed.bought if b.key == "hatch/stay") == 1


def test_every_lid_of_a_box_has_its_own() -> None:
    locker = {**LOCKER, "on": None, "lids": 2, "support": "one strut", "top": None, "width": 1.2,
              "length": 0.6}  # fmt: skip
    locker.pop("top")
    derived = derive(plan(fittings=[locker]))
    built = derived.fitting("locker")
    assert built is not None
    count = {b.key: b.quantity for b in built.bought}
    assert count["locker/strut"] == 2 and count["locker/stud"] == 4


HEAVY = Lid(14.0, (0.25, -0.01), 0.5, 0.02, (0.03, 0.10), 80.0)


def test_what_no_strut_suits_is_told_with_what_helps() -> None:
    # a landing of 10 mm of leg is all there is under a deck of 19 mm board with 25 mm angles
    deck = {**DECK, "aft": 1.0, "fore": 3.5, "skin": "pvc-19", "members": "angle-25x25x3"}
    lid = {**HATCH, "x": 2.2, "clear_length": 1.0, "clear_width": 0.9, "landing": 0.012, "lid": "al-6.4",
           "support": "one strut"}  # fmt: skip
    before = plan(fittings=[deck, lid])
    told = next(f for f in derive(before).findings if f.code == "STRUT")
    assert told.level == "mend"
    built = derive(before).fitting("hatch")
    assert built is not None and not any(b.key == "hatch/strut" for b in built.bought)
    stay = next(f for f in told.fixes if f.value == "stay")
    after = derive(apply(before, SetValue(path=stay.path, value=stay.value)))
    assert not [f for f in after.findings if f.code == "STRUT"]


def test_two_struts_lift_what_one_does_not() -> None:
    alone, pair = choose(HEAVY, STRUTS, (1,)), choose(HEAVY, STRUTS, (2,))
    assert pair is not None
    assert alone is None or pair.lift_n <= alone.lift_n + 10.0
