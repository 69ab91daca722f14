"""The vehicle and the air of a record as the core takes them."""

from __future__ import annotations

from longbreath.core.air import moist
from longbreath.core.dyno.bands import Band
from longbreath.core.engine.demand import Engine
from longbreath.store.models import (
    BenchSession,
    DynoSession,
    Vehicle,
)


def engine_of(vehicle: Vehicle) -> Engine:
    """The engine's geometry for the core."""
    return Engine(vehicle.bore, vehicle.stroke, vehicle.cylinders, vehicle.strokes)


def bands_of(vehicle: Vehicle) -> tuple[Band, ...]:
    """The vehicle's bands of use."""
    return (
        Band("low", vehicle.band_low, vehicle.band_middle),
        Band("middle", vehicle.band_middle, vehicle.band_top),
        Band("top", vehicle.band_top, vehicle.band_end),
    )


def weather_of(record: BenchSession | DynoSession) -> moist.Weather:
    """The air of a session."""
    return moist.Weather(record.temperature, record.pressure, record.humidity)
