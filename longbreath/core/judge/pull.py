"""All checks of a pull, causes before what follows from them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from longbreath.core.judge import boost, drive, limits, mixture, others, sensors, shape
from longbreath.core.judge.check import REPEAT, STOP, Check, OtherPulls, PullFacts, PullRules, log_facts
from longbreath.core.pull.pulls import Sweep

ALONE = OtherPulls()


def checks_of(
    sweep: Sweep, rules: PullRules, beside: OtherPulls = ALONE, facts: PullFacts | None = None
) -> tuple[Check, ...]:
    """All checks of a pull, in the order in which one causes another; it is valid when none of them failed.

    Where several failed, those after the first say that they follow it: the first is what to look at.
    """
    known = facts if facts is not None else log_facts(sweep, rules)
    return _named(
        (
            sensors.check_frozen(sweep, rules),
            sensors.check_ceiling(sweep, rules),
            sensors.check_jumps(sweep, rules),
            sensors.check_gaps(sweep),
            sensors.check_clocks(rules),
            shape.check_identity(sweep),
            others.check_scale(known, rules, beside),
            limits.check_battery(known, beside),
            drive.check_ratio(sweep, rules),
            drive.check_gear(known, beside),
            shape.check_monotonic(sweep),
            drive.check_rate(known, beside),
            boost.check_cut(sweep, rules),
            boost.check_creep(sweep, rules),
            boost.check_controller(sweep, rules),
            boost.check_target(sweep, rules, known, beside),
            limits.check_fuel(sweep, rules),
            limits.check_injectors(sweep, rules),
            limits.check_knock(sweep, rules),
            limits.check_lean(sweep, rules),
            limits.check_limits(sweep, rules),
            shape.check_spikes(sweep),
            shape.check_notch(sweep),
            shape.check_coverage(sweep, rules),
            shape.check_end(sweep, rules),
            mixture.check_mixture_scatter(sweep, rules),
            mixture.check_mixture(sweep, rules),
            mixture.check_mixture_parts(sweep, rules),
            limits.check_start(known, rules),
            limits.check_demanded(sweep, rules),
            limits.check_air(known, beside),
            others.check_fading(known, rules, beside),
            others.check_levels(known, rules, beside),
            others.check_neighbours(known, rules, beside),
            others.check_set(known, rules, beside),
        )
    )


def _named(found: Iterable[Check]) -> tuple[Check, ...]:
    checks, first = [], ""
    for check in found:
        if check.passed is not False:
            checks.append(check)
            continue
        checks.append(replace(check, follows=first, act=check.act or REPEAT, advice=check.advice or "Repeat the pull."))
        first = first or check.key
    return tuple(checks)


def is_valid(checks: Iterable[Check]) -> bool:
    """Whether no check failed."""
    return all(check.passed is not False for check in checks)


def first_of(checks: Iterable[Check]) -> Check | None:
    """The failed check to look at: the first, or the first at which to stop."""
    failed = [check for check in checks if check.passed is False]
    return next((c for c in failed if c.act == STOP), failed[0]) if failed else None
