"""Figures of a claim: one value in both units, never outside its interval and never better than it."""

from __future__ import annotations

from dataclasses import dataclass
from math import floor, isfinite, log10

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError


@dataclass(frozen=True)
class Amount:
    """A difference as it is printed, in US and in metric units, with its 95 % interval; decimals of each unit.

    Each number is rounded against the maker: a gain toward nought, a loss away from it; the ends of the interval outward.
    """

    kind: str
    us: float
    metric: float
    us_interval: tuple[float, float]
    metric_interval: tuple[float, float]
    decimals: tuple[int, int]

    def size(self, metric_first: bool = False) -> str:
        """The size of the difference without its sign: "2.2 lb-ft (2.9 N·m)"."""
        texts = [
            _text(abs(n), d, s) for n, d, s in zip((self.us, self.metric), self.decimals, self._symbols, strict=True)
        ]
        if self._symbols[0] == self._symbols[1]:
            return texts[0]
        first, second = reversed(texts) if metric_first else texts
        return f"{first} ({second})"

    def interval(self, metric_first: bool = False) -> str:
        """The interval with signs: "+1.6 to +2.9 lb-ft, +2.1 to +4.0 N·m"."""
        texts = [
            f"{units.tidy_number(low, d, True)} to {_text(high, d, s, True)}"
            for (low, high), d, s in zip(
                (self.us_interval, self.metric_interval), self.decimals, self._symbols, strict=True
            )
        ]
        if self._symbols[0] == self._symbols[1]:
            return texts[0]
        return ", ".join(reversed(texts) if metric_first else texts)

    @property
    def turned(self) -> Amount:
        """The same amount of the other sign, with its interval turned round."""
        us, metric = ((-high, -low) for low, high in (self.us_interval, self.metric_interval))
        return Amount(self.kind, -self.us, -self.metric, us, metric, self.decimals)

    @property
    def _symbols(self) -> tuple[str, str]:
        kind = units.kind_named(self.kind)
        return kind.us, kind.metric


def _text(number: float, decimals: int, symbol: str, signed: bool = False) -> str:
    return f"{units.tidy_number(number, decimals, signed)}\u00a0{symbol}".rstrip("\u00a0")


def _step(largest: float) -> float:
    """The largest of 1, 2, 5 × 10ⁿ that is no larger."""
    power = 10.0 ** floor(log10(largest))
    return next(n * power for n in (5.0, 2.0, 1.0, 0.5) if n * power <= largest)


def _decimals(step: float) -> int:
    return max(0, -floor(log10(step) + 1e-9))


DUST = 1e-9
"""Share of a step by which a number that was carried from unit to unit may miss a multiple and still be one."""


def _down(value: float, step: float) -> float:
    """The multiple of a step that is nearest below a value, as a number that is printed exactly."""
    return round(floor(value / step + DUST) * step, _decimals(step))


def _up(value: float, step: float) -> float:
    return -_down(-value, step)


def exact(value: float, kind: str) -> str:
    """A count, or a time that was run, as it is printed: value [SI], rounded down, without an interval."""
    named = units.kind_named(kind)
    whole = floor(value / units.unit_of(kind, named.us).factor + DUST) if named.us else floor(value + DUST)
    return _text(float(whole), 0, named.us)


def amount(value: float, half_width: float, kind: str, less_is_better: bool = False) -> Amount:
    """A difference [SI] with the half width of its interval [SI], as it is printed; rounded against the maker, who wishes for more,
    or for less where less is better.

    The US number is a multiple of a step of at most half the half width, rounded down; the metric number is that same value,
    rounded down by less than half the step: so both lie inside the interval, and differ by less than the last digit.
    Raises EvidenceError for an interval of no width, or numbers that are none.
    """
    if not (isfinite(value) and isfinite(half_width) and half_width > 0):
        raise EvidenceError("A figure without an interval is not stated.")
    if less_is_better:
        return amount(-value, half_width, kind).turned
    named = units.kind_named(kind)
    us, metric = (units.unit_of(kind, symbol).factor for symbol in (named.us, named.metric))
    coarse = _step(half_width / us / 2.0)
    same = coarse * us / metric
    fine = 10.0 ** floor(log10(same / (2.5 if same < 1.0 else 10.0)))
    first = _down(value / us, coarse)
    second = _down(first * us / metric, fine)
    low, high = value - half_width, value + half_width
    decimals = (_decimals(coarse), _decimals(fine))
    ends = tuple(
        (_down(low / f, 10.0**-d), _up(high / f, 10.0**-d)) for f, d in zip((us, metric), decimals, strict=True)
    )
    return Amount(kind, first, second, ends[0], ends[1], decimals)
