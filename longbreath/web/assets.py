"""Addresses of the built files, with their content's hash so that browsers may keep them."""

from __future__ import annotations

import json
from pathlib import Path

from flask import Flask, url_for

DIST = Path(__file__).parent.parent / "static" / "dist"


def init_assets(app: Flask) -> None:
    """Give templates `asset(name)`."""
    hashes: dict[str, str] = json.loads((DIST / "manifest.json").read_text())["files"]

    @app.template_global()
    def asset(name: str) -> str:
        return url_for("static", filename=f"dist/{name}", v=hashes[name][:12])
