"""Repairs of a laminate by hand: stitched cloth with mat of 820 g/m², 43 % of it glass, 1600 kg/m³ laid by
hand: 0.82 / 0.43 / 1600 = 1.1919 mm a ply."""

import math
from typing import Any

import pytest

from stirrup.core.contract.gives import Built
from stirrup.core.derive import Derived
from stirrup.core.findings import Finding
from stirrup.core.kinds.patch import Patch, stack_of
from stirrup.exchange.buildfile import from_data
from stirrup.exchange.catalogue import starting
from tests.boats import box_lines, build_data, derive

PATCH: dict[str, Any] = {
    "kind": "patch",
    "id": "repair",
    "name": "Repair",
    "mark": "I1",
    "x": 1.5,
    "y": 0.4,
}
EACH = 0.82 / 0.43 / 1600


def boat(material: str = "fiberglass laminate", **choices: Any) -> Derived:
    data = build_data(box_lines(), fittings=[{**PATCH, **choices}])
    data["hull"]["material"] = material
    return derive(from_data(data))


def made(derived: Derived) -> Built:
    built = derived.fitting("repair")
    assert built is not None
    return built


def told(derived: Derived, code: str) -> Finding:
    return next(f for f in derived.findings if f.code == code and f.place == "repair")


def plies(**choices: Any) -> tuple[float, ...]:
    cloth: Any = starting().find("biaxmat-820")
    return stack_of(Patch.model_validate({**PATCH, **choices}), cloth).across


def test_how_wide_each_ply_is() -> None:
    """6 mm take 5.03 plies, so 6; a hole of 50 mm and 12 x 6 = 72 mm on every side, 194 in all. The first
    ply lies a twelfth up the taper: 50 + 144 / 12 = 62, the next ones 24 wider each; one cover of 244."""
    assert pytest.approx(0.0011919, abs=1e-7) == EACH
    assert plies() == pytest.approx((0.062, 0.086, 0.110, 0.134, 0.158, 0.182, 0.244))
    # exactly five plies deep it is five
    assert len(plies(deep=5 * EACH, covers=0)) == 5
    assert plies(deep=EACH, covers=0, hole=0.0) == pytest.approx((12 * EACH,))
    assert plies(covers=2)[-2:] == pytest.approx((0.244, 0.294))


def test_they_are_told_in_the_order_in_which_they_are_laid() -> None:
    largest = told(boat(), "PATCH-PLIES").values
    assert [largest[f"d{k}"].value for k in range(7)] == pytest.approx(
        [0.182, 0.158, 0.134, 0.110, 0.086, 0.062, 0.244]
    )
    smallest = told(boat(order="smallest first"), "PATCH-PLIES").values
    assert [smallest[f"d{k}"].value for k in (0, 5, 6)] == pytest.approx([0.062, 0.182, 0.244])
    assert largest["built"].value == pytest.approx(6 * EACH)


def test_what_it_weighs_and_takes() -> None:
    across = (0.062, 0.086, 0.110, 0.134, 0.158, 0.182, 0.244)
    area = sum(math.pi * d * d / 4 for d in across)
    parts = {b.label: b for b in made(boat()).bought}
    assert parts["I1-C"].mass_kg == pytest.approx(area * 0.82)
    # squares from the roll, a tenth more
    assert parts["I1-C"].quantity == pytest.approx(1.1 * sum(d * d for d in across))
    assert parts["I1-R"].mass_kg == pytest.approx(area * 0.82 * (1 / 0.43 - 1))
    assert parts["I1-G"].mass_kg == pytest.approx(math.pi * 0.244**2 / 4 * 0.5)
    assert parts["I1-C"].centre == pytest.approx((1.5, 0.4, 0.0))


@pytest.mark.parametrize(("ratio", "level"), [(12.0, "fine"), (11.9, "look"), (20.0, "fine")])
def test_how_long_its_taper_is(ratio: float, level: str) -> None:
    found = told(boat(ratio=ratio), "PATCH-TAPER")
    assert found.level == level
    assert found.values["ground"].value == pytest.approx(0.05 + 2 * ratio * 0.006)


def test_something_covers_its_edge() -> None:
    assert told(boat(), "PATCH-PLIES").level == "fine"
    bare = told(boat(covers=0), "PATCH-PLIES")
    assert bare.level == "look" and [f.value for f in bare.fixes] == [1]


def test_it_is_for_a_moulded_hull() -> None:
    """Resin peels off metal: the check of her joints says it."""
    wrong = [f for f in boat("5052-H32").findings if f.code == "HULL-JOINT" and f.place == "repair"]
    assert [f.level for f in wrong] == ["mend"]
    assert not [f for f in boat().findings if f.code == "HULL-JOINT"]


def test_too_many_plies_are_refused() -> None:
    found = [f for f in boat(deep=0.05, cloth="plain-200").findings if f.code == "CANNOT-BUILD"]
    each = 0.2 / starting().find("plain-200").glass_share / 1600  # type: ignore[attr-defined, union-attr]
    assert len(found) == 1 and f"{math.ceil(0.05 / each)} plies" in found[0].text


def test_its_mirror_image() -> None:
    a, b = made(boat()), made(boat(y=-0.4))
    assert a.mass_kg == pytest.approx(b.mass_kg) and b.bought[0].centre[1] == pytest.approx(-0.4)
