"""PDF from a page of HTML, set without any network."""

from __future__ import annotations

from pathlib import Path


def to_pdf(html: str, folder: Path) -> bytes:
    """Set HTML as PDF; fonts and styles come from `folder`. Only files are read, and one that is missing is an error."""
    from weasyprint import HTML  # takes a while to load; only printing needs it
    from weasyprint.urls import URLFetcher

    fetcher = URLFetcher(allowed_protocols=("file",), fail_on_errors=True)
    return bytes(HTML(string=html, base_url=folder.resolve().as_uri() + "/", url_fetcher=fetcher).write_pdf())
