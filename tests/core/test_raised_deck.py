import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Built
from stirrup.core.fittings.edges import (
    breadth_at,
    inside_region,
    opening_angles_deg,
    path_length_m,
    relief_slots,
    side_path,
    slot_interval_m,
)
from stirrup.exchange.buildfile import from_data
from tests.boats import DECK, HATCH, box_lines, build_data, derive, skiff_plan, surface

BOX_DECK = {**DECK, "aft": 1.0, "fore": 2.0, "height": 0.5, "skin": "al-2.5", "side_gap": 0.005}


def box_deck(existing=(), fittings=(), **choices) -> Built:
    """A deck in a 4 x 2 x 1 m box whose inside is 1.995 m wide."""
    data = build_data(box_lines(), fittings=[{**BOX_DECK, **choices}, *fittings], existing=list(existing))
    return derive(from_data(data)).built[0]


def codes(built: Built, code: str) -> list:
    return [f for f in (*built.findings, *built.behind) if f.code == code]


def test_outline_is_the_inside_less_the_gap() -> None:
    built = box_deck()
    # inside half-breadth 1 - 0.0025, less 5 mm: 0.9925 each side; 1 m long
    assert built.region.area == pytest.approx(2 * 0.9925 * 1.0, rel=1e-6)
    assert built.region.bounds == pytest.approx((1.0, -0.9925, 2.0, 0.9925))


def test_skin_mass_is_area_times_thickness_times_density() -> None:
    skins = list(box_deck(face=False).panels)
    assert sum(p.mass_kg for p in skins) == pytest.approx(1.985 * 1.0 * 0.0025 * 2680, rel=0.002)
    assert skins[0].centre[2] == pytest.approx(0.5 - 0.00125)


def test_skin_wider_than_its_sheet_is_split_on_a_member() -> None:
    # 1.985 m across lies along the 2.44 m sheet; so pieces are at most 1.22 - 2 x 0.006 m long
    built = box_deck(fore=3.5, spacing=0.5)
    skins = [p for p in built.panels if "/skin/" in p.key]
    assert len(skins) == 3
    beams = {round(m.path[0][0], 4) for m in built.members if "/cross/" in m.key}
    for panel in skins[:-1]:
        edge = max(x for x, _ in panel.outline) + 0.0005
        assert round(edge, 4) in beams
        assert edge - min(x for x, _ in panel.outline) <= 1.22 - 0.012 + 1e-9


def test_cross_members_stand_at_equal_bays_not_wider_than_asked() -> None:
    built = box_deck(spacing=0.35)
    x = sorted(m.path[0][0] for m in built.members if "/cross/" in m.key)
    # first and last half a leg inside, the first behind a face of 2.5 mm: 0.9575 m in 3 bays
    assert x == pytest.approx([1.0225, 1.0225 + 0.9575 / 3, 1.98 - 0.9575 / 3, 1.98])


def test_member_length_allows_for_every_lap() -> None:
    member = next(m for m in box_deck().members if "/cross/" in m.key)
    # inside 1.995 less two times angle 3 mm, bracket 3 mm, play 1.5 mm
    assert member.length == pytest.approx(1.995 - 2 * (0.003 + 0.003 + 0.0015), abs=1e-4)


def test_side_angles_of_a_box_are_straight_and_square() -> None:
    sides = [m for m in box_deck().members if "/side/" in m.key]
    # behind the face
    assert [m.length for m in sides] == pytest.approx([1.0 - 0.0025] * 2)
    assert all(m.slots == () for m in sides)
    assert all(m.opening_deg == pytest.approx((90, 90)) for m in sides)


def test_identity_of_parts_stays_when_an_edge_moves() -> None:
    before, after = box_deck(), box_deck(aft=1.05)
    assert [p.key for p in before.panels] == [p.key for p in after.panels]
    assert [m.label for m in before.members] == [m.label for m in after.members]


def test_labels_are_unique() -> None:
    plan = skiff_plan(fittings=[DECK, HATCH])
    built = derive(plan).built
    labels = [x.label for b in built for x in b.parts]
    assert len(labels) == len(set(labels))


def test_a_rib_through_the_deck_is_notched_round() -> None:
    rib = {"id": "rib", "name": "rib 1", "kind": "rib",
           "box": {"size": [0.04, 0.1, 0.6], "floor_centre": [1.5, 0.95, 0.1]}}  # fmt: skip
    plain, notched = box_deck(face=False), box_deck([rib], face=False)
    # the notch is the rib's 0.04 m and the gap on each side, from y = 0.895 to the edge
    lost = (0.9925 - (0.90 - 0.005)) * (0.04 + 0.01)
    assert plain.region.area - notched.region.area == pytest.approx(lost, rel=1e-6)
    assert codes(notched, "DECK-NOTCH")[0].values["over"].value == pytest.approx(0.7 - 0.4975)


