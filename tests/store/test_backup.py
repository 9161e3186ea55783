"""A yard written into one file while it runs, brought back elsewhere, and never over another."""

import io
import signal
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from PIL import Image

from tests.store.servers import ROOT, Server, environment


def keep(folder: Path, *args: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "stirrup.safekeeping", *args], cwd=ROOT, env=environment(folder),
        capture_output=True, text=True, check=False, timeout=60,
    )  # fmt: skip


def photo() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), (200, 30, 20)).save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def yard(begun: Path) -> Server:
    """A running yard with three revisions of a boat and one photo."""
    server = Server(begun, 8721)
    server.change(1, 3.05)
    number = server.change(2, 3.07)
    headers = {"X-CSRF-Token": server.token}
    placed = server.client.post("/api/builds/1/suggest", json={"kind": "place"}, headers=headers).json()
    body = {"base": number, "change": placed["change"]}
    assert server.client.post("/api/builds/1/changes", json=body, headers=headers).status_code == 200
    place = placed["sel"] or placed["change"]["value"]["id"]
    sent = server.client.post("/b/1/survey/photo", data={"place": place, "csrf_token": server.token},
                              files={"photo": ("stain.png", photo(), "image/png")})  # fmt: skip
    assert sent.status_code == 303
    return server


@pytest.mark.slow
def test_a_yard_comes_back_as_it_was_in_another_folder(yard: Server, begun: Path, tmp_path: Path) -> None:
    file = tmp_path / "yard.zip"
    done = keep(begun, "backup", str(file))
    assert done.returncode == 0, done.stderr
    assert "4 boats, 8 revisions, 1 photos and scans" in done.stdout  # one each, and 4 changes
    # it may be looked into without this program
    with zipfile.ZipFile(file) as archive:
        names = archive.namelist()
    assert any(n.startswith("photos/") and n.endswith("-stain.jpg") for n in names)
    assert any(n == "boats/1-sedge-hopper.stirrup.json" for n in names)
    before, picture = yard.state(), yard.client.get("/b/1/photos/photo-1.jpg").content
    yard.change(before[0], 3.11)  # after the backup
    yard.kill(signal.SIGINT)

    # not over the yard that is there, unless that is said; then it is put aside
    refused = keep(begun, "restore", str(file))
    assert refused.returncode == 1 and "--over" in refused.stderr
    done = keep(begun, "restore", str(file), "--over")
    assert done.returncode == 0, done.stderr
    aside = next(begun.glob("cluster-before-*"))
    assert str(aside) in done.stdout and (aside / "postgres/PG_VERSION").exists()
    server = Server(begun, 8721)
    assert server.state() == before
    assert server.client.get("/b/1/photos/photo-1.jpg").content == picture
    # numbers go on where they were
    assert server.change(before[0], 3.2) == before[0] + 1
    server.kill(signal.SIGINT)


@pytest.mark.slow
def test_nothing_is_brought_back_into_a_yard_that_is_open(
    yard: Server, begun: Path, tmp_path: Path
) -> None:
    file = tmp_path / "yard.zip"
    assert keep(begun, "backup", str(file)).returncode == 0
    refused = keep(begun, "restore", str(file), "--over")
    assert refused.returncode == 1 and "stop it first" in refused.stderr
    assert yard.state()[0] == 5
    # nor is a backup written over another
    again = keep(begun, "backup", str(file))
    assert again.returncode == 1 and "is there already" in again.stderr
    yard.kill(signal.SIGINT)


@pytest.mark.slow
def test_a_damaged_backup_changes_nothing(yard: Server, begun: Path, tmp_path: Path) -> None:
    file, bent = tmp_path / "yard.zip", tmp_path / "bent.zip"
    assert keep(begun, "backup", str(file)).returncode == 0
    yard.kill(signal.SIGINT)
    other = tmp_path / "other"
    with zipfile.ZipFile(file) as source, zipfile.ZipFile(bent, "w") as to:
        for name in source.namelist():
            content = source.read(name)
            to.writestr(name, content[:-1] + b"x" if name == "database.dump" else content)
    for damaged, said in ((bent, "database.dump in the backup is damaged"), (begun / "x", "No such file")):
        found = keep(other, "restore", str(damaged))
        assert found.returncode == 1 and said in found.stderr
    cut = tmp_path / "cut.zip"
    cut.write_bytes(file.read_bytes()[: file.stat().st_size // 2])
    found = keep(other, "restore", str(cut))
    assert found.returncode == 1 and "no backup, or damaged" in found.stderr
    assert not other.exists() or not list(other.rglob("PG_VERSION"))
