"""Everything of a plan built, hosts before their guests; each remembered by what it depends on.

A guest asks its host for an opening before the host is built, and is built on what the host makes.
What stands on one another in a ring cannot be built, and is told.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import field, replace
from functools import partial
from graphlib import CycleError, TopologicalSorter
from typing import Any, NamedTuple

from stirrup.core.contract.gives import Built, Opening
from stirrup.core.contract.kind import Site
from stirrup.core.contract.kind import title_of as title_of_thing
from stirrup.core.contract.obstacle import Obstacle
from stirrup.core.errors import CoreError
from stirrup.core.findings import Finding, declare, plain
from stirrup.core.fittings.fall import leaned, leaning_site
from stirrup.core.hull.mesh import HullSurface
from stirrup.core.kinds.registry import as_obstacle, kind_of
from stirrup.core.memo import ByIdentity, Key, Memo, Together
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import Plan
from stirrup.core.plan.placed import Placed
from stirrup.core.plan.settled import settled
from stirrup.core.plan.things import present
from stirrup.core.record import dataclass

declare("layout", {"CANNOT-BUILD": "whether it can be built", "RING": "things that stand on one another"})

# written out once: while one thing is dragged all others stay the objects that they are
TEXTS = ByIdentity(4000)
# what follows from one thing and the hull alone, by identity
ALONE = ByIdentity()
READS = ByIdentity(4000)  # what a guest reads of its host
MADE = ByIdentity(4000)  # what a thing made last in a boat


def text_of(thing: Any) -> str:
    """A thing written out."""
    text: str = TEXTS.get(thing, None, thing.model_dump_json)
    return text


class _Own(NamedTuple):
    """What is asked of each thing at every step: written out, and what it stands on, by what it says
    itself."""

    text: str
    ties: tuple[str, ...]


def _own(thing: Any, _: None) -> _Own:
    return _Own(text_of(thing), tuple(tie.to for tie in kind_of(thing).ties(thing)))


OWN = Together(_own)
Own = Mapping[str, _Own]


def standing_text(plan: Plan) -> str:
    """The structure that is there, written out."""
    return TEXTS.get(plan.existing, None, lambda: plan.model_dump_json(include={"existing"}))


def standing(plan: Plan) -> tuple[Obstacle, ...]:
    """The structure that stays."""
    return tuple(as_obstacle(e) for e in plan.existing if e.stage != "removed")


def _stands_as(thing: Any, surface: HullSurface, catalogue: Catalogue) -> tuple[Obstacle, ...]:
    found: tuple[Obstacle, ...] = ()
    with suppress(CoreError):
        found = kind_of(thing).stands_as(thing, surface, catalogue)
    return found


def _carving(
    memo: Memo, things: Mapping[str, Any], own: Own, surface: HullSurface, catalogue: Catalogue
) -> tuple[tuple[Obstacle, str], ...]:
    """What is new and others are cut round, and that written out; what cannot be built says so itself."""
    found = []
    for id_, thing in things.items():
        if not kind_of(thing).carves:
            continue
        text = own[id_].text
        key = ("stands as", surface.key, catalogue.stock_key, text)
        there = memo.get(key, partial(_stands_as, thing, surface, catalogue))
        found += [(one, f"{k} {text}" if k else text) for k, one in enumerate(there)]
    return tuple(found)


@dataclass(frozen=True)
class _Graph:
    """Who is whose host, in an order in which everything can be built, and who is left out of it."""

    order: tuple[str, ...]
    hosts: Mapping[str, tuple[str, ...]]
    rings: tuple[tuple[str, ...], ...] = ()
    guests: Mapping[str, tuple[str, ...]] = field(default_factory=dict)


def _graph(memo: Memo, things: Mapping[str, Any], own: Own) -> _Graph:
    hosts = {id_: tuple(to for to in own[id_].ties if to in things) for id_ in things}
    return memo.get(("graph", tuple(hosts.items())), partial(_ordered, hosts))


def _ordered(hosts: dict[str, tuple[str, ...]]) -> _Graph:
    rings: list[tuple[str, ...]] = []
    while True:
        try:
            order = tuple(TopologicalSorter(hosts).static_order())
            break
        except CycleError as error:
            ring = tuple(dict.fromkeys(error.args[1]))
            rings.append(ring)
            hosts |= dict.fromkeys(ring, ())
    guests: dict[str, list[str]] = {}
    for id_, those in hosts.items():
        for host in those:
            guests.setdefault(host, []).append(id_)
    return _Graph(order, hosts, tuple(rings), {k: tuple(v) for k, v in guests.items()})


def _openings(
    memo: Memo, things: Mapping[str, Any], own: Own, graph: _Graph, catalogue: Catalogue
) -> dict[str, tuple[Opening, ...]]:
    """What each host is asked for by its guests."""
    out: dict[str, list[Opening]] = {}
    for guest, hosts in graph.hosts.items():
        thing = things[guest]
        for host in hosts:
            asked = ("opening", own[guest].text, own[host].text, catalogue.stock_key)
            try:
                opening = memo.get(asked, partial(kind_of(thing).asks, thing, things[host], catalogue))
            except CoreError:
                continue  # the thing itself says why, when it is built
            if opening is not None:
                out.setdefault(host, []).append(opening)
    return {host: tuple(those) for host, those in out.items()}


def _site_alone(
    plan: Plan, surface: HullSurface, obstacles: tuple[Obstacle, ...], catalogue: Catalogue
) -> Site:
    """The site of what has neither host nor guests: always the same object for the same boat.

    Kept with the surface itself, and forgotten with it: one worked out anew has the same key and none of
    what was looked up on the old one.
    """
    steered = plan.propulsion.remote_steering
    key = (standing_text(plan), steered, catalogue.stock_key)
    return surface.sites.get(key, lambda: Site(surface, obstacles, steered=steered, catalogue=catalogue))


def _asking(openings: Mapping[str, tuple[Opening, ...]], host: str, flat: bool = False) -> set[str]:
    """Who has an opening in a host; flat: in its skin only."""
    return {o.guest for o in openings.get(host, ()) if not (flat and (o.wall or o.bare))}


def _flat(openings: Mapping[str, tuple[Opening, ...]], host: str) -> tuple[Opening, ...]:
    """What is asked of a host's skin, and framed."""
    return tuple(o for o in openings.get(host, ()) if not o.wall and not o.bare)


