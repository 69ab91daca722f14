"""Where the operator stops: limits of the card, knock, lean mixture, injectors, fuel pressure; temperatures at the start, battery."""

from __future__ import annotations

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.judge.check import (
    LOOK,
    REPEAT,
    STARTS,
    STOP,
    WAIT,
    Check,
    OtherPulls,
    PullFacts,
    PullRules,
    at_rpm,
    celsius,
    gauge_of,
    used,
)
from longbreath.core.pull.channels import (
    BATTERY,
    CHARGE,
    COOLANT,
    DUTY,
    EXHAUST,
    FUEL_PRESSURE,
    INJECTOR_DUTY,
    INJECTOR_TIME,
    INTAKE,
    KNOCK,
    MIXTURE,
    OIL,
    SPEED,
    TORQUE,
)
from longbreath.core.pull.pulls import Array, Sweep

OF_CHANNEL = {
    "coolant": COOLANT,
    "oil": OIL,
    "charge": CHARGE,
    "exhaust": EXHAUST,
    "controller_duty": DUTY,
    "weakest_torque": TORQUE,
    "weakest_speed": SPEED,
}
"""The channel that each limit of a card is read on."""
NAMES = {
    "boost": ("Boost", "{0:.0f} kPa", 1e3),
    "weakest_torque": ("Torque", "{0:.0f} N·m", 1.0),
    "weakest_speed": ("Speed", "{0:.0f} rpm", RPM),
    "controller_duty": ("Controller duty", "{0:.0f} %", 0.01),
}
LASTING = 3
"""Rows in a row that must lie beyond a limit: one alone is noise."""
INSPECT = "Stop and inspect before another pull. This is advice beside your own protection, not instead of it."
KNOCKS = 2
"""Counts in a pull from which it is called knock. Common practice, no source."""
LEAN_BY = 0.10
"""λ leaner than asked for by this is an excursion where the card gives no limit. Common practice, no source."""
FUEL_FALL = 0.10
DUTY_MOST = 0.92
"""Injectors open for longer than this share no longer close between shots. Common practice, no source."""
AIR_DRIFT, AMBIENT_DRIFT = 8.0, 400.0
"""Intake air [K] and air pressure [Pa] that may change from one pull to the next. Common practice, no source."""
BATTERY_LEAST, BATTERY_MOST, BATTERY_DRIFT = 12.2, 15.2, 0.7
"""Volts at which a charging system is at work, and what may change from pull to pull. Common practice, no source."""


def _lasting(beyond: np.ndarray) -> int:
    """Index of the first row of `LASTING` rows beyond; -1 where there is none."""
    if beyond.size < LASTING:
        return -1
    window = np.lib.stride_tricks.sliding_window_view(beyond, LASTING).all(axis=1)
    return int(np.argmax(window)) if window.any() else -1


def check_limits(sweep: Sweep, rules: PullRules) -> Check:
    """Nothing crossed a limit at which the card tells the operator to stop."""
    name, looked = "limits of the card", 0
    for key, limit in rules.limits.items():
        values = gauge_of(sweep, rules) if key == "boost" else sweep.seen(OF_CHANNEL.get(key, ""))
        if values is None:
            continue
        looked += 1
        first = _lasting(values > limit)
        if first >= 0:
            said, pattern, unit = NAMES.get(key, (key.capitalize(), "", 1.0))
            most = float(np.nanmax(values))
            shown = [pattern.format(v / unit) if pattern else celsius(v) for v in (most, limit)]
            at = float(sweep.speed[first])
            words = f"{said} reached {shown[0]}, beyond the limit of {shown[1]}, from {at_rpm(at)}."
            channel = OF_CHANNEL.get(key, "")
            return Check("limits", name, False, words, INSPECT, STOP, channel, at, rules.high)
    if not looked:
        return Check("limits", name, None, "The card gives no limits on what was logged.")
    return Check("limits", name, True, "Nothing crossed a limit of the card.")


def check_demanded(sweep: Sweep, rules: PullRules) -> Check:
    """What the card demands was logged: what is missing fails nothing, but no claim that rests on it can be made of the pull."""
    name = "what the card demands"
    missing = [words for words, names in rules.demanded.items() if all(sweep.seen(n) is None for n in names)]
    if missing:
        return Check("demanded", name, None, f"Demanded by the card and not logged: {'; '.join(missing)}.")
    return Check("demanded", name, True, "Everything that the card demands was logged.")


def check_knock(sweep: Sweep, rules: PullRules) -> Check:
    """No knock was counted."""
    name, counts = "no knock", sweep.seen(KNOCK)
    if counts is None:
        return Check("knock", name, None, "No knock was logged.")
    finite = np.where(np.isfinite(counts), counts, 0.0)
    running = bool(np.all(np.diff(finite) >= 0.0)) and finite[-1] > finite[0]
    steps = np.diff(finite, prepend=finite[0]) if running else finite
    total = float(steps.sum())
    if total >= KNOCKS:
        at = float(sweep.speed[int(np.argmax(steps))])
        words = f"Knock: {total:.0f} counts, most of them near {at_rpm(at)}."
        return Check("knock", name, False, words, INSPECT, STOP, KNOCK, at, at)
    return Check("knock", name, True, "No knock was counted.")


