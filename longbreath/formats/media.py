"""What may hang on a record: photos and PDF documents, told by their content and not by their name."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from longbreath.core.basis.errors import InputError

MOST = 12 * 1024 * 1024
"""Largest file [bytes]."""
PHOTOS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
THUMBNAIL = (320, 200)


@dataclass(frozen=True)
class Media:
    """A checked file: media type, size of a photo [pixels], and its thumbnail as JPEG."""

    media_type: str
    width: int | None = None
    height: int | None = None
    thumbnail: bytes | None = None


def check(data: bytes) -> Media:
    """Say what a file is. Raises InputError if it is empty, too large, broken, or neither photo nor PDF."""
    if not data:
        raise InputError("This file is empty.", "file")
    if len(data) > MOST:
        raise InputError(f"This file is larger than {MOST // 1024 // 1024} MB.", "file")
    if data.startswith(b"%PDF-"):
        return Media("application/pdf")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            return _photo(data)
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
    ):
        raise InputError(
            "Photos come as JPEG, PNG or WebP, documents as PDF; this is neither, or it is broken.", "file"
        ) from None


def _photo(data: bytes) -> Media:
    with Image.open(io.BytesIO(data)) as probe:
        if probe.format not in PHOTOS:
            raise UnidentifiedImageError
        media_type = PHOTOS[probe.format]
        probe.verify()
    with Image.open(io.BytesIO(data)) as image:
        upright = ImageOps.exif_transpose(image).convert("RGB")
        width, height = upright.size
        upright.thumbnail(THUMBNAIL)
        out = io.BytesIO()
        upright.save(out, "JPEG", quality=82)
    return Media(media_type, width, height, out.getvalue())
