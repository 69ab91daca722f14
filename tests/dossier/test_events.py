"""What verbs say is heard by whoever the one table names, in the same transaction; nothing that is said is lost."""

from __future__ import annotations

import inspect
from dataclasses import dataclass
from datetime import date
from types import SimpleNamespace

import pytest
from sqlalchemy import select

from longbreath.dossier import coverage, events, subscribers
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.health import Carrier, HealthCard, add_entry
from longbreath.dossier.pull import verbs
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.store.models import DifferenceReason, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories


def kept(db: UnitOfWork, pulled: SimpleNamespace) -> str:
    db.expire_all()
    return db.scalars(select(Verdict.evidence_key).where(Verdict.application_id == pulled.application.id)).one()


def test_everything_that_can_be_said_is_heard() -> None:
    said = {kind for _, kind in inspect.getmembers(events, inspect.isclass) if kind.__module__ == events.__name__}
    assert said == set(subscribers.HEARS)


def test_what_nobody_hears_is_refused(db: UnitOfWork) -> None:
    @dataclass(frozen=True)
    class Whispered:
        """Nobody's."""

    with pytest.raises(KeyError, match="Whispered"):
        say(db, Whispered())


def test_a_verdict_follows_what_a_verb_says_whoever_calls_it(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """Conditions that were asked for, a finding on the engine, a pull that is taken out: no page has to think of it."""
    session, seen = gather(db, pulled.application).session, [kept(db, pulled)]
    put_conditions(db, session, {("B", "operator"): "somebody else"})
    seen.append(kept(db, pulled))
    finding = HealthCard(date(2026, 5, 10), "plugs", (), "one wet", finding=True)
    add_entry(db, Carrier(vehicle=pulled.application.vehicle), finding)
    seen.append(kept(db, pulled))
    verbs.judge_pull(db, pulled.application, session.full_pulls[0], False, "slip heard")
    seen.append(kept(db, pulled))
    assert len(set(seen)) == 4
    assert seen[-1] == gather(db, pulled.application).key


def test_a_test_that_measured_a_line_is_heard_where_the_line_is_taken_off(
    db: UnitOfWork, pulled: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Its session stands in the ledger of a dossier that its card does not serve."""
    heard: list[int] = []
    monkeypatch.setattr(subscribers, "renew_all", lambda work, found: heard.extend(a.id for a in found))
    first, session = pulled.application, gather(db, pulled.application).session
    part = factories.add_part(db, "A second part")
    second = coverage.open_application(db, first.vehicle_id, part.id, first.stock_revision_id)
    line = DifferenceReason(application_id=second.id, line="bonnet", a="shut", b="open", reason="hot", kind="measured")
    line.session_id, line.from_label, line.to_label, line.given_by_id = session.id, "A", "B", db.actor.id
    db.add(line)
    db.flush()
    say(db, PullsChanged(session))
    assert heard == [first.id, second.id]
