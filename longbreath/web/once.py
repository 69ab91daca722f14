"""A form that is sent several times at once, or anew by a nervous hand, is taken once: the others are led where the first one led."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from flask import Flask, Response, redirect, request
from sqlalchemy import delete, select, update
from sqlalchemy.dialects.postgresql import insert

from longbreath.core.basis.errors import Conflict
from longbreath.store.models import SentForm
from longbreath.web.transaction import after_response, db

FIELD = "once"
KEPT = timedelta(days=1)
"""How long a form that was taken is remembered."""


def new_key() -> str:
    """A key for a form that is being shown."""
    return secrets.token_urlsafe(12)


def taken_before(person: int) -> Any:
    """None if this form of a person is new, and then it is taken; else the answer that leads where the same form led before.

    Whoever sends the same at the same moment waits until the first one is done. A form is the same by its key and its whole content:
    one that was changed and is sent from the same page again is another. Raises Conflict where the first one led nowhere.
    """
    if request.method != "POST" or not request.form.get(FIELD):
        return None
    key, work = _digest(person), db()
    work.forget(SentForm, work.clock() - KEPT)
    adding = insert(SentForm).values(key=key, at=work.clock(), location="").on_conflict_do_nothing()
    if work.scalar(adding.returning(SentForm.id)) is not None:
        after_response(lambda response: _note(key, response))
        return None
    location = work.scalar(select(SentForm.location).where(SentForm.key == key))
    if not location:
        raise Conflict("This was sent before and is taken in. Look at the page anew.")
    return redirect(location)


def _note(key: str, response: Response) -> None:
    """Note where a form led; forget one that led nowhere: nothing was done, or it was refused, and it may be sent again."""
    here = SentForm.key == key
    if response.location:
        db().execute(update(SentForm).where(here).values(location=response.location))
    else:
        db().execute(delete(SentForm).where(here))


def _digest(person: int) -> str:
    """What a form is: who sends it, where to, its fields and files."""
    digest = hashlib.sha256(f"{person}\n{request.full_path}\n".encode())
    for name, value in sorted(request.form.items(multi=True)):
        digest.update(f"{len(name)} {name} {len(value)} {value}\n".encode())
    for name, sent in request.files.items(multi=True):
        digest.update(f"{name} {sent.filename}\n".encode())
        digest.update(hashlib.file_digest(sent.stream, "sha256").digest())  # type: ignore[arg-type]
        sent.seek(0)
    return digest.hexdigest()


def init_once(app: Flask) -> None:
    """Give templates `once_key()`."""
    app.jinja_env.globals["once_key"] = new_key
