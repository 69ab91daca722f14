"""Predictions: sealed by the first pull or reading, never altered, said anew while open, scored on the evidence that counts."""

from __future__ import annotations

from datetime import timedelta
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.core.reckon.forecast import AIRFLOW, PEAK_SPEED, TORQUE, Drawn, Forecast, drawn_by_hand, of_peak_speed
from longbreath.core.reckon.scoring import HIT, MISS
from longbreath.demo.cell import take
from longbreath.dossier import coverage
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.reckon import predictions, scores
from longbreath.dossier.reckon.predictions import HAND, SCHOOL, SIMULATION, NewPrediction
from longbreath.dossier.reckon.records import records_of
from longbreath.store.models import Application, AuditEntry, Prediction, PredictionScore, PredictionSeal, Pull, Reading
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.factories import CFM, RPM
from tests.made import dyno_day, standin


def drawn(application: Application, *values: tuple[float, float, float]) -> Forecast:
    bands = bands_of(application.vehicle)
    return drawn_by_hand(TORQUE, [Drawn(b.low, b.high, *v) for b, v in zip(bands, values, strict=True)])


def say(db: UnitOfWork, application: Application, *values: tuple[float, float, float], **more: Any) -> Prediction:
    values = values or ((-1, 0, 1), (1, 3, 5), (-3, -1, 1))
    new = NewPrediction(
        "as I see it", TORQUE, more.pop("source", HAND), more.pop("name", ""), drawn(application, *values)
    )
    return predictions.keep_prediction(db, application, new, **more)


def test_the_first_pull_of_its_card_seals_it_valid_or_not(db: UnitOfWork, shop: SimpleNamespace) -> None:
    made = say(db, shop.application)
    assert made.sealed_at is None
    dyno_day.pulled(db, shop.application, shop.card)
    db.expire_all()
    first = db.scalars(select(Pull).order_by(Pull.id)).first()
    assert first is not None
    assert made.sealed_at is not None
    assert made.card_id == shop.card.id
    assert db.scalar(select(AuditEntry.user_name).where(AuditEntry.entity == "prediction_seal")) == "Tester"
    late = say(db, shop.application)
    assert late.after_test
    with pytest.raises(Conflict, match="sealed"):
        say(db, shop.application, instead_of=made)


def test_a_bad_pull_seals_as_well(db: UnitOfWork, shop: SimpleNamespace) -> None:
    made = say(db, shop.application)
    session = pull_verbs.open_session(db, shop.application, shop.card, factories.VISIT)
    logged = standin.pull(1, None, 1, mixture=0.6)
    pull = take(db, shop.application, session, "bad.csv", standin.as_us_csv(logged, "pull"), 1, "A")
    assert not pull.is_valid
    assert made.sealed_at is not None


