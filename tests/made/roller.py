"""A kart on a small roller whose logger writes nothing but speeds. Invented, with fixed seeds."""

from __future__ import annotations

import numpy as np

from longbreath.devices.made_engine import Array, Channels, Engine
from tests.made.habits import Column


def skim_torque(rpm: Array) -> Array:
    """Torque of the kart at the roller [N m] over engine speed [rpm], with its stock pipe."""
    return 8.0 + 9.5 * np.exp(-(((rpm - 9300.0) / 1500.0) ** 2)) + 2.0 * np.exp(-(((rpm - 6500.0) / 1200.0) ** 2))


KART = Engine(skim_torque, low=5800.0, high=11600.0, rise=900.0, ratio=6.2, rate=100.0, scatter=0.06)
KART_INERTIA = 1.9
"""Inertia of the kart roller [kg m²]."""
SPEEDS = (
    Column("time", "t", shown="ms", unit="ms", decimals=0),
    Column("rpm", "Engine rpm", decimals=0),
    Column("roller", "Drum rpm", decimals=2),
    Column("exhaust", "EGT", shown="°C", decimals=0),
)


def rolled(engine: Engine, seed: int) -> Channels:
    """A pull whose drum speed follows from torque, inertia and ratio alone: nothing but speeds is logged."""
    rng = np.random.default_rng(seed)
    steps = int(14 * engine.rate)
    rpm = np.empty(steps)
    rpm[0] = engine.low
    shift = rng.normal(0.0, engine.scatter)
    per_second = engine.ratio**2 / KART_INERTIA * 30.0 / np.pi / engine.rate
    for k in range(1, steps):
        rpm[k] = rpm[k - 1] + (float(engine.torque(np.array([rpm[k - 1]]))[0]) + shift) * per_second
    rpm = rpm[: int(np.argmax(rpm > engine.high)) or steps]
    time = np.arange(rpm.size) / engine.rate
    exhaust = 480.0 + 160.0 * time / time[-1] + rng.normal(0.0, 2.0, rpm.size)
    return {"time": time, "rpm": rpm + rng.normal(0.0, 2.0, rpm.size), "roller": rpm / engine.ratio, "exhaust": exhaust}
