"""Builds and their revisions: load, commit, merge or refuse, undo, redo.

Each function takes a connection of its own, or is part of the caller's transaction. A build's
row is locked while it changes, so that revisions stay in one line.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from datetime import datetime
from typing import Any

from stirrup.core.errors import CoreError
from stirrup.core.memo import Memo
from stirrup.core.plan.carried import carried
from stirrup.core.plan.changes import AnyChange, apply, conflicts, invert, read_change
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass
from stirrup.exchange.catalogue import starting
from stirrup.exchange.upgrade import upgraded, upgraded_change
from stirrup.store.author import AUTHOR
from stirrup.store.models import Build, Revision, now
from stirrup.store.notes import tell
from stirrup.store.session import reading, writing

# plans by build and revision; a build's time of making tells databases apart
PLANS = Memo(40, common=True)
Describe = Callable[[Plan, AnyChange], str]


class NotThereError(LookupError):
    """No build with this number in the shop."""


class StaleEditError(Exception):
    """Somebody else changed the same thing since `base`; nothing was stored."""

    def __init__(self, theirs: str, number: int, plan: Plan) -> None:
        super().__init__(f"changed meanwhile: {theirs}")
        self.theirs, self.number, self.plan = theirs, number, plan


class NothingLeftError(Exception):
    """Nothing to undo, or nothing to redo."""


@dataclass(frozen=True)
class Stored:
    """A build as it is in the store."""

    id: int
    number: int
    plan: Plan
    can_undo: str | None  # in words, what would be undone
    can_redo: str | None
    changed: datetime
    merged: tuple[str, ...] = ()


@dataclass(frozen=True)
class Step:
    """One line of the history."""

    number: int
    kind: str
    words: str
    at: datetime
    name: str = ""
    author: str = ""


def _plan(data: Any) -> Plan:
    return carried(Plan.model_validate_json(json.dumps(upgraded(data)), strict=True), starting())


def _plan_of(build: Any) -> Plan:
    """The plan as it is stored, parsed once: whoever asks gets the same object, and with it what is
    known of its things."""
    return PLANS.get((build.id, build.number, build.created), lambda: _plan(build.plan))


def _change(data: Any) -> AnyChange:
    return read_change(upgraded_change(data))


def _data(plan: Plan) -> Any:
    return json.loads(plan.model_dump_json(exclude_none=True))


def _words(build: Any) -> dict[int, str]:
    """What was done last, and what was undone last, in words, by their revisions."""
    wanted = [n for n in (build.undo_top, build.redo_top) if n is not None]
    if not wanted:
        return {}
    rows: Any = Revision.select().where((Revision.build == build) & (Revision.number << wanted))
    return {r.number: str(r.words) for r in rows.select(Revision.number, Revision.words)}


def _stored(build: Any, plan: Plan | None = None, merged: tuple[str, ...] = ()) -> Stored:
    words = _words(build)
    return Stored(
        build.id,
        build.number,
        plan or _plan_of(build),
        words.get(build.undo_top),
        words.get(build.redo_top),
        build.changed,
        merged,
    )


def _locked(shop_id: int, build_id: int) -> Any:
    build = (
        Build.select().where((Build.id == build_id) & (Build.shop == shop_id)).for_update().get_or_none()
    )
    if build is None:
        raise NotThereError(f"there is no build {build_id}")
    return build


@writing()
def hold(shop_id: int, build_ids: Iterable[int]) -> None:
    """Keep others from changing several builds until this transaction ends: always in one order, so that
    two who want the same ones wait for each other and do not block. Raises NotThereError."""
    for build_id in sorted(set(build_ids)):
        _locked(shop_id, build_id)


@reading()
def load(shop_id: int, build_id: int) -> Stored:
    """A build. Raises NotThereError."""
    build = Build.get_or_none((Build.id == build_id) & (Build.shop == shop_id))
    if build is None:
        raise NotThereError(f"there is no build {build_id}")
    return _stored(build)


@reading()
def current(shop_id: int, build_id: int) -> tuple[int, Plan]:
    """Number of the latest revision and its plan. Raises NotThereError.

    A plan is parsed once for each revision; revisions never change.
    """
    where = (Build.id == build_id) & (Build.shop == shop_id)
    found = Build.select(Build.number, Build.created).where(where).tuples().first()
    if found is None:
        raise NotThereError(f"there is no build {build_id}")
    return int(found[0]), plan_of(build_id, *found)


@reading()
def plan_of(build_id: int, number: int, created: datetime) -> Plan:
    """The plan of a revision, parsed once: by its number, since the build itself may have gone on
    meanwhile. created: when the build was made."""
    row = (Revision.build == build_id) & (Revision.number == number)
    return PLANS.get((build_id, number, created), lambda: _plan(Revision.get(row).plan))


@reading()
def latest(shop_id: int, build_id: int) -> tuple[int, str, str]:
    """Number, words and author of the latest revision. Raises NotThereError."""
    row = (
        Revision.select(Revision.number, Revision.words, Revision.author)
        .where((Revision.build == build_id) & (Revision.shop == shop_id))
        .order_by(Revision.number.desc())
        .first()
    )
    if row is None:
        raise NotThereError(f"there is no build {build_id}")
    return int(row.number), str(row.words), row.author or ""


@reading()
def all_builds(shop_id: int) -> list[Stored]:
    """All builds of a shop, in the order they were made."""
    rows = Build.select().where(Build.shop == shop_id).order_by(Build.id)
    return [_stored(row) for row in rows]


@reading()
def recent(shop_id: int, most: int) -> list[int]:
    """Numbers of the builds that were changed last, the latest first."""
    rows = Build.select(Build.id).where(Build.shop == shop_id).order_by(Build.changed.desc())
    return [int(row.id) for row in rows.limit(most)]


@reading()
def names(shop_id: int, most: int) -> list[tuple[int, str]]:
    """Numbers and names of the builds that were changed last, by name."""
    rows = Build.select(Build.id, Build.name).where(Build.shop == shop_id).order_by(Build.changed.desc())
    return sorted(((int(r.id), str(r.name)) for r in rows.limit(most)), key=lambda x: (x[1], x[0]))


@writing()
def create(shop_id: int, plan: Plan, words: str) -> Stored:
    """A new build from a plan, as revision 1."""
    data = _data(plan)
    build = Build.create(shop=shop_id, name=plan.name, plan=data, number=1)
    Revision.create(shop=shop_id, build=build, number=1, kind="import", words=words, plan=data)
    return _stored(build, plan)


@reading()
def rename_to_new(shop_id: int, plan: Plan) -> Plan:
    """The plan under a name that no build of the shop has yet."""
    names = {row.name for row in Build.select(Build.name).where(Build.shop == shop_id)}
    if plan.name not in names:
        return plan
    number = 2
    while f"{plan.name} ({number})" in names:
        number += 1
    return plan.model_copy(update={"name": f"{plan.name} ({number})"})


@reading()
def history(shop_id: int, build_id: int, most: int = 200) -> list[Step]:
    """Latest revisions first."""
    rows = (
        Revision.select(
            Revision.number, Revision.kind, Revision.words, Revision.at, Revision.name, Revision.author
        )
        .where((Revision.build == build_id) & (Revision.shop == shop_id))
        .order_by(Revision.number.desc())
        .limit(most)
    )
    return [Step(r.number, r.kind, r.words, r.at, r.name or "", r.author or "") for r in rows]


@reading()
def plan_at(shop_id: int, build_id: int, number: int) -> Plan:
    """The plan as it was after a revision. Raises NotThereError."""
    row = Revision.get_or_none(
        (Revision.build == build_id) & (Revision.shop == shop_id) & (Revision.number == number)
    )
    if row is None:
        raise NotThereError(f"there is no revision {number} of build {build_id}")
    return _plan(row.plan)


@writing()
def name_revision(shop_id: int, build_id: int, number: int, name: str) -> None:
    """Give a revision a name, or take it away with an empty one. Raises NotThereError."""
    where = (Revision.build == build_id) & (Revision.shop == shop_id) & (Revision.number == number)
    if not Revision.update(name=name.strip()[:80] or None).where(where).execute():
        raise NotThereError(f"there is no revision {number} of build {build_id}")


def _advance(
    build: Any,
    plan: Plan,
    change: AnyChange,
    inverse: AnyChange,
    kind: str,
    words: str,
    **extra: Any,
) -> None:
    data = _data(plan)
    build.number += 1
    build.plan, build.name, build.changed = data, plan.name, now()
    Revision.create(
        shop=build.shop_id,
        build=build,
        number=build.number,
        kind=kind,
        words=words,
        change=json.loads(change.model_dump_json()),
        inverse=json.loads(inverse.model_dump_json()),
        plan=data,
        author=AUTHOR.get() or None,
        **extra,
    )
    tell(f"build {build.id}")


@writing()
def commit(
    shop_id: int, build_id: int, base: int, change: AnyChange, describe: Describe, token: str | None
) -> Stored:
    """Apply a change made on revision `base`, merging it over changes to other things.

    A repeated token, or a change that changes nothing, returns the build as it is. Raises
    StaleEditError when the same thing was changed since, CoreError when the change is not
    valid or `base` is not there yet, NotThereError.
    """
    build = _locked(shop_id, build_id)
    if token and Revision.get_or_none((Revision.build == build) & (Revision.token == token)):
        return _stored(build)
    if base > build.number:
        raise CoreError(
            f"this page is from revision {base}, and the boat is at {build.number}, as after a backup "
            "was brought back; load the page again",
            "base",
        )
    plan = _plan_of(build)
    since = list(
        Revision.select(Revision.number, Revision.words, Revision.change, Revision.author)
        .where((Revision.build == build) & (Revision.number > base))
        .order_by(Revision.number.desc())
    )
    for row in since:
        if row.change is not None and conflicts(_change(row.change), change):
            words = f"{row.author}: {row.words}" if row.author else row.words
            raise StaleEditError(words, build.number, plan)
    after = apply(plan, change)  # first: it says what is wrong with a change
    inverse = invert(plan, change)
    if after == plan:
        return _stored(build, plan, tuple(row.words for row in since))
    words = describe(plan, change)
    _advance(build, after, change, inverse, "change", words, under=build.undo_top, token=token)
    build.undo_top, build.redo_top = build.number, None
    build.save()
    return _stored(build, after, tuple(row.words for row in since))


def _revision(build: Any, number: int) -> Any:
    return Revision.get((Revision.build == build) & (Revision.number == number))


@writing()
def undo(shop_id: int, build_id: int) -> Stored:
    """Take the latest change back, as a new revision. Raises NothingLeftError."""
    build = _locked(shop_id, build_id)
    if build.undo_top is None:
        raise NothingLeftError("nothing to undo")
    target = _revision(build, build.undo_top)
    plan, change = _plan_of(build), _change(target.inverse)
    after = apply(plan, change)
    _advance(build, after, change, _change(target.change), "undo", f"undone: {target.words}")
    target.redo_under = build.redo_top
    target.save()
    build.redo_top, build.undo_top = target.number, target.under
    build.save()
    return _stored(build, after)


@writing()
def redo(shop_id: int, build_id: int) -> Stored:
    """Make the change that was undone last again. Raises NothingLeftError."""
    build = _locked(shop_id, build_id)
    if build.redo_top is None:
        raise NothingLeftError("nothing to redo")
    target = _revision(build, build.redo_top)
    plan, change = _plan_of(build), _change(target.change)
    after = apply(plan, change)
    _advance(build, after, change, _change(target.inverse), "redo", f"redone: {target.words}")
    build.redo_top, build.undo_top = target.redo_under, target.number
    build.save()
    return _stored(build, after)
