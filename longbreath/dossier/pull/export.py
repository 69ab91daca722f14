"""The raw numbers of a session's pulls, with what holds for them, to be written to a file."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.dossier.pull.conditions import lines_of
from longbreath.dossier.records.sessions import correction_of
from longbreath.formats.pulls_out import OutColumn, OutPull, PullsOut
from longbreath.store.models import Application, Channel, DynoSession, Pull


def export_of(db: Session, application: Application, session: DynoSession, wanted: Sequence[Pull]) -> PullsOut:
    """Pulls of a session as they were logged, without any correction; the factor stands among the conditions."""
    card, factor = session.card, correction_of(session)
    about = [
        ("application", application.audit_title),
        ("dyno", f"{card.dyno.name}, at the {card.dyno.measured_at}"),
        ("date", session.held_on.isoformat()),
        ("air", f"{session.temperature - 273.15:.2f} °C, {session.pressure / 100:.2f} hPa, {session.humidity:.0%}"),
        ("correction", f"{factor.label}: × {factor.value:.5f}, not applied here"),
        ("figures", "already corrected by the source" if session.already_corrected else "as logged"),
        *((f"variant {v.letter}", v.called) for v in card.variants),
    ]
    about += [
        (f"{line.label}, {letter}", told.words)
        for line in lines_of(db, session)
        for letter, told in line.by_letter.items()
    ]
    query = select(Channel).where(Channel.reading_id.in_([p.read.id for p in wanted])).order_by(Channel.id)
    by_reading: dict[int, list[OutColumn]] = {}
    for channel in db.scalars(query):
        kind = channel.kind if channel.kind != "as logged" else ""
        by_reading.setdefault(channel.reading_id, []).append(
            OutColumn(channel.name.replace("_", " "), kind, np.array(channel.values, dtype=np.float64))
        )
    pulls = tuple(
        OutPull(
            f"{p.sequence} of {p.label}" + (f", {p.kind}" if p.kind != "sweep" else ""),
            p.is_valid,
            p.judgements[-1].reason,
            tuple(by_reading.get(p.read.id, ())),
        )
        for p in wanted
    )
    return PullsOut(f"Dyno session of {session.held_on:%d %b %Y}", tuple(about), pulls)
