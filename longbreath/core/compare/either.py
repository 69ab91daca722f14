"""What holds either way: a comparison made several ways, of which nobody may choose the one that suits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from longbreath.core.basis.units import show
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Judged, Weighing, locals_of
from longbreath.core.compare.compare import Effect


def either(ways: Sequence[tuple[str, Weighing]]) -> Weighing:
    """The weighing that holds each way; ways: each in words, the first as it stands. Every interval reaches from the lowest end to the
    highest, so that a gain is one only where it is proven each way."""
    first = ways[0][1]
    if len(ways) == 1:
        return first
    judged = {item.name: [_of(found, item.name) for _, found in ways] for item in first.judged}
    bands = tuple(_hull(items, first) for items in map(judged.__getitem__, _names(first)) if all(items))
    low, high = (
        first.comparison.difference - first.comparison.half_width,
        first.comparison.difference + first.comparison.half_width,
    )
    for _, found in ways[1:]:
        c = found.comparison
        low = np.minimum(low, np.interp(first.comparison.grid, c.grid, c.difference - c.half_width))
        high = np.maximum(high, np.interp(first.comparison.grid, c.grid, c.difference + c.half_width))
    said = tuple(_words(name, [(how, _of(found, name)) for how, found in ways]) for name in _names(first))
    curve = replace(first.comparison, difference=(low + high) / 2.0, half_width=(high - low) / 2.0, either_way=said)
    return Weighing(
        curve,
        bands,
        _hull(judged[first.peak_torque.name], first),
        _hull(judged[first.peak_power.name], first),
        locals_of(curve, [item.band for item in bands if item.band is not None]),
    )


def _names(found: Weighing) -> list[str]:
    return [item.name for item in found.bands]


def _of(found: Weighing, name: str) -> Judged | None:
    return next((item for item in found.judged if item.name == name), None)


def _hull(found: Sequence[Judged | None], first: Weighing) -> Judged:
    """One difference over all ways, judged by the whole of its interval."""
    items = [item for item in found if item is not None]
    low, high = min(item.effect.low for item in items), max(item.effect.high for item in items)
    widest = max(items, key=lambda item: item.effect.standard_error).effect
    effect = Effect(
        (low + high) / 2.0, widest.standard_error, (high - low) / 2.0, widest.residual_sd, widest.df, widest.drift
    )
    comparison, one = first.comparison, items[0]
    said = compare.verdict(effect, one.margin, True, comparison.design.drift, comparison.confidence)
    return replace(one, effect=effect, verdict=said)


def _words(name: str, found: Sequence[tuple[str, Judged | None]]) -> str:
    told = [f"{how}: not covered" if item is None else f"{how}: {_shown(item)}" for how, item in found]
    return f"{name.capitalize()}, {'; '.join(told)}."


def _shown(item: Judged) -> str:
    half = item.effect.half_width
    return f"{show(item.effect.value, item.kind, 'us', half / 10, True)} ± {show(half, item.kind, 'us', half / 10)}, {item.verdict}"
