"""What a comparison owes to its drift, its scatter and its size, in sentences."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.compare.compare import Comparison
from longbreath.core.compare.design import CURVE_ALPHA

WORTH = {1: 90, 3: 94}
"""Of 100 sessions, how many the 95 % band of the whole curve really held in, by degrees of freedom; see Method, Comparing pulls."""


def drift_choice(comparison: Comparison) -> str:
    """How drift was drawn, and why."""
    design = comparison.design
    if not design.drift:
        return "A was not returned to: whatever drifted is in this difference and cannot be told from the part."
    if design.curved:
        return (
            f"Drift taken out as a curve over the order of pulls: a straight line does not fit (p = {comparison.curve_p:.3f}, "
            f"under {CURVE_ALPHA:g})."
        )
    if comparison.curve_p is None:
        return "Drift taken out as a straight line over the order of pulls; there are too few pulls to see whether it was curved."
    return f"Drift taken out as a straight line over the order of pulls; no curve was found (p = {comparison.curve_p:.2f})."


def unseen(comparison: Comparison) -> str | None:
    """What no arithmetic could see: a step that came together with the part. None where the part came on twice."""
    if comparison.design.sets >= 4 or not comparison.design.drift:
        return None
    return (
        "B was on once: a step that came and went together with it (a hose, a setting, a tyre) could not be seen. "
        "A second set of B would show it."
    )


def scatter(comparison: Comparison) -> str | None:
    """Whether A and B scatter differently. None if they do not."""
    if not comparison.design.unequal:
        return None
    ratio = comparison.scatter_ratio
    more, times = ("B", ratio) if ratio > 1 else ("A", 1.0 / max(ratio, 1e-6))
    size = f"{times:.1f} times as much" if times < 100 else "far more"
    return (
        f"{more} scatters {size} as the other (p = {comparison.scatter_p:.3f}): their noise is taken apart "
        "(Welch and Satterthwaite), which widens the interval."
    )


def worth(comparison: Comparison) -> str | None:
    """What a small number of pulls is worth. None where the interval holds as often as it says."""
    held = WORTH.get(comparison.design.df)
    if held is None:
        return None
    return (
        f"With so few pulls the band over the whole curve held in about {held} of 100 simulated sessions, not in 95: "
        "pull once more in each set."
    )


def floor(comparison: Comparison) -> str | None:
    """Whether the dyno's known scatter was taken because the pulls agree too well to be true. None if not."""
    if not comparison.known:
        return None
    known = units.show(comparison.known, "torque", "us", comparison.known / 10)
    return (
        f"These pulls agree better than one session in a hundred would on this dyno: its known scatter ({known}) was taken "
        "as the least. See that no pull is a copy of another."
    )


def remarks(comparison: Comparison) -> tuple[str, ...]:
    """All that applies, drift first."""
    found = (f(comparison) for f in (drift_choice, unseen, scatter, floor, worth))
    either = [f"Stated is what holds either way. {words}" for words in comparison.either_way]
    return (*(sentence for sentence in found if sentence), *either)
