"""A against B: drift, bands, verdicts, and whether the band covers as often as it says."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.dyno import bands, compare
from longbreath.core.dyno.compare import Effect, PullCurve
from tests.core.dyno.flat import BANDS, GRID, runs


def test_drift_is_taken_out_exactly() -> None:
    found = compare.compare_pulls(runs("AAABBBA", effect=5.0, drift=-0.7, noise=1e-6), GRID)
    assert found.difference == pytest.approx(5.0, abs=1e-3)
    assert found.drift == pytest.approx(-0.7, abs=1e-3)


def test_without_a_return_to_a_drift_is_not_modelled() -> None:
    found = compare.compare_pulls(runs("AAABBB", effect=5.0, drift=-0.7, noise=0.1), GRID)
    assert not found.design.drift
    assert found.return_to_a() is None
    assert found.difference.mean() == pytest.approx(5.0 - 3 * 0.7, abs=0.3)


def test_too_few_pulls_are_refused_in_words() -> None:
    with pytest.raises(EvidenceError, match="two valid pulls of A and two of B"):
        compare.compare_pulls(runs("AAAB"), GRID)


def test_pulls_that_share_no_speeds_are_refused() -> None:
    mixed = runs("AABB", noise=1.0)
    mixed[0].torque[:30] = np.nan
    mixed[1].torque[28:] = np.nan
    with pytest.raises(EvidenceError, match="share fewer than three speeds"):
        compare.compare_pulls(mixed, GRID)


@pytest.mark.parametrize("sessions", [60, pytest.param(600, marks=pytest.mark.long)])
def test_the_simultaneous_band_covers_the_whole_curve_as_often_as_it_says(sessions: int) -> None:
    """Sessions without any true difference: at 95 % the number that stay inside is binomial."""
    inside = 0
    for seed in range(sessions):
        found = compare.compare_pulls(runs("AAABBBAAA", noise=1.0, seed=seed), GRID)
        inside += bool(np.all(np.abs(found.difference) <= found.half_width))
    assert stats.binomtest(inside, sessions, 0.95).pvalue > 0.01


def test_critical_value_lies_between_one_speed_and_bonferroni() -> None:
    found = compare.compare_pulls(runs("AAABBBAAA", noise=1.0), GRID)
    assert 1.96 < found.critical < 5.9


@pytest.mark.parametrize(
    ("value", "half", "se", "expected"),
    [
        (3.0, 1.0, 0.4, "gain"),
        (-3.0, 1.0, 0.4, "loss"),
        (0.1, 0.9, 0.35, "no meaningful difference"),
        (0.9, 2.5, 1.0, "not proven"),
        (0.5, 0.2, 0.08, "no meaningful difference"),
    ],
)
def test_verdicts(value: float, half: float, se: float, expected: str) -> None:
    assert compare.verdict(Effect(value, se, half, 1.0, 6, 0.0), margin=1.8) == expected


def test_weighing_names_three_different_numbers() -> None:
    rpm = GRID / RPM
    shape = 5 * np.exp(-(((rpm - 4000) / 700) ** 2)) - 4 / (1 + np.exp(-(rpm - 6200) / 150))
    found = bands.weigh(compare.compare_pulls(runs("AAABBBAAA", shape, -0.1, 0.3), GRID), BANDS)
    assert [band.verdict for band in found.bands] == ["no meaningful difference", "gain", "loss"]
    assert bands.headline(found) == "A little more in the middle, a little less at the top."
    assert found.locals[1].speed / RPM == pytest.approx(4000, abs=200)
    assert found.locals[1].difference > found.bands[1].effect.value


def test_bands_that_the_pulls_do_not_cover_are_left_out() -> None:
    half = [
        PullCurve(r.label, r.order, np.where(GRID < 4000 * RPM, r.torque, np.nan)) for r in runs("AABBA", noise=0.5)
    ]
    found = bands.weigh(compare.compare_pulls(half, GRID), BANDS)
    assert [band.name for band in found.bands] == ["low"]


def test_more_pulls_prove_smaller_gains() -> None:
    found = [compare.smallest_provable(1.0, 2 * n, n, 3 * n - 3) for n in range(2, 9)]
    assert found == sorted(found, reverse=True)


def test_no_difference_in_a_band_picked_by_eye_wants_its_whole_interval_inside() -> None:
    """± 1.5 inside ± 1.6 one-sided, outside two-sided: proven for a band that was declared, not for one that was picked."""
    effect = compare.Effect(value=0.2, standard_error=0.7, half_width=1.6, residual_sd=1.0, df=30, drift=0.0)
    assert compare.verdict(effect, 1.6) == compare.NO_DIFFERENCE
    assert compare.verdict(effect, 1.6, after_looking=True) == compare.NOT_PROVEN
    assert compare.verdict(effect, 2.0, after_looking=True) == compare.NO_DIFFERENCE
