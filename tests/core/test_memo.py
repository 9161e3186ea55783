import gc
import sys
import threading
import weakref
from dataclasses import dataclass, field, replace

import numpy as np
import pytest

from stirrup.core import memo as module
from stirrup.core.afloat.ledger import Entry
from stirrup.core.kept import Attached, KeptHash
from stirrup.core.memo import (
    ByIdentity,
    Key,
    Memo,
    Scratch,
    forget,
    of_build,
    of_one_to_be,
    passing,
    statistics,
)
from stirrup.core.weigh import bytes_of


def test_a_result_is_computed_once_for_equal_keys() -> None:
    memo, calls = Memo(), []
    for key in (("a", 1), ("a", 1), ("a", 2)):
        memo.get(key, lambda key=key: calls.append(key) or key)
    assert calls == [("a", 1), ("a", 2)]


def test_the_least_recently_used_leaves_first() -> None:
    memo = Memo(size=2)
    memo.get("a", lambda: 1)
    memo.get("b", lambda: 2)
    memo.get("a", lambda: 0)
    memo.get("c", lambda: 3)
    assert memo.peek("a") == 1 and memo.peek("c") == 3
    assert memo.peek("b") is None


def test_forgetting_forgets() -> None:
    memo = Memo()
    memo.get("a", lambda: 1)
    forget()
    assert memo.peek("a") is None


def test_a_failure_is_not_remembered() -> None:
    memo = Memo()
    for wanted in ("fails", "works"):
        try:
            value = memo.get("a", lambda wanted=wanted: 1 / 0 if wanted == "fails" else 5)
        except ZeroDivisionError:
            continue
        assert value == 5


def test_equal_values_make_equal_keys_and_others_do_not() -> None:
    assert Key((1, "a")) == Key((1, "a")) and hash(Key((1, "a"))) == hash(Key((1, "a")))
    assert Key((1, "a")) != Key((1, "b"))
    assert Key(1) != 1


