"""Every limit of every field, from both sides: the value on it is taken (or not, where it is left
out), one just beyond is refused. No limit of a field is missing here."""

import math
from typing import Annotated, Any

import pytest
from pydantic import TypeAdapter, ValidationError
from pydantic.fields import FieldInfo

from stirrup.core.bodies.existing import Existing
from stirrup.core.bodies.item import Slide
from stirrup.core.bodies.was import Was
from stirrup.core.document import Document, MassPoint
from stirrup.core.hull.model import Diagonals, KnuckleLine, QuickStart, Skin
from stirrup.core.kinds.battery_tray import BatteryTray
from stirrup.core.kinds.bilge_well import BilgeWell
from stirrup.core.kinds.bulkhead import Bulkhead
from stirrup.core.kinds.cable_run import CableRun
from stirrup.core.kinds.chocks import Chocks
from stirrup.core.kinds.console_box import ConsoleBox
from stirrup.core.kinds.cutout import Cutout
from stirrup.core.kinds.deck_fitting import DeckFitting
from stirrup.core.kinds.edge_run import EdgeRun
from stirrup.core.kinds.engine_bed import EngineBed
from stirrup.core.kinds.face_door import FaceDoor
from stirrup.core.kinds.floor import FloorChoices
from stirrup.core.kinds.foam_fill import FoamFill
from stirrup.core.kinds.hatch import Hatch
from stirrup.core.kinds.knees import Knees
from stirrup.core.kinds.leaning_post import LeaningPost
from stirrup.core.kinds.liner import Liner
from stirrup.core.kinds.lining import Lining
from stirrup.core.kinds.locker_box import LockerBox
from stirrup.core.kinds.moulded_dash import MouldedDash
from stirrup.core.kinds.own_part import OwnPart
from stirrup.core.kinds.paint_zone import PaintZone
from stirrup.core.kinds.patch import Patch
from stirrup.core.kinds.pedestal_seat import PedestalSeat
from stirrup.core.kinds.pods import Pods
from stirrup.core.kinds.raised_deck import RaisedDeck
from stirrup.core.kinds.restraint_seat import RestraintSeat
from stirrup.core.kinds.seat_box import SeatBox
from stirrup.core.kinds.section_stringer import SectionStringer
from stirrup.core.kinds.splash_well import SplashWell
from stirrup.core.kinds.step_box import StepBox
from stirrup.core.kinds.stringer import Stringer
from stirrup.core.kinds.swim_step import SwimStep
from stirrup.core.kinds.tank_cradle import TankCradle
from stirrup.core.kinds.transom import Transom
from stirrup.core.kinds.well_box import WellBox
from stirrup.core.money.suppliers import Offer, Supplier
from stirrup.core.parts import entries
from stirrup.core.plan.arrangement import Bond
from stirrup.core.plan.buying import Buying, Owned, Purchase
from stirrup.core.plan.condition import Place
from stirrup.core.plan.cut import CutPart
from stirrup.core.plan.cutting import Cutting, Pinned, Rest, SheetRest, StickRest
from stirrup.core.plan.fitted import Mark
from stirrup.core.plan.measured import FloatCheck, Inclining, Scale, WeighIn
from stirrup.core.plan.model import (
    BuoyantVolume,
    Gear,
    Item,
    Label,
    LoadCase,
    Person,
    Propulsion,
    Tank,
    Water,
    Wishes,
)
from stirrup.core.plan.stood import Stood
from stirrup.core.plan.terms import Terms

