"""A weighing at equal boost: the bands judged on what is left once both run at one manifold pressure."""

from __future__ import annotations

from dataclasses import replace

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare.bands import Judged, Weighing
from longbreath.core.compare.compare import verdict
from longbreath.core.weigh.boost import EqualBoost


def weighing_at(equal: EqualBoost, weighing: Weighing) -> Weighing:
    """The weighing with its bands at equal boost [N m], judged by the same margins. Peaks and local figures stay those as set: nothing
    is to be said of them here. Raises EvidenceError where no band is covered."""
    judged = []
    for item in weighing.bands:
        effect = equal.band(item.band.low, item.band.high) if item.band is not None else None
        if effect is None:
            continue
        comparison = weighing.comparison
        said = verdict(effect, item.margin, False, comparison.design.drift, comparison.confidence)
        judged.append(Judged(item.name, item.kind, effect, said, item.reference, item.margin, item.band))
    if not judged:
        raise EvidenceError("No band of use is covered at equal boost.")
    kept = [local for item, local in zip(weighing.bands, weighing.locals, strict=True) if item.name in _names(judged)]
    return replace(weighing, bands=tuple(judged), locals=tuple(kept))


def _names(judged: list[Judged]) -> set[str]:
    return {item.name for item in judged}
