"""Any order of clicks, forged forms and changed records: no published sheet says more than its evidence held when it was
approved, none holds words that its approver had not read or had written, and each says at once that its evidence changed."""

from __future__ import annotations

import re
import threading
from dataclasses import replace
from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test
from sqlalchemy import create_engine, select
from sqlalchemy.engine import make_url

from longbreath.app import create_app
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.gates.table import may_publish
from longbreath.core.claim.grammar import sentences
from longbreath.dossier import library
from longbreath.dossier import people as dossier_people
from longbreath.dossier.claim import reads
from longbreath.dossier.claim.backing import backing, backing_of
from longbreath.dossier.claim.sheet import content, digest
from longbreath.dossier.claim.verbs import state_approval
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.reasons import builds_of, give_reasons
from longbreath.dossier.plan import cards
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.records.cards import card_of, dynos
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.database import Database
from longbreath.store.models import Application, Claim, Pull
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import PASSWORD, RolledBack, copy_with
from tests.made import dyno_day
from tests.pages import Part, page_of

WRITERS = ("tester", "approver", "admin")
OVERRIDES = {"TESTING": True, "WTF_CSRF_ENABLED": False, "SECRET_KEY": "test", "DATABASE_URL": "unused"}
HOW = ("read", "twice", "unread", "old")
"""How an approver comes to approve: what the page shows, that twice, something forged, or what was shown before."""
DESCRIPTIONS = ("", "Cast in aluminium, with a gasket in the box.", "Adds ninety horses.", "Better everywhere: 40 hp.")


