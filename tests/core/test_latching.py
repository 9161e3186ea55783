"""What a latch catches on, worked by hand: an angle of 3 mm, a tongue 20 mm under the lid."""

import pytest

from stirrup.core.findings import Finding
from stirrup.core.fittings.latching import latch_catch
from stirrup.core.parts.entries import Latch
from tests.boats import DECK, HATCH, derive, plan


def latch(**more: float) -> Latch:
    return Latch.model_validate({"id": "it", "name": "latch", "body": 0.05, "underside": 0.062,
                                 "grip_min": 0.002, "grip_max": 0.006, "catch_drop": 0.02, "reach": 0.053,
                                 **more})  # fmt: skip


def of(landing: float = 0.003, **more: float) -> Finding:
    return latch_catch("hatch", landing, latch(**more))


def test_what_is_filled_under_the_landing() -> None:
    """20 mm of tongue less 3 of landing: 17 are filled. Of 3 to 3 mm either way its slot takes up."""
    assert of().level == "fine" and of().values["fill"].value == pytest.approx(0.017)
    assert "Fill" in of().text
    assert "catches as it is" in of(landing=0.0175).text
    assert of(landing=0.0229).level == "fine"
    over = of(landing=0.0231)
    assert over.level == "mend" and over.values["fill"].value == pytest.approx(0.0031)


@pytest.mark.parametrize(
    ("reach", "level", "block"),
    # from its middle to the landing's edge 31 + 11 mm; 8 mm over that is 50
    [(0.053, "fine", 0.0), (0.0501, "fine", 0.0), (0.0499, "look", 0.0001), (0.040, "look", 0.010),
     (0.0, "fine", 0.05)],
)  # fmt: skip
def test_whether_its_tongue_reaches_the_lip(reach: float, level: str, block: float) -> None:
    found = of(reach=reach)
    assert found.level == level
    assert found.values["block"].value == pytest.approx(block, abs=1e-9)
    assert ("catch block" in found.text) is (level == "look")


def test_a_hatch_says_what_it_catches_on() -> None:
    """On landings the flange of the deck's members, 3.175 mm; a lid on the deck has the skin over that."""
    deck = {**DECK, "members": "angle-40x40x3"}
    flush, on = (
        next(f for f in derive(plan(fittings=[deck, {**HATCH, **more}])).findings if f.code == "CATCH")
        for more in ({}, {"lies": "on the deck"})
    )
    skin = float(on.values["landing"].value) - float(flush.values["landing"].value)
    assert skin == pytest.approx(0.0025, abs=5e-5)
    dry = derive(plan(fittings=[deck, {**HATCH, "lies": "flush, over a gutter"}]))
    assert not [f for f in dry.findings if f.code == "CATCH"]