# entries of the catalogue: the fields that each class adds
ENTRIES: dict[type[Document], dict[str, str]] = {
    entries.Pack: {"quantity": "[0.001, 100000]", "price": "[0, 1000000]"},
    entries.Material: {
        "density": "(0, 20000]", "e_gpa": "(0, 500]", "yield_mpa": "(0, 3000]", "bend_t": "[0.1, 20]",
        "bend_thick_t": "[0.1, 20]",
    },
    entries.EntryBase: {"mass": "[0, 5000]", "minutes": "[0, 1000]"},
    entries.Sheet: {"thickness": "[0.0001, 0.2]", "width": "[0.05, 20]", "height": "[0.05, 10]"},
    entries.Section: {"a": "[0.001, 1]", "b": "[0.001, 1]", "t": "[0.0001, 0.2]", "length": "[0.1, 20]"},
    entries.Fastener: {
        "diameter": "[0, 0.05]", "grip_min": "[0, 1]", "grip_max": "[0, 1]", "drill": "[0, 0.05]",
    },
    entries.Latch: {
        "body": "(0, 0.3]", "underside": "(0, 0.3]", "grip_min": "[0, 0.2]", "grip_max": "[0, 0.2]",
        "catch_drop": "[0, 0.3]", "reach": "[0, 0.3]",
    },
    entries.Pedestal: {
        "low": "[0.02, 1]", "high": "[0.02, 1]", "base": "[0.05, 0.6]", "circle": "[0.04, 0.6]",
        "bolts": "[3, 16]",
    },
    entries.Line: {
        "bend": "[0.01, 2]", "slack": "[0, 3]", "together": "[1, 6]", "most_turned": "[90, 1080]",
    },
    entries.Strut: {"force": "(0, 5000]", "extended": "(0.05, 2]", "stroke": "(0.01, 1]"},
    entries.Plain: {"thickness": "[0, 0.5]", "pitch": "[0, 1]"},
    entries.Resin: {"density": "(0, 5000]", "gel_minutes": "(0, 10000]", "least_c": "[-20, 60]"},
    entries.Cloth: {"glass_share": "(0, 1)", "roll_width": "(0, 5]"},
    entries.Whole: {"power": "(0, 1000]", "volume": "(0, 10]"},
}  # fmt: skip

