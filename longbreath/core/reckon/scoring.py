"""Scoring a forecast on what was found: per band hit or miss with figures, error of size, error of place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy import stats

from longbreath.core.basis.quantiles import t_at
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Band
from longbreath.core.compare.compare import Comparison, Effect
from longbreath.core.reckon.forecast import PEAK_SPEED, POWER, QUANTITIES, Forecast, ForecastPoint

Array = npt.NDArray[np.float64]
HIT, MISS, UNTOLD = "hit", "miss", "cannot tell"
SURE = 0.975
"""Chance that the truth lies inside (or outside) from which a band is a hit (or a miss)."""
SHIFTS = np.linspace(-0.20, 0.20, 81)
"""Shifts along the speed axis that are tried, as a share of speed [1]."""
WORTH_TELLING = 0.5
"""A shift is told where it leaves less than this share of the squared error: a curve of many humps fits a little better anywhere."""
SOURCE = "Definition; the chance from the t distribution of the observed difference. See Method, Forecasts."


@dataclass(frozen=True)
class BandFound:
    """What was found of one band: its name, where on the axis, B − A with standard error and degrees of freedom, A's value [SI]."""

    name: str
    places: tuple[float, float]
    value: float
    standard_error: float
    df: float
    reference: float
    rows: tuple[str, ...] = ()


@dataclass(frozen=True)
class Scored:
    """One band scored: what was said and what was found [SI], chance [1] that the truth lies in the band, and the outcome."""

    name: str
    said: ForecastPoint
    found: BandFound
    chance: float
    outcome: str

    @property
    def error(self) -> float:
        """Found less expected [SI]."""
        return self.found.value - self.said.middle

    @property
    def half_width(self) -> float:
        """Half of the 95 % interval of what was found [SI]."""
        return t_at(0.975, self.found.df) * self.found.standard_error

    def to_json(self) -> dict[str, Any]:
        """What is kept of it: numbers in SI."""
        said = [self.said.low, self.said.middle, self.said.high]
        return {
            "name": self.name,
            "said": said,
            "found": self.found.value,
            "half_width": self.half_width,
            "reference": self.found.reference,
            "chance": self.chance,
            "outcome": self.outcome,
        }


def chance_inside(said: ForecastPoint, found: BandFound) -> float:
    """Chance [1] that the true difference lies between least and most, from what was found: t with its standard error.

    With a standard error of nought it is nought or one. Source: t interval of a least-squares estimate, read as a
    distribution of the truth.
    """
    if found.standard_error <= 0:
        return float(said.low <= found.value <= said.high)
    ends = (np.array([said.low, said.high]) - found.value) / found.standard_error
    low, high = stats.t.cdf(ends, found.df)
    return float(high - low)


def score_band(said: ForecastPoint, found: BandFound) -> Scored:
    """Score one band: a hit or a miss only where what was found can tell."""
    chance = chance_inside(said, found)
    outcome = HIT if chance >= SURE else MISS if chance <= 1.0 - SURE else UNTOLD
    return Scored(found.name, said, found, chance, outcome)


def score_figure(scored: Scored, quantity: str) -> Figure:
    """Found less expected of one band [SI], with its working; ± is that of what was found."""
    kind = QUANTITIES[quantity].kind
    said, found = scored.said, scored.found
    givens = (
        Given("e_min", "least that was said", said.low, kind),
        Given("e", "expected", said.middle, kind),
        Given("e_max", "most that was said", said.high, kind),
        Given("A", "A’s value there", found.reference, kind),
    )
    steps = (
        Step("y", "found, B − A", found.value, kind),
        Step("se", f"its standard error, {found.df:.1f} degrees of freedom", found.standard_error, kind),
        Step("p", "chance that the truth lies between e_min and e_max", scored.chance, "percent"),
        Step("Δ", "y − e", scored.error, kind),
    )
    notes = (f"{scored.outcome.capitalize()}: told where the chance is at least 97.5 % or at most 2.5 %.",)
    return reckoned(
        f"score-{scored.name}",
        f"{scored.name}: found less expected",
        givens,
        steps,
        SOURCE,
        notes,
        found.rows,
        signed=True,
        uncertainty=scored.half_width or None,
    )


