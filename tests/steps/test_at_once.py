"""The same form or file sent four times at the same moment, by four threads on a database of its own: one record, and no fault."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select, text

from longbreath.app import create_app
from longbreath.dossier.plan import cards
from longbreath.dossier.reckon import predictions
from longbreath.store.database import Database
from longbreath.store.models import (
    Application,
    Attachment,
    BenchSheet,
    DynoSession,
    Prediction,
    Pull,
    RawFile,
    Reading,
    TestCard,
    User,
)
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import PASSWORD, read, shop_on
from tests.databases import ready
from tests.steps.tools import SESSION, good

AT_ONCE = 4


@pytest.fixture(scope="module")
def place(database_url: str) -> Iterator[SimpleNamespace]:
    """A shop whose changes are kept, its application, and a tester's client maker."""
    own = ready(database_url, "longbreath_at_once")
    database = Database(own)
    shop = shop_on(database)
    ids = SimpleNamespace(
        application=shop.application.id,
        session=shop.session.id,
        trace=shop.traces["A"].id,
        range=shop.bench.ranges[1].id,
    )
    app = create_app({"WTF_CSRF_ENABLED": False, "SECRET_KEY": "t", "DATABASE_URL": own}, database)

    def client(role: str = "tester") -> FlaskClient:
        made = app.test_client()
        assert made.post("/account/login", data={"email": f"{role}@example.test", "password": PASSWORD}).location == "/"
        return made

    yield SimpleNamespace(database=database, ids=ids, client=client, base=f"/applications/{ids.application}")
    database.engine.dispose()


def count(place: SimpleNamespace, model: Any) -> int:
    with place.database.session() as work:
        return int(work.scalar(select(func.count()).select_from(model)) or 0)


def at_once(place: SimpleNamespace, send: Callable[[FlaskClient], Any], role: str = "tester") -> list[Any]:
    """What each of four clients is answered that send at the same moment."""
    clients = [place.client(role) for _ in range(AT_ONCE)]
    with ThreadPoolExecutor(AT_ONCE) as pool:
        return list(pool.map(send, clients))


def key_of(client: FlaskClient, address: str) -> str:
    """The key that the form at an address was shown with."""
    return str(read(client.get(address)).select_one("main form input[name=once]")["value"])


def test_a_form_sent_four_times_makes_one_record_and_leads_to_it(place: SimpleNamespace) -> None:
    client = place.client()
    address = f"{place.base}/pull/sessions/new"
    form = {**SESSION, "once": key_of(client, address)}
    before = count(place, DynoSession)
    answers = at_once(place, lambda c: c.post(address, data=form))
    assert [a.status_code for a in answers] == [302] * AT_ONCE
    assert len({a.location for a in answers}) == 1
    assert count(place, DynoSession) == before + 1
    again = client.post(address, data={**form, "once": key_of(client, address)})
    assert again.location != answers[0].location  # the page opened anew and filled in alike is meant anew
    assert count(place, DynoSession) == before + 2


def test_what_is_changed_on_the_same_page_is_another_form(place: SimpleNamespace) -> None:
    client = place.client()
    address = f"{place.base}/pull/sessions/new"
    form = {**SESSION, "once": key_of(client, address)}
    first = client.post(address, data=form)
    second = client.post(address, data={**form, "temperature": "23 C"})
    assert first.location != second.location


def test_a_refused_form_may_be_sent_again_with_the_same_key(place: SimpleNamespace) -> None:
    client = place.client()
    address = f"{place.base}/pull/sessions/new"
    form = {**SESSION, "once": key_of(client, address), "humidity": "no"}
    assert [client.post(address, data=form).status_code for _ in range(2)] == [422, 422]


def test_a_reading_by_hand_sent_four_times_is_one_reading(place: SimpleNamespace) -> None:
    client = place.client()
    address = f"{place.base}/measure/traces/{place.ids.trace}/desk"
    form = {
        "once": key_of(client, address),
        "lift": "3 mm",
        "percent": "60",
        "range_id": str(place.ids.range),
        "pressure": "28 inH2O",
    }
    before = count(place, Reading)
    answers = at_once(place, lambda c: c.post(address, data=form))
    assert {a.status_code for a in answers} == {302}
    assert count(place, Reading) == before + 1


SHEET = b"Lift (mm),Flow (cfm)\n2,73.0\n4,139.5\n"


def upload(address: str, name: str, data: bytes, filename: str, **more: str) -> Callable[[FlaskClient], Any]:
    """Sends a file, each time as another page of the same person would: without a common key."""
    return lambda client: client.post(
        address, data={name: (io.BytesIO(data), filename), **more}, content_type="multipart/form-data"
    )


def test_the_same_file_from_four_pages_is_one_file(place: SimpleNamespace) -> None:
    client = place.client()
    client.post(f"{place.base}/pull/sessions/new", data=SESSION)
    with place.database.session() as work:
        session = work.scalars(select(DynoSession).order_by(DynoSession.id.desc())).first()
        assert session is not None
    raw, sheets = count(place, RawFile), count(place, BenchSheet)
    answers = at_once(place, upload(f"{place.base}/pull/sessions/{session.id}/files", "files", good(1), "pull-01.csv"))
    assert {a.status_code for a in answers} <= {302, 422, 409}
    assert [a.status_code for a in answers].count(302) == 1
    assert count(place, RawFile) == raw + 1
    answers = at_once(
        place, upload(f"{place.base}/measure/sessions/{place.ids.session}/sheets", "file", SHEET, "s.csv")
    )
    assert {a.status_code for a in answers} <= {302, 422, 409}
    assert count(place, BenchSheet) == sheets + 1
    for answer in answers:
        assert "Traceback" not in answer.text


