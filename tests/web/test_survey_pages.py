"""Survey and quick start as a browser sends them."""

import asyncio
import html
import io
import json
import re
import threading

import ezdxf
import numpy as np
import pytest
import trimesh
from PIL import Image

from stirrup.core.hull.mesh import TOP, build_surface
from stirrup.core.hull.model import QuickStart
from stirrup.core.plan.condition import REMEDY, WRONG
from stirrup.core.plan.start import new_plan
from tests.boats import DECK, plan, skiff_plan
from tests.web.conftest import make_build


@pytest.fixture
def quick(app) -> int:
    return make_build(app, new_plan("Marsh Wren", QuickStart()))


def known(site, build: int, line: int = 2) -> list[str]:
    hull = site.client.get(f"/b/{build}/file").json()["hull"]
    return hull["lines"][line]["known"]


def enter(site, build: int, path: str, text: str, **more):
    number = len(site.client.get(f"/api/builds/{build}/history").json())
    return site.post(
        f"/api/builds/{build}/changes", {"base": number, "typed": {"path": path, "text": text}, **more}
    )


def test_measure_starts_a_build_from_the_readings_that_were_typed(site) -> None:
    page = site.client.get("/measure")
    assert "Six to ten tape readings" in page.text
    fields = {
        "shape": "vee",
        "length": "14' 6\"",
        "beam": "70 1/2 in",
        "name": "Marsh Wren",
        "hull_mass": "212 kg",
    }
    made = site.form("/measure", fields)
    assert made.status_code == 303
    data = site.client.get(made.headers["location"].replace("/survey", "/file")).json()
    assert data["hull"]["quick"]["length"] == pytest.approx(14.5 * 0.3048)
    assert data["hull"]["quick"]["beam"] == pytest.approx(70.5 * 0.0254)
    assert (data["hull"]["mass"]["value"], data["hull"]["mass"]["status"]) == (212.0, "weighed")
    assert set(data["hull"]["lines"][2]["known"]) == {"estimated"}


def test_the_quick_start_is_drawn_while_it_is_typed(site) -> None:
    answer = site.client.post("/api/measure", data={"csrf_token": site.token, "beam": "2.1 m"}).json()
    assert answer["problems"] == {}
    assert set(answer["views"]) == {"profile", "plan", "body"}
    assert all("<svg" in view for view in answer["views"].values())
    assert "Freeboard, one aboard" in answer["facts"]


@pytest.mark.parametrize(
    ("typed", "field", "words"),
    [
        ({"beam": "wide"}, "beam", "wide"),
        ({"beam": "9 m"}, "beam", "accepted"),
        ({"bottom": "3 m", "beam": "2 m"}, "bottom", "wider than the greatest beam"),
        ({"hull_mass": "0.2 kg"}, "hull_mass", "accepted: 1 to 20 000 kg"),
        ({"shape": "raft"}, "shape", "raft"),
    ],
)
def test_a_bad_reading_is_explained_at_its_field_and_nothing_is_lost(site, typed, field, words) -> None:
    answer = site.client.post("/api/measure", data={"csrf_token": site.token, **typed}).json()
    assert words in answer["problems"][field]
    refused = site.form("/measure", {**typed, "name": "Marsh Wren"})
    assert refused.status_code == 422
    assert 'value="Marsh Wren"' in refused.text
    if field != "shape":
        assert f'value="{typed[field]}"' in refused.text


def test_a_typed_reading_becomes_measured_and_the_rest_follow_the_quick_start(site, quick) -> None:
    assert enter(site, quick, "hull/lines/sheer/points/3/1", "950").status_code == 200
    assert known(site, quick).count("measured") == 1
    assert enter(site, quick, "hull/quick/beam", "2.2 m").status_code == 200
    sheer = site.client.get(f"/b/{quick}/file").json()["hull"]["lines"][2]
    assert sheer["points"][3][1] == 0.95
    assert sheer["points"][4][1] == pytest.approx(1.1)


def test_readings_as_full_widths_and_down_from_a_string(site, quick) -> None:
    page = site.client.get(f"/b/{quick}/survey?line=sheer&width=full&string=850").text
    assert "Full width" in page
    assert "Down from string" in page
    assert 'value="1 800 mm"' in page  # greatest beam of the quick start
    assert enter(site, quick, "hull/lines/sheer/points/4/full", "1.9 m").status_code == 200
    assert enter(site, quick, "hull/lines/sheer/points/4/down@0.8500", "260").status_code == 200
    point = site.client.get(f"/b/{quick}/file").json()["hull"]["lines"][2]["points"][4]
    assert point[1:] == pytest.approx([0.95, 0.59])


