"""What Pull does to the records."""

from __future__ import annotations

import hashlib
from dataclasses import asdict
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.air.correction import SPARK_IGNITION_ONLY
from longbreath.core.basis.errors import InputError
from longbreath.core.dyno import pulls
from longbreath.dossier.plan import rules_of
from longbreath.dossier.weigh import refresh_verdict
from longbreath.formats import mapping as mapped
from longbreath.formats.table import read_table
from longbreath.store.base import now
from longbreath.store.models import (
    Application,
    Channel,
    DynoSession,
    Prediction,
    Pull,
    PullJudgement,
    RawFile,
    TestCard,
    User,
)


def open_session(db: Session, application: Application, card: TestCard, **values: Any) -> DynoSession:
    """Open a dyno session for a test card. Raises InputError for a standard that does not fit the engine."""
    _check_standard(application, values["standard"])
    session = DynoSession(application_id=application.id, card_id=card.id, **values)
    session.card = card
    db.add(session)
    db.flush()
    return session


def _check_standard(application: Application, standard: str) -> None:
    if application.vehicle.fuel == "diesel" and standard in SPARK_IGNITION_ONLY:
        raise InputError(
            "This factor is for spark ignition; the one for diesel engines is not known here. Choose another standard, "
            "or no correction.", "standard")  # fmt: skip


def change_session(db: Session, application: Application, session: DynoSession, **values: Any) -> None:
    """Change weather or standard; the verdict is made anew. Raises InputError as `open_session`."""
    _check_standard(application, values["standard"])
    for name, value in values.items():
        setattr(session, name, value)
    refresh_verdict(db, application)


def receive(db: Session, session: DynoSession, actor: User, filename: str, data: bytes) -> RawFile:
    """Keep a file as received. Raises InputError if it is no readable table or was received before."""
    digest = hashlib.sha256(data).hexdigest()
    twin = db.scalar(select(RawFile).where(RawFile.session_id == session.id, RawFile.sha256 == digest))
    if twin is not None:
        where = f"as pull {twin.pull.sequence}" if twin.pull is not None else "and waits to be mapped"
        raise InputError(
            f"{filename} is the same file as {twin.filename}, which is already here {where}. "
            "Upload the other pull, or leave it out.", "file")  # fmt: skip
    table = read_table(data, filename)
    received = RawFile(session=session, session_id=session.id, filename=filename, sha256=digest, size=len(data),
                       fingerprint=table.fingerprint, content=data, received_by_id=actor.id)  # fmt: skip
    db.add(received)
    db.flush()
    return received


def record(
    db: Session,
    application: Application,
    file: RawFile,
    mapping: mapped.Mapping,
    place: int,
    label: str,
    actor: User,
) -> Pull:
    """Record a pull from a received file: its channels, the outcome of its checks, and the first judgement.

    The first pull seals the prediction. Raises InputError if the file cannot be read that way, the place is taken,
    or the pull lies wholly outside the band of use.
    """
    session = file.session
    if any(pull.sequence == place for pull in session.pulls):
        raise InputError(f"Place {place} is taken by another pull.", f"f{file.id}-place")
    channels = mapped.apply(read_table(file.content, file.filename), mapping)
    sweep = mapped.to_sweep(channels)
    checks = pulls.judge(sweep, rules_of(session.card, application.vehicle))
    pull = Pull(session=session, session_id=session.id, file=file, file_id=file.id, sequence=place, label=label,
                columns=mapped.to_json(mapping), checks=[asdict(check) for check in checks])  # fmt: skip
    db.add(pull)
    db.flush()
    kinds = {channel.name: channel.kind for channel in mapped.CHANNELS}
    for name, values in channels.items():
        kept = [float(v) if np.isfinite(v) else float("nan") for v in values]
        db.add(Channel(pull=pull, pull_id=pull.id, name=name, kind=kinds[name], values=kept))
    failed = [check for check in checks if check.passed is False]
    reason = " ".join(check.sentence for check in failed) or "All checks passed."
    _judge(db, pull, not failed, reason, actor, automatic=True)
    _seal(db, application)
    return pull


def _seal(db: Session, application: Application) -> None:
    """Seal the predictions that were kept before the test."""
    open_ones = select(Prediction).where(
        Prediction.application_id == application.id, Prediction.sealed_at.is_(None), ~Prediction.after_test
    )
    for prediction in db.scalars(open_ones):
        prediction.sealed_at = now()


def _judge(db: Session, pull: Pull, valid: bool, reason: str, actor: User, automatic: bool = False) -> None:
    judgement = PullJudgement(
        pull=pull, pull_id=pull.id, valid=valid, reason=reason, automatic=automatic, made_by_id=actor.id
    )
    judgement.made_by = actor
    db.add(judgement)
    db.flush()


def judge(db: Session, application: Application, pull: Pull, valid: bool, reason: str, actor: User) -> None:
    """Let a pull count or take it out, with a reason; the earlier judgement stays in the record."""
    _judge(db, pull, valid, reason, actor)
    refresh_verdict(db, application)