def test_many_threads_get_the_same_answer() -> None:
    memo, got = Memo(), []
    threads = [
        threading.Thread(target=lambda k=k: got.append(memo.get(k % 3, lambda k=k: k % 3)))
        for k in range(60)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(got) == sorted(k % 3 for k in range(60))


def test_pairs_are_found_by_identity_and_the_least_used_leaves() -> None:
    pairs: ByIdentity = ByIdentity(2)
    a, b, c, d = [1], [1], [2], [3]
    made: list[str] = []

    def make(name: str) -> str:
        made.append(name)
        return name

    assert pairs.get(a, b, lambda: make("ab")) == "ab"
    assert pairs.get(a, list(b), lambda: make("other")) == "other"  # equal, yet not the same
    assert pairs.get(a, b, lambda: make("again")) == "ab"
    pairs.get(c, d, lambda: make("cd"))  # the copy of b was asked for longest ago
    assert pairs.get(a, b, lambda: make("lost")) == "ab"
    assert made == ["ab", "other", "cd"]


def test_what_is_put_takes_the_place_of_what_was_known() -> None:
    pairs: ByIdentity = ByIdentity(2)
    a, b = [1], [2]
    assert pairs.get(a, b, lambda: "first") == "first"
    assert pairs.put(a, b, "second") == "second"
    assert pairs.get(a, b, lambda: "lost") == "second"


def test_a_shelf_keeps_also_nothing_and_is_emptied_when_full() -> None:
    shelf, made = Attached(2), []

    def make(name: str, value: object) -> object:
        made.append(name)
        return value

    assert shelf.get("a", lambda: make("a", None)) is None
    assert shelf.get("a", lambda: make("again", 1)) is None
    assert shelf.get("b", lambda: make("b", 2)) == 2
    assert shelf.get("c", lambda: make("c", 3)) == 3  # the third empties it first
    assert shelf.get("a", lambda: make("anew", 4)) == 4
    assert made == ["a", "b", "c", "anew"]


def test_a_value_is_handed_over_though_the_shelf_is_emptied_meanwhile() -> None:
    shelf, wrong = Attached(1), []

    def ask(k: int) -> None:
        for n in range(300):
            key = (k, n % 3)
            if shelf.get(key, lambda key=key: key) != key:
                wrong.append(key)

    threads = [threading.Thread(target=ask, args=(k,)) for k in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert wrong == []


def test_a_kept_hash_is_that_of_the_fields() -> None:
    @dataclass(frozen=True)
    class Spot(KeptHash):
        x: float
        name: str = ""
        seen: list[int] = field(default_factory=list, compare=False)
        __hash__ = KeptHash.__hash__

    a, b = Spot(1.0, "a", [1]), Spot(1.0, "a", [2])
    assert a == b and hash(a) == hash(b) == hash((1.0, "a")) and len({a, b, Spot(2.0, "a")}) == 2
    # of one that is copied with another value it is another one
    assert hash(replace(a, x=2.0)) == hash((2.0, "a"))
    entry = Entry("i", "n", "g", 1.0, 0.1, "weighed", (1.0, 2.0, 3.0))
    assert hash(entry) != hash(replace(entry, mass_kg=1.5)) and entry == replace(entry)


def test_each_build_has_its_own() -> None:
    memo, pairs, a = Memo(), ByIdentity(), object()
    shop = Memo(common=True)
    for build in ("one", "two"):
        with of_build(build):
            memo.get("x", lambda build=build: build)
            pairs.get(a, a, lambda build=build: build)
            shop.get("prices", lambda: "known")
    assert memo.peek("x") is None  # of no build
    with of_build("one"):
        assert memo.peek("x") == "one" and pairs.get(a, a, lambda: "lost") == "one"
        assert shop.peek("prices") == "known"
    with of_build("three"):
        assert memo.peek("x") is None


def test_the_build_asked_for_longest_ago_goes_whole_when_all_weigh_too_much(monkeypatch) -> None:
    monkeypatch.setattr(module, "MOST_BYTES", 2_500_000)
    memo, other = Memo(), Memo()
    for build in ("a", "b", "a", "c"):  # a megabyte each; a is asked for once more
        with of_build(build):
            memo.get("x", lambda build=build: build.encode() * 1_000_000)
            other.get("y", lambda: "kept with it")
        module.all_weighed()
    with of_build("d"):  # c is weighed now: three are too many, b is the one that nobody used for longest
        module.all_weighed()
    for build, there in (("c", True), ("a", True), ("b", False)):
        with of_build(build):
            assert (memo.peek("x") is not None, other.peek("y") is not None) == (there, there), build


def test_no_more_than_so_many_builds_are_kept_however_little_they_weigh(monkeypatch) -> None:
    monkeypatch.setattr(module, "MOST_WARM", 2)
    memo = Memo()
    for build in (*["one", "two"] * module.WORKED_AT, "one", *["three"] * module.WORKED_AT):
        with of_build(build):
            memo.get("x", lambda build=build: build)
    with of_build("one"):
        assert memo.peek("x") == "one"
    with of_build("two"):  # asked for longest ago when the third came
        assert memo.peek("x") is None


def test_what_is_only_looked_at_pushes_out_nothing_that_is_worked_at() -> None:
    forget()
    memo = Memo()

    def ask(build: str) -> bool:
        """Whether it was known already."""
        with of_build(build):
            known = memo.peek("x") is not None
            memo.put("x", build)
        return known

    people = [f"person {k}" for k in range(20)]  # each asks in turn, at first more of them than are kept
    assert [sum([ask(p) for p in people]) for _ in range(2)] == [0, 0]
    # of the six that are there the third time none is pushed out any more
    assert [sum([ask(p) for p in people]) for _ in range(2)] == [module.MOST_LOOKED_AT, 20]
    for k in range(200):
        assert not ask(f"passer-by {k}")
    assert statistics().builds == 20 + module.MOST_LOOKED_AT
    assert sum([ask(p) for p in people]) == 20
    kept = [k for k in range(200) if ask(f"passer-by {k}")]
    assert kept == []  # asking in the order of their coming, each pushes out the next


def test_how_often_was_asked_is_forgotten_of_the_oldest(monkeypatch) -> None:
    forget()
    monkeypatch.setattr(module, "MOST_COUNTED", 50)
    for k in range(200):
        with of_build(k):
            pass
    assert len(module._ASKED) == 50


def test_what_is_looked_up_is_counted() -> None:
    forget()
    before, memo = module.statistics(), Memo()
    with of_build("counted"):
        for key in ("a", "b", "a"):
            memo.get(key, lambda: 1)
    after = module.statistics()
    # a and b are not there at first, a is the second time
    assert (after.hits - before.hits, after.misses - before.misses) == (1, 2)
    assert after.entries - before.entries == 2 and after.builds == before.builds + 1


def test_a_weight_is_that_of_all_that_can_be_reached_each_thing_once() -> None:
    @dataclass(frozen=True)
    class Pair:
        a: object
        b: object

    text, numbers = "x" * 1000, np.zeros(5000)
    one = Pair(text, [text, text])
    # the same text three times is there once; an array with its 40 000 bytes
    held = [one, one.__dict__, *one.__dict__, text, one.b]
    assert bytes_of([one]) == sum(sys.getsizeof(x) for x in held)
    assert bytes_of([numbers]) == sys.getsizeof(numbers) > 40_000
    assert bytes_of([one, one]) == bytes_of([one])
    ring: list[object] = []
    ring.append(ring)
    assert bytes_of([ring]) == sys.getsizeof(ring)


def test_a_hand_keeps_what_it_needs_from_step_to_step_and_leaves_nothing() -> None:
    memo, scratch, made = Memo(), Scratch(), []
    memo.get("stored", lambda: 0)

    def ask(*keys: str) -> list[str]:
        made.clear()
        scratch.step()
        with passing(scratch):
            for key in keys:
                memo.get(key, lambda key=key: made.append(key) or key)
        return list(made)

    assert ask("stored", "still", "at 1") == ["still", "at 1"]
    assert ask("stored", "still", "at 2") == ["at 2"]
    for k in range(3, 50):
        assert ask("stored", "still", f"at {k}") == [f"at {k}"]
        # still, and where it is and was
        assert scratch.entries <= 4
    assert ask("still") == [] and ask("at 49") == ["at 49"]
    assert memo.peek("still") is None and memo.peek("stored") == 0


def test_what_is_tried_out_is_not_kept() -> None:
    memo = Memo()
    with passing():
        assert memo.get("tried", lambda: 1) == memo.get("tried", lambda: 2) == 1
    assert memo.peek("tried") is None


def test_pairs_that_are_there_still_are_not_worked_out_again() -> None:
    made: list[tuple[str, str]] = []

    class Thing:
        def __init__(self, name: str) -> None:
            self.name = name

    def meet(a: Thing, b: Thing) -> str:
        made.append((a.name, b.name))
        return a.name + b.name

    a, b, c, new = (Thing(n) for n in ("a", "b", "c", "a"))
    pairs = module.Together(meet)
    assert pairs.of([(a, b), (a, c)]) == ["ab", "ac"]
    assert pairs.of([(a, c), (a, b)]) == ["ac", "ab"] and len(made) == 2
    # another object of the same name is another one; what is gone is forgotten
    assert pairs.of([(new, b), (a, c)]) == ["ab", "ac"] and len(made) == 3
    pairs.of([(a, b)])
    assert len(made) == 4
    # a hand that drags finds what was stored, and what it made itself a step before
    scratch = Scratch()
    for _ in range(3):
        scratch.step()
        with passing(scratch):
            assert pairs.of([(a, b), (b, c)]) == ["ab", "bc"]
    assert len(made) == 5


class Knot:
    """Something that knows itself, as things of a build know one another."""

    def __init__(self) -> None:
        self.other = self


def test_what_builds_held_that_have_gone_is_collected_though_it_hangs_together() -> None:
    store, seen = Memo(), list[weakref.ref[Knot]]()

    def made() -> Knot:
        knot = Knot()
        seen.append(weakref.ref(knot))
        return knot

    gc.disable()  # as good as: in a server the collector looks at old things once in millions of steps
    gc.freeze()  # what other tests left is not looked through each time
    try:
        for k in range(module.MOST_WARM + 2 * module.MOST_GONE):
            with of_build(f"knot {k}"):
                store.get("knot", made)
        module.all_weighed()
        assert sum(r() is not None for r in seen) <= module.MOST_WARM + module.MOST_GONE
    finally:
        gc.unfreeze()
        gc.enable()


def test_what_was_worked_out_before_a_build_had_a_number_is_its_own() -> None:
    memo = Memo(10)
    forget()
    with of_one_to_be() as called:
        memo.put("hull", 1)
        called("new-1")
    with of_build("new-1"):
        assert memo.peek("hull") == 1
    with of_build("new-2"):
        assert memo.peek("hull") is None
    assert module._ASKED["new-1"] == 2  # as one to be, and by its number
    # one that never gets a number leaves nothing
    assert statistics().builds == 2
    with pytest.raises(ValueError, match="no boat"), of_one_to_be():
        memo.put("hull", 2)
        raise ValueError("no boat")
    assert statistics().builds == 2
    assert memo.peek("hull") is None
