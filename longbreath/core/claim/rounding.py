"""Figures of a claim, rounded against the maker."""

from __future__ import annotations

from math import ceil, floor

from longbreath.core.basis import units
from longbreath.core.dyno.bands import Judged


def conservative(value: float, step: float) -> float:
    """Round a gain toward nought and a loss away from nought, to multiples of `step` [the unit of value]."""
    if value >= 0:
        return floor(value / step + 1e-9) * step
    return -ceil(-value / step - 1e-9) * step


def _amount(item: Judged, symbol: str) -> str:
    value = units.to_unit(item.effect.value, item.kind, symbol)
    half = units.to_unit(item.effect.half_width, item.kind, symbol)
    step = 1.0 if half >= 0.5 else 0.5
    rounded = abs(conservative(value, step))
    if rounded == 0:
        return f"less than {step:g} {symbol}"
    return f"{rounded:g} {symbol}"


def amounts(item: Judged) -> str:
    """A difference in both unit systems, rounded conservatively: "2 lb-ft (3 N·m)"."""
    kind = units.kind_named(item.kind)
    return f"{_amount(item, kind.us)} ({_amount(item, kind.metric)})"


def interval(item: Judged, symbol: str) -> str:
    """The 95 % interval of a difference as text in one unit."""
    low, high = (units.to_unit(x, item.kind, symbol) for x in (item.effect.low, item.effect.high))
    return f"{units.tidy_number(low, 1, True)} to {units.tidy_number(high, 1, True)} {symbol}"
