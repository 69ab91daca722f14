"""A dyno day live: pulls found, recorded and judged while the instruments speak; faults, killed gateways, pulled cables."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest

from longbreath.core.basis.errors import Conflict, EvidenceError
from longbreath.dossier.pull import cell
from longbreath.store.database import Database
from tests.conftest import ready, shop_on
from tests.jobs.cell_tools import Place, gateway, lay


@pytest.fixture
def place(database_url: str) -> Iterator[Place]:
    url = ready(database_url, f"longbreath_cell_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}")
    database = Database(url)
    found = lay(url, database, shop_on(database))
    yield found
    found.clear()
    database.engine.dispose()


def test_a_set_is_pulled_live_with_one_key(place: Place) -> None:
    place.begin()
    with gateway(place.database):
        place.alive()
        assert place.press() == "fit"
        for number in (1, 2, 3):
            assert place.press() == "arm"
            pull = place.pulled()
            assert (pull.sequence, pull.label, pull.is_valid) == (number, "A", True)
        assert place.next_key() == "fit"  # the next set is of B
    told = pull.read.told
    assert told["operator"] == place.person.name
    assert told["weather"]["pressure"] == pytest.approx(100_600.0)
    assert abs(pull.read.lag or 9.9) < 0.05
    assert pull.read.logger_file is not None


def test_what_is_not_armed_is_not_recorded(place: Place) -> None:
    place.begin()
    with gateway(place.database):
        place.alive()
        assert place.simulated.take("pull") == "pulled"

        def told() -> bool:
            with place.work() as work:
                return "not armed" in place.run(work).words

        place.until(told)
        assert place.pulls() == []


def test_a_press_that_comes_late_or_twice_does_nothing(place: Place) -> None:
    place.begin()
    with place.work() as work:
        mark = cell.doing(work, place.run(work), cell.Heard({})).mark
    assert place.press() == "fit"
    with pytest.raises(Conflict, match="moved on"), place.work() as work:
        cell.press(work, place.run(work), mark, cell.Heard({}))
    assert place.next_key() == "arm"
    waiting = cell.Heard({"coolant": 320.0})
    with place.work() as work:
        session = place.run(work).session
        session.card.window = {"coolant": [355.0, 368.0]}
        assert cell.doing(work, place.run(work), waiting).key == "wait"
        with pytest.raises(EvidenceError, match="47"):
            cell.press(work, place.run(work), cell.doing(work, place.run(work), waiting).mark, waiting)
        assert (
            cell.press(work, place.run(work), cell.doing(work, place.run(work), waiting).mark, waiting, anyway=True).key
            == "wait"
        )
        assert place.run(work).armed_place == 1
