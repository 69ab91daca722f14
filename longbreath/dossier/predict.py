"""What Reckon works out for a dossier, and the predictions that are kept."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.air.moist import Weather, density
from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.working import Figure
from longbreath.core.engine import demand, tuning
from longbreath.dossier.conditions import engine_of
from longbreath.dossier.path.elements import elements_of, section_of
from longbreath.store.models import Application, DynoSession, Element, Prediction, Pull, User, Vehicle


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


def usual(vehicle: Vehicle, section: Element | None) -> Assumptions:
    """What a developer would begin with: common practice, to be overwritten."""
    displacement = engine_of(vehicle).displacement
    speed = vehicle.band_top + 0.75 * (vehicle.band_end - vehicle.band_top)
    return Assumptions(
        section_id=section.id if section is not None else 0,
        filling=0.95,
        target_power=round(displacement * 1000 * 75) * 1000.0,
        target_speed=round(speed / RPM / 100) * 100 * RPM,
        tuned_speed=round((vehicle.band_middle + vehicle.band_top) / 2 / RPM / 100) * 100 * RPM,
        velocity=80.0,
        temperature=313.15,
        consumption=units.from_unit(280, "consumption", "g/kWh"),
        air_fuel_ratio=12.8,
        reflection=4,
    )


def sections(db: Session, application_id: int) -> list[Element]:
    """The measured runners and ports, B's first: where velocity is asked."""
    found = [
        e for e in elements_of(db, application_id) if e.kind in ("runner", "port", "primary", "throttle", "tube")
    ]
    return sorted(found, key=lambda e: (e.kind != "runner", e.belongs_to != "B", e.position))


def answers(application: Application, section: Element | None, given: Assumptions) -> dict[str, Figure]:
    """All figures of the page by key. Those that need a section are left out while none is measured."""
    vehicle = application.vehicle
    motor = engine_of(vehicle)
    figures = {"demand": demand.air_demand(motor, given.target_speed, given.filling)}
    rho = density(Weather(293.15, 101325.0, 0.0))
    figures["wanted"] = demand.section_for_power(
        given.target_power, given.target_speed, vehicle.cylinders, given.velocity, given.consumption,
        given.air_fuel_ratio, rho, vehicle.strokes,
    )  # fmt: skip
    if section is None:
        return figures
    area = section_of(section).area
    diameter = section_of(section).equal_area_diameter
    figures["velocity"] = demand.gas_velocity(motor, given.target_speed, area)
    figures["mach"] = demand.mach_index(motor, given.target_speed, area, given.temperature)
    figures["reflected"] = tuning.reflected_wave_length(
        given.tuned_speed, vehicle.intake_duration, given.temperature, given.reflection, diameter
    )
    figures["helmholtz"] = tuning.helmholtz_length(
        given.tuned_speed,
        area,
        motor.displacement / vehicle.cylinders,
        vehicle.compression_ratio,
        given.temperature,
    )
    if section.kind == "runner":
        figures |= tuned_speeds(application, section, figures, given)
    return figures


def tuned_speeds(
    application: Application, section: Element, figures: dict[str, Figure], given: Assumptions
) -> dict[str, Figure]:
    """Speed at which the measured runner is tuned, by each school; keyed "tuned-reflected" and "tuned-helmholtz"."""
    length = section.length
    vehicle, found = application.vehicle, section_of(section)
    volume = engine_of(vehicle).displacement / vehicle.cylinders
    reflected = tuning.reflected_wave_speed(
        length, vehicle.intake_duration, given.temperature, given.reflection, found.equal_area_diameter
    )
    helmholtz = tuning.helmholtz_speed(length, found.area, volume, vehicle.compression_ratio, given.temperature)
    return {
        "tuned-reflected": tuning.tuned_speed("reflected wave", reflected, length, figures["reflected"].working),
        "tuned-helmholtz": tuning.tuned_speed("Helmholtz", helmholtz, length, figures["helmholtz"].working),
    }


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
    db: Session,
    application: Application,
    actor: User,
    inputs: dict[str, Any],
    figures: dict[str, Figure],
    expects: str,
) -> Prediction:
    """Keep what was reckoned. Once pulls exist it is marked as made after the test and scores nothing."""
    pulls = select(func.count(Pull.id)).join(DynoSession).where(DynoSession.application_id == application.id)
    prediction = Prediction(
        application_id=application.id,
        inputs=inputs,
        figures=[{"key": key, **figure.to_dict()} for key, figure in figures.items()],
        expects=expects,
        made_by_id=actor.id,
        after_test=bool(db.scalar(pulls)),
    )
    db.add(prediction)
    db.flush()
    return prediction
