import pytest

HERE = "http://127.0.0.1:8470"
MOVE = {"base": 1, "change": {"do": "set", "path": ["fittings", "deck", "aft"], "value": 2.9}}


def test_pages_forbid_inline_scripts_and_frames(site) -> None:
    headers = site.client.get("/").headers
    policy = headers["content-security-policy"]
    assert "script-src 'self'" in policy and "unsafe" not in policy
    assert "frame-ancestors 'none'" in policy
    assert headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize(
    "headers",
    [
        {},
        {"X-CSRF-Token": "guess"},
        {"X-CSRF-Token": "TOKEN", "Sec-Fetch-Site": "cross-site"},
        {"X-CSRF-Token": "TOKEN", "Origin": "http://evil.example"},
    ],
)
def test_changes_from_elsewhere_are_refused(site, build, headers) -> None:
    sent = {k: site.token if v == "TOKEN" else v for k, v in headers.items()}
    answer = site.client.post(f"/api/builds/{build}/changes", json=MOVE, headers=sent)
    assert answer.status_code == 403
    assert site.client.get(f"/api/builds/{build}").json()["number"] == 1


@pytest.mark.parametrize(
    "path", ["/units", "/builds/import", "/b/1/copy", "/b/1/price", "/b/1/survey/check", "/b/1/survey/take"]
)
def test_forms_need_their_token(site, path) -> None:
    assert site.client.post(path, data={"x": "1"}).status_code == 403


def test_every_changing_route_is_protected(app) -> None:
    from stirrup.web.security import check_csrf

    assert any(d.dependency is check_csrf for d in app.router.dependencies)


def test_the_session_cookie_is_http_only_and_same_site(app) -> None:
    from fastapi.testclient import TestClient

    with TestClient(app, base_url=HERE) as client:
        cookie = client.get("/").headers["set-cookie"].lower()
    assert "httponly" in cookie and "samesite=lax" in cookie


def test_static_files_are_kept_for_ever_by_their_hash(site) -> None:
    """Sheets, scripts, the modules that scripts ask for, and fonts; what was changed has another
    address, so an old one is gone."""
    import re

    from stirrup.web.assets import STATIC

    found = re.search(r'href="(/static/[0-9a-f]{12})/css/look\.css"', site.client.get("/").text)
    assert found
    files = [*STATIC.rglob("*.js"), *STATIC.rglob("*.css"), *STATIC.rglob("*.woff2")]
    assert len(files) > 40
    for file in files:
        answer = site.client.get(f"{found[1]}/{file.relative_to(STATIC).as_posix()}")
        assert answer.status_code == 200 and answer.content == file.read_bytes()
        assert "immutable" in answer.headers["cache-control"]
    plain = site.client.get(f"{found[1]}/js/plain.js", headers={"Accept-Encoding": "identity"})
    assert "content-encoding" not in plain.headers and plain.content
    gone = site.client.get("/static/0123456789ab/css/look.css")
    assert gone.status_code == 404 and "immutable" not in gone.headers.get("cache-control", "")


def test_an_unexpected_error_tells_nothing(app, site, build, monkeypatch) -> None:
    from fastapi.testclient import TestClient

    from stirrup.web.pages import frame

    def broken(*args, **kwargs):
        raise RuntimeError("secret detail")

    monkeypatch.setattr(frame, "strip_context", broken)
    with TestClient(app, base_url=HERE, raise_server_exceptions=False) as client:
        answer = client.get(f"/b/{build}/layout")
    assert answer.status_code == 500
    assert "secret detail" not in answer.text
