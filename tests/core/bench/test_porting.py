"""Go on or stop."""

from __future__ import annotations

from math import log

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import porting


def job(**change: float) -> porting.Job:
    return porting.Job(**{"start": 200.0, "target": 220.0, "allowed": 20 * 3600.0, "wall_limit": 0.0025, **change})


def bouts(*flows: float, hours: float = 2.0, wall: float = 0.004, noise: float = 0.5) -> list[porting.Bout]:
    return [porting.Bout(hours * 3600.0, flow, noise, wall) for flow in flows]


@pytest.mark.parametrize(
    ("given", "limits", "judgement", "reason"),
    [
        (bouts(206.0, 212.0), {}, porting.GO, "within the hours"),
        (bouts(206.0, 212.0), {"allowed": 5 * 3600.0}, porting.STOP, "more hours than are allowed"),
        (bouts(210.0, 221.0), {}, porting.DONE, "reached"),
        (bouts(206.0, 206.4), {}, porting.STOP, "beyond what the bench can tell"),
        (bouts(206.0, 212.0, wall=0.0025), {}, porting.STOP, "wall is at its limit"),
        (bouts(208.0, 212.0, 214.0, 215.0), {}, porting.STOP, "never reached"),
    ],
)
def test_go_or_stop(given: list[porting.Bout], limits: dict[str, float], judgement: str, reason: str) -> None:
    found = porting.outlook(job(**limits), given)
    assert found.judgement == judgement
    assert reason in found.reason


def test_a_rate_that_halves_each_bout_is_carried_on() -> None:
    """8, 4, 2 in bouts of two hours: 14 of at most 16 are won; one more needs an hour and some (first principles)."""
    found = porting.outlook(job(target=215.0), bouts(208.0, 212.0, 214.0))
    assert found.expected is not None
    decay = 0.6931 / 2
    assert found.expected.value / 3600 == pytest.approx(-log(1 - 1.0 * decay / 1.0) / decay, rel=1e-3)
    steady = porting.outlook(job(), bouts(205.0, 210.0)).expected
    assert steady is not None
    assert steady.value == pytest.approx(4 * 3600)


def test_porting_without_bouts_or_time_or_aim_is_refused() -> None:
    with pytest.raises(InputError, match="Nothing is ported"):
        porting.outlook(job(), [])
    with pytest.raises(InputError, match="takes some time"):
        porting.outlook(job(), bouts(205.0, hours=0.0))
    with pytest.raises(InputError, match="more than the flow to begin with"):
        job(target=200.0)
    with pytest.raises(InputError, match="hours may be spent"):
        job(allowed=0.0)
