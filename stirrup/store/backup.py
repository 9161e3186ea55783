"""Backups: the whole yard in one file, taken while it runs, and brought back into a new cluster.

The file is a zip: `database.dump` (pg_dump's custom format, without the contents of photos and
scans), those as files under `photos/` and `scans/`, every boat as a build file under `boats/`,
`uploads.json`, and `CHECKSUMS` (SHA-256 of all of them). All of it is one moment's state.
"""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
import re
import shutil
import subprocess
import tempfile
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Any
from urllib.parse import unquote, urlparse

import psycopg

from stirrup.core.record import dataclass
from stirrup.store.cluster import Cluster, ensure_database, tool

FORMAT = 1
TABLES = ("shop", "build", "revision", "price", "upload")
FOLDERS = {"photo": "photos", "scan": "scans", "outline": "outlines"}
LISTED = re.compile(r"([0-9a-f]{64})  ([A-Za-z0-9_.-]+(?:/[A-Za-z0-9_.-]+)?)")
CHUNK = 1 << 20


class BackupError(RuntimeError):
    """A backup could not be taken or brought back; the text says why and what to do."""


@dataclass(frozen=True)
class Counted:
    """How much a backup holds: rows by table."""

    rows: dict[str, int]

    def __str__(self) -> str:
        builds, revisions = self.rows["build"], self.rows["revision"]
        return f"{builds} boats, {revisions} revisions, {self.rows['upload']} photos and scans"


def _client(url: str, name: str, *args: str) -> list[str]:
    parts = urlparse(url)
    place = [
        "-h",
        parts.hostname or "127.0.0.1",
        "-p",
        str(parts.port or 5432),
        "-U",
        parts.username or "app",
    ]
    return [tool(name), *place, *args]


def _secret(url: str) -> dict[str, str]:
    """The password goes by the environment: arguments can be read by everybody on the machine."""
    return {**os.environ, "PGPASSWORD": unquote(urlparse(url).password or "")}