# "[" and "]": the limit itself is accepted; "(" and ")": it is not; one side may be open
LIMITS: dict[type[Document], dict[str, str]] = {
    MassPoint: {"value": "(0, 100000]", "spread": "[0,"},
    Water: {"density": "[900, 1300]"},
    Slide: {"fore": "[0, 20]", "aft": "[0, 20]", "port": "[0, 5]", "starboard": "[0, 5]"},
    Item: {
        "density": "(0,", "volume_buoyant": "[0,", "turn": "[-180, 180]", "price": "[0, 1000000]",
        "power": "(0, 1000]", "shaft": "(0, 2.5]", "mounted": "[0, 2.5]", "setback": "[0, 1.5]",
        "jack": "[0, 0.4]", "brings": "[0, 1000000]",
    },
    Existing: {"weighs": "[0, 2000]", "brings": "[0, 1000000]"},
    Mark: {"at": "[0, 50]", "low": "[-0.08, 0.08]", "high": "[-0.08, 0.08]"},
    Was: {"turn": "[-180, 180]", "holes": "[0, 200]"},
    Stood: {"planned": "[-60, 60]", "stands": "[-60, 60]", "spread": "[0, 0.1]"},
    Tank: {"partitions_across": "[0, 20]", "empty_mass": "[0, 1000]", "price": "[0, 1000000]"},
    BuoyantVolume: {"density": "[0, 3000]", "cost": "[0, 1000000]"},
    Label: {"persons_kg": "(0,", "total_kg": "(0,", "power_kw": "(0,", "persons": "(0,"},
    Propulsion: {"running_trim": "[-5, 20]", "transom_height": "(0, 3]"},
    Person: {"mass": "(0, 400]", "stature": "(0.5, 2.5]"},
    Place: {"size": "(0, 10]"},
    Gear: {"mass": "(0, 1000]", "length": "(0, 10]", "width": "(0, 5]", "height": "(0, 5]"},
    CutPart: {"length": "[0, 50]"},
    Cutting: {
        "brake_long": "(0, 10]", "brake_thick": "(0, 0.05]", "shear_thick": "(0, 0.05]",
        "saw_deep": "(0, 0.5]", "table_wide": "(0, 5]",
        "kerf": "[0, 0.02]", "margin": "[0, 0.1]", "stick_kerf": "[0, 0.02]", "trim": "[0, 0.1]",
        "scribe": "[0, 0.1]",
    },
    Purchase: {
        "quantity": "[0.001, 100000]", "packs": "[1, 10000]", "price": "[0, 1000000]",
        "received": "[0, 10000]", "returned": "[0, 10000]", "handed": "[0, 10000]",
    },
    Owned: {"quantity": "[0, 100000]"},
    Buying: {"per_km": "[0, 100]", "road_hour": "[0, 1000]", "reserve": "[0, 100]"},
    Terms: {
        "days": "[1, 365]", "margin": "[0, 200]", "overhead": "[0, 100]", "rate": "[0, 1000]",
        "tax": "[0, 50]", "work_tax": "[0, 50]",
    },
    Supplier: {
        "freight": "[0, 100000]", "free_from": "[0, 1000000]", "minimum": "[0, 1000000]",
        "days": "[0, 365]", "km": "[0, 5000]", "hours": "[0, 100]",
    },
    Offer: {"quantity": "[0.001, 100000]", "price": "[0, 1000000]"},
    Rest: {"count": "[1, 50]"},
    SheetRest: {"width": "[0.001, 20]", "height": "[0.001, 20]", "count": "[1, 50]"},
    Pinned: {"sheet": "[1, 300]", "x": "[-40, 40]", "y": "[-40, 40]"},
    StickRest: {"length": "[0.001, 20]", "count": "[1, 50]"},
    Wishes: {"crew": "[1, 30]", "budget": "[0, 10000000]", "tax_percent": "[0, 50]", "rate": "[0, 1000]"},
    Scale: {"force": "(0, 100000]", "x": "[-5, 30]", "y": "[-5, 5]"},
    WeighIn: {"spread": "(0, 500]"},
    FloatCheck: {"spread": "(0, 0.5]", "bow": "(-5, 5)", "port": "(-5, 5)", "starboard": "(-5, 5)"},
    LoadCase: {"lifted": "[0, 0.5]"},
    Skin: {"side": "[0, 0.2]", "bottom": "[0, 0.2]", "transom": "[0, 0.2]"},
    Inclining: {
        "mass": "(0, 5000]", "distance": "(0, 5]", "heel_deg": "(0, 20]", "spread_deg": "(0, 5]",
    },
    Bond: {"distance": "[-40, 40]"},
    QuickStart: {
        "length": "[1.5, 15]", "beam": "[0.5, 5]", "bottom": "[0.2, 5]", "side_aft": "[0.1, 3]",
        "side_middle": "[0.1, 3]", "side_bow": "[0.1, 4]", "deadrise_aft": "[0, 30]",
        "deadrise_middle": "[0, 35]", "transom_rake": "[-20, 35]", "bow_rake": "[0, 65]",
    },
    Diagonals: {"port": "(0, 30]", "starboard": "(0, 30]"},
    RaisedDeck: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "height": "(0, 5]", "side_gap": "[0, 0.1]",
        "spacing": "[0.1, 1.5]", "fastener_pitch": "[0.02, 0.4]", "face_foot": "[0, 5]",
        "rises": "[-6, 6]", "inner": "[0, 4]", "toe": "[0, 0.2]", "toe_high": "[0.05, 0.25]",
        "posts": "[0, 3]", "post_every": "[1, 6]",
    },
    FloorChoices: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "height": "(0, 5]", "side_gap": "[0, 0.1]",
        "spacing": "[0.1, 1]", "fastener_pitch": "[0.02, 0.4]", "limber": "[0, 0.2]",
        "fall": "[0.1, 5]",
    },
    Lining: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "low": "[0, 5]", "high": "[0, 5]", "spacing": "[0.1, 1]",
    },
    FaceDoor: {"deep": "[0, 1.5]",
        "y": "[-5, 5]", "z": "[0, 5]", "clear_width": "[0.08, 2]", "clear_height": "[0.08, 1]",
    },
    PedestalSeat: {"x": "[-2, 40]", "y": "[-5, 5]", "turn": "[-180, 180]", "set_to": "[0.02, 1]"},
    RestraintSeat: {
        "x": "[-2, 40]", "y": "[-5, 5]", "depth": "[0.3, 0.8]", "width": "[0.3, 0.8]", "high": "[0.5, 1.2]",
        "slots": "[0.3, 0.8]", "slots_at": "[0.3, 1.4]", "recline": "[0, 30]", "bracket": "[0.05, 0.15]",
        "weighs": "[30, 200]", "times": "[2, 50]",
    },
    PaintZone: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "low": "[-1, 5]", "high": "[-1, 5]", "primed": "[0, 4]",
        "coats": "[0, 8]",
    },
    DeckFitting: {
        "x": "[-2, 40]", "y": "[-5, 5]", "turn": "[-180, 180]", "length": "[0.02, 2]", "width": "[0.01, 1]",
        "height": "[0.005, 1]", "along": "[0.02, 2]", "across": "[0, 1]", "body": "[0, 0.3]",
        "pull": "[0, 100000]", "pull_up": "[0, 2]",
    },
    Chocks: {"filled": "[0, 300]", "pitch": "[0.02, 0.4]"},
    Bulkhead: {
        "hand": "[0, 0.4]", "hand_out": "[0.05, 4]", "hand_up": "[0.05, 4]",
        "x": "[-2, 40]", "top": "(0, 5]", "gap": "[0, 0.02]", "limber": "[0, 0.2]", "wide": "[0, 3]",
        "high": "[0.05, 2]", "sill": "[0, 3]", "corner": "[0, 0.5]", "plies": "[1, 8]",
        "cables": "[0, 6]", "cable_out": "[0.03, 4]", "cable_up": "[0, 4]",
    },
    BatteryTray: {"pitch": "[0.02, 0.4]"},
    TankCradle: {"pitch": "[0.02, 0.4]"},
    FoamFill: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "starboard": "[-5, 5]", "port": "[-5, 5]", "top": "(0, 5]",
        "drain": "[0, 0.5]", "drain_high": "[0.01, 0.3]",
    },
    Pods: {
        "long": "[0.1, 2.5]", "inner": "[0.02, 3]", "outer": "[0.1, 4]", "top": "(0, 4]", "plies": "[1, 8]",
    },
    Knees: {
        "deep": "[0.02, 0.5]",
        "aft": "[-2, 40]", "fore": "[-2, 40]", "every": "[0.1, 3]", "toe": "[0, 4]", "top": "(0, 5]",
        "gap": "[0, 0.02]",
    },
    EdgeRun: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "wide": "[0.002, 0.6]", "high": "[0.002, 0.8]",
        "every": "[0.03, 1]",
    },
    Liner: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "up": "[0, 0.6]", "hull": "[0.0005, 0.05]",
        "pitch": "[0.03, 0.6]", "range_k": "[0, 100]",
    },
    SectionStringer: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "y": "[-5, 5]", "y_fore": "[-5, 5]", "pitch": "[0.02, 0.4]",
    },
    SplashWell: {
        "y": "[-5, 5]", "width": "[0.15, 4]", "length": "[0.1, 2]", "floor": "[0, 5]", "falls": "[0, 15]",
        "top": "(0, 5]", "drains": "[0, 8]",
    },
    Cutout: {
        "x": "[-2, 40]", "y": "[-5, 5]", "z": "[0, 5]", "length": "[0.15, 6]", "width": "[0.15, 4]",
        "corner": "[0, 0.5]", "gap": "[0.0005, 0.02]", "pieces": "[1, 4]", "backing": "[0.02, 0.3]",
        "plies": "[1, 8]",
    },
    OwnPart: {
        "x": "[-2, 40]", "y": "[-5, 5]", "z": "[-1, 5]", "width": "[0.01, 20]", "height": "[0.01, 20]",
        "count": "[1, 20]",
    },
    MouldedDash: {
        "x": "[-2, 40]", "y": "[-5, 5]", "z": "[0, 5]", "length": "[0.1, 2]", "width": "[0.2, 4]",
        "aft_high": "[0.03, 1]", "fore_high": "[0.03, 1]", "flange": "[0, 0.2]", "radius": "[0.003, 0.15]",
        "draft": "[0, 20]", "plies": "[1, 12]",
    },
    Stringer: {
        "hollow": "[0, 0.2]", "notch": "[0, 1]", "notch_at": "[0, 40]", "notch_deep": "[0.005, 0.3]",
        "aft": "[-2, 40]", "fore": "[-2, 40]", "y": "[-5, 5]", "y_fore": "[-5, 5]", "top": "(0, 5]",
        "rises": "[-10, 10]", "layers": "[1, 6]", "gap": "[0, 0.02]", "taper": "[0, 2]",
        "limber": "[0, 0.2]", "limber_every": "[0.1, 5]", "plies": "[1, 10]",
    },
    Transom: {
        "top": "(0, 5]", "notch": "[0, 4]", "corner": "[0, 0.3]", "layers": "[1, 5]", "outer": "[0, 0.05]",
        "gap": "[0, 0.03]", "plies": "[1, 10]", "propeller": "[0.1, 0.6]",
    },
    CableRun: {"high": "[0, 5]", "off": "[0, 0.5]", "radius": "[0.01, 2]", "slack": "[0, 3]",
               "grommets": "[0, 60]"},
    WellBox: {"overflow": "[0.02, 0.3]"},
    StepBox: {
        "x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.1, 2]", "width": "[0.1, 2]", "height": "[0.05, 0.6]",
    },
    SeatBox: {
        "x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.25, 1.2]", "width": "[0.3, 3]",
        "height": "[0.15, 0.8]", "lids": "[0, 4]", "opens": "[40, 105]",
    },
    LockerBox: {
        "x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.15, 3]", "width": "[0.15, 3]",
        "height": "[0.1, 1.6]", "lids": "[0, 4]", "longest": "(0, 6]", "opens": "[40, 105]",
        "tubes": "[0, 20]",
    },
    LeaningPost: {
        "x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.2, 0.9]", "width": "[0.4, 1.8]",
        "height": "[0.5, 1.2]", "rail_up": "[0.08, 0.5]",
    },
    ConsoleBox: {
        "x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.2, 1.2]", "width": "[0.3, 1.6]",
        "height": "[0.5, 1.5]", "dash": "[0.12, 0.6]", "lean": "[0, 60]", "fall": "[0, 10]",
        "wheel_up": "[0.03, 0.5]", "rest_up": "[0.05, 0.4]", "gauges": "[0, 6]", "mounts": "[0, 8]",
    },
    BilgeWell: {"x": "[-2, 40]", "y": "[-5, 5]", "length": "[0.1, 1.5]", "width": "[0.1, 1.5]"},
    EngineBed: {
        "aft": "[-2, 40]", "fore": "[-2, 40]", "y": "[-5, 5]", "feet": "[-2, 40]", "apart": "[0.1, 3]",
        "across": "[0.1, 2]", "top": "(0, 5]", "rises": "[-15, 15]", "layers": "[1, 6]", "gap": "[0, 0.02]",
        "taper": "[0, 1]", "limber": "[0, 0.2]", "relief": "[-2, 40]", "relief_long": "[0.02, 1]",
        "relief_deep": "[0.005, 0.3]", "plies": "[1, 10]", "shims": "[0, 0.03]", "speed": "[300, 9000]",
        "coupling": "[0.03, 0.5]", "gap_top": "[0, 0.01]", "gap_bottom": "[0, 0.01]",
        "gap_port": "[0, 0.01]", "gap_starboard": "[0, 0.01]",
    },
    Patch: {
        "x": "[-2, 40]", "y": "[-5, 5]", "z": "[-1, 5]", "hole": "[0, 1.5]", "deep": "[0.0005, 0.05]",
        "ratio": "[4, 20]", "covers": "[0, 4]",
    },
    SwimStep: {
        "y": "[-5, 5]", "z": "(0, 5]", "width": "[0.2, 4]", "deep": "[0.15, 1.2]", "brackets": "[2, 8]",
        "through": "[0.002, 0.12]",
    },
    Hatch: {
        "x": "[-2, 40]", "y": "[-5, 5]", "clear_length": "[0.1, 2]", "clear_width": "[0.1, 2]",
        "corner": "[0, 0.3]", "landing": "[0.008, 0.1]", "runner": "[0, 0.05]",
        "opens": "[40, 105]", "gutter": "[0.015, 0.06]", "axis_inside": "[0.004, 0.06]",
    },
}  # fmt: skip
LIMITS |= ENTRIES
ROWS = [(kind, name, text) for kind, fields in LIMITS.items() for name, text in fields.items()]
# first values of forms, as a typical boat has them
FIRST = {
    "length": 4.5, "beam": 1.8, "bottom": 1.4, "side_aft": 0.55, "side_middle": 0.58, "side_bow": 0.75,
    "deadrise_aft": 9.0, "deadrise_middle": 12.0, "transom_rake": 8.0, "bow_rake": 25.0,
}  # fmt: skip


