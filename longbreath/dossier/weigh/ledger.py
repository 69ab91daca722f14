"""Tests that measured one change alone: which there are on a vehicle, and whether two of them add up to a third."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import permutations

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.core.case.weigh import alone
from longbreath.core.weigh import ledger
from longbreath.core.weigh.ledger import Stacked
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.sessions import sessions_seen
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.naming import session_names
from longbreath.dossier.records.sessions import load_pulls
from longbreath.store.models import Application, DynoSession

ENOUGH = 2
"""Valid pulls of a letter from which a change can have been measured alone."""


def choices_of(db: Session, application: Application, alike: bool = True) -> list[tuple[str, str]]:
    """Tests on this vehicle, for a choice: "session/letter/letter" and words. alike: only those whose letters do not differ in the
    product, and so may have measured another change alone."""
    query = (
        select(DynoSession)
        .join(Application, Application.id == DynoSession.application_id)
        .where(Application.vehicle_id == application.vehicle_id)
        .order_by(DynoSession.held_on.desc(), DynoSession.id.desc())
        .limit(40)
    )
    found, sessions = [], list(db.scalars(query))
    load_pulls(db, sessions)
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


def stacked(db: Session, application: Application, chosen: Sequence[str]) -> list[tuple[str, Stacked]]:
    """Two steps and the whole ("session/letter/letter" as `choices_of` names them), band by band. Raises InputError for a test that
    is not there, EvidenceError where one is too short."""
    bands, known = bands_of(application.vehicle), {value for value, _ in choices_of(db, application, False)}
    comparisons = []
    for field, value in zip(("first", "second", "whole"), chosen, strict=True):
        if value not in known:
            raise InputError("There is no such test on this vehicle.", field)
        number, one, other = value.split("/")
        session = sessions_seen(db, application.id, [db.get_one(DynoSession, int(number))], {})[int(number)]
        comparisons.append(alone(session, one, other, bands, channels_in(db)))
    found = []
    for band in bands:
        *steps, whole = (c.band_effect(band.low, band.high) for c in comparisons)
        found.append((band.name, ledger.stack(steps, whole)))
    return found
