"""What anybody may read: no log-in, no cookie, nothing internal; it says at once how a claim stands."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Callable
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any
from xml.etree import ElementTree

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.demo import office
from longbreath.demo.days import work_day
from longbreath.dossier.claim import bundle, road, watch
from longbreath.dossier.claim.house import set_rules
from longbreath.dossier.claim.keys import add_key
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.records.house import RulesCard
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.models import Claim
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import read
from tests.made import dyno_day

SEAL = sealer("test")


def quiet(share: float, words: str) -> None:
    """Tell nobody."""


@pytest.fixture
def claim(db: UnitOfWork, day_published: SimpleNamespace) -> Claim:
    """A published claim."""
    return db.scalars(select(Claim)).one()


@pytest.fixture
def bundled(db: UnitOfWork, claim: Claim) -> Claim:
    """A published claim with its bundle."""
    bundle.make(db, claim, "", SEAL, quiet)
    db.commit()
    return claim


@pytest.fixture
def anybody(app: Any) -> FlaskClient:
    """Somebody who is not logged in."""
    return app.test_client()  # type: ignore[no-any-return]


def doubt(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """Take a pull out of the evidence."""
    db.act_as(shop.people["tester"], shop.application.id)
    pull = dyno_sessions(db, shop.application.id)[0].full_pulls[0]
    pull_verbs.judge_pull(db, shop.application, pull, False, "slip heard")
    db.commit()


ADDRESSES = ("", "/printed.pdf", "/bundle.zip", "/badge.svg", "/code.svg", "/state.json", "/embed")
HOUSE = (
    "/claims",
    "/claims.json",
    "/claims.csv",
    "/claims.atom",
    "/claims/keys.json",
    "/claims/context.jsonld",
    "/claims/check",
)


def test_public_pages_set_no_cookie_and_may_be_kept(anybody: FlaskClient, bundled: Claim) -> None:
    for path in (*(f"/sheet/{bundled.slug}{more}" for more in ADDRESSES), *HOUSE):
        answer = anybody.get(path)
        assert answer.status_code == 200, path
        assert "Set-Cookie" not in answer.headers, path
        if path != "/claims/check":
            tag = answer.headers["ETag"]
            assert "public" in answer.headers["Cache-Control"]
            again = anybody.get(path, headers={"If-None-Match": tag})
            assert again.status_code == 304, path
            assert again.data == b""


def test_nothing_internal_leaks(anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace) -> None:
    secret = factories.add_part(db, "Secret prototype 9")
    from longbreath.dossier import coverage

    coverage.open_application(db, shop.application.vehicle_id, secret.id, shop.application.stock_revision_id)
    db.commit()
    for path in (f"/sheet/{claim.slug}", f"/sheet/{claim.slug}/state.json", *HOUSE):
        text = anybody.get(path).get_data(as_text=True)
        assert "Secret" not in text
        assert "/applications/" not in text
        assert "example.test" not in text.replace("house.example.test", "")
        assert "Traceback" not in text
    for path in ("/sheet/none", "/sheet/none/bundle.zip", "/sheet/none/badge.svg", "/sheet/../etc/passwd"):
        assert anybody.get(path).status_code == 404


def test_the_sheet_carries_structured_data_that_says_how_it_stands(
    anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    def data() -> dict[str, Any]:
        page = read(anybody.get(f"/sheet/{claim.slug}"))
        return json.loads(page.select_one('script[type="application/ld+json"]').string)  # type: ignore[no-any-return]

    told = data()
    assert told["@type"] == "Claim"
    assert told["text"] == claim.sheet.snapshot["statement"]  # type: ignore[union-attr]
    known = json.loads(anybody.get("/claims/context.jsonld").data)["@context"]
    assert {key for key in told if not key.startswith("@")} <= set(known)
    doubt(db, shop)
    assert "text" not in data()
    assert data()["creativeWorkStatus"] == "Questioned"


def test_evidence_that_changes_turns_sheet_badge_feed_and_state_at_once(
    anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    here = f"/sheet/{claim.slug}"
    tag = anybody.get(here).headers["ETag"]
    assert "measured, and holds" in anybody.get(f"{here}/badge.svg").get_data(as_text=True)
    doubt(db, shop)
    page = read(anybody.get(here, headers={"If-None-Match": tag}))
    note = page.select_one(".is-stale").text
    assert "a pull was taken out" in note
    assert "It would read now: On the Brackwater Heron 2.0" in note
    assert "the claim is withdrawn by itself" in note
    assert "evidence changed" in anybody.get(f"{here}/badge.svg").get_data(as_text=True)
    state = json.loads(anybody.get(f"{here}/state.json").data)
    assert (state["standing"], state["statement"]) == ("questioned", "")
    (row,) = json.loads(anybody.get("/claims.json").data)["claims"]
    assert row["standing"] == "questioned"
    assert row["statement"] == ""
    assert "questioned" in anybody.get(f"{here}/embed").get_data(as_text=True)
    assert "<blockquote>" not in anybody.get(f"{here}/embed").get_data(as_text=True)


@pytest.mark.usefixtures("bundled")
def test_the_clock_runs_out_by_itself_and_the_address_keeps_answering(
    anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    day = date(2026, 6, 1)
    work_day(db, day)
    doubt(db, shop)
    assert watch.look(db) == 1
    assert watch.look(db) == 0
    asked = claim.question
    assert asked is not None
    assert asked.by_name == "Long Breath"
    assert asked.due_on == day + timedelta(days=14)
    work_day(db, day + timedelta(days=13))
    assert watch.look(db) == 0
    work_day(db, day + timedelta(days=14))
    assert watch.look(db) == 1
    assert claim.state == "withdrawn"
    db.commit()
    page = read(anybody.get(f"/sheet/{claim.slug}"))
    assert "nobody answered in time" in page.select_one(".withdrawn").text
    assert anybody.get(f"/sheet/{claim.slug}/bundle.zip").status_code == 200
    assert watch.look(db) == 0


def test_evidence_that_is_as_it_was_again_ends_the_question(
    db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    work_day(db, date(2026, 6, 1))
    set_rules(db, RulesCard(at_once=()))
    road.add_certificate(db, shop.application, road.CertificateCard("noise", "N-1", "Northland", 2013, 2018))
    assert watch.standing_of(db, [claim])[claim.id].holds  # a certificate more takes nothing away
    doubt(db, shop)
    watch.look(db)
    assert claim.question is not None
    pull = dyno_sessions(db, shop.application.id)[0].full_pulls[0]
    pull_verbs.judge_pull(db, shop.application, pull, True, "the slip was of another day")
    changed = watch.standing_of(db, [claim])[claim.id].changed
    assert changed == "" or "pull" in changed


def test_an_urgent_cause_withdraws_at_once_and_so_says_the_sheet_before_anybody_wrote_it_down(
    anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["admin"])
    set_rules(db, RulesCard(at_once=("pulls",)))
    doubt(db, shop)
    page = read(anybody.get(f"/sheet/{claim.slug}"))
    assert "withdrawn at once" in page.select_one(".withdrawn").text
    assert json.loads(anybody.get(f"/sheet/{claim.slug}/state.json").data)["standing"] == "withdrawn"
    watch.look(db)
    assert claim.state == "withdrawn"


def test_a_certificate_that_runs_out_withdraws_what_rests_on_it(db: UnitOfWork, shop: SimpleNamespace) -> None:
    from longbreath.dossier.claim.verbs import state_approval

    db.act_as(shop.people["tester"], shop.application.id)
    work_day(db, date(2026, 6, 1))
    factories.add_builds(db, shop.application)
    dyno_day.pulled(db, shop.application, shop.card)
    work_day(db, date(2026, 6, 1))
    dyno_day.closed_course(db, shop.application, "all of them")
    card = road.CertificateCard("emissions", "EO-1", "Northland", 2013, 2018, date(2026, 7, 1))
    road.add_certificate(db, shop.application, card)
    state_approval(db, shop.application, "approved", "")
    made = office.publish(db, shop.application, shop.people["approver"], "torque")
    assert "EO-1" in made.sheet.snapshot["certificates"][0]  # type: ignore[union-attr]
    assert watch.standing_of(db, [made], date(2026, 7, 1))[made.id].holds
    late = watch.standing_of(db, [made], date(2026, 7, 2))[made.id]
    assert late.state == "withdrawn"
    assert "a certificate ran out" in late.why


def test_feeds_are_read_by_other_programs(anybody: FlaskClient, db: UnitOfWork, bundled: Claim) -> None:
    rows = list(csv.DictReader(io.StringIO(anybody.get("/claims.csv").get_data(as_text=True))))
    assert [row["standing"] for row in rows] == ["published"]
    assert rows[0]["sheet"].endswith(bundled.slug)
    feed = ElementTree.fromstring(anybody.get("/claims.atom").data)
    name = "{http://www.w3.org/2005/Atom}"
    (entry,) = feed.findall(f"{name}entry")
    assert entry.find(f"{name}title").text.endswith(": published")  # type: ignore[union-attr]
    assert feed.find(f"{name}updated").text  # type: ignore[union-attr]
    (key,) = json.loads(anybody.get("/claims/keys.json").data)["keys"]
    assert re.fullmatch("[0-9a-f]{64}", key["public_key"])
    add_key(db, SEAL)
    db.commit()
    assert [
        k["public_key"] == key["public_key"] for k in json.loads(anybody.get("/claims/keys.json").data)["keys"]
    ] == [False, True]


def test_the_index_filters_by_vehicle_and_part(anybody: FlaskClient, claim: Claim) -> None:
    assert claim.slug in anybody.get("/claims").get_data(as_text=True)
    assert claim.slug not in anybody.get("/claims?vehicle=Another").get_data(as_text=True)


@pytest.mark.slow
def test_a_bundle_is_checked_on_a_page_by_anybody(anybody: FlaskClient, bundled: Claim) -> None:
    data = anybody.get(f"/sheet/{bundled.slug}/bundle.zip").data
    page = read(anybody.post("/claims/check", data={"bundle": (io.BytesIO(data), "b.zip")}))
    assert page.select_one("h1").text == "Everything agrees."
    assert "Signed by the house" in page.text
    changed = bytearray(data)
    changed[data.find(b"speed_rpm,") + 400] ^= 1
    page = read(anybody.post("/claims/check", data={"bundle": (io.BytesIO(bytes(changed)), "b.zip")}))
    assert page.select_one("h1").text == "It does not hold."
    assert "data/curves.csv was changed" in page.text
    nothing = anybody.post("/claims/check", data={})
    assert nothing.status_code == 422
    assert "Choose a bundle" in read(nothing).select_one(".error").text


def test_withdrawn_and_superseded_sheets_say_what_replaces_them(
    log_in: Callable[[str], FlaskClient], anybody: FlaskClient, db: UnitOfWork, claim: Claim, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    newer = office.publish(db, shop.application, shop.people["approver"], "torque")
    db.commit()
    note = read(anybody.get(f"/sheet/{claim.slug}")).select_one(".withdrawn")
    assert "superseded" in note.text
    assert note.select_one("a")["href"].endswith(newer.slug)
    assert json.loads(anybody.get(f"/sheet/{claim.slug}/state.json").data)["newer"].endswith(newer.slug)
    assert "superseded" in anybody.get(f"/sheet/{claim.slug}/badge.svg").get_data(as_text=True)
