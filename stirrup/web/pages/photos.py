"""Photos of places found in the survey: made small on arrival, without what a phone writes in."""

from __future__ import annotations

import io
import threading
from typing import Annotated

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue
from stirrup.core.plan.cutting import SheetRest
from stirrup.store import builds, uploads
from stirrup.store.session import writing
from stirrup.web.gate import GateRoute
from stirrup.web.pages.frame import open_build, viewer
from stirrup.web.security import say_next

router = APIRouter(route_class=GateRoute)

MOST_PHOTO = 25_000_000
LONGEST_PX = 1600
MOST_SIDE_PX = 16_000
# a small file can unfold into a huge picture. Only plain JPEG can be read at a fraction of its
# size; all others unfold whole, at three or four bytes a point
MOST_POINTS = 30_000_000
MOST_POINTS_REDUCED = 130_000_000
ONE_AT_A_TIME = threading.Lock()
Image.MAX_IMAGE_PIXELS = None  # the bounds above take its place


def _check_size(picture: Image.Image, name: str) -> None:
    """Refuse by what the header says, before anything is unfolded. Raises CoreError."""
    reduced = picture.format == "JPEG" and not picture.info.get("progressive")
    most = MOST_POINTS_REDUCED if reduced else MOST_POINTS
    if max(picture.size) > MOST_SIDE_PX or picture.width * picture.height > most:
        raise CoreError(
            f"“{name}” has {picture.width} x {picture.height} points; accepted here: up to "
            f"{MOST_SIDE_PX} on a side and {most // 1_000_000} million in all",
            "photo",
        )


def small_photo(content: bytes, name: str) -> bytes:
    """The photo as JPEG, turned upright, at most LONGEST_PX long, its notes (place, maker) gone.

    One is unfolded at a time, others wait. Raises CoreError when it is no picture, or too large.
    """
    if len(content) > MOST_PHOTO:
        raise CoreError(f"“{name}” is larger than {MOST_PHOTO // 1_000_000} MB", "photo")
    try:
        with ONE_AT_A_TIME, Image.open(io.BytesIO(content), formats=["JPEG", "PNG", "WEBP"]) as picture:
            _check_size(picture, name)
            picture.draft("RGB", (LONGEST_PX, LONGEST_PX))
            # small first: turning a copy of the whole would double what it takes
            plain = picture if picture.mode in ("RGB", "RGBA", "L") else picture.convert("RGB")
            plain.thumbnail((LONGEST_PX, LONGEST_PX))
            # a picture's own copy loses its notes, among them which way is up
            upright = _upright(picture, plain).convert("RGB")
    except CoreError:
        raise
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise CoreError(
            f"“{name}” cannot be read; accepted: a photo as JPEG, PNG or WebP", "photo"
        ) from None
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue()


def _upright(noted: Image.Image, small: Image.Image) -> Image.Image:
    """The small picture turned as the notes of the large one say."""
    way = noted.getexif().get(ExifTags.Base.Orientation, 1)
    small.getexif()[ExifTags.Base.Orientation] = way
    return ImageOps.exif_transpose(small)


def _made_small(photo: UploadFile) -> tuple[str, bytes]:
    """A photo's name, and itself as it is kept. Raises CoreError."""
    name = photo.filename or "photo"
    return name, small_photo(photo.file.read(MOST_PHOTO + 1), name)


@router.post("/b/{build_id}/survey/photo", name="photo_in", include_in_schema=False)
def photo_in(
    request: Request, build_id: int, place: Annotated[str, Form(max_length=60)], photo: UploadFile
) -> Response:
    """A photo of a place, as one change."""
    opened = open_build(build_id)
    back = request.url_for("condition", build_id=build_id).path
    shop = opened.who.shop_id
    found = next((p for p in opened.plan.condition if p.id == place), None)
    try:
        if found is None:
            raise CoreError(f"there is no place “{place}”; it was removed meanwhile", "place")
        name, small = _made_small(photo)
    except CoreError as error:
        say_next(request, f"condition {build_id}", error.message)
        return RedirectResponse(back, 303)
    words = f"{found.kind}: photo"
    with writing():
        upload = uploads.keep(shop, build_id, "photo", name, "image/jpeg", small)
        change = SetValue(path=("condition", place, "photo"), value=f"photo-{upload}")
        builds.commit(shop, build_id, opened.stored.number, change, lambda *_: words, None)
    return RedirectResponse(f"{back}#group-{place}", 303)


@router.post("/b/{build_id}/cuts/photo", name="rest_photo", include_in_schema=False)
def rest_photo(
    request: Request, build_id: int, rest: Annotated[str, Form(max_length=60)], photo: UploadFile
) -> Response:
    """A photo of a leftover on the rack, as one change."""
    opened = open_build(build_id)
    shop, back = opened.who.shop_id, f"{request.url_for('cuts', build_id=build_id).path}#rack"
    found = next((r for r in opened.plan.cutting.rests if r.id == rest), None)
    try:
        if found is None:
            raise CoreError(f"there is no leftover “{rest}” on the rack any more", "rest")
        name, small = _made_small(photo)
    except CoreError as error:
        say_next(request, f"cuts {build_id}", error.message)
        return RedirectResponse(back, 303)
    group = "sheets" if isinstance(found, SheetRest) else "sticks"
    with writing():
        upload = uploads.keep(shop, build_id, "photo", name, "image/jpeg", small)
        change = SetValue(path=("cutting", group, rest, "photo"), value=f"photo-{upload}")
        builds.commit(shop, build_id, opened.stored.number, change, lambda *_: "photo of a leftover", None)
    return RedirectResponse(back, 303)


@router.get("/b/{build_id}/photos/photo-{upload_id}.jpg", name="photo", include_in_schema=False)
def photo_out(build_id: int, upload_id: int) -> Response:
    kept = uploads.fetch(viewer().shop_id, build_id, "photo", upload_id)
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(kept.content, media_type=kept.media, headers=headers)
