"""Outlines from a file: taken in, looked at, put on the rack, into the boat, onto a panel."""

from typing import Any

import pytest
from shapely.geometry import Polygon

from stirrup.core.plan.model import Plan
from tests.web.test_arranging import plan_of

ELL = '<path d="M0 0h400v100h-300v200h-100z"/><rect x="600" width="200" height="50"/>'


def svg(inside: str) -> bytes:
    head = 'xmlns="http://www.w3.org/2000/svg" width="1000mm" viewBox="0 0 1000 500"'
    return f"<svg {head}>{inside}</svg>".encode()


def taken_in(site: Any, build: int, content: bytes, name: str = "parts.svg") -> str:
    answer = site.form(f"/b/{build}/cuts/outlines", {}, files={"file": (name, content, "image/svg+xml")})
    assert answer.status_code == 303
    return str(answer.headers["location"])


def stored(app: Any, build: int) -> Plan:
    plan: Plan = plan_of(app, build).plan
    return plan


def test_a_file_is_looked_at_and_its_leftovers_are_on_the_rack(app: Any, site: Any, build: int) -> None:
    assert 'name="file" accept=".dxf,.svg"' in site.client.get(f"/b/{build}/cuts").text.replace("\n", " ")
    address = taken_in(site, build, svg(ELL))
    page = site.client.get(address).text
    assert "2 closed outlines" in page and "1: 400 mm × 300 mm" in page and "2: 200 mm × 50 mm" in page
    sent = {"base": "1", "way": "rack", "stock": "ply-12", "where": "behind the lathe", "pick": ["1"]}
    assert site.form(f"{address}/take", sent).status_code == 303
    (rest,) = stored(app, build).cutting.sheets
    assert (rest.stock, rest.place, rest.width, rest.height) == ("ply-12", "behind the lathe", 0.4, 0.3)
    # 400 x 100 and 100 x 200; up on the page is up
    assert Polygon(rest.outline).area == pytest.approx(0.06)
    assert Polygon(rest.outline).centroid.y == pytest.approx(0.3 - (0.04 * 0.05 + 0.02 * 0.2) / 0.06)
    cuts = site.client.get(f"/b/{build}/cuts").text
    assert "behind the lathe" in cuts


def test_own_parts_land_in_the_boat_beside_one_another(app: Any, site: Any, build: int) -> None:
    address = taken_in(site, build, svg(ELL))
    sent = {"base": "1", "way": "part", "stock": "ply-12", "name": "Bracket", "pick": ["1", "2"]}
    assert site.form(f"{address}/take", sent).status_code == 303
    parts = [f for f in stored(app, build).fittings if f.kind == "own_part"]
    assert [(p.name, p.mark) for p in parts] == [("Bracket 1", "O1"), ("Bracket 2", "O2")]
    assert parts[1].x - parts[0].x == pytest.approx(0.45)  # type: ignore[attr-defined]
    assert site.client.get(f"/b/{build}/layout?sel={parts[0].id}").status_code == 200
    # one step back takes both away
    site.post(f"/api/builds/{build}/undo", {})
    assert not [f for f in stored(app, build).fittings if f.kind == "own_part"]


def test_a_panel_takes_over_how_it_fits(app: Any, site: Any, build: int) -> None:
    """The deck's skin 4 mm larger all round, its drawing turned by a right angle."""
    from tests.boats import derive as derived_of

    panel = derived_of(stored(app, build)).built[0].panels[0]
    larger = panel.polygon.buffer(0.004, join_style="mitre").exterior.coords
    d = "M" + "L".join(f"{v * 1000:.3f} {u * 1000:.3f}" for u, v in larger) + "z"
    address = taken_in(site, build, svg(f'<path d="{d}"/>'))
    sent = {"base": "1", "way": "tried", "panel": panel.key, "pick": ["1"]}
    assert site.form(f"{address}/take", sent).status_code == 303
    (fitted,) = stored(app, build).fitted
    assert fitted.id == panel.key
    middle = [m for m in fitted.marks if 0.2 < m.at / fitted.marks[-1].at < 0.8]
    assert middle
    for mark in middle:
        assert (mark.low, mark.high) == pytest.approx((0.004, 0.004), abs=0.0012)
    # a second one has to wait until the first is forgotten
    again = site.form(f"{address}/take", {**sent, "base": "2"})
    assert again.status_code == 422 and "forget its gaps" in again.text


@pytest.mark.parametrize(
    ("sent", "said"),
    [
        ({"pick": []}, "no outline is ticked"),
        ({"pick": ["9"]}, "accepted: 1 to 2"),
        ({"stock": "<b>gold</b>"}, "there is no sheet"),
        ({"way": "elsewhere"}, "accepted: rack"),
        ({"way": "tried", "panel": "gone", "pick": ["1"]}, "there is no panel"),
        ({"way": "tried", "panel": "deck/skin/1", "pick": ["1", "2"]}, "accepted: one for a panel"),
        ({"way": "tried", "panel": "deck/skin/1", "pick": ["2"]}, "is not that of D1"),
        ({"unit": "parsec"}, "accepted: mm"),
        ({"gap": "wide"}, "wide"),
        ({"unit": "m"}, "Which unit"),
        ({"traced": "beside"}, "accepted: on its edge"),
        ({"traced": "outside of it", "pen": "60 mm"}, "nothing in one piece"),
        ({"gone": "1 m"}, "accepted: 0 to"),
    ],
)
def test_what_cannot_be_taken_over_is_said_and_nothing_stored(
    app: Any, site: Any, build: int, sent: dict[str, Any], said: str
) -> None:
    address = taken_in(site, build, svg(ELL))
    first = {"base": "1", "way": "rack", "stock": "ply-12", "pick": ["1", "2"], "where": "kept words"}
    told = site.form(f"{address}/take", {**first, **sent})
    assert told.status_code == 422 and said in told.text and "<b>gold</b>" not in told.text
    assert plan_of(app, build).number == 1


def test_a_file_that_is_none_is_said_on_the_page(app: Any, site: Any, build: int) -> None:
    answer = site.form(
        f"/b/{build}/cuts/outlines", {}, files={"file": ("x.pdf", b"%PDF", "application/pdf")}
    )
    assert answer.status_code == 303
    assert "neither DXF nor SVG" in site.client.get(answer.headers["location"]).text
    # open lines: the page asks for a wider gap
    address = taken_in(site, build, svg('<path d="M0 0h100v100h-100v-98"/>'))
    page = site.client.get(address)
    assert page.status_code == 422 and "the next end is" in page.text
    assert "1 closed outline" in site.client.get(address, params={"gap": "3 mm"}).text
    assert site.client.get(address.replace(f"/b/{build}/", "/b/9999/")).status_code == 404


def test_a_traced_piece_comes_in_as_large_as_it_was(app: Any, site: Any, build: int) -> None:
    """200 x 50 traced 2 mm outside of its edge, 12 mm gone all round: 220 x 70."""
    address = taken_in(site, build, svg('<rect width="200" height="50"/>'))
    typed = {"traced": "outside of it", "pen": "2 mm", "gone": "12 mm"}
    page = site.client.get(address, params=typed).text
    assert "1: 220 mm × 70 mm" in page
    sent = {"base": "1", "way": "part", "stock": "ply-12", "name": "Old knee", "pick": ["1"], **typed}
    assert site.form(f"{address}/take", sent).status_code == 303
    (part,) = [f for f in stored(app, build).fittings if f.kind == "own_part"]
    assert (part.width, part.height) == pytest.approx((0.22, 0.07))  # type: ignore[attr-defined]
