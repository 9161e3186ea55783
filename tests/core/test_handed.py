"""Handed panels: told where the same part cut twice would be wrong, and nowhere else."""

from dataclasses import replace

from stirrup.core.cutting.handed import mirror_of
from stirrup.core.derive import derive
from stirrup.demo.seed import demo_plan
from stirrup.exchange.catalogue import starting
from tests.core.test_bevels import deck

PLAIN = replace(deck(0.4, 0.3), outline=((0.0, 0.0), (1.0, 0.0), (0.7, 0.4), (0.0, 0.3)))


def named(key: str, *ring: tuple[float, float]):
    return replace(PLAIN, key=key, outline=ring)


def test_the_mirror_image_is_found_however_it_lies() -> None:
    image = named("m", (0.0, 0.0), (0.0, 0.3), (-0.7, 0.4), (-1.0, 0.0))
    assert mirror_of(PLAIN, [image]) is image
    # turned by a quarter, moved
    turned = named("t", *((5.0 - y, 2.0 + x) for x, y in image.outline))
    assert mirror_of(PLAIN, [turned]) is turned


def test_a_copy_and_what_is_its_own_mirror_image_are_not_handed() -> None:
    copy = named("c", *((3.0 - x, 1.0 - y) for x, y in PLAIN.outline))  # by half a turn
    assert mirror_of(PLAIN, [copy]) is None
    box, other = (
        named("b", (0, 0), (1, 0), (1, 0.4), (0, 0.4)),
        named("o", (0, 0), (1, 0), (1, 0.4), (0, 0.4)),
    )
    assert mirror_of(box, [other]) is None
    image = named("m", (0.0, 0.0), (0.0, 0.3), (-0.7, 0.4), (-1.0, 0.0))
    # either face may be up: cut twice it is both
    assert mirror_of(replace(PLAIN, flip=True), [image]) is None
    assert mirror_of(PLAIN, [replace(image, sheet=starting().sheet("al-2.5"))]) is None


def test_the_halves_of_a_floor_are_handed() -> None:
    found = derive(demo_plan("old-copper.stirrup.json"), starting(), quick=True)
    skins = {p.key: p for b in found.built for p in b.panels if "/skin/" in p.key}
    pairs = {k: m.key for k, p in skins.items() if (m := mirror_of(p, skins.values())) is not None}
    assert pairs["floor/skin/1.1"] == "floor/skin/1.2" and pairs["floor/skin/1.2"] == "floor/skin/1.1"
