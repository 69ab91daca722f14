"""What is kept of a dossier is kept only while nothing of it changes, and never from within a change that may be undone."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from types import SimpleNamespace

import pytest
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from longbreath.dossier import coverage, library
from longbreath.dossier.evidence.verdict import renew
from longbreath.dossier.owed import summaries
from longbreath.dossier.remembered import Remembered
from longbreath.store.database import Database
from longbreath.store.models import Application, CardPair, TestCard, Vehicle, Verdict
from longbreath.store.stamps import stamps_of
from longbreath.store.unit_of_work import working
from tests import factories
from tests.conftest import shop_on
from tests.databases import ready
from tests.made import dyno_day


@pytest.fixture(scope="module")
def place(database_url: str) -> Iterator[SimpleNamespace]:
    """A shop whose changes are kept."""
    database = Database(ready(database_url, "longbreath_stamps"))
    shop = shop_on(database)
    yield SimpleNamespace(database=database, application=shop.application.id, tester=shop.people["tester"])
    database.engine.dispose()


def stamp(place: SimpleNamespace) -> str:
    with place.database.session() as work:
        found = stamps_of(work, [place.application])
    assert found is not None
    return found[place.application]


def test_a_change_of_the_dossier_or_the_library_makes_another_stamp(place: SimpleNamespace) -> None:
    seen = [stamp(place), stamp(place)]
    assert seen[0] == seen[1]
    with working(place.database.session) as work:
        work.act_as(place.tester, place.application)
        card = work.scalars(select(TestCard)).one()
        card.effect_wanted *= 2
    seen.append(stamp(place))
    with working(place.database.session) as work:  # a vehicle is everybody's, wherever it is changed from
        work.act_as(place.tester, place.application + 1)
        work.scalars(select(Vehicle)).first().years = "2014"  # type: ignore[union-attr]
    seen.append(stamp(place))
    with working(place.database.session) as work:
        library.add_dyno(work, library.DynoCard("Another", "crank", 1.0, "12 repeats"))
    seen.append(stamp(place))
    with working(place.database.session) as work:
        work.execute(
            text(
                "insert into verdict (application_id, evidence_key, session_ids, headline, bands) "
                "values (:a, '', '[]', '', '[]')"
            ),
            {"a": place.application},
        )
    seen.append(stamp(place))
    with working(place.database.session) as work:
        work.scalars(select(Verdict)).one().headline = "another"
    seen.append(stamp(place))
    with working(place.database.session) as work:
        work.delete(work.scalars(select(Verdict)).one())
    assert len(set(seen)) == len(seen) - 1


def test_nothing_is_kept_from_within_a_change_that_is_undone(place: SimpleNamespace) -> None:
    made = []

    def names(db: Session, ids: Sequence[int]) -> dict[int, str]:
        made.append(list(ids))
        return {number: db.scalars(select(TestCard.held)).one() for number in ids}

    kept = Remembered(names)
    with place.database.session() as work:
        before = kept(work, [place.application])
        assert kept(work, [place.application]) == before
        assert len(made) == 1
        work.act_as(place.tester, place.application)
        work.scalars(select(TestCard)).one().held = "changed for now"
        work.flush()
        assert kept(work, [place.application]) == {place.application: "changed for now"}
        work.rollback()
        assert kept(work, [place.application]) == before
    with working(place.database.session) as work:
        work.act_as(place.tester, place.application)
        work.scalars(select(TestCard)).one().held = "changed for good"
    with place.database.session() as work:
        assert kept(work, [place.application]) == {place.application: "changed for good"}


def test_pulls_of_a_card_that_serves_two_applications_change_the_stamps_of_both(place: SimpleNamespace) -> None:
    """A pull is judged in the dossier of one; the other rests on it as well."""
    with working(place.database.session) as work:
        first = work.get_one(Application, place.application)
        work.act_as(place.tester, first.id)
        card = work.scalars(select(TestCard)).one()
        part = factories.add_part(work, "A second part")
        second = coverage.open_application(work, first.vehicle_id, part.id, first.stock_revision_id)
        work.add(CardPair(card_id=card.id, application_id=second.id, a="A", b="B"))
        work.flush()
        other = second.id

    def stamp_of_other() -> str:
        with place.database.session() as work:
            return (stamps_of(work, [other]) or {})[other]

    before = stamp_of_other()
    with working(place.database.session) as work:
        work.act_as(place.tester, place.application)
        work.scalars(select(TestCard)).one().held = "pulled for both"
    assert stamp_of_other() != before


def test_a_summary_follows_what_was_recorded_at_once(place: SimpleNamespace) -> None:
    def states() -> list[str]:
        with place.database.session() as work:
            return [step.state for step in summaries(work, [place.application])[place.application].steps]

    before = states()
    with working(place.database.session) as work:
        application = work.get(Application, place.application)
        assert application is not None
        work.act_as(place.tester, application.id)
        dyno_day.pulled(work, application, work.scalars(select(TestCard)).one())
        renew(work, application)
    after = states()
    assert (before[3], after[3]) == ("nothing", "done")
    assert (before[4], after[4]) == ("nothing", "done")
