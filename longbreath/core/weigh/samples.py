"""Two sets of readings against each other by Welch, with the tool's step as the least scatter; the same verdicts as torque has."""

from __future__ import annotations

from collections.abc import Sequence
from math import sqrt

import numpy as np

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare.compare import CONFIDENCE, Effect


def welch(a: Sequence[float], b: Sequence[float], step: float = 0.0, family: int = 1) -> Effect:
    """B − A of two sets of readings [any unit] with its interval. step: the tool's own step, whose u = step/√12 is the least that a
    reading scatters; family: intervals read together (Bonferroni). Raises EvidenceError with fewer than two readings of either.
    Source: Welch 1947; a step's standard uncertainty, GUM 4.3.7.
    """
    if len(a) < 2 or len(b) < 2:
        raise EvidenceError("Two readings of A and two of B are needed at least.")
    least = step**2 / 12.0
    va, vb = (max(float(np.var(x, ddof=1)), least) / len(x) for x in (a, b))
    total = va + vb
    df = total**2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1)) if total > 0.0 else float(len(a) + len(b) - 2)
    error = sqrt(total)
    critical = t_at(1 - (1 - CONFIDENCE) / (2 * family), df)
    return Effect(float(np.mean(b) - np.mean(a)), error, critical * error, sqrt(total), df, 0.0)