def test_a_string_that_cannot_be_read_says_so_and_stays(site, quick) -> None:
    page = site.client.get(f"/b/{quick}/survey?string=tall").text
    assert 'value="tall"' in page
    assert "field-error" in page


def test_a_block_is_pasted_as_one_step(site, quick) -> None:
    body = {"base": 1, "pasted": {"path": "hull/lines/sheer/points/2/1", "text": "930\t560\n940\t565",
                                  "columns": ["0", "1", "2"], "by": "line"}}  # fmt: skip
    done = site.post(f"/api/builds/{quick}/changes", body)
    assert done.status_code == 200
    assert known(site, quick).count("measured") == 2
    assert site.post(f"/api/builds/{quick}/undo", {}).status_code == 200
    assert known(site, quick).count("measured") == 0


def test_a_bad_cell_of_a_block_is_named_and_the_good_ones_are_not_half_taken(site, quick) -> None:
    body = {"base": 1, "pasted": {"path": "hull/lines/sheer/points/2/1", "text": "930\t560\nfar\t565",
                                  "columns": ["0", "1", "2"], "by": "line"}}  # fmt: skip
    refused = site.post(f"/api/builds/{quick}/changes", body)
    assert refused.status_code == 422
    assert "row 2, column 1" in refused.json()["detail"]
    assert known(site, quick).count("measured") == 0


def test_what_to_measure_next_names_readings_until_all_are_measured(app, site, quick) -> None:
    hint = site.client.get(f"/b/{quick}/survey/next").text
    assert re.search(r"(sheer|chine|keel)[^<]*station \d", hint)
    measured = make_build(app, skiff_plan())
    assert "station" not in site.client.get(f"/b/{measured}/survey/next").text


def test_levelling_is_one_change_and_a_bad_pair_is_explained(site, build) -> None:
    refused = site.form(f"/b/{build}/survey/level", {"base": 1, "way": "along", "low": 2, "high": 2})
    assert refused.status_code == 422
    assert "less than 300 mm apart" in refused.text
    # her keel is level as she was typed in: nothing changes, and no revision says so
    assert (
        site.form(f"/b/{build}/survey/level", {"base": 1, "way": "along", "low": 1, "high": 2}).status_code
        == 303
    )
    assert len(site.client.get(f"/api/builds/{build}/history").json()) == 1
    # a floor 20 mm higher 2 m further forward: atan(0.01) is 0.57°
    typed = {"base": 1, "way": "floor", "x1": "0.5 m", "z1": "100", "x2": "2.5 m", "z2": "steep"}
    refused = site.form(f"/b/{build}/survey/level", typed)
    assert refused.status_code == 422
    assert 'value="steep"' in refused.text
    assert "floor reading 2, height: read “steep”" in refused.text
    assert site.form(f"/b/{build}/survey/level", {**typed, "z2": "120"}).status_code == 303
    words = site.client.get(f"/api/builds/{build}/history").json()[0]["words"]
    assert words == "hull: levelled by two floor readings by 0.57°"
    back = site.form(f"/b/{build}/survey/level", {"base": 2, "way": "along", "low": 1, "high": 2})
    assert back.status_code == 303
    words = site.client.get(f"/api/builds/{build}/history").json()[0]["words"]
    assert words == "hull: levelled along by 0.57°"
    # a second window that still shows the hull as it was
    late = site.form(f"/b/{build}/survey/level", {"base": 1, "way": "along", "low": 1, "high": 2})
    assert late.status_code == 409
    assert "Nothing was overwritten" in late.text
    assert site.form(f"/b/{build}/survey/level", {"base": 3, "way": "sideways"}).status_code == 422


def test_starboard_can_be_measured_apart(site, quick) -> None:
    page = site.client.get(f"/b/{quick}/survey").text
    change = re.search(r'data-change="([^"]+)"[^>]*>\s*Measure starboard apart', page)
    assert change
    body = {"base": 1, "change": json.loads(html.unescape(change[1]))}
    assert site.post(f"/api/builds/{quick}/changes", body).status_code == 200
    assert enter(site, quick, "hull/starboard/sheer/points/4/1", "930").status_code == 200
    page = site.client.get(f"/b/{quick}/survey?side=starboard").text
    assert 'value="930 mm"' in page
    # starboard stands where port stood but for the one that was typed: 970 against 930 amidships
    assert "half-width differs from port to starboard" in page
    assert page.count('class="doubt"') == 2  # ringed from the side and from above