def takes(field: FieldInfo, value: Any) -> bool:
    try:
        TypeAdapter(Annotated[field.annotation, field]).validate_python(value)
    except ValidationError:
        return False
    return True


def just(limit: float, up: bool, whole: bool) -> float:
    """The next number of the field's kind."""
    if whole:
        return limit + (1 if up else -1)
    return math.nextafter(limit, math.inf if up else -math.inf) if limit else (1e-12 if up else -1e-12)


@pytest.mark.parametrize(("kind", "name", "text"), ROWS, ids=[f"{k.__name__}.{n}" for k, n, _ in ROWS])
def test_a_limit_holds_on_both_its_sides(kind: type[Document], name: str, text: str) -> None:
    field = kind.model_fields[name]
    whole = "int" in str(field.annotation)
    money = "Decimal" in str(field.annotation)
    low, _, high = text[1:].partition(",")
    for limit, closed, outward in (
        (low, text[0] == "[", False),
        (high.rstrip("])"), text[-1] == "]", True),
    ):
        if not limit.strip():
            # open to this side: no size is too much
            assert takes(field, 10**9)
            continue
        at = float(limit)
        step = 0.01 if money else None
        beyond = at + (step if outward else -step) if step else just(at, outward, whole)
        within = at - (step if outward else -step) if step else just(at, not outward, whole)
        assert takes(field, int(at) if whole else at) is closed
        assert not takes(field, beyond)
        assert takes(field, within)


