"""Predictions: kept before the test as curves with a band, said anew while open, sealed by the first pull or reading."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import exists, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.core.basis.working import Figure
from longbreath.core.compare.planning import usual_torque
from longbreath.core.engine import runners
from longbreath.core.path.kinds import RUNNER
from longbreath.core.path.needs import need_of
from longbreath.core.pull.pulls import speed_grid
from longbreath.core.reckon import forecast as forecasts
from longbreath.core.reckon.forecast import AIRFLOW, PEAK_SPEED, QUANTITIES, Drawn, Forecast
from longbreath.dossier.conditions import bands_of, cylinder_of, engine_of
from longbreath.dossier.path.elements import section_of
from longbreath.dossier.reckon.fill import known, port_length
from longbreath.dossier.reckon.records import Records
from longbreath.dossier.records.cards import card_of, has_pulls, was_pulled
from longbreath.store.models import (
    Application,
    BenchSession,
    Element,
    Prediction,
    PredictionSeal,
    Reading,
    TestCard,
    Trace,
)
from longbreath.store.unit_of_work import UnitOfWork

WORDS, HAND, SCHOOL, SIMULATION = "words", "hand", "school", "simulation"
SOURCES = {HAND: "drawn by hand", SCHOOL: "a school", SIMULATION: "a simulation", WORDS: "words alone"}
SCHOOLS = (runners.RULE, runners.PHASE, runners.HELMHOLTZ)
"""The schools that can draw a torque curve."""
HUMP_WORTH, HUMP_WIDTH = 0.03, 0.07
"""What one tuned speed is taken to be worth of torque, and half the width of its hump (common practice, no source)."""
SEALED = "This prediction is sealed: it stands as it was when the test began. Make another one."


@dataclass(frozen=True)
class NewPrediction:
    """What is said before the test: quantity ("" for words alone), where it comes from, the forecast, and why."""

    expects: str
    quantity: str = ""
    source: str = WORDS
    source_name: str = ""
    forecast: Forecast | None = None
    inputs: dict[str, Any] = field(default_factory=dict)
    figures: dict[str, Figure] = field(default_factory=dict)


def predictions_of(db: Session, application_id: int) -> list[Prediction]:
    """All predictions, newest first; those that were said anew among them."""
    query = select(Prediction).where(Prediction.application_id == application_id)
    return list(db.scalars(query.order_by(Prediction.id.desc())))


def standing(found: Sequence[Prediction]) -> list[Prediction]:
    """The predictions that no newer one has taken the place of."""
    gone = {p.supersedes_id for p in found}
    return [p for p in found if p.id not in gone]


def forecast_of(prediction: Prediction) -> Forecast | None:
    """The curve of a prediction; None for one in words alone."""
    return forecasts.from_json(prediction.quantity, prediction.points) if prediction.quantity else None


def source_words(prediction: Prediction) -> str:
    """Where a prediction comes from: the school, the simulation, or whose hand."""
    if prediction.source in (SCHOOL, SIMULATION):
        return f"{prediction.source_name}, by {prediction.made_by.name}"
    return f"{SOURCES[prediction.source]}, by {prediction.made_by.name}"


def came_after(db: Session, application: Application, quantity: str, card: TestCard | None) -> bool:
    """Whether a prediction made now comes after what would seal it: a pull of its card, or a reading of the part; or after any pull
    of the part, under whichever card: its outcome was seen then."""
    if quantity != AIRFLOW:
        return has_pulls(db, card) or was_pulled(db, application.id)
    read = select(Reading.id).join(Trace, Trace.id == Reading.trace_id).join(BenchSession)
    read = read.where(BenchSession.application_id == application.id, Trace.label == "B")
    return bool(db.scalar(select(exists(read))))


def keep_prediction(
    work: UnitOfWork, application: Application, new: NewPrediction, instead_of: Prediction | None = None
) -> Prediction:
    """Keep a prediction, or say one anew that is open still. One made after the test is marked so and scores nothing.

    Raises InputError without words or band, Conflict for one that is sealed or was said anew by somebody else.
    """
    if not new.expects.strip():
        raise InputError("Say what you expect, and why; it will stand beside the verdict.", "expects")
    if (new.forecast is None) != (new.quantity == ""):
        raise InputError("A prediction of a quantity has a curve.", "quantity")
    work.lock_row(application)  # the first pull may come in at this moment
    if instead_of is not None:
        work.refresh(instead_of, ["seal"])
        if instead_of.sealed_at is not None or instead_of.after_test:
            raise Conflict(SEALED)
        if (instead_of.quantity, instead_of.application_id) != (new.quantity, application.id):
            raise InputError("What is said anew speaks of the same quantity: make another prediction.", "quantity")
    card = card_of(work, application.id)
    prediction = Prediction(
        application_id=application.id,
        card_id=card.id if card is not None else None,
        quantity=new.quantity,
        source=new.source,
        source_name=new.source_name,
        points=new.forecast.to_json() if new.forecast is not None else [],
        inputs=new.inputs,
        figures=[{"key": key, **figure.to_dict()} for key, figure in new.figures.items()],
        expects=new.expects,
        made_by_id=work.actor.id,
        made_at=work.clock(),
        after_test=came_after(work, application, new.quantity, card),
        supersedes_id=instead_of.id if instead_of is not None else None,
    )
    prediction.made_by = work.actor
    try:
        with work.savepoint():
            work.add(prediction)
    except IntegrityError:
        raise Conflict("Somebody else said this one anew in the meantime. Look at theirs first.") from None
    return prediction


def seal_predictions(work: UnitOfWork, application: Application, card: TestCard | None) -> None:
    """Seal what was said before the test, as its first pull comes (card) or the first reading of the part (None).

    It comes before the row that seals: the database seals whatever is open still when such a row is written.
    """
    sealed = exists().where(PredictionSeal.prediction_id == Prediction.id)
    query = select(Prediction).where(Prediction.application_id == application.id, ~sealed, ~Prediction.after_test)
    if card is None:
        query = query.where(Prediction.quantity == AIRFLOW)
    else:
        of_card = (Prediction.card_id == card.id) | Prediction.card_id.is_(None)
        query = query.where(Prediction.quantity != AIRFLOW, of_card)
    for prediction in work.scalars(query).all():
        work.add(PredictionSeal(prediction_id=prediction.id, card_id=card.id if card else None, sealed_at=work.clock()))
        work.expire(prediction, ["seal"])
    work.flush()


@dataclass(frozen=True)
class ToDraw:
    """One band that is drawn by hand: its name, where it begins and ends [rad/s], or as shares of the highest lift [1]."""

    name: str
    start: float = 0.0
    end: float = 0.0


def bands_to_draw(application: Application, quantity: str) -> list[ToDraw]:
    """The bands of a forecast by hand: bands of use, thirds of the lifts, or one value for a peak or a part without lifts."""
    if quantity == PEAK_SPEED:
        return [ToDraw("speed of peak power")]
    if quantity == AIRFLOW:
        if need_of(application.product.family, application.vehicle.cycle).lifts <= 1:
            return [ToDraw(forecasts.ONE_PART)]
        names = forecasts.LIFT_BANDS
        return [ToDraw(name, n / len(names), (n + 1) / len(names)) for n, name in enumerate(names)]
    return [ToDraw(f"{b.name}, {b.words} rpm", b.low, b.high) for b in bands_of(application.vehicle)]


def drawn(
    quantity: str, bands: Sequence[ToDraw], values: Sequence[tuple[float, float, float]], top_lift: float | None
) -> Forecast:
    """A forecast of least, expected and most [SI] for each band; top_lift [m] where bands are shares of it."""
    if quantity == PEAK_SPEED:
        return forecasts.of_peak_speed(*values[0])
    scale = 1.0 if top_lift is None else top_lift
    rows = [Drawn(b.start * scale, b.end * scale, *said) for b, said in zip(bands, values, strict=True)]
    return forecasts.drawn_by_hand(quantity, rows)


def by_school(records: Records, school: str) -> tuple[Forecast, dict[str, Any]]:
    """A torque forecast by one tuning school: the stock runner's tuned speeds lost, the product's won; and what went in.

    Raises InputError where a runner of A or B is not measured, or nothing moves within the band of use.
    """
    if school not in SCHOOLS:
        raise InputError("This school draws no torque curve.", "school")
    tuned = []
    for label in ("A", "B"):
        row = next((e for e in records.elements if e.kind == RUNNER and e.belongs_to in (label, "both")), None)
        if row is None:
            raise InputError(f"The runner of {label} is not measured: a school needs both.", "school")
        tuned.append([t.speed for t in runners.tuned_speeds(_runner(records, row), (school,))])
    vehicle, bands = records.vehicle, bands_of(records.vehicle)
    places = speed_grid(bands[0].low, bands[-1].high)
    level = usual_torque(engine_of(vehicle).displacement, vehicle.cycle)
    curve = forecasts.of_school(places, tuned[0], tuned[1], level, HUMP_WORTH, HUMP_WIDTH)
    inputs = {"tuned_a": tuned[0], "tuned_b": tuned[1], "level": level, "worth": HUMP_WORTH, "width": HUMP_WIDTH}
    return curve, inputs


def _runner(records: Records, row: Element) -> runners.Runner:
    section, vehicle = section_of(row), records.vehicle
    duration, temperature = known(records, "intake_duration"), known(records, "runner_temperature")
    return runners.Runner(
        row.length + port_length(records),
        section.equal_area_diameter,
        section.area,
        duration.number if duration is not None else None,
        temperature.number if temperature is not None else 313.15,
        cylinder_of(vehicle),
        vehicle.compression_ratio,
    )


def simulated_peaks(db: Session, application_id: int) -> list[tuple[str, float]]:
    """Name and speed [rad/s] of the largest gain that each kept simulation says, for the rpm axis of tuned speeds."""
    found = []
    for prediction in standing(predictions_of(db, application_id)):
        curve = forecast_of(prediction) if prediction.source == SIMULATION else None
        if curve is not None and QUANTITIES[curve.quantity].axis == "speed":
            best = max(curve.points, key=lambda p: p.middle)
            found.append((prediction.source_name or "simulation", best.x))
    return found
