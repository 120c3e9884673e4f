"""Photographs: checked by what they are, encoded anew, without place or device data."""

from __future__ import annotations

import hashlib
import io
import threading
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.core.files.base import ContentFile
from django.db import transaction
from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from accounts.models import User
from audit import trail
from common.problems import Problem
from loops.models import Loop
from survey.models import Photo

Json = dict[str, Any]
MOST_BYTES = 12_000_000
MOST_PIXELS = 40_000_000
LONGEST_EDGE_PX = 2000
JPEG_QUALITY = 85
MOST_A_LOOP = 60
FORMATS = ("JPEG", "PNG", "WEBP")


# The library that prints papers switches tolerance for pictures cut short on, for the whole process.
_one_at_a_time = threading.Lock()


@contextmanager
def _whole_pictures_only() -> Iterator[None]:
    """Pictures that are cut short are none, whatever another library allows meanwhile."""
    with _one_at_a_time:
        tolerated, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False
        try:
            yield
        finally:
            ImageFile.LOAD_TRUNCATED_IMAGES = tolerated


def encode(content: bytes) -> tuple[bytes, int, int]:
    """The picture as a fresh JPEG with its size [pixels].

    Raises
    ------
    Problem : no picture, or larger than is kept.
    """
    if len(content) > MOST_BYTES:
        raise Problem(413, "photo_too_large", path="file", most=MOST_BYTES // 1_000_000)
    try:
        with Image.open(io.BytesIO(content), formats=FORMATS) as opened, _whole_pictures_only():
            if opened.width * opened.height > MOST_PIXELS:
                raise Problem(413, "photo_too_many_pixels", path="file", most=MOST_PIXELS // 1_000_000)
            picture = ImageOps.exif_transpose(opened).convert("RGB")
    except Image.DecompressionBombError as error:
        raise Problem(413, "photo_too_many_pixels", path="file", most=MOST_PIXELS // 1_000_000) from error
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError) as error:
        raise Problem(422, "not_a_photo", path="file") from error
    picture.thumbnail((LONGEST_EDGE_PX, LONGEST_EDGE_PX))
    # A new picture takes no metadata along: only the pixels are written.
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    written = io.BytesIO()
    bare.save(written, "JPEG", quality=JPEG_QUALITY, optimize=True)
    return written.getvalue(), bare.width, bare.height


def keep_photo(who: User, loop_pk: Any, given: Json, content: bytes) -> Photo:
    """Keep one photograph with the loop; the same identity twice is the same photograph.

    Parameters
    ----------
    given : `id`, `place`, `moment`, `caption`.
    """
    digest = hashlib.sha256(content).hexdigest()
    encoded, width, height = encode(content)
    with transaction.atomic():
        loop = Loop.objects.select_for_update().get(pk=loop_pk)
        known = Photo.everything.filter(pk=given["id"]).first()
        if known is not None:
            if known.loop_id != loop.pk or known.digest != digest:
                raise Problem(409, "entry_differs", path="id")
            return known
        if loop.photos.count() >= MOST_A_LOOP:
            raise Problem(422, "too_many", path="file", most=MOST_A_LOOP)
        photo = Photo(
            pk=given["id"],
            loop=loop,
            place=given["place"],
            moment=given["moment"],
            caption=given["caption"],
            digest=digest,
            width_px=width,
            height_px=height,
            by=who,
        )
        photo.file.save(f"{uuid.uuid4()}.jpg", ContentFile(encoded), save=False)
        photo.save(force_insert=True)
        trail.record(
            who, "photographed", loop, after={"photo": str(photo.pk), "moment": photo.moment, "caption": photo.caption}
        )
    return photo
