"""The verdict that is kept of each application, so that coverage need not weigh everything again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.dyno import bands as verdicts
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.evidence.keys import key_of_shape_1, keys_of
from longbreath.store.models import Application, Claim, DynoSession, Verdict
from longbreath.store.unit_of_work import UnitOfWork


def renew(work: UnitOfWork, application: Application) -> None:
    """Make the kept verdict anew from the evidence that counts; none is kept while there is too little."""
    work.flush()
    try:
        keep(work, gather(work, application))
    except EvidenceError:
        kept = work.scalar(select(Verdict).where(Verdict.application_id == application.id))
        if kept is not None:
            work.delete(kept)
            work.flush()


def keep(work: UnitOfWork, found: Evidence) -> None:
    """Keep the verdict of the evidence that counts, if the one that is kept is of another."""
    kept = work.scalar(select(Verdict).where(Verdict.application_id == found.application.id))
    if kept is not None and kept.evidence_key == found.key:
        return
    if kept is None:
        kept = Verdict(application_id=found.application.id)
        work.add(kept)
    kept.evidence_key, kept.session_ids = found.key, found.session_ids
    kept.headline = verdicts.headline(found.weighing)
    kept.bands = [
        {
            "name": b.name,
            "verdict": b.verdict,
            "value": b.effect.value,
            "half_width": b.effect.half_width,
            "margin": b.margin,
            "kind": b.kind,
        }
        for b in found.weighing.bands
    ]
    work.flush()


def renew_all(work: UnitOfWork, applications: Iterable[Application]) -> None:
    """Make the kept verdicts of several applications anew: a vehicle's bands, or its engine, changed."""
    for application in applications:
        renew(work, application)


def stale_claims(db: Session, claims: Sequence[Claim]) -> set[int]:
    """Numbers of the published claims whose own evidence is no longer the one they were published on.

    A session that was added later belongs to another evidence and makes nothing stale.
    """
    published = [(c, c.sheet) for c in claims if c.sheet is not None]
    present = keys_of(db, {c.id: (c.application_id, c.session_ids) for c, sheet in published if sheet.shape > 1})
    early = [c for c, sheet in published if sheet.shape == 1]
    wanted = {number for c in early for number in c.session_ids}
    query = select(DynoSession).where(DynoSession.id.in_(wanted)).options(selectinload(DynoSession.pulls))
    by_id = {session.id: session for session in (db.scalars(query) if wanted else ())}
    for claim in early:
        present[claim.id] = key_of_shape_1([by_id[number] for number in claim.session_ids if number in by_id])
    return {c.id for c, sheet in published if present[c.id] != sheet.evidence_key}