def _site(
    alone: Site, openings: Mapping[str, tuple[Opening, ...]], id_: str, host: tuple[str, Any, Built | None],
    others: tuple[tuple[Any, Built], ...],
) -> Site:  # fmt: skip
    """The site of what has hosts or guests. host: its id, choices, and what it makes."""
    name, choices, built = host
    return replace(
        alone, openings=_flat(openings, id_), beside=_flat(openings, name), host=built,
        host_choices=choices,
        doors=tuple(o for o in openings.get(id_, ()) if o.wall), others=others,
        cuts=tuple(o for o in openings.get(id_, ()) if o.bare),
        walled=tuple(o for o in openings.get(name, ()) if o.wall),
    )  # fmt: skip


def _met(
    thing: Any, carving: tuple[tuple[Obstacle, str], ...]
) -> tuple[tuple[Obstacle, ...], tuple[str, ...]]:
    """What something has to be cut round, and that written out."""
    met = [pair for pair in carving if kind_of(thing).meets(thing, pair[0])]
    return tuple(o for o, _ in met), tuple(text for _, text in met)


def _round(site: Site, met: Sequence[Obstacle]) -> Site:
    """The site of something among what it has to be cut round."""
    return replace(site, obstacles=(*site.obstacles, *met)) if met else site


def _seen(host: Built, rise: float) -> Built:
    """A host as its guest is built on it: what lies in its skin lies level there."""
    return host.as_level if rise and host.as_level is not None else host


def _build(thing: Any, at: Callable[[], Site], met: Sequence[Obstacle], rise: float) -> Built:
    """What a thing makes at its site, among what it meets; what lies in a skin that rises, rises too."""
    kind, site = kind_of(thing), _round(at(), met)
    if not rise or site.host is None:
        return kind.build(thing, site)
    x0, _, x1, _ = site.host.region.bounds
    return leaned(kind.build(thing, leaning_site(site, rise, (float(x0), float(x1)))), rise)


