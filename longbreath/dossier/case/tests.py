"""Tests on the dyno, and every run of a part, as they were seen: out of an application and its sessions."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import date, datetime

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import array
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.build.sheet import BY_KEY
from longbreath.core.case import seen
from longbreath.core.case.joining import join, visits_of
from longbreath.core.case.looks import Run
from longbreath.core.case.weigh import NO_PAIR, NO_PULLS
from longbreath.dossier.case.sessions import sessions_seen
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.health import doubts_of
from longbreath.dossier.naming import session_names
from longbreath.dossier.records.left import open_files
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.models import Application, AuditEntry, BuildSheet, DifferenceReason, DynoSession
from longbreath.store.once import once

BANDS = ("band_low", "band_middle", "band_top", "band_end")


def part_of(application: Application) -> seen.Part:
    """What is compared with what, by the names that people gave."""
    revision, vehicle = application.revision, application.vehicle
    return seen.Part(
        application.id,
        revision.product.name,
        revision.called,
        revision.title,
        revision.state,
        application.stock_revision.title,
        vehicle.name,
        vehicle.years,
        vehicle.induction,
    )


def test_of(db: Session, application: Application, session_ids: Collection[int]) -> seen.Test:
    """The test of a part in these sessions. Raises EvidenceError where none of them has pulls."""
    asked = (test_of, application.id, frozenset(session_ids))
    return once(db, asked, lambda: _test(db, application, session_ids))


def joined_of(db: Session, application: Application, session_id: int) -> seen.Test:
    """The test that a session belongs to: all sessions of the same two builds at one setting on one vehicle and dyno, but those that
    a cause takes out. Raises EvidenceError where it has no pulls."""
    return once(db, (joined_of, application.id, session_id), lambda: _joined(db, application, session_id))


def _joined(db: Session, application: Application, session_id: int) -> seen.Test:
    known = pulled(db, application)
    if session_id not in known:
        raise EvidenceError(NO_PAIR)
    doubted = {number for doubt in doubts_of(db, application, _rows(db, application)) for number in doubt.session_ids}
    apart = join(known, session_id, doubted)
    return _of(db, application, [number for number, why in apart.items() if not why], apart)


def _rows(db: Session, application: Application) -> list[DynoSession]:
    """The sessions with pulls of the part against stock, newest first."""
    every = dyno_sessions(db, application.id)
    return [s for s in every if s.full_pulls and all(s.card.pair_of(application.id))]


def pulled(db: Session, application: Application) -> dict[int, seen.Session]:
    """Every session with pulls of the part against stock as it was seen, by number, newest first."""
    return once(db, (pulled, application.id), lambda: _seen(db, application, _rows(db, application)))


def _seen(db: Session, application: Application, rows: Sequence[DynoSession]) -> dict[int, seen.Session]:
    names = session_names(dyno_sessions(db, application.id))
    found = sessions_seen(db, application.id, rows, names)
    filled = (row for row in sorted(rows, key=lambda r: r.id, reverse=True) if row.card.is_filled_over_days)
    begun = {row.card_id: row.id for row in filled}
    for row in rows:
        session = found[row.id]
        first = session.first_file
        sheets = standing_sheets(db, application.id, session.held_on, first)
        a, b = (
            sheet_seen(sheets.get(letter), _corrected(db, application.id, sheets.get(letter), first))
            for letter in (session.card.a, session.card.b)
        )
        found[row.id] = replace(session, sheet_a=a, sheet_b=b, plan=begun.get(row.card_id, 0))
    return found


def _test(db: Session, application: Application, session_ids: Collection[int]) -> seen.Test:
    every = dyno_sessions(db, application.id)
    used = [s.id for s in every if s.id in session_ids]
    if not any(session.full_pulls for session in every if session.id in used):
        raise EvidenceError(NO_PULLS)
    apart = {number: "not chosen here" for number in pulled(db, application) if number not in used}
    return _of(db, application, used, apart)


def _of(db: Session, application: Application, used: Sequence[int], apart: Mapping[int, str]) -> seen.Test:
    rows = [s for s in dyno_sessions(db, application.id) if s.id in used]
    known = dict(pulled(db, application))
    known |= _seen(db, application, [row for row in rows if row.id not in known])
    reasons = reasons_of(db, application.id)
    wanted = {r.session_id for r in reasons if r.session_id is not None} - set(used)
    query = select(DynoSession).where(DynoSession.id.in_(wanted)).order_by(DynoSession.id)
    alone = list(db.scalars(query)) if wanted else []
    of_alone = sessions_seen(db, application.id, alone, session_names(dyno_sessions(db, application.id)))
    return seen.Test(
        part_of(application),
        tuple(known[row.id] for row in rows),
        tuple(of_alone[s.id] for s in alone),
        bands_of(application.vehicle),
        _bands_set(db, application.vehicle_id),
        tuple(reason_seen(row) for row in reasons),
        tuple(doubt.words for doubt in doubts_of(db, application, rows)),
        visits_of(pulled(db, application), apart),
        tuple(f"{known[number].name}: {why}" for number, why in apart.items() if why),
        _unrecorded(db, application),
    )


def _unrecorded(db: Session, application: Application) -> tuple[str, ...]:
    """Files of any session of the part against stock whose pulls nobody recorded, with their day."""
    every = [s for s in dyno_sessions(db, application.id, pulls=False) if all(s.card.pair_of(application.id))]
    days = {session.id: session.held_on for session in every}
    return tuple(
        f"{file.filename}, {days[number]:%d %b %Y}"
        for number, files in open_files(db, list(days)).items()
        for file in files
    )


def run_of(db: Session, application: Application) -> Run:
    """Every session in which the part was on."""
    every = dyno_sessions(db, application.id)
    sessions = [s for s in every if part_ran(s, application.id)]
    known = sessions_seen(db, application.id, sessions, session_names(every))
    doubts = tuple(doubt.words for doubt in doubts_of(db, application, sessions))
    return Run(part_of(application), tuple(known[s.id] for s in sessions), doubts)


def part_ran(session: DynoSession, application_id: int) -> bool:
    """Whether the part was on in a session."""
    letter = session.card.pair_of(application_id)[1]
    return any(pull.label == letter for pull in session.full_pulls)


def standing(sheets: Iterable[BuildSheet], day: date, first: datetime | None = None) -> dict[str, BuildSheet]:
    """The build sheets that stand for a day, by letter: of each the newest that describes that day or one before it. first: when the
    first file of the day came; what was written after that stands only where a second person confirmed it, or nothing was written
    before."""
    every: dict[str, list[BuildSheet]] = {}
    for sheet in sorted(sheets, key=lambda s: (s.held_on, s.id)):
        if sheet.label and sheet.held_on <= day:
            every.setdefault(sheet.label, []).append(sheet)
    return {label: next((s for s in reversed(mine) if counts(s, first)), mine[-1]) for label, mine in every.items()}


def counts(sheet: BuildSheet, first: datetime | None) -> bool:
    """Whether a sheet was written before the first file of a day came, or a second person confirmed it."""
    return first is None or sheet.taken_at < first or sheet.confirmed is not None


def _sheets(db: Session, application_id: int) -> Sequence[BuildSheet]:
    query = select(BuildSheet).where(BuildSheet.application_id == application_id, BuildSheet.label != "")
    return once(db, (standing_sheets, application_id), lambda: db.scalars(query).all())


def standing_sheets(
    db: Session, application_id: int, day: date, first: datetime | None = None
) -> dict[str, BuildSheet]:
    """The build sheets of an application that stand for a day, by letter; first: as `standing`."""
    return standing(_sheets(db, application_id), day, first)


def sheet_seen(row: BuildSheet | None, corrected: tuple[str, ...] = ()) -> seen.Sheet | None:
    """A build sheet as it was seen."""
    if row is None:
        return None
    return seen.Sheet(row.held_on, {line: str(words) for line, words in row.values.items()}, corrected)


def _corrected(db: Session, application_id: int, row: BuildSheet | None, first: datetime | None) -> tuple[str, ...]:
    """What of a sheet was corrected after the first file came, line by line with both versions; and what waits to be confirmed."""
    if row is None or first is None:
        return ()
    mine = [
        s for s in _sheets(db, application_id) if s.label == row.label and s.held_on <= row.held_on and s.id != row.id
    ]
    before = max((s for s in mine if s.taken_at < first), key=lambda s: (s.held_on, s.id), default=None)
    found = []
    if row.taken_at >= first and before is not None and row.confirmed is not None:
        lines = [line for line in {*before.values, *row.values} if before.values.get(line) != row.values.get(line)]
        found += [f"{_words(before, row, line)}, {row.confirmed.words}" for line in sorted(lines)]
    if any(s.id > row.id and not counts(s, first) for s in mine):
        found.append(f"a later version of the sheet of {row.label} waits for a second person to confirm it")
    return tuple(found)


def _words(before: BuildSheet, now: BuildSheet, line: str) -> str:
    label = BY_KEY[line].label if line in BY_KEY else line
    was, became = (str(s.values.get(line, "")).strip() or "not recorded" for s in (before, now))
    return f"{label} of {now.label}: “{was}”, corrected after the pulls to “{became}”"


def reasons_of(db: Session, application_id: int) -> Sequence[DifferenceReason]:
    """All reasons that were given, oldest first: of two for the same difference the newer holds."""
    query = select(DifferenceReason).where(DifferenceReason.application_id == application_id)
    return once(db, (reasons_of, application_id), lambda: db.scalars(query.order_by(DifferenceReason.id)).all())


def reason_seen(row: DifferenceReason) -> seen.Reason:
    """A line of the ledger as it was seen."""
    told = (row.line, row.a, row.b, row.reason, row.kind, row.low, row.high)
    return seen.Reason(*told, row.session_id, row.from_label, row.to_label)


def _bands_set(db: Session, vehicle_id: int) -> datetime | None:
    """When the vehicle's bands were last changed; None while they are as they were first written."""
    changed = select(func.max(AuditEntry.at)).where(
        AuditEntry.entity == "vehicle",
        AuditEntry.entity_id == vehicle_id,
        AuditEntry.changes.op("?|")(array(list(BANDS))),
    )
    found: datetime | None = db.scalar(changed)
    return found
