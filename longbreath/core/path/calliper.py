"""One dimension read several times: mean, how far out of round, and how good the mean is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

NOMINAL_SHARE = 0.03
"""A nominal or remembered size counts as good to this share of itself at best (ours, common practice: by eye)."""
SOURCE = "Mean of the readings, good to what the tool is good to; how far they differ is the shape of the part."


@dataclass(frozen=True)
class Callipers:
    """What several readings of one dimension say: their mean, the spread largest less smallest, spread over mean."""

    mean: Figure
    ovality: Figure | None
    out_of_round: Figure | None


def widened(size: float, precision: float | None) -> float:
    """The ± [m] of a nominal or remembered `size` [m]: 3 % of it, or the stated precision if that is more."""
    return max(NOMINAL_SHARE * abs(size), precision or 0.0)


def read(values: Sequence[float], precision: float, name: str = "size", rows: tuple[str, ...] = ()) -> Callipers:
    """Mean, ovality and out-of-round of readings [m] with a tool good to ± `precision` [m].

    With three readings or more the ovality is given. Raises InputError for no reading, or one of nought or less.
    """
    if not values:
        raise InputError("Read it at least once.", "readings")
    if min(values) <= 0:
        raise InputError("A size must be more than nought.", "readings")
    if precision < 0:
        raise InputError("A tool's precision cannot be negative.", "precision")
    n = len(values)
    mean = sum(values) / n
    givens = (
        *(Given(f"x_{i}", "reading", v, "length") for i, v in enumerate(values, start=1)),
        Given("p", "the tool is good to ±", precision, "length"),
    )
    mean_steps = [Step("x̄", "Σ x/n", mean, "length")]
    mean_steps.append(Step("±", "p; readings across an oval differ by its shape, not by chance", precision, "length"))
    figure = Figure(
        "mean",
        f"{name}, mean",
        mean,
        "length",
        Working(f"Mean of {name}", givens, tuple(mean_steps), SOURCE, (), rows),
        precision or None,
    )
    if n < 3:
        return Callipers(figure, None, None)
    gap = max(values) - min(values)
    step = Step("o", "largest − smallest", gap, "length")
    notes = () if gap > 2 * precision else ("Inside what the tool can tell: call it round.",)
    ovality = Figure(
        "ovality",
        f"{name}, ovality",
        gap,
        "length",
        Working(f"Ovality of {name}", givens, (step,), "Definition: largest less smallest reading.", notes, rows),
        2 * precision or None,
    )
    share = Figure(
        "out_of_round",
        f"{name}, out of round",
        gap / mean,
        "percent",
        Working(
            f"Out of round of {name}",
            givens,
            (step, Step("o/x̄", "ovality over mean", gap / mean, "percent")),
            "Definition.",
            notes,
            rows,
        ),
        significant=2,
    )
    return Callipers(figure, ovality, share)
