"""Pulls of a flat engine, made up to order."""

from __future__ import annotations

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.compare.bands import Band
from longbreath.core.compare.compare import PullCurve

GRID = np.arange(1800, 7001, 100) * RPM


BANDS = (
    Band("low", 1800 * RPM, 3000 * RPM),
    Band("middle", 3000 * RPM, 5200 * RPM),
    Band("top", 5200 * RPM, 7000 * RPM),
)


def runs(
    order: str, effect: float | np.ndarray = 0.0, drift: float = 0.0, noise: float = 0.0, seed: int = 0
) -> list[PullCurve]:
    """Pulls of a flat engine of 180 N·m in that order."""
    rng = np.random.default_rng(seed)
    lag = np.abs(np.arange(GRID.size)[:, None] - np.arange(GRID.size)[None, :])
    root = np.linalg.cholesky(0.3 + 0.7 * np.exp(-((lag / 4.0) ** 2)) + 1e-8 * np.eye(GRID.size))
    curves = []
    for place, label in enumerate(order, start=1):
        curve = 180.0 + drift * place + noise * (root @ rng.standard_normal(GRID.size))
        curves.append(PullCurve(label, place, curve + (effect if label == "B" else 0.0)))
    return curves
