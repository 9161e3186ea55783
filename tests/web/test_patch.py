"""Drawings told as what is new in them: put together again they are the drawing."""

import re
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from stirrup.core.parts.entries import Pack
from stirrup.exchange.catalogue import starting
from stirrup.store.models import Price
from stirrup.store.session import writing
from stirrup.store.shop import forget_entry, keep_entries, set_price, the_shop
from stirrup.web.drawing.patch import parts_of, patch, steps_between
from stirrup.web.pages import previewing

MOVE = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}
BASE = (
    '<svg class="view" viewBox="0 0 9 9" data-of="m1"><path d="M0 0"/><g class="thing"><title>a</title>'
    '<g><path d="M1 1"/></g></g><text x="1">5<tspan>1⁄2</tspan> in</text></svg>'
)


def together(told, base: str) -> str:
    """The drawing that a page has after an answer."""
    tag, parts = parts_of(base)
    out = [p if isinstance(p, str) else "".join(parts[p[0] : p[1]]) for p in told["now"]]
    return tag + "".join(out) + "</svg>"


def test_parts_are_the_elements_right_under_the_drawing() -> None:
    tag, parts = parts_of(BASE)
    assert tag.endswith('data-of="m1">')
    assert parts == (
        '<path d="M0 0"/>',
        '<g class="thing"><title>a</title><g><path d="M1 1"/></g></g>',
        '<text x="1">5<tspan>1⁄2</tspan> in</text>',
    )
    assert parts_of('<svg data-of="m"></svg>')[1] == ()


def test_what_stays_is_named_and_what_is_new_is_sent() -> None:
    now = BASE.replace("M1 1", "M2 2").replace("m1", "m2")
    told = patch(BASE, now, "m1")
    assert told == {
        "of": "m1",
        "now": [[0, 1], '<g class="thing"><title>a</title><g><path d="M2 2"/></g></g>', [2, 3]],
    }
    # a page with another drawing gets the one that it is told against
    assert patch(BASE, now, "m0")["base"] == BASE
    # another frame is another drawing
    wider = now.replace("0 0 9 9", "0 0 12 9")
    assert patch(BASE, wider, "m1") == wider


def test_two_parts_alike_stand_in_two_places() -> None:
    assert steps_between(("a", "a", "b"), ("a", "b", "a")) == [[0, 1], [2, 3], [1, 2]]
    assert steps_between(("a",), ("a", "a")) == [[0, 1], "a"]


PARTS = st.lists(st.sampled_from([f'<path d="M{k}"/>' for k in range(6)]), max_size=12)


@given(PARTS, PARTS)
def test_any_drawing_is_put_together_from_any_other(old, new) -> None:
    base, now = (f'<svg data-of="{k}">{"".join(parts)}</svg>' for k, parts in (("o", old), ("n", new)))
    told = patch(base, now, "o")
    assert together(told, base) == now.replace('data-of="n"', 'data-of="o"')
    used = [k for step in told["now"] if not isinstance(step, str) for k in range(*step)]
    assert len(used) == len(set(used))  # no part of the page in two places


def preview(site, build, **more):
    body = {"base": 1, "change": MOVE, "sel": "deck", "case": "planned, empty", "pace": "live"}
    return site.post(f"/api/builds/{build}/preview", {**body, **more})


def test_an_answer_against_the_page_is_the_whole_answer(site, build) -> None:
    page = site.client.get(f"/b/{build}/layout?sel=deck&case=planned, empty").text
    marks = dict(
        zip(("profile", "plan", "section"), re.findall(r'data-of="([0-9a-f]{12})"', page), strict=False)
    )
    whole = preview(site, build).json()["views"]
    told = preview(site, build, has=marks).json()["views"]
    assert set(told) == {"profile", "plan", "section"}
    for slot, steps in told.items():
        assert steps["of"] == marks[slot] and "base" not in steps  # the page's own
        drawn = page[page.index(f'data-slot="{slot}"') :]
        drawn = drawn[drawn.index("<svg") : drawn.index("</svg>") + 6]
        new = [s for s in steps["now"] if isinstance(s, str)]
        assert 0 < len(new) < len(parts_of(drawn)[1])
        assert parts_of(together(steps, drawn))[1] == parts_of(whole[slot])[1]
    # a page that holds something else is given what it lacks
    other = preview(site, build, has={**marks, "plan": "0" * 12}).json()["views"]
    assert other["plan"]["base"].startswith("<svg") and "base" not in other["profile"]


