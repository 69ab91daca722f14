"""How a tuned speed moves with gas temperature, boost and length; what a quoted shift needs; quotes that contradict."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.sentence import Sentence, rpm
from longbreath.core.basis.working import Figure, Given, Step, reckoned

SOURCE = "First principles: the wave’s time is a length over √(γ·R·T), so N ∝ √T/L; pressure alone moves nothing."
BELIEVABLE = {"runner": (250.0, 420.0), "exhaust": (450.0, 1250.0)}
"""Mean gas temperatures [K] that a runner, or a header or tuned pipe, is found at (common practice, no source)."""
LARGE_CHANGE = 150.0
"""A change of the mean gas temperature [K] above which it should be measured before it is believed (common practice)."""
QUARREL = 1.01
"""Two quoted ratios contradict one another when they miss by more than this: quotes are rounded."""


def retuned(speed: float, before: float, after: float, length: float | None, changed: float | None) -> Figure:
    """Tuned speed [rad/s] after the mean gas temperature went from `before` to `after` [K] and the length to `changed` [m].

    length, changed: both or neither [m]. Raises InputError for values of nought or less. Source: first principles.
    """
    positive(speed=speed, before=before, after=after)
    if (length is None) != (changed is None):
        missing = "changed" if changed is None else "length"
        raise InputError("A length is told twice: before and after. Leave both empty for one that stays.", missing)
    ratio = 1.0
    givens: tuple[Given, ...] = (
        Given("N_1", "tuned speed before", speed, "speed"),
        Given("T_1", "mean gas temperature before", before, "temperature"),
        Given("T_2", "mean gas temperature after", after, "temperature"),
    )
    if length is not None and changed is not None:
        positive(length=length, changed=changed)
        ratio = length / changed
        givens += (Given("L_1", "length before", length, "length"), Given("L_2", "length after", changed, "length"))
    heat = sqrt(after / before)
    steps = (
        Step("√(T_2/T_1)", "by temperature", heat, "ratio"),
        Step("L_1/L_2", "by length", ratio, "ratio"),
        Step("N_2", "N_1·√(T_2/T_1)·L_1/L_2", speed * heat * ratio, "speed"),
    )
    note = ("Boost moves a pipe only through the heat that comes with it; γ and R change a little with heat as well.",)
    return reckoned("retuned", "Tuned speed then", givens, steps, SOURCE, note)


def temperature_for(speed: float, shifted: float, before: float) -> tuple[Figure, Figure]:
    """Mean gas temperature [K] that moves a tuned `speed` to `shifted` [rad/s] from `before` [K], and the change of it [K].

    Raises InputError for values of nought or less. Source: first principles, T_2 = T_1·(N_2/N_1)².
    """
    positive(speed=speed, shifted=shifted, before=before)
    after = before * (shifted / speed) ** 2
    givens = (
        Given("N_1", "tuned speed before", speed, "speed"),
        Given("N_2", "tuned speed quoted", shifted, "speed"),
        Given("T_1", "mean gas temperature before", before, "temperature"),
    )
    step = Step("T_2", "T_1·(N_2/N_1)²", after, "temperature")
    change = Step("ΔT/T_1", "T_2/T_1 − 1", after / before - 1.0, "percent")
    return (
        reckoned("needs", "Mean gas temperature it needs", givens, (step,), SOURCE),
        reckoned("change", "Change of absolute temperature", givens, (step, change), SOURCE, signed=True),
    )


def say_believable(needs: Figure, before: float, gas: str) -> Sentence:
    """Whether a needed temperature [K] can be believed of a gas ("runner" or "exhaust") that is at `before` [K]."""
    low, high = BELIEVABLE[gas]
    where = {"runner": "an intake runner", "exhaust": "a header or tuned pipe"}[gas]
    bounds = ((low, "temperature"), (high, "temperature"))
    if not low <= needs.value <= high:
        words = (
            f"Not believable: {where} is found between {{0}} and {{1}}. Something else moved, or the quote is wrong."
        )
        return Sentence(words, values=bounds)
    if abs(needs.value - before) > LARGE_CHANGE:
        return Sentence("Possible, but much: measure the gas temperature both times before you build on it.")
    return Sentence("Believable: that much heat comes and goes with load and boost.")


@dataclass(frozen=True)
class Quote:
    """A quoted shift: the tuned speed lay between `low` and `high` before, and between `low_after` and `high_after` then [rad/s]."""

    low: float
    high: float
    low_after: float
    high_after: float

    @property
    def least(self) -> float:
        """Least ratio of the speeds that the quote allows [1]."""
        return self.low_after / self.high

    @property
    def most(self) -> float:
        """Largest ratio of the speeds that the quote allows [1]."""
        return self.high_after / self.low

    @property
    def words(self) -> str:
        """The quote in rpm."""
        numbers = [rpm(v) for v in (self.low, self.high, self.low_after, self.high_after)]
        return f"{numbers[0]}–{numbers[1]} to {numbers[2]}–{numbers[3]} rpm"


def check_quote(quote: Quote, first: str, second: str) -> None:
    """Raises InputError beside the field (`first`_high or `second`_high) whose range runs backwards."""
    if quote.high < quote.low:
        raise InputError("This range runs backwards.", f"{first}_high")
    if quote.high_after < quote.low_after:
        raise InputError("This range runs backwards.", f"{second}_high")


def quarrel(one: Quote, other: Quote) -> tuple[Figure, Figure, bool]:
    """Least ratio of the larger quoted shift over the largest of the smaller, both shifts, and whether they contradict.

    The two are of one pipe and one change (on and off boost, hot and cold): each leaves a range for √(T_2/T_1). Ranges that do
    not meet cannot both hold. Returns the middle ratio of each as figures. Source: N ∝ √T/L, first principles.
    """
    figures = []
    for name, quote in (("one", one), ("other", other)):
        positive(low=quote.low, low_after=quote.low_after)
        steps = (
            Step("r_min", "least: lowest then / highest before", quote.least, "ratio"),
            Step("r_max", "most: highest then / lowest before", quote.most, "ratio"),
            Step("r", "middle of both, less one", (quote.least + quote.most) / 2.0 - 1.0, "percent"),
        )
        givens = (Given("N", "as quoted", quote.words),)
        figures.append(
            reckoned(
                name,
                "Shift by the first quote" if name == "one" else "Shift by the second quote",
                givens,
                steps,
                SOURCE,
                signed=True,
            )
        )
    apart = max(one.least, other.least) > min(one.most, other.most) * QUARREL
    return figures[0], figures[1], apart


def say_quarrel(one: Quote, other: Quote, apart: bool) -> str:
    """What comes of two quotes, in a sentence with the figures."""
    ranges = (
        f"{one.words} is a factor of {one.least:.3f} to {one.most:.3f}, "
        f"{other.words} one of {other.least:.3f} to {other.most:.3f}"
    )
    if apart:
        return (
            f"They contradict one another: {ranges}. For one pipe and one change both cannot hold; measure one of them."
        )
    return f"They can both hold: {ranges}."
