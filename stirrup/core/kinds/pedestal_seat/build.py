"""A seat on a pedestal built: what is bought, whether it holds, and what it gives."""

from __future__ import annotations

from shapely.geometry import Point as FlatPoint
from shapely.geometry import Polygon

from stirrup.core.bodies.item import item_prism
from stirrup.core.bodies.pictures import pictured
from stirrup.core.bodies.sitting import SEAT, turning
from stirrup.core.contract.gives import Bolts, Built, Foot, Marked, Seat
from stirrup.core.contract.kind import Site
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare, plain
from stirrup.core.fittings.under_floor import in_the_way
from stirrup.core.kinds.pedestal_seat.choices import PedestalSeat, Under
from stirrup.core.kinds.pedestal_seat.standing import Standing, corners, lay_out
from stirrup.core.kinds.pedestal_seat.under import fasteners, part, plate_of
from stirrup.core.space.room import Room
from stirrup.core.space.shapes import Prism
from stirrup.core.space.solid import Solid

declare("layout", {"SEAT-HOLDS": "what holds a seat's pedestal", "SEAT-ITSELF": "what a seat brings along"},
        acceptable=True)  # fmt: skip

SLIDE = "slide-seat"
# thrown against its back: half the weight of somebody heavy, at his shoulder blades. Working values
THROWN_N = 0.5 * 110 * 9.81
OVER_CUSHION_M = 0.25
HOLDS_N: dict[Under, float] = {"backing plate": 4000.0, "large washers": 1500.0, "screws": 600.0}
OWN_PEDESTAL_M = 0.70  # a seat taller than this brings its own


def _holds(s: Standing) -> Finding:
    """Whether its bolts hold somebody thrown against its back. A screening: working values."""
    c, n, circle = s.c, s.pedestal.bolts, s.pedestal.circle
    arm = s.cushion + OVER_CUSHION_M
    moment, each = THROWN_N * arm, HOLDS_N[c.under]
    pull = 4 * moment / (n * circle)
    values = {"pull": Quantity(pull, "N"), "each": Quantity(each, "N"), "count": Quantity(n, "count")}
    work = Working(
        "pull = 4 x force x height / (bolts x circle): a ring of bolts that tilts about its middle",
        (Input("force", Quantity(THROWN_N, "N"), "half the weight of 110 kg: working value"),
         Input("at", Quantity(arm, "m"), "cushion and shoulder blades, over the floor"),
         Input("circle of bolts", Quantity(circle, "m"), "catalogue"),
         Input("bolts", Quantity(n, "count"), "catalogue"),
         Input("each holds", Quantity(each, "N"), f"{c.under}: working value")),
        Quantity(pull, "N"), "rules of the trade, “Seats”",
    )  # fmt: skip
    text = "Thrown against its back, somebody heavy pulls each of {count} with {pull}; with " + c.under + (
        " each holds {each}. A screening.")  # fmt: skip
    if pull <= each:
        return Finding("SEAT-HOLDS", "fine", c.id, "Its bolts hold", text, values, working=work)
    better: Under = "backing plate" if HOLDS_N["large washers"] < pull else "large washers"
    fix = Fix(f"Put {'a ' if better == 'backing plate' else ''}{better} under the floor",
              path=("fittings", c.id, "under"), value=better)  # fmt: skip
    return Finding("SEAT-HOLDS", "mend", c.id, "It tears out of the floor", text, values,
                   "Spread the pull under the floor, or take a lower or broader pedestal.", work,
                   fixes=(fix,) if c.under != better else ())  # fmt: skip


def findings_of(s: Standing) -> list[Finding]:
    """Whether it holds, and whether its seat is one for a pedestal."""
    c = s.c
    out = [_holds(s) if s.floor else _nothing_under(c)]
    assert s.seat.size is not None
    if s.seat.size[2] > OWN_PEDESTAL_M:
        out.append(Finding("SEAT-ITSELF", "look", c.id, "This seat brings its own pedestal",
                           "{name} is {high} high: its maker counts its pedestal in.",
                           {"name": Quantity(0, plain(s.seat.name)), "high": Quantity(s.seat.size[2], "m")},
                           "Take another seat, or place it whole as an item."))  # fmt: skip
    return out


def _nothing_under(c: PedestalSeat) -> Finding:
    return Finding("SEAT-HOLDS", "mend", c.id, "Nothing to bolt it to",
                   "It stands on the bottom of the boat, and nothing is drilled through that.", {},
                   "Stand it on a floor, a deck or a box.")  # fmt: skip


def _past_the_edge(s: Standing, site: Site) -> list[Finding]:
    """That a corner of its base hangs over the edge of its floor."""
    host = site.host
    base = Polygon(corners(s.c, s.pedestal.base))
    if not s.floor or host is None or host.floors[0].region.covers(base):
        return []
    return [Finding("SEAT-HOLDS", "mend", s.c.id, "Stands past the edge of its floor",
                    "A corner of its base hangs over the edge: bolts there go through nothing.", {},
                    "Move it inward, or stand it on something else.")]  # fmt: skip


def build(c: PedestalSeat, site: Site) -> Built:
    """Seat, pedestal, slide, bolts and backing plate. Raises CoreError outside of the boat."""
    s = lay_out(c, site)
    plates = plate_of(s, site)
    bought = [part(s, "seat", "T", "seat", s.seat, 1, s.up + 0.2),
              part(s, "pedestal", "C", "pedestal", s.pedestal, 1, s.up / 2)]  # fmt: skip
    if c.slide:
        bought.append(part(s, "slide", "L", "slide", site.catalogue.plain(SLIDE), 1, s.up))
    held, told = fasteners(s, plates, site) if s.floor else ([], [])
    item = s.item
    body = item_prism(item)
    assert body is not None
    base, name = corners(c, s.pedestal.base), plain(c.name)
    post = Prism(FlatPoint(c.x, c.y).buffer(s.pedestal.base / 4, quad_segs=3), s.foot, s.foot + s.up)
    chair = Prism(body.footprint, s.foot + s.up, body.high)
    hosts = (c.on,) if c.on else ()
    rooms = tuple(Room(c.id, what, shape, name=name, body=body, hosts=hosts)
                  for what, shape in turning(item, s.size, s.cushion / s.size[2]))  # fmt: skip
    found = (*findings_of(s), *told, *in_the_way(c, plates, site.host), *_past_the_edge(s, site))
    return Built(
        c.id, tuple(plates), (), (*bought, *held), pictured(item, SEAT), (), found,
        body.high, body.footprint,
        solids=(Solid(c.id, "body", name, body, pieces=(post, chair), lent=True),), rooms=rooms,
        seats=seats_of(c, body.footprint, s.foot, s.cushion),
        foot=None if c.on else Foot(Prism(Polygon(base), s.foot, body.high), base),
        bolts=Bolts(base, s.foot, (c.x, c.y)) if s.floor else None,
        marked=(Marked(s.foot, corners=base, turn=c.turn),),
    )  # fmt: skip


def seats_of(c: PedestalSeat, region: Polygon, foot: float, rise: float | None) -> tuple[Seat, ...]:
    """Where somebody sits on it: outline, foot and the cushion over it [m]."""
    return (Seat((c.x, c.y, foot + (rise or 0.0)), region, c.steers, rise),)
