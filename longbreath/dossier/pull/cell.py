"""The dyno day live: opening a run for the gateway, what is next, and what the one key does."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, EvidenceError
from longbreath.core.plan.cell_day import ARM, ARMED, FIT, WAIT, Doing, Now, Taken, next_step, waits_of
from longbreath.core.plan.conditions import WINDOW
from longbreath.devices.kinds import DYNO, LOGGER, WEATHER
from longbreath.dossier.plan.filling import valid_pulls
from longbreath.dossier.pull import naming
from longbreath.dossier.pull.live import run_of
from longbreath.dossier.records.sessions import stop_of, verdict_of
from longbreath.store.models import CellRun, DynoSession
from longbreath.store.models.cell import JUDGING
from longbreath.store.unit_of_work import UnitOfWork

ROLES = (DYNO, LOGGER, WEATHER)


def addresses_of(session: DynoSession) -> dict[str, str]:
    """Where the instruments of a session's dyno answer, by role."""
    dyno = session.card.dyno
    found = {DYNO: dyno.device_url, LOGGER: dyno.logger_url, WEATHER: dyno.weather_url}
    return {role: url for role, url in found.items() if url}


def open_run_of(db: Session, session: DynoSession) -> CellRun | None:
    """The run by which a session is pulled live just now."""
    query = select(CellRun).where(CellRun.session_id == session.id, CellRun.closed_at.is_(None))
    return db.scalar(query)


def open_run(work: UnitOfWork, session: DynoSession) -> CellRun:
    """Begin to pull a session live. Raises EvidenceError for a dyno without an address, Conflict where it is pulled live elsewhere."""
    if DYNO not in addresses_of(session):
        raise EvidenceError(
            "This dyno has no address: list it under Library, Instruments, and choose it on the dyno’s card."
        )
    here = open_run_of(work, session)
    if here is not None:
        return here
    run = CellRun(session_id=session.id, dyno_id=session.card.dyno_id, opened_by_id=work.actor.id)
    run.session, run.opened_by, run.recorded_to = session, work.actor, work.clock().timestamp()
    try:
        with work.savepoint():
            work.add(run)
    except IntegrityError:
        words = "Another session is pulled live on this dyno. End it there first."
        raise Conflict(words) from None
    return run


def end_run(work: UnitOfWork, run: CellRun) -> None:
    """Pull it live no longer; the instruments are let go."""
    run = run_of(work, run.id)
    if run.closed_at is None:
        run.closed_at = work.clock()
        if run.phase != JUDGING:  # a pull that was finished is still recorded
            run.armed_place, run.armed_label = None, ""
        run.turn += 1
        work.flush()


@dataclass(frozen=True)
class Heard:
    """What the lines say now: temperatures [K] by name of the card's window, and what is wrong with the dyno's line, in words."""

    temperatures: Mapping[str, float]
    line: str = ""


def sets_left(db: Session, session: DynoSession) -> list[tuple[str, int]]:
    """The sets of a session's card; of a factorial or a series without what its other sessions filled already, for those count
    together: a set that is filled stays with none wanted."""
    card = session.card
    sets = [(str(letter), int(count)) for letter, count in card.sets]
    if not card.is_filled_over_days:
        return sets
    own = Counter(p.label for p in session.full_pulls if p.is_valid)
    elsewhere = valid_pulls(db, card) - own
    found = []
    for letter, count in sets:
        there = min(count, elsewhere[letter])
        elsewhere[letter] -= there
        if count > there:
            found.append((letter, count - there))
    return found


def missing(db: Session, session: DynoSession) -> dict[str, tuple[int, int]]:
    """By letter how many pulls are missing, and of how many that are wanted of this session."""
    wanted: Counter[str] = Counter()
    for letter, count in sets_left(db, session):
        wanted[letter] += count
    own = Counter(p.label for p in session.full_pulls if p.is_valid)
    return {letter: (count - own[letter], count) for letter, count in wanted.items() if count > own[letter]}


def doing(db: Session, run: CellRun, heard: Heard) -> Doing:
    """What is next."""
    session, card = run.session, run.session.card
    taken = [Taken(p.label, p.is_valid) for p in session.full_pulls]
    stopped = stop_of(session)
    first = verdict_of(stopped).first if stopped is not None else None
    window = {key: (float(pair[0]), float(pair[1])) for key, pair in card.window.items()}
    now = Now(
        run.fitted,
        run.armed_place,
        run.phase,
        waits_of(window, heard.temperatures, WINDOW),
        heard.line,
        first.sentence if first is not None else "",
    )
    called = {v.letter: v.called for v in card.variants}
    return next_step(sets_left(db, session), taken, next(naming.free_places(session)), called, now)


def press(work: UnitOfWork, run: CellRun, mark: str, heard: Heard, anyway: bool = False) -> Doing:
    """What the one key does: says that a variant is on, arms the next pull, disarms it. Returns what was done.

    mark: what was next on the screen on which it was pressed. anyway: arm although the window is not met. Raises Conflict where
    something else is next by now, EvidenceError where the key does nothing.
    """
    run = run_of(work, run.id)
    if run.closed_at is not None:
        raise Conflict("This session is not pulled live any more.")
    step = doing(work, run, heard)
    if step.mark != mark:
        raise Conflict("The cell moved on meanwhile: read what is next, then press again.")
    if step.key == FIT:
        run.fitted = step.label
    elif step.key == ARM or (step.key == WAIT and anyway):
        run.armed_place, run.armed_label, run.armed_by_id = step.place, step.label, work.actor.id
        run.armed_at = float(work.execute(select(func.extract("epoch", func.clock_timestamp()))).scalar_one())
    elif step.key == ARMED:
        run.armed_place, run.armed_label = None, ""
    else:
        raise EvidenceError(step.words)
    run.words = ""
    run.turn += 1
    work.flush()
    return step


def fit(work: UnitOfWork, run: CellRun, letter: str) -> None:
    """Say which variant is on, out of the order of the card. Raises EvidenceError for a letter it does not name."""
    run = run_of(work, run.id)
    if letter not in run.session.card.letters:
        raise EvidenceError("The card does not name this letter.")
    run.fitted, run.armed_place, run.armed_label = letter, None, ""
    run.turn += 1
    work.flush()
