"""What Reckon works out for a dossier, and the predictions that are kept."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import exists, func, select
from sqlalchemy.orm import Session

from longbreath.core.air.moist import Weather, density
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.working import Figure
from longbreath.core.engine import assumptions, demand, tuning
from longbreath.core.path.kinds import INTAKE, RUNNER, kind_of
from longbreath.dossier.conditions import assumptions_of, cylinder_of, engine_of
from longbreath.dossier.path.elements import elements_of, section_of
from longbreath.store.models import Application, DynoSession, Element, Prediction, PredictionSeal, Pull, Vehicle
from longbreath.store.unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Assumptions:
    """SI values that the reckoning rests on beside what was measured."""

    section_id: int
    filling: float
    target_power: float
    target_speed: float
    tuned_speed: float
    velocity: float
    temperature: float
    consumption: float
    air_fuel_ratio: float
    reflection: int


def usual_assumptions(vehicle: Vehicle, section: Element | None) -> Assumptions:
    """What a developer would begin with: what is assumed of such an engine, to be overwritten."""
    found = assumptions_of(vehicle)
    displacement = engine_of(vehicle).displacement
    speed = vehicle.band_top + 0.75 * (vehicle.band_end - vehicle.band_top)
    return Assumptions(
        section_id=section.id if section is not None else 0,
        filling=found.filling,
        target_power=round(displacement * assumptions.SPECIFIC_POWER / 1000.0) * 1000.0,
        target_speed=round(speed / RPM / 100) * 100 * RPM,
        tuned_speed=round((vehicle.band_middle + vehicle.band_top) / 2 / RPM / 100) * 100 * RPM,
        velocity=assumptions.RUNNER_VELOCITY,
        temperature=assumptions.RUNNER_TEMPERATURE,
        consumption=found.consumption,
        air_fuel_ratio=found.air_fuel_ratio,
        reflection=assumptions.REFLECTION,
    )


def sections(db: Session, application_id: int) -> list[Element]:
    """The measured sections where velocity is asked: runners first, then those of the product's side, B's before A's."""
    found = [e for e in elements_of(db, application_id) if kind_of(e.kind).velocity]
    return sorted(
        found, key=lambda e: (e.kind != RUNNER, kind_of(e.kind).side != INTAKE, e.belongs_to != "B", e.position)
    )


def is_of_intake(application: Application, section: Element | None) -> bool:
    """Whether a runner is asked about: a part of the exhaust, a tuned pipe among them, is tuned by other waves."""
    return application.product.side == INTAKE and (section is None or kind_of(section.kind).side == INTAKE)


def answers(application: Application, section: Element | None, given: Assumptions) -> dict[str, Figure]:
    """All figures of the page by key. Those that need a section are left out while none is measured."""
    vehicle = application.vehicle
    motor = engine_of(vehicle)
    figures = {"demand": demand.air_demand(motor, given.target_speed, given.filling)}
    rho = density(Weather(assumptions.ROOM_TEMPERATURE, assumptions.ROOM_PRESSURE, 0.0))
    if is_of_intake(application, section):
        figures["wanted"] = demand.section_for_power(
            given.target_power,
            given.target_speed,
            vehicle.cylinders,
            given.velocity,
            given.consumption,
            given.air_fuel_ratio,
            rho,
            vehicle.strokes,
        )
    if section is None:
        return figures
    area = section_of(section).area
    diameter = section_of(section).equal_area_diameter
    figures["velocity"] = demand.gas_velocity(motor, given.target_speed, area)
    figures["mach"] = demand.mach_index(motor, given.target_speed, area, given.temperature)
    if not is_of_intake(application, section):
        return figures
    if vehicle.intake_duration is not None:
        figures["reflected"] = tuning.reflected_wave_length(
            given.tuned_speed, vehicle.intake_duration, given.temperature, given.reflection, diameter
        )
    figures["helmholtz"] = tuning.helmholtz_length(
        given.tuned_speed, area, cylinder_of(vehicle), vehicle.compression_ratio, given.temperature
    )
    if section.kind == RUNNER:
        figures |= tuned_speeds(application, section, figures, given)
    return figures


def tuned_speeds(
    application: Application, section: Element, figures: dict[str, Figure], given: Assumptions
) -> dict[str, Figure]:
    """Speed at which the measured runner is tuned, by each school; keyed "tuned-reflected" and "tuned-helmholtz"."""
    length = section.length
    vehicle, found = application.vehicle, section_of(section)
    volume = cylinder_of(vehicle)
    helmholtz = tuning.helmholtz_speed(length, found.area, volume, vehicle.compression_ratio, given.temperature)
    tuned = {"tuned-helmholtz": tuning.tuned_speed("Helmholtz", helmholtz, length, figures["helmholtz"].working)}
    if vehicle.intake_duration is not None:
        reflected = tuning.reflected_wave_speed(
            length, vehicle.intake_duration, given.temperature, given.reflection, found.equal_area_diameter
        )
        working = figures["reflected"].working
        tuned["tuned-reflected"] = tuning.tuned_speed("reflected wave", reflected, length, working)
    return tuned


def demand_rows(application: Application, filling: float, system: str) -> list[dict[str, Any]]:
    """Air demand over the vehicle's speeds, in display units."""
    vehicle = application.vehicle
    symbol = units.kind_named("flow").symbol(system)
    low, high = round(vehicle.band_low / RPM), round(vehicle.band_end / RPM)
    rows = []
    for rpm in range(low, high + 1, 200):
        flow = demand.air_demand(engine_of(vehicle), rpm * RPM, filling).value
        rows.append({"rpm": rpm, "flow": round(units.to_unit(flow, "flow", symbol), 3)})
    return rows


def predictions(db: Session, application_id: int) -> list[Prediction]:
    """Predictions, newest first."""
    query = select(Prediction).where(Prediction.application_id == application_id)
    return list(db.scalars(query.order_by(Prediction.id.desc())))


def as_inputs(given: Assumptions) -> dict[str, Any]:
    """Assumptions as they are kept with a prediction."""
    return asdict(given)


def keep_prediction(
    work: UnitOfWork, application: Application, inputs: dict[str, Any], figures: dict[str, Figure], expects: str
) -> Prediction:
    """Keep what was reckoned. Once pulls exist it is marked as made after the test and scores nothing."""
    pulls = select(func.count(Pull.id)).join(DynoSession).where(DynoSession.application_id == application.id)
    prediction = Prediction(
        application_id=application.id,
        inputs=inputs,
        figures=[{"key": key, **figure.to_dict()} for key, figure in figures.items()],
        expects=expects,
        made_by_id=work.actor.id,
        after_test=bool(work.scalar(pulls)),
    )
    work.add(prediction)
    work.flush()
    return prediction


def sealed_prediction(db: Session, application_id: int) -> Prediction | None:
    """The newest prediction that was sealed by the first pull, or None."""
    query = select(Prediction).where(Prediction.application_id == application_id).join(PredictionSeal)
    return db.scalar(query.order_by(Prediction.id.desc()).limit(1))


def seal_predictions(work: UnitOfWork, application: Application, at: datetime) -> None:
    """Seal the predictions that were kept before the test."""
    sealed = exists().where(PredictionSeal.prediction_id == Prediction.id)
    open_ones = select(Prediction).where(Prediction.application_id == application.id, ~sealed, ~Prediction.after_test)
    for prediction in work.scalars(open_ones).all():
        work.add(PredictionSeal(prediction_id=prediction.id, sealed_at=at))
        work.expire(prediction, ["seal"])
    work.flush()
