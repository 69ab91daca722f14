"""One dyno pull: what it must satisfy, and its curve on a common grid of speeds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.dyno.channels import MIXTURE, POWER, SPEED, TORQUE

Array = npt.NDArray[np.float64]

MINIMUM_ROWS = 10
IDENTITY_TOLERANCE = 0.01
SPIKE_SHARE = 0.04
"""A point this far (as a share of the peak) from the running median of its neighbours is a spike. Common practice."""
NOTCH_SHARE = 0.05
NOTCH_WIDTHS = (100.0, 150.0, 250.0)
"""A dip this deep (share of the peak) between shoulders this far [rpm] on each side is a notch. Common practice, no source."""
END_SHARE, END_WIDTH = 0.12, 300.0
"""A fall this deep (share of the peak) over the last rpm is a cut. Common practice, no source."""
SPEED_WOBBLE = 0.004
"""Speed may fall back by this share of itself before a pull counts as not monotonic (encoder noise)."""


@dataclass(frozen=True)
class Sweep:
    """One pull as logged: channels by name, each (n,) in SI. Speed [rad/s] and torque [N m] are always among them."""

    channels: Mapping[str, Array]

    def __post_init__(self) -> None:
        if self.speed.size < MINIMUM_ROWS:
            raise InputError(f"{self.speed.size} rows with numbers; a sweep needs at least {MINIMUM_ROWS}.", "file")

    @property
    def speed(self) -> Array:
        """Engine speed [rad/s], (n,)."""
        return self.channels[SPEED]

    @property
    def torque(self) -> Array:
        """Torque [N m], (n,)."""
        return self.channels[TORQUE]

    @property
    def power(self) -> Array | None:
        """Power [W], (n,), if it was logged beside torque."""
        return self.channels.get(POWER)

    @property
    def mixture(self) -> Array | None:
        """Lambda [1], (n,), if it was logged."""
        return self.channels.get(MIXTURE)


@dataclass(frozen=True)
class PullRules:
    """What a pull is held to: band of use low..high [rad/s], lambda asked for [1] (None: not checked) ± tolerance."""

    low: float
    high: float
    mixture_target: float | None = None
    mixture_tolerance: float = 0.05


@dataclass(frozen=True)
class Check:
    """The outcome of one check: `passed` is None where it could not be made."""

    key: str
    name: str
    passed: bool | None
    sentence: str


def make_sweep(channels: Mapping[str, Array]) -> Sweep:
    """A sweep from whatever was logged: rows without speed, torque or power fall out; torque is made from power.

    channels: speed [rad/s], torque [N m], power [W] and any others by name, arrays (n,) with NaN where a cell was empty.
    Raises InputError if neither torque nor power is there, or if fewer than 10 rows are left.
    """
    speed, torque, power = channels[SPEED], channels.get(TORQUE), channels.get(POWER)
    if torque is None and power is None:
        raise InputError("Neither torque nor power is mapped. Choose at least one of them.", TORQUE)
    with np.errstate(divide="ignore", invalid="ignore"):
        curve = torque if torque is not None else power / speed  # type: ignore[operator]
    good = np.isfinite(speed) & np.isfinite(curve) & (speed > 0)
    kept = {name: values[good] for name, values in channels.items() if name != POWER or torque is not None}
    return Sweep({**kept, TORQUE: curve[good]})


def _rpm(speed: float) -> str:
    return f"{speed / RPM:,.0f}".replace(",", "\u202f") + " rpm"


def check_identity(sweep: Sweep) -> Check:
    """Power = torque × speed at every row, within 1 % (median) and 3 % (worst 5 %). Definition of mechanical power."""
    name = "power = torque × speed"
    if sweep.power is None:
        return Check("identity", name, None, "Only one of torque and power is in the file, so they cannot contradict.")
    scale = float(np.nanmax(np.abs(sweep.power)))
    off = np.abs(sweep.power - sweep.torque * sweep.speed) / scale
    off = off[np.isfinite(off)]
    if off.size == 0 or scale <= 0:
        return Check("identity", name, None, "The power column holds no numbers.")
    middle, worst = float(np.median(off)), float(np.quantile(off, 0.95))
    if middle > IDENTITY_TOLERANCE or worst > 3 * IDENTITY_TOLERANCE:
        return Check(
            "identity",
            name,
            False,
            f"Power and torque × speed differ by {middle:.1%} (median). Check the units of both columns, "
            "and whether one of them was already corrected.",
        )
    return Check("identity", name, True, f"Power and torque × speed agree within {worst:.1%}.")


def check_coverage(sweep: Sweep, rules: PullRules) -> Check:
    """The pull spans the band of use, give or take one per cent of speed at each end."""
    low, high = float(sweep.speed.min()), float(sweep.speed.max())
    words = f"runs from {_rpm(low)} to {_rpm(high)}; the band of use is {_rpm(rules.low)} to {_rpm(rules.high)}"
    if high < rules.low or low > rules.high:
        return Check("coverage", "band of use", False, f"It lies wholly outside the band: it {words}.")
    passed = low <= rules.low * 1.01 and high >= rules.high * 0.99
    return Check("coverage", "band of use", passed, f"It {words}." if passed else f"Incomplete: it {words}.")


def check_monotonic(sweep: Sweep) -> Check:
    """Speed rises from row to row, but for encoder noise."""
    back = np.maximum.accumulate(sweep.speed) - sweep.speed
    worst = int(np.argmax(back / sweep.speed))
    if back[worst] > SPEED_WOBBLE * sweep.speed[worst]:
        return Check(
            "monotonic",
            "speed rises",
            False,
            f"Speed falls back by {back[worst] / RPM:.0f} rpm near {_rpm(float(sweep.speed[worst]))}: "
            "slip, a lift of the pedal, or two pulls in one file.",
        )
    return Check("monotonic", "speed rises", True, "Speed rises throughout.")


def check_spikes(sweep: Sweep) -> Check:
    """No torque value stands out of its neighbours (running median of five) by more than 4 % of the peak."""
    padded = np.pad(sweep.torque, 2, mode="edge")
    median = np.median(np.lib.stride_tricks.sliding_window_view(padded, 5), axis=1)
    off = np.abs(sweep.torque - median)
    worst = int(np.argmax(off))
    if off[worst] > SPIKE_SHARE * float(np.max(np.abs(sweep.torque))):
        return Check(
            "spikes",
            "no spikes",
            False,
            f"Torque jumps by {off[worst] / float(np.max(np.abs(sweep.torque))):.0%} of the peak at "
            f"{_rpm(float(sweep.speed[worst]))}: ignition noise, wheel slip or a bad row.",
        )
    return Check("spikes", "no spikes", True, "No point stands out of its neighbours.")


def _even(sweep: Sweep) -> tuple[Array, Array]:
    """Torque as a share of its peak, averaged in steps of 25 rpm or two rows: speeds [rad/s] and shares, where there are rows."""
    step = max(25.0 * RPM, 2.0 * float(np.median(np.abs(np.diff(sweep.speed)))))
    bins = np.floor(sweep.speed / step).astype(int)
    inside = np.unique(bins)
    share = sweep.torque / float(np.max(np.abs(sweep.torque)))
    return (inside + 0.5) * step, np.array([float(np.mean(share[bins == b])) for b in inside])


def check_notch(sweep: Sweep) -> Check:
    """No dip of up to 500 rpm stands below the line through its shoulders by more than 5 % of the peak.

    A wider one can be the engine's own tuning. Common practice, no source.
    """
    speed, share = _even(sweep)
    worst, at = 0.0, 0.0
    for width in NOTCH_WIDTHS:
        before, after = (np.interp(speed + side * width * RPM, speed, share) for side in (-1.0, 1.0))
        inner = (speed > speed[0] + width * RPM) & (speed < speed[-1] - width * RPM)
        back = np.minimum(before, after) - share > NOTCH_SHARE / 2.0  # a bend on a slope does not come back
        below = np.where(inner & back, (before + after) / 2.0 - share, 0.0)
        if below.max() > worst:
            worst, at = float(below.max()), float(speed[int(np.argmax(below))])
    if worst > NOTCH_SHARE:
        words = f"Torque dips by {worst:.0%} of the peak at {_rpm(at)} and comes back: a cut, a shift or a misfire."
        return Check("notch", "no notch", False, words)
    return Check("notch", "no notch", True, "Torque does not dip and come back.")


def check_end(sweep: Sweep, rules: PullRules) -> Check:
    """Torque does not collapse inside the band of use: over its last 300 rpm it falls no more than 12 % of the peak below
    where the 500 rpm before were heading."""
    speed, share = _even(sweep)
    used = speed <= rules.high
    speed, share = speed[used], share[used]
    last = speed > speed[-1] - END_WIDTH * RPM if speed.size else np.array([], dtype=bool)
    run_up = ~last & (speed > speed[-1] - (END_WIDTH + 500.0) * RPM) if speed.size else last
    if run_up.sum() < 3:
        return Check("end", "torque to the end", None, "Too few rows near the end to tell.")
    slope, level = np.polyfit(speed[run_up] - speed[-1], share[run_up], 1)
    heading = level + min(float(slope), 0.0) * (speed[last] - speed[-1])
    fall = float(np.max(heading - share[last]))
    if fall > END_SHARE:
        at = _rpm(float(speed[last][int(np.argmax(heading - share[last] > END_SHARE / 2))]))
        words = (
            f"Torque falls away by {fall:.0%} of the peak from {at}: a limiter, a cut or a lifted pedal before the end."
        )
        return Check("end", "torque to the end", False, words)
    return Check("end", "torque to the end", True, "Torque runs on to the end of the pull.")


def check_mixture(sweep: Sweep, rules: PullRules) -> Check:
    """Mean lambda in the band of use lies within the tolerance of the one asked for."""
    name = "mixture"
    if sweep.mixture is None or not np.isfinite(sweep.mixture).any():
        return Check("mixture", name, None, "No mixture was logged.")
    if rules.mixture_target is None:
        return Check("mixture", name, None, "The test card asks for no mixture.")
    inside = (sweep.speed >= rules.low) & (sweep.speed <= rules.high) & np.isfinite(sweep.mixture)
    if not inside.any():
        return Check("mixture", name, None, "No mixture was logged inside the band of use.")
    mean = float(np.mean(sweep.mixture[inside]))
    passed = abs(mean - rules.mixture_target) <= rules.mixture_tolerance
    return Check(
        "mixture",
        name,
        passed,
        f"Mean λ {mean:.3f} where {rules.mixture_target:.3f} ± {rules.mixture_tolerance:.3f} was asked."
        + ("" if passed else " Not comparable: set the fuel and pull again."),
    )


def checks_of(sweep: Sweep, rules: PullRules) -> tuple[Check, ...]:
    """All checks of a pull. It is valid when none of them failed."""
    return (
        check_identity(sweep),
        check_coverage(sweep, rules),
        check_monotonic(sweep),
        check_spikes(sweep),
        check_notch(sweep),
        check_end(sweep, rules),
        check_mixture(sweep, rules),
    )


def is_valid(checks: tuple[Check, ...]) -> bool:
    """Whether no check failed."""
    return all(check.passed is not False for check in checks)


def speed_grid(low: float, high: float, step: float = 100.0 * RPM) -> Array:
    """Speeds [rad/s] from low to high on multiples of `step` [rad/s]."""
    first, last = int(np.ceil(low / step - 1e-9)), int(np.floor(high / step + 1e-9))
    return np.arange(first, last + 1, dtype=np.float64) * step


def on_grid(sweep: Sweep, grid: Array) -> Array:
    """Torque [N m] of a sweep at the speeds of `grid` [rad/s], (m,).

    Local straight-line fit with a triangular weight one grid step wide on each side; plain interpolation where the
    log is coarser than that. NaN outside the sweep.
    """
    order = np.argsort(sweep.speed, kind="stable")
    speed, torque = sweep.speed[order], sweep.torque[order]
    width = float(grid[1] - grid[0]) if grid.size > 1 else 100.0 * RPM
    begin, end = np.searchsorted(speed, grid - width), np.searchsorted(speed, grid + width, side="right")
    near = begin[:, None] + np.arange(max(int((end - begin).max()), 1))  # only the rows that a grid speed can see
    counts, near = near < end[:, None], np.minimum(near, speed.size - 1)
    distance, seen = speed[near] - grid[:, None], torque[near]
    weight = np.where(counts, np.clip(1.0 - np.abs(distance) / width, 0.0, None), 0.0)
    total = weight.sum(axis=1)
    first, second = (weight * distance).sum(axis=1), (weight * distance**2).sum(axis=1)
    value, slope = (weight * seen).sum(axis=1), (weight * distance * seen).sum(axis=1)
    determinant = total * second - first**2
    plain = np.interp(grid, speed, torque)
    usable = ((weight > 0).sum(axis=1) >= 4) & (determinant > 1e-9 * width**2)
    with np.errstate(divide="ignore", invalid="ignore"):
        fitted = (second * value - first * slope) / determinant
    curve = np.where(usable, fitted, plain)
    slack = 0.01 * grid
    outside = (grid < speed[0] - slack) | (grid > speed[-1] + slack)
    return np.where(outside, np.nan, curve)
