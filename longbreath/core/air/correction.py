"""Power-correction standards. Each is 1 at its own reference condition.

The formulas are written as printed (+273, +460) and were set down from memory; see longbreath/method/correction.md.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt

from longbreath.core.air import moist
from longbreath.core.basis.constants import INCH_OF_MERCURY, ZERO_CELSIUS
from longbreath.core.basis.propagate import Spread, Unsure, propagate
from longbreath.core.basis.working import Figure, Given, Step, Working


@dataclass(frozen=True)
class Standard:
    """One correction standard.

    `factor` takes pressure [Pa] (dry or total, as `dry` says) and temperature [degC].
    `pressure_range` [Pa], `temperature_range` [degC] and `factor_range` are the permitted ranges as remembered.
    """

    key: str
    name: str
    formula: str
    reference: str
    dry: bool
    factor: Callable[[float, float], float]
    temperature_range: tuple[float, float] | None
    pressure_range: tuple[float, float] | None
    factor_range: tuple[float, float] | None


def _j1349(pressure: float, celsius: float) -> float:
    return 1.180 * (99000.0 / pressure) * sqrt((celsius + 273.0) / 298.0) - 0.18


def _j607(pressure: float, celsius: float) -> float:
    fahrenheit = celsius * 1.8 + 32.0
    return 29.92 / (pressure / INCH_OF_MERCURY) * sqrt((fahrenheit + 460.0) / 520.0)


def _j607_split(pressure: float, celsius: float) -> float:
    return 1.180 * _j607(pressure, celsius) - 0.18


def _din(pressure: float, celsius: float) -> float:
    return 101300.0 / pressure * sqrt((celsius + 273.0) / 293.0)


def _iso1585(pressure: float, celsius: float) -> float:
    return float((99000.0 / pressure) ** 1.2 * ((celsius + 273.0) / 298.0) ** 0.6)


def _none(pressure: float, celsius: float) -> float:
    return 1.0


UNCORRECTED = "none"
"""The key of the standard that leaves figures as measured."""
STANDARDS: dict[str, Standard] = {
    standard.key: standard
    for standard in (
        Standard(
            "sae_j1349",
            "SAE J1349",
            "1.180·(990/p_d)·√((t+273)/298) − 0.18",
            "990 hPa dry, 25 °C",
            True,
            _j1349,
            (15.0, 35.0),
            (90e3, 105e3),
            (0.93, 1.07),
        ),
        Standard(
            "std_j607",
            "STD (J607), plain ratio",
            "(29.92/p_d)·√((F+460)/520), p_d in inHg",
            "29.92 inHg dry, 60 °F",
            True,
            _j607,
            None,
            None,
            None,
        ),
        Standard(
            "std_j607_split",
            "STD (J607), 85 % mechanical efficiency split",
            "1.18·(29.92/p_d)·√((F+460)/520) − 0.18",
            "29.92 inHg dry, 60 °F",
            True,
            _j607_split,
            None,
            None,
            None,
        ),
        Standard(
            "din_70020", "DIN 70020", "(1013/p)·√((t+273)/293)", "1013 hPa total, 20 °C", False, _din, None, None, None
        ),
        Standard(
            "iso_1585",
            "ISO 1585 / ECE R85, spark ignition",
            "(99/p_d)^1.2·((t+273)/298)^0.6",
            "99 kPa dry, 25 °C",
            True,
            _iso1585,
            (15.0, 35.0),
            (80e3, 110e3),
            (0.93, 1.07),
        ),
        Standard(UNCORRECTED, "No correction", "1", "as measured", False, _none, None, None, None),
    )
}

SPARK_IGNITION_ONLY = ("sae_j1349", "iso_1585")
"""Standards whose formula here is the one for spark ignition; compression ignition has its own, which is left out."""

THERMOMETER, BAROMETER, HYGROMETER = 0.5, 100.0, 0.05
"""What the air is read to, ± [K, Pa, 1]. Common practice, no source: a decent weather station."""

SOURCE = "Formula from memory; no standard's text was at hand. See Method, Correction."


def correction(weather: moist.Weather, standard_key: str, origin: str = "") -> Figure:
    """Factor that carries power and torque measured in `weather` to a standard's reference air.

    Returns a Figure (kind "ratio"); its working warns where the weather lies outside the permitted range.
    Raises KeyError for an unknown standard.
    """
    standard = STANDARDS[standard_key]
    celsius = weather.temperature - ZERO_CELSIUS
    vapour = moist.vapour_pressure(weather)
    factor, used = _factor(standard, weather)
    spread = _spread(standard, weather)
    steps = [Step("p_v", "humidity · saturation pressure(t)", vapour, "barometer")] if standard.dry else []
    if standard.dry:
        steps.append(Step("p_d", "p − p_v", used, "barometer"))
    steps.append(Step("CF", standard.formula, factor, "ratio"))
    if spread.half_width:
        steps.append(
            Step("±", "air read to ± 0.5 °C, ± 1 hPa, ± 5 % of humidity (common practice)", spread.half_width, "ratio")
        )
    working = Working(
        title=f"Correction factor, {standard.name}",
        givens=(
            Given("t", "air temperature", weather.temperature, "temperature", origin),
            Given("p", "station pressure", weather.pressure, "barometer", origin),
            Given("RH", "relative humidity", weather.relative_humidity, "percent", origin),
        ),
        steps=tuple(steps),
        source=SOURCE,
        notes=(
            "Figures stay as measured." if standard.key == UNCORRECTED else f"1 at {standard.reference}.",
            *far_from_one(factor),
            *out_of_range(standard, celsius, used, factor),
            *((spread.note,) if spread.note else ()),
        ),
    )
    name = f"Correction factor, {standard.name}"
    return Figure("correction_factor", name, factor, "ratio", working, spread.half_width or None)


def _factor(standard: Standard, weather: moist.Weather) -> tuple[float, float]:
    """The factor [1] and the pressure it uses [Pa]."""
    used = weather.pressure - (moist.vapour_pressure(weather) if standard.dry else 0.0)
    return standard.factor(used, weather.temperature - ZERO_CELSIUS), used


def _spread(standard: Standard, weather: moist.Weather) -> Spread:
    """What the instruments of the air leave open of the factor."""

    def factor(temperature: float, pressure: float, humidity: float) -> float:
        there = moist.Weather(temperature, pressure, min(max(humidity, 0.0), 1.0))
        return _factor(standard, there)[0]

    unsure = (
        Unsure("temperature", weather.temperature, THERMOMETER),
        Unsure("pressure", weather.pressure, BAROMETER),
        Unsure("humidity", weather.relative_humidity, HYGROMETER),
    )
    return propagate(factor, unsure)


USUAL = (0.93, 1.07)
"""Factors outside this carry more correction than they should. Common practice; the range two of the standards permit."""


def far_from_one(factor: float) -> tuple[str, ...]:
    """The caution for a factor [1] far from 1, whatever the standard; empty for a usual one."""
    if USUAL[0] <= factor <= USUAL[1]:
        return ()
    return (
        f"A factor of {factor:.3f} is far from 1: more than 7 % of the result would be correction, not measurement. "
        "Compare only what was pulled in the same air.",
    )


def outside(weather: moist.Weather, standard_key: str) -> tuple[str, ...]:
    """Sentences for each range of a standard that a weather leaves; empty when all hold. Raises KeyError as `correction`."""
    standard = STANDARDS[standard_key]
    factor, used = _factor(standard, weather)
    return out_of_range(standard, weather.temperature - ZERO_CELSIUS, used, factor)


def out_of_range(standard: Standard, celsius: float, pressure: float, factor: float) -> tuple[str, ...]:
    """Sentences for each permitted range that a weather leaves; empty when all hold.

    celsius [degC], pressure [Pa] as the standard uses it.
    """
    checks = (
        (standard.temperature_range, celsius, 1.0, "°C", "air temperature"),
        (standard.pressure_range, pressure, 1000.0, "kPa", "air pressure"),
        (standard.factor_range, factor, 1.0, "", "factor"),
    )
    return tuple(
        f"The {word} {value / unit:.3g} {symbol} is outside {bounds[0] / unit:.3g} to {bounds[1] / unit:.3g} "
        f"{symbol}, the range {standard.name} permits (as remembered): do not publish under this standard."
        for bounds, value, unit, symbol, word in checks
        if bounds is not None and not bounds[0] <= value <= bounds[1]
    )
