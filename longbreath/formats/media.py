"""What may hang on a record: photos, PDF documents and videos, told by their content and not by their name."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.formats import apart

MOST = 12 * 1024 * 1024
"""Largest photo or document [bytes]."""
MOST_VIDEO = 512 * 1024 * 1024
"""Largest video [bytes]; it is kept and served by stretches, and never opened here."""
HEAD = 64
"""Bytes by which a video is told."""


@dataclass(frozen=True)
class Media:
    """A checked file: media type, size of a photo [pixels], and its thumbnail as JPEG."""

    media_type: str
    width: int | None = None
    height: int | None = None
    thumbnail: bytes | None = None


def video_type(head: bytes) -> str:
    """The media type of a video by its first bytes; empty where it is none."""
    if head[4:8] == b"ftyp":
        return "video/quicktime" if head[8:12] == b"qt  " else "video/mp4"
    return "video/webm" if head[:4] == b"\x1aE\xdf\xa3" else ""


def check(data: bytes) -> Media:
    """Say what a file is; a PDF is kept and never opened. Raises InputError if it is empty, too large, broken, or neither."""
    if not data:
        raise InputError("This file is empty.", "file")
    if len(data) > MOST:
        raise InputError(f"This file is larger than {MOST // 1024 // 1024} MB.", "file")
    if data.startswith(b"%PDF-"):
        return Media("application/pdf")
    facts, thumbnail = apart.opened("media", data)
    return Media(facts["media_type"], facts["width"], facts["height"], thumbnail)
