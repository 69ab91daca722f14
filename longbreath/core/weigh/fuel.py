"""A fuel trial over vehicles, drivers, routes and weeks: before and after with controls, and what the saving is worth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare.compare import GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN
from longbreath.core.compare.components import best_fit

Array = npt.NDArray[np.float64]
CO2 = {"petrol": 2360.0, "diesel": 2640.0}
"""CO₂ from a cubic metre of fuel [kg/m³]: density × carbon share × 44/12, at 745 kg/m³ and 86.4 % (petrol), 835 and 86.2 % (diesel).
First principles with assumed density and carbon, commonly quoted 2.3 and 2.6 kg/l."""
MOST_VEHICLES, MOST_LEVELS = 80, 40
"""Vehicles of a trial, and drivers or routes that are taken into account."""
MARGIN = 0.01
"""A saving under 1 % is no meaningful one. Common practice, no source."""
POWER = 0.8


@dataclass(frozen=True)
class Run:
    """One stretch of the trial: vehicle, whether it is one that gets the part, whether it is after the change, distance [m], fuel
    [m³]; driver, route and week where they are known."""

    vehicle: str
    treated: bool
    after: bool
    distance: float
    fuel: float
    driver: str = ""
    route: str = ""
    week: str = ""

    def __post_init__(self) -> None:
        if self.distance <= 0 or self.fuel <= 0:
            raise InputError("Distance and fuel are more than nought.", "rows")

    @property
    def consumption(self) -> float:
        """[m³/m]."""
        return self.fuel / self.distance


@dataclass(frozen=True)
class FuelTrial:
    """What a trial says: change of consumption as a share [1] with its 95 % interval and verdict (a gain is less fuel), the smallest
    saving it could have proven four times in five [1], vehicles with the part and without, what differed besides, fleet
    consumption of the treated before [m³/m] by total fuel over total distance."""

    share: float
    low: float
    high: float
    verdict: str
    provable: float
    treated: int
    controls: int
    df: float
    before: float
    notes: tuple[str, ...]
    runs: int

    @property
    def sentence(self) -> str:
        """In one sentence."""
        change = f"{abs(self.share):.1%} {'less' if self.share < 0 else 'more'} fuel, {self.low:+.1%} to {self.high:+.1%}".replace(
            "-", "−"
        )
        if self.verdict == GAIN:
            return f"A saving is proven: {change}."
        if self.verdict == LOSS:
            return f"It uses more, and that is proven: {change}."
        seen = f"a saving under {self.provable:.1%} could not have been proven by this trial"
        if self.verdict == NO_DIFFERENCE:
            return f"No meaningful difference in fuel: {change}."
        return f"Inside the noise: {change}; {seen}."


def weigh_trial(runs: Sequence[Run]) -> FuelTrial:
    """Difference in differences of log consumption: vehicle's own level, driver and route as they are known, the change that all
    vehicles made, and on top of it that of the vehicles with the part.

    A mixed model (statsmodels' MixedLM, REML) with a random level and a random change of each vehicle; degrees of freedom are
    those between vehicles (treated + controls − 2), because weeks of one vehicle are no independent proof. Raises EvidenceError
    without controls, or with fewer than three vehicles of either kind that ran before and after.
    """
    vehicles = list(dict.fromkeys(r.vehicle for r in runs))
    if len(vehicles) > MOST_VEHICLES:
        raise EvidenceError(f"More than {MOST_VEHICLES} vehicles: split the trial.")
    whole = [v for v in vehicles if len({r.after for r in runs if r.vehicle == v}) == 2]
    kept = [r for r in runs if r.vehicle in whole]
    treated, controls = _sides(kept, whole)
    notes = [f"{v} ran only before or only after and is left out." for v in vehicles if v not in whole]
    value, error, more = _mixed(kept, whole)
    df = float(treated + controls - 2)
    t = t_at(0.975, df)
    low, high = exp(value - t * error) - 1, exp(value + t * error) - 1
    provable = 1 - exp(-(t + t_at(POWER, df)) * error)
    mine = [r for r in kept if r.treated and not r.after]
    before = sum(r.fuel for r in mine) / sum(r.distance for r in mine)
    said = verdict_of(value, error, df)
    return FuelTrial(
        exp(value) - 1, low, high, said, provable, treated, controls, df, before, (*notes, *more), len(kept)
    )


def _sides(runs: Sequence[Run], vehicles: Sequence[str]) -> tuple[int, int]:
    """How many vehicles have the part and how many not. Raises EvidenceError for one that is both, or too few."""
    kinds = {v: {r.treated for r in runs if r.vehicle == v} for v in vehicles}
    mixed = [v for v, kind in kinds.items() if len(kind) > 1]
    if mixed:
        raise EvidenceError(f"{mixed[0]} is marked both as with the part and as a control.")
    treated, controls = (sum(side in kind for kind in kinds.values()) for side in (True, False))
    if not controls:
        raise EvidenceError(
            "Without vehicles that stay as they are, the weeks cannot be told from the part: add controls."
        )
    if treated < 3 or controls < 3:
        raise EvidenceError(
            f"Three vehicles of either kind, each before and after, are needed: {treated} with the part, {controls} without."
        )
    return treated, controls


def verdict_of(value: float, error: float, df: float) -> str:
    """The verdict on a change of log consumption [1] with its standard error: a gain is less fuel."""
    t, one = t_at(0.975, df), t_at(0.95, df)
    if value + t * error < 0:
        return GAIN
    if value - t * error > 0:
        return LOSS
    return NO_DIFFERENCE if abs(value) + one * error < log(1 + MARGIN) else NOT_PROVEN


def _mixed(runs: Sequence[Run], vehicles: Sequence[str]) -> tuple[float, float, list[str]]:
    """Log change by the part and its standard error, and what the model took in besides."""
    from statsmodels.regression.mixed_linear_model import MixedLM, VCSpec

    y = np.array([log(r.consumption) for r in runs])
    after, treated = np.array([float(r.after) for r in runs]), np.array([float(r.treated) for r in runs])
    own = np.array([[float(r.vehicle == v) for v in vehicles] for r in runs])
    more, notes = _drivers_and_routes(runs, np.column_stack([own, after, treated * after]))
    x = np.column_stack([np.ones(len(runs)), treated, after, treated * after, *more])
    codes = np.array([vehicles.index(r.vehicle) for r in runs])
    levels = [np.ones((sum(r.vehicle == v for r in runs), 1)) for v in vehicles]
    changes = [np.array([[float(r.after)] for r in runs if r.vehicle == v]) for v in vehicles]
    known = np.column_stack([own, after])
    scale = max(float(np.std(y - known @ np.linalg.lstsq(known, y, rcond=None)[0])), 1e-9)
    names: list[Any] = [[["level"]] * len(vehicles), [["change"]] * len(vehicles)]
    model = MixedLM(y / scale, x, groups=codes, exog_vc=VCSpec(["level", "change"], names, [levels, changes]))
    best = best_fit(model)
    fitted, error = _by_vehicle(runs, vehicles)
    if best is None or not np.isfinite(best.bse[3]):
        return fitted, error, [*notes, "The mixed model did not settle: each vehicle counts once, by its own change."]
    # few vehicles let the model find no scatter between their changes where there is some
    own_error = scale * float(best.bse[3])
    return scale * float(best.params[3]), max(own_error, min(error, 1.5 * own_error)), notes


def _drivers_and_routes(runs: Sequence[Run], known: Array) -> tuple[list[Array], list[str]]:
    """Columns of drivers and routes that say something beside the vehicles, and what was done with them in words."""
    columns: list[Array] = []
    notes = []
    for name in ("driver", "route"):
        values = [getattr(r, name) for r in runs]
        levels = list(dict.fromkeys(values))
        if len(levels) < 2 or not all(values):
            continue
        if len(levels) > MOST_LEVELS:
            notes.append(f"More than {MOST_LEVELS} {name}s: they are not taken into account.")
            continue
        told = _told(known, [np.array([float(v == level) for v in values]) for level in levels[1:]])
        columns += told
        plural = f"{name.capitalize()}s"
        notes.append(f"{plural} are taken into account." if told else f"{plural} cannot be told from the vehicles.")
    return columns, notes


def _told(known: Array, added: Sequence[Array]) -> list[Array]:
    """Columns of a driver or a route that say something beside the vehicles' own levels and changes."""
    left, values, _ = np.linalg.svd(known, full_matrices=False)
    basis = left[:, values > 1e-9 * values[0]]
    kept: list[Array] = []
    for column in added:
        rest = column - basis @ (basis.T @ column)
        size = float(np.linalg.norm(rest))
        if size > 1e-6 * float(np.linalg.norm(column)):
            kept.append(column)
            basis = np.column_stack([basis, rest / size])
    return kept


def _by_vehicle(runs: Sequence[Run], vehicles: Sequence[str]) -> tuple[float, float]:
    """The same from each vehicle's own change of log consumption: two samples, pooled."""
    changes: dict[bool, list[float]] = {True: [], False: []}
    for v in vehicles:
        mine = [r for r in runs if r.vehicle == v]
        before, after = (np.mean([log(r.consumption) for r in mine if r.after is side]) for side in (False, True))
        changes[mine[0].treated].append(float(after - before))
    a, b = changes[False], changes[True]
    df = len(a) + len(b) - 2
    pooled = (np.var(a, ddof=1) * (len(a) - 1) + np.var(b, ddof=1) * (len(b) - 1)) / df
    return float(np.mean(b) - np.mean(a)), float(sqrt(pooled * (1 / len(a) + 1 / len(b))))


@dataclass(frozen=True)
class Worth:
    """What a change of consumption is worth in a year: fuel [m³], money and CO₂ [kg], each least, middle, most."""

    fuel: tuple[float, float, float]
    money: tuple[float, float, float] | None
    carbon: tuple[float, float, float]


def worth(trial: FuelTrial, distance: float, price: float | None, fuel: str) -> Worth:
    """A year's distance [m] at the fleet's own consumption; price of a cubic metre. Savings are positive. Source: definitions."""
    if distance <= 0:
        raise InputError("The distance of a year is more than nought.", "distance")
    used = trial.before * distance
    saved = (-trial.high * used, -trial.share * used, -trial.low * used)
    per = CO2.get(fuel, CO2["petrol"])
    money = None if price is None else (saved[0] * price, saved[1] * price, saved[2] * price)
    return Worth(saved, money, (saved[0] * per, saved[1] * per, saved[2] * per))


def averaged(runs: Sequence[Run]) -> tuple[float, float]:
    """Fleet consumption [m³/m] by total fuel over total distance; and what averaging the vehicles' miles per gallon would wrongly
    say."""
    right = sum(r.fuel for r in runs) / sum(r.distance for r in runs)
    return right, 1.0 / float(np.mean([1.0 / r.consumption for r in runs]))
