"""The mixture of a pull: its mean, each part of the band, and how much it scatters. Limits are common practice, no source."""

from __future__ import annotations

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import LOOK, WAIT, Check, PullRules, at_rpm, used
from longbreath.core.pull.channels import MIXTURE
from longbreath.core.pull.pulls import Sweep

SET_FUEL = "Set the fuel and pull again."
PART = 500.0 * RPM
PART_SLACK = 2.0
"""A part of the band may be off the λ asked for by this many tolerances."""
SCATTER = 0.025
"""λ from row to row about its own course [1], as a standard deviation, from which a sensor or a fire is at fault."""


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
        + ("" if passed else " Not comparable."),
        "" if passed else SET_FUEL,
        "" if passed else WAIT,
        MIXTURE,
    )


def check_mixture_parts(sweep: Sweep, rules: PullRules) -> Check:
    """In each 500 rpm of the band λ lies within twice the tolerance: a mean can hide a rich and a lean end."""
    name, mixture = "mixture over the band", sweep.mixture
    if mixture is None or rules.mixture_target is None:
        return Check("mixture_parts", name, None, "No mixture was logged, or none was asked for.")
    inside = used(sweep, rules) & np.isfinite(mixture)
    parts = np.floor((sweep.speed - rules.low) / PART).astype(int)
    worst, at = 0.0, rules.low
    for part in np.unique(parts[inside]):
        rows = inside & (parts == part)
        off = float(np.mean(mixture[rows])) - rules.mixture_target
        if rows.sum() >= 4 and abs(off) > abs(worst):
            worst, at = off, rules.low + (part + 0.5) * PART
    if abs(worst) > PART_SLACK * rules.mixture_tolerance:
        words = f"Near {at_rpm(at)} λ is off by {worst:+.3f} where ± {rules.mixture_tolerance:.3f} was asked for in the mean."
        return Check("mixture_parts", name, False, words, SET_FUEL, WAIT, MIXTURE, at - PART / 2, at + PART / 2)
    return Check("mixture_parts", name, True, f"In no part of the band is λ off by more than {abs(worst):.3f}.")


def check_mixture_scatter(sweep: Sweep, rules: PullRules) -> Check:
    """λ does not scatter from row to row."""
    name, mixture = "mixture is steady", sweep.mixture
    if mixture is None:
        return Check("mixture_scatter", name, None, "No mixture was logged.")
    values = mixture[used(sweep, rules) & np.isfinite(mixture)]
    if values.size < 20:
        return Check("mixture_scatter", name, None, "Too few rows of mixture in the band.")
    about = values[1:-1] - (values[:-2] + values[2:]) / 2.0
    scatter = float(np.sqrt(np.mean(about**2) / 1.5))  # the variance of x − (a + b)/2 is 1.5 times that of one value
    words = f"λ scatters by {scatter:.3f} from row to row."
    if scatter > SCATTER:
        advice = "Look at sensor, sampling pipe and misfire, then repeat."
        return Check("mixture_scatter", name, False, words, advice, LOOK, MIXTURE, rules.low, rules.high)
    return Check("mixture_scatter", name, True, words)
