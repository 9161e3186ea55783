"""What is cut is ticked on the Cuts page, and stays as it was cut."""

import re

from stirrup.store import builds
from stirrup.store.shop import the_shop


def number(site, build: int) -> int:
    found = re.search(r'name="base" value="(\d+)"', site.client.get(f"/b/{build}/cuts").text)
    assert found
    return int(found[1])


def cut_in(app, build: int) -> list[str]:
    with app.state.database.connection_context():
        return [c.id for c in builds.load(the_shop().id, build).plan.cut]


def first_key(page: str) -> str:
    found = re.search(r'name="tick"\s+value="cut ([^"]+)"', page)
    assert found
    return found[1]


def ticks(page: str) -> tuple[int, int]:
    """How many parts are cut, and how many are not yet."""
    return page.count('aria-pressed="true"'), page.count('aria-pressed="false"')


def send(site, build: int, **what: str):
    path = f"/b/{build}/cuts/ticks"
    return site.form(path, {"base": str(number(site, build)), **what})


def test_a_part_is_ticked_and_its_tick_is_taken_back(app, site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts").text
    key, (done, open_) = first_key(page), ticks(page)
    assert done == 0 and open_ > 5
    answer = send(site, build, tick=f"cut {key}")
    # back on the list, at the row where it was
    assert answer.status_code == 303 and re.search(r"/cuts#[\w-]+$", answer.headers["location"])
    page = site.client.get(f"/b/{build}/cuts").text
    assert cut_in(app, build) == [key] and ticks(page) == (1, open_ - 1)
    assert f"1 of {open_} cut" not in page or open_ == len(cut_in(app, build))
    assert ", cut</text>" in page or 'class="panel hatch-metal cut"' in page
    send(site, build, tick=f"not {key}")
    assert cut_in(app, build) == [] and ticks(site.client.get(f"/b/{build}/cuts").text) == (0, open_)


def test_all_of_a_thing_at_once_and_an_edge_that_moves_afterwards(app, site, build) -> None:
    send(site, build, every="deck")
    page = site.client.get(f"/b/{build}/cuts").text
    assert len(cut_in(app, build)) == ticks(page)[0] > 5 and "differs" not in page
    base = number(site, build)
    change = {"do": "set", "path": ["fittings", "deck", "height"], "value": 0.42}
    assert site.post(f"/api/builds/{build}/changes", {"base": base, "change": change}).status_code == 200
    page = site.client.get(f"/b/{build}/cuts").text
    assert "differs" in page and ("too small" in page or "over." in page)
    assert "Cut already" in site.client.get(f"/b/{build}/layout?sel=deck").text
    # those that have a tick keep what is known of them, until one is ticked anew by itself
    send(site, build, every="deck")
    assert "differs" in site.client.get(f"/b/{build}/cuts").text


def test_a_part_that_is_gone_and_words_that_mean_nothing_change_nothing(app, site, build) -> None:
    before = number(site, build)
    for what in (
        {"tick": "cut nobody/1"},
        {"tick": "saw deck/1"},
        {"every": "nobody"},
        {"tick": ""},
        {},
    ):
        assert send(site, build, **what).status_code == 303
    assert number(site, build) == before and cut_in(app, build) == []
    assert site.form(f"/b/{build}/cuts/ticks", {"base": "x", "tick": "cut a"}).status_code == 422


def test_two_who_tick_at_the_same_time_both_count(app, site, build) -> None:
    page = site.client.get(f"/b/{build}/cuts").text
    keys, base = re.findall(r'name="tick"\s+value="cut ([^"]+)"', page), number(site, build)
    for key in keys[:2]:
        answer = site.form(f"/b/{build}/cuts/ticks", {"base": str(base), "tick": f"cut {key}"})
        assert answer.status_code == 303
    assert sorted(cut_in(app, build)) == sorted(keys[:2])


def test_what_nothing_needs_any_more_can_have_its_tick_taken(app, site, build) -> None:
    send(site, build, every="deck")
    before = set(cut_in(app, build))
    # wider apart, so there are fewer cross members: those that are cut are in the list still
    change = {"do": "set", "path": ["fittings", "deck", "spacing"], "value": 1.2}
    answer = site.post(f"/api/builds/{build}/changes", {"base": number(site, build), "change": change})
    assert answer.status_code == 200
    page = site.client.get(f"/b/{build}/cuts").text
    stray = re.findall(r'value="not ([^"]+)" aria-pressed="true"', page)
    assert "nothing in the plan is it now" in page and stray and set(stray) <= before
    for key in stray:
        send(site, build, tick=f"not {key}")
    page = site.client.get(f"/b/{build}/cuts").text
    assert "nothing in the plan is it now" not in page and not set(stray) & set(cut_in(app, build))
