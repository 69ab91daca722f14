"""Speed of logs, each as a ratio to something public in the same run. Run: bench/logs.sh"""

from __future__ import annotations

import io
import os
from datetime import date

import numpy as np
import pyarrow as pa
from pages import middle, served
from pyarrow import csv
from sqlalchemy import func, select, text

from longbreath.core.air.correction import UNCORRECTED
from longbreath.core.pull.ramps import find_stretches
from longbreath.demo.cell import take
from longbreath.devices.made_engine import Engine, day_log, pull
from longbreath.dossier import blobs, subscribers
from longbreath.dossier.pull import verbs
from longbreath.formats import apart, log
from longbreath.store.database import Database
from longbreath.store.models import Application, CardPair, DynoSession, Pull, TestCard, User
from longbreath.store.unit_of_work import working
from tests.made import standin
from tests.made.habits import FULL, as_text

ENGINE = Engine(standin.heron_torque)
TWELVE = FULL[:13]
"""Time and twelve channels."""


def fifty_megabytes() -> bytes:
    """A log of 50 MB: sixteen columns, an engine that runs for hours."""
    rows = 400_000
    time_ = np.arange(rows) * 0.01
    rng = np.random.default_rng(1)
    columns = [time_, 3000 + 2000 * np.sin(time_ / 30), *(rng.normal(100, 5, rows) for _ in range(14))]
    out = io.BytesIO()
    names = ["time (s)", "rpm", *(f"channel {n}" for n in range(14))]
    csv.write_csv(pa.table([pa.array(np.round(c, 3)) for c in columns], names=names), out)
    return out.getvalue()


def imports(database: Database) -> None:
    """Opening, finding the tables and thinning 50 MB, and keeping it, beside Arrow's bare read."""
    data = fifty_megabytes()
    apart.warm()
    bare = middle(lambda: csv.read_csv(pa.BufferReader(data)), 5)
    ours = middle(lambda: log.read_log(data, "big.csv"), 5)

    def keep() -> None:
        with database.session() as db:
            blobs.keep(db, data, log.MOST_BYTES)
            db.rollback()

    kept = middle(keep, 3)
    print(f"{len(data) / 1e6:.0f} MB: Arrow's bare read {bare:.2f} s, ours {ours:.2f} s, ratio {ours / bare:.1f}")
    met = "met" if ours < 2 * bare else "MISSED"
    print(f"wanted: half its speed or better; {met}; hashing, packing and keeping it {kept:.2f} s more")


def a_session(database: Database) -> tuple[Application, int]:
    """A session with sixty pulls of twelve channels under a card of the seeded shop."""
    with working(database.session) as work:
        pulls = (
            select(func.count())
            .select_from(Pull)
            .join(DynoSession)
            .join(CardPair, CardPair.card_id == DynoSession.card_id)
        )
        pulls = pulls.where(
            CardPair.application_id == Application.id
        ).scalar_subquery()  # none that a run before filled
        application = work.scalars(select(Application).order_by(pulls, Application.id.desc())).first()
        card = work.scalars(select(TestCard).where(TestCard.application_id == application.id)).first()
        assert application is not None
        assert card is not None
        person = work.scalars(select(User).order_by(User.id)).first()
        work.act_as(person, application.id)
        visit = verbs.DynoSessionCard(date(2026, 6, 1), 293.0, 101e3, 0.5, UNCORRECTED)
        session = verbs.open_session(work, application, card, visit)
        for place in range(1, 61):
            data = as_text(pull(ENGINE, place), TWELVE)
            take(work, application, session, f"{place}.csv", data, place, "AB"[(place // 3) % 2])
        return application, session.id


def pages(database: Database) -> None:
    """Upload of one pull to the verdict on the screen, and the page of sixty pulls, beside a bare query and a bare page."""
    application, session = a_session(database)
    client = served(database)
    with database.session() as db:
        bare = middle(lambda: db.execute(text("select 1")), 200)
    page = middle(lambda: client.get(f"/applications/{application.id}/pull?session={session}"), 9)
    chart = middle(lambda: client.get(f"/applications/{application.id}/pull/sessions/{session}/chart.json"), 9)
    print(
        f"page of 60 pulls of 12 channels {page * 1000:.0f} ms, ratio {page / bare:.0f}; its chart {chart * 1000:.0f} ms"
    )
    print(f"wanted: page under 150 ms; {'met' if page < 0.15 else 'MISSED'}")
    here, number = f"/applications/{application.id}/pull", iter(range(61, 99))

    def upload() -> None:
        place = next(number)
        data = as_text(pull(ENGINE, place), TWELVE)
        files = {"files": (io.BytesIO(data), f"{place}.csv")}
        client.post(f"{here}/sessions/{session}/files", data=files, content_type="multipart/form-data")
        client.get(f"{here}/sessions/{session}/mapping")
        client.post(f"{here}/sessions/{session}/mapping", data={"record": "1"})
        client.get(f"{here}?session={session}")

    plain = middle(lambda: client.get("/method"), 9)
    whole = middle(upload, 7)
    told = f"one pull from upload to the verdict on the screen, four requests: {whole * 1000:.0f} ms"
    print(f"{told}, a bare page {plain * 1000:.0f} ms, ratio {whole / plain:.0f}")
    print(f"wanted: under a second; {'met' if whole < 1.0 else 'MISSED'}")


def splitting() -> None:
    """Finding 60 pulls in a log of hours, beside one numpy pass over it."""
    made = day_log(ENGINE, list(range(60)))
    speed, clock = made["rpm"] * np.pi / 30, made["time"]
    ours = middle(lambda: find_stretches(speed, clock, made["torque"], made["throttle"]), 5)
    bare = middle(lambda: np.gradient(speed), 5)
    print(
        f"60 pulls found in {speed.size} rows: {ours * 1000:.0f} ms, numpy's gradient {bare * 1000:.2f} ms, ratio {ours / bare:.0f}"
    )


def main() -> None:
    database = Database(os.environ["LONGBREATH_DATABASE_URL"])
    subscribers.attach()
    splitting()
    imports(database)
    pages(database)


if __name__ == "__main__":
    main()