def test_a_photo_hung_on_four_times_hangs_once(place: SimpleNamespace) -> None:
    before = count(place, Attachment)
    address = f"{place.base}/attachments/bench_session/{place.ids.session}"
    answers = at_once(place, upload(address, "file", b"%PDF-1.7 once", "a.pdf", once="one-key", back="/library"))
    assert {a.status_code for a in answers} == {302}
    assert count(place, Attachment) == before + 1


def test_pulls_recorded_four_times_are_recorded_once(place: SimpleNamespace) -> None:
    client = place.client()
    with place.database.session() as work:
        session = work.scalars(select(DynoSession).order_by(DynoSession.id.desc())).first()
        assert session is not None
    address = f"{place.base}/pull/sessions/{session.id}"
    upload(f"{address}/files", "files", good(2), "pull-02.csv")(client)
    before = count(place, Pull)
    answers = at_once(place, lambda c: c.post(f"{address}/mapping", data={"g0-mixture-scale": "14.7", "record": "yes"}))
    assert {a.status_code for a in answers} <= {302, 422, 409}
    with place.database.session() as work:
        files = [f for f in work.get(DynoSession, session.id).files]  # type: ignore[union-attr]
        assert count(place, Pull) == before + len(files)


def test_a_person_added_four_times_is_one_person(place: SimpleNamespace) -> None:
    form = {"name": "X", "email": "x@example.test", "role": "viewer", "password": PASSWORD}
    before = count(place, User)
    answers = at_once(place, lambda c: c.post("/account/people", data=form), role="admin")
    assert sorted(a.status_code for a in answers) == [302, 422, 422, 422]
    assert count(place, User) == before + 1


def next_card(place: SimpleNamespace) -> None:
    """A new card under which nothing was pulled yet."""
    with place.database.session() as work:
        work.act_as(work.scalars(select(User).where(User.role == "tester")).one(), place.ids.application)
        application, card = work.get_one(Application, place.ids.application), work.scalars(select(TestCard)).first()
        assert card is not None
        cards.save_card(work, application, None, cards.CardDraft(card.dyno_id, "", "", 3, 2.7))
        work.commit()


def test_a_prediction_said_anew_by_four_at_once_is_said_anew_once(place: SimpleNamespace) -> None:
    next_card(place)
    values = {
        f"band{n}_{part}": text for n in range(3) for part, text in (("low", "-1"), ("middle", "1"), ("high", "3"))
    }
    address = f"{place.base}/reckon/predictions/torque/draw"
    assert place.client().post(address, data={**values, "expects": "first"}).status_code == 302
    with place.database.session() as work:
        first = work.scalar(select(func.max(Prediction.id)))
    form = {**values, "expects": "anew", "instead_of": str(first)}
    answers = at_once(place, lambda c: c.post(address, data=form))
    assert sorted(a.status_code for a in answers) == [302, 409, 409, 409]
    assert all("Somebody else said this one anew" in read(a).text for a in answers if a.status_code == 409)


def test_a_prediction_that_meets_the_first_pull_is_sealed_or_marked(place: SimpleNamespace) -> None:
    """While a prediction is kept, a pull arrives: it waits, and then seals it; and the other way round it is marked."""
    next_card(place)
    draft = predictions.NewPrediction("more")
    first, second = place.database.session(), place.database.session()
    with first as saying, second as pulling, ThreadPoolExecutor(1) as pool:
        tester = saying.scalars(select(User).where(User.role == "tester")).one()
        for unit in (saying, pulling):
            unit.act_as(unit.get_one(User, tester.id), place.ids.application)
        made = predictions.keep_prediction(saying, saying.get_one(Application, place.ids.application), draft)
        waiting = pool.submit(_pull_past_the_application, pulling, made.card_id, tester.id)
        with pytest.raises(TimeoutError):
            waiting.result(timeout=0.5)
        saying.commit()
        waiting.result(timeout=10)
    with place.database.session() as work:
        assert work.get_one(Prediction, made.id).sealed_at is not None
        work.act_as(work.get_one(User, tester.id), place.ids.application)
        late = predictions.keep_prediction(work, work.get_one(Application, place.ids.application), draft)
        assert late.after_test


def _pull_past_the_application(work: UnitOfWork, card_id: int | None, user_id: int) -> None:
    """A pull written straight into the tables."""
    numbers = {"a": work.application_id, "c": card_id, "u": user_id}
    for statement in (
        "insert into dyno_session (id, application_id, card_id, held_on, temperature, pressure, humidity, standard, "
        "already_corrected, gear, version) values (7001, :a, :c, '2026-05-06', 293, 101325, 0.5, 'none', false, '', 1)",
        "insert into pull (session_id, sequence, label, kind) values (7001, 1, 'A', 'sweep')",
    ):
        work.execute(text(statement), {k: v for k, v in numbers.items() if f":{k}" in statement})
    work.commit()
