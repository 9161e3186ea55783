"""How things stand in the real boat against the plan: how they came out, and whether the plan still has
them there."""

from __future__ import annotations

from collections import defaultdict

from stirrup.core.contract.extent import AXIS_OF
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, Fix, Input, Quantity, Working, declare
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import kind_of
from stirrup.core.plan.model import Plan
from stirrup.core.plan.stood import Stood
from stirrup.core.plan.things import guests_of, path_of, title_of
from stirrup.core.plan.where import extent_of
from stirrup.core.units import Units, write_length

declare("layout", {"STANDS": "how it came out"}, acceptable=True, pace="behind")

CLOSE_M = 0.003  # nobody sees it, and a bead fills it: working value
GONE_M = 0.0005
LEVEL = 0.005  # of length: half a spirit level's bubble; working value
FLAT_M = 0.003  # what fasteners pull flat: working value
WAYS = (("further aft", "further forward"), ("to starboard", "to port"), ("lower", "higher"))


def edge_words(what: str) -> str:
    """ "fore edge", "top", "middle along"."""
    return what if what in ("bottom", "top") or what.startswith("middle") else f"{what} edge"


def turned(read: Stood) -> str:
    """What a reading of level or flat says; a negative one is higher at the other end."""
    other = {"higher at the fore end": "higher at the aft end",
             "higher on the port side": "higher on the starboard side"}  # fmt: skip
    return other.get(read.what, read.what) if read.stands < 0 else read.what


def stood_words(read: Stood, units: Units) -> str:
    """ "fore edge at 3024 mm, 6 mm further forward than planned"; "4 mm higher on the port side"."""
    if not read.is_edge:
        return f"{write_length(abs(read.stands), units)} {turned(read)}"
    by = write_length(abs(read.off), units)
    way = WAYS[AXIS_OF[read.what]][read.off > 0]
    way = "as planned" if abs(read.off) < 5e-5 else f"{by} {way} than planned"
    return f"{edge_words(read.what)} at {write_length(read.stands, units)}, {way}"


def _follow(plan: Plan, id_: str) -> list[str]:
    """What is measured off a thing: bound to it, or in it."""
    bound = [b.thing for b in plan.arrangement.bonds if b.to == id_]
    return [title_of(plan, t) for t in dict.fromkeys([*bound, *(g.id for g, _ in guests_of(plan, [id_]))])]


def _moved(plan: Plan, read: Stood, now: float) -> Finding:
    """The plan was changed after it was fixed."""
    values = {"stands": Quantity(read.stands, "m", True), "now": Quantity(now, "m", True)}
    thing = plan.thing(read.thing)
    choice = None if thing is None else kind_of(thing).edge_choice(read.what)
    fixes: tuple[Fix, ...] = ()
    if choice is not None:
        fixes = (Fix("Put it back where it stands", path=(*path_of(plan, read.thing), *choice),
                     value=read.stands),)  # fmt: skip
    return Finding("STANDS", "mend", read.thing, "The plan has moved it, and it is fixed",
                   f"Its {edge_words(read.what)} stands at {{stands}} in the boat; the plan has it at "
                   "{now} now.", values, "Put it back, or forget the reading if it is taken out again.",
                   other=read.id, fixes=fixes)  # fmt: skip


def _off(plan: Plan, reads: list[Stood]) -> Finding:
    """How far a thing is from where it was to be."""
    worst = max(reads, key=lambda r: abs(r.off))
    thing = worst.thing
    values = {"off": Quantity(abs(worst.off), "m", True), "close": Quantity(CLOSE_M, "m", True),
              "count": Quantity(len(reads), "count")}  # fmt: skip
    work = Working(
        "off = as it stands - as it was planned",
        tuple(row for r in reads for row in (
            Input(f"{edge_words(r.what)}, planned", Quantity(r.planned, "m", True)),
            Input(f"{edge_words(r.what)}, stands", Quantity(r.stands, "m", True), "read off the boat"))),
        Quantity(worst.off, "m", True), "read off the boat",
    )  # fmt: skip
    if abs(worst.off) <= CLOSE_M + 1e-9:
        return Finding("STANDS", "fine", thing, "It stands as planned",
                       "Of {count} read, none is more than {close} off.", values, working=work)  # fmt: skip
    way = WAYS[AXIS_OF[worst.what]][worst.off > 0]
    after = _follow(plan, thing)
    more = "" if not after else (
        f" {len(after)} follow it: {', '.join(after[:4])}{' and others' if len(after) > 4 else ''}."
    )  # fmt: skip
    return Finding("STANDS", "look", thing, "It came out otherwise than planned",
                   f"Its {edge_words(worst.what)} stands {{off}} {way}. What is cut from now on goes by "
                   f"that.{more}", values, "Measure what meets it before you cut that.", work)  # fmt: skip


def _shaped(plan: Plan, surface: HullSurface, read: Stood) -> Finding:
    """Out of level or of flat."""
    by = Quantity(abs(read.stands), "m", True)
    if read.what == "out of flat":
        if abs(read.stands) <= FLAT_M + 1e-9:
            return Finding("STANDS", "fine", read.thing, "Flat enough", "It is {by} out of flat.",
                           {"by": by}, other=read.id)  # fmt: skip
        return Finding("STANDS", "look", read.thing, "It is twisted",
                       "One corner stands {by} off the plane of the others; {most} is what fasteners pull "
                       "flat.", {"by": by, "most": Quantity(FLAT_M, "m", True)},
                       "Pack under that corner, or scribe what lies on it; do not pull it down.",
                       other=read.id)  # fmt: skip
    extent = extent_of(plan, surface, read.thing)
    along = read.what == "higher at the fore end"
    low, high = extent.x if along else extent.y
    long = max(high - low, 1e-6)
    ends = ("aft end", "fore end") if along else ("starboard side", "port side")
    where = ends[read.stands < 0]
    values = {"by": by, "long": Quantity(long, "m"), "most": Quantity(LEVEL * long, "m", True)}
    if abs(read.stands) <= LEVEL * long + 1e-9:
        return Finding("STANDS", "fine", read.thing, "Level enough",
                       f"It is {{by}} {turned(read)}, over {{long}}; up to {{most}} passes.", values,
                       other=read.id)  # fmt: skip
    return Finding("STANDS", "look", read.thing, "It is out of level",
                   f"It is {{by}} {turned(read)}, over {{long}}; up to {{most}} passes.", values,
                   f"Pack its {where} up, or level what stands on it; see which way water runs.",
                   other=read.id)  # fmt: skip


def stood_findings(plan: Plan, surface: HullSurface) -> list[Finding]:
    """Of each thing that was read: how it came out; and what the plan has moved since."""
    if not plan.stood:
        return []
    out: list[Finding] = []
    by_thing: dict[str, list[Stood]] = defaultdict(list)
    for read in plan.stood:
        try:
            if not read.is_edge:
                out.append(_shaped(plan, surface, read))
                continue
            now = extent_of(plan, surface, read.thing).edge(read.what)
        except CoreError:
            continue  # it has no place any more, and says so itself
        if abs(now - read.stands) > GONE_M:
            out.append(_moved(plan, read, now))
        else:
            by_thing[read.thing].append(read)
    return out + [_off(plan, reads) for reads in by_thing.values()]
