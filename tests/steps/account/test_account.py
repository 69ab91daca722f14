"""Coming in and going out: words for a miss, a limit on misses, a token on every form, no way off this site, and an end that holds."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from io import BytesIO
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select, update

from longbreath.app import create_app
from longbreath.core.basis.errors import InputError
from longbreath.dossier import entry, passwords
from longbreath.store.models import AuditEntry, PasswordLink, SignInTry, User
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import PASSWORD, errors_of, read

NEW = "three other words here"


def log_in_as(client: FlaskClient, role: str, password: str = PASSWORD, **more: str) -> Any:
    return client.post("/account/login", data={"email": f"{role}@example.test", "password": password, **more})


def test_a_wrong_password_is_answered_in_words_and_keeps_the_address(app: Any, shop: SimpleNamespace) -> None:
    answer = log_in_as(app.test_client(), "tester", "no")
    assert answer.status_code == 422
    assert "do not belong together" in errors_of(answer)
    assert read(answer).select_one("#email")["value"] == "tester@example.test"


@pytest.mark.parametrize("then", ["/library", "/find?q=a%20b", "/applications/1/measure?session=2"])
def test_log_in_goes_on_to_the_page_that_was_asked(app: Any, shop: SimpleNamespace, then: str) -> None:
    assert log_in_as(app.test_client(), "tester", then=then).location == then


OFF_THE_SITE = [
    "//evil.test",
    "https://evil.test",
    "/\\evil.test",
    "/\t/evil.test",
    "/\n/evil.test",
    "/\r\nSet-Cookie: a=b",
    "\t//evil.test",
    "/%09/evil.test",
    "/%2F/evil.test/",
    "/%5Cevil.test",
    "/%5cevil.test",
    "/%255Cevil.test",
    "/%00",
    "/\x00",
    "/ /evil.test",
    "/" + "a" * 3000,
    "javascript:alert(1)",
    "evil.test",
]


@pytest.mark.parametrize("then", OFF_THE_SITE, ids=range(len(OFF_THE_SITE)))
def test_log_in_and_attachments_never_lead_off_the_site(app: Any, shop: SimpleNamespace, then: str) -> None:
    client = app.test_client()
    answer = log_in_as(client, "tester", then=then)
    if answer.status_code == 422:  # a sign that no field takes
        assert "cannot be seen" in answer.text
        log_in_as(client, "tester")
    else:
        assert answer.location == "/"
    address = f"/applications/{shop.application.id}/attachments/bench_session/{shop.session.id}"
    form = {"file": (BytesIO(b"%PDF-1.7 x"), "a.pdf"), "caption": "", "back": then}
    hung = client.post(address, data=form, content_type="multipart/form-data")
    assert hung.status_code in (302, 422)
    assert hung.location in (None, "/#attached")


def test_misses_are_limited_for_all_processes_and_a_right_password_is_none(app: Any, shop: SimpleNamespace) -> None:
    for _ in range(entry.MISSES_OF_ADDRESS + 5):
        assert log_in_as(app.test_client(), "tester").status_code == 302
    codes = [log_in_as(app.test_client(), "tester", "z").status_code for _ in range(entry.MISSES_OF_ADDRESS + 2)]
    assert codes == [422] * entry.MISSES_OF_ADDRESS + [429, 429]
    other = create_app(
        {"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "t", "DATABASE_URL": "unused"},
        app.extensions["longbreath"],
    )
    answer = log_in_as(other.test_client(), "tester")
    assert answer.status_code == 429
    assert "Wait ten minutes" in answer.text


def test_misses_are_forgotten_after_ten_minutes(app: Any, db: UnitOfWork, shop: SimpleNamespace) -> None:
    for _ in range(entry.MISSES_OF_ADDRESS):
        log_in_as(app.test_client(), "tester", "z")
    assert log_in_as(app.test_client(), "tester").status_code == 429
    db.execute(update(SignInTry).values(at=func.now() - timedelta(minutes=11)))
    db.commit()
    assert log_in_as(app.test_client(), "tester").status_code == 302
    assert db.scalar(select(func.count(SignInTry.id))) == 0


def test_a_form_without_its_token_is_refused(database: Any, shop: SimpleNamespace) -> None:
    app = create_app({"TESTING": True, "SECRET_KEY": "t", "DATABASE_URL": "unused"}, database)
    answer = app.test_client().post("/account/units/us")
    assert answer.status_code == 400
    assert "open too long" in answer.get_data(as_text=True)


def test_log_out_ends_the_log_in_wherever_its_cookie_is(tester: FlaskClient, app: Any) -> None:
    stolen = app.test_client()
    cookie = tester.get_cookie("session")
    assert cookie is not None
    stolen.set_cookie("session", cookie.value)
    assert stolen.get("/library").status_code == 200
    assert tester.post("/account/logout").status_code == 302
    assert stolen.get("/library").location.startswith("/account/login")


def test_a_log_in_ends_by_itself_after_a_month(
    tester: FlaskClient, app: Any, db: UnitOfWork, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert tester.get("/library").status_code == 200
    monkeypatch.setattr(entry, "LASTS", timedelta(0))
    assert tester.get("/library").status_code == 302


def test_one_changes_ones_own_password_and_other_browsers_are_logged_out(
    log_in: Callable[[str], FlaskClient], app: Any, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    here, elsewhere = log_in("tester"), log_in("tester")
    form = {"old": PASSWORD, "new": NEW, "again": NEW}
    assert "not your present password" in errors_of(here.post("/account/password", data={**form, "old": "no"}))
    assert "not the same" in errors_of(here.post("/account/password", data={**form, "again": "another of them"}))
    assert here.post("/account/password", data=form).status_code == 302
    assert here.get("/library").status_code == 200
    assert elsewhere.get("/library").status_code == 302
    assert log_in_as(app.test_client(), "tester").status_code == 422
    assert log_in_as(app.test_client(), "tester", NEW).status_code == 302
    said = db.scalars(select(AuditEntry).order_by(AuditEntry.id.desc())).first()
    assert said is not None
    assert said.sentence == "changed person Tester: password changed at"
    assert "argon2" not in str(said.changes)


def link_for(admin: FlaskClient, person: User) -> str:
    page = read(admin.post(f"/account/people/{person.id}/link"))
    return str(page.select_one("#link")["value"]).removeprefix("http://localhost")


def test_an_admins_link_works_once_and_only_the_newest(
    log_in: Callable[[str], FlaskClient], app: Any, shop: SimpleNamespace
) -> None:
    admin, before = log_in("admin"), log_in("tester")
    older, link = (link_for(admin, shop.people["tester"]) for _ in range(2))
    stranger = app.test_client()
    assert "was used, is too old" in stranger.get(older).text
    assert stranger.get(link).status_code == 200
    assert "tried first" in errors_of(stranger.post(link, data={"new": "password123", "again": "password123"}))
    assert stranger.post(link, data={"new": NEW, "again": NEW}).location == "/account/login"
    assert stranger.post(link, data={"new": NEW, "again": NEW}).status_code == 404
    assert before.get("/library").status_code == 302
    assert log_in_as(app.test_client(), "tester", NEW).status_code == 302


def test_a_link_ends_after_a_day_and_for_whoever_is_kept_out(
    log_in: Callable[[str], FlaskClient], app: Any, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    admin = log_in("admin")
    link = link_for(admin, shop.people["tester"])
    admin.post(f"/account/people/{shop.people['tester'].id}/active")
    assert app.test_client().get(link).status_code == 404
    admin.post(f"/account/people/{shop.people['tester'].id}/active")
    assert app.test_client().get(link).status_code == 200
    db.execute(update(PasswordLink).values(ends_at=func.now()))
    db.commit()
    assert app.test_client().get(link).status_code == 404
    assert app.test_client().get("/account/choose/nobody-made-this").status_code == 404


@pytest.mark.parametrize("role", ["viewer", "tester", "approver"])
def test_only_an_admin_makes_links(log_in: Callable[[str], FlaskClient], shop: SimpleNamespace, role: str) -> None:
    assert log_in(role).post(f"/account/people/{shop.people['admin'].id}/link").status_code == 403


@pytest.mark.parametrize(
    ("password", "words"),
    [
        ("short", "10 characters or more"),
        ("x" * 201, "200 characters or fewer"),
        ("x" * 300_000, "200 characters or fewer"),
        ("a tab\there and", "cannot be seen"),
        ("a null\x00 in here", "cannot be seen"),
        ("turned \u202e round here", "cannot be seen"),
        ("password123", "tried first"),
        ("Sunshine2026!!", "tried first"),
        ("QWERTYUIOP", "tried first"),
        ("aaaaaaaaaaaaaa", "tried first"),
        ("1234567890", "tried first"),
        ("ｐａｓｓｗｏｒｄ１２３", "tried first"),
    ],
)
def test_what_is_no_password(password: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        passwords.check(password)


def test_a_password_in_any_script_is_one() -> None:
    for password in (NEW, "дышать полной грудью", "深呼吸をして走る朝の道", "correct-horse-battery-7"):
        passwords.check(password)


def test_a_login_of_gigantic_fields_is_refused_quickly(app: Any, shop: SimpleNamespace) -> None:
    answer = log_in_as(app.test_client(), "tester", "x" * 300_000)
    assert answer.status_code == 422
    assert "200 characters or fewer" in errors_of(answer)


def test_admin_adds_a_person_and_keeps_one_out(
    log_in: Callable[[str], FlaskClient], app: Any, shop: SimpleNamespace
) -> None:
    admin = log_in("admin")
    new = {"name": "New", "email": "new@example.test", "role": "tester", "password": "long enough now"}
    assert admin.post("/account/people", data=new).status_code == 302
    assert "already has this mail address" in errors_of(admin.post("/account/people", data=new))
    for email in ("new", "new@", "@example.test", "a b@example.test", "a@b", "a@example..test", "a\x07@example.test"):
        answer = admin.post("/account/people", data={**new, "email": email})
        assert answer.status_code == 422, email
        assert "no mail address" in errors_of(answer) or "cannot be seen" in errors_of(answer), email
    tester = log_in("tester")
    admin.post(f"/account/people/{shop.people['tester'].id}/active")
    assert log_in_as(app.test_client(), "tester").status_code == 422
    assert tester.get("/library").status_code == 302
    admin.post(f"/account/people/{shop.people['tester'].id}/active")
    assert tester.get("/library").status_code == 302  # let in again, the log-in of before stays ended
    assert log_in_as(app.test_client(), "tester").status_code == 302


def test_units_are_remembered_and_pages_follow(tester: FlaskClient, shop: SimpleNamespace) -> None:
    address = f"/applications/{shop.application.id}/measure/traces/{shop.traces['A'].id}/desk"
    assert "A, cfm" in tester.get(address).get_data(as_text=True)
    tester.post("/account/units/metric")
    assert "A, L/s" in tester.get(address).get_data(as_text=True)
