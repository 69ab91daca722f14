"""Full-load torque of the made engines, by the wave core, and what parts make of it: invented engines, fixed figures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from longbreath.devices.made_engine import Array, Engine

WAVE_TORQUE = (
    (1400, 162.2),
    (1600, 165.3),
    (1800, 174.9),
    (2000, 166.2),
    (2200, 164.0),
    (2400, 171.8),
    (2600, 175.6),
    (2800, 172.1),
    (3000, 168.9),
    (3200, 167.5),
    (3400, 171.9),
    (3600, 172.3),
    (3800, 169.5),
    (4000, 178.6),
    (4200, 180.0),
    (4400, 177.8),
    (4600, 179.9),
    (4800, 183.2),
    (5000, 180.0),
    (5200, 175.4),
    (5400, 172.1),
    (5600, 169.4),
    (5800, 166.9),
    (6000, 164.0),
    (6200, 159.7),
    (6400, 153.4),
    (6600, 145.5),
    (6800, 137.2),
    (7000, 129.5),
    (7200, 122.6),
)
"""Speed [rpm] and brake torque [N m] of the case "heron" that ships, as `longbreath simulate heron --rpm 1400:7200:200` finds it."""
TO_WHEEL = 0.88
"""Share that reaches the roller. Invented."""


def wave_torque(rpm: Array) -> Array:
    """Torque at the roller [N m] over engine speed [rpm]: the wave core's table, straight lines between."""
    speed, torque = np.array(WAVE_TORQUE).T
    return np.asarray(TO_WHEEL * np.interp(rpm, speed, torque))


def larger_throttle(rpm: Array) -> Array:
    """What a larger throttle body does [N m]: nothing below, a little more at the top."""
    return 4.6 / (1.0 + np.exp(-(rpm - 5500.0) / 260.0))


def freer_pipe(rpm: Array) -> Array:
    """What a freer pipe does at the same boost [N m]: next to nothing."""
    return 1.5 * np.clip((rpm - 2500.0) / 3000.0, 0.0, 1.0)


@dataclass(frozen=True)
class Bed:
    """An engine on the stand-in's rollers: how it pulls as it is, what part B adds [N m], and, where a turbo fills it, the boost [kPa]
    of each setting of its controller and what part B adds to that; is_filled: whether the engine as it is
    holds the torque of its boost already."""

    stock: Engine
    effect: Callable[[Array], Array]
    settings: tuple[float, ...] = (0.0,)
    effect_on_boost: float = 0.0
    is_filled: bool = False

    def engine(self, part: str, setting: int) -> Engine:
        """The engine with a part on, at a setting of its controller."""
        fitted = part != "A"
        boost = self.settings[setting] + (self.effect_on_boost if fitted else 0.0)
        stock, effect, spool, is_filled = self.stock.torque, self.effect, self.stock.spool, self.is_filled

        def torque(rpm: Array) -> Array:
            filled = 1.0 + boost / 100.6 / (1.0 + np.exp(-(rpm - spool + 100.0) / 300.0))
            return stock(rpm) * (1.0 if is_filled else filled) + (effect(rpm) if fitted else 0.0)

        return replace(self.stock, torque=torque, boost=boost)


BEDS = {
    "heron": Bed(Engine(wave_torque), larger_throttle),
    "turbo": Bed(
        Engine(lambda rpm: 0.97 * wave_torque(rpm), low=1750.0, mixture=0.82),
        freer_pipe,
        settings=(55.0, 80.0, 105.0),
        effect_on_boost=6.5,
    ),
    "drover": Bed(
        Engine(
            lambda rpm: 2.35 * wave_torque(1.15 * rpm + 200.0),
            low=1100.0,
            high=5880.0,
            rise=480.0,
            ratio=3.08,
            scatter=0.9,
        ),
        lambda rpm: 0.0 * rpm,
    ),
}
"""The engines that the stand-in can have on its rollers, by name."""
