"""What is kept of a dossier is kept only while nothing of it changes, and never from within a change that may be undone."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from types import SimpleNamespace

import pytest
from sqlalchemy import select, update
from sqlalchemy.orm import Session

from longbreath.dossier import coverage, library
from longbreath.dossier.claim.house import set_rules
from longbreath.dossier.evidence.verdict import renew
from longbreath.dossier.health import Carrier, HealthCard, add_entry
from longbreath.dossier.owed import summaries
from longbreath.dossier.records.house import RulesCard
from longbreath.dossier.remembered import Remembered
from longbreath.store.database import Database
from longbreath.store.models import (
    Application,
    Bench,
    BenchSession,
    CardPair,
    Cell,
    Dyno,
    Kept,
    Product,
    Revision,
    TestCard,
    Vehicle,
)
from longbreath.store.stamps import stamps_of
from longbreath.store.unit_of_work import UnitOfWork, working
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
    assert len(set(seen)) == len(seen) - 2, "a dyno that nobody pulled on bears on nothing"


def test_a_row_of_the_library_bears_on_those_that_rest_on_it(place: SimpleNamespace) -> None:
    with working(place.database.session) as work:
        work.act_as(place.tester)
        other = library.add_vehicle(work, replace(factories.HERON, name="Another car"))
        part, stock = factories.add_part(work, "A third part"), factories.add_part(work, "Its stock", is_stock=True)
        alone = coverage.open_application(work, other.id, part.id, stock.id).id
    with place.database.session() as work:
        dyno = work.scalars(select(TestCard)).first().dyno_id  # type: ignore[union-attr]
        bench, vehicle = work.scalars(select(BenchSession.bench_id)).first(), work.scalars(select(Vehicle.id)).first()

    def moved(change: Callable[[UnitOfWork], object]) -> tuple[bool, bool]:
        with place.database.session() as work:
            before = stamps_of(work, [place.application, alone]) or {}
        with working(place.database.session) as work:
            work.act_as(place.tester)
            change(work)
        with place.database.session() as work:
            after = stamps_of(work, [place.application, alone]) or {}
        return before[place.application] != after[place.application], before[alone] != after[alone]

    finding = HealthCard(factories.DAY, "plugs", (), "one wet", finding=True)
    assert moved(lambda w: setattr(w.get_one(Vehicle, vehicle), "years", "2015")) == (True, False)
    assert moved(lambda w: setattr(w.get_one(Dyno, dyno), "repeatability", 1.7)) == (True, False)
    assert moved(lambda w: setattr(w.get_one(Bench, bench), "repeatability", 0.004)) == (True, False)
    assert moved(lambda w: setattr(w.get_one(Revision, part.id), "state", "ported")) == (False, True)
    assert moved(lambda w: setattr(w.get_one(Product, stock.product_id), "name", "Stock again")) == (False, True)
    assert moved(lambda w: add_entry(w, Carrier(vehicle=w.get(Vehicle, vehicle)), finding)) == (True, False)
    assert moved(lambda w: set_rules(w, RulesCard(most_age=400))) == (True, True)
    assert moved(lambda w: w.add(Cell(name="A cell"))) == (False, False)
    assert moved(lambda w: renew(w, w.get_one(Application, place.application))) == (True, False)


def test_what_one_process_made_another_reads(place: SimpleNamespace) -> None:
    made = []

    def count(db: Session, ids: Sequence[int]) -> dict[int, tuple[int, ...]]:
        made.append(list(ids))
        return {number: (number, len(made)) for number in ids}

    def asked(kept: Remembered[tuple[int, ...]]) -> tuple[int, ...]:
        with working(place.database.session) as work:
            return kept(work, [place.application])[place.application]

    first, other, version = (Remembered(count, name="count", kind=tuple[int, ...]) for _ in range(3))
    assert asked(first) == asked(other) == (place.application, 1)
    assert len(made) == 1
    with working(place.database.session) as work:
        work.act_as(place.tester, place.application)
        work.scalars(select(TestCard)).first().held = "another gear"  # type: ignore[union-attr]
    assert asked(first) == (place.application, 2)
    assert asked(other) == (place.application, 2)
    with working(place.database.session) as work:
        work.execute(update(Kept).values(stamp="of another version"))
    assert asked(version) == (place.application, 3)


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
