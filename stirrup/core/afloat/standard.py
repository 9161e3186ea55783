"""Load cases that every plan has, made from the plan and following it.

Source: docs/trade-rules.md, “Load cases”. They cannot be changed, so that no figure gets better
by an easier case of the same name: a changed one is the build's own and stands beside it.
"""

from __future__ import annotations

from collections.abc import Container
from functools import partial

from stirrup.core.afloat.ground import Footing, settled
from stirrup.core.afloat.moments import Offered, moment_cases
from stirrup.core.afloat.stowed import with_stowed
from stirrup.core.contract.gives import Floor
from stirrup.core.document import MassPoint
from stirrup.core.errors import CoreError
from stirrup.core.plan.model import (
    RESERVED,
    STANDARD_CREW_KG,
    Item,
    Label,
    LoadCase,
    Person,
    Plan,
    Tank,
)
from stirrup.core.plan.things import motors_kg

SEAT_TOP_M = 0.42  # of a seat over the floor: working value
RAIL_M = 0.20  # somebody at the rail stands this far in from the widest place he can
STATURE_M = 1.75
WELL_FILL, FUEL_FILL = 0.95, 0.5
ABOARD_WITHOUT_LABEL = 2

HELM, RAIL = "one at the helm", "everyone to one rail"
BOW_DECK, BOW = "two on the bow deck", "two in the bow"
AFT_WELL, AFT = "two aft, livewell full", "two aft"
TRAILER, FULL = "on the trailer", "full to the maker's label"


def _fuel(plan: Plan, fill: float) -> dict[str, float]:
    return {t.id: fill for t in plan.tanks if t.liquid in ("petrol", "diesel")}


def _is_well(tank: Tank) -> bool:
    return tank.liquid not in ("petrol", "diesel")


def _standing(x: float, y: float, name: str = "") -> Person:
    return Person(
        mass=STANDARD_CREW_KG, stature=STATURE_M, posture="standing", at=(x, y, 0.1), name=name, settle=True
    )


def _helm(footing: Footing) -> Person:
    """In the helm seat, else behind the console, else by the motor."""
    seats = [s for b in footing.built for s in b.seats]
    seat = next((s for s in seats if s.steers), seats[0] if seats else None)
    console = next((h for b in footing.built for h in b.helms), None)
    low, high = footing.surface.outside.low, footing.surface.outside.high
    if seat is not None:
        x, y = seat.at[0], seat.at[1]
    elif console is not None:
        x, y = console.at[0] - 0.5, console.at[1]
    else:
        x, y = float(low[0]) + 0.18 * float(high[0] - low[0]), 0.0
    ground, cushion = footing.at(x, y), footing.seat_m(x, y)
    floor = ground.height_m if ground else 0.1
    height = floor + SEAT_TOP_M if cushion is None else cushion
    return Person(
        mass=STANDARD_CREW_KG, stature=STATURE_M, posture="seated", at=(x, y, height),
        name="helm",
    )  # fmt: skip


def _deck(footing: Footing, fore: bool) -> Floor | None:
    """The foremost deck forward of the middle, or the aftmost one abaft it."""
    middle = float(footing.surface.outside.low[0] + footing.surface.outside.high[0]) / 2
    floors = [f for b in footing.built for f in b.floors if f.broad]
    decks = [f for f in floors if (f.region.centroid.x > middle) == fore]
    return max(decks, key=lambda f: f.region.centroid.x * (1 if fore else -1), default=None)


def _two(footing: Footing, fore: bool, side: float = 1.0) -> list[Person]:
    """Two people on the deck at that end, one to each side; else on the bottom. side: of the one farther
    forward, port +1: the same in the mirrored boat as in this one."""
    low, high = float(footing.surface.outside.low[0]), float(footing.surface.outside.high[0])
    deck = _deck(footing, fore)
    if deck is not None:
        x0, _, x1, _ = deck.region.bounds
        places = [(x0 + share * (x1 - x0), y) for share, y in ((0.6, 0.2), (0.3, -0.2))]
    else:
        share = 0.74 if fore else 0.16
        places = [(low + share * (high - low) - 0.4 * k, y) for k, y in ((0, 0.2), (1, -0.2))]
    return [_standing(x, y * side) for x, y in places]


def _at_rail(footing: Footing, x: float, side: float) -> float:
    """Half-width at which somebody can stand nearest to the rail [m]."""
    outside = footing.surface.outside
    beam = float(outside.high[1] if side > 0 else -outside.low[1])
    steps = 24
    for k in range(steps, 0, -1):
        y = beam * k / steps
        if footing.at(x, side * y) is not None:
            return max(0.0, y - RAIL_M) * side
    return 0.0


def _lean(plan: Plan, footing: Footing) -> float:
    """The side to which she leans already, port +1."""
    outside = footing.surface.outside
    middle = float(outside.low[1] + outside.high[1]) / 2
    weights = [plan.hull.mass, *(i.mass for i in plan.items if i.stage != "removed" and not i.in_hull_mass)]
    lean = sum(m.value * (m.centre[1] - middle) for m in weights)
    return -1.0 if lean < -1e-6 else 1.0


