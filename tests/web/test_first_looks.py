"""The first look at the main pages that a server makes before it takes requests."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import func, select

from longbreath.store.database import Database
from longbreath.store.models import AuditEntry, SignInTry, User
from longbreath.store.unit_of_work import UnitOfWork
from longbreath.web import first_looks
from longbreath.web.transaction import db as work_of_request


def test_every_main_page_answers_a_first_look_and_nothing_of_it_stays(
    app: Any, database: Database, db: UnitOfWork, day_done: SimpleNamespace
) -> None:
    before = db.scalar(select(func.count(AuditEntry.id)))
    assert first_looks.look(app, database) == len(first_looks.EVERYWHERE) + len(first_looks.OF_ONE)
    assert db.scalar(select(func.count(AuditEntry.id))) == before


def test_what_a_look_writes_is_undone(
    app: Any, database: Database, db: UnitOfWork, day_done: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    def home(**_: Any) -> str:
        work_of_request().add(SignInTry(address="a look", email="a look"))
        work_of_request().flush()
        return ""

    home.permission = "public"  # type: ignore[attr-defined]
    monkeypatch.setitem(app.view_functions, "coverage.home", home)
    first_looks.look(app, database)
    assert db.scalar(select(func.count(SignInTry.id)).where(SignInTry.address == "a look")) == 0
    app.test_client().get("/")
    assert db.scalar(select(func.count(SignInTry.id)).where(SignInTry.address == "a look")) == 1


def test_without_people_nobody_looks(app: Any, database: Database) -> None:
    assert first_looks.look(app, database) == 0


def test_without_a_database_the_server_starts_all_the_same(app: Any) -> None:
    assert first_looks.look(app, Database("postgresql+psycopg://nobody@127.0.0.1:1/none")) == 0


def test_nobody_becomes_the_looker_by_what_a_request_says(app: Any, shop: SimpleNamespace, db: UnitOfWork) -> None:
    client = app.test_client()
    number = str(db.scalar(select(User.id).order_by(User.id)))
    for name in (first_looks.LOOKS_AS, f"HTTP_{first_looks.LOOKS_AS}", "longbreath-looks-as"):
        answer = client.get(f"/log?{first_looks.LOOKS_AS}={number}", headers={name: number})
        assert answer.status_code == 302
        assert "/account/login" in answer.headers["Location"]