def found_in_bands(
    comparison: Comparison, bands: Sequence[Band], of_power: bool
) -> tuple[tuple[BandFound, Array], ...]:
    """B − A of the mean torque [N m] or power [W] of each band that the pulls cover by half or more, with its grid speeds."""
    found = []
    step = float(comparison.grid[1] - comparison.grid[0])
    for band in bands:
        mask = (comparison.grid >= band.low - 1e-9) & (comparison.grid <= band.high + 1e-9)
        if mask.sum() * step < 0.5 * (band.high - band.low):
            continue
        scale = comparison.grid if of_power else np.ones(comparison.grid.size)
        values = (comparison.torques * scale)[:, mask].mean(axis=1)
        factor = float(scale[mask].mean())
        levels = comparison.levels.scaled(factor)
        result = compare.effect(values, comparison.design, known=comparison.known * factor, levels=levels)
        level = float((comparison.a * scale)[mask].mean())
        found.append((_found(band.name, (band.low, band.high), result, level, comparison), comparison.grid[mask]))
    return tuple(found)


def _found(name: str, places: tuple[float, float], result: Effect, level: float, comparison: Comparison) -> BandFound:
    rows = tuple(run.row for run in comparison.runs)
    return BandFound(name, places, result.value, result.standard_error, result.df, level, rows)


def found_peak_speed(comparison: Comparison) -> BandFound:
    """How far the speed of peak power moved [rad/s], from each pull's own peak, drift taken out."""
    result = comparison.peak_place()
    level = float(comparison.grid[int(np.argmax(comparison.a * comparison.grid))])
    return _found("peak", (level, level), result, level, comparison)


def score(forecast: Forecast, comparison: Comparison, bands: Sequence[Band]) -> tuple[Scored, ...]:
    """Each band of use scored; nothing where the forecast says nothing about half of a band or more."""
    if forecast.quantity == PEAK_SPEED:
        return (score_band(forecast.points[0], found_peak_speed(comparison)),)
    scored = []
    for found, places in found_in_bands(comparison, bands, forecast.quantity == POWER):
        said = forecast.mean(places)
        if said is not None:
            scored.append(score_band(said, found))
    return tuple(scored)


@dataclass(frozen=True)
class Sizes:
    """Three different numbers that are never one: the expected mean difference, that of the peaks, and the largest local one."""

    expected: float
    peak: float
    local: float
    local_at: float


def sizes_of(forecast: Forecast, comparison: Comparison) -> Sizes | None:
    """Expected, peak and largest local difference of a forecast over speed [SI]; None for one that is not over speed."""
    if QUANTITIES[forecast.quantity].axis != "speed":
        return None
    scale = comparison.grid if forecast.quantity == POWER else np.ones(comparison.grid.size)
    said = forecast.mean(comparison.grid)
    difference = comparison.difference * scale
    at = int(np.argmax(np.abs(difference)))
    peak = float((comparison.b * scale).max() - (comparison.a * scale).max())
    expected = said.middle if said is not None else float("nan")
    return Sizes(expected, peak, float(difference[at]), float(comparison.grid[at]))


@dataclass(frozen=True)
class PlaceError:
    """Error of place: shift [1, as a share of speed] at which the forecast fits best, root mean square error as said and shifted
    [SI], and whether the gain is more than the noise of what was found."""

    shift: float
    as_said: float
    shifted: float
    is_told: bool


def error_of_place(forecast: Forecast, comparison: Comparison) -> PlaceError | None:
    """How far along the speed axis a forecast lies beside what was found; None for one that says nothing about places.

    Every shift up to ±20 % is tried; it is told where the mean squared error falls by half or more, and by more than the squared
    standard error of what was found, and the best shift is not an end of the range.
    """
    if QUANTITIES[forecast.quantity].axis != "speed" or forecast.is_drawn_in_steps:
        return None
    scale = comparison.grid if forecast.quantity == POWER else np.ones(comparison.grid.size)
    observed, noise = comparison.difference * scale, comparison.standard_error * scale
    low, high = forecast.span
    inner = (comparison.grid * (1 + SHIFTS[-1]) <= high) & (comparison.grid / (1 + SHIFTS[-1]) >= low)
    usable = inner if inner.sum() >= 5 else np.ones(comparison.grid.size, dtype=bool)
    errors = []
    for shift in SHIFTS:
        _, middle, _ = forecast.at(np.clip(comparison.grid / (1.0 + shift), low, high))
        errors.append(float(np.mean((observed - middle)[usable] ** 2)))
    best, as_said = int(np.argmin(errors)), errors[len(SHIFTS) // 2]
    fell = as_said - errors[best] > float(np.mean(noise[usable] ** 2)) and errors[best] < WORTH_TELLING * as_said
    told = fell and 0 < best < len(SHIFTS) - 1
    return PlaceError(float(SHIFTS[best]), as_said**0.5, errors[best] ** 0.5, told)


def root_mean_square(scored: Sequence[Scored]) -> float | None:
    """Root mean square of found less expected over bands [SI]; None without any."""
    return float(np.sqrt(np.mean([s.error**2 for s in scored]))) if scored else None