@pytest.mark.parametrize("kind", ["svg", "pdf", "dxf"])
def test_the_lines_drawing_downloads(site, build, kind) -> None:
    answer = site.client.get(f"/b/{build}/lines.{kind}")
    assert answer.status_code == 200
    assert f"-lines.{kind}" in answer.headers["content-disposition"]
    if kind == "dxf":
        assert len(ezdxf.read(io.StringIO(answer.text)).modelspace()) > 20
    assert site.client.get(f"/b/{build}/lines.gif").status_code == 404


def test_cells_of_a_table_are_mended_in_place(site, build) -> None:
    text = "line,station,x,y,z\nkeel,1,0,0,0\nkeel,2,far,0,0\n"
    page = site.form(f"/b/{build}/survey/check", {"text": text}).text
    assert 'name="cell-3-2"' in page
    mended = site.form(f"/b/{build}/survey/mend", {"text": text, "cell-3-2": "4 m"})
    assert mended.status_code == 200
    assert "keel,2,4 m,0,0" in mended.text
    assert 'name="cell-3-2"' not in mended.text


def test_a_place_its_removal_and_the_wishes(site, build) -> None:
    placed = site.post(f"/api/builds/{build}/suggest", {"kind": "place"}).json()
    done = site.post(f"/api/builds/{build}/changes", {"base": 1, "change": placed["change"]})
    assert done.status_code == 200
    typed = {"place": "place-1", "mass": "heavy", "name": "wet core"}
    refused = site.form(f"/b/{build}/survey/taken-out", typed)
    assert refused.status_code == 422
    assert "heavy" in refused.text
    assert 'value="wet core"' in refused.text
    assert site.form(f"/b/{build}/survey/taken-out", {**typed, "mass": "14.5 kg"}).status_code == 303
    page = site.client.get(f"/b/{build}/survey/condition").text
    assert "wet core" in page
    assert "14.5 kg" in page
    assert enter(site, build, "label/total_kg", "480 kg").status_code == 200
    assert enter(site, build, "wishes/waters", "one lake").status_code == 200
    data = site.client.get(f"/b/{build}/file").json()
    assert data["label"]["total_kg"] == 480.0
    assert data["wishes"]["waters"] == "one lake"


def test_bad_workmanship_is_noted_with_what_is_done_about_it(app, site) -> None:
    places = [{"id": f"p{k}", "kind": kind, "at": [1.0, 0.2, 0.1]} for k, kind in enumerate(WRONG)]
    build = make_build(app, plan(condition=places))
    page = html.unescape(site.client.get(f"/b/{build}/survey/condition").text)
    for kind in WRONG:
        assert kind in page and REMEDY[kind] in page
    assert site.client.get(f"/b/{build}/survey/condition").status_code == 200
    wrong = enter(site, build, "condition/p0/kind", "haunted")
    assert wrong.status_code == 422 and "dry laminate" in wrong.text


def test_what_is_sold_stands_on_the_list_of_what_comes_apart(app, site) -> None:
    gone = {"id": "well", "name": "old <well>", "kind": "well", "stage": "removed", "becomes": "sold",
            "brings": "40.50", "box": {"size": [0.3, 1.0, 0.3], "floor_centre": [0.3, 0, 0.4]}}  # fmt: skip
    build = make_build(app, plan(existing=[gone]))
    page = html.unescape(site.client.get(f"/b/{build}/survey/apart").text)
    assert "is sold" in page and page.count("$\xa040.50") == 2
    assert enter(site, build, "existing/well/becomes", "waste").status_code == 200
    assert "40.50" not in site.client.get(f"/b/{build}/survey/apart").text


def test_how_the_build_does_things_is_chosen_once_and_otherwise_in_one_form(app, site) -> None:
    deck = {**DECK, "skin": "ply-12", "cover": "carpet"}
    build = make_build(app, plan(fittings=[deck]))
    page = site.client.get(f"/b/{build}/survey/condition").text
    assert "How this build does things" in page and 'data-path="schools/edges"' in page
    assert enter(site, build, "schools/edges", "flush").status_code == 200
    form = site.client.get(f"/b/{build}/layout", params={"sel": "deck"}).text
    assert "as the build: flush" in form
    assert enter(site, build, "fittings/deck/edges", "wrapped").status_code == 200
    assert enter(site, build, "fittings/deck/edges", "").status_code == 200
    data = site.client.get(f"/b/{build}/file").json()
    assert data["schools"]["edges"] == "flush" and "edges" not in data["fittings"][0]
    wrong = enter(site, build, "schools/edges", "glued")
    assert wrong.status_code == 422 and "glued" in wrong.text and "wrapped, flush" in wrong.text


