"""Everything that is kept of dossiers, made before anybody asks: by a worker after each change, and by a command."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from sqlalchemy import select

from longbreath.dossier.case.kept import newest_tests
from longbreath.dossier.claim.beside import besides
from longbreath.dossier.claim.changed import changes
from longbreath.dossier.claim.public import sheets
from longbreath.dossier.claim.words import backgrounds
from longbreath.dossier.evidence.verdict import renew_all
from longbreath.dossier.owed import summaries
from longbreath.dossier.reckon.measured import on_the_bench
from longbreath.dossier.reckon.scores import lift_bands
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application
from longbreath.store.unit_of_work import UnitOfWork, working

KEPT: tuple[Remembered[Any], ...] = (
    newest_tests,
    besides,
    changes,
    summaries,
    sheets,
    backgrounds,
    on_the_bench,
    lift_bands,
)
"""What is kept, in the order in which one is made of the other."""
AT_ONCE = 10
"""Dossiers in one transaction: what was made is there for others soon."""


def keep_all(sessions: Callable[[], UnitOfWork]) -> int:
    """Make whatever is not kept of the records as they stand, and weigh anew what a change of the shop moved; returns of how many
    dossiers it looked."""
    with working(sessions) as work:
        ids = list(work.scalars(select(Application.id).order_by(Application.id)))
    for some in _parts(ids):
        if stale := _keep(sessions, some):
            with working(sessions) as work:
                renew_all(work, [work.get_one(Application, number) for number in stale])
            _keep(sessions, stale)
    return len(ids)


def _keep(sessions: Callable[[], UnitOfWork], ids: Sequence[int]) -> list[int]:
    """Make what is kept of some; returns those whose verdict is of evidence that changed: a dyno, a bench or a product belongs to
    too many dossiers to weigh them all while somebody waits for his page."""
    with working(sessions) as work:
        for kept in KEPT:
            kept(work, ids)
        return [number for number, told in summaries(work, ids).items() if told.is_stale("weigh")]


def _parts(ids: Sequence[int]) -> list[Sequence[int]]:
    return [ids[k : k + AT_ONCE] for k in range(0, len(ids), AT_ONCE)]
