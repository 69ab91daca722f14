"""What a pull is held to, what one check says of it, and what stays known of a pull for those that come after it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.constants import RPM
from longbreath.core.pull.channels import ABSOLUTE, AMBIENT, BATTERY, COOLANT, EXHAUST, GAUGE, INTAKE, OIL, ROLLER, TIME
from longbreath.core.pull.pulls import Array, Sweep, on_grid, speed_grid

Mask = npt.NDArray[np.bool_]
REPEAT, WAIT, LOOK, STOP = "repeat", "wait", "look", "stop"
"""What to do now: pull again; wait or set something first; look at wiring or file; stop and inspect before anything else."""


@dataclass(frozen=True)
class Check:
    """The outcome of one check: `passed` is None where it could not be made.

    advice: what to do now, in words; act: one of repeat, wait, look, stop; channel: the one whose picture shows it; low, high:
    where it shows [rad/s]. follows: the key of a check that failed before it, whose fault it probably is.
    """

    key: str
    name: str
    passed: bool | None
    sentence: str
    advice: str = ""
    act: str = ""
    channel: str = ""
    low: float | None = None
    high: float | None = None
    follows: str = ""


@dataclass(frozen=True)
class PullRules:
    """What a pull is held to: band of use low..high [rad/s], lambda asked for [1] (None: not checked) ± tolerance.

    limits: where the operator stops [SI] by name of `core.plan.conditions`; window: temperatures [K] at the start by name; boost:
    gauge pressure [Pa] asked for; station: air pressure [Pa]; ceilings: end of each sensor's range [Pa] by channel; fires: injections
    in a revolution (0.5 in a four-stroke, 1 in a two-stroke); noise: standard deviation of band-mean torque, pull to pull [N m];
    demanded: what the card demands to be logged, in words, with the channels of which one is enough; clocks: the share by which
    the clock of each live device runs faster than ours.
    """

    low: float
    high: float
    mixture_target: float | None = None
    mixture_tolerance: float = 0.05
    limits: Mapping[str, float] = field(default_factory=dict)
    window: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    boost: float | None = None
    station: float | None = None
    ceilings: Mapping[str, float] = field(default_factory=dict)
    fires: float = 0.5
    noise: float | None = None
    demanded: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    clocks: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class PullFacts:
    """What stays known of a pull for the next ones: torque on 100 rpm steps of the band [N m], (m,) with NaN outside; engine over
    roller speed; rise of speed [rad/s²]; mean boost in the upper half [Pa]; temperatures at the start [K]; intake air, battery."""

    curve: Array
    mean: float
    ratio: float | None = None
    rate: float | None = None
    boost: float | None = None
    starts: Mapping[str, float] = field(default_factory=dict)
    air: float | None = None
    ambient: float | None = None
    battery: float | None = None

    def to_json(self) -> dict[str, Any]:
        """JSON-ready; NaN becomes None."""
        plain = {name: getattr(self, name) for name in ("mean", "ratio", "rate", "boost", "air", "ambient", "battery")}
        curve = [None if not np.isfinite(v) else round(float(v), 3) for v in self.curve]
        return {**plain, "starts": dict(self.starts), "curve": curve}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> PullFacts:
        """The inverse of `to_json`."""
        curve = np.array([np.nan if v is None else v for v in data["curve"]], dtype=np.float64)
        return cls(**{**data, "curve": curve})


@dataclass(frozen=True)
class Earlier:
    """A pull of the same session: its place, its letter, whether it counts, what is known of it."""

    place: int
    label: str
    counts: bool
    facts: PullFacts


@dataclass(frozen=True)
class OtherPulls:
    """The pulls beside which one stands: its place and letter, the others of the session, what each letter is made of (levels of a
    factorial), which factor is a series of boost settings with the pressures expected of them [Pa], and the mean torque of pulls that
    count on days before, on a dyno that measures at the same place [N m]."""

    place: int = 1
    label: str = "A"
    others: tuple[Earlier, ...] = ()
    levels: Mapping[str, tuple[int, ...]] = field(default_factory=dict)
    boost_factor: int | None = None
    boost_levels: tuple[float, ...] = ()
    days_before: tuple[float, ...] = ()

    @property
    def before(self) -> tuple[Earlier, ...]:
        """The pulls before it, in order."""
        return tuple(sorted((o for o in self.others if o.place < self.place), key=lambda o: o.place))

    @property
    def alike(self) -> tuple[Earlier, ...]:
        """The other pulls of its letter that count."""
        return tuple(o for o in self.others if o.label == self.label and o.counts)


def at_rpm(speed: float) -> str:
    """A speed [rad/s] as "4 500 rpm"."""
    return f"{speed / RPM:,.0f}".replace(",", "\u202f") + " rpm"


def celsius(kelvin: float) -> str:
    """A temperature [K] as "88 °C"."""
    return f"{kelvin - 273.15:.0f}\u202f°C"


def used(sweep: Sweep, rules: PullRules) -> Mask:
    """Which rows lie in the band of use, (n,)."""
    return (sweep.speed >= rules.low) & (sweep.speed <= rules.high)


def gauge_of(sweep: Sweep, rules: PullRules) -> Array | None:
    """Boost against the air around [Pa], (n,): as logged, or absolute less the station's pressure; None where neither is known."""
    if (gauge := sweep.seen(GAUGE)) is not None:
        return gauge
    absolute = sweep.seen(ABSOLUTE)
    return absolute - rules.station if absolute is not None and rules.station is not None else None


STARTS = {"coolant": COOLANT, "oil": OIL, "intake": INTAKE, "exhaust": EXHAUST}
"""The channel of each temperature that a card's window names."""


def log_facts(sweep: Sweep, rules: PullRules) -> PullFacts:
    """What stays known of a pull."""
    curve = on_grid(sweep, speed_grid(rules.low, rules.high))
    inside = used(sweep, rules)
    boost = gauge_of(sweep, rules)
    upper = inside & (sweep.speed > 0.5 * (rules.low + rules.high))
    starts = {name: v for name, channel in STARTS.items() if (v := _first(sweep.seen(channel))) is not None}
    return PullFacts(
        curve,
        float(np.nanmean(curve)) if np.isfinite(curve).any() else 0.0,
        _ratio(sweep, inside),
        _rate(sweep, inside),
        _middle(boost, upper),
        starts,
        _middle(sweep.seen(INTAKE), inside),
        _middle(sweep.seen(AMBIENT), inside),
        _middle(sweep.seen(BATTERY), inside),
    )


def _first(values: Array | None) -> float | None:
    if values is None:
        return None
    return float(np.median(values[np.isfinite(values)][:5]))


def _middle(values: Array | None, where: Mask) -> float | None:
    if values is None:
        return None
    kept = values[where & np.isfinite(values)]
    return float(np.median(kept)) if kept.size else None


def _ratio(sweep: Sweep, inside: Mask) -> float | None:
    roller = sweep.seen(ROLLER)
    if roller is None:
        return None
    good = inside & np.isfinite(roller) & (roller > 0)
    return float(np.median(sweep.speed[good] / roller[good])) if good.sum() >= 5 else None


def _rate(sweep: Sweep, inside: Mask) -> float | None:
    """Rise of speed [rad/s²]: slope of a straight line over the band."""
    time = sweep.seen(TIME)
    if time is None or inside.sum() < 5:
        return None
    good = inside & np.isfinite(time)
    if good.sum() < 5 or np.ptp(time[good]) <= 0:
        return None
    return float(np.polyfit(time[good] - time[good][0], sweep.speed[good], 1)[0])
