"""The second look: whoever took no part in a session says whether a pull counts, without knowing letter, place and result."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import CompoundSelect, select, union
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, InputError, NotAllowed
from longbreath.core.pull.channels import (
    AMBIENT,
    BATTERY,
    COOLANT,
    FUEL_PRESSURE,
    OIL,
    OIL_PRESSURE,
    THROTTLE,
    label_of,
)
from longbreath.dossier.case.sessions import pull_seen
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.records.sessions import channels_of, dyno_sessions
from longbreath.store.models import (
    Application,
    AuditEntry,
    Channel,
    DynoSession,
    Pull,
    PullJudgement,
    PullReading,
    RawFile,
    SecondLook,
)
from longbreath.store.unit_of_work import UnitOfWork

OPEN = (COOLANT, OIL, OIL_PRESSURE, FUEL_PRESSURE, BATTERY, THROTTLE, AMBIENT)
"""Channels that no intake or exhaust part moves much: they are shown, no other is. Common practice, no source."""
TELLING = ("gaps", "coverage", "clocks", "battery", "start", "gear", "ratio")
"""Checks whose outcome says nothing of how much torque there was."""


@dataclass(frozen=True)
class Beside:
    """One channel of a pull beside the others of its session: label and kind of quantity, at the start and the end, and the middle of
    theirs [SI]."""

    label: str
    kind: str
    start: float
    end: float
    others_start: float | None
    others_end: float | None


@dataclass(frozen=True)
class Blind:
    """A pull as a second person sees it: by the judgement that waits, of which day and vehicle nothing is said."""

    judgement_id: int
    channels: tuple[Beside, ...]
    checks: tuple[tuple[str, bool | None], ...]
    left: int


def contested(db: Session, application: Application) -> list[Pull]:
    """The pulls of an application that count, or do not, on one person's word, and at which nobody looked a second time."""
    every = [pull for session in dyno_sessions(db, application.id) for pull in session.full_pulls]
    return [p for p in every if p.judgements and p.judgements[-1].second is None and pull_seen(p).is_contested]


def took_part(db: Session, session: DynoSession) -> set[int]:
    """The people who opened a session, brought its files, recorded or judged its pulls."""
    pulls = select(Pull.id).where(Pull.session_id == session.id)
    opened = AuditEntry.entity == DynoSession.__tablename__, AuditEntry.entity_id == session.id
    query: CompoundSelect[Any] = union(
        select(RawFile.received_by_id).where(RawFile.session_id == session.id),
        select(PullReading.made_by_id).where(PullReading.pull_id.in_(pulls)),
        select(PullJudgement.made_by_id).where(PullJudgement.pull_id.in_(pulls)),
        select(AuditEntry.user_id).where(*opened, AuditEntry.user_id.is_not(None)),
    )
    return set(db.scalars(query))


def next_for(db: UnitOfWork, application: Application) -> Blind | None:
    """The pull that this person may look at next, drawn without order; None where there is none."""
    wanted = [p for p in contested(db, application) if db.actor.id not in took_part(db, p.session)]
    if not wanted:
        return None
    pull = min(wanted, key=lambda p: (p.read.file.sha256, p.id))
    return _blind(db, pull, len(wanted))


def _blind(db: Session, pull: Pull, left: int) -> Blind:
    others = [p for p in pull.session.full_pulls if p.id != pull.id]
    logged = channels_of(db, [pull, *others], OPEN)
    kinds = dict(db.execute(select(Channel.name, Channel.kind).where(Channel.reading_id == pull.read.id)).all())
    mine = logged.get(pull.id, {})
    found = []
    for name in (n for n in OPEN if n in mine):
        start, end = _ends(mine[name])
        theirs = [_ends(logged[p.id][name]) for p in others if name in logged.get(p.id, {})]
        middle = [float(np.median(side)) for side in zip(*theirs, strict=True)] if theirs else [None, None]
        found.append(Beside(label_of(name), kinds[name], start, end, middle[0], middle[1]))
    checks = tuple((c["name"], c["passed"]) for c in pull.checks if c["key"] in TELLING)
    return Blind(pull.judgements[-1].id, tuple(found), checks, left)


def _ends(values: np.ndarray) -> tuple[float, float]:
    known = values[np.isfinite(values)]
    return (float(known[0]), float(known[-1])) if known.size else (float("nan"), float("nan"))


def look(work: UnitOfWork, application: Application, judgement_id: int, valid: bool, reason: str) -> SecondLook:
    """Say whether a pull should count, not knowing what one person said before.

    Raises InputError without a reason, NotAllowed for whoever took part in its session, Conflict where somebody looked already or the
    pull was judged again.
    """
    if not reason.strip():
        raise InputError("Say why; it stays in the record.", "reason")
    judgement = work.get(PullJudgement, judgement_id)
    if judgement is None or judgement.pull.application_id not in _served(judgement, application):
        raise InputError("There is no such pull.", "counts")
    if work.actor.id in took_part(work, judgement.pull.session):
        raise NotAllowed("You took part in this session: somebody else looks a second time.")
    work.lock_row(application)
    if judgement.id != judgement.pull.judgements[-1].id or judgement.second is not None:
        raise Conflict("Somebody looked at this pull meanwhile, or judged it again.")
    row = SecondLook(judgement_id=judgement.id, valid=valid, reason=reason.strip(), made_by_id=work.actor.id)
    row.judgement, row.made_by = judgement, work.actor
    work.add(row)
    work.flush()
    say(work, PullsChanged(judgement.pull.session))
    return row


def _served(judgement: PullJudgement, application: Application) -> Sequence[int]:
    """The dossiers in which a pull stands: the one of its session, and this one where its card serves it."""
    session = judgement.pull.session
    served = {pair.application_id for pair in session.card.pairs}
    return [session.application_id] if application.id in {*served, session.application_id} else []
