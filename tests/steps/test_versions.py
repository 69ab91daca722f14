"""Two people at one record: whoever acts on what has changed meanwhile is told, and nothing is done."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.store.models import Claim, Pull, Reading
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import read
from tests.made import dyno_day
from tests.steps.tools import base, capture


def stale(client: FlaskClient, address: str, data: dict[str, Any]) -> Any:
    """Send a form that was opened before somebody else changed the record."""
    return client.post(address, data={**data, "version": "7"})


def test_a_reading_is_not_excluded_on_an_old_view(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    capture(tester, shop, "A", "2 mm", "50")
    reading = db.scalars(select(Reading)).one()
    answer = stale(tester, f"{base(shop)}/measure/readings/{reading.id}/exclude", {"reason": "draught"})
    assert answer.status_code == 409
    assert read(answer).text.count("Somebody else saved this page") == 1
    assert not reading.marks


def test_a_pull_is_not_judged_on_an_old_view(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, day_without_sheets: None
) -> None:
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    answer = stale(tester, f"{base(shop)}/pull/pulls/{pull.id}/judge", {"counts": "no", "reason": "wheel slip"})
    assert answer.status_code == 409
    db.expire_all()
    assert len(pull.judgements) == 1


def test_a_claim_is_neither_submitted_nor_approved_on_an_old_view(
    tester: FlaskClient, log_in: Any, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    dyno_day.closed_course(db, pulled.application, "all of them")
    db.commit()
    tester.post(f"{base(pulled)}/claim/draft")
    claim = db.scalars(select(Claim)).one()
    assert stale(tester, f"{base(pulled)}/claim/{claim.id}/submit", {}).status_code == 409
    db.expire_all()
    assert claim.state == "draft"
    tester.post(f"{base(pulled)}/claim/{claim.id}/submit", data={"version": str(claim.version)})
    db.expire_all()
    assert claim.state == "submitted"
    assert stale(log_in("approver"), f"{base(pulled)}/claim/{claim.id}/approve", {}).status_code == 409
    db.expire_all()
    assert claim.state == "submitted"


@pytest.mark.parametrize("name", ["HTTPS", "VAR"])
def test_settings_come_from_the_environment_by_their_prefix(
    database: Any, shop: SimpleNamespace, monkeypatch: pytest.MonkeyPatch, name: str, tmp_path: Any
) -> None:
    from longbreath.app import create_app

    monkeypatch.setenv(f"LONGBREATH_{name}", "1" if name == "HTTPS" else str(tmp_path))
    monkeypatch.setenv("LONGBREATH_SECRET_KEY", "12345")
    app = create_app({"TESTING": True}, database)
    assert app.config["SECRET_KEY"] == "12345"
    assert str(app.config[name]) == ("1" if name == "HTTPS" else str(tmp_path))
