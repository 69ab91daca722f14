"""Figures of a pull that were typed from a sheet of paper: what they say of each other and of their neighbours."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.core.judge.check import LOOK, Check, PullRules, at_rpm
from longbreath.core.pull.pulls import Array, speed_grid

Row = tuple[float, float | None, float | None]
"""Speed [rad/s], torque [N m] or None, power [W] or None."""
AGREES = 0.02
"""Typed figures of power and torque agree within this share: sheets print whole numbers. Common practice, no source."""
NEIGHBOURS = 0.15
"""A typed figure lies within this share of the line through its neighbours and of the pulls of its letter. Common practice."""
MOST_SPEED, LEAST_SPEED = 30_000.0 * RPM, 100.0 * RPM


def check_rows(rows: Sequence[Row]) -> None:
    """Raises InputError for rows that hold no figure, repeat a speed, or whose speed is none of an engine."""
    if not rows:
        raise InputError("Type at least one speed with its torque or power.", "rows")
    for number, (speed, torque, power) in enumerate(rows, start=1):
        if not LEAST_SPEED <= speed <= MOST_SPEED:
            raise InputError(f"Line {number}: {at_rpm(speed)} is no speed of an engine.", "rows")
        if torque is None and power is None:
            raise InputError(f"Line {number} has neither torque nor power.", "rows")
        if any(v is not None and v < 0 for v in (torque, power)):
            raise InputError(f"Line {number}: torque and power are not negative in a pull.", "rows")
    speeds = [row[0] for row in rows]
    if len(set(speeds)) != len(speeds):
        raise InputError("One speed stands there twice.", "rows")


def torque_of(row: Row) -> float:
    """Torque of a typed row [N m], from power where only that was typed."""
    speed, torque, power = row
    return torque if torque is not None else (power or 0.0) / speed


def check_typed(rows: Sequence[Row], rules: PullRules, pulls: Sequence[Array]) -> tuple[Check, ...]:
    """What may be wrong with typed figures: power against torque × speed, the band, their neighbours, the pulls of their letter.

    pulls: torque of the pulls of the same letter on 100 rpm steps of the band [N m], each (m,).
    """
    ordered = sorted(rows)
    return (_identity(ordered), _band(ordered, rules), _neighbours(ordered), _beside(ordered, rules, pulls))


def _identity(rows: Sequence[Row]) -> Check:
    name = "power = torque × speed"
    both = [(s, t, p) for s, t, p in rows if t is not None and p is not None]
    for speed, torque, power in both:
        if abs(power - torque * speed) > AGREES * max(power, torque * speed):
            told = torque * speed
            words = f"At {at_rpm(speed)} torque × speed is {told / 1e3:.1f} kW, and {power / 1e3:.1f} kW was typed."
            return Check("identity", name, False, words, "Read the sheet again, and its units.", LOOK, "", speed, speed)
    if not both:
        return Check("identity", name, None, "No speed has both figures.")
    return Check("identity", name, True, f"It holds at {counted(len(both), 'speed')}.")


def _band(rows: Sequence[Row], rules: PullRules) -> Check:
    name = "band of use"
    outside = [s for s, _, _ in rows if not rules.low * 0.98 <= s <= rules.high * 1.02]
    if outside:
        words = f"{at_rpm(outside[0])} lies outside the band of use, {at_rpm(rules.low)} to {at_rpm(rules.high)}."
        return Check("coverage", name, False, words, "Read the speed again.", LOOK, "", outside[0], outside[0])
    return Check("coverage", name, True, "Every speed lies in the band of use.")


def _neighbours(rows: Sequence[Row]) -> Check:
    name = "between its neighbours"
    if len(rows) < 4:
        return Check("spikes", name, None, "Fewer than four speeds were typed.")
    torque, speed = np.array([torque_of(r) for r in rows]), np.array([r[0] for r in rows])
    between = np.array(
        [np.interp(speed[i], np.delete(speed, i), np.delete(torque, i)) for i in range(1, speed.size - 1)]
    )
    off = (torque[1:-1] - between) / np.maximum(between, 1e-9)
    worst = int(np.argmax(np.abs(off)))
    if abs(off[worst]) > NEIGHBOURS:
        at = float(speed[worst + 1])
        words = f"At {at_rpm(at)} torque is {off[worst]:+.0%} off the line through its neighbours: was a digit misread?"
        return Check("spikes", name, False, words, "Read the sheet again.", LOOK, "", at, at)
    return Check("spikes", name, True, "Each figure lies near the line through its neighbours.")


def _beside(rows: Sequence[Row], rules: PullRules, pulls: Sequence[Array]) -> Check:
    name = "beside the pulls of its letter"
    if not pulls:
        return Check("set", name, None, "No pull of its letter counts yet.")
    usual = np.nanmedian(np.vstack(pulls), axis=0)
    grid = speed_grid(rules.low, rules.high)[: usual.size]
    seen = np.isfinite(usual)
    for row in rows:
        if not seen.any() or not grid[seen][0] <= row[0] <= grid[seen][-1]:
            continue
        there = float(np.interp(row[0], grid[seen], usual[seen]))
        if abs(torque_of(row) / there - 1.0) > NEIGHBOURS:
            words = f"At {at_rpm(row[0])} torque is {torque_of(row):.0f} N·m; the pulls of its letter make {there:.0f}."
            return Check("set", name, False, words, "Another unit, or another vehicle?", LOOK, "", row[0], row[0])
    return Check("set", name, True, "It lies beside the pulls of its letter.")
