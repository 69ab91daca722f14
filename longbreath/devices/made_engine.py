"""A made engine on a made roller: one pull with all its channels, with noise, drift and faults. Invented, with fixed seeds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Channels = dict[str, Array]
"""Channels by plain name, in the units that loggers write: rpm, N·m, kW, λ, kPa, °C, %, ms, V, s."""


OTHER_GEAR = 4.62 / 3.51
"""Roller speed in a wrong gear over that in the right one. Invented."""
CONSUMPTION = 290.0
"""Fuel that the made engines take [g/kWh]. Invented."""


@dataclass(frozen=True)
class Engine:
    """How a made engine pulls: torque [N m] over speed [rpm], ends of the pull [rpm], rise of speed [rpm/s], boost [kPa] (0: none),
    engine over roller speed, λ asked for, rate of the log [Hz], how torque scatters from pull to pull [N m],
    and where half of the boost is there [rpm]."""

    torque: Callable[[Array], Array]
    low: float = 1700.0
    high: float = 7080.0
    rise: float = 620.0
    boost: float = 0.0
    ratio: float = 4.62
    mixture: float = 0.88
    rate: float = 25.0
    scatter: float = 0.45
    spool: float = 2700.0


@dataclass(frozen=True)
class Day:
    """How it stands when a pull begins: intake air, coolant and oil [°C], room pressure [kPa], battery [V]."""

    intake: float = 22.0
    coolant: float = 90.0
    oil: float = 96.0
    room: float = 100.6
    battery: float = 13.9


def pull(engine: Engine, seed: int, day: Day | None = None, *faults: str) -> Channels:
    """One full pull, and what the faults named make of it (see FAULTS)."""
    rng, day = np.random.default_rng(seed), day or Day()
    seconds = (engine.high - engine.low) / engine.rise
    time = np.arange(0.0, seconds + 0.5 / engine.rate, 1.0 / engine.rate)
    share = time / time[-1]
    rpm = engine.low + (engine.high - engine.low) * (share + 0.015 * np.sin(np.pi * share))
    torque = engine.torque(rpm) + rng.normal(0.0, engine.scatter) + _wobble(rng, rpm)
    boost = engine.boost * (1.0 / (1.0 + np.exp(-(rpm - engine.spool) / 260.0))) + rng.normal(0.0, 0.5)
    made: Channels = {
        "time": time,
        "rpm": rpm + rng.normal(0.0, 1.0, rpm.size),
        "torque": torque + rng.normal(0.0, 0.3, rpm.size),
        "mixture": engine.mixture + 0.006 * np.sin(rpm / 900.0) + rng.normal(0.0, 0.004, rpm.size),
        "map": day.room + boost - 1.6 * share + rng.normal(0.0, 0.35, rpm.size),
        "duty": np.clip(35.0 + 22.0 * share + rng.normal(0.0, 0.6, rpm.size), 0.0, 100.0),
        "throttle": np.full(rpm.size, 99.6) + rng.normal(0.0, 0.05, rpm.size),
        "intake": day.intake + 1.5 * share + rng.normal(0.0, 0.1, rpm.size),
        "charge": day.intake + 9.0 + 0.14 * engine.boost * share + rng.normal(0.0, 0.15, rpm.size),
        "coolant": day.coolant + 1.2 * share + rng.normal(0.0, 0.1, rpm.size),
        "oil": day.oil + 3.0 * share + rng.normal(0.0, 0.1, rpm.size),
        "exhaust": 620.0 + 190.0 * share + rng.normal(0.0, 1.2, rpm.size),
        "turbine": day.room + 1.25 * boost + 14.0 * share + rng.normal(0.0, 0.6, rpm.size),
        "knock": np.zeros(rpm.size),
        "injector": np.clip(5.4 + 4.6 * torque / 240.0 + rng.normal(0.0, 0.03, rpm.size), 0.0, None),
        "fuel_pressure": 400.0 + rng.normal(0.0, 1.5, rpm.size),
        "battery": day.battery + rng.normal(0.0, 0.02, rpm.size),
    }
    made["roller"] = made["rpm"] / engine.ratio
    for fault in faults:
        FAULTS[fault](made, rng)
    made["roller"] = made.pop("roller") + rng.normal(0.0, 0.15, made["rpm"].size)
    made.setdefault("power", made["torque"] * made["rpm"] * np.pi / 30.0 / 1000.0)
    made["fuel_flow"] = np.clip(made["power"], 0.0, None) * CONSUMPTION / 3600.0
    made["air_flow"] = made["fuel_flow"] * 14.7 * made["mixture"]
    return made


def _wobble(rng: np.random.Generator, rpm: Array) -> Array:
    knots = np.linspace(rpm[0], rpm[-1], 15)
    return np.interp(rpm, knots, rng.normal(0.0, 0.4, knots.size))


def _upper(made: Channels, share: float = 0.5) -> npt.NDArray[np.bool_]:
    rpm = made["rpm"]
    return np.asarray(rpm > rpm[0] + share * (rpm[-1] - rpm[0]))


def _slip(made: Channels, rng: np.random.Generator) -> None:
    peak = int(np.argmax(made["torque"]))
    made["roller"] = made["roller"] * (1.0 - 0.05 * np.exp(-(((np.arange(made["rpm"].size) - peak) / 25.0) ** 2)))


def _gear(made: Channels, rng: np.random.Generator) -> None:
    made["roller"] = made["roller"] * OTHER_GEAR


def _converter(made: Channels, rng: np.random.Generator) -> None:
    made["roller"] = made["roller"] * np.where(_upper(made, 0.6), 0.93, 1.0)


def _creep(made: Channels, rng: np.random.Generator) -> None:
    rise = np.clip((made["rpm"] - 4600.0) / 2000.0, 0.0, None) * 22.0
    made["map"] = made["map"] + rise
    made["torque"] = made["torque"] * (1.0 + rise / 400.0)


def _boost_cut(made: Channels, rng: np.random.Generator) -> None:
    late = _upper(made, 0.62)
    made["map"] = np.where(late, 108.0 + rng.normal(0.0, 0.4, late.size), made["map"])
    made["torque"] = np.where(late, 0.55 * made["torque"], made["torque"])


def _stop(made: Channels, rng: np.random.Generator) -> None:
    made["duty"] = np.where(_upper(made, 0.45), 100.0, made["duty"])


def _ceiling(made: Channels, rng: np.random.Generator) -> None:
    made["map"] = np.minimum(made["map"], 0.9 * float(made["map"].max()))


def _lean(made: Channels, rng: np.random.Generator) -> None:
    at = slice(int(0.7 * made["rpm"].size), int(0.7 * made["rpm"].size) + 14)
    made["mixture"][at] += 0.16
    made["torque"][at] -= 14.0


def _knock(made: Channels, rng: np.random.Generator) -> None:
    made["knock"][int(0.6 * made["knock"].size) :: 9] = 1.0


def _fuel(made: Channels, rng: np.random.Generator) -> None:
    made["fuel_pressure"] = made["fuel_pressure"] * np.where(_upper(made), 0.83, 1.0)
    made["mixture"] = made["mixture"] + np.where(_upper(made), 0.06, 0.0)


def _injectors(made: Channels, rng: np.random.Generator) -> None:
    made["injector"] = made["injector"] * 1.95


def _frozen(made: Channels, rng: np.random.Generator) -> None:
    late = _upper(made, 0.35)
    made["mixture"] = np.where(late, made["mixture"][int(np.argmax(late))], made["mixture"])


def _jump(made: Channels, rng: np.random.Generator) -> None:
    made["exhaust"][int(0.55 * made["exhaust"].size)] += 260.0


def _spike(made: Channels, rng: np.random.Generator) -> None:
    made["torque"][made["torque"].size // 2] += 0.12 * float(made["torque"].max())


def _cut(made: Channels, rng: np.random.Generator) -> None:
    made["torque"] = made["torque"] * np.where(_upper(made, 0.93), 0.6, 1.0)


def _battery(made: Channels, rng: np.random.Generator) -> None:
    made["battery"] = made["battery"] - 2.3


def _contradicts(made: Channels, rng: np.random.Generator) -> None:
    made["power"] = made["torque"] * made["rpm"] * np.pi / 30.0 / 1000.0 * 1.09


def _misfire(made: Channels, rng: np.random.Generator) -> None:
    made["mixture"] = made["mixture"] + rng.normal(0.0, 0.05, made["mixture"].size)


def _short(made: Channels, rng: np.random.Generator) -> None:
    keep = made["rpm"] < made["rpm"][0] + 0.72 * (made["rpm"][-1] - made["rpm"][0])
    for name in list(made):
        made[name] = made[name][keep]


FAULTS: dict[str, Callable[[Channels, np.random.Generator], None]] = {
    "slip": _slip,
    "gear": _gear,
    "converter": _converter,
    "creep": _creep,
    "boost cut": _boost_cut,
    "controller at its stop": _stop,
    "sensor at its ceiling": _ceiling,
    "lean": _lean,
    "knock": _knock,
    "fuel pressure": _fuel,
    "injectors": _injectors,
    "frozen": _frozen,
    "jump": _jump,
    "spike": _spike,
    "cut": _cut,
    "battery": _battery,
    "contradiction": _contradicts,
    "misfire": _misfire,
    "short": _short,
}
"""Faults that show within one pull. What shows over several (heat, a fading part) is made by the pulls' own torque."""


