"""Rounds of tuning: what a change of jet, fuel or injection makes of lambda, whether two mixture curves match, what fuel was taken."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError, positive
from longbreath.core.judge.check import Mask
from longbreath.core.pull.pulls import Array

ORIFICE = "First principles: flow through a jet goes by its area and by the root of density (Bernoulli)."
KINDS = {
    "jet": "jet",
    "fuel": "fuel",
    "injection": "injector time",
    "map": "map",
    "ignition": "ignition",
    "other": "something else",
}
STEP = 500.0 * RPM
"""Width of the pieces over which two mixture curves are compared [rad/s]."""
FORETOLD = 0.02
"""A forecast of lambda counts as met within this. Common practice, no source."""


def after_jet(before: float, after: float, air_share: float = 1.0) -> float:
    """What lambda is multiplied by after another jet: (d₁/d₂)², at the same air. Source: ORIFICE.

    before, after: bores [m]; air_share: air after over air before [1]. Raises InputError for a bore of nought.
    """
    positive(before=before, after=after)
    return air_share * (before / after) ** 2


def after_fuel(ratio_before: float, ratio_after: float, density_before: float, density_after: float) -> float:
    """What lambda is multiplied by after another fuel through the same jet or injector time: L₁/L₂·√(ρ₁/ρ₂). Source: ORIFICE.

    ratios: air to fuel at λ = 1, by mass; densities [kg/m3].
    """
    positive(
        ratio_before=ratio_before, ratio_after=ratio_after, density_before=density_before, density_after=density_after
    )
    return float(ratio_before / ratio_after * np.sqrt(density_before / density_after))


def after_injection(before: float, after: float, dead_time: float) -> float:
    """What lambda is multiplied by after another injector time: (t₁ − t₀)/(t₂ − t₀). Source: flow goes by the time that it is open.

    times [s]; dead_time: what opening takes. Raises InputError where a time is not longer than the dead time.
    """
    if before <= dead_time:
        raise InputError("The injector does not open in this time.", "before")
    if after <= dead_time:
        raise InputError("The injector does not open in this time.", "after")
    return (before - dead_time) / (after - dead_time)


@dataclass(frozen=True)
class BandPiece:
    """One piece of the band: its ends [rad/s], mean lambda of A and B [1], and whether they differ by no more than the tolerance."""

    low: float
    high: float
    a: float
    b: float
    is_met: bool

    @property
    def off(self) -> float:
        """B less A [1]."""
        return self.b - self.a


@dataclass(frozen=True)
class MixtureMatch:
    """Whether the mixture curves of two letters match: pieces of the band, the one that is furthest off."""

    pieces: tuple[BandPiece, ...]

    @property
    def is_met(self) -> bool:
        """Whether they match everywhere."""
        return bool(self.pieces) and all(piece.is_met for piece in self.pieces)

    @property
    def worst(self) -> BandPiece | None:
        """The piece that is furthest off."""
        return max(self.pieces, key=lambda p: abs(p.off), default=None)


Curve = tuple[Array, Array]
"""Speed [rad/s] and lambda [1] of a pull, (n,) each."""


def mean_curve(pulls: Sequence[Curve], edges: Array) -> Array:
    """Mean lambda of some pulls between edges [rad/s], (m,); NaN where none ran."""
    found = np.full((len(pulls), edges.size - 1), np.nan)
    for row, (speed, mixture) in enumerate(pulls):
        place = np.digitize(speed, edges) - 1
        for k in range(edges.size - 1):
            inside = (place == k) & np.isfinite(mixture)
            if inside.sum() >= 3:
                found[row, k] = float(np.mean(mixture[inside]))
    seen = np.isfinite(found)
    sums, counts = np.where(seen, found, 0.0).sum(axis=0), seen.sum(axis=0)
    return np.where(counts > 0, sums / np.maximum(counts, 1), np.nan)


def match(a: Sequence[Curve], b: Sequence[Curve], low: float, high: float, tolerance: float) -> MixtureMatch:
    """Whether the mixtures of two letters match over a band [rad/s], piece by piece."""
    edges = np.arange(low, high + STEP * 0.5, STEP)
    if edges.size < 2 or not a or not b:
        return MixtureMatch(())
    one, other = mean_curve(a, edges), mean_curve(b, edges)
    pieces = [
        BandPiece(float(edges[k]), float(edges[k + 1]), float(x), float(y), bool(abs(y - x) <= tolerance))
        for k, (x, y) in enumerate(zip(one, other, strict=True))
        if np.isfinite(x) and np.isfinite(y)
    ]
    return MixtureMatch(tuple(pieces))


@dataclass(frozen=True)
class Taken:
    """What a pull took: fuel for its power [kg/J], air to fuel over that at λ = 1 by the flows [1] (None where no air was logged)
    beside lambda as logged; the share of each carburettor or injector line, and how far the shares lie apart [1]."""

    consumption: float
    by_flows: float | None
    logged: float | None
    shares: tuple[float, ...] = ()

    @property
    def spread(self) -> float:
        """Greatest share less least, over their mean."""
        return (max(self.shares) - min(self.shares)) * len(self.shares) if len(self.shares) > 1 else 0.0


def taken(channels: Mapping[str, Array], inside: Mask, stoichiometric: float) -> Taken | None:
    """What a pull took over the rows of its band: ratio of means, so that the small figures at low speed do not decide.

    channels [SI] with power or torque and speed, fuel flow (several: one a carburettor or injector line), air flow; inside: which
    rows count; stoichiometric: air to fuel at λ = 1. None where no fuel was logged. Source: definition.
    """
    fuels = [
        values for name, values in sorted(channels.items()) if name == "fuel_flow" or name.startswith("fuel_flow ")
    ]
    if not fuels or "speed" not in channels or "torque" not in channels:
        return None
    power = channels["speed"] * channels["torque"]
    means = [float(np.nanmean(values[inside])) for values in fuels]
    total, work = sum(means), float(np.nanmean(power[inside]))
    if not np.isfinite(total) or total <= 0 or work <= 0:
        return None
    air = channels.get("air_flow")
    by_flows = float(np.nanmean(air[inside])) / total / stoichiometric if air is not None else None
    mixture = channels.get("mixture")
    logged = float(np.nanmean(mixture[inside])) if mixture is not None else None
    shares = tuple(mean / total for mean in means) if len(means) > 1 else ()
    return Taken(total / work, by_flows, logged, shares)
