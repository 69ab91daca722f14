"""Simulations in the plain run: the largest |t| over a curve from fewer draws, or left out where nobody looks at the whole curve."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial
from unittest import mock

from longbreath.core.compare import noise

FEW = 1000
"""Draws with which the quantile is known to 1 %: of 95 % that is 0.3."""


@contextmanager
def few_draws(draws: int | None = FEW) -> Iterator[None]:
    """The quantile from so many draws; None: from as many as the product takes."""
    if draws is None:
        yield
        return
    with mock.patch.object(noise, "max_t_quantile", partial(noise.max_t_quantile, draws=draws)):
        yield


@contextmanager
def bands_alone() -> Iterator[None]:
    """Where only means over bands are looked at, the whole curve is given any width."""
    with mock.patch.object(noise, "max_t_quantile", return_value=3.0):
        yield
