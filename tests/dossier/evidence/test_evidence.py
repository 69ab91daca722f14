"""Which evidence counts, what identifies it, and that nothing else takes its place."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import select

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.case.case import digest_of
from longbreath.dossier import health, library, owed
from longbreath.dossier.case.tests import test_of as seen_test
from longbreath.dossier.evidence import reasons as builds_of
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.verdict import renew, renew_changed
from longbreath.dossier.plan import cards
from longbreath.dossier.pull import tuning
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.base import now
from longbreath.store.models import Dyno, DynoScatter, Pull, TestEngine, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.made import dyno_day

LATER = date(2026, 6, 1)


def key(db: UnitOfWork, pulled: SimpleNamespace) -> str:
    db.flush()
    ids = [s.id for s in dyno_sessions(db, pulled.application.id)]
    return digest_of(seen_test(db, pulled.application, ids))


def states(db: UnitOfWork, pulled: SimpleNamespace) -> dict[str, str]:
    number = pulled.application.id
    return {step.name: step.state for step in owed.summaries(db, [number])[number].steps}


def test_the_kept_verdict_is_that_of_the_evidence_and_goes_with_it(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    kept, found = db.scalars(select(Verdict)).one(), gather(db, pulled.application)
    assert kept.evidence_key == found.key == key(db, pulled)
    assert kept.session_ids == found.session_ids
    assert [band["value"] for band in kept.bands] == pytest.approx([b.effect.value for b in found.weighing.bands])
    for pull in db.scalars(select(Pull).where(Pull.label == "B")):
        pull_verbs.judge_pull(db, pulled.application, pull, False, "fuel ran low")
    assert db.scalars(select(Verdict)).first() is None
    with pytest.raises(EvidenceError, match="two valid pulls of A and two of B"):
        gather(db, pulled.application)


def scatter(pulled: SimpleNamespace, session: Any, pull: float) -> DynoScatter:
    known = {"pulls": 12, "sets": 4, "visits": 2}
    return DynoScatter(
        dyno_id=pulled.card.dyno_id,
        from_day=session.held_on,
        key="k",
        pull=pull,
        pull_df=20.0,
        fitting_df=0.0,
        day_df=0.0,
        working=known,
    )


CHANGES: dict[str, Any] = {
    "temperature": lambda db, p, s: setattr(s, "temperature", 300.0),
    "pressure": lambda db, p, s: setattr(s, "pressure", 99000.0),
    "humidity": lambda db, p, s: setattr(s, "humidity", 0.2),
    "standard": lambda db, p, s: setattr(s, "standard", "din_70020"),
    "in the files": lambda db, p, s: setattr(s, "already_corrected", True),
    "gear": lambda db, p, s: setattr(s, "gear", "3rd gear"),
    "band": lambda db, p, s: setattr(p.application.vehicle, "band_top", p.application.vehicle.band_top * 1.05),
    "induction": lambda db, p, s: setattr(p.application.vehicle, "induction", "turbo"),
    "dyno": lambda db, p, s: setattr(p.card.dyno, "repeatability", 2.5),
    "a build sheet": lambda db, p, s: factories.builds.add_sheet(
        db, p.application, factories.builds.BuildCard({"part": "new"}, factories.DAY, "another", "B")
    ),
    "where torque is measured": lambda db, p, s: setattr(p.card.dyno, "measured_at", "crank"),
    "band low": lambda db, p, s: setattr(p.application.vehicle, "band_low", p.application.vehicle.band_low * 0.95),
    "band middle": lambda db, p, s: setattr(
        p.application.vehicle, "band_middle", p.application.vehicle.band_middle * 1.05
    ),
    "band end": lambda db, p, s: setattr(p.application.vehicle, "band_end", p.application.vehicle.band_end * 0.99),
    "scatter of sets": lambda db, p, s: setattr(p.card.dyno, "fitting_repeatability", 0.9),
    "scatter on record": lambda db, p, s: db.add(scatter(p, s, 1.0)),
    "scatter of another": lambda db, p, s: db.add(scatter(p, s, 1.2)),
    "what people said of a pull": lambda db, p, s: put_conditions(db, s, {("A", "operator"): "somebody else"}),
    "a round of tuning": lambda db, p, s: tuning.record_round(db, s, tuning.RoundCard("A", "map", "two steps richer")),
    "a finding on the engine": lambda db, p, s: health.add_entry(
        db,
        health.Carrier(engine=db.get(TestEngine, s.engine_id)),
        health.HealthCard(factories.DAY, "plugs", (), "one wet", finding=True),
    ),
    "a judgement": lambda db, p, s: pull_verbs.judge_pull(db, p.application, s.pulls[0], False, "slip"),
}


@pytest.mark.parametrize("what", CHANGES)
def test_everything_that_counts_is_in_the_key(db: UnitOfWork, pulled: SimpleNamespace, what: str) -> None:
    (session,) = dyno_sessions(db, pulled.application.id)
    engine = TestEngine(serial="E-1", what="Heron 2.0", version=1)
    db.add(engine)
    db.flush()
    session.engine_id = engine.id
    before = key(db, pulled)
    CHANGES[what](db, pulled, session)
    assert key(db, pulled) != before


def test_a_newer_scatter_on_record_makes_another_key(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    (session,) = dyno_sessions(db, pulled.application.id)
    CHANGES["scatter on record"](db, pulled, session)
    before = key(db, pulled)
    CHANGES["scatter on record"](db, pulled, session)
    assert key(db, pulled) == before, "it says the same"
    CHANGES["scatter of another"](db, pulled, session)
    assert key(db, pulled) != before


@pytest.mark.parametrize(
    "card",
    [
        factories.builds.BuildCard({"part": "x"}, factories.DAY, "a spare car", ""),
        factories.builds.BuildCard({"part": "x"}, LATER, "after the test", "B"),
    ],
)
def test_what_does_not_count_is_not_in_the_key(db: UnitOfWork, pulled: SimpleNamespace, card: Any) -> None:
    before = key(db, pulled)
    factories.builds.add_sheet(db, pulled.application, card)
    assert key(db, pulled) == before


def test_a_pull_that_a_person_counted_against_its_checks_is_named(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """Its first judgement, the software's own, said otherwise; one that a person took out and in again was never against a check."""
    (session,) = dyno_sessions(db, pulled.application.id)
    rich = next(pull for pull in session.pulls if not pull.is_valid)
    pull_verbs.judge_pull(db, pulled.application, rich, True, "the meter’s plug was loose")
    fine = session.pulls[0]
    for valid in (False, True):
        pull_verbs.judge_pull(db, pulled.application, fine, valid, "looked at again")
    assert [p.place for p in gather(db, pulled.application).overruled] == [rich.sequence]


