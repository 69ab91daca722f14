"""Server time per page with 100 times the demo, as a ratio to a bare query. Run: bench/pages.sh"""

from __future__ import annotations

import os
import time
from collections.abc import Callable

from sqlalchemy import select, text

from longbreath.app import create_app
from longbreath.demo.people import PASSWORD, PEOPLE
from longbreath.store.database import Database
from longbreath.store.models import Application

STEPS = (
    "measure",
    "measure/curves",
    "measure/stacks",
    "measure/parts",
    "measure/porting",
    "measure/path",
    "measure/path?side=exhaust",
    "measure/faces",
    "measure/fit",
    "measure/timing",
    "measure/builds",
    "reckon",
    "reckon/ask/tuned",
    "reckon/sections",
    "reckon/bores",
    "reckon/candidates",
    "reckon/predictions",
    "plan",
    "pull",
    "weigh",
    "weigh/chart.json",
    "claim",
)


def middle(work: Callable[[], object], times: int = 15) -> float:
    """Median of several runs [s]."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return sorted(took)[times // 2]


def main() -> None:
    url = os.environ["LONGBREATH_DATABASE_URL"]
    database = Database(url)
    app = create_app({"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "bench", "DATABASE_URL": url}, database)
    client = app.test_client()
    client.post("/account/login", data={"email": PEOPLE[0].email, "password": PASSWORD})
    with database.session() as db:
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
