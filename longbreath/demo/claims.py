"""Claims of the demo: what stands around them, and how they are published."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from sqlalchemy import select

from longbreath.demo.days import work_day
from longbreath.dossier.bench.traces import main_pair, sessions_of
from longbreath.dossier.bench.verbs import exclude
from longbreath.dossier.claim import bundle, road, watch, words
from longbreath.dossier.claim.backing.register import backing, choices_of
from longbreath.dossier.claim.house import NotesCard, RulesCard, set_rules, write_notes
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.claim.sheet import content, digest
from longbreath.dossier.claim.verbs import approve_claim, draft_claim, state_approval, submit_claim, withdraw_claim
from longbreath.store.models import Application, Claim, User
from longbreath.store.secret import installation_secret
from longbreath.store.unit_of_work import UnitOfWork

HOUSE = "Windlass Airway Works"
NOTES = {
    "rules": "not recorded: ask the series before you fit it",
    "idle": "not recorded",
    "noise": "not recorded",
    "life": "look at the gaskets after the first heat; no failure known to the shop",
    "relation": "tested by the house that sells it, on its own dyno",
}
"""What the sheets of the demo say besides, where nothing else is known."""


def rules(db: UnitOfWork) -> None:
    """How the shop of the demo lets claims out."""
    set_rules(db, RulesCard(house=HOUSE, money="crowns"))


BROCHURE = """Gannet long-runner manifold for the Heron 2.0
Gains 2 lb-ft between 3000 and 5200 rpm, on our own dyno.
Up to twelve horsepower more at the top!
More torque everywhere, with no drawback.
Flows 30 % more than stock.
Parcel cast inlet elbow
Approved for the road in Northland on the 2012 to 2019 Drover.
Drops intake air temperature, and that is worth five horses.
Bittern downpipe 80 mm
Street legal, and quieter than stock.
"""
"""A page as a seller wrote it: some of it holds, much of it does not."""


def closed_course(db: UnitOfWork, application: Application, sold: str, **notes: str) -> None:
    """No approval is held; the part leaves emission devices alone; what the sheet says besides."""
    write_notes(db, application, NotesCard({**NOTES, "sold": sold, **notes}, "keeps"))
    state_approval(db, application, "closed_course", "")


def drafted(db: UnitOfWork, application: Application, kind: str, place: int = 0) -> Claim:
    """Draft a claim of a kind on what may back it, newest first."""
    choice = choices_of(db, application)[kind][place]
    return draft_claim(db, backing(db, application, kind, choice.session_ids, choice.sources))


def publish(db: UnitOfWork, application: Application, approver: User, kind: str, place: int = 0) -> Claim:
    """Draft, submit, and have a second person approve."""
    claim = drafted(db, application, kind, place)
    submit_claim(db, draft_of(db, application, claim))
    writer: Any = db.actor
    db.act_as(approver, application.id)
    read = draft_of(db, application, claim)
    listed = bundle.discloses(db, read)
    approve_claim(db, read, digest(content(read)))
    bundle.ask(db, claim, listed, "")
    db.act_as(writer, application.id)
    return claim


def story(db: UnitOfWork, tester: User, approver: User, today: date) -> None:
    """Claims in every state: published, superseded, questioned, withdrawn, waiting, drafted."""
    by_name = {a.product.name: a for a in db.scalars(select(Application))}
    _gannet(db, tester, approver, by_name["Gannet long-runner manifold"])
    _parcel(db, tester, approver, by_name["Parcel cast inlet elbow"], today)
    _bittern(db, tester, approver, by_name["Bittern downpipe 80 mm"])
    work_day(db, date(2026, 11, 20))
    wrong = by_name["Petrel 70 mm throttle body"]
    db.act_as(tester, wrong.id)
    drafted(db, wrong, "torque")
    work_day(db, today)
    watch.look(db)
    db.act_as(tester)
    words.save_text(db, "Winter brochure, page 4", BROCHURE)


def _gannet(db: UnitOfWork, tester: User, approver: User, application: Application) -> None:
    """The manifold: its first sheet drafted anew, its airflow, and a fit that did not hold."""
    work_day(db, date(2026, 5, 20))
    db.act_as(tester, application.id)
    publish(db, application, approver, "airflow")
    work_day(db, date(2026, 6, 2))
    fits = publish(db, application, approver, "fitment")
    work_day(db, date(2026, 8, 4))
    db.act_as(approver, application.id)
    withdraw_claim(db, fits, "a customer found another strut bar on the same vehicle; to be looked at again")
    work_day(db, date(2026, 11, 17))
    db.act_as(tester, application.id)
    for code, covers, reason in (
        ("BH20-A", "direct", ""),
        ("BH20-C", "reasoned", "the same head, cam and throttle by the maker’s parts list; another alternator"),
        ("BH20-T", "not covered", ""),
    ):
        card = road.VehicleCard("Brackwater", "Heron 2.0", 2013, 2018, code, covers, reason)
        road.cover_vehicle(db, application, card)
    publish(db, application, approver, "torque")


def _parcel(db: UnitOfWork, tester: User, approver: User, application: Application, today: date) -> None:
    """The elbow: approved in one market; its airflow questioned since a reading was taken out; a fuel claim that stays a draft."""
    work_day(db, date(2026, 11, 3))
    db.act_as(tester, application.id)
    road.add_certificate(
        db,
        application,
        road.CertificateCard(
            "emissions",
            "NL-4471",
            "Northland",
            2012,
            2019,
            date(2031, 6, 30),
            "inlet elbow, part number PE-B, with the stock air box",
            "any change of the air box",
            "folder 14",
        ),
    )
    write_notes(db, application, NotesCard({**NOTES, "sold": "castings of pattern B", "rules": "no series"}, "keeps"))
    state_approval(db, application, "approved", "")
    flows = publish(db, application, approver, "airflow")
    bundle.make(db, flows, "", sealer(installation_secret()), lambda share, words: None)
    work_day(db, date(2026, 11, 5))
    publish(db, application, approver, "temperature")
    work_day(db, date(2026, 11, 9))
    drafted(db, application, "fuel")
    work_day(db, today - timedelta(days=2))
    session = sessions_of(db, application.id)[0]
    _, trace = main_pair(session)
    assert trace is not None
    reading = [r for r in trace.readings if r.counts][-1]
    exclude(db, reading, "the gasket was found torn afterwards")
    watch.look(db)


def _bittern(db: UnitOfWork, tester: User, approver: User, application: Application) -> None:
    """The larger downpipe: it takes the place of the catalyst. Response and mass are out, equal boost waits for a second person."""
    work_day(db, date(2026, 11, 18))
    db.act_as(tester, application.id)
    notes = {**NOTES, "sold": "welded ones from BD80-005 on", "life": "retorque the collar after the first heat"}
    write_notes(db, application, NotesCard(notes, "removes"))
    state_approval(db, application, "closed_course", "")
    publish(db, application, approver, "mass")
    publish(db, application, approver, "response")
    submit_claim(db, draft_of(db, application, drafted(db, application, "torque", 1)))
