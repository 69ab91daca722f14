"""Rows turned into core inputs: leak, off-pressure readings, corrected runs, kept verdicts, refusals."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from longbreath.core.air import correction
from longbreath.core.case import placing
from longbreath.core.pull import pulls
from longbreath.dossier import conditions
from longbreath.dossier.bench import traces
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.case.tests import test_of as seen_test
from longbreath.dossier.pull import cell, verbs
from longbreath.dossier.records import sessions
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.factories import CFM, INCH


@pytest.fixture
def pulled(day_without_sheets: SimpleNamespace) -> SimpleNamespace:
    """The application with its ten pulls."""
    return day_without_sheets


def capture(db: UnitOfWork, shop: SimpleNamespace, label: str, percent: float, inches: float = 28.0) -> None:
    more = {"percent": percent, "range_id": shop.bench.ranges[1].id, "pressure": inches * INCH}
    factories.capture(db, shop.traces[label], None, 0.002, **more)


def test_a_ladder_row_takes_the_leak_off_and_refers(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """By hand: 360 cfm x 40 % - 60 cfm x 2 % = 142.8 cfm; at 25.4 in the leak shrinks and the rest is referred."""
    capture(db, shop, "A", 0.40)
    capture(db, shop, "B", 0.40, 25.4)
    (row,) = traces.lift_rows(*traces.main_pair(shop.session))
    assert row.a is not None
    assert row.b is not None
    assert row.a.flow.value == pytest.approx(142.8 * CFM)
    back = (28 / 25.4) ** 0.5
    assert row.b.flow.value == pytest.approx((144.0 - 1.2 / back) * back * CFM)
    assert (row.a.off_pressure, row.b.off_pressure) == (False, True)
    assert row.a.velocity is None
    assert row.difference is not None


def test_runs_are_corrected_in_order_and_leave_out_what_does_not_count(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    (session,) = sessions.dyno_sessions(db, pulled.application.id)
    grid = pulls.speed_grid(pulled.application.vehicle.band_low, pulled.application.vehicle.band_end)
    held = seen_test(db, pulled.application, [session.id]).sessions
    runs = placing.runs_of(held, placing.pair_sides(held), grid, channels_in(db))
    assert "".join(run.label for run in runs) == "AAABBBAAA"
    assert [run.order for run in runs] == [1, 2, 3, 4, 5, 6, 8, 9, 10]
    raw = pulls.on_grid(sessions.sweeps(db, session.pulls)[session.pulls[0].id], grid)
    factor = correction.correction(conditions.weather_of(session), "sae_j1349").value
    assert np.allclose(runs[0].torque, raw * factor)


def test_pulls_that_do_not_count_are_still_missing(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """Three of B are wanted; of the four that were pulled one ran rich, and two more are judged out by hand."""
    (session,) = sessions.dyno_sessions(db, pulled.application.id)
    assert cell.missing(db, session) == {}
    for pull in [p for p in session.full_pulls if p.label == "B" and p.is_valid][:2]:
        verbs.judge_pull(db, pulled.application, pull, False, "slip heard")
    assert cell.missing(db, session) == {"B": (2, 3)}


def test_what_another_session_filled_of_a_factorial_is_not_asked_for_again(
    db: UnitOfWork, pulled: SimpleNamespace, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Sessions of a factorial count together; each day of an alternation stands for itself."""
    (first,) = sessions.dyno_sessions(db, pulled.application.id)
    card = verbs.DynoSessionCard(first.held_on, first.temperature, first.pressure, first.humidity, first.standard)
    second = verbs.open_session(db, pulled.application, first.card, card)
    assert cell.sets_left(db, second) == [(letter, count) for letter, count in first.card.sets]
    monkeypatch.setattr(type(first.card), "is_filled_over_days", True)
    assert cell.sets_left(db, second) == []
    pull = next(p for p in first.full_pulls if p.label == "B" and p.is_valid)
    verbs.judge_pull(db, pulled.application, pull, False, "slip heard")
    assert cell.sets_left(db, second) == [("B", 1)]
