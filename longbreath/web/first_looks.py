"""One look at each of the main pages before a server takes requests, so that nobody's first page is slow.

What a page needs is compiled at its first look: questions to the database, templates, pictures. Made before the processes are
forked, it is there for all of them.
"""

from __future__ import annotations

import logging

from flask import Flask, Request, request
from sqlalchemy.exc import SQLAlchemyError

from longbreath.dossier.people import an_admin
from longbreath.dossier.records.sessions import newest_dossier
from longbreath.store.database import Database

LOOKS_AS = "longbreath.looks_as"
"""Key of the server's own environment: the person a look is made as. No request from outside can set it, only HTTP_ keys."""
EVERYWHERE = ("/", "/library", "/log", "/predictions", "/timings", "/programme", "/claims")
OF_ONE = (
    "measure",
    "measure/curves",
    "measure/stacks",
    "measure/parts",
    "measure/porting",
    "measure/path",
    "measure/faces",
    "measure/fit",
    "measure/timing",
    "measure/builds",
    "reckon",
    "reckon/ask/tuned",
    "reckon/sections",
    "reckon/bores",
    "reckon/candidates",
    "reckon/predictions",
    "plan",
    "plan/variants",
    "plan/card",
    "pull",
    "weigh",
    "weigh/chart.json",
    "claim",
)

_log = logging.getLogger(__name__)


def is_first_look() -> bool:
    """Whether this request is one of these: then nothing that it writes stays but what is kept of dossiers."""
    return LOOKS_AS in request.environ


def who_looks(asked: Request) -> int | None:
    """The id of the person a look is made as, None in every request that came over a line."""
    return asked.environ.get(LOOKS_AS)


def look(app: Flask, database: Database) -> int:
    """Look at each main page once as an admin; returns how many answered: none without a database or an admin.

    Connections are given up at the end: processes that are forked make their own.
    """
    try:
        with database.session() as work:
            person, newest = an_admin(work), newest_dossier(work)
        if person is None:
            return 0
        paths = [*EVERYWHERE, *(f"/applications/{newest}/{step}" for step in OF_ONE if newest is not None)]
        client = app.test_client(use_cookies=False)
        return sum(client.get(path, environ_base={LOOKS_AS: person.id}).status_code == 200 for path in paths)
    except SQLAlchemyError as error:
        _log.warning("no first look: the database is away (%s)", type(error).__name__)
        return 0
    finally:
        database.engine.dispose()
