"""More than two: pairs, groups, ranking, stability; against scipy's studentised range and simulated truth."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.compare.compare import PullCurve, compare_pulls
from longbreath.core.compare.scatter import set_numbers
from longbreath.core.weigh import ranking
from longbreath.core.weigh.several import alike, critical_of_pairs, make_model, rank, tukey, weigh_several
from longbreath.core.weigh.trade import not_together
from tests.core.compare.flat import BANDS, GRID, runs
from tests.outside.sessions import at_least, at_most


def pulls(
    order: str, effects: dict[str, float | np.ndarray], noise: float = 0.5, seed: int = 0, drift: float = 0.0
) -> list[PullCurve]:
    made = runs(order.replace("C", "A").replace("D", "A").replace("B", "A"), noise=noise, seed=seed, drift=drift)
    sets = set_numbers(order)
    return [
        PullCurve(letter, r.order, r.torque + effects.get(letter, 0.0), "", s)
        for letter, r, s in zip(order, made, sets, strict=True)
    ]


@pytest.mark.parametrize(("k", "df"), [(3, 5.0), (4, 10.0), (6, 3.0), (12, 1.5), (5, 200.0)])
def test_the_largest_t_of_all_pairs_is_that_of_the_studentised_range(k: int, df: float) -> None:
    """scipy.stats.studentized_range, another implementation; for two it is t."""
    assert tukey(k, df) * 2**0.5 == pytest.approx(stats.studentized_range.ppf(0.95, k, df), rel=1e-6)
    assert tukey(2, df) == pytest.approx(stats.t.ppf(0.975, df))


def test_the_simulated_quantile_is_tukeys_at_one_speed() -> None:
    cov = np.eye(4) / 5.0
    assert critical_of_pairs(cov, np.ones((1, 1)), 16) == pytest.approx(tukey(4, 16.0), rel=0.03)


def test_two_variants_are_weighed_as_a_pair_is() -> None:
    made = pulls("AAABBBAAA", {"B": 2.0})
    several, pair = weigh_several(made, GRID, BANDS), compare_pulls(made, GRID)
    assert several.pairs[0].difference == pytest.approx(pair.difference)
    assert several.pairs[0].half_width == pytest.approx(pair.half_width, rel=0.3)


def test_truth_is_found_with_drift_taken_out() -> None:
    made = pulls("AAABBBCCCDDDAAA", {"B": 2.0, "C": 5.0, "D": -3.0}, noise=0.3, drift=0.2)
    found = weigh_several(made, GRID, BANDS)
    by_use = found.score({"low": 1.0, "middle": 1.0, "top": 1.0})
    assert [letter for letter, _ in by_use.means] == ["C", "B", "A", "D"]
    assert found.model.drift
    assert by_use.pair("A", "C").effect.value == pytest.approx(15.0, abs=1.5)
    assert by_use.pair("C", "A").effect.value == -by_use.pair("A", "C").effect.value
    assert by_use.groups == (("C",), ("B",), ("A",), ("D",))


def test_three_within_the_noise_are_one_group_and_no_order_is_stable() -> None:
    found = weigh_several(pulls("AAABBBCCCAAA", {"B": 0.1, "C": -0.1}, noise=1.0, seed=3), GRID, BANDS)
    weights = ranking.weights_of_use("road", BANDS)
    ranked = found.score(weights.shares)
    assert ranked.groups == (tuple(letter for letter, _ in ranked.means),)
    stable = ranking.stability(found, ranked, weights)
    assert stable.under_scatter[0][1] < 0.95
    assert "first in" in stable.sentence


def test_all_pairs_hold_together_as_often_as_they_say() -> None:
    """Four variants without a true difference: no pair of any band is told apart in more than about one session of twenty."""
    wrong, sessions = 0, 250
    for seed in range(sessions):
        made = pulls("AAABBBCCCDDDAAA", {}, noise=0.8, seed=seed)
        model, stack = make_model(made), np.array([r.torque for r in made])
        bands = [stack[:, :12], stack[:, 12:34], stack[:, 34:]]
        ranked = [rank(model, part.mean(axis=1), "band", family=3) for part in bands]
        wrong += any(pair.is_told_apart for r in ranked for pair in r.pairs)
    assert at_most(wrong, sessions, 0.05)
    assert at_least(wrong, sessions, 0.02)


def test_what_cannot_be_had_together() -> None:
    low = np.where(GRID < 3000 * RPM, 4.0, 0.0)
    top = np.where(GRID > 5200 * RPM, 4.0, 0.0)
    found = weigh_several(pulls("AAABBBCCCAAA", {"B": low, "C": top}, noise=0.3), GRID, BANDS)
    assert not_together(found) == (
        "The best at low revs (B) and the best at top revs (C) are not one variant: they cannot be had together.",
    )


@pytest.mark.parametrize(
    ("order", "words"), [("AAAA", "Two variants"), ("AAAB", "At least two valid pulls"), ("AABB", None)]
)
def test_what_is_too_little(order: str, words: str | None) -> None:
    made = pulls(order, {})
    if words is None:
        assert make_model(made).df == 2
        return
    with pytest.raises(EvidenceError, match=words):
        make_model(made)


def test_days_hang_together_through_what_they_share() -> None:
    one = pulls("AAABBBAAA", {"B": 2.0})
    other = [
        PullCurve(r.label, r.order + 50, r.torque + 8.0, "", r.fitting + 50, 1)
        for r in pulls("AAACCCAAA", {"C": 5.0}, seed=4)
    ]
    found = weigh_several([*one, *other], GRID, BANDS)
    assert found.score({"middle": 1.0}).pair("B", "C").effect.value == pytest.approx(3.0, abs=1.5)
    lonely = [PullCurve("D", 90 + k, r.torque, "", 90, 2) for k, r in enumerate(pulls("AAA", {}))]
    with pytest.raises(EvidenceError, match="No variant links D"):
        weigh_several([*one, *lonely], GRID, BANDS)


def test_without_a_return_no_variant_is_called_better() -> None:
    """Drift cannot be told from what was pulled later: the verdict says so, and either way round."""
    made = pulls("AAABBBCCC", {"B": 5.0, "C": -5.0})
    found = rank(make_model(made), np.array([r.torque.mean() for r in made]), "mean")
    assert found.pair("A", "B").verdict == "gain, or drift"
    assert found.pair("B", "A").verdict == "loss, or drift"
    half = [
        *made,
        *(PullCurve(r.label, r.order + 50, r.torque, "", r.fitting + 50, 1) for r in pulls("AAABBBAAA", {"B": 5.0})),
    ]
    assert not make_model(half).drift  # one of two days that compare does not return


def test_groups_are_those_that_cannot_be_told_apart() -> None:
    close = {frozenset("AB"), frozenset("BC")}
    assert alike(["A", "B", "C"], close) == (("A", "B"), ("B", "C"))
    assert alike(["A", "B"], set()) == (("A",), ("B",))


def test_weights_come_from_use_or_from_the_gears() -> None:
    tow, road = (ranking.weights_of_use(use, BANDS) for use in ("towing", "nobody knows"))
    assert tow.shares["low"] > road.shares["low"]
    assert sum(tow.shares.values()) == pytest.approx(1.0)
    close, wide = (ranking.weights_of_gears(r, 7000 * RPM, BANDS) for r in ((3.0, 2.6, 2.3, 2.05), (3.5, 1.2, 0.4)))
    assert close.shares["top"] > 0.9
    assert wide.shares["low"] > close.shares["low"]
    with pytest.raises(InputError, match="smaller than the one before"):
        ranking.weights_of_gears([1.0, 2.0], 7000 * RPM, BANDS)
    with pytest.raises(InputError, match="nought or more"):
        ranking.checked({"low": -1.0}, "why")
    with pytest.raises(InputError, match="at least one band"):
        ranking.checked({"low": 0.0}, "why")


def test_a_gear_is_passed_through_in_the_time_its_ratio_takes() -> None:
    """Two gears, 2.0 to 1.0 shifted at 6,000: entered at 3,000, so the middle band has 2,200 of its rpm and the top 800 of them."""
    found = ranking.weights_of_gears((2.0, 1.0), 6000 * RPM, BANDS)
    assert found.shares["middle"] == pytest.approx(2200 / 3000)
    assert found.shares["top"] == pytest.approx(800 / 3000)


def test_an_order_of_pulls_in_the_list_changes_nothing() -> None:
    made = pulls("AAABBBCCCAAA", {"B": 1.0, "C": 2.0})
    plain = rank(make_model(made), np.array([r.torque.mean() for r in made]), "mean")
    turned = list(reversed(made))
    other = rank(make_model(turned), np.array([r.torque.mean() for r in turned]), "mean")
    assert [v for _, v in other.means] == pytest.approx([v for _, v in plain.means])
