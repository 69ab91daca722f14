"""A forecast: a difference B − A with a band, over engine speed or valve lift, before anything was tested."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import InputError

Array = npt.NDArray[np.float64]
LEVEL = 0.80
"""How often a forecast's band is meant to hold the truth."""
TORQUE, POWER, PEAK_SPEED, AIRFLOW = "torque", "power", "peak_speed", "airflow"


@dataclass(frozen=True)
class Quantity:
    """What can be forecast: key, label, kind of the difference, kind of the axis it runs over ("" for a single number)."""

    key: str
    label: str
    kind: str
    axis: str


LIFT_BANDS = ("low lifts", "middle lifts", "high lifts")
ONE_PART = "the part"
"""What the thirds of the lifts are called, and the one band of a part that is read without lifts."""
QUANTITIES = {
    q.key: q
    for q in (
        Quantity(TORQUE, "torque", "torque", "speed"),
        Quantity(POWER, "power", "power", "speed"),
        Quantity(PEAK_SPEED, "speed of peak power", "speed", ""),
        Quantity(AIRFLOW, "airflow", "flow", "length"),
    )
}


@dataclass(frozen=True)
class ForecastPoint:
    """One point of a forecast: place on the axis (speed [rad/s] or lift [m]), least, expected and most of B − A [SI]."""

    x: float
    low: float
    middle: float
    high: float


@dataclass(frozen=True)
class Forecast:
    """A difference curve with a band: straight lines between points whose places never run backwards.

    Two points at one place make a step, so that three band values are six points.
    """

    quantity: str
    points: tuple[ForecastPoint, ...]

    def __post_init__(self) -> None:
        if self.quantity not in QUANTITIES:
            raise InputError("Torque, power, speed of peak power or airflow can be forecast.", "quantity")
        if not self.points:
            raise InputError("A forecast has one value or more.", "points")
        for point in self.points:
            if not all(np.isfinite((point.x, point.low, point.middle, point.high))):
                raise InputError("A forecast is made of real numbers.", "points")
            if not point.low <= point.middle <= point.high:
                raise InputError("The expected value lies between the least and the most.", "points")
            if point.low == point.high:
                raise InputError("A forecast without a band is a promise: say the least and the most.", "points")
        if any(after.x < before.x for before, after in zip(self.points, self.points[1:], strict=False)):
            raise InputError("The places of a forecast never run backwards.", "points")

    @property
    def is_drawn_in_steps(self) -> bool:
        """Whether it says one value a band, and so nothing about places within a band."""
        pairs = zip(self.points, self.points[1:], strict=False)
        return all(a.x == b.x or a.middle == b.middle for a, b in pairs)

    @property
    def span(self) -> tuple[float, float]:
        """First and last place."""
        return self.points[0].x, self.points[-1].x

    def at(self, places: Array) -> tuple[Array, Array, Array]:
        """Least, expected and most of B − A at places (m,); nan outside what was forecast."""
        xs = np.array([p.x for p in self.points])
        outside = (places < xs[0] - 1e-9) | (places > xs[-1] + 1e-9)
        columns = ([p.low for p in self.points], [p.middle for p in self.points], [p.high for p in self.points])
        low, middle, high = (np.where(outside, np.nan, np.interp(places, xs, column)) for column in columns)
        return low, middle, high

    def mean(self, places: Array) -> ForecastPoint | None:
        """Mean over places (m,); None where it says nothing about half of them or more.

        The band of a mean is the mean of the bands: errors at all places are taken to go together.
        """
        if not places.size:
            return None
        inset = 1e-6 * float(places.max() - places.min())  # the ends of a band belong to it, not to its neighbour
        low, middle, high = self.at(np.clip(places, places.min() + inset, places.max() - inset))
        known = np.isfinite(middle)
        if known.mean() <= 0.5:
            return None
        means = (float(part[known].mean()) for part in (low, middle, high))
        return ForecastPoint(float(places[known].mean()), *means)

    def to_json(self) -> list[list[float]]:
        """The points as lists of x, least, expected, most [SI]."""
        return [[p.x, p.low, p.middle, p.high] for p in self.points]


def from_json(quantity: str, points: Sequence[Any]) -> Forecast:
    """The inverse of `Forecast.to_json`."""
    return Forecast(quantity, tuple(ForecastPoint(*(float(v) for v in row)) for row in points))


@dataclass(frozen=True)
class Drawn:
    """One value drawn by hand: where it begins and ends [rad/s or m], least, expected and most of B − A [SI]."""

    start: float
    end: float
    low: float
    middle: float
    high: float


def drawn_by_hand(quantity: str, values: Sequence[Drawn]) -> Forecast:
    """A forecast of band values, one step a band. Raises InputError as `Forecast`."""
    points = [ForecastPoint(x, v.low, v.middle, v.high) for v in values for x in (v.start, v.end)]
    return Forecast(quantity, tuple(points))


def of_peak_speed(low: float, middle: float, high: float) -> Forecast:
    """A forecast of how far the speed of peak power moves [rad/s]."""
    return Forecast(PEAK_SPEED, (ForecastPoint(0.0, low, middle, high),))


SCHOOL_BAND = 0.5
"""Half the band of a school's curve as a share of its largest difference (ours: no school says how sure it is)."""


def of_school(
    places: Array, tuned_a: Sequence[float], tuned_b: Sequence[float], level: float, worth: float, width: float
) -> Forecast:
    """What a tuning school says about torque: each tuned speed lifts it by a hump, A's humps are lost and B's are won.

    places: speeds (m,) [rad/s]; tuned_a, tuned_b: tuned speeds [rad/s]; level: torque of A [N m]; worth: what a tuned speed is worth
    as a share of it [1]; width: half width of a hump as a share of its speed [1]. Raises InputError where no tuned speed of
    either lies in the band. Source: ours; schools give speeds, worth and width are common practice without a source.
    """

    def humps(tuned: Sequence[float]) -> Array:
        found = [np.exp(-0.5 * ((places / t - 1.0) / width) ** 2) for t in tuned]
        return np.max(found, axis=0) if found else np.zeros(places.size)

    difference = level * worth * (humps(tuned_b) - humps(tuned_a))
    if float(np.abs(difference).max()) < 0.001 * level * worth:
        raise InputError("By this school nothing moves within the band of use: there is nothing to forecast.", "school")
    half = SCHOOL_BAND * level * worth
    return Forecast(
        TORQUE,
        tuple(
            ForecastPoint(float(x), float(d - half), float(d), float(d + half))
            for x, d in zip(places, difference, strict=True)
        ),
    )