def test_a_later_session_that_is_empty_or_too_short_takes_nothing_over(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """Held earlier is not newer; an empty visit, or one of a single pull, weighs nothing and leaves the verdict alone."""
    (first,) = dyno_sessions(db, pulled.application.id)
    dyno_day.pulled(db, pulled.application, pulled.card, 300, first.held_on - timedelta(days=30))
    visit = replace(factories.VISIT, held_on=LATER)
    pull_verbs.open_session(db, pulled.application, pulled.card, visit)
    dyno_day.pulled(db, pulled.application, pulled.card, 500, LATER)
    newest = max(dyno_sessions(db, pulled.application.id), key=lambda s: (s.held_on, s.id))
    for pull in newest.pulls[1:]:
        pull_verbs.judge_pull(db, pulled.application, pull, False, "another fuel")
    assert len(dyno_sessions(db, pulled.application.id)) == 4
    earlier = min(dyno_sessions(db, pulled.application.id), key=lambda s: s.held_on)
    found = gather(db, pulled.application)
    assert found.session_ids == [newest.id, first.id, earlier.id]
    assert found.weighing.comparison.either_way  # all but one of it are out on one person’s word
    renew(db, pulled.application)
    assert db.scalars(select(Verdict)).one().session_ids == [newest.id, first.id, earlier.id]
    assert [states(db, pulled)[step] for step in ("pull", "weigh")] == [owed.OWED, owed.DONE]


def test_while_nothing_can_be_weighed_the_newest_session_with_pulls_is_counted(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    dyno_day.pulled(db, pulled.application, pulled.card, 500, LATER)
    for pull in db.scalars(select(Pull).where(Pull.label == "B")):
        pull_verbs.judge_pull(db, pulled.application, pull, False, "another fuel")
    newest, earlier = dyno_sessions(db, pulled.application.id)
    assert newest.held_on > earlier.held_on
    for pull in earlier.pulls[:2]:
        pull_verbs.judge_pull(db, pulled.application, pull, False, "slip")
    pull_verbs.open_session(db, pulled.application, pulled.card, replace(factories.VISIT, held_on=LATER))
    found = owed.summaries(db, [pulled.application.id])[pulled.application.id]
    assert (found.verdict, found.steps[3].owed) == (None, "valid pulls: 3 of B")
    assert found.steps[3].figure == f"{len(newest.pulls)} taken, 4 out"


def test_sessions_that_are_named_are_weighed_and_no_others(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    dyno_day.pulled(db, pulled.application, pulled.card, 500, LATER)
    newest, first = dyno_sessions(db, pulled.application.id)
    assert gather(db, pulled.application, [first.id]).session_ids == [first.id]
    both = gather(db, pulled.application, [first.id, newest.id])
    assert not both.setting.one_session
    assert (both.setting.back_to_back, both.setting.days) == (True, 2)
    with pytest.raises(EvidenceError, match="no pulls"):
        gather(db, pulled.application, [999999])


def test_a_card_with_pulls_stays_and_what_is_written_next_is_the_next_card(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    before = key(db, pulled)
    crank = library.add_dyno(db, library.DynoCard("Engine dyno", "crank", 0.4, "repeats"))
    empty = pull_verbs.open_session(db, pulled.application, pulled.card, replace(factories.VISIT, held_on=LATER))
    draft = cards.CardDraft(crank.id, "gear", "the fuel", 3, 2.0)
    following = cards.save_card(db, pulled.application, pulled.card, draft)
    assert following.id != pulled.card.id
    assert (pulled.card.also_changed, pulled.card.dyno.measured_at) == ("nothing", "wheel")
    assert empty.card_id == following.id  # nothing was recorded there yet
    ids = gather(db, pulled.application).session_ids
    assert digest_of(seen_test(db, pulled.application, ids)) == before
    again = cards.save_card(db, pulled.application, following, replace(draft, held="gear, oil"))
    assert again.id == following.id  # no pulls yet: it is only changed
    assert gather(db, pulled.application).setting.at == "wheel"


def test_wheel_and_crank_are_never_mixed(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    crank = library.add_dyno(db, library.DynoCard("Engine dyno", "crank", 0.4, "repeats"))
    draft = cards.CardDraft(crank.id, "gear", "nothing", 3, 2.0)
    card = cards.save_card(db, pulled.application, pulled.card, draft)
    dyno_day.pulled(db, pulled.application, card, 700, LATER)
    ids = [s.id for s in dyno_sessions(db, pulled.application.id)]
    with pytest.raises(EvidenceError, match="never mixed"):
        gather(db, pulled.application, ids)


def test_bands_that_change_are_weighed_anew(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    kept = db.scalars(select(Verdict)).one()
    before = kept.evidence_key
    moved = replace(factories.HERON, band_top=factories.HERON.band_top * 1.1)
    library.change_vehicle(db, pulled.application.vehicle, moved)
    assert kept.evidence_key != before
    assert states(db, pulled)["weigh"] == owed.DONE
    db.get(Dyno, pulled.card.dyno_id).repeatability = 3.0  # type: ignore[union-attr]
    db.flush()
    assert states(db, pulled)["weigh"] == owed.STALE  # whatever changed without a word is seen by its key


def test_a_verdict_of_another_key_is_made_anew(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """As after a migration by which the key is made of more."""
    kept = db.scalars(select(Verdict)).one()
    right, kept.evidence_key = kept.evidence_key, "of an earlier version"
    db.flush()
    assert states(db, pulled)["weigh"] == owed.STALE
    assert renew_changed(db) == 1
    assert kept.evidence_key == right
    assert states(db, pulled)["weigh"] == owed.DONE
    assert renew_changed(db) == 0


def test_bands_that_are_chosen_after_the_pulls_promise_less(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """They could have been picked by eye: the intervals take the critical value of the whole curve."""
    vehicle, before = pulled.application.vehicle, gather(db, pulled.application)
    db.clock = now
    library.change_vehicle(db, vehicle, replace(factories.HERON, market="elsewhere"))
    assert not gather(db, pulled.application).late_bands  # another line of the vehicle is no band
    library.change_vehicle(db, vehicle, replace(factories.HERON, band_top=factories.HERON.band_top * 1.01))
    library.change_vehicle(db, vehicle, factories.HERON)
    after = gather(db, pulled.application)
    assert after.late_bands
    assert after.key != before.key
    for one, other in zip(before.weighing.bands, after.weighing.bands, strict=True):
        assert other.effect.value == one.effect.value
        critical = after.weighing.comparison.critical * one.effect.standard_error
        assert other.effect.half_width == max(one.effect.half_width, critical)
    assert after.weighing.bands[0].effect.half_width > before.weighing.bands[0].effect.half_width


def test_other_sessions_are_named(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    dyno_day.pulled(db, pulled.application, pulled.card, 500, LATER)
    first = dyno_sessions(db, pulled.application.id)[1]
    assert gather(db, pulled.application, [first.id]).others == ("1 Jun 2026: not chosen here",)
    assert gather(db, pulled.application).others == ()


def test_what_differs_is_told_by_the_sheets_of_the_day_and_by_the_card(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    number, day = shop.application.id, factories.DAY
    assert builds_of.builds_of(db, number, day).missing == ("A", "B")
    factories.add_builds(db, shop.application, fuel="98, June delivery", exhaust="open", part_state="as cast")
    found = builds_of.builds_of(db, number, day, "the coolant")
    assert [(d.line, d.a, d.b) for d in found.differing] == [
        ("fuel", "98, May delivery", "98, June delivery"),
        ("exhaust", "not recorded", "open"),
        ("card", "", "the coolant"),
    ]
    assert ("Bonnet, fan, air feed", "shut") in found.same
    assert "Tyres and pressure" in found.silent
    assert found.vehicles == ("shop Heron, mark 41", "shop Heron, mark 41")
    assert builds_of.builds_of(db, number, day - timedelta(days=1)).missing == ("A", "B")
    assert builds_of.builds_of(db, number, day, "Nothing.").differing == found.differing[:2]


def test_a_reason_belongs_to_the_difference_it_was_given_for(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    factories.add_builds(db, shop.application, fuel="98, June delivery")

    def now() -> Any:
        return builds_of.builds_of(db, shop.application.id, factories.DAY)

    assert builds_of.give_reasons(db, shop.application, now(), {"fuel": " the tank  ran dry "}) == 1
    assert [d.reason for d in now().differing] == ["the tank ran dry"]
    assert builds_of.give_reasons(db, shop.application, now(), {"fuel": "the tank ran dry"}) == 0
    with pytest.raises(InputError, match="“gained” compares") as refused:
        builds_of.give_reasons(db, shop.application, now(), {"fuel": "it gained more"})
    assert refused.value.field == "reason_fuel"
    with pytest.raises(InputError, match="do not differ"):
        builds_of.give_reasons(db, shop.application, now(), {"bonnet": "x"})
    card = factories.builds.BuildCard({**factories.SAME, "fuel": "95"}, factories.DAY, why="another batch")
    newest = factories.builds.sheets_of(db, shop.application.id)[0]
    factories.builds.add_sheet(db, shop.application, replace(card, label="B"), newest)
    assert [(d.b, d.reason) for d in now().differing] == [("95", "")]  # another difference wants its own reason
