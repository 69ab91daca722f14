"""Valid pulls as they were logged: to corrected curves, to both schools of a boosted comparison, and to response.

Records and evidence bundles both come through here, so that a stranger's recomputation is the house's own.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Band
from longbreath.core.compare.scatter import Scatter
from longbreath.core.pull import pulls
from longbreath.core.pull.channels import ABSOLUTE, CHARGE, GAUGE, POWER, SPEED, TIME, TORQUE, TURBINE
from longbreath.core.weigh import boost, response
from longbreath.core.weigh.boost import BoostedPull, EqualBoost
from longbreath.core.weigh.response import ResponseJudged, Rise

Array = npt.NDArray[np.float64]
OF_TORQUE = (SPEED, TORQUE, POWER)
OF_BOOST = (SPEED, TORQUE, POWER, ABSOLUTE, GAUGE, CHARGE, TURBINE, TIME)
"""Channels that are asked for: of a comparison of torque, and of boost and response."""
AFTER_START = 200.0
"""The engine speeds up by so many rpm a second, where nobody says otherwise: about second gear of a road vehicle. Ours."""


@dataclass(frozen=True)
class Logged:
    """One valid pull: the label it is weighed under (others than A and B only tell how torque follows boost), the build it was of,
    place, set and day, all numbered through; how a working names it; its channels (n,) [SI]; the station's pressure [Pa], and what
    logged torque is multiplied by."""

    label: str
    build: str
    order: int
    fitting: int
    day: int
    row: str
    channels: Mapping[str, Array]
    station: float
    factor: float

    def curve(self, torque: Array) -> compare.PullCurve:
        """The pull with a torque (m,) [N m]."""
        return compare.PullCurve(self.label, self.order, torque, self.row, self.fitting, self.day)


def curves(logged: Sequence[Logged], grid: Array, several_dynos: bool = False) -> list[compare.PullCurve]:
    """Corrected curves on a grid [rad/s]; those of several dynos as ratios. Raises EvidenceError as `as_ratios`."""
    runs = [p.curve(pulls.on_grid(pulls.make_sweep(dict(p.channels)), grid) * p.factor) for p in logged]
    return as_ratios(runs) if several_dynos else runs


def as_ratios(runs: Sequence[compare.PullCurve]) -> list[compare.PullCurve]:
    """Every curve T as R·(1 + ln(T/R)), R the mean of A on the newest day: a day's own scale becomes a shift, which its level
    takes up.

    Differences are then ratios to A, in N·m of the newest dyno. Raises EvidenceError where that day holds no A.
    """
    last = max(run.day for run in runs) if runs else 0
    mine = [run.torque for run in runs if run.day == last and run.label == "A"]
    if not mine:
        raise EvidenceError("The newest session holds no A: sessions of different dynos are joined by ratios to it.")
    level = np.mean(mine, axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        return [replace(run, torque=level * (1.0 + np.log(run.torque / level))) for run in runs]


@dataclass(frozen=True)
class Schools:
    """Both schools of a boosted comparison, band by band: as set from the verdict, at equal boost by the sweep or the law, at
    equal back pressure where it was logged; words that each may back, and why a school is missing."""

    equal: EqualBoost | None
    back: EqualBoost | None
    words: tuple[str, ...]
    missing: tuple[str, ...]


def schools(
    logged: Sequence[Logged],
    grid: Array,
    scatter: Scatter | None,
    control_mode: str = "",
    confidence: float = compare.CONFIDENCE,
) -> Schools:
    """Equal boost beside as set, from the same pulls on a grid [rad/s]; by the pressure-ratio law where the engine has no sweep
    of its own. confidence: of the intervals [1]."""
    missing: list[str] = []
    swept = boosted(logged, grid, ABSOLUTE, missing)
    equal = _equal(swept, grid, scatter, missing, confidence) if swept else None
    back, behind = None, boosted(logged, grid, TURBINE, [])
    if behind:
        try:
            back = boost.by_own_sweep(behind, grid, scatter=scatter, confidence=confidence)
        except EvidenceError as error:
            missing.append(f"At equal back pressure: {error.message}")
    words = boost.words_of(equal, control_mode) if equal is not None else ()
    return Schools(equal, back, words, tuple(missing))


def _equal(
    swept: Sequence[BoostedPull], grid: Array, scatter: Scatter | None, missing: list[str], confidence: float
) -> EqualBoost | None:
    try:
        return boost.by_own_sweep(swept, grid, scatter=scatter, confidence=confidence)
    except EvidenceError as error:
        missing.append(error.message)
    try:
        return boost.by_ratio_law([p for p in swept if p.label in ("A", "B")], grid, confidence=confidence)
    except EvidenceError as error:
        missing.append(error.message)
    return None


def boosted(logged: Sequence[Logged], grid: Array, pressure: str, missing: list[str]) -> list[BoostedPull]:
    """Pulls with a pressure of theirs [Pa] on a grid [rad/s]; those without it are named in `missing`."""
    made, without = [], []
    for pull in logged:
        gauge = pressure_of(pull, pressure)
        if gauge is None:
            without.append(str(pull.order))
        else:
            made.append(_on_grid(pull, gauge, grid))
    usable = [p for p in made if np.isfinite(p.torque).all() and np.isfinite(p.pressure).all()]
    if without and pressure == ABSOLUTE:
        missing.append(f"No manifold pressure was logged in pull {', '.join(without)}: these take no part here.")
    if len(usable) < len(made) and pressure == ABSOLUTE:
        missing.append(
            f"{len(made) - len(usable)} pulls do not cover all speeds with their pressure and take no part here."
        )
    return usable


def pressure_of(pull: Logged, wanted: str) -> Array | None:
    """Absolute pressure [Pa] along a pull's rows; gauge is put on the station's pressure."""
    if wanted in pull.channels:
        return pull.channels[wanted]
    if wanted == ABSOLUTE and GAUGE in pull.channels:
        return pull.channels[GAUGE] + pull.station
    return None


def _on_grid(pull: Logged, pressure: Array, grid: Array) -> BoostedPull:
    torque = pulls.on_grid(pulls.make_sweep(dict(pull.channels)), grid) * pull.factor
    charge = along(pull.channels, pull.channels[CHARGE], grid) if CHARGE in pull.channels else None
    if charge is not None and not np.isfinite(charge).all():
        charge = None
    at = along(pull.channels, pressure, grid)
    return BoostedPull(pull.label, pull.build, pull.order, torque, at, charge, pull.row, pull.day, pull.fitting)


def along(channels: Mapping[str, Array], values: Array, grid: Array) -> Array:
    """A channel on a grid of speeds [rad/s], fitted as torque is; NaN where it was not logged."""
    speed = channels[SPEED]
    good = np.isfinite(speed) & np.isfinite(values)
    if good.sum() < pulls.MINIMUM_ROWS:
        return np.full(grid.shape, np.nan)
    return pulls.on_grid(pulls.Sweep({SPEED: speed[good], TORQUE: values[good]}), grid)


@dataclass(frozen=True)
class Response:
    """How boost came: the common target [Pa], what was compared, B − A at speeds before it stood, areas, and what is not known."""

    target: float
    judged: tuple[ResponseJudged, ...]
    before: tuple[tuple[float, float, float], ...]
    rate: float
    notes: tuple[str, ...]


def respond(
    logged: Sequence[Logged], comparison: compare.Comparison, bands: Sequence[Band], rate: float | None = None
) -> Response:
    """Response of A and B from their logs. rate: how fast the engine speeds up [rad/s²] for the area under torque. Raises
    EvidenceError without boost or too few pulls."""
    gauges, kept = {}, {}
    for pull in (p for p in logged if p.label in ("A", "B")):
        absolute = pressure_of(pull, ABSOLUTE)
        if absolute is not None:
            gauges[pull.order], kept[pull.order] = absolute - pull.station, pull
    if not gauges:
        raise EvidenceError("No manifold pressure was logged: response cannot be seen.")
    target = response.target_of(list(gauges.values()))
    rises = {
        place: response.rise_of(pull.channels[SPEED], gauges[place], target, pull.channels.get(TIME))
        for place, pull in kept.items()
    }
    runs = [pull.curve(np.zeros(1)) for pull in kept.values()]
    rate = rate or AFTER_START * np.pi / 30.0
    judged = [*_judged(rises, runs, comparison.confidence), *_areas(comparison, bands[0], rate)]
    speeds = [s for r in rises.values() for s in r.speeds if s is not None]
    fixed = _fixed_speeds(comparison, max(speeds, default=0.0), bands)
    return Response(target, tuple(judged), tuple(response.torque_before(comparison, fixed)), rate, _notes(rises))


def _judged(rises: Mapping[int, Rise], runs: Sequence[compare.PullCurve], confidence: float) -> list[ResponseJudged]:
    found = []
    for k, part in enumerate(response.PARTS):
        speeds = {p: r.speeds[k] for p, r in rises.items()}
        times = {p: r.times[k] for p, r in rises.items()}
        for name, kind, values in (
            (f"speed at {part:.0%} of the boost", "speed", speeds),
            (f"time to {part:.0%} of the boost", "time", times),
        ):
            known = {p: v for p, v in values.items() if v is not None}
            one = response.judge(name, kind, known, runs, True, confidence)
            if one is not None:
                found.append(one)
    return found


def _areas(comparison: compare.Comparison, band: Band, rate: float) -> list[ResponseJudged]:
    """Area under torque over the low band while the engine speeds up at a rate [N m s]."""
    try:
        values = {
            run.order: response.area_while_rising(comparison.grid, run.torque, band.low, band.high, rate)
            for run in comparison.runs
        }
    except ValueError:
        return []
    name = f"area under torque, {band.words} rpm"
    one = response.judge(name, "impulse", values, comparison.runs, False, comparison.confidence)
    return [one] if one is not None else []


def _fixed_speeds(comparison: compare.Comparison, until: float, bands: Sequence[Band]) -> list[float]:
    """Three speeds between the lowest of the curves and where boost stands."""
    low = float(comparison.grid[0])
    high = min(until, bands[1].low) if until > low else bands[1].low
    return [float(s) for s in np.linspace(low, max(high, low), 4)[:-1]]


def _notes(rises: Mapping[int, Rise]) -> tuple[str, ...]:
    found = []
    if any(t is None for r in rises.values() for t in r.times):
        found.append("Some pulls have no clock, or never reached the target: they say nothing about time.")
    return (*found, response.LIMIT)
