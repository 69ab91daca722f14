"""The shape of a pull by itself: power against torque, the band it spans, spikes, notches, a cut before the end."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import median_filter

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import Check, PullRules, at_rpm
from longbreath.core.pull.pulls import Array, Sweep

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
    words = f"runs from {at_rpm(low)} to {at_rpm(high)}; the band of use is {at_rpm(rules.low)} to {at_rpm(rules.high)}"
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
            f"Speed falls back by {back[worst] / RPM:.0f} rpm near {at_rpm(float(sweep.speed[worst]))}: "
            "slip, a lift of the pedal, or two pulls in one file.",
        )
    return Check("monotonic", "speed rises", True, "Speed rises throughout.")


def check_spikes(sweep: Sweep) -> Check:
    """No torque value stands out of its neighbours (running median of five) by more than 4 % of the peak."""
    off = np.abs(sweep.torque - median_filter(sweep.torque, 5, mode="nearest"))
    worst = int(np.argmax(off))
    if off[worst] > SPIKE_SHARE * float(np.max(np.abs(sweep.torque))):
        return Check(
            "spikes",
            "no spikes",
            False,
            f"Torque jumps by {off[worst] / float(np.max(np.abs(sweep.torque))):.0%} of the peak at "
            f"{at_rpm(float(sweep.speed[worst]))}: ignition noise, wheel slip or a bad row.",
        )
    return Check("spikes", "no spikes", True, "No point stands out of its neighbours.")


def _even(sweep: Sweep) -> tuple[Array, Array]:
    """Torque as a share of its peak, averaged in steps of 25 rpm or two rows: speeds [rad/s] and shares, where there are rows."""
    step = max(25.0 * RPM, 2.0 * float(np.median(np.abs(np.diff(sweep.speed)))))
    inside, place = np.unique(np.floor(sweep.speed / step).astype(int), return_inverse=True)
    share = sweep.torque / float(np.max(np.abs(sweep.torque)))
    return (inside + 0.5) * step, np.bincount(place, share) / np.bincount(place)


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
        words = f"Torque dips by {worst:.0%} of the peak at {at_rpm(at)} and comes back: a cut, a shift or a misfire."
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
        at = at_rpm(float(speed[last][int(np.argmax(heading - share[last] > END_SHARE / 2))]))
        words = (
            f"Torque falls away by {fall:.0%} of the peak from {at}: a limiter, a cut or a lifted pedal before the end."
        )
        return Check("end", "torque to the end", False, words)
    return Check("end", "torque to the end", True, "Torque runs on to the end of the pull.")