def test_the_motor_on_board_counts_as_found(site, quick) -> None:
    before = site.client.get(f"/b/{quick}/survey/condition").text
    assert "Add the motor" in before
    placed = site.post(f"/api/builds/{quick}/suggest", {"kind": "motor"}).json()
    assert (
        site.post(f"/api/builds/{quick}/changes", {"base": 1, "change": placed["change"]}).status_code
        == 200
    )
    [item] = site.client.get(f"/b/{quick}/file").json()["items"]
    assert (item["group"], item["stage"], item["mass"]["status"]) == ("motor", "found", "guessed")
    # 200 mm behind the top of a transom that leans aft by 8° over 550 mm
    assert item["mass"]["centre"][0] == pytest.approx(-0.2 - 0.55 * 0.14054, abs=0.006)
    assert 'data-path="items/motor-1/mass/value"' in site.client.get(f"/b/{quick}/survey/condition").text


def photo(size=(2400, 1200), kind="JPEG", **more) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (120, 90, 60)).save(out, kind, **more)
    return out.getvalue()


def test_a_photo_is_made_small_and_loses_what_the_phone_wrote_in(site, build) -> None:
    placed = site.post(f"/api/builds/{build}/suggest", {"kind": "place"}).json()
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": placed["change"]})
    exif = Image.Exif()
    exif[0x010F] = "maker of the phone"
    exif[0x0112] = 6  # lies on its side
    files = {"photo": ("bilge.jpg", photo(exif=exif), "image/jpeg")}
    kept = site.form(f"/b/{build}/survey/photo", {"place": "place-1"}, files=files)
    assert kept.status_code == 303
    page = site.client.get(f"/b/{build}/survey/condition").text
    address = re.search(r'src="([^"]+photo-\d+\.jpg)"', page)
    assert address
    answer = site.client.get(address[1])
    assert answer.headers["content-type"] == "image/jpeg"
    with Image.open(io.BytesIO(answer.content)) as shown:
        assert shown.size == (800, 1600)
        assert not shown.getexif()
    assert site.client.get(address[1].replace(f"/b/{build}/", "/b/99999/")).status_code == 404


@pytest.mark.parametrize(
    "content", [b"", b"GIF89a....", b"\xff\xd8\xff\xe0 broken", b"<svg onload='alert(1)'/>"]
)
def test_what_is_no_photo_is_refused_with_words(site, build, content) -> None:
    placed = site.post(f"/api/builds/{build}/suggest", {"kind": "place"}).json()
    site.post(f"/api/builds/{build}/changes", {"base": 1, "change": placed["change"]})
    answer = site.form(f"/b/{build}/survey/photo", {"place": "place-1"},
                       files={"photo": ("x.jpg", content, "image/jpeg")})  # fmt: skip
    page = site.client.get(answer.headers["location"]).text
    assert "cannot be read; accepted: a photo as JPEG, PNG or WebP" in page
    # said once
    assert "cannot be read" not in site.client.get(answer.headers["location"]).text


def scan_file() -> bytes:
    """The outside of a quick-start hull in metres, as it stands."""
    outside = build_surface(new_plan("x", QuickStart(beam=2.0)).hull).outside
    skin = outside.corners[np.array([g != TOP for g in outside.groups])]
    return trimesh.Trimesh(**trimesh.triangles.to_kwargs(skin)).export(file_type="stl")


