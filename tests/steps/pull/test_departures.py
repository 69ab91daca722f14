"""A unit or a letter against what a file says of itself wants a reason, which stands on the sheet."""

from __future__ import annotations

from types import SimpleNamespace

from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.devices.made_engine import day_log, pull
from longbreath.dossier.case.sessions import pull_seen
from longbreath.dossier.claim.backing import backing
from longbreath.store.models import Pull
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read
from tests.core.compare.made import BREATHING
from tests.made.habits import FULL, METRIC, as_text
from tests.steps.tools import base, open_session, record, upload

UNITS = {"g0-torque-header": "Md", "g0-torque-unit": "lb-ft"}


def stated(db: UnitOfWork) -> list[tuple[str, ...]]:
    db.expire_all()
    return [pull_seen(p).departs for p in db.scalars(select(Pull).order_by(Pull.sequence))]


def test_a_unit_against_the_header_is_refused_until_somebody_says_why(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    says = (METRIC[0], METRIC[1], METRIC[3])
    upload(tester, shop, session, ("1.csv", as_text(pull(BREATHING, 1), says)))
    answer = record(tester, shop, session, **UNITS)
    assert answer.status_code == 422
    assert "or say why the header is wrong" in errors_of(answer)
    assert stated(db) == []
    why = "the exporter was never set"
    assert record(tester, shop, session, **UNITS, **{"g0-torque-against": why}).status_code == 302
    (told,) = stated(db)
    assert told[0].startswith("Torque read in lb-ft, though the header says")
    assert told[0].endswith(why)
    upload(tester, shop, session, ("2.csv", as_text(pull(BREATHING, 2), says)))
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping"))
    assert "Which is right?" in page.text  # what was once resolved is not remembered


def test_names_that_say_the_other_letter_are_asked_about_once(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    names = ("stock-1.csv", "stock-2.csv", "proto-3.csv")
    upload(tester, shop, session, *((name, as_text(pull(BREATHING, n), FULL)) for n, name in enumerate(names, start=1)))
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping"))
    keys = [field["name"].removesuffix("-label") for field in page.select("select[name$=-label]")]
    first, second = (name for name in sorted(names)[1:])
    answer = record(tester, shop, session, **{f"{key}-label": "B" for key in keys})
    assert answer.status_code == 422
    assert f"{first} says A and is taken as B; {second} says A and is taken as B" in errors_of(answer)
    why = "written down the wrong way round"
    assert record(tester, shop, session, **{f"{key}-label": "B" for key in keys}, names=why).status_code == 302
    assert sorted(words for told in stated(db) for words in told) == [
        f"{name} taken as B: {why}" for name in (first, second)
    ]


def test_what_a_file_holds_and_nobody_recorded_stops_the_statement_until_it_is(
    tester: FlaskClient, db: UnitOfWork, day_done: SimpleNamespace
) -> None:
    """The pulls that suit out of a file are no test; a file that waits is none either."""

    def unrecorded() -> tuple[str, ...]:
        db.expire_all()
        dyno = backing(db, day_done.application, "torque").statement.grounded.dyno
        assert dyno is not None
        return dyno.unrecorded

    db.act_as(day_done.people["tester"], day_done.application.id)
    assert unrecorded() == ()
    session = open_session(tester, day_done, held_on="2026-05-20")
    two = day_log(BREATHING, [71, 72])
    upload(tester, day_done, session, ("two.csv", as_text(two, FULL)))
    assert unrecorded() == ("two.csv, 20 May 2026",)
    page = read(tester.get(f"{base(day_done)}/pull/sessions/{session}/mapping"))
    keys = [f["name"].removesuffix("-place") for f in page.select("input[name$=-place]") if f["value"]]
    labels = {f"{key}-label": "leave" for key in keys[1:]}
    answer = record(tester, day_done, session, **labels)
    assert answer.status_code == 302, errors_of(answer)
    assert unrecorded() == ("two.csv, 20 May 2026",)
    page = read(tester.get(f"{base(day_done)}/pull?session={session}"))
    link = next(a for a in page.select("a") if a.text.strip() == "Record them")
    page = read(tester.get(link["href"]))
    left = [f["name"].removesuffix("-place") for f in page.select("input[name$=-place]") if f["value"]]
    assert len(left) == 1
    answer = tester.post(link["href"], data={f"{left[0]}-label": "A", f"{left[0]}-place": "2", "record": "1"})
    assert answer.status_code == 302
    assert unrecorded() == ()
