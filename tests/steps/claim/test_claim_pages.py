"""Pages around a claim: kinds and their drafts, reviews, one-time codes, road use, notes, rules of the house, what moved."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import date
from types import SimpleNamespace
from typing import Any

import pyotp
import pytest
from flask.testing import FlaskClient
from sqlalchemy import delete, select

from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.weigh.trial_kinds import KINDS as TRIALS
from longbreath.demo import office
from longbreath.dossier.claim import reviews, watch
from longbreath.dossier.claim.choices import choices_of
from longbreath.dossier.claim.house import set_rules
from longbreath.dossier.claim.moved import moved
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.verbs import submit_claim
from longbreath.dossier.path import fit
from longbreath.dossier.records.house import RulesCard
from longbreath.dossier.weigh.trials import TrialCard, read_rows, save_trial
from longbreath.store.models import Certificate, Claim, CoveredVehicle, SheetNote, SignInTry, User, WorkTask
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import PASSWORD, errors_of, press, read, send
from tests.made import dyno_day
from tests.steps.tools import base

MASS = "A, 4.82 kg\nA, 4.81 kg\nA, 4.82 kg\nB, 4.20 kg\nB, 4.21 kg\nB, 4.20 kg"
NOISE = "\n".join(
    f"{label}, {v}, 0.5 m, 4500 rpm, A"
    for label, vs in (("A", (88.1, 88.3, 88.2)), ("B", (91.0, 91.1, 90.9)))
    for v in vs
)


@pytest.fixture
def ready(db: UnitOfWork, pulled: SimpleNamespace) -> SimpleNamespace:
    """The shop with pulls, weighings, levels, looks, and everything that a sheet says besides."""
    dyno_day.closed_course(db, pulled.application, "all of them")
    day = date(2026, 5, 14)
    mass = TrialCard("mass", "On the scale", day, "bench scale", 0.01, {"with": "nuts"})
    save_trial(db, pulled.application, _with(mass, MASS))
    told = {"background": "50 dB", "surface": "asphalt", "response": "fast"}
    save_trial(
        db, pulled.application, _with(TrialCard("noise", "Behind the outlet", day, "meter N1", 0.1, told), NOISE)
    )
    for place in ("bonnet", "strut bar", "firewall"):
        fit.add_spot(db, pulled.application, fit.SpotCard(place, "clear", 0.02))
    db.commit()
    return pulled


def _with(card: TrialCard, rows: str) -> TrialCard:
    return TrialCard(**{**vars(card), "rows": read_rows(TRIALS[card.kind], rows, "metric")})


def newest(db: UnitOfWork) -> Claim:
    db.expire_all()
    return db.scalars(select(Claim).order_by(Claim.id.desc())).first()  # type: ignore[return-value]


def draft(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, kind: str) -> Claim:
    page = read(client.get(f"{base(shop)}/claim"))
    values = [o["value"] for o in page.select("#on option") if json.loads(o["value"])[0] == kind]
    assert client.post(f"{base(shop)}/claim/draft", data={"on": values[0]}).status_code == 302
    return newest(db)


def submitted(db: UnitOfWork, shop: SimpleNamespace, kind: str = "torque") -> Claim:
    db.act_as(shop.people["tester"], shop.application.id)
    claim = office.draft(db, shop.application, kind)
    submit_claim(db, draft_of(db, shop.application, claim))
    db.commit()
    return claim


def test_every_kind_that_has_evidence_is_offered_drafted_and_goes_out(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, ready: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    assert set(choices_of(db, ready.application)) >= {"torque", "noise", "mass", "fitment", "durability"}
    for kind in ("noise", "mass", "fitment"):
        claim = draft(tester, db, ready, kind)
        assert claim.kind == kind
        here = f"{base(ready)}/claim/{claim.id}"
        page = read(tester.get(f"{base(ready)}/claim?claim={claim.id}"))
        assert KINDS[kind].title.lower() in page.select_one("h1").text
        assert "failed" not in page.select_one(".gates").text
        assert tester.get(f"{here}/preview").status_code == 200
        assert press(tester, db, claim, f"{here}/submit").status_code == 302
        shown = read(approver.get(f"{base(ready)}/claim?claim={claim.id}"))
        assert shown.select(".discloses li")
        token = shown.select_one("input[name=read]")["value"]
        db.refresh(claim)
        data = {"version": str(claim.version), "read": token, "discloses": "y"}
        assert approver.post(f"{here}/approve", data=data).status_code == 302
        sheet = read(approver.get(f"/sheet/{claim.slug}"))
        assert KINDS[kind].title in sheet.select_one(".verdict-line").text
    assert len(db.scalars(select(WorkTask).where(WorkTask.kind == "claim_bundle")).all()) == 3


def test_what_is_worse_stands_on_the_sheets_of_other_kinds(
    tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace
) -> None:
    claim = draft(tester, db, ready, "torque")
    page = tester.get(f"{base(ready)}/claim/{claim.id}/preview").get_data(as_text=True)
    assert "What it costs beside" in page
    assert "dB louder" in page
    assert "dB louder" in tester.get(f"{base(ready)}/claim?claim={claim.id}").get_data(as_text=True)


def test_a_loss_beside_a_claim_that_changes_questions_it_and_a_gain_does_not(
    db: UnitOfWork, ready: SimpleNamespace
) -> None:
    claim = office.publish(db, ready.application, ready.people["approver"], "torque")
    day = date(2026, 5, 14)
    save_trial(
        db,
        ready.application,
        _with(TrialCard("mass", "On the scale again", day, "bench scale", 0.01, {"with": "nuts"}), MASS),
    )
    assert watch.standing_of(db, [claim])[claim.id].holds
    told = {"background": "50 dB", "surface": "asphalt", "response": "fast"}
    worse = NOISE.replace("B, 91.", "B, 93.").replace("B, 90.", "B, 93.")
    save_trial(db, ready.application, _with(TrialCard("noise", "Once more", day, "meter N1", 0.1, told), worse))
    standing = watch.standing_of(db, [claim])[claim.id]
    assert not standing.holds
    assert "what it costs beside" in standing.changed


def test_a_kind_or_choice_that_nobody_offered_is_not_drafted(
    tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace
) -> None:
    for forged in (
        '["torque", [99], {}]',
        '["fuel", [], {"trial": 1}]',
        "no json",
        '["torque", [], {"school": "as set"}]',
    ):
        answer = tester.post(f"{base(ready)}/claim/draft", data={"on": forged})
        assert answer.status_code == 409
    assert db.scalar(select(Claim.id)) is None


def test_a_trial_of_somebody_else_backs_nothing(tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace) -> None:
    db.act_as(ready.people["tester"], ready.application.id)
    card = TrialCard(
        "mass", "The maker’s own", date(2026, 5, 14), "their scale", 0.01, {"with": "nuts"}, origin="supplier"
    )
    save_trial(db, ready.application, _with(card, MASS))
    db.commit()
    claim = draft(tester, db, ready, "mass")
    page = read(tester.get(f"{base(ready)}/claim?claim={claim.id}"))
    failed = [li.select_one("b").text for li in page.select(".gates .is-failed")]
    assert failed == ["own tests alone"]
    assert "Test it yourself" in page.select_one(".gates .is-failed .meet").text


def test_a_comment_on_a_fact_stays_with_the_claim(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, ready: SimpleNamespace
) -> None:
    claim = submitted(db, ready)
    approver = log_in("approver")
    here = f"{base(ready)}/claim/{claim.id}"
    empty = approver.post(f"{here}/comment", data={"words": " "})
    assert empty.status_code == 422
    assert "Write the comment" in errors_of(empty)
    data = {"words": "Say the top first.", "fact": claim.lines[0]["fact"]}
    assert approver.post(f"{here}/comment", data=data).status_code == 302
    assert "Say the top first." in approver.get(f"{base(ready)}/claim?claim={claim.id}").get_data(as_text=True)
    asked = approver.post(f"{here}/return", data={"version": str(claim.version), "words": "Leave the peak out."})
    assert asked.status_code == 302
    page = log_in("tester").get(f"{base(ready)}/claim?claim={claim.id}").get_data(as_text=True)
    assert "asks for a change: Leave the peak out." in " ".join(page.split())


def test_an_approval_says_that_the_list_was_read(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, ready: SimpleNamespace
) -> None:
    claim, approver = submitted(db, ready), log_in("approver")
    token = read(approver.get(f"{base(ready)}/claim?claim={claim.id}")).select_one("input[name=read]")["value"]
    answer = approver.post(
        f"{base(ready)}/claim/{claim.id}/approve", data={"version": str(claim.version), "read": token}
    )
    assert answer.status_code == 422
    assert "Read what the bundle lets out" in errors_of(answer)
    assert newest(db).state == "submitted"


def code_of(person: User, clients: FlaskClient) -> str:
    """Set up one-time codes as a person would; returns the secret."""
    page = read(clients.get("/account/code"))
    secret = str(page.select_one("input[name=secret]")["value"])
    wrong = clients.post("/account/code", data={"secret": secret, "password": PASSWORD, "code": "000000"})
    assert wrong.status_code == 422
    other = clients.post(
        "/account/code", data={"secret": secret, "password": "not mine", "code": pyotp.TOTP(secret).now()}
    )
    assert "not your password" in errors_of(other)
    done = clients.post(
        "/account/code", data={"secret": secret, "password": PASSWORD, "code": pyotp.TOTP(secret).now()}
    )
    assert done.status_code == 302
    return secret


def test_where_the_house_demands_it_approval_takes_a_code_that_counts_once(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, ready: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    db.act_as(ready.people["admin"])
    set_rules(db, RulesCard(code_required=True))
    claim, approver = submitted(db, ready), log_in("approver")
    here = f"{base(ready)}/claim/{claim.id}/approve"

    token = read(approver.get(f"{base(ready)}/claim?claim={claim.id}")).select_one("input[name=read]")["value"]

    def try_with(code: str) -> Any:
        db.refresh(claim)
        data = {"version": str(claim.version), "read": token, "discloses": "y", "code": code}
        return approver.post(here, data=data)

    none = try_with("123456")
    assert none.status_code == 409
    assert "set it up under your account" in errors_of(none)
    secret = code_of(ready.people["approver"], approver)
    kept = db.scalar(select(User.code_secret).where(User.role == "approver"))
    assert secret not in str(kept)
    used = try_with(pyotp.TOTP(secret).now())
    assert used.status_code == 422  # the code that set it up counts no second time
    assert "does not count" in errors_of(used)
    wrong = try_with("abcdef")
    assert wrong.status_code == 422
    step = int(db.scalar(select(User.code_used).where(User.role == "approver")) or 0)
    for number in range(reviews.MOST_MISSES - 2):
        assert "does not count" in errors_of(try_with(f"{number:06}"))
    right = pyotp.TOTP(secret).generate_otp(step + 1)
    assert "Too many codes missed" in errors_of(try_with(right))
    db.execute(delete(SignInTry))
    assert try_with(right).status_code == 302
    assert newest(db).state == "published"


CERTIFICATE = {
    "kind": "emissions",
    "number": "EO-7",
    "market": "Northland",
    "first_year": "2013",
    "last_year": "2018",
    "until": "2030-06-30",
    "scope": "",
    "forbids": "any other air box",
    "document": "folder 3",
}
VEHICLE = {
    "make": "Brackwater",
    "model": "Heron 2.0",
    "first_year": "2013",
    "last_year": "2018",
    "engine_code": "BH20-A",
    "covers": "direct",
    "reason": "",
}


def test_certificates_and_vehicles_are_written_down_market_by_market(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    here = f"{base(shop)}/claim/road"
    assert tester.post(f"{here}/certificate", data=CERTIFICATE).status_code == 302
    newer = {**CERTIFICATE, "until": "2031-06-30"}
    assert tester.post(f"{here}/certificate", data=newer).status_code == 302
    page = read(tester.get(here))
    assert len(page.select_one("table").select("tbody tr")) == 1
    assert "30 Jun 2031" in page.text
    assert db.scalars(select(Certificate)).all()
    assert tester.post(f"{here}/vehicle", data=VEHICLE).status_code == 302
    assert tester.post(f"{here}/vehicle", data={**VEHICLE, "engine_code": "X"}).status_code == 302
    register = read(tester.get("/approvals"))
    assert "EO-7" in register.text
    assert "any other air box" in register.text


@pytest.mark.parametrize(
    ("where", "change", "error"),
    [
        ("certificate", {"number": " "}, "A certificate has a number"),
        ("certificate", {"last_year": "2012"}, "end before they begin"),
        ("certificate", {"first_year": "13"}, "four digits"),
        ("certificate", {"scope": "gains 20 hp"}, "speaks of no result"),
        ("certificate", {"forbids": "nothing: swap it back before the inspection"}, "advises nobody"),
        ("vehicle", {"covers": "reasoned"}, "Write why"),
        ("vehicle", {"model": "Gull 1.6"}, "give a reason for any other"),
        ("vehicle", {"engine_code": ""}, "Name the engine"),
        ("notes", {"noise": "5 hp more and quieter"}, "speaks of no result"),
        ("notes", {"rules": "nobody will notice"}, "advises nobody"),
    ],
)
def test_wrong_entries_are_answered_beside_the_field_and_nothing_is_lost(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, where: str, change: dict[str, str], error: str
) -> None:
    whole = {"certificate": CERTIFICATE, "vehicle": VEHICLE, "notes": {}}[where]
    answer = tester.post(f"{base(shop)}/claim/road/{where}", data={**whole, **change})
    assert answer.status_code == 422
    assert error in errors_of(answer)
    (name, value), *_ = change.items()
    field = read(answer).select_one(f"#{name}")
    kept = field.get("value", field.get_text(strip=True)) if field.name != "select" else "chosen"
    assert kept.strip() == value.strip() or field.name == "select"
    assert db.scalar(select(Certificate.id)) is None
    assert db.scalar(select(CoveredVehicle.id)) is None
    assert db.scalar(select(SheetNote.id)) is None


def test_a_part_that_removes_a_device_has_no_road_words_without_a_certificate(
    tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace
) -> None:
    data = {"approval": "not_required", "approval_note": "Northland", "tampering": "removes"}
    assert send(tester, f"{base(ready)}/claim/road", data).status_code in (302, 405)
    version = read(tester.get(f"{base(ready)}/claim/road")).select_one("#version")["value"]
    tester.post(f"{base(ready)}/claim/road/status", data={**data, "version": version})
    claim = draft(tester, db, ready, "torque")
    page = read(tester.get(f"{base(ready)}/claim?claim={claim.id}"))
    assert "closed course only" in page.select_one(".gates .is-failed").text
    assert "Closed course only" in tester.get(f"{base(ready)}/claim/{claim.id}/preview").get_data(as_text=True)


def test_rules_of_the_house_are_an_admins(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    assert log_in("approver").get("/claims/rules").status_code == 403
    admin = log_in("admin")
    data = {
        "house": "Windlass",
        "clock_days": "7",
        "at_once": ["pulls"],
        "most_age": "365",
        "retest_days": "400",
        "money": "crowns",
    }
    assert admin.post("/claims/rules", data=data).status_code == 302
    page = read(admin.get("/claims/rules"))
    assert page.select_one("#clock_days")["value"] == "7"
    assert [o["value"] for o in page.select("#at_once option[selected]")] == ["pulls"]
    assert admin.post("/claims/rules", data={**data, "clock_days": "900"}).status_code == 422
    assert admin.post("/claims/key").status_code == 302
    assert read(admin.get("/claims/rules")).select("main li code")


def test_the_register_of_kinds_documents_itself(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get("/claims/kinds"))
    assert len(page.select("section.kind-of")) == len(KINDS)
    assert "Never said" in page.text


def test_what_moved_is_listed_figure_by_figure(tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace) -> None:
    db.act_as(ready.people["tester"], ready.application.id)
    office.publish(db, ready.application, ready.people["approver"], "torque")
    db.commit()
    assert list(moved(db)) == []
    assert "Nothing moved" in read(tester.get("/claims/moved")).select_one("h1").text
    ready.dyno.fitting_repeatability = 0.8
    db.commit()
    rows = list(moved(db))
    assert "statement" in {row.what for row in rows}
    assert all("was published" in row.words for row in rows)
    assert "moved since" in read(tester.get("/claims/moved")).select_one("h1").text


def test_money_is_reckoned_in_a_draft_on_fuel_alone(
    tester: FlaskClient, db: UnitOfWork, ready: SimpleNamespace
) -> None:
    claim = draft(tester, db, ready, "mass")
    answer = tester.post(
        f"{base(ready)}/claim/{claim.id}/miles",
        data={"version": str(claim.version), "distance": "20000 km", "price": "1.6", "sold_by": "L"},
    )
    assert answer.status_code == 409
    rows = []
    for van in range(1, 9):
        for when, used in (("before", 11.0), ("after", 9.9 if van <= 4 else 11.0)):
            for week in range(4):
                litres = used * (1 + 0.004 * ((van * 7 + week * 3) % 5 - 2))
                rows.append(f"van {van}, {'part' if van <= 4 else 'control'}, {when}, 100 km, {litres:.3f} L")
    db.act_as(ready.people["tester"], ready.application.id)
    told = {"fuel": "petrol", "load": "as usual", "season": "spring"}
    card = TrialCard("fuel", "Eight vans", date(2026, 5, 14), "pump meter", 1e-5, told)
    save_trial(db, ready.application, _with(card, "\n".join(rows)))
    db.commit()
    claim = draft(tester, db, ready, "fuel")
    data = {"version": str(claim.version), "distance": "20000 km", "price": "1.6", "sold_by": "L"}
    assert tester.post(f"{base(ready)}/claim/{claim.id}/miles", data=data).status_code == 302
    page = read(tester.get(f"{base(ready)}/claim?claim={claim.id}"))
    assert "fuel money a year" in page.text or page.select('button[value^="in:gain-money"]')
    assert "Money is reckoned for" in page.select_one(".statement-text").text
