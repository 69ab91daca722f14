"""Quantiles and tails of the distributions that intervals are made of, straight from the functions that scipy's own are made of:
a page that asks for a hundred spends its time on nothing else otherwise."""

from __future__ import annotations

from math import isinf

from scipy import special


def t_at(share: float, df: float) -> float:
    """Student's t below which a share [1] of it lies, at `df` degrees of freedom; the normal's where they are endless."""
    return float(special.ndtri(share) if isinf(df) else special.stdtrit(df, share))


def t_beyond(value: float, df: float) -> float:
    """Share [1] of Student's t above a value."""
    return float(special.ndtr(-value) if isinf(df) else special.stdtr(df, -value))


def normal_at(share: float) -> float:
    """The standard normal below which a share [1] of it lies."""
    return float(special.ndtri(share))


def chi2_at(share: float, df: float) -> float:
    """The chi-square below which a share [1] of it lies, at `df` degrees of freedom."""
    return float(2.0 * special.gammaincinv(df / 2.0, share))
