"""What Pull does to the records: sessions, files as received, pulls with their channels, judgements."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, dataclass
from datetime import date

import numpy as np
from sqlalchemy import select

from longbreath.core.air.correction import SPARK_IGNITION_ONLY
from longbreath.core.basis.errors import InputError
from longbreath.core.dyno import channels, pulls
from longbreath.dossier.commands import put
from longbreath.dossier.evidence.verdict import renew_all
from longbreath.dossier.plan.cards import rules_of
from longbreath.dossier.reckon.predictions import seal_predictions
from longbreath.formats import mapping as formats_mapping
from longbreath.formats.table import read_table
from longbreath.store.models import Application, Channel, DynoSession, Pull, PullJudgement, RawFile, TestCard
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class DynoSessionCard:
    """A visit to the dyno: air [K, Pa, 1], correction standard, and what else belongs to the day."""

    held_on: date
    temperature: float
    pressure: float
    humidity: float
    standard: str
    already_corrected: bool = False
    gear: str = ""
    engine_id: int | None = None
    fuel_id: int | None = None


def open_session(work: UnitOfWork, application: Application, test: TestCard, card: DynoSessionCard) -> DynoSession:
    """Open a dyno session for a test card. Raises InputError for a standard that does not fit the engine."""
    _check_standard(application, card.standard)
    session = DynoSession(application_id=application.id, card_id=test.id)
    put(session, card, gear=card.gear or "")
    session.card = test
    work.add(session)
    work.flush()
    return session


def _check_standard(application: Application, standard: str) -> None:
    if application.vehicle.fuel == "diesel" and standard in SPARK_IGNITION_ONLY:
        raise InputError(
            "This factor is for spark ignition; the one for diesel engines is not known here. "
            "Choose another standard, or no correction.",
            "standard",
        )


def change_session(work: UnitOfWork, application: Application, session: DynoSession, card: DynoSessionCard) -> None:
    """Change weather or standard; the verdict is made anew. Raises InputError as `open_session`."""
    _check_standard(application, card.standard)
    put(session, card, gear=card.gear or "")
    renew_served(work, session)


def receive(work: UnitOfWork, session: DynoSession, filename: str, data: bytes) -> RawFile:
    """Keep a file as received. Raises InputError if it is no readable table or was received before."""
    digest = hashlib.sha256(data).hexdigest()
    table = read_table(data, filename)
    work.alone(session)  # the same file may come from two pages at once
    twin = work.scalar(select(RawFile).where(RawFile.session_id == session.id, RawFile.sha256 == digest))
    if twin is not None:
        where = f"as pull {twin.pull.sequence}" if twin.pull is not None else "and waits to be mapped"
        raise InputError(
            f"{filename} is the same file as {twin.filename}, which is already here {where}. "
            "Upload the other pull, or leave it out.",
            "file",
        )
    received = RawFile(
        session=session,
        session_id=session.id,
        filename=filename,
        sha256=digest,
        size=len(data),
        fingerprint=table.fingerprint,
        content=data,
        received_by_id=work.actor.id,
    )
    work.add(received)
    work.flush()
    return received


@dataclass(frozen=True)
class NewPull:
    """One pull to record from a received file: how its columns are read, its place in the order, its label."""

    file: RawFile
    mapping: formats_mapping.Mapping
    place: int
    label: str


def record(work: UnitOfWork, application: Application, new: NewPull) -> Pull:
    """Record a pull: its channels, the outcome of its checks, and the first judgement. The first pull seals the prediction.

    Raises InputError if the file cannot be read that way or the place is taken.
    """
    file, session = new.file, new.file.session
    work.get(
        TestCard, session.card_id, with_for_update={"read": True, "of": TestCard}
    )  # nobody changes the card while pulls come in
    if any(pull.sequence == new.place for pull in session.pulls):
        raise InputError(f"Place {new.place} is taken by another pull.", f"f{file.id}-place")
    read = formats_mapping.apply(read_table(file.content, file.filename), new.mapping)
    checks = pulls.checks_of(pulls.make_sweep(read), rules_of(session.card, application.vehicle))
    seal_predictions(work, application, session.card)
    pull = Pull(
        session=session,
        session_id=session.id,
        file=file,
        file_id=file.id,
        sequence=new.place,
        label=new.label,
        columns=formats_mapping.to_json(new.mapping),
        checks=[asdict(check) for check in checks],
    )
    work.add(pull)
    work.flush()
    for name, values in read.items():
        kept = [float(v) if np.isfinite(v) else float("nan") for v in values]
        kind = channels.CHANNELS[name].kind
        work.add(Channel(pull=pull, pull_id=pull.id, name=name, kind=kind, values=kept))
    failed = [check for check in checks if check.passed is False]
    reason = " ".join(check.sentence for check in failed) or "All checks passed."
    _judge(work, pull, not failed, reason, automatic=True)
    return pull


def _judge(work: UnitOfWork, pull: Pull, valid: bool, reason: str, automatic: bool = False) -> None:
    judgement = PullJudgement(
        pull=pull, pull_id=pull.id, valid=valid, reason=reason, automatic=automatic, made_by_id=work.actor.id
    )
    judgement.made_by = work.actor
    work.add(judgement)
    work.flush()


def judge_pull(work: UnitOfWork, application: Application, pull: Pull, valid: bool, reason: str) -> None:
    """Let a pull count or take it out, with a reason; the earlier judgement stays in the record."""
    _judge(work, pull, valid, reason)
    renew_served(work, pull.session)


def renew_served(work: UnitOfWork, session: DynoSession) -> None:
    """Make the kept verdict of every application anew that the session's card serves."""
    renew_all(work, [work.get_one(Application, pair.application_id) for pair in session.card.pairs])