def _made(thing: Any, alone: Site, at: Callable[[], Site], met: Sequence[Obstacle], rise: float) -> Built:
    """What a thing makes; the object that it made last where that is the same, with all that follows from
    it."""
    made, last = _build(thing, at, met, rise), MADE.peek(thing, alone)
    # what is not held against one another may differ
    if isinstance(last, Built) and last == made and not any(b.later or b.as_level for b in (made, last)):
        return last
    return MADE.put(thing, alone, made)


def _read(thing: Any, host: Built, rise: float) -> Hashable | None:
    """What a guest reads of its host. Of two that are as they were it is what it was."""
    kind = kind_of(thing)
    if rise:  # it is seen another way then, made for it
        return kind.reads(thing, _seen(host, rise))
    return READS.get(thing, host, lambda: (kind.reads(thing, host),))[0]


def make(
    memo: Memo,
    plan: Plan,
    surface: HullSurface,
    obstacles: tuple[Obstacle, ...],
    catalogue: Catalogue,
) -> tuple[tuple[Placed, ...], list[Finding]]:
    """Everything that is or will be in the boat, with what it makes, and what was found on the way."""
    things = {t.id: settled(t, plan.schools) for t in present(plan)}
    own = dict(zip(things, OWN.of((t, None) for t in things.values()), strict=True))
    graph = _graph(memo, things, own)
    openings = _openings(memo, things, own, graph, catalogue)
    carving = _carving(memo, things, own, surface, catalogue)
    there = standing_text(plan)
    alone = _site_alone(plan, surface, obstacles, catalogue)
    lost = {id_ for ring in graph.rings for id_ in ring}
    findings = list(_rings(things, graph))
    done: dict[str, Built] = {}
    keys: dict[str, object] = {}
    for id_ in graph.order:
        thing, kind = things[id_], kind_of(things[id_])
        if id_ in lost:
            done[id_] = Built(id_)
            continue
        host, *others = graph.hosts[id_] or ("",)
        try:
            if not host and kind.group != "fittings":
                keys[id_] = own[id_].text
                done[id_] = ALONE.get(thing, alone, partial(kind.build, thing, alone))
                continue
            # asked only where it is not known what the thing makes there
            beside = tuple((things[o], done[o]) for o in others)
            site = partial(_site, alone, openings, id_, (host, things.get(host), done.get(host)), beside)
            met, texts = _met(thing, carving)
            # only what opens it: what stands on it may be moved, and it stays as it is
            opened = _asking(openings, id_)
            around = tuple(own[g].text for g in graph.guests.get(id_, ()) if g in opened)
            rise = done[host].rise if host in done and id_ in _asking(openings, host, True) else 0.0
            read = (_read(thing, done[host], rise) if host in done else None) or keys.get(host)
            # what rises is built among the structure between its host's ends
            lean = (rise, done[host].region.bounds) if rise else ()
            keys[id_] = Key((own[id_].text, around, lean, read, *(keys.get(o) for o in others)))
            boat = (surface.key, there, texts, alone.steered, catalogue.stock_key)
            build = partial(_made, thing, alone, site, met, rise)
            done[id_] = memo.get(("made", *boat, keys[id_]), build)
        except CoreError as error:
            done[id_] = Built(id_)
            findings.append(
                Finding("CANNOT-BUILD", "stop", id_, f"{title_of_thing(thing)} cannot be built",
                        plain(error.message))
            )  # fmt: skip
    placed = tuple(Placed(kind_of(t), t, done[i]) for i, t in things.items())
    return placed, findings + [f for p in placed for f in p.built.findings]


def _rings(things: Mapping[str, Any], graph: _Graph) -> Iterator[Finding]:
    for ring in graph.rings:
        names = ", ".join(plain(title_of_thing(things[i])) for i in ring)
        yield Finding(
            "RING", "stop", ring[0], "They stand on one another in a ring",
            f"{names}: each needs the next before it can be built.", {},
            "Let one of them stand on something else.", other=ring[-1] if len(ring) > 1 else "",
        )  # fmt: skip
