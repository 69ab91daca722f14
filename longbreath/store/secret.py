"""The secret of an installation: from the environment, or made at the first start and kept in a folder."""

from __future__ import annotations

import os
import secrets
from contextlib import suppress
from pathlib import Path


def kept_secret(var: str) -> str:
    """The secret kept in a folder, made at the first start. Two processes that start at once keep one."""
    place = Path(var) / "secret-key"
    if not place.exists():
        place.parent.mkdir(parents=True, exist_ok=True)
        made = place.with_name(f"secret-key.{os.getpid()}")
        with open(os.open(made, os.O_CREAT | os.O_WRONLY | os.O_TRUNC, 0o600), "w") as file:
            file.write(secrets.token_urlsafe(48))
        with suppress(FileExistsError):
            os.link(made, place)  # whole or not at all: whoever comes second reads the first one's
        made.unlink()
    return place.read_text()


def installation_secret() -> str:
    """The secret as every process of an installation finds it: LONGBREATH_SECRET_KEY, else kept in LONGBREATH_VAR."""
    return os.environ.get("LONGBREATH_SECRET_KEY") or kept_secret(os.environ.get("LONGBREATH_VAR", "var"))
