"""Fixtures that differ say in what."""

from __future__ import annotations

from dataclasses import replace

import pytest

from longbreath.core.bench import fixture

HEAD = fixture.BenchFixture(0.0846, "radius plate", "", "cylinder 2", "intake", 6974.5, 2, 0.033)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({}, ""),
        ({"bore": 0.08465}, ""),
        ({"bore": 0.086}, "bore adapter: 84.6 mm against 86 mm"),
        ({"bore": None}, "against not stated"),
        ({"mouth": "clay"}, "mouth: radius plate against clay"),
        ({"outlet": "pipe stub"}, "outlet: not stated against pipe stub"),
        ({"port": "cylinder 3"}, "port or runner"),
        ({"direction": "exhaust"}, "direction"),
        ({"valves": 1}, "number of valves: 2 against 1"),
        ({"valve_diameter": 0.034}, "valve size"),
        ({"test_pressure": 2490.9}, "test pressure: 28 inH₂O"),
    ],
)
def test_fixtures_that_differ_say_in_what(change: dict[str, object], words: str) -> None:
    found = "; ".join(fixture.differences(HEAD, replace(HEAD, **change))).replace("\u00a0", " ")  # type: ignore[arg-type]
    assert words in found
    assert bool(found) is bool(words)
