"""The vehicle and the air of a record as the core takes them, and what is assumed of an engine until it is measured."""

from __future__ import annotations

from longbreath.core.air.moist import Weather
from longbreath.core.compare.bands import Band
from longbreath.core.engine.assumptions import Assumed, assumed_of
from longbreath.core.engine.demand import EngineGeometry
from longbreath.store.models import BenchSession, DynoSession, Vehicle


def engine_of(vehicle: Vehicle) -> EngineGeometry:
    """The engine's geometry for the core."""
    bore, stroke = vehicle.bore or 0.0, vehicle.stroke or 0.0
    return EngineGeometry(bore, stroke, vehicle.cylinders, vehicle.strokes, vehicle.chamber_volume)


def cylinder_of(vehicle: Vehicle) -> float:
    """Displacement of one cylinder [m3]."""
    return engine_of(vehicle).displacement / vehicle.cylinders


def assumptions_of(vehicle: Vehicle) -> Assumed:
    """What is assumed of this vehicle's engine on every page."""
    return assumed_of(vehicle.fuel, vehicle.induction)


def bands_of(vehicle: Vehicle) -> tuple[Band, ...]:
    """The vehicle's bands of use."""
    return (
        Band("low", vehicle.band_low, vehicle.band_middle),
        Band("middle", vehicle.band_middle, vehicle.band_top),
        Band("top", vehicle.band_top, vehicle.band_end),
    )


def weather_of(record: BenchSession | DynoSession) -> Weather:
    """The air of a session."""
    return Weather(record.temperature, record.pressure, record.humidity)
