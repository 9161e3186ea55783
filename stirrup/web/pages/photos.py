"""Photos of places found in the survey: made small on arrival, without what a phone writes in."""

from __future__ import annotations

import io
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from PIL import Image, ImageOps, UnidentifiedImageError

from stirrup.core.errors import CoreError
from stirrup.core.plan.changes import SetValue
from stirrup.store import builds, uploads
from stirrup.web.pages.frame import DbRoute, open_build, viewer

router = APIRouter(route_class=DbRoute)

MOST_PHOTO = 25_000_000
LONGEST_PX = 1600
MOST_PIXELS = 120_000_000  # a small file can unfold into a huge picture


def small_photo(content: bytes, name: str) -> bytes:
    """The photo as JPEG, turned upright, at most LONGEST_PX long, its notes (place, maker) gone.

    Raises CoreError when it is no picture.
    """
    if len(content) > MOST_PHOTO:
        raise CoreError(f"“{name}” is larger than {MOST_PHOTO // 1_000_000} MB", "photo")
    try:
        with Image.open(io.BytesIO(content), formats=["JPEG", "PNG", "WEBP"]) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise CoreError(f"“{name}” has {picture.width} x {picture.height} points", "photo")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise CoreError(
            f"“{name}” cannot be read; accepted: a photo as JPEG, PNG or WebP", "photo"
        ) from None
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue()


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
        name = photo.filename or "photo"
        small = small_photo(photo.file.read(MOST_PHOTO + 1), name)
    except CoreError as error:
        return RedirectResponse(f"{back}?{urlencode({'problem': error.message})}", 303)
    upload = uploads.keep(shop, build_id, "photo", name, "image/jpeg", small)
    change = SetValue(path=("condition", place, "photo"), value=f"photo-{upload}")
    words = f"{found.kind}: photo"
    builds.commit(shop, build_id, opened.stored.number, change, lambda *_: words, None)
    return RedirectResponse(f"{back}#group-{place}", 303)


@router.get("/b/{build_id}/photos/photo-{upload_id}.jpg", name="photo", include_in_schema=False)
def photo_out(build_id: int, upload_id: int) -> Response:
    kept = uploads.fetch(viewer().shop_id, build_id, "photo", upload_id)
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(kept.content, media_type=kept.media, headers=headers)