def _rail(plan: Plan, footing: Footing) -> list[Person]:
    """Everybody the label allows, or two, along the side to which she leans already."""
    low, high = float(footing.surface.outside.low[0]), float(footing.surface.outside.high[0])
    side = _lean(plan, footing)
    count = plan.label.persons if plan.label and plan.label.persons else ABOARD_WITHOUT_LABEL
    count = min(count, 12)
    shares = [0.2 + 0.5 * k / max(1, count - 1) for k in range(count)]
    places = [low + share * (high - low) for share in shares]
    return [_standing(x, _at_rail(footing, x, side)) for x in places]


def _full(plan: Plan, footing: Footing, label: Label) -> LoadCase:
    """Persons and gear up to the label, spread along the middle of the boat."""
    low, high = float(footing.surface.outside.low[0]), float(footing.surface.outside.high[0])
    persons = label.persons_kg or min(label.total_kg or 0.0, STANDARD_CREW_KG)
    count = label.persons or max(1, round(persons / STANDARD_CREW_KG))
    crew = []
    for k in range(count):
        x = low + (high - low) * (0.25 + 0.4 * (k + 0.5) / count)
        ground = footing.at(x, 0.0)
        z = (ground.height_m if ground else 0.1) + SEAT_TOP_M
        crew.append(Person(mass=persons / count, stature=STATURE_M, posture="seated", at=(x, 0.0, z)))
    extra: tuple[Item, ...] = ()
    motor = motors_kg(plan)
    gear = (label.total_kg or 0.0) - persons - motor
    if gear > 0:
        x = low + 0.45 * (high - low)
        ground = footing.at(x, 0.0)
        mass = MassPoint(value=gear, centre=(x, 0.0, (ground.height_m if ground else 0.1) + 0.2),
                         status="maker")  # fmt: skip
        extra = (Item(id="label-gear", name="gear up to the label", mass=mass),)
    return LoadCase(name=FULL, crew=tuple(crew), fills=_fuel(plan, 1.0), extra=extra)


def is_ashore(name: str) -> bool:
    """Whether she stands on her trailer in a case: level, whatever she weighs where."""
    return name == TRAILER or name.startswith(f"{TRAILER} (standard)")


def beside(name: str, taken: set[str]) -> str:
    """The name of a standard case whose own is taken."""
    new = f"{name} (standard)"
    while new in taken:
        new += "*"
    return new


def _offered(plan: Plan, footing: Footing) -> list[Offered]:
    """Each standard case by its name, to be made when it is asked for; people still to be settled."""
    side, helm = _lean(plan, footing), partial(_helm, footing)
    half, full = _fuel(plan, FUEL_FILL), _fuel(plan, 1.0)
    wells = {t.id: WELL_FILL for t in plan.tanks if _is_well(t)}
    bow, aft = BOW_DECK if _deck(footing, True) else BOW, AFT_WELL if wells else AFT
    out: list[Offered] = [
        (TRAILER, lambda: LoadCase(name=TRAILER, fills=full)),
        (HELM, lambda: LoadCase(name=HELM, crew=(helm(),), fills=half)),
        (bow, lambda: LoadCase(name=bow, crew=tuple(_two(footing, True, side)), fills=half)),
        (aft, lambda: LoadCase(name=aft, crew=tuple(_two(footing, False, side)), fills=full | wells)),
        (RAIL, lambda: LoadCase(name=RAIL, crew=tuple(_rail(plan, footing)), fills=half)),
    ]
    label = plan.label
    if label is not None and (label.persons_kg or label.total_kg):
        out.append((FULL, lambda: _full(plan, footing, label)))
    forward = _two(footing, True)[0].at[0]
    return [*out, *moment_cases(plan, footing, side, helm, forward, half)]


def standard_cases(
    plan: Plan, footing: Footing, only: Container[str] | None = None
) -> tuple[LoadCase, ...]:
    """The standard cases, people still to be settled; only: those of these names."""
    own, out = {c.name for c in plan.cases}, []
    for name, make in _offered(plan, footing):
        # an older build may have one of its own under a standard name
        ours = beside(name, own) if name in own else name
        if only is None or ours in only:
            case = make()
            out.append(case if ours == name else case.model_copy(update={"name": ours}))
    return tuple(out)


def load_cases(plan: Plan, footing: Footing, only: Container[str] | None = None) -> tuple[LoadCase, ...]:
    """Every case in the order it is reported: the reserved ones, the build's own, the
    standard ones; people with `settle` stand on what is under them. only: those of these names."""
    reserved = tuple(LoadCase(name=name) for name in RESERVED if only is None or name in only)
    own = (c for c in plan.cases if only is None or c.name in only)
    loaded = settled([*own, *standard_cases(plan, footing, only)], footing)
    # up to the label means with all gear
    return (*reserved, *(c if is_full(c.name) else with_stowed(plan, footing, c) for c in loaded))


def is_full(name: str) -> bool:
    """Whether a case is the one up to the maker's label, whose gear is part of it."""
    return name == FULL or name.startswith(f"{FULL} (standard)")


def case_by_name(plan: Plan, footing: Footing, name: str) -> LoadCase:
    """One case by its name, standard ones included. Raises CoreError with the names there are."""
    cases = load_cases(plan, footing)
    found = next((c for c in cases if c.name == name), None)
    if found is None:
        names = ", ".join(f"“{c.name}”" for c in cases)
        raise CoreError(f"no case “{name}”; cases: {names}", "case")
    return found