class Shop:
    """A shop with pulls, the clients of its people, and what each of them has had before them."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.app = create_app(OVERRIDES, database)
        with database.session() as db:
            shop = factories.shop_in(db)
            db.act_as(shop.people["tester"], shop.application.id)
            dyno_day.closed_course(db, shop.application, "all of them")
            db.commit()
            self.number = shop.application.id
        self.seen: dict[str, set[str]] = {role: set() for role in WRITERS}
        self.frozen: dict[int, str] = {}
        self.clients: dict[str, FlaskClient] = {}
        for role in WRITERS:
            self.clients[role] = self.app.test_client()
            self.clients[role].post("/account/login", data={"email": f"{role}@example.test", "password": PASSWORD})

    def act(self, db: UnitOfWork, role: str) -> SimpleNamespace:
        """The application as somebody acts on it."""
        person = next(p for p in dossier_people.everybody(db) if p.role == role)
        application = db.get(Application, self.number)
        db.act_as(person, self.number)
        return SimpleNamespace(application=application, person=person)

    def page(self, role: str) -> Part:
        """The page of claims as somebody reads it; what an approver could approve is remembered as read."""
        page = page_of(self.clients[role].get(f"/applications/{self.number}/claim").text)
        if (token := page.select_one("input[name=read]")) is not None:
            self.seen[role].add(str(token["value"]))
        return page

    def post(self, role: str, claim_id: int, action: str, data: dict[str, Any]) -> int:
        address = f"/applications/{self.number}/claim/{claim_id}{action}"
        return int(self.clients[role].post(address, data=data).status_code)


def gather_or_none(db: UnitOfWork, application: Any, claim: Claim) -> list[str]:
    """Keys of what may be said, nothing where the evidence cannot be weighed."""
    try:
        found = backing(db, application, claim.kind, claim.session_ids, claim.sources)
        return [fact.key for fact in found.facts if not fact.blocked]
    except EvidenceError:
        return []


def read_of(db: UnitOfWork, number: int, claim: Claim | None) -> str:
    """What a reader of a claim would have before them now."""
    application = db.get_one(Application, number)
    try:
        return digest(content(reads.draft_of(db, application, claim))) if claim is not None else ""
    except EvidenceError as error:
        return error.message


class ClaimMachine(RuleBasedStateMachine):
    """Clicks in any order by three people, all of whom may write and two of whom may approve."""

    engine: Any
    published = 0
    made_stale = 0
    refused = 0

    def __init__(self) -> None:
        super().__init__()
        self.connection = self.engine.connect()
        self.outer = self.connection.begin()
        self.shop = Shop(RolledBack(self.connection))
        self.days = 0
        self.rested_on: dict[int, tuple[str, str]] = {}

    def teardown(self) -> None:
        self.outer.rollback()
        self.connection.close()

    def _newest(self, db: UnitOfWork) -> Claim | None:
        return db.scalars(select(Claim).order_by(Claim.id.desc())).first()

    @initialize(role=st.sampled_from(WRITERS), out=st.booleans())
    def begin(self, role: str, out: bool) -> None:
        self.draft(role)
        self.hand_in("tester")
        if out:
            self.approve("approver", "read", prepared=False)

    @rule(role=st.sampled_from(WRITERS))
    def draft(self, role: str) -> None:
        self.shop.clients[role].post(f"/applications/{self.shop.number}/claim/draft")

    @rule(
        role=st.sampled_from(WRITERS),
        picks=st.lists(st.integers(0, 7), max_size=5),
        forged=st.booleans(),
        words=st.sampled_from(DESCRIPTIONS),
        phrasing=st.integers(-1, 3),
        do=st.sampled_from(["keep", "keep", "keep", "look", "out"]),
        late=st.booleans(),
    )
    def compose(
        self, role: str, picks: list[int], forged: bool, words: str, phrasing: int, do: str, late: bool
    ) -> None:
        with self.shop.database.session() as db:
            claim = self._newest(db)
            if claim is None:
                return
            known = [line["fact"] for line in claim.lines] or ["gain-torque-band-middle"]
            version = claim.version - late
        keys = [known[i % len(known)] for i in picks] + (["gain-power-peak", "gain-torque-band-moon"] if forged else [])
        data = {"version": str(version), "fact": keys, "description": words, "statement": "It gained 1,000 lb-ft."}
        data |= {f"phrasing-{key}": str(phrasing) for key in keys} | {f"short-{keys[0]}": "1"} if keys else {}
        self.shop.post(role, claim.id, "", {**data, "do": f"out:{known[0]}" if do == "out" else do})

    @rule(role=st.sampled_from(("admin", "approver")), change=st.integers(0, 3))
    def approve_while_it_changes(self, role: str, change: int) -> None:
        """Read, then something changes, then approve what was read."""
        self.hand_in("tester")
        page = self.shop.page(role).select_one("input[name=read]")
        if page is None:
            return
        changes = (
            lambda: self.judge(0, False, "tester"),
            lambda: self.build_sheet("95"),
            lambda: self.road_use("approved", "tester"),
            lambda: self.change_record("bands", 1.03),
        )
        with self.shop.database.session() as db:
            claim = self._newest(db)
            before = read_of(db, self.shop.number, claim)
        changes[change]()
        with self.shop.database.session() as db:
            changed = read_of(db, self.shop.number, self._newest(db)) != before
        if claim is not None and changed:
            data = {"version": str(claim.version), "read": str(page["value"]), "discloses": "y"}
            assert self.shop.post(role, claim.id, "/approve", data) != 302
            ClaimMachine.refused += 1

    @rule(role=st.sampled_from(WRITERS[:2]))
    def hand_in(self, role: str) -> None:
        """Do what the gates ask for, keep the choice on the evidence as it stands, and submit."""
        self.explain(role)
        self.road_use("closed_course", role)
        with self.shop.database.session() as db:
            claim = self._newest(db)
            ended = claim is None or claim.state in ("published", "withdrawn", "superseded")
        if ended:
            self.draft(role)
        with self.shop.database.session() as db:
            claim = self._newest(db)
            if claim is None or claim.sheet is not None:
                return
            data = {"version": str(claim.version), "fact": [line["fact"] for line in claim.lines], "do": "keep"}
            reading = self.shop.act(db, role).application
            claim_id, state, usual = claim.id, claim.state, gather_or_none(db, reading, claim)
        if state == "submitted":
            self.shop.post("approver", claim_id, "/return", {"version": data["version"]})
            data["version"] = str(int(str(data["version"])) + 1)
        data["fact"] = data["fact"] or usual
        self.shop.post(role, claim_id, "", data)
        with self.shop.database.session() as db:
            version = str(db.get_one(Claim, claim_id).version)
        self.shop.post(role, claim_id, "/submit", {"version": version})

    @rule(role=st.sampled_from(WRITERS), action=st.sampled_from(["/submit", "/submit", "/return", "/withdraw"]))
    def press(self, role: str, action: str) -> None:
        with self.shop.database.session() as db:
            claim = self._newest(db)
            if claim is not None:
                data = {"version": str(claim.version), "reason": "found faulty"}
        if claim is not None:
            self.shop.post(role, claim.id, action, data)

    @rule(role=st.sampled_from(("admin", "approver", "tester")), how=st.sampled_from(HOW), prepared=st.booleans())
    def approve(self, role: str, how: str, prepared: bool) -> None:
        if prepared:
            self.hand_in("tester")
        with self.shop.database.session() as db:
            claim = self._newest(db)
            if claim is None:
                return
            version = str(claim.version)
        earlier = sorted(self.shop.seen[role])
        page = self.shop.page(role) if how != "old" else None
        shown = page.select_one("input[name=read]") if page is not None else None
        token = {"unread": "f" * 64, "old": earlier[0] if earlier else ""}.get(
            how, str(shown["value"]) if shown else ""
        )
        data = {"version": version, "read": token, "discloses": "y"}
        first = self.shop.post(role, claim.id, "/approve", data)
        if how == "twice":
            assert self.shop.post(role, claim.id, "/approve", data) != 302
        if first == 302:
            ClaimMachine.published += 1
            self._just_published(claim.id)

    def _just_published(self, claim_id: int) -> None:
        """At the moment of approval: what the sheet says is what the evidence holds, all of it that must be said."""
        with self.shop.database.session() as db:
            claim = db.get(Claim, claim_id)
            assert claim is not None
            assert claim.sheet is not None
            application = db.get(Application, self.shop.number)
            assert application is not None
            found, told = gather(db, application, claim.session_ids), claim.sheet.snapshot
            backed = backing_of(db, application, claim)
            held = {fact.key: fact for fact in backed.facts if not fact.blocked}
            assert {f["key"] for f in told["facts"]} >= {key for key, fact in held.items() if fact.required}
            for said in told["facts"]:
                assert held[said["key"]].to_dict() == said
            draft = reads.draft_of(db, application, claim)
            assert may_publish(draft.gates)
            assert told["sentences"] == list(sentences(backed.setting, draft.said, claim.joined))
            assert ("package" in told["statement"]) == bool(found.builds.differing)
            assert all(item["reason"] for item in told["differing"])
            assert not found.builds.missing
            if found.is_boosted and not claim.sources.get("school"):
                assert not re.search(r"\b(gained|more)\b", told["statement"])
            assert claim.description in DESCRIPTIONS[:2]
            assert claim.sheet.evidence_key == draft.key
            self.rested_on[claim.id] = self._rested_on(db, claim)
            person = next(p for p in dossier_people.everybody(db) if p.id == claim.sheet.approved_by_id)
            assert claim.sheet.read in self.shop.seen[person.role]

    def judge(self, place: int, counts: bool, role: str) -> None:
        with self.shop.database.session() as db:
            here = self.shop.act(db, role)
            pulls = list(db.scalars(select(Pull).order_by(Pull.id)))
            pull_verbs.judge_pull(db, here.application, pulls[place % len(pulls)], counts, "slip heard")
            db.commit()

    def change_record(self, kind: str, amount: float) -> None:
        with self.shop.database.session() as db:
            here = self.shop.act(db, "tester")
            session = dyno_sessions(db, self.shop.number)[0]
            visit = replace(factories.VISIT, held_on=session.held_on)
            if kind in ("weather", "standard"):
                changed = (
                    replace(visit, temperature=294.15 * amount)
                    if kind == "weather"
                    else replace(visit, standard="none")
                )
                pull_verbs.change_session(db, here.application, session, changed)
            else:
                card = replace(factories.HERON, induction="turbo" if kind == "turbo" else "naturally aspirated")
                card = replace(card, band_top=card.band_top * amount) if kind == "bands" else card
                library.change_vehicle(db, here.application.vehicle, card)
            db.commit()

    def build_sheet(self, fuel: str) -> None:
        with self.shop.database.session() as db:
            here = self.shop.act(db, "tester")
            lines = {**factories.SAME, **factories.NEW, "fuel": fuel}
            before = next(s for s in factories.builds.sheets_of(db, self.shop.number) if s.label == "B")
            card = factories.builds.BuildCard(lines, factories.DAY, label="B", why="looked up again")
            factories.builds.add_sheet(db, here.application, card, before)
            db.commit()

    def explain(self, role: str) -> None:
        with self.shop.database.session() as db:
            here = self.shop.act(db, role)
            session = dyno_sessions(db, self.shop.number)[0]
            found = builds_of(db, self.shop.number, session.held_on, session.card.also_changed)
            give_reasons(db, here.application, found, {item.line: "the tank ran dry" for item in found.differing})
            db.commit()

    def next_card(self, also: str, crank: bool) -> None:
        with self.shop.database.session() as db:
            here = self.shop.act(db, "tester")
            card = card_of(db, self.shop.number)
            assert card is not None
            dyno = next((d for d in dynos(db) if d.measured_at == "crank"), None)
            dyno = dyno or library.add_dyno(db, library.DynoCard("Engine dyno", "crank", 0.4, "repeats"))
            number = dyno.id if crank else card.dyno_id
            held = "boost free" if here.application.vehicle.induction == "turbo" else ""
            cards.save_card(
                db, here.application, card, cards.CardDraft(number, "gear", also, 3, 2.0, control_mode=held)
            )
            db.commit()

    def another_session(self, pulls: bool) -> None:
        if self.days == 2:
            return
        self.days += 1
        with self.shop.database.session() as db:
            here = self.shop.act(db, "tester")
            card = card_of(db, self.shop.number)
            assert card is not None
            day = date(2026, 5, 14 + self.days)
            if pulls:
                dyno_day.pulled(db, here.application, card, 1000 * self.days, day)
            else:
                pull_verbs.open_session(db, here.application, card, replace(factories.VISIT, held_on=day))
            db.commit()

    def road_use(self, approval: str, role: str) -> None:
        with self.shop.database.session() as db:
            state_approval(db, self.shop.act(db, role).application, approval, "")
            db.commit()

    @rule(
        kind=st.sampled_from(
            (
                "judge",
                "judge",
                "bands",
                "turbo",
                "aspirated",
                "weather",
                "standard",
                "build",
                "explain",
                "card",
                "session",
                "road",
            )
        ),
        role=st.sampled_from(WRITERS),
        number=st.integers(0, 9),
        yes=st.booleans(),
    )
    def disturb(self, kind: str, role: str, number: int, yes: bool) -> None:
        """Change one of the records that a claim rests on."""
        if kind == "judge":
            self.judge(number, yes, role)
        elif kind == "build":
            self.build_sheet((factories.SAME["fuel"], "98, June delivery", "95")[number % 3])
        elif kind == "explain":
            self.explain(role)
        elif kind == "card":
            self.next_card("nothing" if yes else "the coolant", number > 6)
        elif kind == "session":
            self.another_session(yes)
        elif kind == "road":
            self.road_use(("closed_course", "unknown", "approved")[number % 3], role)
        else:
            self.change_record(kind, 0.95 + number / 100)

    def _rested_on(self, db: UnitOfWork, claim: Claim) -> tuple[str, str]:
        """The key of the evidence as it stands, and the road use: what here may change of all that a claim rests on."""
        application = db.get_one(Application, self.shop.number)
        try:
            return gather(db, application, claim.session_ids).key, application.approval
        except EvidenceError as error:
            return error.message, application.approval

    @invariant()
    def every_sheet_stands(self) -> None:
        with self.shop.database.session() as db:
            for claim in db.scalars(select(Claim)):
                if claim.sheet is None:
                    continue
                told = claim.sheet.snapshot
                assert claim.sheet.approved_by_id not in claim.writers
                content = {key: value for key, value in told.items() if key not in ("chart", "svg")}
                assert digest(content) == claim.sheet.read
                assert self.shop.frozen.setdefault(claim.id, digest(told)) == digest(told)
                page = page_of(self.shop.clients["tester"].get(f"/sheet/{claim.slug}").text)
                assert "1,000 lb-ft" not in page.text
                stale = page.select_one(".is-stale") is not None
                if claim.state == "published" and page.select_one(".withdrawn:not(.is-stale)") is None:
                    assert stale == (self._rested_on(db, claim) != self.rested_on[claim.id])
                    ClaimMachine.made_stale += stale


@pytest.mark.slow
def test_no_order_of_clicks_publishes_what_was_not_read_or_not_so(
    database_url: str, pytestconfig: pytest.Config
) -> None:
    ClaimMachine.engine = create_engine(
        copy_with("day_done", database_url, f"{make_url(database_url).database}_machine")
    )
    long = pytestconfig.getoption("--long")
    orders, clicks = (80, 30) if long else (6, 12)
    steps = settings(settings.get_profile("pinned"), max_examples=orders, stateful_step_count=clicks)
    run_state_machine_as_test(ClaimMachine, settings=steps)
    ClaimMachine.engine.dispose()
    assert ClaimMachine.published > 0  # or nothing was tried
    assert ClaimMachine.refused > 0
    assert ClaimMachine.made_stale > 0 or not long  # six orders of twelve clicks need not hold one


def test_two_approvers_at_once_publish_one_sheet(database_url: str) -> None:
    """Committed for real, on a database of its own: the second approval and a change in the same moment are told."""
    database = Database(copy_with("day_done", database_url, "longbreath_race"))
    shop = Shop(database)
    writer = shop.clients["tester"]
    writer.post(f"/applications/{shop.number}/claim/draft")
    with database.session() as db:
        claim_id = db.scalars(select(Claim.id)).one()
    assert shop.post("tester", claim_id, "/submit", {"version": "1"}) == 302
    tokens = {role: str(shop.page(role).select_one("input[name=read]")["value"]) for role in ("approver", "admin")}  # type: ignore[index]
    answers: list[tuple[str, int]] = []
    start = threading.Barrier(3)

    def approve(role: str) -> None:
        start.wait()
        answers.append((role, shop.post(role, claim_id, "/approve", {"version": "2", "read": tokens[role]})))

    def give_back() -> None:
        start.wait()
        answers.append(("back", shop.post("admin", claim_id, "/return", {"version": "2"})))

    threads = [threading.Thread(target=approve, args=(role,)) for role in tokens] + [threading.Thread(target=give_back)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    first, *others = sorted(status for _, status in answers)
    assert first == 302
    assert set(others) <= {409, 422}  # stale, or no longer submitted
    with database.session() as db:
        claim = db.get(Claim, claim_id)
        assert claim is not None
        assert [act.number for act in claim.acts] == [1, 2, 3]
        assert (claim.sheet is not None) == (claim.state == "published")
    database.engine.dispose()
