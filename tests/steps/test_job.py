"""What the steps do beyond the browser's path: seals, judgements, staleness, gates, the sheet."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.dossier.claim import reads, verbs
from longbreath.dossier.claim.backing import backing
from longbreath.dossier.claim.changed import key_of_typed
from longbreath.dossier.claim.sheet import content
from longbreath.dossier.evidence.gather import gather
from longbreath.store.models import Claim, ClaimAct, ClaimSheet, Prediction, Pull, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, press, read, send
from tests.made import dyno_day
from tests.steps.tools import base

BANDS = {f"band{n}_{part}": text for n in range(3) for part, text in (("low", "-1"), ("middle", "2"), ("high", "3"))}
BANDS["expects"] = "I knew it"


@pytest.fixture
def pulled(day_foretold: SimpleNamespace) -> SimpleNamespace:
    """The application with its ten pulls."""
    return day_foretold


def test_the_first_pull_seals_the_prediction(db: UnitOfWork, pulled: SimpleNamespace, tester: FlaskClient) -> None:
    prediction = db.scalars(select(Prediction)).one()
    assert prediction.sealed_at is not None
    assert send(tester, f"{base(pulled)}/reckon/predictions/torque/draw", BANDS).status_code == 302
    later = db.scalars(select(Prediction).order_by(Prediction.id.desc())).first()
    assert later is not None
    assert later.after_test


def test_judging_a_pull_changes_the_verdict_and_keeps_the_earlier_judgement(
    db: UnitOfWork, pulled: SimpleNamespace, tester: FlaskClient
) -> None:
    before = db.scalars(select(Verdict)).one().evidence_key
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    assert pull is not None
    address = f"{base(pulled)}/pull/pulls/{pull.id}/judge"
    assert send(tester, address, {"counts": "no", "reason": ""}).status_code == 422
    assert send(tester, address, {"counts": "no", "reason": "tyre slip heard"}).status_code == 302
    db.expire_all()
    assert db.scalars(select(Verdict)).one().evidence_key != before
    assert [j.valid for j in pull.judgements] == [True, False]


def test_weigh_shows_figures_with_their_workings(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(pulled)}/weigh?working=middle"))
    assert "A little more in the middle, a little less at the top." in page.select_one("h1").text
    assert "1 left out" in page.select_one(".conditions").text
    drawer = page.select_one("#drawer").get_text(" ", strip=True)
    assert "Verdict: gain" in drawer
    assert "gannet-01.csv" in drawer


def test_any_band_may_be_asked_about(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    asked = tester.get(f"{base(pulled)}/weigh?low=3500+rpm&high=4300+rpm")
    assert "Gain" in read(asked).select_one(".peaks").text
    wrong = tester.get(f"{base(pulled)}/weigh?low=4300&high=3500")
    assert wrong.status_code == 422
    assert "must end above where it begins" in errors_of(wrong)


def draft(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> Claim:
    assert client.post(f"{base(shop)}/claim/draft").status_code == 302
    db.expire_all()
    return db.scalars(select(Claim).order_by(Claim.id.desc())).first()  # type: ignore[return-value]


def hand_in(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> Claim:
    """State the road use, draft and submit."""
    state_approval(client, shop)
    claim = draft(client, db, shop)
    assert press(client, db, claim, f"{base(shop)}/claim/{claim.id}/submit").status_code == 302
    return claim


def approve(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, claim: Claim) -> Any:
    """Approve what the page shows at this moment."""
    db.expire_all()
    button = read(client.get(f"{base(shop)}/claim")).select_one("input[name=read]")
    data = {"version": str(claim.version), "read": button["value"] if button is not None else "", "discloses": "y"}
    answer = client.post(f"{base(shop)}/claim/{claim.id}/approve", data=data)
    db.expire_all()
    return answer


def state_approval(client: FlaskClient, shop: SimpleNamespace) -> None:
    version = read(client.get(f"{base(shop)}/claim/road")).select_one("#version")["value"]
    data = {"approval": "closed_course", "approval_note": "", "tampering": "keeps", "version": version}
    assert client.post(f"{base(shop)}/claim/road/status", data=data).status_code == 302
    notes = {name: "not recorded" for name in ("rules", "idle", "noise", "life", "relation")}
    notes["sold"] = "all of them"
    assert client.post(f"{base(shop)}/claim/road/notes", data=notes).status_code == 302


def test_a_claim_goes_out_only_through_its_gates_and_a_second_person(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    drafter, second = log_in("approver"), log_in("admin")
    claim = draft(drafter, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    refused = press(drafter, db, claim, f"{here}/submit")
    assert refused.status_code == 409
    assert "road use stated, market by market" in errors_of(refused)
    assert second.get(f"/sheet/{claim.slug}").status_code == 404
    state_approval(drafter, pulled)
    assert approve(second, db, pulled, claim).status_code == 409
    assert press(drafter, db, claim, f"{here}/submit").status_code == 302
    own = press(drafter, db, claim, f"{here}/approve")
    assert own.status_code == 403
    assert "A second person must approve it" in errors_of(own)
    preview = read(second.get(f"{here}/preview"))
    assert "Preview: this is not published" in preview.select_one(".withdrawn").text
    assert approve(second, db, pulled, claim).status_code == 302
    assert claim.state == "published"
    sheet = second.get(f"/sheet/{claim.slug}")
    assert sheet.status_code == 200
    assert "Closed course only" in sheet.get_data(as_text=True)
    assert len(read(sheet).select("details.working")) >= 8
    assert preview.select_one(".statement-text").text == read(sheet).select_one(".statement-text").text
    printed = second.get(f"/sheet/{claim.slug}/printed.pdf")
    assert printed.data.startswith(b"%PDF")


def test_two_people_stating_approval_lose_nothing(tester: FlaskClient, pulled: SimpleNamespace) -> None:
    old = read(tester.get(f"{base(pulled)}/claim/road")).select_one("#version")["value"]
    state_approval(tester, pulled)
    typed = {"approval": "approved", "approval_note": "EO-1234", "tampering": "keeps", "version": old}
    answer = tester.post(f"{base(pulled)}/claim/road/status", data=typed)
    assert answer.status_code == 409
    assert "Somebody else saved this page" in errors_of(answer)
    assert read(answer).select_one("#approval_note")["value"] == "EO-1234"


def test_an_empty_prediction_is_answered_beside_the_field_and_the_answers_stay(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    answer = send(tester, f"{base(shop)}/reckon/predictions/torque/draw", {**BANDS, "expects": "  "})
    assert answer.status_code == 422
    assert "Say what you expect" in errors_of(answer)
    assert read(answer).select_one("#band1_middle")["value"] == "2"


def publish(log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace) -> Claim:
    """Draft and submit as the tester, approve as the approver."""
    tester, approver = log_in("tester"), log_in("approver")
    claim = hand_in(tester, db, pulled)
    assert approve(approver, db, pulled, claim).status_code == 302
    return claim


def test_a_public_sheet_says_at_once_that_its_evidence_changed(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    claim = publish(log_in, db, pulled)
    tester, approver = log_in("tester"), log_in("approver")
    page = read(approver.get(f"/sheet/{claim.slug}"))
    assert page.select_one(".is-stale") is None
    frozen = page.select_one("table").text
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    send(tester, f"{base(pulled)}/pull/pulls/{pull.id}/judge", {"counts": "no", "reason": "slip"})  # type: ignore[union-attr]
    page = read(approver.get(f"/sheet/{claim.slug}"))
    assert "Evidence changed after this was published" in page.select_one(".is-stale").text
    assert page.select_one("table").text == frozen
    assert "The evidence changed" in errors_of(tester.get(f"{base(pulled)}/claim"))
    assert "evidence changed" in tester.get("/").get_data(as_text=True)
    send(approver, f"{base(pulled)}/claim/{claim.id}/withdraw", {"reason": "a pull slipped"})
    assert "withdrawn" in read(approver.get(f"/sheet/{claim.slug}")).select_one(".withdrawn").text


def test_a_session_that_is_added_is_part_of_what_a_published_claim_rests_on(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    claim = publish(log_in, db, pulled)
    db.act_as(pulled.people["tester"], pulled.application.id)
    dyno_day.pulled(db, pulled.application, pulled.card, 900, date(2026, 6, 20))
    db.commit()
    assert read(log_in("viewer").get(f"/sheet/{claim.slug}")).select_one(".is-stale") is not None
    assert "evidence changed" in log_in("viewer").get("/").get_data(as_text=True)


def test_an_approval_names_what_was_read_and_fails_if_anything_changed(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    claim = hand_in(tester, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    old = read(approver.get(f"{base(pulled)}/claim")).select_one("input[name=read]")["value"]
    press(approver, db, claim, f"{here}/return")
    db.expire_all()
    keys = [line["fact"] for line in claim.lines]
    data = {"version": str(claim.version), "fact": list(reversed(keys)), "do": "keep", "joined": "1"}
    assert tester.post(here, data=data).status_code == 302
    assert press(tester, db, claim, f"{here}/submit").status_code == 302
    db.expire_all()
    for read_before, version in (("", claim.version), (old, claim.version), (old, claim.version - 1)):
        answer = approver.post(f"{here}/approve", data={"version": str(version), "read": read_before, "discloses": "y"})
        assert answer.status_code == 409
    assert "What you read has changed since" in errors_of(
        approver.post(f"{here}/approve", data={"version": str(claim.version), "read": old, "discloses": "y"})
    )
    db.expire_all()
    assert claim.state == "submitted"
    assert approve(approver, db, pulled, claim).status_code == 302
    assert claim.sheet is not None
    assert claim.sheet.version_read == claim.version - 1


def test_an_approval_after_a_pull_was_judged_shows_the_gates_that_fail_by_now(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    claim = hand_in(tester, db, pulled)
    token = read(approver.get(f"{base(pulled)}/claim")).select_one("input[name=read]")["value"]
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    judged = {"counts": "no", "reason": "belt squeal heard"}
    assert send(tester, f"{base(pulled)}/pull/pulls/{pull.id}/judge", judged).status_code == 302  # type: ignore[union-attr]
    db.refresh(claim)
    data = {"version": str(claim.version), "read": token, "discloses": "y"}
    answer = approver.post(f"{base(pulled)}/claim/{claim.id}/approve", data=data)
    assert answer.status_code == 409
    assert "These gates are not met" in errors_of(answer)
    page = read(answer)
    assert page.select_one("h1").text == "Waiting for a second person: torque and power"
    assert page.select(".gates .is-failed")
    assert "A gate fails by now" in page.text
    assert page.select_one("input[name=read]") is None  # nothing to press that would be refused
    assert page.select_one(f"form[action$='/claim/{claim.id}/return']") is not None
    db.expire_all()
    assert claim.state == "submitted"


def test_facts_chosen_on_earlier_evidence_must_be_read_again(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    claim = hand_in(tester, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    send(tester, f"{base(pulled)}/pull/pulls/{pull.id}/judge", {"counts": "no", "reason": "slip"})  # type: ignore[union-attr]
    refused = approve(approver, db, pulled, claim)
    assert refused.status_code == 409
    assert "facts belong to the evidence" in errors_of(refused)
    press(approver, db, claim, f"{here}/return")
    db.expire_all()
    kept = {"version": str(claim.version), "fact": [line["fact"] for line in claim.lines], "do": "keep"}
    assert tester.post(here, data=kept).status_code == 302
    assert press(tester, db, claim, f"{here}/submit").status_code == 302
    assert approve(approver, db, pulled, claim).status_code == 302


def test_moving_facts_keeps_nothing_until_it_is_kept(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    claim = draft(tester, db, pulled)
    here = f"{base(pulled)}/claim/{claim.id}"
    page = read(tester.get(f"{base(pulled)}/claim"))
    order = [item["value"] for item in page.select("input[name=fact]")]
    required = next(key for key in order if key.startswith("loss"))
    moved = read(tester.post(here, data={"fact": order, "do": f"down:{order[0]}", "description": "Cast."}))
    assert [item["value"] for item in moved.select("input[name=fact]")][:2] == [order[1], order[0]]
    assert moved.select_one("#description").text.strip() == "Cast."
    assert "not kept yet" in moved.select_one(".flag").text
    out = read(tester.post(here, data={"fact": order, "do": f"out:{required}"}))
    assert required in [item["value"] for item in out.select("input[name=fact]")]  # a proven loss cannot go
    gone = read(tester.post(here, data={"fact": order, "do": f"out:{order[0]}"}))
    assert order[0] not in [item["value"] for item in gone.select("input[name=fact]")]
    db.expire_all()
    assert [line["fact"] for line in claim.lines] == order
    assert claim.version == 1


def test_a_sly_description_is_refused_beside_its_field_and_nothing_is_lost(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    claim = draft(tester, db, pulled)
    data = {"version": "1", "fact": [], "do": "keep", "description": "Cast, and worth ninety horses."}
    answer = tester.post(f"{base(pulled)}/claim/{claim.id}", data=data)
    assert answer.status_code == 422
    assert "“ninety” is a number" in errors_of(answer)
    assert "worth ninety horses" in read(answer).select_one("#description").text
    db.expire_all()
    assert claim.description == ""


def test_what_differed_needs_a_reason_and_makes_a_package(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, day_of_other_fuel: SimpleNamespace
) -> None:
    shop = day_of_other_fuel
    tester, approver = log_in("tester"), log_in("approver")
    state_approval(tester, shop)
    claim = draft(tester, db, shop)
    here = f"{base(shop)}/claim/{claim.id}"
    assert "what else differed has a reason" in errors_of(press(tester, db, claim, f"{here}/submit"))
    asked = f"{base(shop)}/weigh/differences"
    assert "98, May delivery" in read(tester.get(asked)).text
    sly = send(tester, asked, {"reason_fuel": "it made 20 hp more"})
    assert sly.status_code == 422
    assert "figures stand in the facts" in errors_of(sly)
    assert send(tester, asked, {"reason_fuel": "the tank ran dry"}).status_code == 302
    assert "the tank ran dry" in read(tester.get(f"{base(shop)}/weigh")).select_one(".differing").text
    assert press(tester, db, claim, f"{here}/submit").status_code == 302
    assert approve(approver, db, shop, claim).status_code == 302
    page = read(approver.get(f"/sheet/{claim.slug}"))
    assert "the package around the" in page.select_one(".statement-text").text
    assert "The result of a package" in page.select_one(".verdict-line").text
    assert "98, June delivery" in page.text


def test_a_sheet_of_typed_words_is_readable_marked_and_watched(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    """As the migration carries it over: shape 1, published on the key of its time."""
    found = gather(db, pulled.application)
    claim = verbs.draft_claim(db, backing(db, pulled.application, "torque"))
    told = content(reads.draft_of(db, pulled.application, claim))
    kept = {
        key: told[key]
        for key in told
        if key not in ("shape", "sentences", "facts", "setting", "differing", "description")
    }
    kept |= {"statement": "It gained 2 lb-ft.", "trade_off": "It lost some.", "svg": "<svg></svg>"}
    for number, act, who in ((2, "submitted", "tester"), (3, "published", "approver")):
        db.add(ClaimAct(claim_id=claim.id, number=number, act=act, by_id=pulled.people[who].id))
    old = ClaimSheet(claim_id=claim.id, shape=1, snapshot=kept, version_read=2, read="")
    old.evidence_key, old.approved_by_id = key_of_typed(found.sessions), pulled.people["approver"].id
    db.add(old)
    db.commit()
    viewer = log_in("viewer")
    page = read(viewer.get(f"/sheet/{claim.slug}"))
    assert "Published in an earlier form" in page.select_one(".flash").text
    assert page.select_one(".statement-text").text == "It gained 2 lb-ft."
    assert "It lost some." in page.text
    assert page.select_one(".is-stale") is None
    assert "It gained 2 lb-ft." in read(viewer.get(f"{base(pulled)}/claim")).text
    assert "evidence changed" not in viewer.get("/").get_data(as_text=True)
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    form = {"counts": "no", "reason": "slip"}
    send(log_in("tester"), f"{base(pulled)}/pull/pulls/{pull.id}/judge", form)  # type: ignore[union-attr]
    assert read(viewer.get(f"/sheet/{claim.slug}")).select_one(".is-stale") is not None
    assert "evidence changed" in viewer.get("/").get_data(as_text=True)


def test_the_reason_of_a_withdrawal_claims_nothing_either(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    claim = publish(log_in, db, pulled)
    address = f"{base(pulled)}/claim/{claim.id}/withdraw"
    sly = send(log_in("approver"), address, {"reason": "it really gained 90 hp"})
    assert sly.status_code == 422
    assert "“gained”" in errors_of(sly)
    assert send(log_in("approver"), address, {"reason": "rollers out of true"}).status_code == 302


def test_a_newer_claim_supersedes_the_published_one(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    first, second = publish(log_in, db, pulled), publish(log_in, db, pulled)
    db.expire_all()
    assert (first.state, second.state) == ("superseded", "published")
    note = read(log_in("viewer").get(f"/sheet/{first.slug}")).select_one(".withdrawn")
    assert note.select_one("a")["href"].endswith(f"/sheet/{second.slug}")


def test_changing_the_weather_changes_the_corrected_figures(
    tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    key = db.scalars(select(Verdict)).one().evidence_key
    page = tester.get(f"{base(pulled)}/pull")
    edit = read(page).select_one("a.after")["href"]
    form = {
        "held_on": "2026-05-14",
        "temperature": "30 C",
        "pressure": "990 hPa",
        "humidity": "60",
        "standard": "sae_j1349",
        "version": read(tester.get(edit)).select_one("#version")["value"],
    }
    assert tester.post(edit, data=form).status_code == 302
    db.expire_all()
    assert db.scalars(select(Verdict)).one().evidence_key != key


def test_excluded_readings_stay_in_the_record(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    trace = shop.traces["A"]
    data = {
        "lift": "2 mm",
        "range_id": shop.bench.ranges[1].id,
        "percent": "50",
        "direct_flow": "",
        "pressure": "25.4 inH2O",
    }
    tester.post(f"{base(shop)}/measure/traces/{trace.id}/desk", data=data)
    page = read(tester.get(f"{base(shop)}/measure"))
    assert "referred" in page.select_one(".ladder").text
    address = page.select_one(".ladder a.ghost")["href"]
    assert "Say why" in errors_of(send(tester, address, {"reason": " "}))
    send(tester, address, {"reason": "plug left out"})
    assert "No reading yet" in read(tester.get(f"{base(shop)}/measure")).select_one(".ladder").text
    db.expire_all()
    assert trace.readings[0].marks[0].reason == "plug left out"


def test_a_raw_file_comes_back_as_received(tester: FlaskClient, db: UnitOfWork, pulled: SimpleNamespace) -> None:
    pull = db.scalars(select(Pull).order_by(Pull.sequence)).first()
    assert pull is not None
    answer = tester.get(f"{base(pulled)}/pull/files/{pull.file.id}")
    assert hashlib.sha256(answer.data).hexdigest() == pull.file.sha256
    assert "attachment" in answer.headers["Content-Disposition"]