def test_a_scan_is_set_upright_looked_at_and_taken_over(site, build) -> None:
    sent = site.form(f"/b/{build}/survey/scan", {}, files={"scan": ("boat.stl", scan_file(), "model/stl")})
    assert sent.status_code == 303
    where = sent.headers["location"]
    page = site.client.get(where)
    assert page.status_code == 200
    assert "Take 27 readings over" in page.text
    assert len(site.client.get(f"{where}/points").json()["points"]) == 6000
    again = site.client.get(f"{where}?asked=1&centre=on&stations=11&unit=m&sides=apart")
    assert "Take 66 readings over" in again.text
    picks = dict(re.findall(r'type="hidden" name="(aft|fore|top)" value="([^"]+)"', again.text))
    taken = site.form(f"{where}/take", {"base": 1, **picks, "unit": "m", "stations": "11", "centre": "on",
                                        "lines": "keel, chine, sheer"})  # fmt: skip
    assert taken.status_code == 303
    hull = site.client.get(f"/b/{build}/file").json()["hull"]
    assert hull["lines"][2]["known"] == "scanned"
    assert max(p[1] for p in hull["lines"][2]["points"]) == pytest.approx(1.0, abs=0.006)
    assert site.post(f"/api/builds/{build}/undo", {}).status_code == 200


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("aft=here", "read “here”; accepted: x y z of the scan"),
        ("stations=many", "accepted: 5 to 25"),
        ("unit=ft", "is its unit right"),
        ("lines=masts", "accepted: keel, chine, sheer"),
        ("aft=0+0+0&fore=0+0+0", "same point"),
    ],
)
def test_a_wrong_wish_stands_at_its_field_and_stays_typed(site, build, query, words) -> None:
    sent = site.form(f"/b/{build}/survey/scan", {}, files={"scan": ("boat.stl", scan_file(), "model/stl")})
    page = site.client.get(f"{sent.headers['location']}?{query}")
    assert page.status_code == 422
    assert words in page.text
    assert "field-error" in page.text
    if query == "aft=here":
        assert 'value="here"' in page.text


def test_a_scan_taken_over_a_newer_hull_is_refused(site, build) -> None:
    sent = site.form(f"/b/{build}/survey/scan", {}, files={"scan": ("boat.stl", scan_file(), "model/stl")})
    assert enter(site, build, "hull/lines/sheer/points/1/1", "700").status_code == 200
    refused = site.form(f"{sent.headers['location']}/take", {"base": 1, "unit": "m", "stations": "9"})
    assert refused.status_code == 409
    assert "changed in another window" in refused.text


def test_a_file_that_is_no_scan_is_explained(site, build) -> None:
    answer = site.form(f"/b/{build}/survey/scan", {}, files={"scan": ("boat.step", b"ISO", "x")})
    assert answer.status_code == 422
    assert ".stl, .obj or .ply" in answer.text


def test_a_body_beyond_all_use_is_refused_before_it_is_read(site, build) -> None:
    headers = {"content-length": "900000000", "content-type": "application/octet-stream"}
    answer = site.client.post(f"/b/{build}/survey/scan", content=b"x", headers=headers)
    assert answer.status_code == 413
    assert "up to 60 MB" in answer.text


def test_a_body_of_unknown_length_is_stopped_on_the_way(app) -> None:
    from stirrup.web.security import BodyLimit

    async def reads(scope, receive, send) -> None:
        while (await receive()).get("more_body"):
            pass
        raise AssertionError("read to the end")

    sent: list[dict] = []
    left = list(range(20))

    async def send(message) -> None:
        sent.append(message)

    async def receive() -> dict:
        left.pop()
        return {"type": "http.request", "body": b"x" * 600_000, "more_body": bool(left)}

    scope = {"type": "http", "method": "POST", "path": "/api/x", "headers": [], "query_string": b"",
             "server": ("127.0.0.1", 80), "scheme": "http"}  # fmt: skip
    # in a thread of its own: tests of the browser may have left a loop running in this one
    thread = threading.Thread(target=lambda: asyncio.run(BodyLimit(reads)(scope, receive, send)))
    thread.start()
    thread.join(10)
    assert sent[0]["status"] == 413


def test_a_table_taken_from_the_bow_is_turned_round_by_one_button(site, build) -> None:
    text = "line,station,x,y,z\nkeel,1,4000,0,0\nkeel,2,0,0,0\nsheer,1,4000,900,600\nsheer,2,0,700,620\n"
    page = site.form(f"/b/{build}/survey/check", {"text": text}).text
    assert "is it measured from the bow?" in page
    assert "Distances were taken from the bow" in page
    turned = site.form(f"/b/{build}/survey/mend", {"text": text, "turn": "x"}).text
    assert "Clean: 4 readings on 2 lines" in turned


def test_a_reading_that_the_shape_makes_nothing_of_is_not_asked_for(site) -> None:
    for shape, hidden in (("vee", False), ("flat bottom, pointed", True)):
        page = site.client.post(
            "/measure", data={"csrf_token": site.token, "shape": shape, "length": "no"}
        ).text
        assert (re.search(r'data-reading="deadrise_aft"\s+hidden', page) is not None) is hidden
        told = site.client.post("/api/measure", data={"csrf_token": site.token, "shape": shape}).json()
        assert told["unread"] == (["deadrise_aft", "deadrise_middle"] if hidden else [])
