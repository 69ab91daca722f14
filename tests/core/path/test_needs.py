"""What a family of part needs to be measured. Common practice, no source."""

from __future__ import annotations

import pytest

from longbreath.core.path.needs import LIFTS_WANTED, need_of


@pytest.mark.parametrize(
    ("family", "cycle", "lifts", "wheel"),
    [
        ("manifold", "four-stroke", LIFTS_WANTED, False),
        ("ported head", "four-stroke", LIFTS_WANTED, False),
        ("something nobody named", "four-stroke", LIFTS_WANTED, False),
        ("inlet elbow", "four-stroke", 1, False),
        ("Downpipe", "four-stroke", 1, False),
        ("charge pipe", "four-stroke", 1, False),
        ("tuned pipe", "two-stroke", 0, True),
        ("port inserts", "rotary", 0, True),
        ("manifold", "two-stroke", 0, True),
    ],
)
def test_each_family_needs_what_it_is_judged_by(family: str, cycle: str, lifts: int, wheel: bool) -> None:
    need = need_of(family, cycle)
    assert (need.lifts, need.wheel) == (lifts, wheel)
    assert bool(need.bench_words) == (lifts > 0)
