"""Made pulls as the checks see them: channels in SI, the rules of a boosted and of an unboosted card, a session that grows."""

from __future__ import annotations

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import Check, Earlier, OtherPulls, PullRules, log_facts
from longbreath.core.judge.pull import checks_of, is_valid
from longbreath.core.pull.pulls import Array, Sweep, make_sweep
from longbreath.devices.made_engine import Day, Engine, pull
from longbreath.devices.made_si import in_si
from tests.made import standin


def turbo_torque(rpm: Array) -> Array:
    """Torque of the made boosted engine [N m] over speed [rpm]."""
    return 150.0 + 165.0 / (1.0 + np.exp(-(rpm - 2600.0) / 330.0)) - 62.0 * np.clip((rpm - 4800.0) / 2200.0, 0.0, None)


BREATHING = Engine(standin.heron_torque)
BOOSTED = Engine(turbo_torque, high=6900.0, boost=80.0, mixture=0.82)
RULES = PullRules(
    1800 * RPM,
    7000 * RPM,
    0.88,
    0.03,
    {"coolant": 378.15, "oil": 403.15, "lean": 0.97},
    {"coolant": (361.15, 365.15)},
    None,
    100.6e3,
    noise=0.9,
)
BOOSTED_RULES = PullRules(
    1800 * RPM,
    6800 * RPM,
    0.82,
    0.03,
    {"boost": 135e3, "coolant": 378.15, "exhaust": 1213.15, "lean": 0.92},
    {"coolant": (361.15, 365.15)},
    80e3,
    100.6e3,
    noise=0.9,
)


def sweep_of(engine: Engine, seed: int, *faults: str, day: Day | None = None) -> Sweep:
    """A made pull as the checks see it."""
    return make_sweep(in_si(pull(engine, seed, day, *faults)))


def judge(
    sweep: Sweep, rules: PullRules, others: tuple[Earlier, ...] = (), place: int = 1, label: str = "A"
) -> tuple[Check, ...]:
    """What all checks say of a pull beside others."""
    return checks_of(sweep, rules, OtherPulls(place, label, others))


def failed(checks: tuple[Check, ...]) -> list[str]:
    """The keys of the checks that failed, in order."""
    return [check.key for check in checks if check.passed is False]


def earlier(sweep: Sweep, rules: PullRules, place: int, label: str = "A") -> Earlier:
    """A pull as those after it know it."""
    checks = checks_of(sweep, rules)
    return Earlier(place, label, is_valid(checks), log_facts(sweep, rules))
