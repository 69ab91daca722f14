"""What verdicts a card would give for a prediction: sessions drawn from it by lot and judged by Weigh's own rule."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from longbreath.core.compare import compare
from longbreath.core.compare.design import make_design
from longbreath.core.compare.levels import levels_of
from longbreath.core.compare.planning import BANDS, Plan
from longbreath.core.compare.scatter import Scatter

VERDICTS = (
    compare.GAIN,
    compare.LOSS,
    compare.NO_DIFFERENCE,
    compare.NOT_PROVEN,
    compare.GAIN_OR_DRIFT,
    compare.LOSS_OR_DRIFT,
)
QUANTILE = 1.2816
"""Least and most of a prediction are its outer tenths: so many standard deviations from the middle of a normal."""


@dataclass(frozen=True)
class Expected:
    """What is expected of a band: its name, the change expected [N m], least and most (in eight of ten), A's torque [N m]."""

    band: str
    least: float
    middle: float
    most: float
    reference: float


def chances(
    plan: Plan,
    scatter: Scatter,
    bands: Sequence[Expected],
    draws: int = 2000,
    seed: int = 1,
    progress: Callable[[float], None] = lambda share: None,
) -> dict[str, dict[str, float]]:
    """Share of drawn sessions with each verdict, by band.

    The truth is drawn from the prediction (a normal on each side of its middle), pulls and sets from the dyno's scatter, drift is
    straight. Judged by band means, three bands sharing 5 %, with straight drift. Raises EvidenceError where the plan cannot be
    weighed. progress is told the share that is done, and may raise to stop.
    """
    rng = np.random.default_rng(seed)
    design = make_design(list(plan.labels), list(plan.places))
    sets, n = np.asarray(plan.fittings), len(plan.labels)
    found: dict[str, dict[str, float]] = {}
    for number, band in enumerate(bands):
        counts = dict.fromkeys(VERDICTS, 0)
        sigma = scatter.of_band(band.band)
        known = Scatter(sigma, fitting=scatter.fitting, fitting_df=scatter.fitting_df)
        levels = levels_of(design, plan.fittings, scatter=known)
        margin = compare.MARGIN_SHARE * band.reference
        for k in range(draws):
            z = float(rng.standard_normal())
            side = band.most - band.middle if z > 0 else band.middle - band.least
            truth = band.middle + z * side / QUANTILE
            y = (
                truth * design.is_b
                + rng.normal(0.0, sigma, n)
                + rng.normal(0.0, scatter.fitting or 0.0, sets.max() + 1)[sets]
            )
            effect = compare.effect(band.reference + y, design, family=BANDS, levels=levels)
            counts[compare.verdict(effect, margin, returned=design.drift)] += 1
            if k % 200 == 0:
                progress((number + k / draws) / len(bands))
        found[band.band] = {name: count / draws for name, count in counts.items() if count}
    return found
