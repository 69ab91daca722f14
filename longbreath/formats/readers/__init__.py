"""What reads foreign files. Nothing here is imported by the pages: `formats.apart` runs it in a process of its own.

A reader takes the bytes and what is told of them, and gives plain facts (JSON-ready) and one block of bytes (an array, a picture).
It raises InputError for what it refuses; whatever else it raises, or wastes, is reported by `apart` in words.
"""

from __future__ import annotations

from typing import Any

Told = tuple[dict[str, Any], bytes]
"""What a reader gives: plain facts, and one block of bytes."""
