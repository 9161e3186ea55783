"""Files that belong to a build but not into its plan: photos of places, scan meshes, drawings."""

from __future__ import annotations

from typing import Literal

from stirrup.core.record import dataclass
from stirrup.store.builds import NotThereError
from stirrup.store.models import Build, Upload
from stirrup.store.session import reading, writing

UploadKind = Literal["photo", "scan", "outline", "receipt"]
MOST_OF: dict[str, int] = {"scan": 5, "outline": 12}  # of one build; the oldest goes when another comes


@dataclass(frozen=True)
class Kept:
    """A file as it was stored."""

    id: int
    name: str
    media: str
    content: bytes


@writing()
def keep(shop_id: int, build_id: int, kind: UploadKind, name: str, media: str, content: bytes) -> int:
    """Store a file with a build; its id. Raises NotThereError."""
    if Build.get_or_none((Build.id == build_id) & (Build.shop == shop_id)) is None:
        raise NotThereError(f"there is no build {build_id}")
    row = Upload.create(
        shop=shop_id, build=build_id, kind=kind, name=name[:200], media=media, content=content
    )
    if kind in MOST_OF:
        newest = (
            Upload.select(Upload.id)
            .where((Upload.build == build_id) & (Upload.kind == kind))
            .order_by(Upload.id.desc())
            .limit(MOST_OF[kind])
        )
        Upload.delete().where(
            (Upload.build == build_id) & (Upload.kind == kind) & Upload.id.not_in(newest)
        ).execute()
    return int(row.id)


@reading()
def fetch(shop_id: int, build_id: int, kind: UploadKind, upload_id: int) -> Kept:
    """A stored file. Raises NotThereError."""
    row = Upload.get_or_none(
        (Upload.id == upload_id) & (Upload.build == build_id) & (Upload.shop == shop_id)
        & (Upload.kind == kind)
    )  # fmt: skip
    if row is None:
        raise NotThereError(f"there is no {kind} {upload_id} of this build")
    return Kept(int(row.id), str(row.name), str(row.media), bytes(row.content))


@reading()
def latest(shop_id: int, build_id: int, kind: UploadKind) -> list[tuple[int, str]]:
    """Ids and names, newest first."""
    rows = (
        Upload.select(Upload.id, Upload.name)
        .where((Upload.build == build_id) & (Upload.shop == shop_id) & (Upload.kind == kind))
        .order_by(Upload.id.desc())
    )
    return [(int(r.id), str(r.name)) for r in rows]
