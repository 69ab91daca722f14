"""Variance components of a dyno from all repeats on record: pull to pull, set to set, day to day. By REML (statsmodels)."""

from __future__ import annotations

import warnings
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare.scatter import Scatter

Array = npt.NDArray[np.float64]


ENOUGH = 4
"""Degrees of freedom below which a scatter between sets or days is not said: with one or two, nought is found half the time. Ours."""


@dataclass(frozen=True)
class Repeat:
    """One valid pull on record: band-mean torque [N m], what was pulled (dossier and letter), its visit, set and place."""

    value: float
    what: str
    visit: int
    fitting: int
    place: int
    dossier: int = 0


@dataclass(frozen=True)
class Fitted:
    """The scatter, and how many pulls, sets and visits it was fitted to."""

    scatter: Scatter
    pulls: int
    sets: int
    visits: int
    notes: tuple[str, ...] = ()


def _dummies(keys: Sequence[object]) -> Array:
    names = {key: k for k, key in enumerate(dict.fromkeys(keys))}
    found = np.zeros((len(keys), len(names)))
    found[np.arange(len(keys)), [names[key] for key in keys]] = 1.0
    return found


def _rank(*parts: Array) -> int:
    return int(np.linalg.matrix_rank(np.hstack(parts)))


def _spanning(matrix: Array) -> Array:
    """Columns that are independent, in order."""
    kept: list[int] = []
    for j in range(matrix.shape[1]):
        if np.linalg.matrix_rank(matrix[:, [*kept, j]]) > len(kept):
            kept.append(j)
    return matrix[:, kept]


def fit(repeats: Sequence[Repeat], origin: str = "") -> Fitted:
    """Scatter of a dyno from its repeats: what was pulled and a drift of each visit are fixed, visits and sets are random.

    A part that the records cannot show (no part was taken off and put on again, none was pulled on two days) is None. Degrees of
    freedom are those that each stratum leaves. Raises EvidenceError with fewer than three degrees of freedom between pulls.
    Source: restricted maximum likelihood, Patterson and Thompson 1971, as statsmodels' MixedLM does it.
    """
    y = np.array([r.value for r in repeats])
    if not len(y):
        raise EvidenceError("There are no repeats on this dyno yet.")
    what = _dummies([r.what for r in repeats])
    visits, sets = _dummies([r.visit for r in repeats]), _dummies([(r.visit, r.fitting) for r in repeats])
    places = np.array([float(r.place) for r in repeats])
    centre = visits @ ((visits.T @ places) / visits.sum(axis=0))
    drift = visits * (places - centre)[:, None]
    fixed = np.hstack([what, drift])
    base, by_day, by_set = _rank(fixed), _rank(fixed, visits), _rank(fixed, visits, sets)
    pull_df, fitting_df, day_df = len(y) - by_set, by_set - by_day, by_day - base
    if pull_df < 3:
        raise EvidenceError("Too few repeats on this dyno: three degrees of freedom between pulls are needed.")
    counts = len(y), sets.shape[1], visits.shape[1]
    if not fitting_df and not day_df:
        within = y - (full := np.hstack([fixed, visits, sets])) @ np.linalg.lstsq(full, y, rcond=None)[0]
        words = "No part was taken off and put on again, and nothing was pulled on two days."
        return Fitted(Scatter(float(np.sqrt(np.sum(within**2) / pull_df)), pull_df, origin=origin), *counts, (words,))
    exog = _spanning(fixed if day_df else np.hstack([fixed, visits]))
    groups = np.array([r.dossier for r in repeats])
    scale = float(np.std(y - exog @ np.linalg.lstsq(exog, y, rcond=None)[0]))
    found, notes = _reml(y, exog, groups, visits if day_df else None, sets if fitting_df else None, scale)
    return Fitted(*_said(found, (pull_df, fitting_df, day_df), origin, notes, counts))


def _said(
    found: tuple[float, float | None, float | None],
    dfs: tuple[int, int, int],
    origin: str,
    notes: tuple[str, ...],
    counts: tuple[int, int, int],
) -> tuple[Scatter, int, int, int, tuple[str, ...]]:
    """The scatter as it may be said: what few degrees of freedom stand behind is not."""
    pull, *between = found
    few = []
    for k, (name, df) in enumerate(zip(("set to set", "day to day"), dfs[1:], strict=True)):
        if between[k] is not None and df < ENOUGH:
            between[k] = None
            few.append(f"{name} ({df})")
    more = (f"Too few degrees of freedom to say anything: {', '.join(few)}.",) if few else ()
    scatter = Scatter(pull, dfs[0], between[0], float(dfs[1]), between[1], float(dfs[2]), origin)
    return scatter, *counts, (*(n for n in notes if not few), *more)


def best_fit(model: Any) -> Any:
    """The best of three ways to fit a mixed model by REML, by its likelihood [1]; None where none settles."""
    best = None
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        for method in ("lbfgs", "bfgs", "powell"):
            try:
                result = model.fit(reml=True, method=method)
            except (np.linalg.LinAlgError, ValueError):
                continue
            if np.isfinite(result.llf) and (best is None or result.llf > best.llf + 1e-6):
                best = result
    return best


def _reml(
    y: Array, exog: Array, groups: npt.NDArray[np.int64], visits: Array | None, sets: Array | None, scale: float
) -> tuple[tuple[float, float | None, float | None], tuple[str, ...]]:
    """Standard deviations of pulls, sets and visits, and what the fit had to say."""
    from statsmodels.regression.mixed_linear_model import MixedLM, VCSpec

    names, columns, matrices = [], [], []
    order = list(dict.fromkeys(groups.tolist()))
    for name, indicator in (("day", visits), ("set", sets)):
        if indicator is None:
            continue
        per_group, labels = [], []
        for group in order:
            block = indicator[groups == group]
            used = block.any(axis=0)
            per_group.append(block[:, used])
            labels.append([f"{name}{k}" for k in np.flatnonzero(used)])
        names.append(name)
        columns.append(labels)
        matrices.append(per_group)
    scale = scale if scale > 0.0 else 1.0
    notes: list[str] = []
    codes = np.array([order.index(g) for g in groups.tolist()])
    best = best_fit(MixedLM(y / scale, exog, groups=codes, exog_vc=VCSpec(names, columns, matrices)))
    if best is None:
        raise EvidenceError("The scatter could not be fitted: the repeats on record leave it open.")
    spread = {name: scale * float(np.sqrt(max(v, 0.0))) for name, v in zip(names, best.vcomp, strict=True)}
    pull = scale * float(np.sqrt(best.scale))
    for name, word in (("set", "set to set"), ("day", "day to day")):
        if name in spread and spread[name] < 0.01 * pull:
            spread[name] = 0.0
            notes.append(f"From {word} no scatter of its own is seen.")
    return (pull, spread.get("set"), spread.get("day")), tuple(notes)
