"""Scores of sealed predictions: made from the evidence that counts, kept, and gathered on the board over all applications."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

import numpy as np
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.reckon import board as boards
from longbreath.core.reckon import scoring
from longbreath.core.reckon.forecast import AIRFLOW, LIFT_BANDS, ONE_PART, Forecast
from longbreath.core.reckon.scoring import BandFound, PlaceError, Scored, Sizes
from longbreath.dossier.bench.traces import LiftRow, lift_rows, main_pair, sessions_of
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.reckon.predictions import SCHOOL, SIMULATION, SOURCES, forecast_of, predictions_of, standing
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application, Prediction, PredictionScore, PredictionSeal, User
from longbreath.store.unit_of_work import UnitOfWork

MANY_DF = 30.0
"""Degrees of freedom taken of a bench difference: its ± is an expanded uncertainty, known and not estimated."""


@dataclass(frozen=True)
class ScoredPrediction:
    """A sealed prediction as it was scored: its curve, its bands, its error of place, and its three sizes."""

    prediction: Prediction
    forecast: Forecast
    bands: tuple[Scored, ...]
    place: PlaceError | None = None
    sizes: Sizes | None = None

    @property
    def root_mean_square(self) -> float | None:
        """Root mean square of found less expected over its bands [SI]."""
        return scoring.root_mean_square(self.bands)


def _counts(prediction: Prediction) -> bool:
    return prediction.sealed_at is not None and not prediction.after_test and prediction.quantity != ""


def score_all(evidence: Evidence, predictions: Sequence[Prediction]) -> list[ScoredPrediction]:
    """Score what was said of torque, power and peak speed before the cards of this evidence were pulled."""
    comparison, bands = evidence.weighing.comparison, bands_of(evidence.application.vehicle)
    cards = {session.card_id for session in evidence.sessions}
    found = []
    for prediction in predictions:
        curve = forecast_of(prediction) if _counts(prediction) else None
        if (
            curve is None
            or curve.quantity == AIRFLOW
            or prediction.seal is None
            or prediction.seal.card_id not in cards
        ):
            continue
        scored = scoring.score(curve, comparison, bands)
        place, sizes = scoring.error_of_place(curve, comparison), scoring.sizes_of(curve, comparison)
        found.append(ScoredPrediction(prediction, curve, scored, place, sizes))
    return found


def score_each(
    db: Session, application: Application, predictions: Sequence[Prediction], newest: Evidence | None = None
) -> list[ScoredPrediction]:
    """Score each prediction on the pulls of the card that sealed it, the newest session of that card that can be weighed.

    newest: the evidence that counts, where it was gathered already; what was said before an earlier card keeps its score.
    """
    counting = [p for p in predictions if _counts(p) and p.quantity != AIRFLOW]
    found = score_all(newest, counting) if newest is not None else []
    done = {item.prediction.id for item in found}
    left = [p for p in counting if p.id not in done]
    cards = {p.seal.card_id for p in left if p.seal is not None}
    sessions = [s for s in dyno_sessions(db, application.id) if s.card_id in cards and s.full_pulls] if cards else []
    for card in cards:
        for session in (s for s in sessions if s.card_id == card):
            with suppress(EvidenceError):  # too little to weigh: the session before may do
                found += score_all(gather(db, application, [session.id]), left)
                break
    return found


def score_airflow(db: Session, application: Application, predictions: Sequence[Prediction]) -> list[ScoredPrediction]:
    """Score what was said of airflow on the newest bench session that read A and B."""
    wanted = [p for p in predictions if _counts(p) and p.quantity == AIRFLOW]
    if not wanted:
        return []
    bands = lift_bands(db, [application.id])[application.id]
    found = []
    for prediction in wanted:
        curve = forecast_of(prediction)
        if curve is not None:
            told = [(band.found, curve.mean(np.array(band.lifts))) for band in bands]
            scored = tuple(scoring.score_band(said, band) for band, said in told if said is not None)
            found.append(ScoredPrediction(prediction, curve, scored))
    return found


@dataclass(frozen=True)
class LiftBand:
    """What the bench found over some lifts [m] of a part."""

    found: BandFound
    lifts: tuple[float, ...]


def _lift_bands_of(db: Session, ids: Sequence[int]) -> dict[int, tuple[LiftBand, ...]]:
    return {number: _lift_bands(_read_on_bench(db, db.get_one(Application, number))) for number in ids}


lift_bands = Remembered(_lift_bands_of, name="lift bands", kind=tuple[LiftBand, ...])
"""What the bench found of each application, by bands of lift, kept while nothing of it changes."""


def _read_on_bench(db: Session, application: Application) -> list[LiftRow]:
    for session in sessions_of(db, application.id):
        a, b = main_pair(session)
        rows = [row for row in lift_rows(a, b) if row.difference is not None] if a and b else []
        if rows:
            return rows
    return []


def _lift_bands(rows: Sequence[LiftRow]) -> tuple[LiftBand, ...]:
    """Mean difference in each third of the lifts; one band for a fixed part. Its ± is the mean ±: errors go together."""
    top = max((row.lift for row in rows), default=0.0)
    groups: dict[str, list[LiftRow]] = {}
    for row in rows:
        place = min(2, int(3.0 * row.lift / top - 1e-9)) if top > 0 else 2
        groups.setdefault(LIFT_BANDS[max(0, place)] if top > 0 else ONE_PART, []).append(row)
    found = []
    for name, members in groups.items():
        differences = [row.difference for row in members if row.difference is not None]
        value = float(np.mean([d.value for d in differences]))
        error = float(np.mean([d.uncertainty or 0.0 for d in differences])) / 2.0
        reference = float(np.mean([row.a.flow.value for row in members if row.a is not None]))
        lifts = tuple(row.lift for row in members)
        lines = tuple(line for d in differences for line in d.working.rows)
        found.append(
            LiftBand(BandFound(name, (min(lifts), max(lifts)), value, error, MANY_DF, reference, lines), lifts)
        )
    return tuple(found)


def renew_scores(work: UnitOfWork, application: Application, newest: Evidence | None) -> None:
    """Make the kept scores of an application's dyno predictions anew; newest: the evidence that counts, None for none."""
    stands = standing(predictions_of(work, application.id))
    concerned = [p for p in stands if p.quantity not in ("", AIRFLOW)]
    _keep(work, concerned, score_each(work, application, concerned, newest), newest.key if newest is not None else "")


