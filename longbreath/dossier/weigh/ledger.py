"""The ledger from the records: what differs beside the part, with what is known of each, as lines of the core."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import permutations

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, InputError, LongBreathError
from longbreath.core.dyno import compare, pulls
from longbreath.core.dyno.bands import Band, Weighing
from longbreath.core.weigh import ledger
from longbreath.core.weigh.ledger import BOUNDED, MEASURED, NONE, UNKNOWN, Line, Net, Stacked
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.naming import session_names
from longbreath.dossier.weigh.pair import known_scatter, runs_of
from longbreath.store.models import Application, DifferenceReason, DynoSession

ENOUGH = 2
"""Valid pulls of a letter from which a change can have been measured alone."""


@dataclass(frozen=True)
class Told:
    """A difference beside the part with what was written of it: line, label, the row that holds (None: nothing)."""

    line: str
    label: str
    row: DifferenceReason | None


def net_of(
    db: Session, weighing: Weighing, told: Sequence[Told], used: Sequence[DynoSession], bands: Sequence[Band]
) -> Net | None:
    """From observed to net; None where nothing differs beside the part."""
    if not told:
        return None
    return ledger.net_of(weighing, [_line(db, weighing.comparison, item, used, bands) for item in told])


def _line(
    db: Session, comparison: compare.Comparison, item: Told, used: Sequence[DynoSession], bands: Sequence[Band]
) -> Line:
    row = item.row
    if row is None or not row.kind or row.kind == UNKNOWN:
        return Line(item.line, item.label, UNKNOWN, row.reason if row is not None else "")
    if row.kind == NONE:
        return Line(item.line, item.label, NONE, row.reason)
    try:
        if row.kind == BOUNDED:
            low, high = ledger.bounded(comparison, row.low or 0.0, row.high or 0.0)
            return Line(item.line, item.label, BOUNDED, row.reason, low=low, high=high)
        return _measured(db, comparison, item, row, used, bands)
    except LongBreathError as error:
        return Line(item.line, item.label, UNKNOWN, f"{row.reason}: {error.message}")


def _measured(
    db: Session,
    comparison: compare.Comparison,
    item: Told,
    row: DifferenceReason,
    used: Sequence[DynoSession],
    bands: Sequence[Band],
) -> Line:
    session = db.get_one(DynoSession, row.session_id)
    _check_like(session, used[0])
    own = alone(db, session, row.from_label, row.to_label, bands)
    if not own.design.drift:
        raise EvidenceError("what was pulled first was not pulled again there: its effect cannot be told from drift")
    value, error, df, effects = ledger.measured(comparison, own, bands)
    shares = session.id in {s.id for s in used}
    return Line(item.line, item.label, MEASURED, row.reason, value, error, df, shares_pulls=shares, of_band=effects)


def _check_like(session: DynoSession, used: DynoSession) -> None:
    """Raise EvidenceError where torque of that test is another torque: at wheel or crank, corrected otherwise."""
    if session.card.dyno.measured_at != used.card.dyno.measured_at:
        raise EvidenceError("that test was measured elsewhere: wheel and crank figures are never mixed")
    if (session.standard, session.already_corrected) != (used.standard, used.already_corrected):
        raise EvidenceError("that test carries another correction, which is never mixed")


def alone(db: Session, session: DynoSession, one: str, other: str, bands: Sequence[Band]) -> compare.Comparison:
    """What another letter did against one, in a session of its own: the change measured alone. Raises EvidenceError where it is
    too short."""
    grid = pulls.speed_grid(bands[0].low, bands[-1].high)
    runs = runs_of(db, [session], grid, {session.id: {one: "A", other: "B"}})
    return compare.compare_pulls(runs, grid, scatter=known_scatter(db, [session]))


def choices_of(db: Session, application: Application, alike: bool = True) -> list[tuple[str, str]]:
    """Tests on this vehicle, for a choice: "session/letter/letter" and words. alike: only those whose letters do not differ in the
    product, and so may have measured another change alone."""
    query = (
        select(DynoSession)
        .join(Application, Application.id == DynoSession.application_id)
        .where(Application.vehicle_id == application.vehicle_id)
        .options(selectinload(DynoSession.pulls))
        .order_by(DynoSession.held_on.desc(), DynoSession.id.desc())
        .limit(40)
    )
    found, sessions = [], list(db.scalars(query))
    names = session_names(sessions)
    for session in sessions:
        letters = [pull.label for pull in session.full_pulls if pull.is_valid]
        usable = [letter for letter in dict.fromkeys(letters) if letters.count(letter) >= ENOUGH]
        parts = {row.letter: {part.revision_id for part in row.variant.parts} for row in session.card.variants}
        for one, other in permutations(usable[:8], 2):
            if alike and (application.revision_id in parts[one]) != (application.revision_id in parts[other]):
                continue
            called = f"{session.card.called(one)} → {session.card.called(other)}"
            found.append((f"{session.id}/{one}/{other}", f"{names[session.id]}, {one} → {other}: {called}"))
    return found


def knowledge(line: Line, comparison: compare.Comparison) -> str:
    """What is known of a line, in words, for a sheet."""
    if line.kind == MEASURED:
        parts = [f"{name} {units.show(e.value, 'torque', 'us', e.half_width / 10, True)}" for name, e in line.of_band]
        return f"measured alone ({', '.join(parts)}) and taken off"
    if line.kind == BOUNDED and line.low is not None and line.high is not None:
        share = [100.0 * float((edge / comparison.a).mean()) for edge in (line.low, line.high)]
        return f"bounded, {share[0]:+.1f} to {share[1]:+.1f} % of A, counted in the interval".replace("-", "−")
    return "held, with evidence" if line.kind == NONE else "its effect is not known"


def stacked(db: Session, application: Application, chosen: Sequence[str]) -> list[tuple[str, Stacked]]:
    """Two steps and the whole ("session/letter/letter" as `choices_of` names them), band by band. Raises InputError for a test that
    is not there, EvidenceError where one is too short."""
    bands, known = bands_of(application.vehicle), {value for value, _ in choices_of(db, application, False)}
    comparisons = []
    for field, value in zip(("first", "second", "whole"), chosen, strict=True):
        if value not in known:
            raise InputError("There is no such test on this vehicle.", field)
        number, one, other = value.split("/")
        comparisons.append(alone(db, db.get_one(DynoSession, int(number)), one, other, bands))
    found = []
    for band in bands:
        *steps, whole = (c.band_effect(band.low, band.high) for c in comparisons)
        found.append((band.name, ledger.stack(steps, whole)))
    return found