def test_figures_that_are_behind_the_hand_look_so(site, build) -> None:
    live = preview(site, build).json()
    assert "is-open old" in live["strip"] and "is-board old" in live["strip"]
    whole = preview(site, build, pace="behind").json()
    assert " old" not in whole["strip"] and not any(" old" in f for f in whole["findings"])


def test_what_was_found_behind_a_hand_is_what_its_next_step_shows(site, build) -> None:
    lower = {"do": "set", "path": ["fittings", "deck", "height"], "value": 0.35}
    found = preview(site, build, change=lower, pace="behind", hand="h1", step=1).json()
    after = preview(site, build, change=lower, hand="h1", step=2).json()

    def said(answer):
        return sorted(re.findall(r"<strong>(.*?)</strong>", "".join(answer["findings"])))

    assert said(after) == said(found)


def test_an_earlier_step_gives_up(site, build) -> None:
    assert preview(site, build, hand="h2", step=9).status_code == 200
    late = preview(site, build, change={**MOVE, "value": 2.8317}, pace="behind", hand="h2", step=8)
    assert late.status_code == 409 and late.json()["code"] == "given up"
    # another window's steps are its own
    assert preview(site, build, pace="behind", hand="h3", step=1).status_code == 200


def test_hands_that_rest_are_forgotten(monkeypatch) -> None:
    hands, now = previewing.Hands(), [100.0]
    monkeypatch.setattr(previewing.time, "monotonic", lambda: now[0])
    first = hands.at(1, previewing.PreviewAsked(base=1, hand="a", step=3))
    assert hands.at(1, previewing.PreviewAsked(base=1, hand="a", step=2)) is first and first.step == 3
    now[0] += previewing.IDLE_S + 1
    other = hands.at(1, previewing.PreviewAsked(base=1, hand="b", step=1))
    assert list(hands.of.values()) == [other]
    for k in range(previewing.MOST_HANDS + 5):
        hands.at(k, previewing.PreviewAsked(base=1, hand="c", step=1))
    assert len(hands.of) == previewing.MOST_HANDS and (1, "b") not in hands.of
    # whoever has no name leaves nothing
    assert hands.at(1, previewing.PreviewAsked(base=1)) is not hands.at(1, previewing.PreviewAsked(base=1))
    assert len(hands.of) == previewing.MOST_HANDS


def test_what_was_found_of_an_earlier_revision_is_not_shown(site, build) -> None:
    lower = {"do": "set", "path": ["fittings", "deck", "height"], "value": 0.35}
    whole = preview(site, build, change=lower, pace="behind", hand="h4", step=1, sel="").json()
    moved = {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.4}
    number = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": moved}).json()["number"]
    named = {"do": "set", "path": ["fittings", "deck", "name"], "value": "Deck two"}
    asked = {"change": named, "base": number, "sel": "", "step": 2}
    after = preview(site, build, hand="h4", **asked).json()
    fresh = preview(site, build, hand="h5", **asked).json()
    assert after["findings"] == fresh["findings"] != whole["findings"]


def test_a_step_goes_by_the_prices_and_entries_of_now(app, site, build) -> None:
    owner = the_shop().id

    def told():
        words = re.sub(r"<[^>]*>", " ", preview(site, build).json()["strip"])
        return " ".join(words[words.index("Planned cost") :].split()[:6])

    first = told()
    try:
        set_price(owner, "al-2.5", Decimal("731.00"))
        assert told() != first
    finally:
        forget_entry(owner, "al-2.5")
    assert told() == first
    # so does what a shop asks for it from now on, while the price that was set stays
    set_price(owner, "al-2.5", Decimal("700.00"))
    try:
        before = told()
        with writing():
            row = Price.get((Price.shop == owner) & (Price.item == "al-2.5"))
            row.offered = [[1, "999.00"]]
            row.save()
        assert told() != before
        with writing():
            row.offered = None
            row.save()
        assert told() == before
    finally:
        forget_entry(owner, "al-2.5")
    # an entry of one's own counts as well
    sheet = starting().sheet("al-2.5")
    keep_entries(owner, [sheet.model_copy(update={"packs": (Pack(quantity=1, price=Decimal("555.00")),)})])
    try:
        assert told() != first
    finally:
        forget_entry(owner, "al-2.5")
    assert told() == first