def forget_airflow(work: UnitOfWork, application_id: int) -> None:
    """Readings have come or gone: what is kept of airflow scores of a dossier is made anew when somebody looks."""
    concerned = select(Prediction.id).where(Prediction.application_id == application_id, Prediction.quantity == AIRFLOW)
    work.execute(delete(PredictionScore).where(PredictionScore.prediction_id.in_(concerned)))


A_LOOK = 8
"""Airflow predictions that are scored anew for one look at the board."""


def renew_airflow(work: UnitOfWork) -> int:
    """Score some of the sealed airflow predictions that have no score; returns how many are left for the next look.

    One that cannot be scored, because A and B were not both read, keeps a score without bands.
    """
    newer = select(Prediction.supersedes_id).where(Prediction.supersedes_id.is_not(None))
    query = select(Prediction).join(PredictionSeal).outerjoin(PredictionScore)
    query = query.where(Prediction.quantity == AIRFLOW, ~Prediction.after_test, PredictionScore.id.is_(None))
    waiting = list(work.scalars(query.where(Prediction.id.not_in(newer)).order_by(Prediction.id.desc())))
    for prediction in waiting[:A_LOOK]:
        application = work.get_one(Application, prediction.application_id)
        _keep(work, [prediction], score_airflow(work, application, [prediction]), "bench")
    return max(0, len(waiting) - A_LOOK)


def _keep(work: UnitOfWork, concerned: Sequence[Prediction], found: Sequence[ScoredPrediction], key: str) -> None:
    ids = [p.id for p in concerned]
    work.execute(delete(PredictionScore).where(PredictionScore.prediction_id.in_(ids)))
    for item in found:
        bands = [band.to_json() for band in item.bands]
        work.add(PredictionScore(prediction_id=item.prediction.id, evidence_key=key, bands=bands))
    for prediction in concerned:
        work.expire(prediction, ["score"])
    work.flush()


@dataclass(frozen=True)
class OnBoard:
    """One scored prediction as the board lists it: whose dossier, of what, from where, and its bands as they are kept."""

    prediction_id: int
    application_id: int
    quantity: str
    source: str
    bands: list[Any]


@dataclass(frozen=True)
class Board:
    """How every source stands over all applications: kinds of source, and people and schools one by one; and what is on it."""

    kinds: tuple[boards.Standing, ...]
    sources: tuple[boards.Standing, ...]
    scored: tuple[OnBoard, ...]
    number: int


BOARD_LENGTH = 60
"""Scored predictions that the page lists, newest first; all count."""


def board_of(db: Session) -> Board:
    """The board over all applications."""
    columns = (Prediction.id, Prediction.application_id, Prediction.quantity, Prediction.source, Prediction.source_name)
    query = select(*columns, User.name, PredictionScore.bands).join(PredictionScore).join(User)
    kinds: dict[str, list[boards.Entry]] = {}
    sources: dict[str, list[boards.Entry]] = {}
    scored = []
    for number, dossier, quantity, source, name, person, bands in db.execute(query.order_by(Prediction.id.desc())):
        if not bands:
            continue
        who = name if source in (SCHOOL, SIMULATION) else person
        told = who if who != person else SOURCES[source]
        scored.append(OnBoard(number, dossier, quantity, f"{told}, by {person}", bands))
        entries = [
            boards.Entry(number, band["said"][1], band["found"], band["reference"], band["chance"], band["outcome"])
            for band in bands
        ]
        kinds.setdefault(SOURCES[source], []).extend(entries)
        sources.setdefault(who or SOURCES[source], []).extend(entries)
    return Board(_standings(kinds), _standings(sources), tuple(scored[:BOARD_LENGTH]), len(scored))


def _standings(groups: dict[str, list[boards.Entry]]) -> tuple[boards.Standing, ...]:
    return tuple(boards.standing(name, entries) for name, entries in sorted(groups.items()))
