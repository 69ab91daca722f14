"""The sheet of a claim on its way to the page: what identifies it, and its picture. It never reads the working records again."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from sqlalchemy.orm import Session

from longbreath.core.case.state import SHAPE, content
from longbreath.dossier.claim.backing import picture_of
from longbreath.dossier.claim.reads import Draft

__all__ = ["SHAPE", "content", "digest", "with_picture"]


def digest(said: dict[str, Any]) -> str:
    """Identifies what a reader had before them."""
    return hashlib.sha256(json.dumps(said, sort_keys=True, default=str).encode()).hexdigest()


def with_picture(db: Session, draft: Draft, said: dict[str, Any]) -> dict[str, Any]:
    """The sheet with its picture, where its kind has one."""
    return {**said, "svg": picture_of(db, draft.backing)}
