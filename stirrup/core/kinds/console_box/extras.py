"""What a console has besides its box: a chase for cables into the floor, a foot rest, grab rails."""

from __future__ import annotations

from functools import partial

from shapely import box
from shapely.geometry import Polygon

from stirrup.core.contract.gives import Opening, Shape
from stirrup.core.document import Point
from stirrup.core.findings import Finding, Fix, Quantity, declare, plain
from stirrup.core.fittings.angles import flat_body
from stirrup.core.fittings.under_floor import carried_over, is_cut
from stirrup.core.kinds.console_box.choices import RAILS, ConsoleBox
from stirrup.core.kinds.console_box.dash import row
from stirrup.core.kinds.console_box.laid_out import Console
from stirrup.core.parts.model import Bought, Member
from stirrup.core.space.shapes import Prism

declare("layout", {"CHASE": "chase for cables under a console"}, acceptable=True)

CHASE_M = (0.06, 0.14)  # along and across: a plug of a motor's harness goes through; working value
CHASE_IN_M = 0.05  # from the inside of its fore wall
REST, REST_OFF_M, REST_IN_M = "square-25x2", 0.09, 0.03
REST_BRACKETS, IN_BRACKET = 2, 2
RAIL_IN_M, RAIL_HIGH_M = 0.04, 0.055
MOUNT_IN_M, IN_MOUNT = 0.05, 2  # from the fore edge of the top; bolts in each


def chase_of(c: ConsoleBox) -> Polygon:
    """The hole in the floor under it, in plan [m]."""
    along, across = CHASE_M
    fore = c.x + c.length / 2 - CHASE_IN_M
    return box(fore - along, c.y - across / 2, fore, c.y + across / 2)


def chase_opening(c: ConsoleBox) -> Opening | None:
    """What it asks of its floor: a hole that nothing is framed round."""
    if not c.chase:
        return None
    hole = chase_of(c)
    x0, y0, x1, y1 = hole.bounds
    return Opening(c.id, c.code, hole, (x0, y0, x1, y1), bare=True)


def chase_findings(k: Console) -> list[Finding]:
    """Whether its chase goes through the floor, clear of what carries that."""
    c, host = k.c, k.site.host
    if not c.chase:
        return []
    hole = chase_of(c)
    if host is None or not is_cut(host, hole):
        return [Finding("CHASE", "mend", c.id, "Its chase leads nowhere",
                        "What it stands on is not cut for its cables.", {},
                        "Stand it on a floor or deck, all of its foot, or lead the cables out of a "
                        "side.")]  # fmt: skip
    met = carried_over(host, hole)
    if not met.labels:
        text = "The hole under it is clear of what carries the floor; trim its edge."
        return [Finding("CHASE", "fine", c.id, "Its cables go through the floor", text)]
    values = {"by": Quantity(abs(met.by), "m")}
    way = "forward" if met.by > 0 else "aft"
    fix = Fix(f"Move it {{by}} {way}", c.id, (met.by, 0.0, 0.0))
    names = ", ".join(plain(label) for label in met.labels)
    return [Finding("CHASE", "look", c.id, "Its chase comes over what carries the floor",
                    f"{names}: under the hole.", values, f"Move it {{by}} {way}, or lead the cables round.",
                    fixes=(fix,))]  # fmt: skip


def rest_member(k: Console) -> Member | None:
    """The bar of its foot rest, across its aft face."""
    c = k.c
    if not c.foot_rest:
        return None
    tube = k.site.catalogue.section(REST)
    half, s = c.width / 2 - REST_IN_M, tube.a / 2
    ends = (k.place(-REST_OFF_M, -half, c.rest_up), k.place(-REST_OFF_M, half, c.rest_up))
    low = tuple((x - s, y, z) for x, y, z in ends)
    bodies = partial(flat_body, (low[0], low[1]), tube.a, tube.a, (0.0, 0.0, 1.0), (1.0, 0.0, 0.0))
    return Member(f"{c.id}/rest", f"{c.code}-O", f"{c.name}, foot rest", c.id, tube, 2 * half, ends,
                  role="frame", late_bodies=bodies)  # fmt: skip


def _rest_box(k: Console) -> Prism:
    """Where the bar and its brackets are."""
    c, s = k.c, k.site.catalogue.section(REST).a / 2
    half, z = c.width / 2 - REST_IN_M, k.foot + c.rest_up
    return Prism(box(k.aft - REST_OFF_M - s, c.y - half, k.aft, c.y + half), z - s, z + s)


def extra_rooms(k: Console) -> tuple[Prism, ...]:
    """What stands out of its box."""
    return (_rest_box(k),) if k.c.foot_rest else ()


