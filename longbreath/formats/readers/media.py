"""Photos: what they are by their content, their size, and a small picture of them."""

from __future__ import annotations

import io
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers import Told
from longbreath.formats.readers.bounds import MOST_PIXELS

PHOTOS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
THUMBNAIL = (320, 200)
NEITHER = "Photos come as JPEG, PNG or WebP, documents as PDF; this is neither, or it is broken."
TURNED = 0x0112, (5, 6, 7, 8)
"""The tag of an image that says how it was held, and the values that lay it on its side."""


def read(data: bytes) -> Told:
    """Media type and size of a photo as it is seen [pixels]; its thumbnail as JPEG. Raises InputError if it is none."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            return _photo(data)
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        if isinstance(error, InputError):
            raise
        raise InputError(NEITHER, "file") from None


def _photo(data: bytes) -> Told:
    with Image.open(io.BytesIO(data), formats=tuple(PHOTOS)) as image:
        kind = image.format or ""
        width, height = image.size
        if width * height > MOST_PIXELS[kind]:
            most = MOST_PIXELS[kind] // 1_000_000
            raise InputError(f"This photo has more than {most} million pixels. Save it smaller, or as JPEG.", "file")
        if image.getexif().get(TURNED[0]) in TURNED[1]:
            width, height = height, width
        image.draft("RGB", (THUMBNAIL[0] * 2, THUMBNAIL[1] * 2))  # a JPEG is read at an eighth of its size
        image.thumbnail((max(THUMBNAIL), max(THUMBNAIL)))
        upright = ImageOps.exif_transpose(image).convert("RGB")
    upright.thumbnail(THUMBNAIL)
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return {"media_type": PHOTOS[kind], "width": width, "height": height}, out.getvalue()
