"""A steady part-load point or idle: its own checks and its own comparison; nothing is inferred from full load, nor for it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import stats

from longbreath.core.judge.check import LOOK, REPEAT, Check, at_rpm
from longbreath.core.pull.channels import CHANNELS, MIXTURE, SPEED, TIME, TORQUE, base_of, label_of
from longbreath.core.pull.pulls import MINIMUM_ROWS, Array

SPEED_SHARE = 0.01
"""Speed of a steady point stays within this share of its mean, as a standard deviation; idle within three times that."""
LOAD_SHARE = 0.05
SECONDS = 5.0
SAME_POINT = 0.03
"""Two points are the same if their speeds lie within this share. Common practice, no source."""
LEVEL = 0.95


@dataclass(frozen=True)
class SteadyPoint:
    """One steady condition that counts: its letter and place, means by channel [SI]."""

    label: str
    place: int
    means: Mapping[str, float]


def means_of(channels: Mapping[str, Array]) -> dict[str, float]:
    """Mean of each channel over the point [SI], time left out."""
    return {name: float(np.nanmean(v)) for name, v in channels.items() if name != TIME and np.isfinite(v).any()}


def checks_of_point(channels: Mapping[str, Array], idle: bool) -> tuple[Check, ...]:
    """Whether a point is long and steady enough. channels: speed [rad/s] among them, each (n,) SI. Common practice, no source."""
    return (_long(channels), _still(channels, idle), _even(channels, idle))


def _long(channels: Mapping[str, Array]) -> Check:
    name, time = "long enough", channels.get(TIME)
    if time is None or not np.isfinite(time).any():
        enough = channels[SPEED].size >= MINIMUM_ROWS
        return Check(
            "long", name, None if enough else False, "No time was logged; its rows are all that is known.", act=REPEAT
        )
    seconds = float(np.nanmax(time) - np.nanmin(time))
    words = f"It lasts {seconds:.1f} s; {SECONDS:.0f} s are asked for."
    if seconds < 0.98 * SECONDS:
        return Check("long", name, False, words, "Hold the point longer.", REPEAT)
    return Check("long", name, True, words)


def _still(channels: Mapping[str, Array], idle: bool) -> Check:
    speed = channels[SPEED][np.isfinite(channels[SPEED])]
    share = float(np.std(speed) / np.mean(speed))
    most = SPEED_SHARE * (3.0 if idle else 1.0)
    words = f"Speed is {at_rpm(float(np.mean(speed)))} ± {share:.1%}."
    if share > most:
        return Check(
            "steady", "speed is steady", False, words, "Let it settle and hold the point again.", REPEAT, SPEED
        )
    return Check("steady", "speed is steady", True, words)


def _even(channels: Mapping[str, Array], idle: bool) -> Check:
    name, torque = "load is steady", channels.get(TORQUE)
    if torque is None or idle or np.isfinite(torque).sum() < MINIMUM_ROWS:
        return Check("load", name, None, "Idle carries no load." if idle else "No torque was logged.")
    values = torque[np.isfinite(torque)]
    halves = [float(np.mean(half)) for half in np.array_split(values, 2)]
    drift = (halves[1] - halves[0]) / max(abs(float(np.mean(values))), 1e-9)
    words = f"Torque moves by {drift:+.1%} from the first half to the second."
    if abs(drift) > LOAD_SHARE:
        return Check("load", name, False, words, "Let it settle and hold the point again.", LOOK, TORQUE)
    return Check("load", name, True, words)


@dataclass(frozen=True)
class PointDifference:
    """One channel at one steady speed, B less A: difference and half its 95 % interval [SI], how many of each; verdict in words."""

    channel: str
    speed: float
    a: float
    b: float
    half: float
    counts: tuple[int, int]
    verdict: str

    @property
    def label(self) -> str:
        """What people call the channel."""
        return label_of(self.channel)

    @property
    def kind(self) -> str:
        """The kind of quantity of the channel."""
        return CHANNELS[base_of(self.channel)].kind

    @property
    def value(self) -> float:
        """B less A [SI]."""
        return self.b - self.a


def compare_points(
    points: Sequence[SteadyPoint], pair: tuple[str, str], wanted: Sequence[str] = (TORQUE, MIXTURE)
) -> tuple[PointDifference, ...]:
    """Steady points of two letters compared at each speed where both have two or more, by Welch's t interval.

    wanted: the channels that are compared. Source: Welch's approximation as `scipy.stats.ttest_ind` has it.
    """
    found = []
    for speed in _speeds(points):
        here = [p for p in points if abs(p.means[SPEED] / speed - 1.0) <= SAME_POINT]
        for channel in wanted:
            a, b = ([p.means[channel] for p in here if p.label == letter and channel in p.means] for letter in pair)
            if min(len(a), len(b)) >= 2:
                found.append(_difference(channel, speed, np.array(a), np.array(b)))
    return tuple(found)


def _speeds(points: Sequence[SteadyPoint]) -> list[float]:
    """Speeds [rad/s] of the groups of points that lie together."""
    groups: list[list[float]] = []
    for speed in sorted(p.means[SPEED] for p in points if SPEED in p.means):
        if groups and abs(speed / np.mean(groups[-1]) - 1.0) <= SAME_POINT:
            groups[-1].append(speed)
        else:
            groups.append([speed])
    return [float(np.mean(group)) for group in groups]


def _difference(channel: str, speed: float, a: Array, b: Array) -> PointDifference:
    value = float(b.mean() - a.mean())
    if np.ptp(a) == 0.0 and np.ptp(b) == 0.0:
        half, verdict = float("inf"), "not proven"
    else:
        interval = stats.ttest_ind(b, a, equal_var=False).confidence_interval(LEVEL)
        half = float(interval.high - value)
        verdict = "higher" if value - half > 0 else "lower" if value + half < 0 else "not proven"
    return PointDifference(channel, speed, float(a.mean()), float(b.mean()), half, (a.size, b.size), verdict)
