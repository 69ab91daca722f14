"""PDF from a page of HTML, set without any network."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

os.environ.setdefault("SOURCE_DATE_EPOCH", "946684800")
"""Fonts that are set into a page carry this moment, not the present one: the same page is the same bytes."""


def to_one_page(render: Callable[[float], str], sizes: Sequence[float], folder: Path) -> bytes:
    """Set HTML in the largest of these sizes of type [pt] in which it is one page; in the smallest where it is more in all of them.

    render: the HTML by its size of type; sizes from large to small.
    """
    for size in sizes:
        made = _document(render(size), folder)
        if len(made.pages) == 1:
            break
    return bytes(made.write_pdf())


def to_pdf(html: str, folder: Path) -> bytes:
    """Set HTML as PDF; fonts and styles come from `folder`. Only files are read, and one that is missing is an error."""
    return bytes(_document(html, folder).write_pdf())


def _document(html: str, folder: Path) -> Any:
    from weasyprint import HTML  # takes a while to load; only printing needs it
    from weasyprint.urls import URLFetcher

    fetcher = URLFetcher(allowed_protocols=("file",), fail_on_errors=True)
    return HTML(string=html, base_url=folder.resolve().as_uri() + "/", url_fetcher=fetcher).render()
