"""The compiled search against the written-out one, and its tanks against those of liquid.py."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stirrup.core.afloat import equilibrium as module
from stirrup.core.afloat.balance import up_vector
from stirrup.core.afloat.descent import settled
from stirrup.core.afloat.equilibrium import equilibrium
from stirrup.core.afloat.ledger import Entry, sum_load
from stirrup.core.afloat.liquid import Liquid
from stirrup.core.hull.mesh import box_solid

BOX = box_solid((0.0, -1.0, 0.0), (4.0, 1.0, 0.8))


def tank(fill: float, cells: int = 1) -> Liquid:
    """1.0 x 0.6 x 0.3 m of water off the middle."""
    return Liquid("t", "t", (1.0, 0.6, 0.3), (1.5, 0.2, 0.05), fill, 1000.0, cells)


angles = st.floats(-0.25, 0.25)


@given(angles, angles, st.lists(st.tuples(st.floats(0.02, 1.0), st.integers(1, 3)), max_size=3))
def test_tanks_settle_as_each_liquid_does(trim, heel, fills) -> None:
    liquids = tuple(tank(fill, cells) for fill, cells in fills)
    n = up_vector(trim, heel)
    done, moment, slosh = settled(sum_load([], liquids).tanks, n)
    if not done:
        return  # left to the other: see below for when
    expected = [(x.mass_kg * x.settle(n)[0], x.density * x.settle(n)[1]) for x in liquids]
    assert moment == pytest.approx(sum((m for m, _ in expected), np.zeros(3)), abs=1e-9)
    assert slosh == pytest.approx(sum((s for _, s in expected), np.zeros((3, 3))), abs=1e-9)


@pytest.mark.parametrize(("fill", "heel", "done"), [(0.5, 0.2, True), (0.1, 0.2, False), (0.9, 0.2, False)])
def test_a_surface_that_meets_floor_or_lid_is_left_to_the_other(fill, heel, done) -> None:
    """Heeled by 0.2 rad, the surface swings tan(0.2) · 0.3 = 61 mm about depths of 150, 30 and 270 of
    300 mm: over the floor by 89, through it, through the lid."""
    assert settled(sum_load([], (tank(fill),)).tanks, up_vector(0.0, heel))[0] is done


@settings(max_examples=40, deadline=None)
@given(
    st.floats(300, 3000),
    st.floats(1.6, 2.4),
    st.floats(-0.25, 0.25),
    st.floats(0.05, 0.35),
    st.floats(0.1, 0.9),
)
def test_both_searches_come_to_rest_at_one_place(mass, x, y, z, fill) -> None:
    entry = Entry("m", "m", "g", mass, 0.0, "weighed", (x, y, z))
    load = sum_load([entry], (tank(fill),))
    try:
        quick = equilibrium(BOX, load, 1000.0)
    except module.NoEquilibriumError:
        return
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(module, "descended", lambda *a: (False, a[6]))
        slow = equilibrium(BOX, load, 1000.0)
    assert (quick.d, quick.trim, quick.heel) == pytest.approx((slow.d, slow.trim, slow.heel), abs=1e-7)
