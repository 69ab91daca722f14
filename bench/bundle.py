"""Time to put together and to check the bundle of a claim on 60 pulls, as ratios to hashing and zipping the same bytes.

Run: bench/bundle.sh
"""

from __future__ import annotations

import hashlib
import io
import os
import time
import zipfile
from datetime import date

from sqlalchemy import select

from longbreath.demo import office
from longbreath.demo.days import work_day
from longbreath.dossier import people
from longbreath.dossier.claim import bundle
from longbreath.dossier.pull import verbs
from longbreath.dossier.records.cards import card_of
from longbreath.proof import pack
from longbreath.proof.verify import verify
from longbreath.store.database import Database
from longbreath.store.models import Application
from longbreath.store.unit_of_work import UnitOfWork
from tests.made import dyno_day

WANTED, TIMES = 10.0, 6
"""Seconds that making and checking may take together, and how often the ten pulls of the demo's day are taken."""


def sixty(work: UnitOfWork, application: Application) -> None:
    """A day of sixty pulls on the card of an application."""
    day = date.today()
    card = card_of(work, application.id)
    assert card is not None
    air = (294.15, 1006e2, 0.48)
    session = verbs.open_session(
        work, application, card, verbs.DynoSessionCard(day, *air, "sae_j1349", gear="4th gear")
    )
    work_day(work, day)
    for place in range(TIMES):
        dyno_day.ten(work, application, session, 7000 + 100 * place, 10 * place)
    work.expire(session, ["pulls"])


def bare(files: dict[str, bytes]) -> float:
    """Seconds to hash and to store the same bytes once."""
    start = time.perf_counter()
    with zipfile.ZipFile(io.BytesIO(), "w") as archive:
        for path, data in files.items():
            hashlib.sha256(data).digest()
            archive.writestr(path, data)
    return time.perf_counter() - start


def main() -> None:
    """Take the pulls, publish, measure, and undo all of it."""
    database = Database(os.environ["LONGBREATH_DATABASE_URL"])
    with database.session() as work:
        application = work.scalars(select(Application).order_by(Application.id)).first()
        assert application is not None
        who = {person.role: person for person in people.everybody(work)}
        work.act_as(who["tester"], application.id)
        sixty(work, application)
        claim = office.publish(work, application, who["approver"], "torque")
        start = time.perf_counter()
        files = bundle.files_of(work, claim, "", lambda share, words: None)
        public, private = pack.new_key()
        data = pack.packed(files, private)
        made = time.perf_counter() - start
        start = time.perf_counter()
        report = verify(data, [public])
        checked = time.perf_counter() - start
        assert report.holds, report.wrong
        least = bare(files)
        work.rollback()
    database.engine.dispose()
    pulls = sum(path.startswith("raw/") for path in files)
    print(f"{len(files)} files ({pulls} raw), {len(data) / 1e6:.1f} MB; hashed and stored bare in {least:.3f} s")
    for what, took in (("made", made), ("checked", checked)):
        print(f"{what}: {took:.2f} s, {took / least:.0f} times bare")
    print("as wanted" if made + checked <= WANTED else f"MORE than {WANTED:g} s")


if __name__ == "__main__":
    main()
