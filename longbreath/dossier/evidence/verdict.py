"""The verdict that is kept of each application, so that coverage need not weigh everything again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case.builds import Builds
from longbreath.core.compare import bands as verdicts
from longbreath.dossier.case.kept import test_of
from longbreath.dossier.case.weighings import digest_in
from longbreath.dossier.events import BuildWritten, VerdictKept, say
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.evidence.reasons import LineCard, give_reasons
from longbreath.store.models import Application, Verdict
from longbreath.store.unit_of_work import UnitOfWork


def renew(work: UnitOfWork, application: Application) -> None:
    """Make the kept verdict anew from the evidence that counts; none is kept while there is too little."""
    work.flush()
    try:
        keep(work, gather(work, application))
    except EvidenceError:
        work.execute(delete(Verdict).where(Verdict.application_id == application.id))
        work.moved.add(application.id)
        say(work, VerdictKept(application))


def keep(work: UnitOfWork, found: Evidence) -> None:
    """Keep the verdict of the evidence that counts, if the one that is kept is of another. Two may do so at once."""
    kept = work.scalar(select(Verdict).where(Verdict.application_id == found.application.id))
    if kept is not None and kept.evidence_key == found.key:
        return
    bands = [
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
    values = {
        "evidence_key": found.key,
        "session_ids": found.session_ids,
        "headline": verdicts.headline(found.weighing),
        "bands": bands,
    }
    new = insert(Verdict).values(application_id=found.application.id, **values)
    work.execute(new.on_conflict_do_update(index_elements=[Verdict.application_id], set_=values))
    work.moved.add(found.application.id)
    if kept is not None:
        work.expire(kept)
    say(work, VerdictKept(found.application, found))


def keep_ledger(work: UnitOfWork, application: Application, found: Builds, given: Mapping[str, str | LineCard]) -> int:
    """Write lines of the ledger and make the kept verdict anew; returns how many lines are new. Raises InputError as
    `give_reasons`."""
    added = give_reasons(work, application, found, given)
    if added:
        say(work, BuildWritten(application))
    return added


def renew_all(work: UnitOfWork, applications: Iterable[Application]) -> None:
    """Make the kept verdicts of several applications anew: a vehicle's bands, or its engine, changed."""
    for application in applications:
        renew(work, application)


def keys_of(db: Session, kept: Iterable[Verdict]) -> dict[int, str]:
    """The key that the evidence of each kept verdict has by now, by application; "" where there is none any more."""
    found = {}
    for verdict in kept:
        application = db.get_one(Application, verdict.application_id)
        try:
            found[application.id] = digest_in(db, test_of(db, application, verdict.session_ids))
        except EvidenceError:
            found[application.id] = ""
    return found


def renew_changed(work: UnitOfWork) -> int:
    """Make every kept verdict anew whose evidence has another key by now, as after a migration; returns how many."""
    kept = list(work.scalars(select(Verdict)))
    present = keys_of(work, kept)
    changed = [v.application_id for v in kept if v.evidence_key != present[v.application_id]]
    renew_all(work, work.scalars(select(Application).where(Application.id.in_(changed))).all())
    return len(changed)
