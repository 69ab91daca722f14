"""Airflow: what the two traces of a bench session hold."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim import stating
from longbreath.dossier.bench.traces import main_pair, pair_of, plate_state, sessions_of
from longbreath.dossier.claim.backing.backing import Backing, Choice, Grounded, Sources, Told
from longbreath.store.models import Application, BenchSession, Trace


def choices(db: Session, application: Application) -> list[Choice]:
    """Bench sessions with a trace of A and one of B, newest first."""
    found = []
    for session in sessions_of(db, application.id):
        a, b = main_pair(session)
        if a is not None and b is not None:
            words = f"bench session of {session.held_on:%d %b %Y}, {a.title} and {b.title}"
            found.append(Choice(words, sources={"bench": session.id}))
    return found


def flow(db: Session, application: Application, session_ids: Sequence[int], sources: Sources) -> Backing:
    """What two traces hold. Raises EvidenceError where they are not both there."""
    session = next((s for s in sessions_of(db, application.id) if s.id == sources.get("bench")), None)
    if session is None:
        raise EvidenceError("There is no such bench session.")
    a, b = main_pair(session)
    if a is None or b is None:
        raise EvidenceError("This bench session holds no trace of A and one of B.")
    pair = pair_of(a, b)
    stated = stating.of_flow(pair, application.revision.title, application.stock_revision.title)
    told = Told(
        "",
        stated.figures,
        conditions=tuple(_conditions(session, a, b)),
        records=(
            ("the fixture", pair.fixture),
            ("the bench’s name", session.bench.name),
            ("the trace of A", a.title),
            ("the trace of B", b.title),
        ),
    )
    return Backing(
        "airflow",
        application,
        (),
        dict(sources),
        f"bench {session.id}",
        session.held_on,
        stated.facts,
        stated.setting,
        told,
        Grounded(bench=pair),
    )


def _conditions(session: BenchSession, a: Trace, b: Trace) -> list[tuple[str, str]]:
    plate = plate_state(session.bench, session.held_on)
    check = f"checked with a plate on {plate.newest.held_on:%d %b %Y}" if plate.newest is not None else "never checked"
    hands = sorted({r.taken_by.name for t in (a, b) for r in t.readings if r.counts})
    out = [f"{t.label} at {r.lift * 1000:.2f} mm: {r.marks[-1].reason}" for t in (a, b) for r in t.readings if r.marks]
    return [
        ("Measured on", f"{session.bench.name}, {check}"),
        ("Date", f"{session.held_on.day} {session.held_on:%B %Y}"),
        ("Fixture", b.fixture.words),
        (
            "Test pressure",
            f"{units.show(session.test_pressure, 'column', 'us')} ({units.show(session.test_pressure, 'column', 'metric')})",
        ),
        ("A", a.title),
        ("B", b.title),
        ("Readings", f"{sum(r.counts for r in a.readings)} of A, {sum(r.counts for r in b.readings)} of B"),
        ("Left out", "; ".join(out) or "no reading"),
        ("Read by", ", ".join(hands)),
        ("Leak", "measured and taken off" if session.leak_pressure is not None else "not recorded"),
    ]
