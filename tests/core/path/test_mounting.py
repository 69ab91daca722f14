"""Whether a part fits."""

from __future__ import annotations

import pytest

from longbreath.core.path import mounting

FIT = [
    ([("bonnet", 0.02, "clear")], 0.004, "fits"),
    ([("bonnet", 0.006, "clear")], 0.004, "fits with care"),
    ([("bonnet", None, "touches")], 0.004, "does not fit yet"),
    ([("bonnet", 0.02, "clear")], 0.002, "does not fit yet"),
    ([], None, "not checked"),
]


@pytest.mark.parametrize(("spots", "wall", "verdict"), FIT)
def test_does_it_fit(spots: list[tuple[str, float | None, str]], wall: float | None, verdict: str) -> None:
    found = mounting.judge_fit([mounting.FitPlace(*s) for s in spots], wall, 0.003, ["deburr"])
    assert found.verdict == verdict
    assert len(found.to_do) == len(mounting.CHECKLIST) - 1
