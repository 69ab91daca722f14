"""A dossier as a simulation case, or the list of what it still lacks."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi
from typing import Any

from pydantic import ValidationError
from sqlalchemy.orm import Session

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.core.engine.assumptions import ROOM_PRESSURE, ROOM_TEMPERATURE, RUNNER_TEMPERATURE
from longbreath.core.engine.fuels import FUELS
from longbreath.core.wave.assemble import build
from longbreath.dossier.conditions import assumptions_of, cylinder_of
from longbreath.dossier.path.elements import core_element, elements_of
from longbreath.dossier.simulate import lines, openings
from longbreath.dossier.simulate.notes import Notes
from longbreath.formats.wave_case import FORMAT, Case
from longbreath.store.models import Application, Vehicle

FIRING_ORDERS = {
    1: [1],
    2: [1, 2],
    3: [1, 2, 3],
    4: [1, 3, 4, 2],
    5: [1, 2, 4, 5, 3],
    6: [1, 5, 3, 6, 2, 4],
    8: [1, 8, 4, 3, 6, 5, 7, 2],
}
"""Firing orders that are usual by number of cylinders (common practice, no source)."""
STEP = 400
"""Between the speeds of a case [rpm]."""


@dataclass(frozen=True)
class Bridged:
    """A dossier as a simulation case (None while something is missing), with what is missing and what was assumed."""

    case: Case | None
    missing: tuple[str, ...]
    assumed: tuple[str, ...]


def case_of(db: Session, application: Application, label: str = "B") -> Bridged:
    """The wave case of an application with A or B fitted, from its path, bench curves, timing and vehicle."""
    notes = Notes()
    parts = _parts(db, application, label, notes)
    if notes.missing:
        return Bridged(None, tuple(notes.missing), tuple(notes.assumed))
    try:
        case = Case.model_validate(parts)
        build(case.to_engine())
    except ValidationError as error:
        first = error.errors()[0]
        notes.lacks(f"{'.'.join(str(p) for p in first['loc'])}: {first['msg']}.")
        return Bridged(None, tuple(notes.missing), tuple(notes.assumed))
    except InputError as error:
        notes.lacks(str(error))
        return Bridged(None, tuple(notes.missing), tuple(notes.assumed))
    return Bridged(case, (), tuple(notes.assumed))


def _parts(db: Session, application: Application, label: str, notes: Notes) -> dict[str, Any]:
    vehicle = application.vehicle
    path = [core_element(e) for e in elements_of(db, application.id, label)]
    intake = lines.intake_lines(path, vehicle.cylinders, notes)
    exhaust = lines.exhaust_lines(path, vehicle.cylinders, notes)
    found: dict[str, Any] = {
        "format": FORMAT,
        "name": f"{application.audit_title}, {label} fitted",
        "rpm": f"{vehicle.band_low / RPM:.0f}:{vehicle.band_end / RPM:.0f}:{STEP}",
        "engine": _engine(vehicle, notes),
        "burn": _burn(vehicle, notes),
        "air": {"pressure_kpa": ROOM_PRESSURE / 1e3, "temperature_c": round(lines.celsius(ROOM_TEMPERATURE), 2)},
        "intake": {} if intake is None else _intake(intake),
        "exhaust": {} if exhaust is None else _exhaust(exhaust, vehicle, notes),
    }
    notes.assumes("The room is 20 °C at 1013.25 hPa; walls are 40 °C on the intake and 400 °C on the exhaust.")
    _gas_exchange(db, application, label, found, notes)
    return found


def _engine(vehicle: Vehicle, notes: Notes) -> dict[str, Any]:
    order = FIRING_ORDERS.get(vehicle.cylinders)
    if order is None:
        notes.lacks(f"Vehicle: {counted(vehicle.cylinders, 'cylinder')}; 1 to 6 and 8 can be simulated.")
    elif vehicle.cylinders > 3:
        notes.assumes(f"Firing order {'-'.join(str(n) for n in order)}.")
    return {
        "kind": vehicle.cycle,
        "cylinders": vehicle.cylinders,
        "firing_order": order,
        **{f"{name}_mm": size * 1e3 for name, size in _sizes(vehicle, notes).items()},
        "compression_ratio": vehicle.compression_ratio,
        "rotor_cc": cylinder_of(vehicle) * 1e6 if vehicle.cycle == "rotary" else None,
    }


def _sizes(vehicle: Vehicle, notes: Notes) -> dict[str, float]:
    """Bore, stroke and rod [m]; of a rotor those of a cylinder of its volume as wide as its stroke is long."""
    if vehicle.chamber_volume:
        size = (4.0 * vehicle.chamber_volume / pi) ** (1.0 / 3.0)
        notes.assumes("A cylinder of its chamber's volume, as wide as long, stands for the rotor in heat and friction.")
        return {"bore": size, "stroke": size, "rod": 1.5 * size}
    if vehicle.rod is None:
        notes.lacks("Vehicle: the length of its rod.")
    return {"bore": vehicle.bore or 0.0, "stroke": vehicle.stroke or 0.0, "rod": vehicle.rod or 0.0}


def _burn(vehicle: Vehicle, notes: Notes) -> dict[str, Any]:
    if vehicle.fuel not in FUELS:
        notes.lacks(f"Vehicle: a fuel that can be burned here ({', '.join(FUELS)}), not {vehicle.fuel}.")
        return {}
    excess = assumptions_of(vehicle).air_fuel_ratio / FUELS[vehicle.fuel].stoichiometric
    notes.assumes(f"It burns at λ {excess:.2f}, from 22° before dead centre over 58°.")
    return {"fuel": vehicle.fuel, "lambda": excess}


def _intake(found: lines.IntakeLines) -> dict[str, Any]:
    return {
        "inlet": found.inlet,
        "plenum_l": None if found.plenum is None else found.plenum * 1e3,
        "runners": [found.runner],
        "temperature_c": lines.celsius(RUNNER_TEMPERATURE),
        "boost": found.boost,
    }


def _exhaust(found: lines.ExhaustLines, vehicle: Vehicle, notes: Notes) -> dict[str, Any]:
    order = FIRING_ORDERS.get(vehicle.cylinders, list(range(1, vehicle.cylinders + 1)))
    if 1 < found.collectors < vehicle.cylinders:
        notes.assumes(f"The firing order goes to the {found.collectors} collectors in turn.")
    return {
        "primaries": [found.primary],
        "groups": [order[k :: found.collectors] for k in range(found.collectors)],
        "collector": found.collector,
        "system": found.system,
        "temperature_c": lines.celsius(assumptions_of(vehicle).exhaust_temperature),
    }


def _gas_exchange(db: Session, application: Application, label: str, found: dict[str, Any], notes: Notes) -> None:
    vehicle = application.vehicle
    if vehicle.cycle == "four-stroke":
        intake, exhaust = openings.valves_of(db, application.id, label, notes)
        found["intake"]["valves"], found["exhaust"]["valves"] = intake, exhaust
    elif vehicle.cycle == "rotary":
        intake_ports, exhaust_ports = openings.side_ports(db, application.id, label, notes)
        found["intake"]["ports"], found["exhaust"]["ports"] = intake_ports, exhaust_ports
    else:
        found["exhaust"]["piston_ports"] = openings.exhaust_window(db, application, label, notes)
        disc = openings.disc_of(db, application, label, notes)
        if vehicle.case_volume is None:
            notes.lacks("Vehicle: the volume of its crankcase, piston down.")
        notes.lacks("Timing: height and width of the transfer ports (a sheet has their angles alone).")
        found["case"] = {"disc": disc, "volume_bdc_cc": (vehicle.case_volume or 0.0) * 1e6}
