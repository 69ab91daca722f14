"""A against B: drift, bands, verdicts, and whether the band covers as often as it says."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.compare import bands, compare, influence, remarks
from longbreath.core.compare.compare import Effect, PullCurve
from longbreath.core.compare.scatter import Scatter
from tests.core.compare.flat import BANDS, GRID, runs
from tests.core.compare.quick import FEW, few_draws


def test_drift_is_taken_out_exactly() -> None:
    found = compare.compare_pulls(runs("AAABBBA", effect=5.0, drift=-0.7, noise=1e-6), GRID)
    assert found.difference == pytest.approx(5.0, abs=1e-3)
    assert found.drift == pytest.approx(-0.7, abs=1e-3)


def test_without_a_return_to_a_drift_is_not_modelled() -> None:
    found = compare.compare_pulls(runs("AAABBB", effect=5.0, drift=-0.7, noise=0.1), GRID)
    assert not found.design.drift
    assert found.return_to_first() is None
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


@pytest.mark.parametrize(("sessions", "draws"), [(200, FEW), pytest.param(2000, None, marks=pytest.mark.long)])
def test_the_simultaneous_band_covers_the_whole_curve_as_often_as_it_says(sessions: int, draws: int | None) -> None:
    """Sessions without any true difference: at 95 % the number that stay inside is binomial."""
    inside = 0
    with few_draws(draws):
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
        (0.5, 0.2, 0.08, "gain"),  # direction first: that it is under the margin is said beside it
        (-2.0, 1.9, 0.9, "loss"),
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


def test_no_difference_in_a_band_picked_by_eye_wants_its_whole_interval_inside() -> None:
    """± 1.5 inside ± 1.6 one-sided, outside two-sided: proven for a band that was declared, not for one that was picked."""
    effect = compare.Effect(value=0.2, standard_error=0.7, half_width=1.6, residual_sd=1.0, df=30, drift=0.0)
    assert compare.verdict(effect, 1.6) == compare.NO_DIFFERENCE
    assert compare.verdict(effect, 1.6, after_looking=True) == compare.NOT_PROVEN
    assert compare.verdict(effect, 2.0, after_looking=True) == compare.NO_DIFFERENCE


def drifting(order: str, shape: list[float], noise: float = 0.05, seed: int = 3) -> compare.Comparison:
    """A comparison without a difference whose torque drifts by `shape`, pull by pull [N m]."""
    made = [
        PullCurve(r.label, r.order, r.torque + s)
        for r, s in zip(runs(order, noise=noise, seed=seed), shape, strict=True)
    ]
    return compare.compare_pulls(made, GRID)


@pytest.mark.parametrize("order", ["AABBAABB", "BBBAAABBB", "ABABAB"])
def test_every_order_with_a_return_has_its_drift_taken_out(order: str) -> None:
    found = compare.compare_pulls(runs(order, effect=5.0, drift=-0.7, noise=1e-6), GRID)
    assert found.design.drift
    assert found.difference == pytest.approx(5.0, abs=1e-3)
    assert found.return_to_first() is not None


def test_a_curve_of_drift_is_drawn_where_a_line_does_not_fit() -> None:
    soak = drifting("AAABBBAAA", [0.0, -0.9, -1.6, -2.1, -2.4, -2.1, -1.6, -0.9, 0.0])
    assert soak.design.curved
    assert abs(float(soak.difference.mean())) < 0.5
    assert "a straight line does not fit" in remarks.drift_choice(soak)
    plain = drifting("AAABBBAAA", [-0.3 * k for k in range(9)])
    assert not plain.design.curved
    shift, error = soak.drift_harm(3000 * RPM, 5200 * RPM)
    assert abs(shift) > 10 * error


def test_scatter_apart_is_seen_said_and_widens_the_interval() -> None:
    alike = runs("AAABBBAAA", noise=0.5, seed=1)
    wild = [
        PullCurve(r.label, r.order, r.torque + (r.torque - 180.0) * (4.0 if r.label == "B" else 0.0)) for r in alike
    ]
    found = compare.compare_pulls(wild, GRID)
    assert found.design.unequal
    assert "B scatters" in str(remarks.scatter(found))
    effect = found.band_effect(3000 * RPM, 5200 * RPM)
    assert effect.df < 4
    assert not compare.compare_pulls(alike, GRID).design.unequal


def test_pulls_that_agree_too_well_get_the_known_scatter() -> None:
    same = runs("AAABBBAAA", effect=1.0)
    found = compare.compare_pulls(same, GRID, scatter=Scatter(0.9))
    assert found.band_effect(3000 * RPM, 5200 * RPM).half_width > 1.0
    assert float(found.half_width.min()) > 1.0
    assert "agree better than one session in a hundred" in str(remarks.floor(found))
    honest = compare.compare_pulls(runs("AAABBBAAA", noise=0.9, seed=2), GRID, scatter=Scatter(0.9))
    assert honest.known == 0.0
    assert remarks.floor(honest) is None


def test_without_a_return_the_verdict_says_that_drift_is_in_it() -> None:
    found = bands.weigh(compare.compare_pulls(runs("AAABBB", effect=5.0, noise=0.2), GRID), BANDS)
    assert {item.verdict for item in found.judged} == {compare.GAIN_OR_DRIFT}
    assert "by the part or by drift" in bands.headline(found)
    nothing = bands.weigh(compare.compare_pulls(runs("AAABBB", noise=0.2), GRID), BANDS)
    assert all(item.verdict != compare.NO_DIFFERENCE for item in nothing.judged)


def test_one_bad_pull_is_named_and_a_robust_fit_stands_beside() -> None:
    made = runs("AAABBBBAAA", effect=3.6, noise=0.3, seed=5)
    made[4] = PullCurve("B", made[4].order, made[4].torque * 0.97, "pull 5 (B)")
    comparison = compare.compare_pulls(made, GRID)
    found = influence.influences_of(comparison, {"middle": (3000 * RPM, 5200 * RPM)})["middle"]
    assert found.row == "pull 5 (B)"
    assert found.without is not None
    assert found.without.value == pytest.approx(3.6, abs=0.6)
    assert found.without.low > 0
    assert found.robust == pytest.approx(3.6, abs=1.0)
    effect = comparison.band_effect(3000 * RPM, 5200 * RPM)
    assert found.matters(effect)
    assert "Most depends on pull 5 (B)" in found.sentence(effect)


def test_what_could_not_be_seen_is_said() -> None:
    once = compare.compare_pulls(runs("AAABBBAAA", noise=0.5), GRID)
    assert "could not be seen" in str(remarks.unseen(once))
    assert remarks.unseen(compare.compare_pulls(runs("AABBAABB", noise=0.5), GRID)) is None
    assert "94 of 100" in str(remarks.worth(compare.compare_pulls(runs("AABBAA", noise=0.5), GRID)))
    assert remarks.worth(once) is None
