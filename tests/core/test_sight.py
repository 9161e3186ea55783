"""How much water is hidden from the helm, by similar triangles on a box hull."""

import math
from typing import Any

import pytest

from stirrup.core.findings import Finding
from tests.boats import build_data, derive, plan
from tests.core.test_fit import FLOOR, found, thing


def test_the_bow_hides_the_water_by_similar_triangles() -> None:
    # box hull 4 x 2 x 1 m, 1600 kg + crew: level at rest; running trim 0 keeps it so
    data = build_data(mass=1600.0, centre=(2.0, 0.0, 0.3), propulsion={"running_trim": 0.0})
    crew = [{"posture": "standing", "mass": 1e-6, "stature": 1.8, "at": [1.0, 0.0, 0.003]}]
    console = thing("console", "console", (1.5, 0, FLOOR), (0.2, 0.5, 0.5))
    console["mass"]["value"] = 1e-6
    boat = plan(**{k: v for k, v in data.items() if k in ("propulsion",)}, items=[console],
                cases=[{"name": "out", "crew": crew}])  # fmt: skip
    line = next(f for f in found(derive(boat), "EYE-LINE") if f.text.startswith("out"))
    # draft 0.2: water at 0.2; eye at 0.003 + 0.935 x 1.8 = 1.686, 1.486 over it, at x 1.09;
    # stem at 4, its top 0.8 over the water: the ray falls 0.686 in 2.91 and meets it
    # 0.8 x 2.91 / 0.686 ahead of the stem
    assert line.values["blind"].value == pytest.approx(0.8 * 2.91 / 0.686, rel=2e-3)
    # others in his place: eyes at 0.003 + 0.935 of 1.55, 1.75 and 1.90, 0.05 of it ahead of the feet
    assert line.working is not None
    told = {i.name: i.quantity.value for i in line.working.inputs if i.name.startswith("hidden from some")}
    for word, stature in (("short", 1.55), ("middling", 1.75), ("tall", 1.90)):
        fall = 0.003 + 0.935 * stature - 0.2 - 0.8
        ahead = 4.0 - (1.0 + 0.05 * stature)
        assert told[f"hidden from somebody {word} there"] == pytest.approx(0.8 * ahead / fall, rel=2e-3)


def blind(items: list[dict[str, Any]], trim: float = 0.0, **more: Any) -> Finding:
    """The eye line of one standing at x 1.0 in a box hull, 4 x 2 x 1 m, level with draft 0.2."""
    crew = [{"posture": "standing", "mass": 1e-6, "stature": 1.8, "at": [1.0, 0.0, 0.003]}]
    light = [{**i, "mass": {**i["mass"], "value": 1e-6}} for i in items]
    console = thing("console", "console", (1.5, 0, FLOOR), (0.2, 0.5, 0.5))
    console["mass"]["value"] = 1e-6
    boat = plan(propulsion={"running_trim": trim}, items=[console, *light],
                cases=[{"name": "out", "crew": crew}], **more)  # fmt: skip
    return next(f for f in found(derive(boat), "EYE-LINE") if f.text.startswith("out"))


def test_the_far_edge_of_a_long_chest_hides_more_than_its_near_one() -> None:
    # chest x 2.2 to 3.8, top at 1.3, 1.1 over the water; eye at (1.09, 1.686), 1.486 over it.
    # Level, the near edge is seen lower by 0.386 in 1.11, the far one by 0.386 in 2.71: that hides
    # water to 1.09 + 1.486 · 2.71/0.386 = 11.523 m, 7.523 m ahead of the stem
    chest = thing("chest", "box", (3.0, 0, FLOOR), (1.6, 0.6, 1.29))
    line = blind([chest])
    assert line.values["blind"].value == pytest.approx(1.09 + 1.486 * 2.71 / 0.386 - 4, rel=3e-3)
    # 7.523 m are 1.9 of her lengths of 4 m, under the limit of 3
    assert line.level == "fine"
    # bow up by 6° about x 2: H = (x - 2) sin 6° + (z - 0.2) cos 6°, X = (x - 2) cos 6° - (z - 0.2) sin 6°
    s, c = math.sin(math.radians(6)), math.cos(math.radians(6))
    eye = ((1.09 - 2) * c - 1.486 * s, (1.09 - 2) * s + 1.486 * c)
    far = (1.8 * c - 1.1 * s, 1.8 * s + 1.1 * c)
    stem = 2 * c - 0.8 * s  # the top of the stem, 0.8 over the water at rest
    met = eye[0] + eye[1] * (far[0] - eye[0]) / (eye[1] - far[1])
    steep = blind([chest], 6.0)
    assert steep.values["blind"].value == pytest.approx(met - stem, rel=3e-3)
    assert steep.level == "look"  # the same chest, the other verdict


def test_what_stands_aside_or_hangs_overhead_hides_no_water() -> None:
    free = blind([]).values["blind"].value
    aside = thing("aside", "box", (3.0, 0.7, FLOOR), (1.6, 0.4, 1.29))
    overhead = thing("roof", "box", (2.4, 0, 1.9), (1.2, 1.0, 0.1))
    under_foot = thing("plate", "box", (1.0, 0, FLOOR), (0.6, 0.6, 0.02))
    for item in (aside, overhead, under_foot):
        assert blind([item]).values["blind"].value == pytest.approx(free)
    # turned square to the boat the same box reaches into his line
    assert blind([{**aside, "turn": 90.0}]).values["blind"].value > free + 1