def test_an_outline_in_plan_without_heights_is_notched_at_any_height() -> None:
    well = {
        "id": "w",
        "name": "well",
        "kind": "well",
        "outline": [[1.4, 0.6], [1.6, 0.6], [1.6, 1.2], [1.4, 1.2]],
    }
    lost = (0.9925 - 0.595) * 0.21
    assert box_deck(face=False).region.area - box_deck([well], face=False).region.area == pytest.approx(
        lost
    )


def test_a_removed_rib_is_no_obstacle() -> None:
    rib = {"id": "rib", "kind": "rib", "stage": "removed",
           "box": {"size": [0.04, 0.1, 0.6], "floor_centre": [1.5, 0.95, 0.1]}}  # fmt: skip
    assert box_deck([rib]).region.area == pytest.approx(box_deck().region.area)


def test_a_thwart_right_under_the_skin_is_a_landing() -> None:
    thwart = {"id": "t", "name": "thwart", "kind": "thwart",
              "box": {"size": [0.2, 1.9, 0.396], "floor_centre": [1.5, 0, 0.1]}}  # fmt: skip
    finding = codes(box_deck([thwart]), "DECK-LANDS")[0]
    assert finding.level == "fine"
    assert finding.values["drop"].value == pytest.approx(0.0015)


def lip(clear: float, z: float = 0.95) -> list[dict]:
    return [
        {"id": f"lip{s}", "kind": "lip", "box": {"size": [4, 1 - clear / 2, 0.03],
         "floor_centre": [2, s * (1 + clear / 2) / 2, z]}} for s in (1, -1)
    ]  # fmt: skip


def test_the_deck_passes_a_narrow_lip_flat() -> None:
    # as every passage, it comes behind the hand
    assert not [f for f in box_deck(lip(1.99)).findings if f.code == "LIP"]
    assert codes(box_deck(lip(1.99)), "LIP")[0].level == "fine"


def test_the_deck_goes_past_a_wider_lip_tilted() -> None:
    finding = codes(box_deck(lip(1.9)), "LIP")[0]
    assert finding.level == "look"
    # tilt = acos(1.9 / 1.985)
    assert finding.values["tilt"].value == pytest.approx(math.degrees(math.acos(1.9 / 1.985)), abs=0.05)


def test_a_deck_that_cannot_pass_is_told_to_be_split() -> None:
    finding = codes(box_deck(lip(1.2)), "LIP")[0]
    assert finding.level == "mend"
    assert "Split" in finding.remedy


def test_rivet_one_lap_too_short_is_found_with_the_amount() -> None:
    # 2.5 mm skin + 3 mm member = 5.5 mm; the rivet holds 5.0
    finding = next(f for f in box_deck(rivet="rivet-4.8x8").findings if "too short" in f.title)
    assert finding.values["short"].value == pytest.approx(0.0005)
    assert "5 to 6.5" in finding.remedy


def test_rivets_are_counted_by_pitch() -> None:
    built = box_deck(face=False, fastener_pitch=0.1)
    hull = next(b for b in built.bought if b.key.endswith("fasteners/hull"))
    assert hull.quantity == 2 * 11  # 1 m at 0.1 m: 11 on each side
    brackets = next(b for b in built.bought if b.key.endswith("/brackets"))
    assert brackets.quantity == 2 * 4  # two ends of four cross members


def test_wood_gets_screws_and_the_wider_gap_of_a_wrapped_cover() -> None:
    built = box_deck(skin="ply-12", side_gap=None, cover="carpet", face=False)
    assert built.region.bounds[3] == pytest.approx(0.9975 - 0.003 - 0.006)
    skin = next(b for b in built.bought if b.key.endswith("fasteners/skin"))
    assert skin.item.startswith("screw")


def test_cover_and_glue_weigh() -> None:
    built = box_deck(cover="carpet", skin="al-2.5", side_gap=0.005, face=False)
    cover = next(b for b in built.bought if b.key == "deck/cover")
    # deck area and 50 mm turned under the aft edge, 0.75 kg/m2
    assert cover.mass_kg == pytest.approx((1.985 + 1.985 * 0.05) * 0.75, rel=0.001)


def test_face_panel_is_the_section_under_the_deck() -> None:
    face = next(p for p in box_deck().panels if p.key == "deck/face")
    # 1.985 wide; from the bottom skin and gap at 8 mm up to 0.4975
    assert face.polygon.area == pytest.approx(1.985 * (0.4975 - 0.008), rel=1e-4)
    assert face.centre[0] == pytest.approx(1.00125)


def test_a_deck_above_the_hull_or_behind_it_cannot_be_built_and_says_why() -> None:
    for choices, words in (
        ({"height": 1.5}, "meets no hull"),
        ({"aft": 3.95, "fore": None}, "there is no deck"),
    ):
        plan = from_data(build_data(box_lines(), fittings=[{**BOX_DECK, **choices}]))
        derived = derive(plan)
        finding = next(f for f in derived.findings if f.code == "CANNOT-BUILD")
        assert words in finding.text
        assert derived.cases[0].report is not None  # the rest still stands