def day_log(
    engine: Engine, seeds: list[int], day: Day | None = None, idle: float = 8.0, steady: float = 0.0
) -> Channels:
    """A log that ran on: idle, a roll-on, a pull, coasting down, for each seed; steady: seconds held at 2,500 rpm."""
    rng, pieces = np.random.default_rng(seeds[0]), []
    for seed in seeds:
        made = pull(engine, seed, day)
        if steady:
            pieces.append(held(made, 2500.0, steady, engine, rng, 0.35))
        pieces += [
            held(made, 880.0, idle, engine, rng, 0.0),
            between(made, 880.0, engine.low, 3.0, engine, rng, 0.12),
            held(made, engine.low, 2.5, engine, rng, 0.15),
            made,
            between(made, engine.high, 880.0, 9.0, engine, rng, -0.06),
        ]
    whole = {name: np.concatenate([piece[name] for piece in pieces]) for name in pieces[0]}
    whole["time"] = np.arange(whole["rpm"].size) / engine.rate
    return whole


def held(like: Channels, rpm: float, seconds: float, engine: Engine, rng: np.random.Generator, load: float) -> Channels:
    """A stretch at one speed under a share of the greatest torque."""
    return between(like, rpm, rpm, seconds, engine, rng, load)


def between(
    like: Channels, start: float, end: float, seconds: float, engine: Engine, rng: np.random.Generator, load: float
) -> Channels:
    """A stretch that is no pull: speed from start to end under a share of the greatest torque."""
    size = int(seconds * engine.rate)
    made = {
        name: np.full(size, float(values[0])) + rng.normal(0.0, 1e-4 + 0.001 * abs(float(values[0])), size)
        for name, values in like.items()
    }
    made["rpm"] = np.linspace(start, end, size) + rng.normal(0.0, 3.0, size)
    made["roller"] = made["rpm"] / engine.ratio
    made["torque"] = load * float(like["torque"].max()) + rng.normal(0.0, 0.5, size)
    made["power"] = made["torque"] * made["rpm"] * np.pi / 30.0 / 1000.0
    made["throttle"] = np.full(size, 100.0 * max(load, 0.0) * 0.8 + 2.0)
    made["map"] = np.full(size, 40.0 + 50.0 * max(load, 0.0)) + rng.normal(0.0, 0.4, size)
    made["knock"] = np.zeros(size)
    return made
