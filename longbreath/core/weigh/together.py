"""Trials of one kind taken together: nothing is chosen by being newer, and what disagrees widens the interval."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import exp, log, sqrt

import numpy as np
from scipy import stats

from longbreath.core.basis.quantiles import t_at
from longbreath.core.compare.compare import CONFIDENCE, Effect
from longbreath.core.weigh.fuel import FuelTrial, verdict_of
from longbreath.core.weigh.readings import ReadingsCompared, said_of

DISAGREE = 0.05
"""Trials disagree where their differences would lie so far apart by their own scatter in fewer than so many of cases [1]."""


def effects(found: Sequence[Effect], family: int = 1) -> tuple[Effect, bool]:
    """B − A [any unit] of several trials, and whether they disagree. family: intervals that are read together.

    Each weighs by 1/se²; where they disagree the standard error is widened by √(χ²/(k − 1)). Source: inverse-variance weighting;
    Birge 1932; Satterthwaite 1946 for the degrees of freedom.
    """
    if len(found) == 1:
        return found[0], False
    errors = np.array([item.standard_error for item in found])
    errors = np.maximum(errors, max(1e-3 * float(errors.max()), 1e-12))
    values, weights = np.array([item.value for item in found]), 1.0 / errors**2
    value = float(np.average(values, weights=weights))
    chi2 = float(np.sum(weights * (values - value) ** 2))
    apart = bool(stats.chi2.sf(chi2, len(found) - 1) < DISAGREE)
    error = sqrt(1.0 / float(weights.sum())) * (sqrt(max(chi2 / (len(found) - 1), 1.0)) if apart else 1.0)
    df = float(weights.sum() ** 2 / np.sum(weights**2 / np.array([item.df for item in found])))
    df = min(df, float(len(found) - 1)) if apart else df
    half = t_at(1.0 - (1.0 - CONFIDENCE) / (2 * family), df) * error
    return Effect(value, error, half, error, df, 0.0), apart


def readings(trials: Sequence[Sequence[ReadingsCompared]]) -> tuple[tuple[ReadingsCompared, ...], tuple[str, ...]]:
    """What several trials of readings show, condition by condition in the order of the first, and where they disagree."""
    groups: dict[str, list[ReadingsCompared]] = {}
    for found in trials:
        for item in found:
            groups.setdefault(" ".join(item.conditions.casefold().split()), []).append(item)
    joined, words = [], []
    for items in groups.values():
        first = items[0]
        effect, apart = effects([item.effect for item in items], len(groups))
        if len(items) == 1 and len(trials) > 1:
            half = max(
                effect.half_width, t_at(1.0 - (1.0 - CONFIDENCE) / (2 * len(groups)), effect.df) * effect.standard_error
            )
            effect = replace(effect, half_width=half)
        a, b = (sum(item.counts[k] for item in items) for k in (0, 1))
        out = tuple(text for item in items for text in item.out)
        joined.append(ReadingsCompared(first.kind, first.conditions, effect, said_of(first.kind, effect), (a, b), out))
        if apart:
            words.append(f"{first.conditions}: the {len(items)} trials disagree, which widens the interval")
    return tuple(joined), tuple(words)


def fuels(trials: Sequence[FuelTrial]) -> FuelTrial:
    """What several fuel trials show, by the logarithm of their changes; vehicles and runs are counted together."""
    if len(trials) == 1:
        return trials[0]
    found = []
    for trial in trials:
        half = (log(1.0 + trial.high) - log(1.0 + trial.low)) / 2.0
        error = half / t_at(0.975, trial.df)
        found.append(Effect(log(1.0 + trial.share), error, half, error, trial.df, 0.0))
    effect, apart = effects(found)
    notes = tuple(note for trial in trials for note in trial.notes)
    if apart:
        notes += (f"The {len(trials)} trials disagree, which widens the interval.",)
    return replace(
        trials[0],
        share=exp(effect.value) - 1.0,
        low=exp(effect.low) - 1.0,
        high=exp(effect.high) - 1.0,
        verdict=verdict_of(effect.value, effect.standard_error, effect.df),
        provable=min(trial.provable for trial in trials),
        treated=sum(trial.treated for trial in trials),
        controls=sum(trial.controls for trial in trials),
        df=effect.df,
        notes=tuple(dict.fromkeys(notes)),
        runs=sum(trial.runs for trial in trials),
    )
