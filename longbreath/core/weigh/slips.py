"""Whether rows that were corrected tell the same readings, but for slips that can be seen: a decimal point, two digits, a digit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import isclose
from typing import Any

MOST = 0.2
"""Of all rows no more than this share may hold a slip [1]; two always may. Ours."""
TENS = (0.001, 0.01, 0.1, 10.0, 100.0, 1000.0)
BESIDE = 10.0
"""A slip lies this many times as far from the middle of the other readings as what it was corrected to. Ours."""


def is_slip(was: Sequence[Mapping[str, Any]], now: Sequence[Mapping[str, Any]]) -> bool:
    """Whether every row says what it said, but for a few single figures that stood far off and were mistyped: the point of the
    decimal moved, or the reading lies where no other does and its correction among them."""
    if len(was) != len(now):
        return False
    changed = [
        (k, name)
        for k, (one, other) in enumerate(zip(was, now, strict=True))
        for name in {*one, *other}
        if one.get(name) != other.get(name)
    ]
    rows = {k for k, _ in changed}
    if len(changed) > len(rows) or len(rows) > max(2, MOST * len(was)):
        return False
    return all(_mistyped(was, now, k, name) for k, name in changed)


def _mistyped(was: Sequence[Mapping[str, Any]], now: Sequence[Mapping[str, Any]], k: int, name: str) -> bool:
    one, other = was[k].get(name), now[k].get(name)
    if not isinstance(one, (int, float)) or not isinstance(other, (int, float)):
        return False
    if any(isclose(float(one), factor * float(other), rel_tol=1e-6) for factor in TENS):
        return True
    like = [
        float(row[name])
        for j, row in enumerate(now)
        if j != k and row.get("label") == now[k].get("label") and name in row
    ]
    if len(like) < 2:
        return False
    middle = sorted(like)[len(like) // 2]
    spread = max(like) - min(like)
    return abs(float(one) - middle) > BESIDE * max(abs(float(other) - middle), spread, 1e-12)