def raked(rake: float) -> list[dict]:
    """A box of 4 x 2 x 1 m whose transom leans aft: its sheer starts `rake` abaft its keel."""
    lines = box_lines()
    for line in lines:
        (_, y, z), fore = line["points"]
        line["points"] = [[-rake * z, y, z], fore]
    return lines


def test_an_edge_left_open_follows_the_raked_transom_with_the_gap() -> None:
    deck = {**BOX_DECK, "aft": None, "fore": 1.0, "face": False, "face_fore": True, "height": 0.5}
    derived = derive(from_data(build_data(raked(0.2), fittings=[deck])))
    assert [f for f in derived.findings if f.code == "CANNOT-BUILD"] == []
    panels = {p.key: p for p in derived.built[0].panels}
    # inside of the transom at the underside, 0.4975 m up: x = -0.2 z, and the plate's 2.5 mm square
    # to the rake, then the gap of 5 mm
    x0 = min(x for p in panels.values() if "skin" in p.key for x, _ in p.outline)
    assert x0 == pytest.approx(-0.2 * 0.4975 + 0.005 + derived.surface.thickness[0], abs=0.0015)
    assert x0 < -0.08
    # the face stands under the fore edge
    assert panels["deck/face-fore"].frame.origin[0] == pytest.approx(1.0 - 0.00125)
    assert "deck/face" not in panels


def test_an_edge_beyond_the_transom_is_one_along_it() -> None:
    open_, beyond = (
        derive(from_data(build_data(raked(0.2), fittings=[{**BOX_DECK, "aft": a, "fore": 1.0}]))).built[0]
        for a in (None, -1.5)
    )
    assert open_.region.equals_exact(beyond.region, 1e-9)


@pytest.mark.slow
@given(st.floats(2.0, 3.5), st.floats(0.15, 0.5))
@settings(max_examples=20, deadline=None)
def test_pieces_of_the_skin_make_the_whole_deck(aft: float, height: float) -> None:
    plan = skiff_plan(fittings=[{**DECK, "aft": round(aft, 3), "height": round(height, 3)}])
    built = derive(plan).built[0]
    skins = [p for p in built.panels if "/skin/" in p.key]
    if not skins:
        return
    lost = (len(skins) - 1) * 0.001 * 2  # at most 1 mm at each joint, 2 m wide
    assert sum(p.polygon.area for p in skins) == pytest.approx(built.region.area, abs=lost + 1e-6)
    inside = inside_region(derive(plan).surface, plan.fittings[0].height - 0.0025)  # type: ignore[union-attr]
    assert inside.buffer(1e-4).covers(built.region)


def test_relief_cuts_follow_the_radius() -> None:
    # sqrt(8 · 1.0 · 0.001) = 89 mm; 3 mm · 1.0 / 0.04 = 75 mm: the smaller
    assert slot_interval_m(1.0, 0.04) == pytest.approx(0.075)
    assert slot_interval_m(0.4, 0.04) == pytest.approx(0.05)  # never under 50 mm
    angle = np.linspace(0, math.pi / 2, 200)
    arc = np.column_stack([np.sin(angle), 1 - np.cos(angle)])
    relief = relief_slots(arc, 0.04)
    assert relief.tightest_m == pytest.approx(1.0, rel=0.03)
    assert len(relief.slots) == pytest.approx(math.pi / 2 / 0.075, abs=2)


def test_a_straight_side_needs_no_relief_cuts() -> None:
    line = np.column_stack([np.linspace(0, 2, 30), np.full(30, 0.9)])
    assert relief_slots(line, 0.04).slots == ()


def test_opening_angle_is_90_plus_the_flare() -> None:
    lines = box_lines()
    lines[1]["points"] = [[0, 0.8, 0], [4, 0.8, 0]]
    built = surface(lines)  # the side leans out 0.2 m over 1 m
    region = inside_region(built, 0.6)
    path = side_path(region, 1.0, 3.0, 1)
    low, high = opening_angles_deg(built, 0.6, path)
    assert low == pytest.approx(90 + math.degrees(math.atan(0.2)), abs=0.01)
    assert high == pytest.approx(low, abs=0.01)


def test_breadth_and_path_of_a_rectangle() -> None:
    shape = Polygon([(0, -1), (4, -1), (4, 1), (0, 1)])
    assert breadth_at(shape, 2.0) == pytest.approx((-1, 1))
    assert breadth_at(shape, 5.0) is None
    assert breadth_at(Polygon(), 1.0) is None
    assert path_length_m(side_path(shape, 1.0, 3.0, 1)) == pytest.approx(2.0)
