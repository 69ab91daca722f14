"""How engine and roller ran together: slip, gear, converter, and how fast the pull was. Limits are common practice, no source."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import median

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import REPEAT, WAIT, Check, OtherPulls, PullFacts, PullRules, at_rpm, used
from longbreath.core.pull.channels import ROLLER, TIME
from longbreath.core.pull.pulls import Sweep

RATIO_DRIFT = 0.015
"""Engine over roller speed may move by this share in a pull: tyres grow, encoders count."""
GEAR_OFF = 0.015
RATE_OFF = 0.12
"""The rise of speed may differ by this share from the other pulls: a gain of ten per cent in torque changes it too."""


def check_ratio(sweep: Sweep, rules: PullRules) -> Check:
    """Engine over roller speed is constant through the pull: neither clutch, tyre nor converter slips."""
    name = "speed ratio constant"
    roller = sweep.seen(ROLLER)
    if roller is None:
        return Check("ratio", name, None, "No roller speed was logged beside engine speed.")
    good = used(sweep, rules) & np.isfinite(roller) & (roller > 0)
    if good.sum() < 12:
        return Check("ratio", name, None, "Too few rows with both speeds.")
    speed, ratio = sweep.speed[good], sweep.speed[good] / roller[good]
    edges = np.arange(speed.min(), speed.max() + 250.0 * RPM, 250.0 * RPM)
    bins = np.digitize(speed, edges)
    inside, rows = np.unique(bins, return_counts=True)
    full = inside[rows >= 3]
    if full.size < 3:
        return Check("ratio", name, None, "Too few rows with both speeds.")
    at, ratios = (np.asarray(median(values, bins, full)) for values in (speed, ratio))
    usual = float(np.median(ratios))
    off = ratios / usual - 1.0
    worst = int(np.argmax(np.abs(off)))
    if abs(off[worst]) <= RATIO_DRIFT:
        return Check(
            "ratio", name, True, f"Engine over roller speed holds at {usual:.3f} within {np.abs(off).max():.1%}."
        )
    steps = np.abs(np.diff(ratios)) / usual
    sudden = bool(steps.max() > 0.7 * np.ptp(off)) and np.ptp(off) > 3.0 * RATIO_DRIFT
    cause = "a converter that lets go, or a shift" if sudden else "clutch or tyre slips"
    low, high = (float(v) for v in (at[np.abs(off) > RATIO_DRIFT].min(), at[np.abs(off) > RATIO_DRIFT].max()))
    words = (
        f"Engine over roller speed leaves {usual:.3f} by {off[worst]:+.1%} near {at_rpm(float(at[worst]))}: {cause}."
    )
    return Check(
        "ratio",
        name,
        False,
        words,
        "Strap anew, check tyres, clutch and lock-up, then repeat.",
        REPEAT,
        ROLLER,
        low,
        high,
    )


def check_gear(facts: PullFacts, beside: OtherPulls) -> Check:
    """The same gear as the other pulls of the session."""
    name = "same gear"
    others = [o.facts.ratio for o in beside.others if o.facts.ratio is not None and o.counts]
    if facts.ratio is None or not others:
        return Check("gear", name, None, "No other pull with a roller speed to compare with.")
    usual = float(np.median(others))
    if abs(facts.ratio / usual - 1.0) > GEAR_OFF:
        words = f"Engine over roller speed is {facts.ratio:.3f} where the other pulls ran at {usual:.3f}: another gear."
        return Check("gear", name, False, words, "Choose the gear of the other pulls and repeat.", REPEAT, ROLLER)
    return Check("gear", name, True, f"Engine over roller speed is {facts.ratio:.3f}, as in the other pulls.")


def check_rate(facts: PullFacts, beside: OtherPulls) -> Check:
    """Speed rises as fast as in the other pulls of the session."""
    name = "same rise of speed"
    others = [o.facts.rate for o in beside.others if o.facts.rate is not None and o.counts]
    if facts.rate is None or not others:
        return Check("rate", name, None, "No other pull with a time to compare with.")
    usual = float(np.median(others))
    own = facts.rate / RPM
    if abs(facts.rate / usual - 1.0) > RATE_OFF:
        words = f"Speed rose by {own:.0f} rpm a second where the other pulls rose by {usual / RPM:.0f}: another load or brake setting."
        return Check("rate", name, False, words, "Set the brake as before and repeat.", WAIT, TIME)
    return Check("rate", name, True, f"Speed rose by {own:.0f} rpm a second, as in the other pulls.")