def check_lean(sweep: Sweep, rules: PullRules) -> Check:
    """The mixture never ran lean, by the card's limit or by a tenth beyond what was asked for."""
    name, mixture = "never lean", sweep.mixture
    limit = rules.limits.get("lean") or (rules.mixture_target + LEAN_BY if rules.mixture_target is not None else None)
    if mixture is None or limit is None:
        return Check("lean", name, None, "No mixture was logged, or none was asked for.")
    beyond = np.nan_to_num(mixture, nan=0.0) > limit
    first = _lasting(beyond & used(sweep, rules))
    if first >= 0:
        low, high = float(sweep.speed[beyond].min()), float(sweep.speed[beyond].max())
        most = float(np.nanmax(mixture[beyond]))
        words = f"The mixture ran lean: λ {most:.2f} from {at_rpm(low)} to {at_rpm(high)}; the limit is {limit:.2f}."
        return Check("lean", name, False, words, INSPECT, STOP, MIXTURE, low, high)
    return Check("lean", name, True, f"λ stayed below {limit:.2f}.")


def check_fuel(sweep: Sweep, rules: PullRules) -> Check:
    """Fuel pressure does not fall during the pull."""
    name, pressure = "fuel pressure holds", sweep.seen(FUEL_PRESSURE)
    if pressure is None:
        return Check("fuel", name, None, "No fuel pressure was logged.")
    values = pressure[np.isfinite(pressure)]
    tenth = max(3, values.size // 10)
    begin, least = float(np.median(values[:tenth])), float(np.quantile(values, 0.02))
    if begin > 0 and (begin - least) / begin > FUEL_FALL:
        words = f"Fuel pressure falls by {(begin - least) / begin:.0%} during the pull: the pump or the filter is at its end."
        return Check("fuel", name, False, words, INSPECT, STOP, FUEL_PRESSURE)
    return Check("fuel", name, True, "Fuel pressure holds.")


def duty_of(sweep: Sweep, rules: PullRules) -> Array | None:
    """Injector duty [1], (n,): as logged, or opening time × speed × injections a revolution."""
    if (logged := sweep.seen(INJECTOR_DUTY)) is not None:
        return logged
    time = sweep.seen(INJECTOR_TIME)
    return time * sweep.speed / (2.0 * np.pi) * rules.fires if time is not None else None


def check_injectors(sweep: Sweep, rules: PullRules) -> Check:
    """Injectors close between shots."""
    name, duty = "injectors have room", duty_of(sweep, rules)
    if duty is None:
        return Check("injectors", name, None, "No injector time or duty was logged.")
    limit = rules.limits.get("injector_duty", DUTY_MOST)
    first = _lasting(np.nan_to_num(duty, nan=0.0) > limit)
    if first >= 0:
        at = float(sweep.speed[first])
        words = f"Injectors are open for {np.nanmax(duty):.0%} of the time, beyond {limit:.0%}, from {at_rpm(at)}: no fuel is left."
        channel = INJECTOR_DUTY if sweep.seen(INJECTOR_DUTY) is not None else INJECTOR_TIME
        return Check("injectors", name, False, words, INSPECT, STOP, channel, at, rules.high)
    return Check("injectors", name, True, f"Injectors are open for {np.nanmax(duty):.0%} at most.")


def check_start(facts: PullFacts, rules: PullRules) -> Check:
    """Temperatures at the start lie in the window of the card."""
    name, looked = "temperatures at the start", []
    for key, (low, high) in rules.window.items():
        value = facts.starts.get(key)
        if value is None:
            continue
        looked.append(key)
        if not low - 0.5 <= value <= high + 0.5:
            do = f"Cool to {celsius(high)} first." if value > high else f"Warm to {celsius(low)} first."
            words = f"{key.capitalize()} was {celsius(value)} at the start; the card asks for {celsius(low)} to {celsius(high)}."
            return Check("start", name, False, words, do + " Then repeat.", WAIT, STARTS[key])
    if not looked:
        return Check("start", name, None, "The card asks for no temperature that was logged.")
    return Check("start", name, True, f"Inside the window of the card: {', '.join(looked)}.")


def check_air(facts: PullFacts, beside: OtherPulls) -> Check:
    """The air did not change since the pull before."""
    name = "air as before"
    before = beside.before[-1].facts if beside.before else None
    if before is None:
        return Check("air", name, None, "No pull before this one.")
    said = []
    for now, then, most, pattern, unit in (
        (facts.air, before.air, AIR_DRIFT, "intake air by {0:+.0f} K", 1.0),
        (facts.ambient, before.ambient, AMBIENT_DRIFT, "air pressure by {0:+.1f} hPa", 100.0),
    ):
        if now is None or then is None:
            continue
        if abs(now - then) > most:
            words = f"The air changed since the pull before: {pattern.format((now - then) / unit)}."
            advice = "Let the cell settle. If the weather turned, open a session with its own weather."
            return Check("air", name, False, words, advice, WAIT, INTAKE)
        said.append(pattern.format((now - then) / unit))
    if not said:
        return Check("air", name, None, "Neither intake air nor air pressure was logged in both.")
    return Check("air", name, True, f"Since the pull before: {', '.join(said)}.")


def check_battery(facts: PullFacts, beside: OtherPulls) -> Check:
    """The battery is charged and its voltage is that of the other pulls: coils and injectors depend on it."""
    name, volts = "battery", facts.battery
    if volts is None:
        return Check("battery", name, None, "No battery voltage was logged.")
    others = [o.facts.battery for o in beside.others if o.facts.battery is not None and o.counts]
    usual = float(np.median(others)) if others else volts
    if not BATTERY_LEAST <= volts <= BATTERY_MOST:
        words = f"Battery at {volts:.1f} V: the charging system is not at work, or works too hard."
        return Check("battery", name, False, words, "Look at alternator and earth, then repeat.", LOOK, BATTERY)
    if abs(volts - usual) > BATTERY_DRIFT:
        words = f"Battery at {volts:.1f} V where the other pulls had {usual:.1f}: coils and injectors open otherwise."
        return Check("battery", name, False, words, "Charge it as before and repeat.", REPEAT, BATTERY)
    return Check("battery", name, True, f"Battery at {volts:.1f} V.")