def _called(args: list[str], url: str, what: str) -> None:
    done = subprocess.run(args, env=_secret(url), capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise BackupError(f"{what}: {done.stderr.strip()[-600:]}")


def _plain(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower()[:60] or "boat"


def _counts(connection: Any) -> dict[str, int]:
    return {t: connection.execute(f'SELECT count(*) FROM "{t}"').fetchone()[0] for t in TABLES}


class _Archive:
    """A zip being written, with the checksum of each file."""

    def __init__(self, out: IO[bytes]) -> None:
        self.zip = zipfile.ZipFile(out, "w", zipfile.ZIP_STORED)
        self.sums: list[str] = []

    def add(self, name: str, content: bytes) -> None:
        self.sums.append(f"{hashlib.sha256(content).hexdigest()}  {name}")
        self.zip.writestr(name, content)

    def add_file(self, name: str, path: Path) -> None:
        digest = hashlib.sha256()
        with path.open("rb") as source, self.zip.open(name, "w", force_zip64=True) as to:
            while block := source.read(CHUNK):
                digest.update(block)
                to.write(block)
        self.sums.append(f"{digest.hexdigest()}  {name}")

    def close(self) -> None:
        self.zip.writestr("CHECKSUMS", "\n".join(self.sums) + "\n")
        self.zip.close()


def back_up(url: str, to: Path) -> Counted:
    """Write a backup of the database at `url`; it may be in use. Raises BackupError.

    The file appears under its name once it is whole.
    """
    if to.exists():
        raise BackupError(f"{to} is there already; give another name, or move it away")
    beside = to.with_name(f".{to.name}.part")
    try:
        with tempfile.TemporaryDirectory(prefix="stirrup-backup-") as work, beside.open("wb") as out:
            archive = _Archive(out)
            counted = _write(url, archive, Path(work))
            archive.close()
            out.flush()
            os.fsync(out.fileno())
        beside.rename(to)
    except OSError as error:
        raise BackupError(f"{to} could not be written: {error.strerror}") from None
    finally:
        beside.unlink(missing_ok=True)
    return counted


def _write(url: str, archive: _Archive, work: Path) -> Counted:
    with psycopg.connect(url) as connection:
        # one moment for all: pg_dump is given the same snapshot
        connection.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        row = connection.execute("SELECT pg_export_snapshot()").fetchone()
        assert row is not None
        dump = work / "database.dump"
        name = urlparse(url).path.lstrip("/")
        options = ("-Fc", "--no-owner", "--no-privileges", "--exclude-table-data=upload",
                   f"--snapshot={row[0]}", "-f", str(dump), name)  # fmt: skip
        _called(_client(url, "pg_dump", *options), url, "the database could not be written")
        archive.add_file("database.dump", dump)
        counted = _counts(connection)
        for build, title, plan in connection.execute("SELECT id, name, plan FROM build ORDER BY id"):
            text = json.dumps(plan, ensure_ascii=False, indent=1)
            archive.add(f"boats/{build}-{_plain(title)}.stirrup.json", f"{text}\n".encode())
        listed = []
        fields = "id, shop_id, build_id, kind, name, media, created"
        ids = connection.execute(f"SELECT {fields} FROM upload ORDER BY id").fetchall()
        for id_, shop, build, kind, title, media, created in ids:
            content = connection.execute("SELECT content FROM upload WHERE id = %s", (id_,)).fetchone()
            assert content is not None
            tail = Path(title).suffix.lower()
            tail = tail if re.fullmatch(r"\.[a-z0-9]{1,5}", tail) else ""
            file = f"{FOLDERS[kind]}/{id_}-{_plain(Path(title).stem)}{'.jpg' if kind == 'photo' else tail}"
            archive.add(file, bytes(content[0]))
            listed.append({"file": file, "id": id_, "shop": shop, "build": build, "kind": kind,
                           "name": title, "media": media, "created": created.isoformat()})  # fmt: skip
        about = {"format": FORMAT, "rows": counted, "uploads": listed}
        archive.add("uploads.json", json.dumps(about, ensure_ascii=False, indent=1).encode())
    return Counted(counted)


def _looked_through(archive: zipfile.ZipFile) -> dict[str, Any]:
    """Compare every file with its checksum; what the backup says of itself. Raises BackupError."""
    names = set(archive.namelist())
    if not {"CHECKSUMS", "database.dump", "uploads.json"} <= names:
        raise BackupError("this is no backup of a yard: it has no CHECKSUMS, database.dump, uploads.json")
    listed: dict[str, str] = {}
    for line in archive.read("CHECKSUMS").decode("ascii", "replace").splitlines():
        found = LISTED.fullmatch(line)
        if found is None:
            raise BackupError(f"CHECKSUMS is damaged: read “{line[:80]}”")
        listed[found[2]] = found[1]
    odd = names ^ {*listed, "CHECKSUMS"}
    if odd:
        raise BackupError(f"the backup is not whole: {', '.join(sorted(odd)[:4])}")
    for name, wanted in listed.items():
        digest = hashlib.sha256()
        with archive.open(name) as source:
            while block := source.read(CHUNK):
                digest.update(block)
        if digest.hexdigest() != wanted:
            raise BackupError(f"{name} in the backup is damaged: its checksum differs")
    about = json.loads(archive.read("uploads.json"))
    if about.get("format") != FORMAT:
        raise BackupError(f"format {about.get('format')} of a later version; this one reads {FORMAT}")
    return dict(about)


@contextlib.contextmanager
def _alone(folder: Path) -> Iterator[None]:
    """Nobody may use the yard while it is exchanged. Raises BackupError."""
    (folder / "cluster").mkdir(parents=True, exist_ok=True)
    lock = os.open(folder / "cluster" / "in-use", os.O_RDWR | os.O_CREAT, 0o644)
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        yield
    except BlockingIOError:
        raise BackupError(f"the yard in {folder} is open; stop it first (Ctrl-C where it runs)") from None
    finally:
        os.close(lock)


def bring_back(file: Path, folder: Path, over: bool = False) -> tuple[Counted, Path | None]:
    """Restore a backup into a new cluster in `folder`; what is there is kept aside, never deleted.

    Returns what it holds and where the earlier data are now. Raises BackupError, having changed
    nothing, when the file is damaged, when the yard is in use, or when there is a yard already
    and `over` is false.
    """
    try:
        with zipfile.ZipFile(file) as archive:
            about = _looked_through(archive)
            there = folder / "cluster"
            if (there / "postgres").exists() and not over:
                raise BackupError(
                    f"there is a yard in {folder} already. With --over it is put aside (not deleted) "
                    "and the backup takes its place; or set STIRRUP_DATA to another folder"
                )
            with _alone(folder):
                new = folder / "restoring"
                shutil.rmtree(new, ignore_errors=True)
                counted = _restored(archive, about, new)
                aside = None
                if (there / "postgres").exists():
                    aside = folder / f"cluster-before-{time.strftime('%Y%m%d-%H%M%S')}"
                    there.rename(aside)
                else:
                    shutil.rmtree(there)
                new.rename(there)
                return counted, aside
    except zipfile.BadZipFile as error:
        raise BackupError(f"{file} is no backup, or damaged: {error}") from None
    except OSError as error:
        raise BackupError(f"{error.filename or file}: {error.strerror}") from None


def _restored(archive: zipfile.ZipFile, about: dict[str, Any], folder: Path) -> Counted:
    """A cluster in `folder` with what the archive holds, counted and stopped again."""
    cluster = Cluster(folder)
    try:
        port = cluster.start()
        url = ensure_database(cluster, port, "stirrup")
        with tempfile.TemporaryDirectory(prefix="stirrup-restore-") as work:
            archive.extract("database.dump", work)
            dump = str(Path(work) / "database.dump")
            options = ("-d", "stirrup", "--no-owner", "--no-privileges", "--exit-on-error", dump)
            _called(_client(url, "pg_restore", *options), url, "the database could not be brought back")
        with psycopg.connect(url) as connection:
            for row in about["uploads"]:
                connection.execute(
                    "INSERT INTO upload (id, shop_id, build_id, kind, name, media, content, created) "
                    "VALUES (%(id)s, %(shop)s, %(build)s, %(kind)s, %(name)s, %(media)s, %(content)s, "
                    "%(created)s)",
                    {**row, "content": archive.read(row["file"])},
                )
            connection.execute(
                "SELECT setval(pg_get_serial_sequence('upload', 'id'), "
                "GREATEST((SELECT max(id) FROM upload), 1))"
            )
            found = _counts(connection)
        if found != about["rows"]:
            raise BackupError(f"what came back differs: {found} instead of {about['rows']}")
    except BaseException:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)
        raise
    cluster.stop()
    return Counted(found)