def test_the_database_seals_and_refuses_by_itself(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """A row written past the application is held to the same: a pull seals, and nothing is foretold after it."""
    made = say(db, shop.application)
    session = pull_verbs.open_session(db, shop.application, shop.card, factories.VISIT)
    db.execute(
        text("insert into pull (session_id, sequence, label, kind) values (:s, 1, 'A', 'sweep')"), {"s": session.id}
    )
    db.expire_all()
    assert made.sealed_at is not None
    new = (
        "insert into prediction (application_id, card_id, quantity, source, source_name, points, inputs, figures, expects, "
        "made_at, made_by_id, after_test) values (:a, :c, 'torque', 'hand', '', '[]', '{}', '[]', 'I knew', now(), :u, false)"
    )
    values = {"a": shop.application.id, "c": shop.card.id, "u": shop.people["tester"].id}
    with pytest.raises(DBAPIError, match="made after the test must say so"), db.begin_nested():
        db.execute(text(new), values)
    for statement in ("update prediction set points = '[]'", "delete from prediction", "delete from prediction_seal"):
        with pytest.raises(DBAPIError), db.begin_nested():
            db.execute(text(statement))
    assert db.scalar(select(PredictionSeal.prediction_id)) == made.id


def test_while_it_is_open_it_can_be_said_anew_once_and_the_old_stays(db: UnitOfWork, shop: SimpleNamespace) -> None:
    first = say(db, shop.application)
    second = say(db, shop.application, (0, 1, 2), (0, 1, 2), (0, 1, 2), instead_of=first)
    assert predictions.standing(predictions.predictions_of(db, shop.application.id)) == [second]
    with pytest.raises(Conflict, match="Somebody else said this one anew"):
        say(db, shop.application, instead_of=first)
    assert db.get(Prediction, first.id) is first
    with pytest.raises(InputError, match="Say what you expect"):
        predictions.keep_prediction(db, shop.application, NewPrediction("  "))
    lower = NewPrediction("lower", PEAK_SPEED, HAND, "", of_peak_speed(-1.0, 0.0, 1.0))
    with pytest.raises(InputError, match="same quantity"):
        predictions.keep_prediction(db, shop.application, lower, second)
    with pytest.raises(InputError, match="has a curve"):
        predictions.keep_prediction(db, shop.application, NewPrediction("more", TORQUE))
    alone = predictions.keep_prediction(db, shop.application, NewPrediction("more in the middle"))
    assert predictions.forecast_of(alone) is None
    assert predictions.source_words(alone) == "words alone, by Tester"


def test_scores_stand_on_the_evidence_and_are_made_anew_with_it(db: UnitOfWork, shop: SimpleNamespace) -> None:
    good = say(db, shop.application)
    bad = say(db, shop.application, (10, 12, 14), (10, 12, 14), (10, 12, 14))
    speed = predictions.keep_prediction(
        db,
        shop.application,
        NewPrediction("lower", PEAK_SPEED, HAND, "", of_peak_speed(-900 * RPM, -200 * RPM, 100 * RPM)),
    )
    dyno_day.pulled(db, shop.application, shop.card)
    kept = {s.prediction_id: s for s in db.scalars(select(PredictionScore))}
    assert set(kept) == {good.id, bad.id, speed.id}
    assert {b["name"]: b["outcome"] for b in kept[good.id].bands}["middle"] == HIT
    assert {b["outcome"] for b in kept[bad.id].bands} == {MISS}
    board = scores.board_of(db)
    assert [(s.source, s.forecasts) for s in board.kinds] == [("drawn by hand", 3)]
    assert [s.source for s in board.sources] == ["Tester"]
    evidence = gather(db, shop.application)
    said = {r.prediction.id: r for r in scores.score_all(evidence, [good, bad])}
    assert said[good.id].sizes is not None
    assert said[bad.id].root_mean_square > said[good.id].root_mean_square  # type: ignore[operator]
    before = kept[good.id].evidence_key
    pull = next(p for p in evidence.session.pulls if p.label == "A" and p.is_valid)
    pull_verbs.judge_pull(db, shop.application, pull, False, "tyre slip heard")
    assert db.scalar(select(PredictionScore.evidence_key).where(PredictionScore.prediction_id == good.id)) != before
    for p in evidence.session.pulls:
        if p.is_valid:
            pull_verbs.judge_pull(db, shop.application, p, False, "rollers out of calibration")
    assert db.scalar(select(PredictionScore.id)) is None


def test_what_is_said_after_the_first_outcome_scores_nothing_and_all_sessions_score_the_first(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    first = say(db, shop.application)
    dyno_day.pulled(db, shop.application, shop.card)
    factories.add_builds(db, shop.application)
    then = factories.write_card(db, shop.application, shop.dyno)
    second = say(db, shop.application, (-1, 0, 1), (-1, 0, 1), (-1, 0, 1))
    assert second.after_test  # the outcome of the part was seen, whichever card is next
    dyno_day.pulled(db, shop.application, then, 400, factories.DAY + timedelta(days=30))
    kept = {s.prediction_id: s.bands for s in db.scalars(select(PredictionScore))}
    assert set(kept) == {first.id}
    assert {s.prediction_id: s.card_id for s in db.scalars(select(PredictionSeal))} == {first.id: shop.card.id}
    both = gather(db, shop.application)
    assert len(both.sessions) == 2
    assert {b["name"]: b["found"] for b in kept[first.id]}["middle"] == both.weighing.bands[1].effect.value


def test_a_school_draws_from_the_two_runners_and_a_simulation_marks_its_speed(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    records = records_of(db, shop.application)
    curve, inputs = predictions.by_school(records, "reflected wave")
    assert inputs["tuned_b"][3] < inputs["tuned_a"][3]
    assert not curve.is_drawn_in_steps
    new = NewPrediction("the rule", TORQUE, SCHOOL, "reflected wave", curve, inputs)
    assert (
        predictions.source_words(predictions.keep_prediction(db, shop.application, new)) == "reflected wave, by Tester"
    )
    with pytest.raises(InputError, match="no torque curve"):
        predictions.by_school(records, "astrology")
    say(db, shop.application, (0, 1, 2), (3, 5, 6), (0, 1, 2), source=SIMULATION, name="14 speeds, fine mesh")
    name, peak = predictions.simulated_peaks(db, shop.application.id)[0]
    assert name == "14 speeds, fine mesh"
    band = bands_of(shop.application.vehicle)[1]
    assert band.low <= peak <= band.high


def read_part(db: UnitOfWork, shop: SimpleNamespace, application: Application, b_flow: float) -> list[Reading]:
    """A bench session that reads A at 100, 150 and 180 cfm over three lifts, B that much more, B first."""
    fixture = bench_verbs.save_fixture(db, application, None, factories.FIXTURE)
    bench = shop.bench
    card = factories.SET_UP.__class__(
        **{**vars(factories.SET_UP), "bench_id": bench.id, "leak_range_id": bench.ranges[0].id}
    )
    session = bench_verbs.open_session(db, application, fixture, card, "sweep")
    traces = {t.label: t for t in session.traces}
    return [
        factories.capture(db, traces[label], flow + (b_flow if label == "B" else 0.0), lift)
        for label in ("A", "B")
        for lift, flow in ((0.003, 100.0), (0.006, 150.0), (0.009, 180.0))
    ]


def test_airflow_is_sealed_by_the_first_reading_of_the_part_and_scored(db: UnitOfWork, shop: SimpleNamespace) -> None:
    stock, part = factories.add_part(db, "still stock", is_stock=True), factories.add_part(db, "unread part")
    fresh = coverage.open_application(db, shop.application.vehicle_id, part.id, stock.id)
    db.act_as(shop.people["tester"], fresh.id)
    lifts = [(n * 0.003, (n + 1) * 0.003) for n in range(3)]
    right = drawn_by_hand(AIRFLOW, [Drawn(a, b, 2 * CFM, 6 * CFM, 10 * CFM) for a, b in lifts])
    wrong = drawn_by_hand(AIRFLOW, [Drawn(a, b, -40 * CFM, -30 * CFM, -20 * CFM) for a, b in lifts])
    kept = [
        predictions.keep_prediction(db, fresh, NewPrediction("a guess", AIRFLOW, HAND, "", curve))
        for curve in (right, wrong)
    ]
    readings = read_part(db, shop, fresh, 6.0)
    db.expire_all()
    assert all(p.sealed_at is not None for p in kept)
    assert predictions.keep_prediction(db, fresh, NewPrediction("late", AIRFLOW, HAND, "", right)).after_test
    found = {r.prediction.id: [b.outcome for b in r.bands] for r in scores.score_airflow(db, fresh, kept)}
    assert found[kept[1].id] == [MISS] * 3
    assert MISS not in found[kept[0].id]
    assert scores.renew_airflow(db) == 0
    assert scores.board_of(db).number == 2
    for reading in readings[3:]:
        bench_verbs.exclude(db, reading, "clay fell off")
    assert scores.board_of(db).number == 0
    assert scores.renew_airflow(db) == 0
    assert scores.board_of(db).number == 0
    assert {s.bands == [] for s in db.scalars(select(PredictionScore))} == {True}  # looked at, and nothing to score