def test_no_limit_is_left_out() -> None:
    def limited(field: FieldInfo) -> bool:
        return any(type(m).__name__ in ("Ge", "Gt", "Le", "Lt") for m in field.metadata)

    def kinds(of: type[Document]) -> set[type[Document]]:
        below = of.__subclasses__()
        return {*below, *(k for b in below for k in kinds(b))}

    # those of the web's requests and of changes have tests of their own
    own = {
        k
        for k in kinds(Document)
        if k.__module__.startswith("stirrup.core") and "changes" not in k.__module__
    }
    missing = {
        f"{k.__name__}.{n}"
        for k in own
        for n, f in k.model_fields.items()
        if limited(f) and not any(n in LIMITS.get(b, {}) for b in own if issubclass(b, k) or b in k.__mro__)
    }
    assert missing == set()


@pytest.mark.parametrize("name", FIRST)
def test_a_form_starts_as_the_typical_boat(name: str) -> None:
    assert QuickStart.model_fields[name].default == FIRST[name]


def test_a_reading_s_spread_is_more_than_nothing() -> None:
    line = {"name": "keel", "points": [(0.0, 0.0, 0.0), (1.0, 0.0, 0.0)]}
    assert KnuckleLine.model_validate({**line, "spread": 1.0}).spread == 1.0
    for wrong in (0.0, 1.0000001, -0.1):
        with pytest.raises(ValidationError):
            KnuckleLine.model_validate({**line, "spread": wrong})
