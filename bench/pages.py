"""Server time per page with 100 times the demo, as a ratio to a bare query. Run: bench/pages.sh"""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from datetime import date, timedelta

from flask.testing import FlaskClient
from sqlalchemy import func, select, text

from longbreath.app import create_app
from longbreath.cli import serve
from longbreath.dossier.programme import register
from longbreath.store.database import Database
from longbreath.store.models import Application, Owed, User
from longbreath.store.unit_of_work import working
from longbreath.web.first_looks import OF_ONE, look
from tests.made.people import PASSWORD, PEOPLE

STEPS = (*OF_ONE, "measure/path?side=exhaust")


def middle(work: Callable[[], object], times: int = 15) -> float:
    """Median of several runs [s]."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return sorted(took)[times // 2]


def owe_much(database: Database, most: int = 2000) -> None:
    """Owed things up to so many, laid over the applications: four to publish one, and as many beside it as are lacking."""
    with working(database.session, None) as work:
        have = work.scalar(select(func.count(Owed.id))) or 0
        person = work.scalars(select(User).order_by(User.id)).first()
        assert person is not None
        work.act_as(person)
        for number, application_id in enumerate(work.scalars(select(Application.id)).all()):
            before: list[int] = []
            for kind, hours in (
                (("part", 0.0), ("dyno", 5.0), ("weighing", 1.0), ("publishing", 0.0)) if have < most else ()
            ):
                day = date.today() + timedelta(days=number % 90)
                card = register.OwedCard(kind, f"{kind} {number}", application_id, person.id, hours=hours, due_on=day)
                before = [register.save_owed(work, None, card, before).id]
            for k in range(max((most - have) // 100 - 4, 0) if have < most else 0):
                work.add(
                    Owed(
                        kind="measurement",
                        what=f"measure {k}",
                        application_id=application_id,
                        who_id=person.id,
                        hours=0.5,
                    )
                )


def served(database: Database) -> FlaskClient:
    """Somebody logged in to the application as a server holds it: warm, and with its memory settled."""
    app = create_app({"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "bench"}, database)
    serve.warm(app)
    look(app, database)
    serve.settle_memory()
    client = app.test_client()
    client.post("/account/login", data={"email": PEOPLE[0].email, "password": PASSWORD})
    return client


def main() -> None:
    database = Database(os.environ["LONGBREATH_DATABASE_URL"])
    client = served(database)
    owe_much(database)
    with database.session() as db:
        print(f"{db.scalar(select(func.count(Owed.id)).where(Owed.closed_at.is_(None)))} things owed")
        number = db.scalar(select(Application.id).order_by(Application.id.desc()).limit(1))

        def query() -> None:
            db.execute(text("select 1"))

        bare = middle(query, 200)
    print(f"bare query {bare * 1000:.2f} ms")
    paths = [
        "/",
        "/library",
        "/log",
        "/reckoner",
        "/predictions",
        "/timings",
        "/programme",
        "/programme?page=2",
        "/programme/owed",
        "/programme/calendar.ics",
        *(f"/applications/{number}/{step}" for step in STEPS),
    ]
    for path in paths:
        answer = client.get(path)
        assert answer.status_code == 200, (path, answer.status_code)
        took = middle(lambda path=path: client.get(path))  # type: ignore[misc]
        met = "met" if took < 0.15 else "MISSED"
        print(f"{path:36} {took * 1000:7.1f} ms   ratio {took / bare:6.0f}   under 150 ms: {met}")


if __name__ == "__main__":
    main()
