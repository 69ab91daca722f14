"""The target of an application: the power and speed it is reckoned for, and what a candidate must keep to."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.air.moist import Weather, density
from longbreath.core.engine import assumptions
from longbreath.core.reckon.candidates import Limits, Setting
from longbreath.dossier.reckon.fill import known, port_length
from longbreath.dossier.reckon.records import Records
from longbreath.store.models import Application, Target
from longbreath.store.unit_of_work import UnitOfWork

VELOCITY_ROOM = 0.15
"""Share by which the velocity may lie beside the school's where the target says nothing."""


@dataclass(frozen=True)
class TargetCard:
    """What a target says: its limits, the flow of the head alone [m3/s] where the bench has none, for whom and why."""

    limits: Limits
    head_flow: float | None = None
    why: str = ""


_LIMITS = tuple(item.name for item in fields(Limits))


def target_of(db: Session, application_id: int) -> Target | None:
    """The target of an application, or None."""
    return db.scalar(select(Target).where(Target.application_id == application_id))


def limits_of(records: Records) -> Limits:
    """What candidates are held against: the target's limits, or what is usual where nobody set one."""
    if records.target is not None:
        return Limits(**{name: records.target.limits.get(name) for name in _LIMITS})  # type: ignore[arg-type]
    power, speed, velocity = (known(records, name) for name in ("power", "speed", "velocity"))
    middle = velocity.number if velocity is not None else assumptions.RUNNER_VELOCITY
    return Limits(
        power.number if power is not None else 1e5,
        speed.number if speed is not None else 600.0,
        middle * (1 - VELOCITY_ROOM),
        middle * (1 + VELOCITY_ROOM),
    )


def save_target(work: UnitOfWork, application: Application, found: Target | None, card: TargetCard) -> Target:
    """Set or change the target."""
    values = {**asdict(card.limits), "head_flow": card.head_flow}
    target = found or Target(application_id=application.id)
    target.limits = {name: value for name, value in values.items() if value is not None}
    target.why = card.why or ""
    work.add(target)
    work.flush()
    return target


def setting_of(records: Records, head: tuple[float, str] | None) -> Setting:
    """The engine that candidates are held against; head: flow of the head alone [m3/s] with its words, as the bench read it."""
    duration, temperature = known(records, "intake_duration"), known(records, "runner_temperature")
    typed = records.limit("head_flow")
    flow, words = head if head is not None else (typed.number, typed.words) if typed is not None else (None, "")
    return Setting(
        records.engine,
        records.vehicle.compression_ratio,
        duration.number if duration is not None else None,
        temperature.number if temperature is not None else assumptions.RUNNER_TEMPERATURE,
        density(Weather(assumptions.ROOM_TEMPERATURE, assumptions.ROOM_PRESSURE, 0.0)),
        records.assumed.consumption,
        records.assumed.air_fuel_ratio,
        port_length(records),
        flow,
        words,
    )