def extra_bought(k: Console) -> list[Bought]:
    """Brackets and bolts of its foot rest, edge trim of its chase, rails, mounts of a windscreen."""
    c, catalogue = k.c, k.site.catalogue
    rows: list[tuple[str, str, str, str, float, Point]] = []
    if c.foot_rest:
        at, count = k.place(-REST_OFF_M / 2, 0.0, c.rest_up), REST_BRACKETS * IN_BRACKET
        rows += [("rest-brackets", "OK", "brackets of its foot rest", "bracket-40", REST_BRACKETS, at),
                 ("rest-bolts", "OR", "bolts of its foot rest", "bolt-m6x50", count, at),
                 ("rest-nuts", "ON", "nuts of its foot rest", "nut-m6", count, at)]  # fmt: skip
    if c.chase:
        at = (chase_of(c).centroid.x, c.y, k.foot)
        rows.append(("chase", "J", "edge trim of its chase", "edge-trim", 2 * sum(CHASE_M), at))
    if c.rails != "none":
        item, long = RAILS[c.rails]
        for key, code, hand in (("rail-port", "1", 1), ("rail-starboard", "2", -1)):
            x, y = c.length - RAIL_IN_M - long / 2, hand * (c.width / 2 - RAIL_IN_M)
            word = f"grab rail {'port' if hand > 0 else 'starboard'}"
            rows.append((key, f"U{code}", word, item, 1, k.place(x, y, c.height + RAIL_HIGH_M / 2)))
    if c.mounts:
        at, pairs = k.place(c.length - MOUNT_IN_M, 0.0, c.height), c.mounts * IN_MOUNT
        rows += [("mounts", "M", "mounts of its windscreen", "screen-mount", c.mounts, at),
                 ("mount-bolts", "MR", "bolts of these mounts", "bolt-m6x20", pairs, at),
                 ("mount-nuts", "MN", "nuts of these mounts", "nut-m6", pairs, at)]  # fmt: skip
    out = []
    for key, code, word, item, amount, at in rows:
        entry = catalogue.find(item)
        group = "fasteners" if "bolts" in key or "nuts" in key else "hardware"
        out.append(Bought(f"{c.id}/{key}", f"{c.code}-{code}", f"{c.name}, {word}", c.id, entry, amount,
                          amount * entry.mass, at, group))  # type: ignore[arg-type]  # fmt: skip
    return out


def dash_bought(k: Console) -> list[Bought]:
    """What goes into its dash, each as high as it sits and in the middle: she weighs the same with the row
    turned about."""
    c, dash, out = k.c, k.side("dash"), []
    owned = c.instruments == "there already"
    for number, one in enumerate(row(c, dash), 1):
        entry, up, back = k.site.catalogue.find(one.what.item), one.at[1], one.what.deep / 2
        x = dash.start[0] + up * dash.along[0] - back * dash.out[0]
        z = dash.start[1] + up * dash.along[1] - back * dash.out[1]
        out.append(Bought(f"{c.id}/dash/{number}", f"{c.code}-E{number}", f"{c.name}, {one.what.name}",
                          c.id, entry, 1, entry.mass, k.place(x, 0.0, z), owned=owned))  # fmt: skip
    return out


def extra_shapes(k: Console) -> list[Shape]:
    """Its foot rest, rails and chase."""
    c, out = k.c, []
    if c.foot_rest:
        half = c.width / 2 - REST_IN_M
        bar = tuple(k.place(-REST_OFF_M, y, c.rest_up) for y in (-half, half))
        arm = tuple(k.place(x, 0.0, c.rest_up) for x in (-REST_OFF_M, 0.0))
        out += [Shape("form-wheel", bar, closed=False),
                Shape("form-wheel", bar, view="across", closed=False),
                Shape("form-wheel", arm, view="side", closed=False)]  # fmt: skip
    if c.rails != "none":
        _, long = RAILS[c.rails]
        a, b, z = c.length - RAIL_IN_M - long, c.length - RAIL_IN_M, c.height + RAIL_HIGH_M
        for hand in (-1, 1):
            y = hand * (c.width / 2 - RAIL_IN_M)
            out.append(Shape("form-wheel", (k.place(a, y, z), k.place(b, y, z)), closed=False))
        legs = ((a, c.height), (a, z), (b, z), (b, c.height))
        out.append(Shape("form-wheel", tuple(k.place(x, 0.0, up) for x, up in legs), view="side",
                         closed=False))  # fmt: skip
    if c.chase:
        ring = tuple((float(x), float(y), k.foot) for x, y in chase_of(c).exterior.coords[:-1])
        out.append(Shape("form-line", ring))
    return out
